"""The layout of the compact Jacobian: where every unknown stands, the sparsity of the matrix, and what is two cells away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from wattikos_core.physics.faces import FLOW, OUTLET, Array, Faces, FlowWeights, Index
from wattikos_core.physics.problem import Problem
from wattikos_core.physics.terms import Blocks


@dataclass(frozen=True)
class WidePressure:
    """Derivatives of the mass that leaves cells by pressures two cells away, through the mean gradient of momentum interpolation.

    Attributes:
        row, column: cells, shape (n,).
        face: whose conductance each entry is a multiple of; `weight` the multiple, 1/m.
    """

    row: Index
    column: Index
    face: Index
    weight: Array


def wide_pressure(faces: Faces, weights: FlowWeights, n_cells: int) -> WidePressure:
    """The mean pressure gradient along the normal of every face that flow passes, by the pressures it is made of."""
    from scipy.sparse import csr_matrix

    flow, outlet = np.nonzero(faces.kind == FLOW)[0], np.nonzero(faces.kind == OUTLET)[0]
    a, b = faces.owner[flow], faces.neighbour[flow]
    # Gradients in cells by pressures, one matrix for each component.
    components = []
    for i in faces.axes:
        of_owner, of_neighbour = weights.pressure_owner[:, i], weights.pressure_neighbour[:, i]
        rows = np.concatenate([a, a, b, b, faces.owner[outlet]])
        columns = np.concatenate([b, a, b, a, faces.owner[outlet]])
        values = np.concatenate([of_owner[flow], -of_owner[flow], -of_neighbour[flow], of_neighbour[flow], -of_owner[outlet]])
        components.append(csr_matrix((values, (rows, columns)), shape=(n_cells, n_cells)))
    near, far = faces.near[flow], faces.far[flow]
    rows = np.concatenate([flow, flow, outlet])
    columns = np.concatenate([a, b, faces.owner[outlet]])
    # Means to the face along its normal, and what the feet of the centres on the normal line are beside them.
    share = np.concatenate([far / (near + far), near / (near + far), np.ones(outlet.size)])[:, None] * faces.normal[rows]
    shift = np.concatenate([faces.shift_owner[flow], -faces.shift_neighbour[flow], faces.shift_owner[outlet]])
    share += shift / np.concatenate([near + far, near + far, faces.near[outlet]])[:, None]
    shape = (faces.owner.size, n_cells)
    along = sum(csr_matrix((share[:, i], (rows, columns)), shape=shape) @ components[i] for i in faces.axes).tocoo()
    second = faces.kind[along.row] == FLOW
    face = np.concatenate([along.row, along.row[second]]).astype(np.int64)
    return WidePressure(
        np.concatenate([faces.owner[along.row], faces.neighbour[along.row[second]]]),
        np.concatenate([along.col, along.col[second]]).astype(np.int64),
        face,
        np.concatenate([along.data, -along.data[second]]),
    )


@dataclass(frozen=True)
class Pattern:
    """Where every unknown stands, and the fixed sparsity of the matrix.

    Attributes:
        position: shape (n_cells, m), the unknown's number, -1 where the cell does not have it.
        indptr, indices: the matrix in compressed rows.
        source: for each non-zero, its place in the concatenated diagonal and off-diagonal blocks.
        pinned: rows that fix a pressure level.
        first: starts of runs of `source` that belong to one non-zero (cells that share more than one face).
        wide: the mean pressure gradient in the flow through faces, see `wide_pressure`; None where it is left out.
    """

    position: Index
    size: int
    indptr: Index
    indices: Index
    source: Index
    first: Index
    pinned: Index
    wide: WidePressure | None = None

    def pack(self, columns: Array) -> Array:
        """Values of all unknowns (or their residuals) in cells, (n_cells, m), as one vector."""
        vector = np.empty(self.size)
        used = self.position >= 0
        vector[self.position[used]] = columns[used]
        return vector

    def unpack(self, vector: Array) -> Array:
        """The inverse of `pack`; zero where a cell does not have the unknown."""
        used = self.position >= 0
        columns = np.zeros(self.position.shape)
        columns[used] = vector[self.position[used]]
        return columns

    def matrix(self, blocks: Blocks, pin_scale: Array, conductance: Array | None = None) -> Any:
        """The sparse matrix of the blocks, with the rows of pinned pressures replaced.

        Args:
            blocks: derivatives of the balances.
            pin_scale: diagonal values of these rows.
            conductance: by how much pressure moves mass through faces, kg/s per Pa/m, which the wide part is multiplied by; needed
                where there is one.
        """
        from scipy.sparse import csr_matrix

        entries = [blocks.diagonal.ravel(), blocks.off.ravel()]
        if self.wide is not None:
            assert conductance is not None
            entries.append(self.wide.weight * conductance[self.wide.face])
        values = np.concatenate(entries)[self.source]
        data = values if self.first.size == values.size else np.add.reduceat(values, self.first)
        for row, scale in zip(self.pinned, pin_scale, strict=True):
            span = slice(self.indptr[row], self.indptr[row + 1])
            data[span] = np.where(self.indices[span] == row, scale, 0.0)
        return csr_matrix((data, self.indices, self.indptr), shape=(self.size, self.size))


def couplings(problem: Problem) -> NDArray[np.bool_]:
    """Which unknown (second) enters which balance (first) in the compact Jacobian of a problem, shape (m, m)."""
    unknowns = problem.unknowns
    found = np.zeros((unknowns.size, unknowns.size), dtype=bool)
    forced = [column for term in problem.terms for column in term.forced_by(unknowns)]
    for term in problem.terms:
        for row, column in term.couplings(unknowns):
            found[row, column] = True
        for row in term.carried(unknowns):
            found[row, [*unknowns.velocity, unknowns.pressure, *forced]] = True
    return found


def build_pattern(problem: Problem, wide: WidePressure | None = None, only: Sequence[int] | None = None) -> Pattern:
    """Number the unknowns cell by cell and lay out the matrix once, with what is two cells away where it is asked for.

    Args:
        problem: the discrete problem.
        wide: see `wide_pressure`.
        only: columns of the unknowns that are sought; all when None.
    """
    faces, cells, unknowns = problem.faces, problem.cells, problem.unknowns
    n, n_faces = cells.fluid.size, faces.owner.size
    coupled = couplings(problem)
    m = unknowns.size
    has = np.ones((n, m), dtype=bool)
    has[:, unknowns.of_fluids] = cells.fluid[:, None] == 1
    if only is not None:
        has[:, [column for column in range(m) if column not in only]] = False
    position = np.full((n, m), -1, dtype=np.int64)
    position[has] = np.arange(int(has.sum()))
    size = int(has.sum())

    cell = np.arange(n)
    inner = np.nonzero(faces.neighbour >= 0)[0]
    rows, columns, places = [], [], []
    for first, second, base in (
        (cell, cell, cell * m * m),
        (faces.owner[inner], faces.neighbour[inner], n * m * m + inner * 2 * m * m),
        (faces.neighbour[inner], faces.owner[inner], n * m * m + inner * 2 * m * m + m * m),
    ):
        for i, j in zip(*np.nonzero(coupled), strict=True):
            row, column = position[first, i], position[second, j]
            used = (row >= 0) & (column >= 0)
            if i != unknowns.temperature and first is not second:
                # Flow passes through flow faces only; pressure and velocity do not see the other side of a wall.
                used &= faces.kind[inner] == FLOW
            rows.append(row[used])
            columns.append(column[used])
            places.append((base + m * i + j)[used])
    if wide is not None:
        row, column = position[wide.row, unknowns.pressure], position[wide.column, unknowns.pressure]
        used = (row >= 0) & (column >= 0)
        rows.append(row[used])
        columns.append(column[used])
        places.append((n + 2 * n_faces) * m * m + np.nonzero(used)[0])
    starts, column, place = _by_rows(size, np.concatenate(rows), np.concatenate(columns), np.concatenate(places))
    row = np.repeat(np.arange(size), np.diff(starts))
    new = np.concatenate([[True], (np.diff(row) != 0) | (np.diff(column) != 0)])
    indptr = np.concatenate([[0], np.cumsum(np.bincount(row[new], minlength=size))])
    pinned = position[problem.pins, unknowns.pressure]
    return Pattern(
        position,
        size,
        indptr.astype(np.int32),
        column[new].astype(np.int32),
        place,
        np.nonzero(new)[0],
        pinned[pinned >= 0],
        wide,
    )


@njit(cache=True, error_model="numpy", nogil=True)
def _by_rows(size: int, rows: Index, columns: Index, places: Index) -> tuple[Index, Index, Index]:
    """Entries sorted by row and column, those of one place in their order: where each row starts, columns, and places.

    By counting, first the columns and then the rows: the second keeps the order that the first has made.
    """
    by_column = np.empty_like(columns)
    ahead = np.zeros(size + 1, dtype=np.int64)
    for column in columns:
        ahead[column + 1] += 1
    for i in range(size):
        ahead[i + 1] += ahead[i]
    for k in range(columns.size):
        by_column[ahead[columns[k]]] = k
        ahead[columns[k]] += 1
    starts = np.zeros(size + 1, dtype=np.int64)
    for row in rows:
        starts[row + 1] += 1
    for i in range(size):
        starts[i + 1] += starts[i]
    ahead[:] = starts
    column_of, place_of = np.empty_like(columns), np.empty_like(places)
    for k in by_column:
        at = ahead[rows[k]]
        column_of[at], place_of[at] = columns[k], places[k]
        ahead[rows[k]] += 1
    return starts, column_of, place_of
