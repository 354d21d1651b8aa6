"""How much finer cells are to be at places than shape alone makes them: what is learnt from solutions.

A density scales a grid of any fineness, so that grids of one density and several finenesses are refinements of each other.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.spatial import cKDTree

from wattikos_core.grid.grid import Array, Grid
from wattikos_core.grid.places import Place
from wattikos_core.section import PaintedSection

_NEAREST = 4
# Sweeps over neighbours by which factors go over into each other from place to place, at least so many cells wide.
_SWEEPS = 3
# Between two stretches of lines the factor goes over within this share of each.
_GOING_OVER = 0.1
# Within a place cells become so many times as fine or coarse, at the most.
_MOST_WITHIN = 3.0
# Towards corners: up to this share of a stretch (or of the section's size) away, by this power of the distance, within limits.
# Lines are paid for all through the section, and draw together more slowly.
_REACH, _GRADING, _GRADING_OF_LINES = 0.25, 1.0 / 3.0, 1.0 / 4.0
_LEAST_GRADED, _MOST_GRADED = 0.7, 4.0
_SAMPLES = 200


@dataclass(frozen=True)
class Density:
    """Factors on the fineness.

    Attributes:
        points: shape (n, 2), m; `finer` shape (n,): how many times as fine cells of any shape are to be there.
        along: for grids of lines instead, by axis: positions, m, and by how much lines are to be closer there.
    """

    points: Array
    finer: Array
    along: tuple[tuple[Array, Array], tuple[Array, Array]]

    def at(self, points: Array) -> Array:
        """Factors at points, shape (n, 2): between the nearest known ones, weighted by the inverse square of their distance."""
        if not len(self.points):
            return np.ones(len(points))
        distance, nearest = self._tree.query(points, k=min(_NEAREST, len(self.points)))
        near = np.reshape(nearest, (len(points), -1))
        weight = 1.0 / np.maximum(np.reshape(distance, near.shape), 1e-12) ** 2
        return np.asarray((weight * self.finer[near]).sum(axis=1) / weight.sum(axis=1))

    @cached_property
    def _tree(self) -> cKDTree:
        # A gridder asks for sizes many times.
        return cKDTree(self.points)

    def along_axis(self, axis: int, positions: Array) -> Array:
        """Factors at positions along an axis (0: x, 1: y)."""
        known, finer = self.along[axis]
        return np.interp(positions, known, finer) if known.size else np.ones(positions.shape)


@dataclass(frozen=True)
class Family:
    """What a grid has in common with the grids that it is compared with.

    Attributes:
        coarser: by how much it is to be coarser than the one a user asked for, which has at least some cells in every layer: the
            same share of them is enough here, so that every layer is refined from grid to grid.
        density: where cells are to be finer than shape and wishes make them.
    """

    coarser: float = 1.0
    density: Density | None = None


ALONE = Family()


def density_of(grid: Grid, places: Sequence[Place], factors: Sequence[float], bending: Array | None = None) -> Density:
    """The density that makes places of a grid as many times as fine as their factors say, going over smoothly between them.

    Args:
        grid: the grid that the places are of.
        places: that cover it.
        factors: one for each place.
        bending: shape (n_cells, 2); how much a solution bends along both axes: cells are shared out within each place by it.
    """
    none = np.zeros(0)
    if places[0].axis is None:
        finer = np.zeros(grid.n_cells)
        for place, factor in zip(places, factors, strict=True):
            finer[place.cells] = np.log(factor)
        if bending is not None:
            shares = _side(grid) * bending.max(axis=1) ** 0.25
            for place in places:
                finer[place.cells] += np.log(_shared(shares[place.cells], 2.0))
        return Density(grid.centre.copy(), np.exp(_smoothed(grid, finer)), ((none, none), (none, none)))
    along = []
    for axis in (0, 1):
        known: list[tuple[float, float]] = []
        for place, factor in zip(places, factors, strict=True):
            for low, high in place.stretches if place.axis == axis else ():
                known += _stretch(low, high, factor) if bending is None else _by_lines(grid, axis, low, high, factor, bending)
        table = np.array(sorted(known)).reshape(-1, 2)
        along.append((table[:, 0].copy(), table[:, 1].copy()))
    return Density(np.zeros((0, 2)), none, (along[0], along[1]))


def _stretch(low: float, high: float, factor: float) -> list[tuple[float, float]]:
    inset = _GOING_OVER * (high - low)
    return [(low + inset, factor), (high - inset, factor)]


def _by_lines(grid: Grid, axis: int, low: float, high: float, factor: float, bending: Array) -> list[tuple[float, float]]:
    """Factors at the rows of cells within a stretch."""
    position, row = np.unique(np.round(grid.centre[:, axis], 12), return_inverse=True)
    inside = np.nonzero((position > low) & (position < high))[0]
    if not inside.size:
        return _stretch(low, high, factor)
    area = _side(grid) ** 2
    total = np.bincount(row, weights=area * bending[:, axis])
    lines = np.unique(grid.nodes[:, axis])
    width = np.diff(lines)[np.searchsorted(lines, position) - 1]
    # Bending per length across the lines, along all of them.
    shares = (width * np.cbrt(total / width))[inside]
    return list(zip(position[inside].tolist(), (factor * _shared(shares, 1.0)).tolist(), strict=True))


def _shared(shares: Array, power: float) -> Array:
    """Factors in the ratio of shares, within limits, that leave the number of cells as it is."""
    if not shares.any():
        return np.ones(shares.size)
    factors = np.asarray(shares, dtype=float)
    for _ in range(10):
        factors = np.clip(factors / np.mean(factors**power) ** (1.0 / power), 1.0 / _MOST_WITHIN, _MOST_WITHIN)
    return factors


def _side(grid: Grid) -> Array:
    """Side of the square with a cell's area in the section, m."""
    return np.sqrt(grid.volume / (2.0 * np.pi * grid.centre[:, 1] if grid.axisymmetric else grid.depth))


