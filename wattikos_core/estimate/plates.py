"""Hand calculation of two streams on both sides of a plate, from inputs to ledger.

Effectiveness-NTU with three resistances in series, developing laminar duct Nusselt numbers and friction, properties at
the mean bulk temperatures, found by a few rounds since outlets and properties depend on each other.
"""

from __future__ import annotations

from dataclasses import dataclass

from wattikos_core.case import ResolvedCondition, ResolvedPart
from wattikos_core.case.estimates import CounterflowPlates
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.ducts import (
    SHAH_LONDON,
    STEPHAN,
    TRANSITION_REYNOLDS,
    apparent_friction,
    plate_nusselt,
)
from wattikos_core.estimate.exchangers import KAYS_LONDON, counterflow_effectiveness, parallel_effectiveness
from wattikos_core.estimate.films import by_wall, duct_film, range_of, sources_of
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

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
    """One passage as the hand calculation sees it; `contact` is what stands between it and the plate, m2 K/W."""

    part: ResolvedPart
    inlet: ResolvedCondition
    mass_flow: float
    height: float
    both_sides: bool
    forward: bool
    contact: float
    roughness: float

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
    inside: bool


def counterflow_plates(bound: Bound, roles: CounterflowPlates) -> dict[Key, HandValue]:
    """The ledger of two plate passages by hand; see `estimate_case`."""
    resolved = bound.resolved
    hot, cold, wall = (bound.part(role, getattr(roles, role)) for role in ("hot", "cold", "wall"))
    length = wall.width
    roughness = bound.or_zero("roughness", roles.roughness, "length")
    sides = {"hot": _side(bound, hot, wall, roughness), "cold": _side(bound, cold, wall, roughness)}
    t_hot, t_cold = sides["hot"].inlet.temperature, sides["cold"].inlet.temperature
    if t_hot == t_cold:
        fields = f"{sides['hot'].inlet.field}.temperature"
        raise CaseError(InputProblem(fields, "both streams enter at the same temperature", "give the hot stream a higher one"))
    counter = sides["hot"].forward != sides["cold"].forward
    (middle, smaller, films), (low, _, _), (high, _, _) = bound.over(lambda way: _solve(bound, sides, wall, length, counter, way))
    axial = float(wall.material.conductivity(0.5 * (t_hot + t_cold))) * wall.height * resolved.depth / length / smaller
    inside = all(film.inside for film in films.values()) and axial < _AXIAL_LIMIT
    fastest = max(middle[Key("reynolds_number", part)] for part in (hot.name, cold.name))
    relation = "counterflow" if counter else "parallel flow"
    film = sources_of(f"plates, laminar, thermal entry: {SHAH_LONDON}, chapter VI; entry of both: {STEPHAN}", fastest)
    exchanger = f"effectiveness-NTU, {relation}: {KAYS_LONDON}"
    friction = sources_of(f"plates, laminar, apparent friction: {SHAH_LONDON}, chapter VI", fastest)
    where = range_of(f"conduction along the wall below {_AXIAL_LIMIT:.0%} of the flow's")

    result: dict[Key, HandValue] = {}
    for key, value in middle.items():
        source = exchanger
        bounds = sorted((low[key], high[key], value))
        if key.quantity in ("h", "nusselt_number"):
            source = film
        elif key.quantity == "pressure_drop":
            source = friction
            bounds = [value * (1.0 - _SCATTER_FRICTION), value, value * (1.0 + _SCATTER_FRICTION)]
        elif key.quantity == "reynolds_number":
            source = "definition"
        elif key.quantity in ("hottest_metal", "coldest_metal"):
            source = "films in series at the ends of the wall (common practice, no source)"
            inlet, sign = (max(t_hot, t_cold), 1.0) if key.quantity == "hottest_metal" else (min(t_hot, t_cold), -1.0)
            reach = abs(inlet - value)
            bounds = sorted((value - sign * _SCATTER_H * reach, value + sign * _ENTRY_SHARE * reach))
        result[key] = HandValue(key, value, bounds[0], bounds[-1], source, where, inside)
    return result


