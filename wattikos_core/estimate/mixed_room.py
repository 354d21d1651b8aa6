"""A ventilated room, fully mixed: one temperature and one age wherever its jets reach, which is what leaves it.

Sandberg (1981, Building and Environment 16, 123, from memory) measures rooms against it. Between it and a plug, whose air is half
as old inside as where it leaves, lies what a good supply makes; a quarter older is what a short way to the outlet makes (common
practice, no source). Excess temperatures follow ages where heat comes from everywhere.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Set
from dataclasses import dataclass

from wattikos_core.case import ResolvedPart
from wattikos_core.case.estimates import MixedRoom
from wattikos_core.case.places import PlacedProbe, placed_probe
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.internals import ResolvedDrag
from wattikos_core.ledger import Key
from wattikos_core.section import PaintedSection, contains, paint, volumes
from wattikos_core.section.bodies import area_of, entering_speed
from wattikos_core.section.painted import Boundary

MIXED = "fully mixed: Sandberg (1981), Build. Environ. 16, 123 (from memory)"
# Ages and excess temperatures over those of a mixed room: of a plug, and of one whose supply goes straight out in part.
PLUG, SHORT = 0.5, 1.25
# Archimedes number beyond which a jet is bent within a few of its heights and does not reach all of a room (common practice, no
# source).
_BENT = 0.01
# Of films along the walls of rooms (common practice, no source).
_SCATTER_OF_FILMS = 0.3
_STILL = 1e-6
_WHERE = "jets that reach the whole room: Archimedes number below 0.01"


@dataclass(frozen=True)
class _Supply:
    """What enters: mass flow, kg/s; temperature, K; velocity, m/s, and size of the opening, m."""

    flow: float
    temperature: float
    velocity: float
    size: float


@dataclass(frozen=True)
class _Loads:
    """What a room gains: `heat`, W, and through its walls `driven`, W, less `conductance`, W/K, times the air's temperature."""

    heat: float
    conductance: float
    driven: float

    def gained(self, temperature: float) -> float:
        """At a temperature of the air along the walls, W."""
        return self.heat + self.driven - self.conductance * temperature


def mixed_room(bound: Bound, roles: MixedRoom) -> dict[Key, HandValue]:
    """Temperatures, ages and effectiveness of a fully mixed room; see `estimate_case`."""
    room = bound.part("room", roles.room)
    section = paint(bound.resolved)
    # Air passes freely into what stands in it.
    fluid = {part.name: part for part in bound.resolved.bodies if part.material.fluid}
    space = {name: fluid[name] for name in (room.name, *_reached(section, room.name, set(fluid)))}
    edges = [edge for edge in section.boundaries.values() if not edge.interface and edge.parts[0] in space]
    supplies = [supply for edge in edges if (supply := _supply(bound, space[edge.parts[0]], edge)) is not None]
    if not supplies:
        raise CaseError(InputProblem("conditions", f"'{room.name}' has no inlet", "put an inlet on one of its boundaries"))
    whole = volumes(section, bound.resolved.depth, axisymmetric=bound.resolved.axisymmetric)
    flow, released = sum(supply.flow for supply in supplies), _released(bound, section, space, whole)
    table = room.material
    enters = sum(supply.flow * supply.temperature for supply in supplies) / flow
    capacity = flow * float(table.specific_heat(enters))
    for drag in bound.system.drags:
        bound.account.take("internal", drag.name)
    bound.account.take("weight", "")

    def leaving(end: float) -> tuple[float, float, float]:
        """What leaves when walls see air at its mixed temperature, and at that of a plug and of a short way."""
        loads = _loads(bound, roles, edges, released, 1.0 + end * _SCATTER_OF_FILMS)
        mixed = (capacity * enters + loads.heat + loads.driven) / (capacity + loads.conductance)
        plug, short = (enters + loads.gained(enters + share * (mixed - enters)) / capacity for share in (PLUG, SHORT))
        return mixed, plug, short

    by_film = bound.over(leaving)
    mixed, coolest, warmest = by_film[0][0], min(map(min, by_film)), max(map(max, by_film))
    rise = mixed - enters
    values = {
        Key("outlet_temperature", room.name): (mixed, coolest, warmest),
        Key("heat_gained", room.name): (capacity * rise, capacity * (coolest - enters), capacity * (warmest - enters)),
    }
    low, high = sorted(enters + share * rise for share in (PLUG, SHORT))
    for probe in _probes_in(bound, section, space):
        values[Key("probe_temperature", probe)] = (mixed, low, high)
    if bound.resolved.age_diffusivity is not None:
        porosity = {drag.name: drag.internal.porosity for drag in bound.system.drags if isinstance(drag.internal, ResolvedDrag)}
        volume = sum(whole[name] * porosity.get(name, 1.0) for name in space)
        values |= _ages(room.name, volume * float(table.density(mixed)) / flow)
        if rise:
            values[Key("heat_removal_effectiveness", room.name)] = (1.0, 1.0 / SHORT, 1.0 / PLUG)
    number = _archimedes(bound, room, supplies, mixed)
    inside = number < _BENT
    return {key: HandValue(key, value, low, high, MIXED, _WHERE, inside) for key, (value, low, high) in values.items()}


