"""Laminar or turbulent: the Reynolds or Rayleigh number of every stream, and what it is compared with.

Of a duct that is of its inlet, on the hydraulic diameter there; where no wall stands at the rim of the inlet, on the size of the
body that stands in the stream; of fluid that only weight moves, the Rayleigh number on its height.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from wattikos_core.boundaries.inlet import ROOM_TEMPERATURE
from wattikos_core.case import ResolvedCase
from wattikos_core.internals import ResolvedFan
from wattikos_core.section.bodies import area_of, entering_speed, face_of
from wattikos_core.section.checks import connected_fluids, on_axis
from wattikos_core.section.painted import PaintedSection

# Layers on a bar turn turbulent before they leave it from about here on (Zukauskas 1972, from memory).
_TURBULENT_ALL_ALONG = 2e5
# Ducts: common practice, e.g. Gnielinski (2013). Bodies all round in a stream, whose wakes are turbulent from about here on:
# Williamson (1996, Annu. Rev. Fluid Mech. 28, 477). Layers along upright walls: common practice, no source. Closed rooms
# with a warm and a cold side have no steady laminar flow from 1.8e8 on: Le Quéré and Behnia (1998, JFM 359, 81; from memory).
CRITICAL_OF_DUCTS, CRITICAL_OF_BODIES, CRITICAL_OF_WEIGHT, CRITICAL_OF_CLOSED = 2300.0, 1000.0, 1e9, 1.8e8
_NEAR = 1e-9
# Fans work at about so much of the flow they pass freely (common practice, no source).
_OF_FREE_FLOW = 0.7


@dataclass(frozen=True)
class Regime:
    """How a body of fluid flows.

    Attributes:
        parts: that the fluid is of.
        number: Reynolds number, or Rayleigh number where `weight` alone moves it.
        critical: what it is compared with.
        length: that it is on, m, and what that is: `of`.
        speed: m/s.
        viscosity: kinematic, m2/s.
        turbulent: whether the flow is modelled as turbulent.
        weight: whether weight alone moves it.
        stirred: whether a fan, a screen or a matrix stands in it, behind which layers do not stay laminar.
    """

    parts: tuple[str, ...]
    number: float
    critical: float
    length: float
    of: str
    speed: float
    viscosity: float
    turbulent: bool
    weight: bool = False
    stirred: bool = False

    @property
    def laminar_at_first(self) -> bool:
        """Whether the stream is turbulent and passes a body whose layers turn turbulent on their way along it, if they do."""
        past_body = self.critical == CRITICAL_OF_BODIES and not self.stirred
        return self.turbulent and past_body and self.number < _TURBULENT_ALL_ALONG


def regimes(resolved: ResolvedCase, section: PaintedSection) -> list[Regime]:
    """The regime of every body of fluid that something moves."""
    found, done = [], set[str]()
    for name, parts in connected_fluids(resolved, section).items():
        if name in done:
            continue
        done |= parts
        regime = _regime(resolved, section, tuple(sorted(parts)))
        if regime is not None:
            found.append(regime)
    return found


def turbulent_parts(resolved: ResolvedCase, section: PaintedSection) -> dict[str, Regime]:
    """The regimes of all parts whose flow is modelled as turbulent."""
    if resolved.case.physics.flow == "laminar":
        return {}
    return {part: regime for regime in regimes(resolved, section) if regime.turbulent for part in regime.parts}


def follows_layers(resolved: ResolvedCase, streams: Iterable[Regime]) -> bool:
    """Whether layers along walls of turbulent streams may be laminar at first; by themselves where grids resolve them, steadily."""
    physics = resolved.case.physics
    if physics.transition != "by_number":
        return physics.transition == "followed"
    resolves = resolved.case.grid.layers == "resolved"
    return resolves and physics.regime == "steady" and any(stream.laminar_at_first for stream in streams)


def _regime(resolved: ResolvedCase, section: PaintedSection, parts: tuple[str, ...]) -> Regime | None:
    table = resolved.part(parts[0]).material
    wanted = resolved.case.physics.flow

    def regime(number: float, critical: float, length: float, of: str, speed: float, weight: bool = False) -> Regime:
        melts = any(resolved.part(part).material.melting is not None for part in parts)
        chosen = not melts and (wanted == "turbulent" or (wanted == "automatic" and number > critical))
        stirred = any(resolved.part(part).internal is not None for part in parts)
        return Regime(parts, number, critical, length, of, speed, viscosity, chosen, weight, stirred)

    entrances = _entrances(resolved, section, parts)
    if entrances:
        names, speed, temperature = entrances
        viscosity = float(table.viscosity(temperature)) / float(table.density(temperature))
        diameter = hydraulic_diameter(resolved, section, names)
        if diameter is not None:
            return regime(speed * diameter / viscosity, CRITICAL_OF_DUCTS, diameter, "hydraulic diameter", speed)
        body, size = _largest_body(resolved, section, parts)
        return regime(speed * size / viscosity, CRITICAL_OF_BODIES, size, body, speed)
    blown = _blown(resolved, parts)
    if blown is not None:
        speed, length, temperature = blown
        viscosity = float(table.viscosity(temperature)) / float(table.density(temperature))
        return regime(speed * length / viscosity, CRITICAL_OF_DUCTS, length, "height of the fan", speed)
    given = resolved.temperatures_given
    pull = float(np.hypot(*resolved.gravity))
    if pull == 0.0 or len(given) < 2 or max(given) <= min(given):
        return None
    middle = 0.5 * (min(given) + max(given))
    density = float(table.density(middle))
    viscosity = float(table.viscosity(middle)) / density
    points = np.concatenate([ring for part in parts for ring in section.rings[part]])
    height = float(np.ptp(points @ np.asarray(resolved.gravity))) / pull
    spread = float(np.ptp(table.heavy_density(np.linspace(min(given), max(given), 9)))) / density
    diffusivity = float(table.conductivity(middle)) / (density * float(table.specific_heat(middle)))
    rayleigh = pull * spread * height**3 / (viscosity * diffusivity)
    ends = (c for c in resolved.conditions if c.kind in ("inlet", "outlet", "opening") and c.boundary in section.boundaries)
    open_to = any(section.boundaries[end.boundary].parts[0] in parts for end in ends)
    critical = CRITICAL_OF_WEIGHT if open_to else CRITICAL_OF_CLOSED
    return regime(rayleigh, critical, height, "height", float(np.sqrt(pull * spread * height)), weight=True)


def _entrances(resolved: ResolvedCase, section: PaintedSection, parts: tuple[str, ...]) -> tuple[list[str], float, float] | None:
    """Boundaries through which fluid enters these parts, its mean speed there, m/s, and its temperature, K; None without any."""
    module = resolved.module
    if module is not None:
        names = [n for n in module.upstream if n in section.boundaries and section.boundaries[n].parts[0] in parts]
        if not names:
            return None
        density = float(resolved.part(section.boundaries[names[0]].parts[0]).material.density(module.properties_at))
        area = sum(area_of(resolved, section.boundaries[name]) for name in names)
        speed = module.velocity if module.velocity is not None else (module.mass_flow or 0.0) / (density * area)
        if module.gradient is not None:
            diameter = hydraulic_diameter(resolved, section, names) or float(np.sqrt(area))
            # At a friction factor of 0.03.
            speed = float(np.sqrt(2.0 * abs(module.gradient) * diameter / (0.03 * density)))
        return names, speed, module.properties_at
    best: tuple[list[str], float, float] | None = None
    for condition in resolved.conditions:
        boundary = section.boundaries.get(condition.boundary)
        if condition.kind != "inlet" or boundary is None or boundary.parts[0] not in parts:
            continue
        enters = entering_speed(resolved, boundary, condition)
        if enters is None:
            density = float(resolved.part(boundary.parts[0]).material.density(condition.temperature))
            leaves = [c.amount for c in resolved.conditions if c.kind == "outlet"]
            enters = float(np.sqrt(2.0 * max(condition.amount - min(leaves, default=0.0), 0.0) / density))
        if best is None or enters > best[1]:
            best = [condition.boundary], enters, condition.temperature
    return best or _drawn_in(resolved, section, parts)


def _drawn_in(resolved: ResolvedCase, section: PaintedSection, parts: tuple[str, ...]) -> tuple[list[str], float, float] | None:
    """The widest opening of these parts, and how fast fans might draw fluid in there; None without openings or fans."""
    open_to = [
        (area_of(resolved, section.boundaries[c.boundary]), c)
        for c in resolved.conditions
        if c.kind == "opening" and c.boundary in section.boundaries and section.boundaries[c.boundary].parts[0] in parts
    ]
    flow = sum(_flow_of(resolved, part) for part in parts)
    if not open_to or flow <= 0.0:
        return None
    area, widest = max(open_to, key=lambda one: one[0])
    return [widest.boundary], flow / area, widest.temperature


def _blown(resolved: ResolvedCase, parts: tuple[str, ...]) -> tuple[float, float, float] | None:
    """How fast the strongest fan of these parts blows, m/s, the height of its face, m, and a temperature, K; None without one."""
    fans = [(flow, resolved.part(name)) for name in parts if (flow := _flow_of(resolved, name)) > 0.0]
    if not fans:
        return None
    flow, part = max(fans, key=lambda one: one[0])
    given = resolved.temperatures_given
    return flow / face_of(resolved, part), max(part.width, part.height), given[0] if given else ROOM_TEMPERATURE


def _flow_of(resolved: ResolvedCase, name: str) -> float:
    """What a fan passes at a guess, m3/s: most of what it passes freely; zero where the part is none."""
    part = resolved.part(name)
    fan = part.internal
    if not isinstance(fan, ResolvedFan):
        return 0.0
    if not fan.curve.flat:
        return _OF_FREE_FLOW * fan.stands_for * fan.curve.at[-1]
    density = float(part.material.density(ROOM_TEMPERATURE))
    return float(np.sqrt(2.0 * max(fan.curve.value[0], 0.0) / density)) * face_of(resolved, part)


def hydraulic_diameter(resolved: ResolvedCase, section: PaintedSection, names: list[str]) -> float | None:
    """Four times the area of boundaries over the length of their rim that stands on walls, m; None where no wall stands there."""
    ends = np.concatenate([section.boundaries[name].segments.reshape(-1, 2) for name in names])
    scale = float(np.ptp(ends, axis=0).max())
    walled = 0.0
    for point in ends:
        # A tip is the end of one segment alone.
        if np.count_nonzero(np.hypot(*(ends - point).T) < _NEAR * scale + 1e-12) != 1:
            continue
        if _stands_on_wall(resolved, section, point, names, scale):
            walled += 2.0 * np.pi * abs(float(point[1])) if resolved.axisymmetric else resolved.depth
    area = sum(area_of(resolved, section.boundaries[name]) for name in names)
    return 4.0 * area / walled if walled > 0.0 else None


def _stands_on_wall(resolved: ResolvedCase, section: PaintedSection, point: np.ndarray, names: list[str], scale: float) -> bool:
    own = {part for name in names for part in section.boundaries[name].parts}
    for boundary in section.boundaries.values():
        if boundary.name in names or not own & set(boundary.parts) or on_axis(resolved, boundary):
            continue
        if np.hypot(*(boundary.segments.reshape(-1, 2) - point).T).min() > _NEAR * scale + 1e-12:
            continue
        if boundary.interface:
            fluids = [section.fluid[section.names.index(part)] for part in boundary.parts]
            if not all(fluids) or boundary.name in resolved.contacts:
                return True
            continue
        condition = resolved.condition(boundary.name)
        if condition is None or condition.kind == "wall":
            return True
    return False


def _largest_body(resolved: ResolvedCase, section: PaintedSection, parts: tuple[str, ...]) -> tuple[str, float]:
    """What stands in a stream without walls at its rim: the largest solid or hole that touches it, and its height, m."""
    sizes: dict[str, float] = {}
    for boundary in section.boundaries.values():
        if not set(parts) & set(boundary.parts):
            continue
        others = [part for part in boundary.parts if part not in parts]
        condition = None if boundary.interface else resolved.condition(boundary.name)
        if boundary.interface and others and not section.fluid[section.names.index(others[0])]:
            name = others[0]
        elif not boundary.interface and (condition is None or condition.kind == "wall") and not on_axis(resolved, boundary):
            name = boundary.name
        else:
            continue
        points = boundary.segments.reshape(-1, 2)
        sizes[name] = max(sizes.get(name, 0.0), float(np.ptp(points, axis=0).min() or np.ptp(points, axis=0).max()))
    if not sizes:
        points = np.concatenate([ring for part in parts for ring in section.rings[part]])
        return "the shorter side of the section", float(np.ptp(points, axis=0).min())
    name = max(sizes, key=lambda n: sizes[n])
    return f"size of '{name}'", sizes[name]
