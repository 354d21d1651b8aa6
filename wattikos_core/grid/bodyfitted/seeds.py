"""Where the cells of a core stand: seeds along its boundary, their mirror images outside, and seeds inside.

A cell per boundary edge: around every boundary vertex lies a circle, and the seed of an edge is where the circles of its
two ends meet. All seeds next to a vertex then have the same distance from it, so that the lines between their cells end
at the vertex; with the mirror images outside, the boundary itself is a line between cells.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid.bodyfitted.sizes import SizeField

Array = NDArray[np.float64]
Index = NDArray[np.int64]

_CIRCLE = 0.707
_LEAST_OF_LONGER, _MOST_OF_SHORTER = 0.53, 0.85
_SHARED_BELOW = np.radians(105.0)
# Seeds inside keep this share of the local size away from those along the boundary.
_CLEARANCE = 0.72
_SPLIT, _TWO = 0.595, 0.841
_JITTER = 1e-3
_DEEPEST = 14
_FROM_EDGES = 0.3


@dataclass(frozen=True)
class Outline:
    """The boundary of a core: vertices (n, 2), the edge from each to the `following` one, the core on its left."""

    points: Array
    following: Index
    preceding: Index

    @property
    def length(self) -> Array:
        """Edge lengths."""
        return np.asarray(np.hypot(*(self.points[self.following] - self.points).T))


def outline_of_loops(loops: list[Array]) -> Outline:
    """The outline of loops of vertices."""
    following, offset = [], 0
    for loop in loops:
        following.append(offset + np.roll(np.arange(len(loop)), -1))
        offset += len(loop)
    after = np.concatenate(following)
    before = np.empty_like(after)
    before[after] = np.arange(after.size)
    return Outline(np.concatenate(loops), after, before)


@dataclass(frozen=True)
class BoundarySeeds:
    """Seeds along an outline, their mirror images, and the radius of each vertex's circle."""

    inside: Array
    mirrored: Array
    radius: Array


def boundary_seeds(outline: Outline) -> BoundarySeeds:
    """Seeds next to every edge of an outline."""
    from scipy.spatial import cKDTree

    p, after, before = outline.points, outline.following, outline.preceding
    length = outline.length
    behind = length[before]
    radius = np.clip(_CIRCLE * 0.5 * (length + behind), _LEAST_OF_LONGER * np.maximum(length, behind), None)
    radius = np.minimum(radius, _MOST_OF_SHORTER * np.minimum(length, behind))
    along = (p[after] - p) / length[:, None]
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1)
    turn = np.arctan2(along[before, 0] * along[:, 1] - along[before, 1] * along[:, 0], (along[before] * along).sum(axis=1))
    shared = (np.pi - turn) < _SHARED_BELOW
    for _ in range(4):
        corner = _corner_seeds(p, along, length, before, turn)
        # The circles of the corner's neighbours pass through its seed.
        for ends in (after[shared], before[shared]):
            radius[ends] = np.hypot(*(p[ends] - corner[shared]).T)
        seed = _edge_seeds(p, along, normal, length, radius, after)
        start_shared, end_shared = shared, shared[after]
        # The seed of an edge between two sharp corners lies in the middle of both.
        seed = np.where(start_shared[:, None], corner, seed)
        seed = np.where((end_shared & ~start_shared)[:, None], corner[after], seed)
        both = start_shared & end_shared
        seed[both] = 0.5 * (corner[both] + corner[after][both])
        # No foreign seed may stand inside a vertex's circle.
        distance, nearest = cKDTree(seed).query(p, k=3)
        own = (nearest == np.arange(len(p))[:, None]) | (nearest == before[:, None])
        foreign = np.where(own, np.inf, distance).min(axis=1)
        close = foreign < 0.999 * radius
        if not close.any():
            break
        radius = np.where(close, np.maximum(0.97 * foreign, 0.52 * np.minimum(length, behind)), radius)
    across = ((p - seed) * normal).sum(axis=1)
    mirrored = seed + 2.0 * across[:, None] * normal
    # Shared seeds appear once inside, with one image beyond each of their edges.
    return BoundarySeeds(np.unique(seed, axis=0), mirrored, radius)


