"""Two streams on both sides of a round pipe, by effectiveness-NTU."""

from __future__ import annotations

import math

from wattikos_core.case.estimates import DoublePipe
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.ducts import SHAH_LONDON, TRANSITION_REYNOLDS, between, flux_share_behind, pipe_nusselt
from wattikos_core.estimate.exchangers import KAYS_LONDON, counterflow_effectiveness, parallel_effectiveness
from wattikos_core.estimate.films import DuctFilm, by_wall, duct_film, range_of, sources_of
from wattikos_core.estimate.hand_value import HandValue

_SCATTER_H = 0.10
_ROUNDS = 20


def double_pipe(bound: Bound, roles: DoublePipe) -> dict[str, HandValue]:
    """The ledger of a double pipe by hand; see `estimate_case`."""
    resolved = bound.resolved
    if not resolved.axisymmetric:
        raise CaseError(
            InputProblem("section.extent", "the double pipe needs an axisymmetric section", "choose extent axisymmetric")
        )
    parts = {"hot": bound.part("hot", roles.hot), "cold": bound.part("cold", roles.cold)}
    wall = bound.part("wall", roles.wall)
    inlets = {key: bound.inlet(part.name) for key, part in parts.items()}
    t = {key: inlet.temperature for key, inlet in inlets.items()}
    span = t["hot"] - t["cold"]
    if span == 0.0:
        problem = "both streams enter at the same temperature"
        raise CaseError(InputProblem(f"{inlets['hot'].field}.temperature", problem, "give the hot stream a higher one"))
    counter = inlets["hot"].boundary.rpartition(", ")[2] != inlets["cold"].boundary.rpartition(", ")[2]
    inner_radius, outer_radius, length = wall.y, wall.y + wall.height, wall.width
    sections = {key: math.pi * ((part.y + part.height) ** 2 - part.y**2) for key, part in parts.items()}
    flows = {key: bound.mass_flow(part, sections[key]) for key, part in parts.items()}
    rates = {
        key: flows[key] * float(part.material.enthalpy(t["hot"]) - part.material.enthalpy(t["cold"])) / span
        for key, part in parts.items()
    }
    smaller, ratio = min(rates.values()), min(rates.values()) / max(rates.values())
    area = {key: 2.0 * math.pi * (inner_radius if parts[key].y < wall.y else outer_radius) * length for key in parts}

    roughness = bound.or_zero("roughness", roles.roughness, "length")
    contacts = {key: bound.contact(part, wall) for key, part in parts.items()}
    films: list[DuctFilm] = []

    def solve(way: float) -> dict[str, float]:
        out = dict.fromkeys(parts, 0.5 * (t["hot"] + t["cold"]))
        surface = dict(out)
        values: dict[str, float] = {}
        # What passes the rest of the wall, W/K, per film: how near to one flux it is.
        behind = dict.fromkeys(parts, 0.0)
        for _ in range(_ROUNDS):
            before = dict(out)
            films.clear()
            conductivity = bound.across(wall, 0.5 * (t["hot"] + t["cold"]))
            through = math.log(outer_radius / inner_radius) / (2.0 * math.pi * conductivity * length)
            to_wall: dict[str, float] = {}
            for key, part in parts.items():
                mean = 0.5 * (t[key] + out[key])
                table, inner = part.material, part.y < wall.y
                diameter = 2.0 * part.height if not inner else 2.0 * (part.y + part.height)
                reynolds = flows[key] * diameter / (sections[key] * float(table.viscosity(mean)))
                prandtl, conducts = float(table.prandtl(mean)), float(table.conductivity(mean))
                annulus = 0.0 if inner else part.y / (part.y + part.height)
                # In counterflow of equal capacities the flux is the same all along; else what stands behind the film decides.
                evenly = ratio if counter else 0.0
                share = evenly + (1.0 - evenly) * flux_share_behind(diameter / conducts * behind[key] / area[key])

                def laminar(
                    number: float, d: float = diameter, pr: float = prandtl, a: float = annulus, s: float = share
                ) -> tuple[float, float]:
                    x_star = length / (d * number * pr)
                    return (between(a, x_star, s, "inner") if a else pipe_nusselt(x_star, s)), 0.0

                film = duct_film(
                    laminar,
                    reynolds,
                    prandtl,
                    slenderness=diameter / length,
                    roughness=roughness / diameter,
                    laminar_scatter=_SCATTER_H,
                    annulus=annulus,
                )
                films.append(film)
                of_nusselt, _ = by_wall(table, mean, surface[key], turbulent=reynolds > TRANSITION_REYNOLDS)
                nusselt = film.nusselt * of_nusselt * (1.0 + way * film.scatter)
                h = nusselt * conducts / diameter
                to_wall[key] = 1.0 / (h * area[key])
                values |= {
                    f"{part.name} h": h,
                    f"{part.name} Nusselt number": nusselt,
                    f"{part.name} Reynolds number": reynolds,
                }
            resistance = through + sum(to_wall.values()) + sum(contacts[key] / area[key] for key in parts)
            behind = {key: 1.0 / (resistance - to_wall[key]) for key in parts}
            ntu = 1.0 / (resistance * smaller)
            effectiveness = counterflow_effectiveness(ntu, ratio) if counter else parallel_effectiveness(ntu, ratio)
            duty = effectiveness * smaller * span
            for key, sign in (("hot", -1.0), ("cold", 1.0)):
                table = parts[key].material
                out[key] = float(table.temperature_of(table.enthalpy(t[key]) + sign * duty / flows[key], t[key]))
                values[f"{parts[key].name} outlet temperature"] = out[key]
                values[f"{parts[key].name} heat gained"] = sign * duty
                surface[key] = 0.5 * (t[key] + out[key]) + sign * duty * to_wall[key]
            values |= {"duty": duty, "effectiveness": effectiveness, "NTU": ntu, "overall U": 1.0 / (resistance * area["hot"])}
            if max(abs(out[key] - before[key]) for key in out) < 1e-7:
                break
        return values

    low, high, middle = solve(-1.0), solve(1.0), solve(0.0)
    holds = all(film.inside for film in films)
    where = range_of("little conduction along the pipe")
    fastest = max(middle[f"{part.name} Reynolds number"] for part in parts.values())
    of_films = sources_of(f"films of pipe and annulus: {SHAH_LONDON}, chapters V and XII", fastest)
    flow = "counterflow" if counter else "parallel flow"
    result = {}
    for name, value in middle.items():
        source = f"effectiveness-NTU, {flow}: {KAYS_LONDON}; {of_films}"
        bounds = sorted((low[name], value, high[name]))
        result[name] = HandValue(name, value, bounds[0], bounds[-1], source, where, holds)
    return result
