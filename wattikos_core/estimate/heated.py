"""A stream between two walls that heat it, by a known heat rate or at a known temperature."""

from __future__ import annotations

import math

from wattikos_core.case import ResolvedPart
from wattikos_core.case.estimates import HeatedDuct
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound, Entering
from wattikos_core.estimate.ducts import SHAH_LONDON, TRANSITION_REYNOLDS, annulus_nusselt, apparent_friction
from wattikos_core.estimate.films import DuctFilm, by_wall, duct_film, range_of, sources_of
from wattikos_core.estimate.graetz import LEAST_RATIO, Walls
from wattikos_core.estimate.hand_value import HandValue

_SCATTER_H = 0.12
_SCATTER_FRICTION = 0.08
_ROUNDS = 15
_DEVELOPED = 1e9


def heated_duct(bound: Bound, roles: HeatedDuct) -> dict[str, HandValue]:
    """The ledger of a heated stream by hand; see `estimate_case`."""
    resolved = bound.resolved
    fluid = bound.part("fluid", roles.fluid)
    gap, length, breadth = (bound.above_zero(name, getattr(roles, name), "length") for name in ("gap", "length", "breadth"))
    ratio = bound.above_zero("ratio", roles.ratio, "number")
    if ratio > 1.0:
        raise CaseError(
            InputProblem("estimate.ratio", f"'{roles.ratio}' is {ratio:g}", "the inner diameter is the smaller one: at most 1")
        )
    if ratio < LEAST_RATIO:
        problem = f"'{roles.ratio}' is {ratio:g}: a wire that thin has a film of its own"
        raise CaseError(InputProblem("estimate.ratio", problem, f"at least {LEAST_RATIO:g}, or take the hand calculation out"))
    inlet = bound.entering(fluid.name)
    # The breadth of an annulus is its inner wall's; the middle of the gap is longer.
    middle_breadth = breadth * 0.5 * (1.0 + 1.0 / ratio)
    flow = bound.mass_flow(fluid, gap * middle_breadth)
    heated = roles.heat.strip() != ""
    if not heated and not roles.wall.strip():
        raise CaseError(InputProblem("estimate.heat", "neither a heat rate nor a wall temperature is given", "give one of them"))
    given = bound.read("heat", roles.heat, "power") if heated else bound.read("wall", roles.wall, "temperature")
    diameter = 2.0 * gap
    # The outer wall of an annulus is the broader one.
    both = roles.sides == "both"
    area = length * breadth * (1.0 + 1.0 / ratio if both else 1.0)
    walls: Walls = "both" if both else "inner"
    table = fluid.material
    roughness, losses = bound.or_zero("roughness", roles.roughness, "length"), bound.or_zero("losses", roles.losses, "number")
    films: list[DuctFilm] = []

    def solve(way: float) -> dict[str, float]:
        out = surface = inlet.temperature
        values: dict[str, float] = {}
        for _ in range(_ROUNDS):
            before = (out, surface)
            mean = 0.5 * (inlet.temperature + out)
            density, prandtl, viscosity = float(table.density(mean)), float(table.prandtl(mean)), float(table.viscosity(mean))
            velocity = flow / (density * gap * middle_breadth)
            reynolds = density * velocity * diameter / viscosity
            slenderness = 0.0 if inlet.modules else diameter / length

            def laminar(number: float, x: float = slenderness, pr: float = prandtl) -> tuple[float, float]:
                # In a module everything is developed: no entry counts.
                x_plus = 1.0 / (x * number) if x else _DEVELOPED
                share = 1.0 if heated else 0.0
                nusselt = annulus_nusselt(ratio, x_plus / pr, pr, share, walls, developing=not inlet.developed)
                return nusselt, apparent_friction(x_plus, developing=not inlet.developed, ratio=ratio) / number

            film = duct_film(
                laminar,
                reynolds,
                prandtl,
                slenderness=slenderness,
                roughness=roughness / diameter,
                laminar_scatter=_SCATTER_H,
                annulus=ratio if ratio < 1.0 and not both else 0.0,
            )
            films[:] = [film]
            turbulent = reynolds > TRANSITION_REYNOLDS
            of_nusselt, by_viscosity = by_wall(table, mean, surface, turbulent=turbulent, both_sides=both)
            nusselt = film.nusselt * of_nusselt * (1.0 + way * film.scatter)
            h = nusselt * float(table.conductivity(mean)) / diameter
            rate = flow * float(table.specific_heat(mean))
            ntu = h * area / rate
            heat = given if heated else rate * (given - inlet.temperature) * (1.0 - math.exp(-ntu))
            out = float(table.temperature_of(table.enthalpy(inlet.temperature) + heat / flow, mean))
            # A gas that expands is accelerated.
            acceleration = (density * velocity) ** 2 * (
                1.0 / float(table.density(out)) - 1.0 / float(table.density(inlet.temperature))
            )
            dynamic = 0.5 * density * velocity**2
            plain = film.friction * length / diameter * dynamic
            acceleration += losses * dynamic
            # A wall that gives its heat evenly, or one that conducts it along itself to one temperature.
            even, level = mean + heat / (h * area), inlet.temperature + (out - inlet.temperature) / -math.expm1(-ntu)
            surface = 0.5 * (even + level) if heated else given
            values = {
                "outlet temperature": out,
                "heat gained": heat,
                "Reynolds number": reynolds,
                "Nusselt number": nusselt,
                "h": h,
                # The correction is for developed profiles; in the entry less of it holds.
                "pressure drop": plain * math.sqrt(by_viscosity) + acceleration,
                "plain": plain + acceleration,
                "corrected": plain * by_viscosity + acceleration,
                "even": even,
                "level": level,
                "surface": surface,
            }
            if max(abs(out - before[0]), abs(surface - before[1])) < 1e-7:
                break
        return values

    low, high, middle = solve(-1.0), solve(1.0), solve(0.0)
    holds = films[0].inside
    held = any(c.type == "temperature" and c.boundary.startswith(f"{fluid.name}, ") for c in resolved.conditions)
    where = range_of("a duct of even height")
    of_film = sources_of(f"plates or annulus, laminar: {SHAH_LONDON}, chapters VI and XII", middle["Reynolds number"])
    result = {}
    for key, value in middle.items():
        if key in ("even", "level", "plain", "corrected") or (key == "surface" and not roles.surface):
            continue
        if roles.obstructed and key not in ("outlet temperature", "heat gained"):
            continue
        # The number is on the section at the inlet, which is not that of a cone's middle.
        if key == "Reynolds number" and resolved.axisymmetric and ratio == 1.0:
            continue
        name = f"mean temperature of {roles.surface}" if key == "surface" else f"{fluid.name} {key}"
        if key in ("h", "Nusselt number"):
            # Over a wall held at one temperature the mean is that of the logarithmic mean of the differences.
            name = f"{fluid.name} {'log-mean ' if held else ''}{key}"
        bounds = sorted((low[key], value, high[key]))
        source = of_film
        if key == "surface":
            bounds = sorted(solved[way] for solved in (low, high) for way in ("even", "level"))
        elif key == "pressure drop":
            ends = sorted((middle["plain"], middle["corrected"]))
            bounds = [ends[0] * (1.0 - _SCATTER_FRICTION), value, ends[1] * (1.0 + _SCATTER_FRICTION)]
        elif key in ("outlet temperature", "heat gained") and heated:
            source = "energy balance of the stream"
        elif key == "Reynolds number":
            source = "definition"
        result[name] = HandValue(name, value, bounds[0], bounds[-1], source, where, holds)
    if inlet.modules > 1:
        result |= _after_all(result, fluid, flow, inlet, None if heated else given)
    return result


