"""Two streams on both sides of a round pipe, by effectiveness-NTU."""

from __future__ import annotations

import math

from wattikos_core.case import ResolvedCase
from wattikos_core.case.estimates import DoublePipe
from wattikos_core.errors import CaseError, Problem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.ducts import (
    ENTRY_FLUX,
    ENTRY_TEMPERATURE,
    NUSSELT_ONE_SIDE_FLUX,
    NUSSELT_ONE_SIDE_TEMPERATURE,
    SHAH_LONDON,
    TRANSITION_REYNOLDS,
    one_sided,
    pipe_nusselt,
)
from wattikos_core.estimate.exchangers import KAYS_LONDON, counterflow_effectiveness, parallel_effectiveness
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.estimate.heated import annulus_nusselt

# The inner film lies between one temperature and one flux, as in an insulated pipe.
_BETWEEN = 1.1
_SCATTER_H = 0.12
_ROUNDS = 20


def double_pipe(resolved: ResolvedCase, roles: DoublePipe) -> dict[str, HandValue]:
    """The ledger of a double pipe by hand; see `estimate_case`."""
    bound = Bound(resolved)
    if not resolved.axisymmetric:
        raise CaseError(Problem("section.extent", "the double pipe needs an axisymmetric section", "choose extent axisymmetric"))
    parts = {"hot": bound.part("hot", roles.hot), "cold": bound.part("cold", roles.cold)}
    wall = bound.part("wall", roles.wall)
    inlets = {key: bound.inlet(part.name) for key, part in parts.items()}
    t = {key: inlet.temperature for key, inlet in inlets.items()}
    span = t["hot"] - t["cold"]
    if span == 0.0:
        problem = "both streams enter at the same temperature"
        raise CaseError(Problem(f"{inlets['hot'].field}.temperature", problem, "give the hot stream a higher one"))
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

    def solve(factor: float) -> dict[str, float]:
        out = dict.fromkeys(parts, 0.5 * (t["hot"] + t["cold"]))
        values: dict[str, float] = {}
        for _ in range(_ROUNDS):
            before = dict(out)
            conductivity = float(wall.material.conductivity(0.5 * (t["hot"] + t["cold"])))
            resistance = math.log(outer_radius / inner_radius) / (2.0 * math.pi * conductivity * length)
            for key, part in parts.items():
                mean = 0.5 * (t[key] + out[key])
                table, inner = part.material, part.y < wall.y
                diameter = 2.0 * part.height if not inner else 2.0 * (part.y + part.height)
                reynolds = flows[key] * diameter / (sections[key] * float(table.viscosity(mean)))
                graetz = diameter / length * reynolds * float(table.prandtl(mean))
                if inner:
                    nusselt = _BETWEEN * pipe_nusselt(graetz)
                else:
                    share = part.y / (part.y + part.height)
                    # Between one temperature and one flux, as the inner film.
                    curved = 0.5 * sum(annulus_nusselt(share, flux=f) - annulus_nusselt(1.0, flux=f) for f in (True, False))
                    plane = 0.5 * (NUSSELT_ONE_SIDE_TEMPERATURE + NUSSELT_ONE_SIDE_FLUX)
                    entry = 0.5 * (ENTRY_TEMPERATURE + ENTRY_FLUX) * graetz ** (1.0 / 3.0)
                    nusselt = one_sided(plane, entry) + curved
                h = factor * nusselt * float(table.conductivity(mean)) / diameter
                resistance += 1.0 / (h * area[key])
                values |= {
                    f"{part.name} mean local h": h,
                    f"{part.name} mean local Nusselt number": factor * nusselt,
                    f"{part.name} Reynolds number": reynolds,
                }
            ntu = 1.0 / (resistance * smaller)
            effectiveness = counterflow_effectiveness(ntu, ratio) if counter else parallel_effectiveness(ntu, ratio)
            duty = effectiveness * smaller * span
            for key, sign in (("hot", -1.0), ("cold", 1.0)):
                table = parts[key].material
                out[key] = float(table.temperature_of(table.enthalpy(t[key]) + sign * duty / flows[key], t[key]))
                values[f"{parts[key].name} outlet temperature"] = out[key]
                values[f"{parts[key].name} heat gained"] = sign * duty
            values |= {"duty": duty, "effectiveness": effectiveness, "NTU": ntu, "overall U": 1.0 / (resistance * area["hot"])}
            if max(abs(out[key] - before[key]) for key in out) < 1e-7:
                break
        return values

    low, middle, high = solve(1.0 - _SCATTER_H), solve(1.0), solve(1.0 + _SCATTER_H)
    laminar = all(middle[f"{part.name} Reynolds number"] < TRANSITION_REYNOLDS for part in parts.values())
    where = f"both Reynolds numbers below {TRANSITION_REYNOLDS:.0f}; little conduction along the pipe"
    flow = "counterflow" if counter else "parallel flow"
    result = {}
    for name, value in middle.items():
        source = f"effectiveness-NTU, {flow}: {KAYS_LONDON}; films of pipe and annulus: {SHAH_LONDON}, chapters V and XII"
        bounds = sorted((low[name], value, high[name]))
        result[name] = HandValue(name, value, bounds[0], bounds[-1], source, where, laminar)
    return result
