"""Exchange areas between strips of a flat section: crossed strings, and the free angles where something stands in between.

What leaves a strip of length L and meets another is L F = ½ (crossed strings - uncrossed strings) (Hottel 1954, in McAdams, Heat
Transmission, 3rd edition, chapter 4); of a point on it, half the difference of the sines of the angles from its normal.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from wattikos_core.radiation.hulls import standing_between

Array = NDArray[np.float64]
Index = NDArray[np.int64]

_EPS = 1e-10
_MOST_BETWEEN = 400
# Up to so many runs in between, the integral is taken from corner to corner; beyond, in so many even steps.
_FEW, _EVEN = 8, 4
# Gauss-Legendre points and weights on (0, 1).
_POINTS, _WEIGHTS = np.polynomial.legendre.leggauss(5)
_POINTS, _WEIGHTS = 0.5 * (_POINTS + 1.0), 0.5 * _WEIGHTS


@njit(cache=True, error_model="numpy", nogil=True)
def strings_between(rows: Index, start: Array, end: Array, first: Array, last: Array, hiding: Index) -> Array:
    """Exchange areas of some strips with all that come after them, m2 per metre of depth, shape (n_rows, n_all).

    Args:
        rows: numbers of the strips that look.
        start: of all strips, images included, m, shape (n_all, 2).
        end: of the same, the cavity to the left on the way.
        first: of what may stand in between, shape (m, 2).
        last: of the same.
        hiding: which of them a strip is a piece of, or -1, shape (n_all,).
    """
    found = np.zeros((rows.size, start.shape[0]))
    for row, i in enumerate(rows):
        between, corners = np.empty(_MOST_BETWEEN, dtype=np.int64), np.empty((4, 2))
        box = np.empty((2, 2))
        # What one exchanges with the other, the other does with it.
        for j in range(i + 1, start.shape[0]):
            a0, a1, b0, b1, some = _facing(start[i], end[i], start[j], end[j])
            if not some:
                continue
            corners[0], corners[1], corners[2], corners[3] = a0, a1, b0, b1
            count = standing_between(corners, box, first, last, hiding[i], hiding[j], between)
            if count == 0:
                found[row, j] = max(0.5 * (_way(a0, b0) + _way(a1, b1) - _way(a1, b0) - _way(a0, b1)), 0.0)
            else:
                found[row, j] = _partly_hidden(a0, a1, b0, b1, first, last, between[:count])
    return found


@njit(cache=True, error_model="numpy", inline="always")
def _way(a: Array, b: Array) -> float:
    return float(np.hypot(b[0] - a[0], b[1] - a[1]))


@njit(cache=True, error_model="numpy")
def _clipped(a0: Array, a1: Array, b0: Array, b1: Array) -> tuple[Array, Array, bool]:
    """What of the strip a stands before the strip b, on its left."""
    normal = np.array([b0[1] - b1[1], b1[0] - b0[0]]) / _way(b0, b1)
    at0 = (a0[0] - b0[0]) * normal[0] + (a0[1] - b0[1]) * normal[1]
    at1 = (a1[0] - b0[0]) * normal[0] + (a1[1] - b0[1]) * normal[1]
    least = _EPS * max(_way(a0, b0), _way(a1, b0))
    if at0 <= least and at1 <= least:
        return a0, a1, False
    if at0 < 0.0:
        return a0 + (a1 - a0) * (at0 / (at0 - at1)), a1, True
    if at1 < 0.0:
        return a0, a0 + (a1 - a0) * (at0 / (at0 - at1)), True
    return a0, a1, True


@njit(cache=True, error_model="numpy")
def _facing(a0: Array, a1: Array, b0: Array, b1: Array) -> tuple[Array, Array, Array, Array, bool]:
    """Of two strips what stands before the other."""
    c0, c1, some = _clipped(a0, a1, b0, b1)
    d0, d1, other = _clipped(b0, b1, a0, a1)
    return c0, c1, d0, d1, some and other


@njit(cache=True, error_model="numpy")
def _partly_hidden(a0: Array, a1: Array, b0: Array, b1: Array, first: Array, last: Array, between: Index) -> float:
    """Exchange area of two strips with something in between: what points of the first see of the second, integrated along it."""
    total = 0.0
    lows, highs = np.empty(between.size), np.empty(between.size)
    if between.size > _FEW:
        # Of something round each corner hides little: even steps do, and often nothing is seen at all.
        seen = 0.0
        for share in (0.0, 0.25, 0.5, 0.75, 1.0):
            seen += _free_sines(a0 + share * (a1 - a0), a0, a1, b0, b1, first, last, between, lows, highs)
        if seen == 0.0:
            return 0.0
        breaks = np.linspace(0.0, 1.0, _EVEN + 1)
    else:
        breaks = _breaks(a0, a1, b0, b1, first, last, between)
    for k in range(breaks.size - 1):
        width = breaks[k + 1] - breaks[k]
        if width < 1e-12:
            continue
        for g in range(_POINTS.size):
            at = a0 + (a1 - a0) * (breaks[k] + _POINTS[g] * width)
            total += _WEIGHTS[g] * width * _free_sines(at, a0, a1, b0, b1, first, last, between, lows, highs)
    return float(0.5 * total * _way(a0, a1))


@njit(cache=True, error_model="numpy")
def _breaks(a0: Array, a1: Array, b0: Array, b1: Array, first: Array, last: Array, between: Index) -> Array:
    """Where on the strip a, as shares of it, one more corner comes into sight; with 0 and 1, ascending."""
    corners = np.empty((2 * between.size, 2))
    for k in range(between.size):
        corners[2 * k], corners[2 * k + 1] = first[between[k]], last[between[k]]
    n = corners.shape[0]
    found = np.empty(2 * n + n * (n - 1) // 2 + 2)
    found[0], found[1], count = 0.0, 1.0, 2
    for k in range(n):
        for other in range(-2, k):
            far = b0 if other == -2 else b1 if other == -1 else corners[other]
            dx, dy = far[0] - corners[k, 0], far[1] - corners[k, 1]
            across = dx * (a1[1] - a0[1]) - dy * (a1[0] - a0[0])
            if across == 0.0:
                continue
            share = (dx * (corners[k, 1] - a0[1]) - dy * (corners[k, 0] - a0[0])) / across
            if 0.0 < share < 1.0:
                found[count] = share
                count += 1
    return np.sort(found[:count])


@njit(cache=True, error_model="numpy")
def _free_sines(
    at: Array,
    a0: Array,
    a1: Array,
    b0: Array,
    b1: Array,
    first: Array,
    last: Array,
    between: Index,
    lows: Array,
    highs: Array,
) -> float:
    """Length of the sines, from the normal of strip a at a point, under which the strip b is seen."""
    length = _way(a0, a1)
    tx, ty = (a1[0] - a0[0]) / length, (a1[1] - a0[1]) / length
    one, two = _sine(b0, at, tx, ty), _sine(b1, at, tx, ty)
    begin, stop = min(one, two), max(one, two)
    count = 0
    for k in between:
        c0, c1, some = _clipped(first[k], last[k], a0, a1)
        if not some:
            continue
        c0, c1, some = _clipped(c0, c1, b0, b1)
        if not some:
            continue
        one, two = _sine(c0, at, tx, ty), _sine(c1, at, tx, ty)
        low, high = max(min(one, two), begin), min(max(one, two), stop)
        if high > low:
            # Kept in ascending order.
            place = count
            while place > 0 and lows[place - 1] > low:
                lows[place], highs[place] = lows[place - 1], highs[place - 1]
                place -= 1
            lows[place], highs[place] = low, high
            count += 1
    free, reached = 0.0, begin
    for k in range(count):
        free += max(lows[k] - reached, 0.0)
        reached = max(reached, highs[k])
    return float(free + max(stop - reached, 0.0))


@njit(cache=True, error_model="numpy", inline="always")
def _sine(point: Array, at: Array, tx: float, ty: float) -> float:
    dx, dy = point[0] - at[0], point[1] - at[1]
    return float((dx * tx + dy * ty) / np.hypot(dx, dy))
