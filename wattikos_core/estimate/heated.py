"""A stream between two walls that heat it, by a known heat rate or at a known temperature."""

from __future__ import annotations

import math

import numpy as np

from wattikos_core.case import ResolvedCase, ResolvedPart
from wattikos_core.case.estimates import HeatedDuct
from wattikos_core.errors import CaseError, Problem
from wattikos_core.estimate.bound import Bound, Entering
from wattikos_core.estimate.ducts import (
    SHAH_LONDON,
    TRANSITION_REYNOLDS,
    apparent_friction,
    friction_by_viscosity,
    nusselt_by_viscosity,
    plate_nusselt,
)
from wattikos_core.estimate.hand_value import HandValue

_SCATTER_H = 0.12
_SCATTER_FRICTION = 0.08
_ROUNDS = 15
_DEVELOPED = 1e9

# Developed Nusselt number of an annulus heated at its inner wall, the outer one insulated, over the ratio of diameters:
# Shah and London (1978), chapter XII, with one heat flux and with one temperature (from memory).
ANNULUS_RATIO = (0.02, 0.05, 0.10, 0.25, 0.50, 1.00)
ANNULUS_FLUX = (32.705, 17.811, 11.906, 7.7535, 6.1810, 5.3846)
ANNULUS_TEMPERATURE = (32.337, 17.460, 11.560, 7.3708, 5.7382, 4.8608)


def annulus_nusselt(ratio: float, *, flux: bool) -> float:
    """Developed Nu on the hydraulic diameter at the inner wall of an annulus whose outer wall is insulated."""
    table = ANNULUS_FLUX if flux else ANNULUS_TEMPERATURE
    return float(np.exp(np.interp(math.log(ratio), np.log(ANNULUS_RATIO), np.log(table))))


def heated_duct(resolved: ResolvedCase, roles: HeatedDuct) -> dict[str, HandValue]:
    """The ledger of a heated stream by hand; see `estimate_case`."""
    bound = Bound(resolved)
    fluid = bound.part("fluid", roles.fluid)
    gap, length, breadth = (bound.above_zero(name, getattr(roles, name), "length") for name in ("gap", "length", "breadth"))
    ratio = bound.above_zero("ratio", roles.ratio, "number")
    if ratio > 1.0:
        raise CaseError(
            Problem("estimate.ratio", f"'{roles.ratio}' is {ratio:g}", "the inner diameter is the smaller one: at most 1")
        )
    inlet = bound.entering(fluid.name)
    # The breadth of an annulus is its inner wall's; the middle of the gap is longer.
    middle_breadth = breadth * 0.5 * (1.0 + 1.0 / ratio)
    flow = bound.mass_flow(fluid, gap * middle_breadth)
    heated = roles.heat.strip() != ""
    if not heated and not roles.wall.strip():
        raise CaseError(Problem("estimate.heat", "neither a heat rate nor a wall temperature is given", "give one of them"))
    given = bound.read("heat", roles.heat, "power") if heated else bound.read("wall", roles.wall, "temperature")
    diameter = 2.0 * gap
    area = length * breadth * (2.0 if roles.sides == "both" else 1.0)
    table = fluid.material

    def solve(factor: float) -> dict[str, float]:
        out = surface = inlet.temperature
        values: dict[str, float] = {}
        both = roles.sides == "both"
        for _ in range(_ROUNDS):
            before = (out, surface)
            mean = 0.5 * (inlet.temperature + out)
            density, prandtl, viscosity = float(table.density(mean)), float(table.prandtl(mean)), float(table.viscosity(mean))
            velocity = flow / (density * gap * middle_breadth)
            reynolds = density * velocity * diameter / viscosity
            # In a module everything is developed: no entry counts.
            x_plus = _DEVELOPED if inlet.modules else length / (diameter * reynolds)
            share = 1.0 if heated else 0.0
            nusselt = plate_nusselt(x_plus / prandtl, prandtl, share, both_sides=both, developing=not inlet.developed)
            if ratio < 1.0 and not both:
                # What the curvature adds to the developed value is added here too.
                nusselt += annulus_nusselt(ratio, flux=heated) - annulus_nusselt(1.0, flux=heated)
            against = float(table.viscosity(surface)) / viscosity
            nusselt *= factor * nusselt_by_viscosity(against)
            h = nusselt * float(table.conductivity(mean)) / diameter
            rate = flow * float(table.specific_heat(mean))
            ntu = h * area / rate
            heat = given if heated else rate * (given - inlet.temperature) * (1.0 - math.exp(-ntu))
            out = float(table.temperature_of(table.enthalpy(inlet.temperature) + heat / flow, mean))
            friction = apparent_friction(x_plus, developing=not inlet.developed) / reynolds
            by_viscosity = friction_by_viscosity(against, heating=surface > mean, both_sides=both)
            # A gas that expands is accelerated.
            acceleration = (density * velocity) ** 2 * (
                1.0 / float(table.density(out)) - 1.0 / float(table.density(inlet.temperature))
            )
            plain = friction * length / diameter * 0.5 * density * velocity**2
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

    low, middle, high = solve(1.0 - _SCATTER_H), solve(1.0), solve(1.0 + _SCATTER_H)
    held = any(c.type == "temperature" and c.boundary.startswith(f"{fluid.name}, ") for c in resolved.conditions)
    laminar = middle["Reynolds number"] < TRANSITION_REYNOLDS
    where = f"Reynolds number below {TRANSITION_REYNOLDS:.0f}; a duct of even height"
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
            # Over a wall held at one temperature the mean local value is that of the logarithmic mean of the differences.
            name = f"{fluid.name} {'log-mean' if held else 'mean local'} {key}"
        bounds = sorted((low[key], value, high[key]))
        source = f"plates or annulus, laminar: {SHAH_LONDON}, chapters VI and XII"
        if key == "surface":
            bounds = sorted(solved[way] for solved in (low, high) for way in ("even", "level"))
        elif key == "pressure drop":
            ends = sorted((middle["plain"], middle["corrected"]))
            bounds = [ends[0] * (1.0 - _SCATTER_FRICTION), value, ends[1] * (1.0 + _SCATTER_FRICTION)]
        elif key in ("outlet temperature", "heat gained") and heated:
            source = "energy balance of the stream"
        elif key == "Reynolds number":
            source = "definition"
        result[name] = HandValue(name, value, bounds[0], bounds[-1], source, where, laminar)
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
