"""Exchange areas between rings about an axis: differences of discs, and integrals where something stands in between.

Two coaxial discs of radii a and b at the distance h exchange D = ½ π (s - √(s² - 4 a² b²)) with s = a² + b² + h² (Howell,
Mengüç, Daun and Siegel 2021, Thermal Radiation Heat Transfer, appendix C, configuration C-41); two rings that see each other whole
exchange the difference of the discs that bound them. Elsewhere the kernel cos θ1 cos θ2 / (π S²) is integrated: in closed form over
the angle about the axis, between the angles at which something hides one from the other, and by Gauss points along the meridian.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from wattikos_core.radiation.hulls import standing_between

Array = NDArray[np.float64]
Index = NDArray[np.int64]

_EPS = 1e-10
_MOST_BETWEEN = 200
_POINTS, _WEIGHTS = np.polynomial.legendre.leggauss(4)
_POINTS, _WEIGHTS = 0.5 * (_POINTS + 1.0), 0.5 * _WEIGHTS
_ROUND, _ROUND_WEIGHTS = np.polynomial.legendre.leggauss(12)
# Pieces nearer to each other than their lengths are cut into so many for the integral.
_CUT_NEAR, _CUT_TOUCHING = 3, 6
# Below this share of the distance squared, 2 r1 r2 lets the closed integral lose its digits.
_NEAR_AXIS = 1e-3


@njit(cache=True, error_model="numpy", nogil=True)
def rings_between(rows: Index, start: Array, end: Array, first: Array, last: Array, hiding: Index) -> Array:
    """Exchange areas of some rings with all that come after them, m2, shape (n_rows, n_all).

    Args:
        rows: numbers of the rings that look.
        start: of all rings in the meridian (along the axis, from it), images included, m, shape (n_all, 2).
        end: of the same, the cavity to the left on the way.
        first: of what may stand in between, shape (m, 2).
        last: of the same.
        hiding: which of them a ring is a piece of, or -1, shape (n_all,).
    """
    found = np.zeros((rows.size, start.shape[0]))
    for row, i in enumerate(rows):
        between, corners = np.empty(_MOST_BETWEEN, dtype=np.int64), np.empty((8, 2))
        box = np.empty((2, 2))
        # What one exchanges with the other, the other does with it.
        for j in range(i + 1, start.shape[0]):
            if not (_may_see(start[i], end[i], start[j], end[j]) and _may_see(start[j], end[j], start[i], end[i])):
                continue
            # The hull of two rings in the meridian, both sides of the axis.
            corners[0], corners[1], corners[2], corners[3] = start[i], end[i], start[j], end[j]
            corners[4:] = corners[:4]
            corners[4:, 1] *= -1.0
            count = standing_between(corners, box, first, last, hiding[i], hiding[j], between)
            whole = _sees_all(start[i], end[i], start[j], end[j]) and _sees_all(start[j], end[j], start[i], end[i])
            if count == 0 and whole:
                p0, p1, q0, q1 = start[i], end[i], start[j], end[j]
                found[row, j] = max(_discs(p1, q0) + _discs(p0, q1) - _discs(p0, q0) - _discs(p1, q1), 0.0)
            else:
                found[row, j] = _integrated(start[i], end[i], start[j], end[j], first, last, between[:count])
    return found


@njit(cache=True, error_model="numpy", inline="always")
def _discs(p: Array, q: Array) -> float:
    s = p[1] ** 2 + q[1] ** 2 + (q[0] - p[0]) ** 2
    product = 4.0 * (p[1] * q[1]) ** 2
    # s - √(s² - c) without taking one large number from another.
    return float(0.5 * np.pi * product / (s + np.sqrt(max(s * s - product, 0.0)))) if s > 0.0 else 0.0


@njit(cache=True, error_model="numpy")
def _extremes(p0: Array, p1: Array, q0: Array, q1: Array) -> tuple[float, float, float]:
    """Least and most of what stands before ring p, over all points of ring q and all angles, m; and the size of both."""
    length = np.hypot(p1[0] - p0[0], p1[1] - p0[1])
    nx, nr = (p0[1] - p1[1]) / length, (p1[0] - p0[0]) / length
    low, high, size = np.inf, -np.inf, 0.0
    for q in (q0, q1):
        for turned in (1.0, -1.0):
            off = nx * (q[0] - p0[0]) + nr * (turned * q[1] - p0[1])
            low, high = min(low, off), max(high, off)
            size = max(size, abs(q[0] - p0[0]) + q[1] + p0[1])
    return low, high, size


@njit(cache=True, error_model="numpy")
def _may_see(p0: Array, p1: Array, q0: Array, q1: Array) -> bool:
    _, high, size = _extremes(p0, p1, q0, q1)
    return bool(high > _EPS * size)


@njit(cache=True, error_model="numpy")
def _sees_all(p0: Array, p1: Array, q0: Array, q1: Array) -> bool:
    low, _, size = _extremes(p0, p1, q0, q1)
    return bool(low > -_EPS * size)


@njit(cache=True, error_model="numpy")
def _integrated(p0: Array, p1: Array, q0: Array, q1: Array, first: Array, last: Array, between: Index) -> float:
    """Exchange area of two rings by points along both meridians."""
    long_p, long_q = np.hypot(p1[0] - p0[0], p1[1] - p0[1]), np.hypot(q1[0] - q0[0], q1[1] - q0[1])
    apart = np.inf
    for s in (0.0, 0.5, 1.0):
        for t in (0.0, 0.5, 1.0):
            a, b = p0 + s * (p1 - p0), q0 + t * (q1 - q0)
            apart = min(apart, np.hypot(b[0] - a[0], b[1] - a[1]))
    cuts = 1
    if apart < 1.5 * max(long_p, long_q):
        cuts = _CUT_NEAR if apart > 1e-6 * (long_p + long_q) else _CUT_TOUCHING
    npx, npr = (p0[1] - p1[1]) / long_p, (p1[0] - p0[0]) / long_p
    nqx, nqr = (q0[1] - q1[1]) / long_q, (q1[0] - q0[0]) / long_q
    lows, highs = np.empty(between.size), np.empty(between.size)
    total = 0.0
    for c in range(cuts):
        for g in range(_POINTS.size):
            s = (c + _POINTS[g]) / cuts
            x1, r1 = p0[0] + s * (p1[0] - p0[0]), p0[1] + s * (p1[1] - p0[1])
            for d in range(cuts):
                for h in range(_POINTS.size):
                    t = (d + _POINTS[h]) / cuts
                    x2, r2 = q0[0] + t * (q1[0] - q0[0]), q0[1] + t * (q1[1] - q0[1])
                    seen = _about(x1, r1, npx, npr, x2, r2, nqx, nqr, first, last, between, lows, highs)
                    total += _WEIGHTS[g] * _WEIGHTS[h] * seen * r1 * r2
    return float(4.0 * total * long_p * long_q / cuts**2)


@njit(cache=True, error_model="numpy")
def _about(
    x1: float,
    r1: float,
    npx: float,
    npr: float,
    x2: float,
    r2: float,
    nqx: float,
    nqr: float,
    first: Array,
    last: Array,
    between: Index,
    lows: Array,
    highs: Array,
) -> float:
    """∫ cos θ1 cos θ2 / S² dφ over half the way round, where the two circles see each other, 1/m2."""
    dx = x2 - x1
    alpha1, beta1 = npx * dx - npr * r1, npr * r2
    alpha2, beta2 = -nqx * dx - nqr * r2, nqr * r1
    # What each has before itself: α + β cos φ > 0.
    low, high = -1.0, 1.0
    for alpha, beta in ((alpha1, beta1), (alpha2, beta2)):
        if beta == 0.0:
            if alpha <= 0.0:
                return 0.0
        elif beta > 0.0:
            low = max(low, -alpha / beta)
        else:
            high = min(high, -alpha / beta)
    if high <= low:
        return 0.0
    count = 0
    for k in between:
        one, two = _hidden(x1, r1, x2, r2, first[k], last[k])
        one, two = max(one, low), min(two, high)
        if two > one:
            place = count
            while place > 0 and lows[place - 1] > one:
                lows[place], highs[place] = lows[place - 1], highs[place - 1]
                place -= 1
            lows[place], highs[place] = one, two
            count += 1
    total, reached = 0.0, low
    for k in range(count):
        if lows[k] > reached:
            total += _between_angles(reached, lows[k], alpha1, beta1, alpha2, beta2, r1, r2, dx)
        reached = max(reached, highs[k])
    if high > reached:
        total += _between_angles(reached, high, alpha1, beta1, alpha2, beta2, r1, r2, dx)
    return total


@njit(cache=True, error_model="numpy")
def _hidden(x1: float, r1: float, x2: float, r2: float, first: Array, last: Array) -> tuple[float, float]:
    """Cosines of the angles between two circles at which a run hides one from the other, least and most; none where least > most.

    On the way a point at the share t stands off the axis by r² = (1-t)² r1² + t² r2² + 2 t (1-t) r1 r2 cos φ: each point of the
    run is met at one angle.
    """
    low, high = np.inf, -np.inf
    dx = x2 - x1
    if abs(dx) < _EPS * (r1 + r2):
        dx = _EPS * (r1 + r2)
    t0, t1 = (first[0] - x1) / dx, (last[0] - x1) / dx
    begin, stop = max(min(t0, t1), 1e-9), min(max(t0, t1), 1.0 - 1e-9)
    if begin > stop or r1 * r2 == 0.0:
        return low, high
    if abs(t1 - t0) < 1e-12:
        for radius in (first[1], last[1]):
            c = _cosine(begin, radius, r1, r2)
            low, high = min(low, c), max(high, c)
        return low, high
    slope = (last[1] - first[1]) / (t1 - t0)
    level = first[1] - slope * t0
    for t in (begin, stop):
        c = _cosine(t, level + slope * t, r1, r2)
        low, high = min(low, c), max(high, c)
    # Where the way touches the run: d cos φ / dt = 0, a quadratic in t.
    n0 = level**2 - r1**2
    n1, n2 = 2.0 * level * slope + 2.0 * r1**2, slope**2 - r1**2 - r2**2
    a, b, c = n1 + n2, 2.0 * n0, -n0
    root = b * b - 4.0 * a * c
    if root >= 0.0:
        for sign in (1.0, -1.0):
            q = -0.5 * (b + sign * np.sqrt(root))
            for t in (q / a if a != 0.0 else np.inf, c / q if q != 0.0 else np.inf):
                if begin < t < stop:
                    touched = _cosine(t, level + slope * t, r1, r2)
                    low, high = min(low, touched), max(high, touched)
    return low, high


@njit(cache=True, error_model="numpy", inline="always")
def _cosine(t: float, radius: float, r1: float, r2: float) -> float:
    return float((radius**2 - ((1.0 - t) * r1) ** 2 - (t * r2) ** 2) / (2.0 * t * (1.0 - t) * r1 * r2))


@njit(cache=True, error_model="numpy")
def _between_angles(
    low: float, high: float, alpha1: float, beta1: float, alpha2: float, beta2: float, r1: float, r2: float, dx: float
) -> float:
    """∫ (α1 + β1 c)(α2 + β2 c) / (A - B c)² dφ between two cosines, c = cos φ."""
    a, b = r1**2 + r2**2 + dx**2, 2.0 * r1 * r2
    begin, stop = np.arccos(min(high, 1.0)), np.arccos(max(low, -1.0))
    if b < _NEAR_AXIS * a:
        total = 0.0
        for g in range(_ROUND.size):
            c = np.cos(begin + 0.5 * (_ROUND[g] + 1.0) * (stop - begin))
            total += _ROUND_WEIGHTS[g] * (alpha1 + beta1 * c) * (alpha2 + beta2 * c) / (a - b * c) ** 2
        return float(0.5 * total * (stop - begin))
    # In u = A - B c: (α1 + β1 c)(α2 + β2 c) = k0 + k1 u + k2 u².
    g1, g2, m1, m2 = alpha1 + beta1 * a / b, alpha2 + beta2 * a / b, -beta1 / b, -beta2 / b
    k0, k1, k2 = g1 * g2, g1 * m2 + g2 * m1, m1 * m2
    once, twice = _inverse(stop, a, b), _inverse_squared(stop, a, b)
    once -= _inverse(begin, a, b)
    twice -= _inverse_squared(begin, a, b)
    return float(k0 * twice + k1 * once + k2 * (stop - begin))


@njit(cache=True, error_model="numpy", inline="always")
def _inverse(phi: float, a: float, b: float) -> float:
    """∫ dφ / (A - B cos φ) from 0."""
    if phi >= np.pi - 1e-14:
        return float(np.pi / np.sqrt(a * a - b * b))
    return float(2.0 / np.sqrt(a * a - b * b) * np.arctan(np.sqrt((a + b) / (a - b)) * np.tan(0.5 * phi)))


@njit(cache=True, error_model="numpy", inline="always")
def _inverse_squared(phi: float, a: float, b: float) -> float:
    """∫ dφ / (A - B cos φ)² from 0."""
    return float((b * np.sin(phi) / (a - b * np.cos(phi)) + a * _inverse(phi, a, b)) / (a * a - b * b))
