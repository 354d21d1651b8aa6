"""Whether the two ends of a module that repeats are the same straight line, one period apart."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import InputProblem
from wattikos_core.section.painted import Array, PaintedSection

_FIT = 1e-6


def end_problems(resolved: ResolvedCase, section: PaintedSection) -> list[InputProblem]:
    """What is wrong with the ends of a case's module; nothing where all fits, or nothing repeats."""
    module = resolved.module
    if module is None:
        return []
    field = module.field
    missing = [name for name in (*module.upstream, *module.downstream) if name not in section.boundaries]
    if missing:
        return []
    both = sorted(set(module.upstream) & set(module.downstream))
    if both:
        return [
            InputProblem(f"{field}.downstream", f"'{both[0]}' is at both ends of the module", "choose the other end's boundary")
        ]
    ends = [_points(section, names) for names in (module.upstream, module.downstream)]
    for points, names, where in zip(ends, (module.upstream, module.downstream), ("boundaries", "downstream"), strict=True):
        bend = _bend(points)
        if bend > _FIT:
            problem = f"'{names[0]}' is not one straight line" if len(names) == 1 else f"{', '.join(names)} are not on one line"
            return [InputProblem(f"{field}.{where}", problem, "cut the module along straight lines")]
    tips = [_tips(points) for points in ends]
    lengths = [float(np.hypot(*(stop - start))) for start, stop in tips]
    (start, stop), (start_last, stop_last) = tips
    if (stop - start) @ (stop_last - start_last) < 0.0:
        start_last, stop_last = stop_last, start_last
    if float(np.abs((stop_last - stop) - (start_last - start)).max()) > _FIT * max(lengths):
        problem = f"the upstream end is {1e3 * lengths[0]:.5g} mm long and the downstream end {1e3 * lengths[1]:.5g} mm"
        if abs(lengths[0] - lengths[1]) <= _FIT * max(lengths):
            problem = "the two ends of the module are not parallel"
        return [InputProblem(f"{field}.downstream", problem, "cut the module along two equal, parallel lines")]
    period = start_last - start
    if resolved.axisymmetric and abs(period[1]) > _FIT * float(np.hypot(*period)):
        return [InputProblem(f"{field}.downstream", "the module repeats away from the axis", "let it repeat along the axis")]
    fluids = [
        any(section.fluid[section.names.index(section.boundaries[name].parts[0])] for name in names)
        for names in (module.upstream, module.downstream)
    ]
    if not all(fluids):
        return [InputProblem(f"{field}.boundaries", "no fluid passes the ends of the module", "choose boundaries of the fluid")]
    return []


def _points(section: PaintedSection, names: Sequence[str]) -> Array:
    return np.concatenate([section.boundaries[name].segments.reshape(-1, 2) for name in names])


def _bend(points: Array) -> float:
    """How far points stray from a line, as a share of its length."""
    sizes = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
    return float(sizes[1] / sizes[0])


def _tips(points: Array) -> tuple[Array, Array]:
    direction = np.linalg.svd(points - points.mean(axis=0))[2][0]
    place = points @ direction
    return points[int(place.argmin())], points[int(place.argmax())]
