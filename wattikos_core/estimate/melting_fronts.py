"""Melting and freezing by hand: the front from a flat wall held at a temperature, and around a cooled or heated tube.

Flat: Neumann's solution, in Carslaw and Jaeger (1959), Conduction of Heat in Solids, 2nd ed., section 11.2. Around a tube: London
and Seban (1943), Trans. ASME 65, 771: heat passes the new layer as if it did not move. One density for both, no convection.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy.optimize import brentq
from scipy.special import erf, erfc

from wattikos_core.case.estimates import MeltingFront
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key
from wattikos_core.materials import PropertyTable

NEUMANN = "Neumann's solution, in Carslaw and Jaeger (1959), Conduction of Heat in Solids, 2nd ed., section 11.2"
LONDON_SEBAN = "London and Seban (1943), Trans. ASME 65, 771 (from memory), sensible heat of the layer halfway"
_SCATTER, _SCATTER_TUBE = 0.03, 0.10
# A layer stores little beside its latent heat up to this Stefan number (common practice, no source).
_MOST_STEFAN = 0.3
# Heat has not come further than this many times the square root of diffusivity and time.
_REACH = 3.0


@dataclass(frozen=True)
class Phases:
    """The phase that grows at the wall and the one it replaces, in SI; one `density`."""

    melts: float
    latent: float
    density: float
    conductivity: tuple[float, float]
    specific_heat: tuple[float, float]

    @property
    def diffusivity(self) -> tuple[float, float]:
        """m2/s, of the growing phase and of the other."""
        first, second = (k / (self.density * c) for k, c in zip(self.conductivity, self.specific_heat, strict=True))
        return first, second


def phases_of(table: PropertyTable, wall: float) -> Phases:
    """The phases of a material at a wall's temperature (K): what grows there is liquid where that is above melting."""
    melting = table.melting
    assert melting is not None
    solid, liquid = melting.begins - 1.0, melting.ends + 1.0
    grows, other = (liquid, solid) if wall > melting.ends else (solid, liquid)
    conductivity, heat = ((float(of(grows)), float(of(other))) for of in (table.conductivity, table.specific_heat))
    return Phases(0.5 * (melting.begins + melting.ends), melting.latent_heat, float(table.density(grows)), conductivity, heat)


def neumann_root(phases: Phases, wall: float, start: float) -> float:
    """The front's λ: it stands at 2 λ √(α t), α of the phase that grows; `start` is the temperature at the beginning, K."""
    first, second = phases.diffusivity
    stefan = phases.specific_heat[0] * abs(wall - phases.melts) / phases.latent
    apart = abs(phases.melts - start) / abs(wall - phases.melts)
    beside = phases.conductivity[1] / phases.conductivity[0] * math.sqrt(first / second) * apart
    nu = math.sqrt(first / second)

    def balance(x: float) -> float:
        drawn = beside * math.exp(-((nu * x) ** 2)) / erfc(nu * x) if apart else 0.0
        return math.exp(-x * x) / float(erf(x)) - drawn - x * math.sqrt(math.pi) / stefan

    return float(brentq(balance, 1e-9, 5.0 / max(nu, 1.0)))


def tube_time(phases: Phases, radius: float, front: float, u: float, span: float) -> float:
    """Time, s, until the front around a tube of a radius is at another one, m: London and Seban (1943).

    Args:
        phases: properties of solid and liquid.
        radius: of the tube, m.
        front: distance of the front from the tube, m.
        u: from the coolant to the tube's outside, W/m2/K.
        span: coolant against melting temperature, K.
    """
    conductivity = phases.conductivity[0]
    shell = front**2 - radius**2
    resisted = shell / (2.0 * radius * u)
    through = (0.5 * front**2 * math.log(front / radius) - 0.25 * shell) / conductivity
    stored = phases.latent + 0.5 * phases.specific_heat[0] * span
    return phases.density * stored / span * (resisted + through)


