"""One solution beside another: a field of one carried onto the grid of the other, so that they can be subtracted."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from wattikos_core.grid import Grid
from wattikos_core.physics.faces import Array, Index
from wattikos_core.read.instant import Instant

# Cells that the other section covers by less than this share have no difference.
_COVERED = 0.5
# Grids of more cells are too many polygons to be laid over each other while somebody waits.
MOST_OVERLAID = 60_000


@dataclass(frozen=True)
class Overlap:
    """Which cells of a source lie in which cells of a target.

    Attributes:
        target, source: cells of each pair.
        area: that both have in common, m2, and its middle, shape (n, 2).
        covered: share of each cell of the target that the source covers.
    """

    target: Index
    source: Index
    area: Array
    middle: Array
    covered: Array


def same_grid(one: Grid, other: Grid) -> bool:
    """Whether both have the same cells."""
    return (
        one.n_cells == other.n_cells
        and one.nodes.shape == other.nodes.shape
        and np.array_equal(one.cell_nodes, other.cell_nodes)
        and np.allclose(one.nodes, other.nodes, rtol=0.0, atol=1e-12 * float(np.abs(one.nodes).max()))
    )


def overlap_of(target: Grid, source: Grid) -> Overlap:
    """The overlap of two grids, by parts of one name where both have them."""
    polygons, others = _polygons(target), _polygons(source)
    tree = shapely.STRtree(others)
    first, second = tree.query(polygons, predicate="intersects")
    names = {name: index for index, name in enumerate(source.region_names)}
    counterpart = np.array([names.get(name, -1) for name in target.region_names])[target.region[first]]
    kept = (counterpart < 0) | (counterpart == source.region[second])
    first, second = first[kept], second[kept]
    both = shapely.intersection(polygons[first], others[second])
    area = shapely.area(both)
    there = area > 0.0
    first, second, both, area = first[there], second[there], both[there], area[there]
    middle = shapely.get_coordinates(shapely.centroid(both))
    covered = np.bincount(first, weights=area, minlength=target.n_cells) / shapely.area(polygons)
    return Overlap(first, second, area, middle, covered)


def carried(source: Instant, name: str, overlap: Overlap, n_cells: int) -> Array:
    """A field on the cells of a target, shape (n_cells,): the mean of what lies in each, so that nothing is lost or gained.

    Within its cells the field is linear; NaN where less than half of a cell is covered.

    Args:
        source: whose field it is.
        name: of the field.
        overlap: of the target's grid with that of the source.
        n_cells: of the target.
    """
    values, cells = source.fields[name], overlap.source
    slope = source.between.slopes(cells, source.corners(name))
    slope[~np.isfinite(slope)] = 0.0
    there = values[cells] + np.einsum("ij,ij->i", slope, overlap.middle - source.grid.centre[cells])
    known = np.isfinite(there)
    weight = np.where(known, overlap.area, 0.0)
    total = np.bincount(overlap.target, weights=weight, minlength=n_cells)
    whole = np.bincount(overlap.target, weights=overlap.area, minlength=n_cells)
    summed = np.bincount(overlap.target, weights=weight * np.where(known, there, 0.0), minlength=n_cells)
    with np.errstate(divide="ignore", invalid="ignore"):
        enough = (overlap.covered >= _COVERED) & (total >= _COVERED * whole) & (total > 0.0)
        return np.where(enough, summed / total, np.nan)


def difference(one: Instant, other: Instant, name: str, overlap: Overlap | None = None) -> Array:
    """A field of one solution minus that of another, on the grid of the first, SI, shape (n_cells,); NaN where either has none.

    Between very large grids the other is taken at the centres of cells, which is as exact but does not keep integrals.

    Args:
        one: what is subtracted from.
        other: what is subtracted.
        name: of the field.
        overlap: of their grids, when it is known.
    """
    if same_grid(one.grid, other.grid):
        return np.asarray(one.fields[name] - other.fields[name])
    if overlap is None and max(one.grid.n_cells, other.grid.n_cells) > MOST_OVERLAID:
        centres = one.grid.centre
        return np.asarray(one.fields[name] - other.at(centres, other.between.locate(centres), name))
    overlap = overlap or overlap_of(one.grid, other.grid)
    return np.asarray(one.fields[name] - carried(other, name, overlap, one.grid.n_cells))


def _polygons(grid: Grid) -> np.ndarray:
    """The cells as polygons."""
    sizes = np.diff(grid.cell_start)
    # Rings are closed: the first node comes again at the end.
    ring = np.repeat(np.arange(grid.n_cells), sizes + 1)
    order = np.insert(grid.cell_nodes, grid.cell_start[1:], grid.cell_nodes[grid.cell_start[:-1]])
    return np.asarray(shapely.polygons(shapely.linearrings(grid.nodes[order], indices=ring)))
