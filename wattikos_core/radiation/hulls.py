"""Whether something enters the hull of corners: in the plane, two convex shapes are apart where a line keeps them apart."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

Array = NDArray[np.float64]
Index = NDArray[np.int64]

_EPS = 1e-10


@njit(cache=True, error_model="numpy")
def box_of(corners: Array, box: Array) -> None:
    """Write the least and the greatest coordinates of corners (n, 2) to `box`, shape (2, 2)."""
    box[0], box[1] = corners[0], corners[0]
    for corner in corners:
        for axis in range(2):
            box[0, axis], box[1, axis] = min(box[0, axis], corner[axis]), max(box[1, axis], corner[axis])


@njit(cache=True, error_model="numpy")
def enters_hull(corners: Array, box: Array, first: Array, last: Array) -> bool:
    """Whether a straight run enters the hull of corners (n, 2) in their `box`.

    It does unless a line through two of the corners, or along the run, keeps both apart.
    """
    for axis in range(2):
        # Most runs lie beside the hull altogether.
        if min(first[axis], last[axis]) > box[1, axis] or max(first[axis], last[axis]) < box[0, axis]:
            return False
    for p in range(corners.shape[0]):
        for q in range(p):
            if not _overlap(corners, corners[p], corners[q], first, last):
                return False
    return bool(_overlap(corners, first, last, first, last))


@njit(cache=True, error_model="numpy")
def standing_between(corners: Array, box: Array, first: Array, last: Array, one: int, other: int, between: Index) -> int:
    """Write to `between` the runs that enter a hull, all but `one` and `other`; as many as it holds. Returns how many."""
    box_of(corners, box)
    count = 0
    for k in range(first.shape[0]):
        if k != one and k != other and count < between.size and enters_hull(corners, box, first[k], last[k]):
            between[count] = k
            count += 1
    return count


@njit(cache=True, error_model="numpy")
def _overlap(corners: Array, p: Array, q: Array, first: Array, last: Array) -> bool:
    """Whether hull and run overlap seen along the line from p to q."""
    nx, ny = p[1] - q[1], q[0] - p[0]
    size = np.hypot(nx, ny)
    if size == 0.0:
        return True
    low, high = np.inf, -np.inf
    for corner in corners:
        off = ((corner[0] - p[0]) * nx + (corner[1] - p[1]) * ny) / size
        low, high = min(low, off), max(high, off)
    one = ((first[0] - p[0]) * nx + (first[1] - p[1]) * ny) / size
    two = ((last[0] - p[0]) * nx + (last[1] - p[1]) * ny) / size
    least = _EPS * (abs(high) + abs(low) + abs(one) + abs(two))
    return bool(min(one, two) < high - least and max(one, two) > low + least)