def _solve(
    bound: Bound, sides: dict[str, _Side], wall: ResolvedPart, length: float, counter: bool, way: float
) -> tuple[dict[Key, float], float, dict[str, _Film]]:
    """The whole calculation with film coefficients in the middle (0) or at an end (-1, 1) of their scatter.

    Returns:
        Quantities by key, the smaller heat capacity rate (W/K), and the films of both sides.
    """
    resolved = bound.resolved
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
            films[key] = _film(side, mean, surface[key], (side.inlet.temperature, out[key]), length, resolved.depth, share, way)
        conductivity = bound.across(wall, 0.25 * (t_hot + t_cold + out["hot"] + out["cold"]))
        to_plate = {key: 1.0 / films[key].h + side.contact for key, side in sides.items()}
        resistance = to_plate["hot"] + wall.height / conductivity + to_plate["cold"]
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
        t_hot - u * (t_hot - warm_cold) * to_plate["hot"],
        cool_cold + u * (cool_hot - cool_cold) * to_plate["cold"],
    )
    values = {
        Key("duty"): duty,
        Key("effectiveness"): effectiveness,
        Key("ntu"): ntu,
        Key("overall_u"): u,
        Key("hottest_metal"): max(metal),
        Key("coldest_metal"): min(metal),
    }
    for key, side in sides.items():
        name = side.part.name
        values[Key("outlet_temperature", name)] = out[key]
        values[Key("heat_gained", name)] = -duty if key == "hot" else duty
        values[Key("h", name)] = films[key].h
        values[Key("nusselt_number", name)] = films[key].nusselt
        values[Key("pressure_drop", name)] = films[key].pressure_drop
        values[Key("reynolds_number", name)] = films[key].reynolds
    return values, smaller, films


def _film(
    side: _Side,
    temperature: float,
    surface: float,
    ends: tuple[float, float],
    length: float,
    depth: float,
    flux_share: float,
    way: float,
) -> _Film:
    """The film of one passage at its mean bulk and surface temperatures; `ends` are its inlet and outlet."""
    table = side.part.material
    diameter = side.hydraulic_diameter
    viscosity, conductivity = float(table.viscosity(temperature)), float(table.conductivity(temperature))
    density, prandtl = float(table.density(temperature)), float(table.prandtl(temperature))
    velocity = side.mass_flow / (density * side.height * depth)
    reynolds = density * velocity * diameter / viscosity
    developing = not side.inlet.developed

    def laminar(number: float) -> tuple[float, float]:
        x_plus = length / (diameter * number)
        nusselt = plate_nusselt(x_plus / prandtl, prandtl, flux_share, both_sides=side.both_sides, developing=developing)
        return nusselt, apparent_friction(x_plus, developing=developing) / number

    film = duct_film(
        laminar,
        reynolds,
        prandtl,
        slenderness=diameter / length,
        roughness=side.roughness / diameter,
        laminar_scatter=_SCATTER_H,
    )
    turbulent = reynolds > TRANSITION_REYNOLDS
    of_nusselt, of_friction = by_wall(table, temperature, surface, turbulent=turbulent, both_sides=side.both_sides)
    nusselt = film.nusselt * of_nusselt * (1.0 + way * film.scatter)
    # Pressure is lost along the way, at the viscosity of each place: Simpson's mean between the ends.
    along = (float(table.viscosity(ends[0])) + 4.0 * viscosity + float(table.viscosity(ends[1]))) / (6.0 * viscosity)
    friction = film.friction * of_friction * (1.0 if turbulent else along)
    drop = friction * length / diameter * 0.5 * density * velocity**2
    return _Film(nusselt * conductivity / diameter, nusselt, reynolds, drop, film.inside)


def _side(bound: Bound, part: ResolvedPart, wall: ResolvedPart, roughness: float) -> _Side:
    resolved = bound.resolved
    if resolved.axisymmetric:
        raise CaseError(InputProblem("section.extent", "the plate relations need a flat section", "choose extent flat"))
    if not part.material.fluid:
        raise CaseError(InputProblem("estimate", f"'{part.name}' is not a fluid", "name the parts of the two streams"))
    if abs(part.width - wall.width) > 1e-6 * wall.width or abs(part.x - wall.x) > 1e-6 * wall.width:
        raise CaseError(
            InputProblem(
                "estimate",
                f"'{part.name}' and '{wall.name}' are not equally long",
                "give both the same x and width, or unbind the hand calculation",
            )
        )
    above = part.y > wall.y
    inlets = {edge: resolved.condition(f"{part.name}, {edge}") for edge in ("left", "right")}
    found = [(edge, c) for edge, c in inlets.items() if c is not None and c.type.startswith("inlet")]
    if not found:
        raise CaseError(
            InputProblem("conditions", f"'{part.name}' has no inlet at its left or right", "put an inlet on one of them")
        )
    edge, inlet = found[0]
    mass_flow = bound.mass_flow(part, part.height * resolved.depth)
    outer = resolved.condition(f"{part.name}, {'top' if above else 'bottom'}")
    covered = any(other.name not in (part.name, wall.name) and _covers(other, part, above) for other in resolved.parts)
    both = outer is not None and outer.type == "symmetry" and not covered
    return _Side(part, inlet, mass_flow, part.height, both, edge == "left", bound.contact(part, wall), roughness)


def _covers(other: ResolvedPart, part: ResolvedPart, above: bool) -> bool:
    """Whether another part closes the outer edge of a passage: a rectangle along it; any other shape does not."""
    if not other.upright:
        return False
    edge = part.y + part.height if above else part.y
    near = other.y if above else other.y + other.height
    return abs(near - edge) < 1e-9 + 1e-6 * part.height
