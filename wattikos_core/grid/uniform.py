"""Directions of a section of rectangles along which nothing can vary: one cell is enough there."""

from __future__ import annotations

from wattikos_core.case import ResolvedCase
from wattikos_core.case.reader import Along
from wattikos_core.section import PaintedSection

# Cells along the other direction of a strip cost next to nothing.
STRIP_FINER = 6.0
_PUSHED = ("inlet_mass", "inlet_velocity", "inlet_static", "inlet_total", "outlet", "opening", "periodic")


def uniform_directions(resolved: ResolvedCase, section: PaintedSection) -> tuple[bool, bool]:
    """Whether nothing can vary along x, and along y, of a painted section of rectangles, at any time.

    It is so where the section is one row of full rectangles whose long sides are all adiabatic, fluids are at rest, and
    nothing that
    is given depends on the place. Along the radius of an axisymmetric section something always varies.
    """
    tensor = section.tensor
    if tensor is None or (tensor.label < 0).any() or resolved.gravity != (0.0, 0.0) or resolved.module is not None:
        return False, False
    if any(c.type in _PUSHED or c.moves for c in resolved.conditions) or any(p.angular_velocity for p in resolved.bodies):
        return False, False
    if resolved.local_sizes or any(isinstance(t, Along) and t.in_place for t in _beginnings(resolved)):
        return False, False
    found = []
    for axis, intervals in ((0, tensor.x.size - 1), (1, tensor.y.size - 1)):
        across = [
            boundary.name
            for boundary in section.boundaries.values()
            if "|" not in boundary.name and any(s[axis] == s[2 + axis] for s in boundary.segments)
        ]
        plain = all(_passes_nothing(resolved, name) for name in across)
        varies = any(along.in_place for c in resolved.conditions for along in c.along.values())
        found.append(intervals == 1 and plain and not varies and not (axis == 1 and resolved.axisymmetric))
    return found[0], found[1] and not found[0]


def _passes_nothing(resolved: ResolvedCase, boundary: str) -> bool:
    condition = resolved.condition(boundary)
    return condition is None or condition.type in ("symmetry", "adiabatic")


def _beginnings(resolved: ResolvedCase) -> list[float | Along | None]:
    return [] if resolved.time is None else [resolved.time.temperature, *resolved.time.part_temperatures.values()]