def _after_all(
    one: dict[str, HandValue], fluid: ResolvedPart, flow: float, inlet: Entering, wall: float | None
) -> dict[str, HandValue]:
    """What follows for all modules from the values of one; `wall` is a wall's temperature, K, None where a heat rate is given."""
    values: dict[str, HandValue] = {}
    capacity = flow * float(fluid.material.specific_heat(inlet.temperature))
    out, drop = one.get(f"{fluid.name} outlet temperature"), one.get(f"{fluid.name} pressure drop")
    if out is not None:

        def last(temperature: float) -> float:
            if wall is None:
                return inlet.temperature + inlet.modules * (temperature - inlet.temperature)
            return wall + (inlet.temperature - wall) * ((temperature - wall) / (inlet.temperature - wall)) ** inlet.modules

        ends = [last(t) for t in (out.low, out.value, out.high)]
        name = f"{fluid.name} last outlet temperature"
        values[name] = HandValue(name, ends[1], min(ends), max(ends), out.source, out.range, out.inside)
        heats = [capacity * (t - inlet.temperature) for t in ends]
        name = f"{fluid.name} total heat gained"
        values[name] = HandValue(name, heats[1], min(heats), max(heats), out.source, out.range, out.inside)
    if drop is not None:
        name = f"{fluid.name} total pressure drop"
        value, low, high = (inlet.modules * each for each in (drop.value, drop.low, drop.high))
        values[name] = HandValue(name, value, low, high, drop.source, drop.range, drop.inside)
    return values
