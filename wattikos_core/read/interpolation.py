"""Fields between the middles of cells: piecewise linear and continuous within each part.

Every cell is cut into triangles from its centre to its edges. Values at corners follow from the cells of one part around them by
linear least squares, or from the surfaces that meet there, so that a field ends at a wall with the wall's own value and may jump
from part to part. Linear fields are met exactly on any polygons.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.sparse import csr_array, hstack, vstack

from wattikos_core.grid import Grid
from wattikos_core.physics.faces import Array, Index
from wattikos_core.read.surface_fields import surface_faces

# Fields that have values on surfaces by the name they have there.
_ON_SURFACES = ("temperature", "velocity x", "velocity y")
# Added to the squares of a fit, as a share of them, for points that lie in one line.
_LEAST_SQUARE = 1e-11
# Cells that a corner value is fitted to at the least.
_ENOUGH = 4
# Surfaces go straight on where their normals do by this share.
_STRAIGHT = 0.9
_SLACK = 1e-9


@dataclass(frozen=True)
class Interpolant:
    """Where points lie in a grid, and what fields are there.

    Attributes:
        vertex: shape (n_cell_nodes,), the number of the corner value of every corner of every cell; parts that share a node have
            each their own.
        from_cells: corner values from cell values, shape (n_vertices, n_cells).
        from_surfaces, beside: corner values from both sides' surface values and from cell values where surfaces say nothing,
            shapes (n_vertices, 2 n_surface_faces) and (n_vertices, n_cells).
        bins: cells near each place (see `_bins`).
    """

    grid: Grid
    vertex: Index
    from_cells: csr_array
    from_surfaces: csr_array
    beside: csr_array
    bins: Bins

    def locate(self, points: Array) -> Index:
        """The cell around each of the points (n, 2); -1 outside the section."""
        return np.asarray(_locate_all(*self.geometry, np.ascontiguousarray(points, dtype=float)))

    @cached_property
    def edge_boxes(self) -> tuple[Array, Array]:
        """The lower and upper corners of the boxes around all edges, shape (n_faces, 2) each, m."""
        ends = self.grid.nodes[self.grid.edges]
        return ends.min(axis=1), ends.max(axis=1)

    @property
    def geometry(self) -> tuple[Array, Array, Index, Index, Bins]:
        """What kernels need to find a cell."""
        grid = self.grid
        return grid.nodes, grid.centre, grid.cell_start, grid.cell_nodes, self.bins

    def corners(self, name: str, values: Array, surfaces: Mapping[str, Array] | None = None) -> Array:
        """Values at the corners of all cells, shape (n_cell_nodes,); NaN where the field has none.

        Args:
            name: of the field.
            values: in cells, SI, shape (n_cells,).
            surfaces: fields of surfaces, see `surface_fields`.
        """
        known = np.isfinite(values)
        filled = np.where(known, values, 0.0)
        if surfaces and name in _ON_SURFACES and name in surfaces:
            near = surfaces[name]
            beyond = surfaces.get(f"{name} beyond", near)
            at = self.from_surfaces @ np.concatenate([near, beyond]) + self.beside @ filled
        else:
            at = self.from_cells @ filled
        corners = np.asarray(at)[self.vertex]
        corners[~np.repeat(known, np.diff(self.grid.cell_start))] = np.nan
        return np.asarray(corners)

    def slopes(self, cells: Index, corners: Array) -> Array:
        """Gradients in some cells from corner values, shape (n, 2); by Gauss's theorem, exact for linear fields."""
        grid = self.grid
        return np.asarray(_slopes(grid.nodes, grid.cell_start, grid.cell_nodes, cells, corners))

    def sample(self, points: Array, cells: Index, values: Array, corners: Array) -> Array:
        """A field at points (n, 2) that lie in `cells` (-1: NaN), from its cell and corner values."""
        return np.asarray(_sample_all(*self.geometry[:4], np.ascontiguousarray(points, dtype=float), cells, values, corners))


