"""Gaps: how far it is from every place of every edge to what stands opposite, across each region."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from wattikos_core.section import Chain, PaintedSection

Array = NDArray[np.float64]
Index = NDArray[np.int64]

# A gap counts when what stands opposite faces back, and is seen under a wide angle from between.
_FACING = -0.5
_WIDE = np.cos(np.radians(115.0))
# Where two edges run into each other, a gap counts as no less than this share of the shorter one.
_OF_WEDGE = 1.0 / 3.0


def gaps_of(section: PaintedSection, samples: list[tuple[Array, Array, Array]]) -> list[tuple[Array, Array]]:
    """The gaps on the left and on the right of every chain at its samples."""
    import shapely

    simple = [shapely.simplify(shapely.linestrings(c.points), 2e-4 * np.ptp(c.points, axis=0).max()) for c in section.chains]
    coarse = [np.asarray(shapely.get_coordinates(line)) for line in simple]
    found = [(np.full(s.size, np.inf), np.full(s.size, np.inf)) for _, s, _ in samples]
    for region in range(len(section.names)):
        mine = [i for i, chain in enumerate(section.chains) if region in (chain.left, chain.right)]
        pieces, normals, owners = [], [], []
        for i in mine:
            a, b = coarse[i][:-1], coarse[i][1:]
            along = (b - a) / np.maximum(np.hypot(*(b - a).T), 1e-300)[:, None]
            inward = np.stack([-along[:, 1], along[:, 0]], axis=1)
            pieces.append(np.hstack([a, b]))
            normals.append(inward if section.chains[i].left == region else -inward)
            owners.append(np.full(len(a), i))
        segments, facing, owner = np.concatenate(pieces), np.concatenate(normals), np.concatenate(owners)
        farthest = float(np.hypot(*np.ptp(segments.reshape(-1, 2), axis=0)))
        for i in mine:
            points, _, normal = samples[i]
            left = section.chains[i].left == region
            gap, contact = _gap_kernel(points, normal if left else -normal, segments, facing, farthest, _FACING, _WIDE)
            # Where two edges run into each other the gap ends in nothing: there their lengths set a limit.
            wedge = [j for j in mine if j != i and _meet(section.chains[i], section.chains[j])]
            least = np.array([min(section.chains[i].length, section.chains[j].length) for j in wedge]) * _OF_WEDGE
            for j, floor in zip(wedge, least, strict=True):
                met = (contact >= 0) & (owner[contact] == j)
                gap[met] = np.maximum(gap[met], floor)
            found[i][0 if left else 1][:] = gap
    return found


def _meet(one: Chain, other: Chain) -> bool:
    """Whether two chains have an end in common."""
    return any(np.array_equal(one.points[a], other.points[b]) for a in (0, -1) for b in (0, -1))


@njit(cache=True)
def _gap_kernel(
    points: Array, normal: Array, segments: Array, facing: Array, farthest: float, least: float, wide: float
) -> tuple[Array, Index]:
    """Diameters of the largest balls that touch each point from inside, by shrinking them until nothing is in them.

    Infinite where the ball's other contact does not face back or is seen under a narrow angle (a corner, no gap).

    Returns:
        the diameters, and the segment that each ball touches, -1 for none.
    """
    n, m = len(points), len(segments)
    result = np.full(n, np.inf)
    contact = np.full(n, -1)
    for i in range(n):
        px, py = points[i]
        nx, ny = normal[i]
        r = 0.5 * farthest
        other, qx, qy = -1, 0.0, 0.0
        for _ in range(30):
            cx, cy = px + r * nx, py + r * ny
            best, hit, hx, hy = r * r * (1.0 - 1e-6), -1, 0.0, 0.0
            for j in range(m):
                ax, ay, bx, by = segments[j]
                ex, ey = bx - ax, by - ay
                t = ((cx - ax) * ex + (cy - ay) * ey) / max(ex * ex + ey * ey, 1e-300)
                t = min(max(t, 0.0), 1.0)
                x, y = ax + t * ex, ay + t * ey
                d = (x - cx) ** 2 + (y - cy) ** 2
                # What lies in the tangent plane of the point itself is the point's own edge.
                if d < best and (x - px) * nx + (y - py) * ny > 1e-3 * np.sqrt((x - px) ** 2 + (y - py) ** 2) + 1e-9 * farthest:
                    best, hit, hx, hy = d, j, x, y
            if hit < 0:
                break
            other, qx, qy = hit, hx, hy
            dx, dy = hx - px, hy - py
            r = (dx * dx + dy * dy) / (2.0 * (dx * nx + dy * ny))
        if other < 0:
            continue
        cx, cy = px + r * nx, py + r * ny
        cosine = ((px - cx) * (qx - cx) + (py - cy) * (qy - cy)) / (r * r)
        if nx * facing[other, 0] + ny * facing[other, 1] < least and cosine < wide:
            result[i] = 2.0 * r
            contact[i] = other
    return result, contact