def _ages(room: str, age: float) -> dict[Key, tuple[float, float, float]]:
    """Ages of air from that at which it leaves, s, and the efficiency of its change."""
    return {
        Key("mean_age_at_outlet", room): (age, age, age),
        Key("mean_age_inside", room): (age, PLUG * age, SHORT * age),
        Key("air_change_efficiency", room): (0.5, 0.5 / SHORT, 0.5 / PLUG),
    }


def _reached(section: PaintedSection, start: str, among: Set[str]) -> list[str]:
    """Which of some parts touch a part, or touch those that do."""
    found, waiting = list[str](), [start]
    while waiting:
        name = waiting.pop()
        beside = {other for edge in section.boundaries.values() if name in edge.parts for other in edge.parts}
        new = sorted((beside & among) - {start, *found})
        waiting += new
        found += new
    return found


def _supply(bound: Bound, part: ResolvedPart, edge: Boundary) -> _Supply | None:
    """What enters at an edge of a room; None where nothing does. CaseError where a pressure decides how much."""
    condition = bound.resolved.condition(edge.name)
    if condition is None or condition.kind not in ("inlet", "opening"):
        return None
    speed = entering_speed(bound.resolved, edge, condition)
    if speed is None:
        problem = f"by hand the flow does not follow from the pressure at '{edge.name}'"
        raise CaseError(InputProblem(f"{condition.field}.pressure", problem, "give a mass flow or a velocity"))
    bound.account.take("stream", part.name)
    bound.account.take("stream", part.origin)
    flow = speed * float(part.material.density(condition.temperature)) * area_of(bound.resolved, edge)
    return _Supply(flow, condition.temperature, speed, edge.length)


def _released(bound: Bound, section: PaintedSection, space: Mapping[str, ResolvedPart], whole: Mapping[str, float]) -> float:
    """Heat released in a room and in solids that stand in nothing else, W; `whole` are volumes of parts, m3."""
    solids = {part.name for part in bound.resolved.bodies if not part.material.fluid}
    heat = 0.0
    for part in bound.resolved.bodies:
        around = set(_reached(section, part.name, solids - {part.name})) | {part.name}
        beside = {name for edge in section.boundaries.values() if around & set(edge.parts) for name in edge.parts} - solids
        if part.name in space or (part.name in solids and beside and beside <= set(space)):
            heat += part.heat + part.heat_density * whole.get(part.name, 0.0)
            bound.account.take("source", part.origin)
    return heat


def _loads(bound: Bound, roles: MixedRoom, edges: list[Boundary], released: float, more: float) -> _Loads:
    """What sources and walls bring into a room whose films are `more` times what is given."""
    film = 0.0
    if roles.film.strip():
        film = 1.0 / (more * bound.above_zero("film", roles.film, "heat_transfer_coefficient", of_case=False))
    heat, conductance, driven = released, 0.0, 0.0
    for edge in edges:
        condition = bound.resolved.condition(edge.name)
        if condition is None or condition.type not in ("temperature", "heat_flux", "heat_rate", "surroundings"):
            continue
        area, behind, ambient = area_of(bound.resolved, edge), condition.coating + film, condition.ambient
        bound.account.take("outside", edge.name)
        bound.account.take("coating", edge.name)
        if condition.type in ("heat_flux", "heat_rate"):
            heat += condition.amount * (area if condition.type == "heat_flux" else 1.0)
            continue
        if condition.type == "temperature":
            ambient = condition.amount
            if behind == 0.0:
                problem = f"'{edge.name}' is held at a temperature, and no h from the room to its walls is given"
                raise CaseError(InputProblem("estimate.film", problem, "give one, or switch this hand calculation off"))
        elif condition.amount > 0.0:
            behind += 1.0 / condition.amount
        else:
            continue
        conductance += area / behind
        driven += area / behind * ambient
    return _Loads(heat, conductance, driven)


def _probes_in(bound: Bound, section: PaintedSection, space: Mapping[str, ResolvedPart]) -> list[str]:
    """Probes whose place, or the middle of whose box, lies in a room."""
    case, found = bound.resolved.case, []
    for probe in case.reading.probes:
        try:
            placed = placed_probe(case, probe)
        except CaseError:
            # Where it stands is told by its own form.
            continue
        if placed.part in space or (placed.place and any(contains(section.rings[name], _middle(placed)) for name in space)):
            found.append(probe.name)
    return found


def _middle(probe: PlacedProbe) -> tuple[float, float]:
    place = probe.place
    return (0.5 * (place[0] + place[-2]), 0.5 * (place[1] + place[-1]))


def _archimedes(bound: Bound, room: ResolvedPart, supplies: list[_Supply], temperature: float) -> float:
    """Weight over momentum of the jet that it bends most, 0 where nothing is heavy."""
    pull, table = math.hypot(bound.resolved.gravity[0], bound.resolved.gravity[1]), room.material
    density = float(table.heavy_density(temperature))
    heavier = [abs(float(table.heavy_density(one.temperature)) / density - 1.0) for one in supplies]
    return float(max(pull * more * one.size / max(one.velocity, _STILL) ** 2 for more, one in zip(heavier, supplies, strict=True)))