def melting_front(bound: Bound, roles: MeltingFront) -> dict[Key, HandValue]:
    """Front and heat of a part that melts or freezes; see `estimate_case`."""
    part = bound.part("part", roles.part)
    if part.table is None or part.table.melting is None:
        raise CaseError(InputProblem("estimate.part", f"'{roles.part}' does not melt", "name a part of a material that melts"))
    wall = bound.read("wall", roles.wall, "temperature")
    start = bound.read("start", roles.start, "temperature")
    bound.account.take("time", "")
    time = bound.above_zero("time", roles.time, "time")
    depth = bound.above_zero("depth", roles.depth, "length")
    area = bound.above_zero("area", roles.area, "area")
    melting = part.table.melting
    if melting.begins <= wall <= melting.ends:
        raise CaseError(InputProblem("estimate.wall", f"'{roles.wall}' lies in the melting range", "choose it above or below"))
    phases = phases_of(part.table, wall)
    # The start on the wall's side of the range has nothing left to melt.
    if (start - phases.melts) * (wall - phases.melts) > 0.0 and not melting.begins <= start <= melting.ends:
        raise CaseError(
            InputProblem("estimate.start", f"'{roles.start}' lies beyond melting already", "choose it on the other side")
        )
    if roles.radius.strip():
        return _around_tube(bound, roles, phases, wall, time, depth)
    first, second = phases.diffusivity
    root = neumann_root(phases, wall, start if not melting.begins <= start <= melting.ends else phases.melts)
    front = 2.0 * root * math.sqrt(first * time)
    passed = 2.0 * phases.conductivity[0] * abs(wall - phases.melts) * math.sqrt(time) * area
    heat = passed / (math.sqrt(math.pi * first) * float(erf(root)))
    reaches = _REACH * math.sqrt(second * time) if start != phases.melts else 0.0
    where = f"a deep body: front and heat within its {depth:.3g} m, no convection"
    inside = front < depth and reaches < depth
    values = {
        Key("front", part.name): front,
        Key("liquid_fraction", part.name): front / depth,
        _stored(part.name, wall, phases): heat,
    }
    if wall < phases.melts:
        values[Key("liquid_fraction", part.name)] = 1.0 - front / depth
    return {n: HandValue(n, v, v * (1.0 - _SCATTER), v * (1.0 + _SCATTER), NEUMANN, where, inside) for n, v in values.items()}


def _around_tube(
    bound: Bound, roles: MeltingFront, phases: Phases, coolant: float, time: float, depth: float
) -> dict[Key, HandValue]:
    part = bound.part("part", roles.part)
    radius = bound.above_zero("radius", roles.radius, "length")
    u = bound.above_zero("h", roles.h, "heat_transfer_coefficient") if roles.h.strip() else math.inf
    span = abs(coolant - phases.melts)

    def late(front: float) -> float:
        return tube_time(phases, radius, front, u, span) - time

    furthest = radius + depth
    front = float(brentq(late, radius * (1.0 + 1e-12), furthest)) if late(furthest) > 0.0 else furthest
    stefan = phases.specific_heat[0] * span / phases.latent
    where = f"Stefan number {stefan:.2g}, below {_MOST_STEFAN:g}; at melting temperature at the beginning, no convection"
    inside = stefan < _MOST_STEFAN and front < furthest
    share = (front**2 - radius**2) / (furthest**2 - radius**2)
    fraction = share if coolant > phases.melts else 1.0 - share
    values = {Key("front", part.name): front - radius, Key("liquid_fraction", part.name): fraction}
    return {
        n: HandValue(n, v, v * (1.0 - _SCATTER_TUBE), v * (1.0 + _SCATTER_TUBE), LONDON_SEBAN, where, inside)
        for n, v in values.items()
    }


def _stored(part: str, wall: float, phases: Phases) -> Key:
    return Key("heat_stored", part) if wall > phases.melts else Key("heat_given_up", part)
