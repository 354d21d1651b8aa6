"""Hand calculation of two streams on both sides of a plate, from inputs to ledger.

Effectiveness-NTU with three resistances in series, developing laminar duct Nusselt numbers and friction, properties at
the mean bulk temperatures, found by a few rounds since outlets and properties depend on each other.
"""

from __future__ import annotations

from dataclasses import dataclass

from wattikos_core.case import ResolvedCase, ResolvedCondition, ResolvedPart
from wattikos_core.case.estimates import CounterflowPlates
from wattikos_core.errors import CaseError, Problem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.ducts import (
    SHAH_LONDON,
    STEPHAN,
    TRANSITION_REYNOLDS,
    apparent_friction,
    friction_by_viscosity,
    nusselt_by_viscosity,
    plate_nusselt,
)
from wattikos_core.estimate.exchangers import KAYS_LONDON, counterflow_effectiveness, parallel_effectiveness
from wattikos_core.estimate.hand_value import HandValue

# Usual scatter of the laminar plate relations: between one temperature and one flux lie 8 %, and entry adds its own.
_SCATTER_H = 0.10
_SCATTER_FRICTION = 0.08
# Films are several times thicker than at the leading edge: metal there comes up to this share nearer to the inlet.
_ENTRY_SHARE = 0.75
# Below this share of the smaller heat capacity rate, conduction along the plate may be left out (common practice).
_AXIAL_LIMIT = 0.02
_ROUNDS = 12


@dataclass(frozen=True)
class _Side:
    """One passage as the hand calculation sees it."""

    part: ResolvedPart
    inlet: ResolvedCondition
    mass_flow: float
    height: float
    both_sides: bool
    forward: bool

    @property
    def hydraulic_diameter(self) -> float:
        # A symmetry plane halves the gap that is drawn; an insulated wall does not.
        return 4.0 * self.height if self.both_sides else 2.0 * self.height


@dataclass(frozen=True)
class _Film:
    h: float
    nusselt: float
    reynolds: float
    pressure_drop: float


def counterflow_plates(resolved: ResolvedCase, roles: CounterflowPlates) -> dict[str, HandValue]:
    """The ledger of two plate passages by hand; see `estimate_case`."""
    bound = Bound(resolved)
    hot, cold, wall = (bound.part(role, getattr(roles, role)) for role in ("hot", "cold", "wall"))
    length = wall.width
    sides = {"hot": _side(resolved, hot, wall), "cold": _side(resolved, cold, wall)}
    t_hot, t_cold = sides["hot"].inlet.temperature, sides["cold"].inlet.temperature
    if t_hot == t_cold:
        fields = f"{sides['hot'].inlet.field}.temperature"
        raise CaseError(Problem(fields, "both streams enter at the same temperature", "give the hot stream a higher one"))
    counter = sides["hot"].forward != sides["cold"].forward
    middle = _solve(resolved, sides, wall, length, counter, 1.0)
    low, high = (_solve(resolved, sides, wall, length, counter, factor) for factor in (1.0 - _SCATTER_H, 1.0 + _SCATTER_H))
    axial = (
        float(wall.material.conductivity(0.5 * (t_hot + t_cold))) * wall.height * resolved.depth / length / middle["smaller rate"]
    )
    laminar = all(middle[f"{part} Reynolds number"] < TRANSITION_REYNOLDS for part in (hot.name, cold.name))
    inside = laminar and axial < _AXIAL_LIMIT
    relation = "counterflow" if counter else "parallel flow"
    exchanger = f"effectiveness-NTU, {relation}: {KAYS_LONDON}; films: {SHAH_LONDON}, chapter VI"
    film = f"plates, laminar, thermal entry: {SHAH_LONDON}, chapter VI; entry of both: {STEPHAN}"
    friction = f"plates, laminar, apparent friction: {SHAH_LONDON}, chapter VI"
    where = (
        f"both Reynolds numbers below {TRANSITION_REYNOLDS:.0f}; conduction along the wall below {_AXIAL_LIMIT:.0%} of the flow's"
    )

    result: dict[str, HandValue] = {}
    for name, value in middle.items():
        if name == "smaller rate":
            continue
        source = exchanger
        bounds = sorted((low[name], high[name], value))
        if name.endswith((" h", "Nusselt number")):
            source = film
        elif name.endswith("pressure drop"):
            source = friction
            bounds = [value * (1.0 - _SCATTER_FRICTION), value, value * (1.0 + _SCATTER_FRICTION)]
        elif name.endswith("Reynolds number"):
            source = "definition"
        elif name.endswith("metal"):
            source = "films in series at the ends of the wall (common practice, no source)"
            inlet, sign = (max(t_hot, t_cold), 1.0) if name.startswith("hottest") else (min(t_hot, t_cold), -1.0)
            reach = abs(inlet - value)
            bounds = sorted((value - sign * _SCATTER_H * reach, value + sign * _ENTRY_SHARE * reach))
        result[name] = HandValue(name, value, bounds[0], bounds[-1], source, where, inside)
    return result


