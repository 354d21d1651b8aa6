"""Velocity profiles at inlets, as exact face averages so that the given mass flow is met to round-off."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattikos_core.boundaries.on_faces import FaceCondition

if TYPE_CHECKING:
    from wattikos_core.grid import Grid

Array = NDArray[np.float64]
Index = NDArray[np.int64]


class Across(NamedTuple):
    """An inlet across its stream.

    Attributes:
        start, end: coordinates of both ends of each face, m, shape (n,): radii where `round_axis`.
        walls: whether the lowest and the highest coordinate is a wall.
        round_axis: whether the inlet goes round the axis.
    """

    start: Array
    end: Array
    walls: tuple[bool, bool]
    round_axis: bool


def across_inlet(grid: Grid, group: Index, conditions: Mapping[str, FaceCondition], fluid: NDArray[np.bool_]) -> Across:
    """The faces of an inlet across its stream, and what its ends stand on; `fluid` whether each cell is of one."""
    ends = grid.nodes[grid.edges[group]]
    extent = np.ptp(ends.reshape(-1, 2), axis=0)
    axis = int(extent[1] >= extent[0])
    start, end = ends[:, 0, axis], ends[:, 1, axis]
    low, high = float(np.minimum(start, end).min()), float(np.maximum(start, end).max())
    walls = _is_wall(grid, group, axis, low, conditions, fluid), _is_wall(grid, group, axis, high, conditions, fluid)
    return Across(start, end, walls, grid.axisymmetric and axis == 1)


def _is_wall(
    grid: Grid, group: Index, axis: int, at: float, conditions: Mapping[str, FaceCondition], fluid: NDArray[np.bool_]
) -> bool:
    """Whether the boundary or interface that ends an inlet at coordinate `at` is a wall."""
    ends = grid.nodes[grid.edges[group]][:, :, axis]
    tip = np.unique(grid.edges[group][np.abs(ends - at) < 1e-9 * max(np.ptp(ends), 1e-30)])
    touching = np.nonzero(np.isin(grid.edges, tip).any(axis=1))[0]
    cells = set(grid.owner[group].tolist())
    for face in np.setdiff1d(touching, group):
        a, b = int(grid.owner[face]), int(grid.neighbour[face])
        if not ({a, b} & cells) or (b >= 0 and fluid[a] and fluid[b]):
            continue
        name = next((name for name, faces in grid.groups.items() if face in faces), "")
        condition = conditions.get(name)
        return condition is None or condition.kind == "wall"
    return False


def developed_profile(start: Array, end: Array, wall_start: bool, wall_end: bool, axisymmetric: bool) -> Array:
    """Face-averaged laminar fully developed velocity over an inlet, in multiples of its mean.

    Args:
        start: coordinate across the stream of one end of each face, m (the radius when axisymmetric), shape (n,).
        end: the same of their other ends.
        wall_start: whether the lowest coordinate is a wall (otherwise symmetry).
        wall_end: whether the highest one is.
        axisymmetric: whether the section turns about y = 0; else it is flat.

    The parabola between plates and the annulus profile follow from the exact solution of developed flow (for example
    Shah and London 1978, chapters VI and XIV); without walls the profile is uniform.
    """
    low, high = np.minimum(start, end), np.maximum(start, end)
    r0, r1 = float(low.min()), float(high.max())
    if not (wall_start or wall_end):
        return np.ones_like(low)
    nodes, weights = np.polynomial.legendre.leggauss(4)
    y = 0.5 * (high + low)[:, None] + 0.5 * (high - low)[:, None] * nodes
    if axisymmetric and r0 < 1e-9 * r1:
        shape = 1.0 - (y / r1) ** 2
    elif axisymmetric:
        shape = _annulus(y, r0, r1, wall_start, wall_end)
    elif wall_start and wall_end:
        shape = (y - r0) * (r1 - y)
    else:
        distance = (y - r0) if wall_start else (r1 - y)
        shape = distance * (2.0 * (r1 - r0) - distance)
    measure = weights * (y if axisymmetric else 1.0)
    average = (shape * measure).sum(axis=1) / (measure * np.ones_like(y)).sum(axis=1)
    face = (high - low) * (0.5 * (high + low) if axisymmetric else 1.0)
    return np.asarray(average / ((average * face).sum() / face.sum()))


def _annulus(r: Array, r0: float, r1: float, wall_inner: bool, wall_outer: bool) -> Array:
    """Developed annulus flow: u = -r²/4 + A ln r + B, with no slip at walls and no shear elsewhere."""
    if wall_inner and wall_outer:
        a = (r1**2 - r0**2) / (4.0 * np.log(r1 / r0))
        return np.asarray((r0**2 - r**2) / 4.0 + a * np.log(r / r0))
    wall, free = (r0, r1) if wall_inner else (r1, r0)
    return np.asarray((wall**2 - r**2) / 4.0 + free**2 / 2.0 * np.log(r / wall))