def interpolant_of(grid: Grid) -> Interpolant:
    """The interpolant of a plane grid.

    Example:
        >>> import numpy as np
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.grid import grid_section
        >>> from wattikos_core.section import paint
        >>> resolved = resolve(starter_case("plate_sink"))
        >>> grid = grid_section(resolved, paint(resolved), 0.5)
        >>> between = interpolant_of(grid)
        >>> values = 300.0 + 50.0 * grid.centre[:, 0]
        >>> points = grid.centre[:3] + 1e-4
        >>> found = between.sample(points, between.locate(points), values, between.corners("heat flux", values))
        >>> bool(np.allclose(found, 300.0 + 50.0 * points[:, 0]))
        True
    """
    sizes = np.diff(grid.cell_start)
    cell_of_corner = np.repeat(np.arange(grid.n_cells), sizes)
    label = grid.cell_nodes * len(grid.region_names) + grid.region[cell_of_corner]
    labels, first, vertex = np.unique(label, return_index=True, return_inverse=True)
    places = grid.nodes[grid.cell_nodes[first]]
    n = labels.size
    cells_around = csr_array((np.ones(vertex.size), (vertex, cell_of_corner)), shape=(n, grid.n_cells))
    few = np.diff(cells_around.indptr) < _ENOUGH
    # Where few cells meet, those that share a corner with them count too.
    near = vstack([cells_around[few] @ (cells_around.T @ cells_around), cells_around[~few]], format="csr")
    near = near[np.argsort(np.concatenate([np.nonzero(few)[0], np.nonzero(~few)[0]]))]
    from_cells = _fitted(places, near, grid.centre)
    row, column, sides = _surfaces_around(grid, labels)
    told, straight = _along_surfaces(grid, places, row, sides[column], n)
    touching = csr_array((np.ones(row.size), (row, column)), shape=(n, sides.size))
    # Where surfaces meet at an angle, both and the cells beside them count.
    fitted = _fitted(places, hstack([near, touching], format="csr"), np.concatenate([grid.centre, grid.face_centre[sides]]))
    fitted.data[np.repeat(straight, np.diff(fitted.indptr))] = 0.0
    beside, by_sides = fitted[:, : grid.n_cells], fitted[:, grid.n_cells :]
    averaged = csr_array((told, (row, column)), shape=(n, sides.size))
    return Interpolant(grid, vertex, from_cells, csr_array(by_sides + averaged), csr_array(beside), _bins(grid))


def _surfaces_around(grid: Grid, labels: Index) -> tuple[Index, Index, Index]:
    """Corner values and the sides of surfaces that touch them, as pairs of numbers; and the face of each side.

    Every surface has two sides, each with its own part; the outside has none.
    """
    kept = surface_faces(grid)
    sides = np.concatenate([kept, kept])
    cells = np.concatenate([grid.owner[kept], grid.neighbour[kept]])
    there = np.nonzero(cells >= 0)[0]
    ends = grid.edges[sides[there]]
    wanted = ends * len(grid.region_names) + grid.region[cells[there]][:, None]
    return np.searchsorted(labels, wanted).ravel(), np.repeat(there, 2), sides


def _along_surfaces(grid: Grid, places: Array, row: Index, faces: Index, n: int) -> tuple[Array, NDArray[np.bool_]]:
    """Weights of the surfaces around corners by their distance, and whether these go straight on there; zero where they do not."""
    way = np.abs(grid.area[faces] / np.maximum(np.hypot(*grid.area[faces].T), 1e-300)[:, None])
    count = np.bincount(row, minlength=n)
    mean = np.stack([np.bincount(row, weights=way[:, axis], minlength=n) for axis in (0, 1)], axis=1)
    straight = (count >= 2) & (np.hypot(*mean.T) > _STRAIGHT * np.maximum(count, 1))
    weight = 1.0 / np.maximum(np.hypot(*(grid.face_centre[faces] - places[row]).T), 1e-300)
    total = np.bincount(row, weights=weight, minlength=n)
    return np.where(straight[row], weight / total[row], 0.0), straight