def _edge_seeds(p: Array, along: Array, normal: Array, length: Array, radius: Array, after: Index) -> Array:
    """Where the circles of an edge's two ends meet on its left; in the middle where they do not."""
    r, q = radius, radius[after]
    t = (length**2 + r**2 - q**2) / (2.0 * length)
    square = r**2 - t**2
    meets = square > (0.15 * length) ** 2
    t = np.where(meets, t, 0.5 * length)
    height = np.sqrt(np.where(meets, square, (0.4 * length) ** 2))
    return np.asarray(p + t[:, None] * along + height[:, None] * normal)


def _corner_seeds(p: Array, along: Array, length: Array, before: Index, turn: Array) -> Array:
    """The seed both edges of a sharp corner share, on its bisector."""
    bisector = along - along[before]
    bisector = bisector / np.maximum(np.hypot(*bisector.T), 1e-300)[:, None]
    half = 0.5 * (np.pi - turn)
    # Half an edge along both edges; in a sharp corner that is too near to the corner of the next cells.
    shorter = np.minimum(length, length[before])
    d = np.maximum(shorter * np.cos(half), 0.5 * shorter)
    return np.asarray(p + d[:, None] * bisector)


def inner_seeds(core: Any, size: SizeField, boundary: BoundarySeeds, outline: Outline, number: int = 0) -> Array:
    """Seeds of the interior: centres of quadtree leaves as large as the size field asks for.

    Args:
        core: the core as a prepared shapely polygon.
        size: wanted sizes of cells.
        boundary: seeds along it.
        outline: the boundary with its edges.
        number: of the attempt; another one places them a little differently.
    """
    import shapely
    from scipy.spatial import cKDTree

    low_x, low_y, high_x, high_y = core.bounds
    random = np.random.default_rng(7 + number)
    side = size.base
    columns, rows = (max(int(np.ceil((b - a) / side)), 1) for a, b in ((low_x, high_x), (low_y, high_y)))
    x, y = np.meshgrid(np.arange(columns), np.arange(rows))
    shift = 0.5 * side * np.array([columns - (high_x - low_x) / side, rows - (high_y - low_y) / side])
    centre = np.stack([x.ravel(), y.ravel()], axis=1) * side + 0.5 * side + np.array([low_x, low_y]) - shift
    found: list[Array] = []
    border = cKDTree(outline.points)
    longer = np.maximum(outline.length, outline.length[outline.preceding])

    def wanted_at(at: Array) -> Array:
        """Sizes that also grow slowly from the edges of the core, which layers on a hollow wall have made shorter."""
        distance, vertex = border.query(at)
        return np.asarray(np.minimum(size.at(at), longer[vertex] + _FROM_EDGES * distance))

    for _ in range(_DEEPEST):
        if not len(centre):
            break
        wanted = wanted_at(centre)
        split = wanted < _SPLIT * side
        two = ~split & (wanted < _TWO * side)
        one = ~split & ~two
        quarter = 0.25 * side
        diagonal = np.array([quarter, quarter])
        found += [centre[one], centre[two] + diagonal, centre[two] - diagonal]
        quarters = np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * quarter
        centre = (centre[split][:, None] + quarters).reshape(-1, 2)
        side *= 0.5
        near = (centre > np.array([low_x, low_y]) - side) & (centre < np.array([high_x, high_y]) + side)
        centre = centre[near.all(axis=1)]
    points = np.concatenate(found)
    points = points[shapely.contains_xy(core, points[:, 0], points[:, 1])]
    if not len(points):
        return np.zeros((0, 2))
    own = wanted_at(points)
    points = points + random.uniform(-_JITTER, _JITTER, points.shape) * own[:, None]
    distance, _ = cKDTree(boundary.inside).query(points)
    clear = distance > _CLEARANCE * own
    near, vertex = border.query(points)
    clear &= near > 1.1 * boundary.radius[vertex]
    return np.asarray(points[clear])