def _solve(
    resolved: ResolvedCase, sides: dict[str, _Side], wall: ResolvedPart, length: float, counter: bool, factor: float
) -> dict[str, float]:
    """The whole calculation with film coefficients multiplied by `factor` (for the band of scatter)."""
    t_hot, t_cold = sides["hot"].inlet.temperature, sides["cold"].inlet.temperature
    hot_table, cold_table = sides["hot"].part.material, sides["cold"].part.material
    hot_flow, cold_flow = sides["hot"].mass_flow, sides["cold"].mass_flow
    span = t_hot - t_cold
    rate_hot = hot_flow * float(hot_table.enthalpy(t_hot) - hot_table.enthalpy(t_cold)) / span
    rate_cold = cold_flow * float(cold_table.enthalpy(t_hot) - cold_table.enthalpy(t_cold)) / span
    smaller, larger = min(rate_hot, rate_cold), max(rate_hot, rate_cold)
    ratio = smaller / larger
    area = length * resolved.depth
    out = {"hot": 0.5 * (t_hot + t_cold), "cold": 0.5 * (t_hot + t_cold)}
    surface = dict(out)
    share = ratio if counter else 0.0
    films: dict[str, _Film] = {}
    ntu = effectiveness = u = duty = 0.0
    for _ in range(_ROUNDS):
        for key, side in sides.items():
            mean = 0.5 * (side.inlet.temperature + out[key])
            films[key] = _film(side, mean, surface[key], (side.inlet.temperature, out[key]), length, resolved.depth, share)
        conductivity = float(wall.material.conductivity(0.25 * (t_hot + t_cold + out["hot"] + out["cold"])))
        resistance = 1.0 / (factor * films["hot"].h) + wall.height / conductivity + 1.0 / (factor * films["cold"].h)
        u = 1.0 / resistance
        ntu = u * area / smaller
        effectiveness = counterflow_effectiveness(ntu, ratio) if counter else parallel_effectiveness(ntu, ratio)
        duty = effectiveness * smaller * span
        new = {
            "hot": float(hot_table.temperature_of(hot_table.enthalpy(t_hot) - duty / hot_flow, t_hot)),
            "cold": float(cold_table.temperature_of(cold_table.enthalpy(t_cold) + duty / cold_flow, t_cold)),
        }
        moved = max(abs(new[key] - out[key]) for key in out)
        out = new
        flux = duty / area
        surface = {
            key: 0.5 * (sides[key].inlet.temperature + out[key]) + sign * flux / films[key].h
            for key, sign in (("hot", -1.0), ("cold", 1.0))
        }
        if moved < 1e-7:
            break
    # Metal at the ends, from the resistances in series there.
    warm_cold = out["cold"] if counter else t_cold
    cool_hot, cool_cold = out["hot"], t_cold if counter else out["cold"]
    metal = (
        t_hot - u * (t_hot - warm_cold) / (factor * films["hot"].h),
        cool_cold + u * (cool_hot - cool_cold) / (factor * films["cold"].h),
    )
    values = {
        "duty": duty,
        "effectiveness": effectiveness,
        "NTU": ntu,
        "overall U": u,
        "hottest metal": max(metal),
        "coldest metal": min(metal),
        "smaller rate": smaller,
    }
    for key, side in sides.items():
        name = side.part.name
        values[f"{name} outlet temperature"] = out[key]
        values[f"{name} heat gained"] = -duty if key == "hot" else duty
        values[f"{name} mean local h"] = factor * films[key].h
        values[f"{name} mean local Nusselt number"] = factor * films[key].nusselt
        values[f"{name} pressure drop"] = films[key].pressure_drop
        values[f"{name} Reynolds number"] = films[key].reynolds
    return values