def _fitted(places: Array, near: csr_array, points: Array) -> csr_array:
    """Values at places from those at the points near each of them (a pattern) by linear least squares."""
    start, columns = near.indptr, near.indices
    counts = np.diff(start)
    data = np.zeros(columns.size)
    for count in np.unique(counts[counts > 0]):
        these = np.nonzero(counts == count)[0]
        slots = start[these][:, None] + np.arange(count)
        offset = points[columns[slots]] - places[these][:, None, :]
        # Thin cells are measured by their own sizes, each way.
        offset = offset / np.maximum(np.abs(offset).max(axis=1, keepdims=True), 1e-300)
        weight = 1.0 / np.maximum(np.hypot(offset[..., 0], offset[..., 1]), 1e-6)
        system = np.concatenate([np.ones((*offset.shape[:2], 1)), offset], axis=2)
        weighted = system * weight[..., None] ** 2
        normal = np.einsum("nki,nkj->nij", system, weighted)
        normal += _LEAST_SQUARE * np.einsum("nii->n", normal)[:, None, None] * np.eye(3)
        first = np.linalg.solve(normal, np.broadcast_to(np.eye(3)[:, :1], (these.size, 3, 1)))
        fit = np.einsum("nki,ni->nk", weighted, first[..., 0])
        data[slots] = fit / fit.sum(axis=1, keepdims=True)
    return csr_array((data, columns, start), shape=near.shape)


# First bin and numbers along x and y, bin sizes; then cells by bin.
Bins = tuple[Array, Array, Index, Index, Index]


def _bins(grid: Grid) -> Bins:
    """Cells by the bins of a regular raster that their boxes touch: (low, size, counts, start, cells)."""
    low, high = grid.nodes.min(axis=0), grid.nodes.max(axis=0)
    counts = np.full(2, int(np.clip(np.sqrt(2.0 * grid.n_cells), 4, 1000)), dtype=np.int64)
    size = np.maximum(high - low, 1e-300) / counts
    corners = grid.nodes[grid.cell_nodes]
    first = np.floor((np.minimum.reduceat(corners, grid.cell_start[:-1]) - low) / size - _SLACK).astype(np.int64)
    last = np.floor((np.maximum.reduceat(corners, grid.cell_start[:-1]) - low) / size + _SLACK).astype(np.int64)
    start, cells = _fill_bins(np.clip(first, 0, counts - 1), np.clip(last, 0, counts - 1), counts)
    return low, size, counts, start, cells


@njit(cache=True, nogil=True)
def _fill_bins(first: Index, last: Index, counts: Index) -> tuple[Index, Index]:
    start = np.zeros(counts[0] * counts[1] + 1, dtype=np.int64)
    for cell in range(len(first)):
        for i in range(first[cell, 0], last[cell, 0] + 1):
            for j in range(first[cell, 1], last[cell, 1] + 1):
                start[i * counts[1] + j + 1] += 1
    for k in range(1, start.size):
        start[k] += start[k - 1]
    cells = np.empty(start[-1], dtype=np.int64)
    filled = start[:-1].copy()
    for cell in range(len(first)):
        for i in range(first[cell, 0], last[cell, 0] + 1):
            for j in range(first[cell, 1], last[cell, 1] + 1):
                cells[filled[i * counts[1] + j]] = cell
                filled[i * counts[1] + j] += 1
    return start, cells


@njit(cache=True, nogil=True, error_model="numpy")
def triangle_at(
    nodes: Array, centre: Array, cell_start: Index, cell_nodes: Index, cell: int, x: float, y: float
) -> tuple[int, float, float]:
    """The triangle of a cell that a point lies in: its first corner, and the weights of both corners; -1 outside the cell.

    The third weight, what is missing to one, is that of the cell's centre.
    """
    first, last = cell_start[cell], cell_start[cell + 1]
    cx, cy = centre[cell, 0], centre[cell, 1]
    best, best_p, best_q, least = -1, 0.0, 0.0, -_SLACK
    for k in range(first, last):
        a, b = cell_nodes[k], cell_nodes[k + 1 if k + 1 < last else first]
        ax, ay, bx, by = nodes[a, 0] - cx, nodes[a, 1] - cy, nodes[b, 0] - cx, nodes[b, 1] - cy
        area = ax * by - ay * bx
        if area == 0.0:
            continue
        p = ((x - cx) * by - (y - cy) * bx) / area
        q = (ax * (y - cy) - ay * (x - cx)) / area
        inside = min(p, q, 1.0 - p - q)
        if inside >= least:
            best, best_p, best_q, least = k, p, q, max(inside, -_SLACK)
            if inside >= 0.0:
                break
    return best, best_p, best_q


