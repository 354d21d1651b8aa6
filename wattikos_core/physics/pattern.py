"""The layout of the compact Jacobian: where every unknown stands, the sparsity of the matrix, and what is two cells away."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit

from wattikos_core.physics.faces import FLOW, OUTLET, Array, Faces, Index
from wattikos_core.physics.jacobian import SPIN, P, T, coupling
from wattikos_core.physics.properties import Cells, Forces


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


def wide_pressure(faces: Faces, n_cells: int) -> WidePressure:
    """The mean pressure gradient along the normal of every face that flow passes, by the pressures it is made of."""
    from scipy.sparse import csr_matrix

    flow, outlet = np.nonzero(faces.kind == FLOW)[0], np.nonzero(faces.kind == OUTLET)[0]
    a, b = faces.owner[flow], faces.neighbour[flow]
    # Gradients in cells by pressures, one matrix for each component.
    components = []
    for i in range(2):
        of_owner, of_neighbour = faces.pressure_owner[:, i], faces.pressure_neighbour[:, i]
        rows = np.concatenate([a, a, b, b, faces.owner[outlet]])
        columns = np.concatenate([b, a, b, a, faces.owner[outlet]])
        weights = np.concatenate([of_owner[flow], -of_owner[flow], -of_neighbour[flow], of_neighbour[flow], -of_owner[outlet]])
        components.append(csr_matrix((weights, (rows, columns)), shape=(n_cells, n_cells)))
    near, far = faces.near[flow], faces.far[flow]
    rows = np.concatenate([flow, flow, outlet])
    columns = np.concatenate([a, b, faces.owner[outlet]])
    # Means to the face along its normal, and what the feet of the centres on the normal line are beside them.
    share = np.concatenate([far / (near + far), near / (near + far), np.ones(outlet.size)])[:, None] * faces.normal[rows]
    shift = np.concatenate([faces.shift_owner[flow], -faces.shift_neighbour[flow], faces.shift_owner[outlet]])
    share += shift / np.concatenate([near + far, near + far, faces.near[outlet]])[:, None]
    shape = (faces.owner.size, n_cells)
    along = sum(csr_matrix((share[:, i], (rows, columns)), shape=shape) @ components[i] for i in range(2)).tocoo()
    second = faces.kind[along.row] == FLOW
    face = np.concatenate([along.row, along.row[second]]).astype(np.int64)
    return WidePressure(
        np.concatenate([faces.owner[along.row], faces.neighbour[along.row[second]]]),
        np.concatenate([along.col, along.col[second]]).astype(np.int64),
        face,
        np.concatenate([along.data, -along.data[second]]),
    )


@njit(cache=True, error_model="numpy")
def pressure_conductance(faces: Faces, d: Array, density: Array) -> Array:
    """By how much a gradient of pressure moves mass through each face by momentum interpolation, kg/s per Pa/m."""
    found = np.zeros(faces.owner.size)
    for f in range(faces.owner.size):
        a, b = faces.owner[f], faces.neighbour[f]
        if faces.kind[f] == FLOW:
            near, far = faces.near[f], faces.far[f]
            wa, wb = far / (near + far), near / (near + far)
            found[f] = (wa * density[a] + wb * density[b]) * faces.area[f] * (wa * d[a] + wb * d[b])
        elif faces.kind[f] == OUTLET:
            found[f] = density[a] * faces.area[f] * d[a]
    return found


@dataclass(frozen=True)
class Pattern:
    """Where every unknown stands, and the fixed sparsity of the matrix.

    Attributes:
        position: shape (n_cells, m), the unknown's number, -1 where the cell does not have it.
        indptr, indices: the matrix in compressed rows.
        source: for each non-zero, its place in the concatenated diagonal and off-diagonal blocks.
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

    def pack(self, u: Array, v: Array, p: Array, t: Array, spin: Array) -> Array:
        """Cell arrays as one vector of unknowns (or of their residuals)."""
        stacked = np.stack([u, v, p, t, spin], axis=1)[:, : self.position.shape[1]]
        vector = np.empty(self.size)
        used = self.position >= 0
        vector[self.position[used]] = stacked[used]
        return vector

    def unpack(self, vector: Array) -> tuple[Array, Array, Array, Array, Array]:
        """The five cell arrays in a vector; zero where a cell does not have the unknown."""
        used = self.position >= 0
        stacked = np.zeros((self.position.shape[0], 5))
        stacked[:, : self.position.shape[1]][used] = vector[self.position[used]]
        u, v, p, t, spin = stacked.T
        return u.copy(), v.copy(), p.copy(), t.copy(), spin.copy()

    def matrix(self, diagonal: Array, off: Array, pin_scale: Array, conductance: Array | None = None) -> Any:
        """The sparse matrix of the blocks, with the rows of pinned pressures replaced.

        Args:
            conductance: by how much pressure moves mass through faces, kg/s per Pa/m, which the wide part is multiplied by; needed
                where there is one.
        """
        from scipy.sparse import csr_matrix

        blocks = [diagonal.ravel(), off.ravel()]
        if self.wide is not None:
            assert conductance is not None
            blocks.append(self.wide.weight * conductance[self.wide.face])
        values = np.concatenate(blocks)[self.source]
        data = values if self.first.size == values.size else np.add.reduceat(values, self.first)
        for cell in self.pinned:
            row = self.position[cell, 2]
            span = slice(self.indptr[row], self.indptr[row + 1])
            data[span] = np.where(self.indices[span] == row, pin_scale[cell], 0.0)
        return csr_matrix((data, self.indices, self.indptr), shape=(self.size, self.size))


def build_pattern(faces: Faces, cells: Cells, forces: Forces, wide: WidePressure | None = None) -> Pattern:
    """Number the unknowns cell by cell and lay out the matrix once, with what is two cells away where it is asked for."""
    n, n_faces = cells.fluid.size, faces.owner.size
    coupled = coupling(bool(forces.gravity.any()), forces.swirl == 1)
    m = len(coupled)
    has = np.ones((n, m), dtype=bool)
    has[:, :3] = cells.fluid[:, None] == 1
    has[:, SPIN:] = cells.fluid[:, None] == 1
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
            if i != T and first is not second:
                # Flow passes through flow faces only; pressure and velocity do not see the other side of a wall.
                used &= faces.kind[inner] == FLOW
            rows.append(row[used])
            columns.append(column[used])
            places.append((base + m * i + j)[used])
    if wide is not None:
        row, column = position[wide.row, P], position[wide.column, P]
        used = (row >= 0) & (column >= 0)
        rows.append(row[used])
        columns.append(column[used])
        places.append((n + 2 * n_faces) * m * m + np.nonzero(used)[0])
    row, column, place = np.concatenate(rows), np.concatenate(columns), np.concatenate(places)
    order = np.argsort(row * np.int64(size) + column, kind="stable")
    row, column, place = row[order], column[order], place[order]
    new = np.concatenate([[True], (np.diff(row) != 0) | (np.diff(column) != 0)])
    indptr = np.concatenate([[0], np.cumsum(np.bincount(row[new], minlength=size))])
    return Pattern(
        position,
        size,
        indptr.astype(np.int32),
        column[new].astype(np.int32),
        place,
        np.nonzero(new)[0],
        np.nonzero(cells.pin == 1)[0],
        wide,
    )


def pin_scales(cells: Cells, d: Array, density: Array) -> Array:
    """Diagonal values of the rows that fix a pressure level, as in the residual."""
    return np.asarray(d * density * cells.volume ** (1.0 / 3.0))
