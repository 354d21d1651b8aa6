"""Two streams on both sides of a round pipe, by effectiveness-NTU."""

from __future__ import annotations

import math
from dataclasses import dataclass

from wattikos_core.case import ResolvedPart
from wattikos_core.case.estimates import DoublePipe
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.ducts import SHAH_LONDON, TRANSITION_REYNOLDS, between, flux_share_behind, pipe_nusselt
from wattikos_core.estimate.exchangers import KAYS_LONDON, counterflow_effectiveness, parallel_effectiveness
from wattikos_core.estimate.films import DuctFilm, by_wall, duct_film, range_of, sources_of
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

_SCATTER_H = 0.10
_ROUNDS, _SETTLED = 20, 1e-7


@dataclass(frozen=True)
class _Side:
    """One stream, in SI.

    Attributes:
        inlet: temperature, K; `sign` 1 where the stream takes heat, -1 where it gives it.
        inner: whether it flows in the pipe; `diameter` hydraulic, `area` of the wall on its side.
        contact: resistance between it and the wall, m2 K/W.
    """

    part: ResolvedPart
    sign: float
    inlet: float
    flow: float
    section: float
    inner: bool
    diameter: float
    area: float
    contact: float

    @property
    def annulus(self) -> float:
        """Inner over outer diameter of an annulus, 0 of a pipe."""
        return 0.0 if self.inner else self.part.y / (self.part.y + self.part.height)


@dataclass(frozen=True)
class _Pipes:
    """Both streams and the wall between them, in SI; `ratio` of the smaller to the larger heat capacity rate."""

    hot: _Side
    cold: _Side
    wall: ResolvedPart
    counter: bool
    smaller: float
    ratio: float
    roughness: float

    @property
    def sides(self) -> tuple[_Side, _Side]:
        """Hot and cold."""
        return self.hot, self.cold


def double_pipe(bound: Bound, roles: DoublePipe) -> dict[Key, HandValue]:
    """The ledger of a double pipe by hand; see `estimate_case`."""
    pipes = _read(bound, roles)
    films: list[DuctFilm] = []
    ends = [_solve(bound, pipes, way, films) for way in ((-1.0, 1.0) if bound.bands else ())]
    middle = _solve(bound, pipes, 0.0, films)
    low, high = ends or (middle, middle)
    holds = all(film.inside for film in films)
    where = range_of("little conduction along the pipe")
    fastest = max(middle[Key("reynolds_number", side.part.name)] for side in pipes.sides)
    of_films = sources_of(f"films of pipe and annulus: {SHAH_LONDON}, chapters V and XII", fastest)
    source = f"effectiveness-NTU, {'counterflow' if pipes.counter else 'parallel flow'}: {KAYS_LONDON}; {of_films}"
    result = {}
    for key, value in middle.items():
        bounds = sorted((low[key], value, high[key]))
        result[key] = HandValue(key, value, bounds[0], bounds[-1], source, where, holds)
    return result


def _read(bound: Bound, roles: DoublePipe) -> _Pipes:
    """What the case says of the pipes. Raises CaseError."""
    if not bound.resolved.axisymmetric:
        problem = InputProblem("section.extent", "the double pipe needs an axisymmetric section", "choose extent axisymmetric")
        raise CaseError(problem)
    parts = {"hot": bound.part("hot", roles.hot), "cold": bound.part("cold", roles.cold)}
    wall = bound.part("wall", roles.wall)
    inlets = {key: bound.inlet(part.name) for key, part in parts.items()}
    span = inlets["hot"].temperature - inlets["cold"].temperature
    if span == 0.0:
        problem = InputProblem(
            f"{inlets['hot'].field}.temperature", "both streams enter at the same temperature", "give the hot stream a higher one"
        )
        raise CaseError(problem)
    sides, rates = [], []
    for key, sign in (("hot", -1.0), ("cold", 1.0)):
        part, inner = parts[key], parts[key].y < wall.y
        section = math.pi * ((part.y + part.height) ** 2 - part.y**2)
        flow = bound.mass_flow(part, section)
        ends = (float(part.material.enthalpy(inlets[end].temperature)) for end in ("hot", "cold"))
        rates.append(flow * (next(ends) - next(ends)) / span)
        sides.append(
            _Side(
                part,
                sign,
                inlets[key].temperature,
                flow,
                section,
                inner,
                diameter=2.0 * (part.y + part.height) if inner else 2.0 * part.height,
                area=2.0 * math.pi * (wall.y if inner else wall.y + wall.height) * wall.width,
                contact=bound.contact(part, wall),
            )
        )
    ends_of = [inlets[key].boundary.rpartition(", ")[2] for key in ("hot", "cold")]
    roughness = bound.or_zero("roughness", roles.roughness, "length")
    return _Pipes(sides[0], sides[1], wall, ends_of[0] != ends_of[1], min(rates), min(rates) / max(rates), roughness)