@njit(cache=True, nogil=True, error_model="numpy")
def locate(nodes: Array, centre: Array, cell_start: Index, cell_nodes: Index, bins: Bins, x: float, y: float, guess: int) -> int:
    """The cell around a point, looked for in `guess` first; -1 outside."""
    if guess >= 0 and triangle_at(nodes, centre, cell_start, cell_nodes, guess, x, y)[0] >= 0:
        return guess
    low, size, counts, start, cells = bins
    i, j = np.floor((x - low[0]) / size[0] - _SLACK), np.floor((y - low[1]) / size[1] - _SLACK)
    if not (i >= -1 and j >= -1 and i <= counts[0] and j <= counts[1]):
        return -1
    column, row = min(max(int(i), 0), counts[0] - 1), min(max(int(j), 0), counts[1] - 1)
    at = column * counts[1] + row
    for k in range(start[at], start[at + 1]):
        if triangle_at(nodes, centre, cell_start, cell_nodes, cells[k], x, y)[0] >= 0:
            return int(cells[k])
    return -1


@njit(cache=True, nogil=True)
def _locate_all(nodes: Array, centre: Array, cell_start: Index, cell_nodes: Index, bins: Bins, points: Array) -> Index:
    found = np.empty(len(points), dtype=np.int64)
    last = -1
    for n in range(len(points)):
        last = locate(nodes, centre, cell_start, cell_nodes, bins, points[n, 0], points[n, 1], last)
        found[n] = last
    return found


@njit(cache=True, nogil=True, error_model="numpy")
def _sample_all(
    nodes: Array,
    centre: Array,
    cell_start: Index,
    cell_nodes: Index,
    points: Array,
    cells: Index,
    values: Array,
    corners: Array,
) -> Array:
    found = np.full(len(points), np.nan)
    for n in range(len(points)):
        cell = cells[n]
        if cell < 0:
            continue
        k, p, q = triangle_at(nodes, centre, cell_start, cell_nodes, cell, points[n, 0], points[n, 1])
        if k < 0:
            found[n] = values[cell]
            continue
        following = k + 1 if k + 1 < cell_start[cell + 1] else cell_start[cell]
        found[n] = p * corners[k] + q * corners[following] + (1.0 - p - q) * values[cell]
    return found


@njit(cache=True, nogil=True, error_model="numpy")
def _slopes(nodes: Array, cell_start: Index, cell_nodes: Index, cells: Index, corners: Array) -> Array:
    found = np.full((len(cells), 2), np.nan)
    for n in range(len(cells)):
        if cells[n] < 0:
            continue
        first, last = cell_start[cells[n]], cell_start[cells[n] + 1]
        ox, oy = nodes[cell_nodes[first], 0], nodes[cell_nodes[first], 1]
        area = gx = gy = 0.0
        for k in range(first, last):
            j = k + 1 if k + 1 < last else first
            ax, ay = nodes[cell_nodes[k], 0] - ox, nodes[cell_nodes[k], 1] - oy
            bx, by = nodes[cell_nodes[j], 0] - ox, nodes[cell_nodes[j], 1] - oy
            area += 0.5 * (ax * by - ay * bx)
            mean = 0.5 * (corners[k] + corners[j])
            gx += mean * (by - ay)
            gy -= mean * (bx - ax)
        found[n, 0], found[n, 1] = gx / area, gy / area
    return found
