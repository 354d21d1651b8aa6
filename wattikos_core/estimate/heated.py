"""A stream between two walls that heat it, by a known heat rate or at a known temperature."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from wattikos_core.case import ResolvedPart
from wattikos_core.case.estimates import HeatedDuct
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound, Entering
from wattikos_core.estimate.ducts import SHAH_LONDON, TRANSITION_REYNOLDS, annulus_nusselt, apparent_friction
from wattikos_core.estimate.films import TURBULENT_REYNOLDS, DuctFilm, by_wall, duct_film, range_of, sources_of
from wattikos_core.estimate.graetz import LEAST_RATIO, Walls
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.estimate.ribs import WEBB, range_of_ribs, ribbed_film
from wattikos_core.ledger import Key
from wattikos_core.materials import PropertyTable

_SCATTER_H = 0.12
_SCATTER_FRICTION = 0.08
_ROUNDS, _SETTLED = 15, 1e-7
_DEVELOPED = 1e9


@dataclass(frozen=True)
class _Duct:
    """A heated duct in SI.

    Attributes:
        ratio: inner over outer diameter of an annulus, 1 between plates.
        breadth: of the middle of the gap; `area` of the walls that heat.
        heat, wall: the heat rate (W), or the temperature of the wall (K); the one that is given.
        losses: sum of loss coefficients.
        rib, pitch: height and pitch of ribs, m; zero without.
    """

    fluid: ResolvedPart
    inlet: Entering
    flow: float
    gap: float
    length: float
    breadth: float
    ratio: float
    area: float
    both: bool
    heat: float | None
    wall: float | None
    roughness: float
    losses: float
    rib: float
    pitch: float

    @property
    def table(self) -> PropertyTable:
        """Properties of the fluid."""
        return self.fluid.material

    @property
    def diameter(self) -> float:
        """Hydraulic diameter, m."""
        return 2.0 * self.gap


def heated_duct(bound: Bound, roles: HeatedDuct) -> dict[Key, HandValue]:
    """The ledger of a heated stream by hand; see `estimate_case`."""
    resolved, duct = bound.resolved, _read(bound, roles)
    (middle, film, ends), (low, _, low_ends), (high, _, high_ends) = bound.over(lambda way: _solve(duct, way))
    fluid = duct.fluid
    held = any(c.type == "temperature" and c.boundary.startswith(f"{fluid.name}, ") for c in resolved.conditions)
    where = range_of("a duct of even height")
    of_film = sources_of(f"plates or annulus, laminar: {SHAH_LONDON}, chapters VI and XII", middle["reynolds_number"])
    ribbed = duct.rib > 0.0 and middle["reynolds_number"] > TURBULENT_REYNOLDS
    if ribbed:
        where, of_film = f"{range_of_ribs()}; Reynolds number above {TURBULENT_REYNOLDS:,.0f}", WEBB
    surface_ends = [one[name] for one in (low_ends, high_ends) for name in ("even", "level")]
    result = {}
    for what, value in middle.items():
        if _left_out(what, roles, ribbed, round_middle=resolved.axisymmetric and duct.ratio == 1.0):
            continue
        key = Key("mean_temperature", roles.surface) if what == "surface" else Key(what, fluid.name)
        if held and what in ("h", "nusselt_number"):
            # Over a wall held at one temperature the mean is that of the logarithmic mean of the differences.
            key = Key(f"log_mean_{what}", fluid.name)
        bounds, source, inside = sorted((low[what], value, high[what])), of_film, film.inside
        if what == "surface":
            bounds = sorted(surface_ends)
        elif what == "pressure_drop":
            plain, corrected = sorted((ends["plain"], ends["corrected"]))
            bounds = [plain * (1.0 - _SCATTER_FRICTION), value, corrected * (1.0 + _SCATTER_FRICTION)]
        elif what in ("outlet_temperature", "heat_gained") and duct.heat is not None:
            # It holds whatever the film.
            source, inside = "energy balance of the stream", True
        elif what == "reynolds_number":
            source = "definition"
        result[key] = HandValue(key, value, bounds[0], bounds[-1], source, where, inside)
    if duct.inlet.modules > 1:
        result |= _after_all(result, duct)
    return result


def _left_out(what: str, roles: HeatedDuct, ribbed: bool, *, round_middle: bool) -> bool:
    """Whether a quantity is not told: of no surface, of what stands in the way, or of a section that is not that of the middle."""
    if what == "surface":
        return not roles.surface or roles.obstructed
    if roles.obstructed and not ribbed and what not in ("outlet_temperature", "heat_gained"):
        return True
    # The number is on the section at the inlet, which is not that of a cone's middle.
    return what == "reynolds_number" and round_middle


def _read(bound: Bound, roles: HeatedDuct) -> _Duct:
    """What the case says of the duct. Raises CaseError."""
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
    rib = bound.or_zero("rib_height", roles.rib_height, "length")
    pitch = bound.above_zero("rib_pitch", roles.rib_pitch, "length") if rib > 0.0 else 0.0
    # The sides of ribs give heat too.
    broader = (pitch + 2.0 * rib) / pitch if rib > 0.0 else 1.0
    # The outer wall of an annulus is the broader one.
    both = roles.sides == "both"
    return _Duct(
        fluid,
        inlet,
        flow,
        gap,
        length,
        middle_breadth,
        ratio,
        area=length * breadth * broader * (1.0 + 1.0 / ratio if both else 1.0),
        both=both,
        heat=bound.read("heat", roles.heat, "power") if heated else None,
        wall=None if heated else bound.read("wall", roles.wall, "temperature"),
        roughness=bound.or_zero("roughness", roles.roughness, "length"),
        losses=bound.or_zero("losses", roles.losses, "number"),
        rib=rib,
        pitch=pitch,
    )


def _solve(duct: _Duct, way: float) -> tuple[dict[str, float], DuctFilm, dict[str, float]]:
    """Quantities with the film scattered one way (-1 to 1), the film, and ends of what is known between two of them."""
    table, inlet, diameter = duct.table, duct.inlet, duct.diameter
    out = surface = inlet.temperature
    for _ in range(_ROUNDS):
        before = (out, surface)
        mean = 0.5 * (inlet.temperature + out)
        density, viscosity = float(table.density(mean)), float(table.viscosity(mean))
        velocity = duct.flow / (density * duct.gap * duct.breadth)
        reynolds = density * velocity * diameter / viscosity
        film = _film(duct, reynolds, float(table.prandtl(mean)))
        of_nusselt, by_viscosity = by_wall(table, mean, surface, turbulent=reynolds > TRANSITION_REYNOLDS, both_sides=duct.both)
        nusselt = film.nusselt * of_nusselt * (1.0 + way * film.scatter)
        h = nusselt * float(table.conductivity(mean)) / diameter
        rate = duct.flow * float(table.specific_heat(mean))
        ntu = h * duct.area / rate
        if duct.heat is not None:
            heat = duct.heat
        else:
            assert duct.wall is not None
            heat = rate * (duct.wall - inlet.temperature) * -math.expm1(-ntu)
        out = float(table.temperature_of(table.enthalpy(inlet.temperature) + heat / duct.flow, mean))
        # A gas that expands is accelerated.
        expands = 1.0 / float(table.density(out)) - 1.0 / float(table.density(inlet.temperature))
        dynamic = 0.5 * density * velocity**2
        beside = (density * velocity) ** 2 * expands + duct.losses * dynamic
        plain = film.friction * duct.length / diameter * dynamic
        # A wall that gives its heat evenly, or one that conducts it along itself to one temperature.
        even, level = mean + heat / (h * duct.area), inlet.temperature + (out - inlet.temperature) / -math.expm1(-ntu)
        surface = 0.5 * (even + level) if duct.wall is None else duct.wall
        if max(abs(out - before[0]), abs(surface - before[1])) < _SETTLED:
            break
    values = {
        "outlet_temperature": out,
        "heat_gained": heat,
        "reynolds_number": reynolds,
        "nusselt_number": nusselt,
        "h": h,
        # The correction is for developed profiles; in the entry less of it holds.
        "pressure_drop": plain * math.sqrt(by_viscosity) + beside,
        "surface": surface,
    }
    return values, film, {"plain": plain + beside, "corrected": plain * by_viscosity + beside, "even": even, "level": level}


def _film(duct: _Duct, reynolds: float, prandtl: float) -> DuctFilm:
    """The stream's film and friction, without what its wall's temperature makes of them."""
    # In a module everything is developed: no entry counts.
    slenderness = 0.0 if duct.inlet.modules else duct.diameter / duct.length
    walls: Walls = "both" if duct.both else "inner"

    def laminar(number: float) -> tuple[float, float]:
        x_plus = 1.0 / (slenderness * number) if slenderness else _DEVELOPED
        share = 1.0 if duct.heat is not None else 0.0
        developing = not duct.inlet.developed
        nusselt = annulus_nusselt(duct.ratio, x_plus / prandtl, prandtl, share, walls, developing=developing)
        return nusselt, apparent_friction(x_plus, developing=developing, ratio=duct.ratio) / number

    plain = duct_film(
        laminar,
        reynolds,
        prandtl,
        slenderness=slenderness,
        roughness=duct.roughness / duct.diameter,
        laminar_scatter=_SCATTER_H,
        annulus=duct.ratio if duct.ratio < 1.0 and not duct.both else 0.0,
    )
    if duct.rib == 0.0 or reynolds <= TURBULENT_REYNOLDS:
        return plain
    opposite = None if duct.both else plain.friction
    film = ribbed_film(reynolds, prandtl, duct.rib / duct.diameter, duct.pitch / duct.rib, opposite)
    # The sides of the ribs count among what gives heat.
    return replace(film, nusselt=film.nusselt * duct.pitch / (duct.pitch + 2.0 * duct.rib))


def _after_all(one: dict[Key, HandValue], duct: _Duct) -> dict[Key, HandValue]:
    """What follows for all modules from the values of one."""
    values: dict[Key, HandValue] = {}
    inlet, name = duct.inlet, duct.fluid.name
    capacity = duct.flow * float(duct.table.specific_heat(inlet.temperature))
    out, drop = one.get(Key("outlet_temperature", name)), one.get(Key("pressure_drop", name))
    if out is not None:

        def last(temperature: float) -> float:
            if duct.wall is None:
                return inlet.temperature + inlet.modules * (temperature - inlet.temperature)
            left = (temperature - duct.wall) / (inlet.temperature - duct.wall)
            return duct.wall + (inlet.temperature - duct.wall) * left**inlet.modules

        ends = [last(t) for t in (out.low, out.value, out.high)]
        key = Key("last_outlet_temperature", name)
        values[key] = HandValue(key, ends[1], min(ends), max(ends), out.source, out.range, out.inside)
        heats = [capacity * (t - inlet.temperature) for t in ends]
        key = Key("total_heat_gained", name)
        values[key] = HandValue(key, heats[1], min(heats), max(heats), out.source, out.range, out.inside)
    if drop is not None:
        key = Key("total_pressure_drop", name)
        value, low, high = (inlet.modules * each for each in (drop.value, drop.low, drop.high))
        values[key] = HandValue(key, value, low, high, drop.source, drop.range, drop.inside)
    return values