def _smoothed(grid: Grid, values: Array) -> Array:
    """Values in cells, mixed with the mean of their neighbours a few times."""
    n = grid.n_internal
    a, b = grid.owner[:n], grid.neighbour[:n]
    ones: NDArray[np.float64] = np.ones(2 * n)
    beside = coo_array((ones, (np.concatenate([a, b]), np.concatenate([b, a]))), shape=(grid.n_cells, grid.n_cells)).tocsr()
    count = np.maximum(beside @ np.ones(grid.n_cells), 1.0)
    for _ in range(_SWEEPS):
        values = 0.5 * values + 0.5 * (beside @ values) / count
    return np.asarray(values)


def graded_to_corners(density: Density, section: PaintedSection, grid: Grid) -> Density:
    """A density with cells that become smaller towards corners: re-entrant ones, and where conditions change.

    There a solution goes as a broken power of the distance, and even cells lose their order; cells that shrink with a power of
    the distance restore it (graded meshes: Babuška et al. 1979, Numer. Math. 33, 447; the power from our own trials). Grids of
    lines are graded towards all edges of parts.
    """
    if section.tensor is not None:
        return Density(
            density.points, density.finer, (_to_edges(density, 0, section.tensor.x), _to_edges(density, 1, section.tensor.y))
        )
    corners = _corners(grid)
    if not len(corners):
        return density
    distance = cKDTree(corners).query(density.points)[0]
    reach = _REACH * float(np.sqrt(np.sum(_side(grid) ** 2)))
    shape = _towards(distance / reach, _GRADING)
    return Density(density.points, density.finer * shape / np.sqrt(np.mean(shape**2)), density.along)


def _to_edges(density: Density, axis: int, edges: Array) -> tuple[Array, Array]:
    share = (np.arange(_SAMPLES) + 0.5) / _SAMPLES
    shape = _towards(np.minimum(share, 1.0 - share) / _REACH, _GRADING_OF_LINES)
    positions = np.concatenate([low + (high - low) * share for low, high in pairwise(edges.tolist())])
    return positions, density.along_axis(axis, positions) * np.tile(shape / shape.mean(), edges.size - 1)


def _towards(distance: Array, power: float) -> Array:
    """How many times as fine cells become at a distance, as a share of that up to which they do."""
    return np.asarray(np.clip(np.maximum(distance, 1e-9) ** -power, _LEAST_GRADED, _MOST_GRADED))


def _corners(grid: Grid) -> Array:
    """Places where named surfaces meet, shape (n, 2)."""
    owner = np.full(len(grid.nodes), -1)
    shared = np.zeros(len(grid.nodes), dtype=bool)
    for i, faces in enumerate(grid.groups.values()):
        nodes = np.unique(grid.edges[faces])
        shared[nodes] |= owner[nodes] >= 0
        owner[nodes] = i
    return grid.nodes[shared]