def _solve(bound: Bound, pipes: _Pipes, way: float, films: list[DuctFilm]) -> dict[Key, float]:
    """Quantities by key with all films scattered one way (-1 to 1); the films are left in `films`."""
    middle = 0.5 * (pipes.hot.inlet + pipes.cold.inlet)
    out, surface = [middle, middle], [middle, middle]
    # What passes the rest of the wall, W/K, per film: how near to one flux it is.
    behind = [0.0, 0.0]
    wall = pipes.wall
    through = math.log((wall.y + wall.height) / wall.y) / (2.0 * math.pi * bound.across(wall, middle) * wall.width)
    values: dict[Key, float] = {}
    for _ in range(_ROUNDS):
        before = list(out)
        films.clear()
        to_wall = []
        for k, side in enumerate(pipes.sides):
            found = _film(pipes, side, 0.5 * (side.inlet + out[k]), surface[k], behind[k], way, films)
            to_wall.append(1.0 / (found["h"] * side.area))
            values |= {Key(what, side.part.name): value for what, value in found.items()}
        resistance = through + sum(to_wall) + sum(side.contact / side.area for side in pipes.sides)
        behind = [1.0 / (resistance - own) for own in to_wall]
        ntu = 1.0 / (resistance * pipes.smaller)
        effect = counterflow_effectiveness if pipes.counter else parallel_effectiveness
        effectiveness = effect(ntu, pipes.ratio)
        duty = effectiveness * pipes.smaller * (pipes.hot.inlet - pipes.cold.inlet)
        for k, side in enumerate(pipes.sides):
            table = side.part.material
            out[k] = float(table.temperature_of(table.enthalpy(side.inlet) + side.sign * duty / side.flow, side.inlet))
            values |= {
                Key("outlet_temperature", side.part.name): out[k],
                Key("heat_gained", side.part.name): side.sign * duty,
            }
            surface[k] = 0.5 * (side.inlet + out[k]) + side.sign * duty * to_wall[k]
        values |= {Key("duty"): duty, Key("effectiveness"): effectiveness}
        values |= {Key("ntu"): ntu, Key("overall_u"): 1.0 / (resistance * pipes.hot.area)}
        if max(abs(now - then) for now, then in zip(out, before, strict=True)) < _SETTLED:
            break
    return values


def _film(
    pipes: _Pipes, side: _Side, mean: float, surface: float, behind: float, way: float, films: list[DuctFilm]
) -> dict[str, float]:
    """Coefficient, Nusselt and Reynolds number (by quantity) of a stream at its mean temperature and that of its wall, K."""
    table, annulus, length = side.part.material, side.annulus, pipes.wall.width
    reynolds = side.flow * side.diameter / (side.section * float(table.viscosity(mean)))
    prandtl, conducts = float(table.prandtl(mean)), float(table.conductivity(mean))
    # In counterflow of equal capacities the flux is the same all along; else what stands behind the film decides.
    evenly = pipes.ratio if pipes.counter else 0.0
    share = evenly + (1.0 - evenly) * flux_share_behind(side.diameter / conducts * behind / side.area)

    def laminar(number: float) -> tuple[float, float]:
        x_star = length / (side.diameter * number * prandtl)
        return (between(annulus, x_star, share, "inner") if annulus else pipe_nusselt(x_star, share)), 0.0

    film = duct_film(
        laminar,
        reynolds,
        prandtl,
        slenderness=side.diameter / length,
        roughness=pipes.roughness / side.diameter,
        laminar_scatter=_SCATTER_H,
        annulus=annulus,
    )
    films.append(film)
    of_nusselt, _ = by_wall(table, mean, surface, turbulent=reynolds > TRANSITION_REYNOLDS)
    nusselt = film.nusselt * of_nusselt * (1.0 + way * film.scatter)
    return {"h": nusselt * conducts / side.diameter, "nusselt_number": nusselt, "reynolds_number": reynolds}