def _film(
    side: _Side, temperature: float, surface: float, ends: tuple[float, float], length: float, depth: float, flux_share: float
) -> _Film:
    """The film of one passage at its mean bulk and surface temperatures; `ends` are its inlet and outlet."""
    table = side.part.material
    diameter = side.hydraulic_diameter
    viscosity, conductivity = float(table.viscosity(temperature)), float(table.conductivity(temperature))
    density, prandtl = float(table.density(temperature)), float(table.prandtl(temperature))
    velocity = side.mass_flow / (density * side.height * depth)
    reynolds = density * velocity * diameter / viscosity
    x_plus = length / (diameter * reynolds)
    developing = not side.inlet.developed
    nusselt = plate_nusselt(x_plus / prandtl, prandtl, flux_share, both_sides=side.both_sides, developing=developing)
    against = float(table.viscosity(surface)) / viscosity
    nusselt *= nusselt_by_viscosity(against)
    # Pressure is lost along the way, at the viscosity of each place: Simpson's mean between the ends.
    along = (float(table.viscosity(ends[0])) + 4.0 * viscosity + float(table.viscosity(ends[1]))) / (6.0 * viscosity)
    friction = apparent_friction(x_plus, developing=developing) / reynolds * along
    friction *= friction_by_viscosity(against, heating=surface > temperature, both_sides=side.both_sides)
    drop = friction * length / diameter * 0.5 * density * velocity**2
    return _Film(nusselt * conductivity / diameter, nusselt, reynolds, drop)


def _side(resolved: ResolvedCase, part: ResolvedPart, wall: ResolvedPart) -> _Side:
    if resolved.axisymmetric:
        raise CaseError(Problem("section.extent", "the plate relations need a flat section", "choose extent flat"))
    if not part.material.fluid:
        raise CaseError(Problem("estimate", f"'{part.name}' is not a fluid", "name the parts of the two streams"))
    if abs(part.width - wall.width) > 1e-6 * wall.width or abs(part.x - wall.x) > 1e-6 * wall.width:
        raise CaseError(
            Problem(
                "estimate",
                f"'{part.name}' and '{wall.name}' are not equally long",
                "give both the same x and width, or unbind the hand calculation",
            )
        )
    above = part.y > wall.y
    inlets = {edge: resolved.condition(f"{part.name}, {edge}") for edge in ("left", "right")}
    found = [(edge, c) for edge, c in inlets.items() if c is not None and c.type.startswith("inlet")]
    if not found:
        raise CaseError(Problem("conditions", f"'{part.name}' has no inlet at its left or right", "put an inlet on one of them"))
    edge, inlet = found[0]
    mass_flow = inlet.amount
    if inlet.type == "inlet_velocity":
        mass_flow = inlet.amount * float(part.material.density(inlet.temperature)) * part.height * resolved.depth
    outer = resolved.condition(f"{part.name}, {'top' if above else 'bottom'}")
    covered = any(other.name not in (part.name, wall.name) and _covers(other, part, above) for other in resolved.parts)
    both = outer is not None and outer.type == "symmetry" and not covered
    return _Side(part, inlet, mass_flow, part.height, both, edge == "left")


def _covers(other: ResolvedPart, part: ResolvedPart, above: bool) -> bool:
    """Whether another part closes the outer edge of a passage."""
    edge = part.y + part.height if above else part.y
    near = other.y if above else other.y + other.height
    return abs(near - edge) < 1e-9 + 1e-6 * part.height
