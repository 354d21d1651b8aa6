"""Bodies in streams: tubes, bars and spheres with fluid all round them, whole or cut in half by a plane of symmetry."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wattikos_core.case import ResolvedCase, ResolvedCondition, ResolvedPart
from wattikos_core.section.painted import Array, Boundary, PaintedSection

# A boundary goes all round a body when its segments close, to round-off.
_CLOSED = 1e-6
# A body is round when its breadth both ways is its diameter to this.
_ROUND = 0.02


@dataclass(frozen=True)
class Body:
    """A body in a stream whose mass flow or velocity is given.

    Attributes:
        name: of the part that it is, else of its boundary.
        boundary, fluid: the boundary round it, and the part around it.
        whole: whether all of it is drawn.
        round: whether it is a circle (a sphere in an axisymmetric section).
        diameter: of the circle with its perimeter (the sphere with its surface), m.
        low, high: corners of the box round it, m, shape (2,), as drawn.
        speed: mean of what enters, m/s; `inlet` the boundary where, `entry` the middle of it, m.
        temperature: of what enters, K.
    """

    name: str
    boundary: str
    fluid: str
    whole: bool
    round: bool
    diameter: float
    low: Array
    high: Array
    speed: float
    inlet: str
    entry: Array
    temperature: float

    @property
    def along(self) -> int:
        """The axis that points most from where fluid enters to the body: 0 is x, 1 is y."""
        return int(np.argmax(np.abs(0.5 * (self.low + self.high) - self.entry)))

    def reynolds(self, resolved: ResolvedCase, temperature: float | None = None) -> float:
        """Reynolds number on the diameter and the speed of what enters, at its temperature or another one (K)."""
        table = resolved.part(self.fluid).material
        at = self.temperature if temperature is None else temperature
        return self.speed * self.diameter * float(table.density(at)) / float(table.viscosity(at))


def bodies_in_streams(resolved: ResolvedCase, section: PaintedSection) -> list[Body]:
    """All bodies that a given stream passes on both sides."""
    found: list[Body] = []
    for fluid, wet in zip(section.names, section.fluid, strict=True):
        entering = entering_part(resolved, section, fluid) if wet else None
        if entering is None:
            continue
        for boundary in section.boundaries.values():
            body = _body(resolved, section, boundary, fluid, entering) if fluid in boundary.parts else None
            if body is not None:
                found.append(body)
    return found


@dataclass(frozen=True)
class EnteringPart:
    """What enters a part by a given mass flow or velocity: its mean speed, m/s, and volume flow, m3/s; where; and how warm, K."""

    speed: float
    volume_flow: float
    boundary: str
    middle: Array
    temperature: float


def entering_part(resolved: ResolvedCase, section: PaintedSection, part: str) -> EnteringPart | None:
    """What enters a part of fluid; None without a mass flow or velocity given."""
    for name, boundary in section.boundaries.items():
        condition = resolved.condition(name)
        if boundary.interface or part not in boundary.parts or condition is None:
            continue
        speed = entering_speed(resolved, boundary, condition)
        if speed is not None:
            middle = boundary.segments.reshape(-1, 2).mean(axis=0)
            return EnteringPart(speed, speed * area_of(resolved, boundary), name, middle, condition.temperature)
    return None


def entering_speed(resolved: ResolvedCase, boundary: Boundary, condition: ResolvedCondition) -> float | None:
    """Mean speed of what enters at a boundary, m/s; None without a mass flow or velocity given."""
    if condition.type == "inlet_velocity":
        return condition.amount
    if condition.type != "inlet_mass":
        return None
    density = float(resolved.part(boundary.parts[0]).material.density(condition.temperature))
    return condition.amount / (density * area_of(resolved, boundary))


def area_of(resolved: ResolvedCase, boundary: Boundary) -> float:
    """Area of a boundary, m2."""
    if not resolved.axisymmetric:
        return boundary.length * resolved.depth
    x0, y0, x1, y1 = boundary.segments.T
    return float((np.pi * (y0 + y1) * np.hypot(x1 - x0, y1 - y0)).sum())


def face_of(resolved: ResolvedCase, part: ResolvedPart) -> float:
    """Area that a rectangle with something in it shows to its stream, m2: its extent across, by the depth or round the axis."""
    internal = part.internal
    assert internal is not None
    across = part.height if internal.thickness == part.width else part.width
    if not resolved.axisymmetric:
        return across * resolved.depth
    return 2.0 * float(np.pi) * (part.y + 0.5 * part.height) * across


def _body(resolved: ResolvedCase, section: PaintedSection, boundary: Boundary, fluid: str, entering: EnteringPart) -> Body | None:
    ways = boundary.segments.reshape(-1, 2)
    condition = resolved.condition(boundary.name)
    if any(part.internal is not None for part in resolved.parts if part.name in boundary.parts):
        # Fluid passes through it.
        return None
    flat = float(np.ptp(ways, axis=0).min()) < _CLOSED * boundary.length
    if flat or (condition is not None and condition.kind != "wall"):
        return None
    # As complex numbers, which are sorted much faster than pairs.
    size = _CLOSED * boundary.length
    ends, counts = np.unique(np.round(ways[:, 0] / size) + 1j * np.round(ways[:, 1] / size), return_counts=True)
    once = ends[counts == 1] * size
    loose = np.stack([once.real, once.imag], axis=1)
    whole = once.size == 0 and bool(np.all(counts == 2))
    half = once.size == 2 and bool(np.all(counts <= 2)) and _cut_by_symmetry(resolved, section, fluid, loose)
    if not (whole or half):
        return None
    if resolved.axisymmetric:
        if whole:
            return None
        diameter = float(np.sqrt(area_of(resolved, boundary) / np.pi))
    else:
        diameter = boundary.length * (1.0 if whole else 2.0) / np.pi
    low, high = ways.min(axis=0), ways.max(axis=0)
    breadth = high - low
    if half:
        breadth[int(np.argmin(np.abs(loose[1] - loose[0])))] *= 2.0
    sides = [part for part in boundary.parts if part != fluid]
    return Body(
        name=sides[0] if sides else boundary.name,
        boundary=boundary.name,
        fluid=fluid,
        whole=whole,
        round=bool(np.all(np.abs(breadth / diameter - 1.0) < _ROUND)),
        diameter=diameter,
        low=low,
        high=high,
        speed=entering.speed,
        inlet=entering.boundary,
        entry=entering.middle,
        temperature=entering.temperature,
    )


def _cut_by_symmetry(resolved: ResolvedCase, section: PaintedSection, fluid: str, loose: Array) -> bool:
    """Whether the line between two loose ends goes on as a plane of symmetry of the fluid, or is the axis."""
    if resolved.axisymmetric:
        return bool(np.all(np.abs(loose[:, 1]) < _CLOSED * np.ptp(loose[:, 0])))
    chord = loose[1] - loose[0]
    across = np.array([-chord[1], chord[0]]) / float(chord @ chord)
    for name, boundary in section.boundaries.items():
        condition = resolved.condition(name)
        if fluid in boundary.parts and condition is not None and condition.type == "symmetry":
            beside = (boundary.segments.reshape(-1, 2) - loose[0]) @ across
            if np.all(np.abs(beside) < 1e-3):
                return True
    return False
