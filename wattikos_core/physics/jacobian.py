"""The compact Jacobian of the residuals: each cell and its face neighbours, in one matrix for u, v, p and T.

Left out on purpose, since the Krylov iteration on the full residual supplies them: the mean pressure gradient of the
momentum interpolation, the gradient half of Fromm's scheme, corrections for skewed faces, and the temperature
dependence of viscosity and density.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit

from wattikos_core.physics.faces import FLOW, INLET, INTERFACE, OUTLET, SYMMETRY, Array, Faces, Index
from wattikos_core.physics.residual import (
    Cells,
    Tables,
    cell_properties,
    face_value,
    gradients,
    property_at,
    specific_heat_at,
    surface_conductance,
)

# Which unknown (u, v, p, T) enters which balance (momentum x, y, mass, energy) in the compact Jacobian.
_COUPLED = np.array([[1, 1, 1, 0], [1, 1, 1, 0], [1, 1, 1, 0], [1, 1, 1, 1]], dtype=bool)


@njit(cache=True)
def compact_blocks(
    faces: Faces,
    cells: Cells,
    tables: Tables,
    u: Array,
    v: Array,
    p: Array,
    t: Array,
    d: Array,
    flow: Array,
    blend: float,
    passes: int,
) -> tuple[Array, Array]:
    """Derivative blocks (4 x 4): of each cell by itself, and of the two cells of each face by each other.

    Returns:
        diagonal (n_cells, 4, 4) and off-diagonal (n_faces, 2, 4, 4), the latter owner-by-neighbour and
        neighbour-by-owner.
    """
    n, n_faces = u.size, faces.owner.size
    rho, h, mu, k = cell_properties(cells, tables, t)
    gu, gv, _, gt = gradients(faces, u, v, p, t, k, passes)
    dia = np.zeros((n, 4, 4))
    off = np.zeros((n_faces, 2, 4, 4))
    df = np.zeros(6)
    step = np.zeros((2, 3))
    for f in range(n_faces):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        area, near, far = faces.area[f], faces.near[f], faces.far[f]
        nx, ny = faces.normal[f, 0], faces.normal[f, 1]
        if kind <= INTERFACE:
            resistance = near / (k[a] * faces.share_owner[f]) + far / (k[b] * faces.share_neighbour[f])
            g = area / (resistance + faces.contact[f])
            dia[a, 3, 3] += g
            dia[b, 3, 3] += g
            off[f, 0, 3, 3] -= g
            off[f, 1, 3, 3] -= g
        else:
            dia[a, 3, 3] += area * surface_conductance(faces, f, t[a], k[a] * faces.share_owner[f])
        if kind == FLOW:
            wa, wb = far / (near + far), near / (near + far)
            rf = (wa * rho[a] + wb * rho[b]) * area
            df[0], df[1], df[3], df[4] = rf * wa * nx, rf * wa * ny, rf * wb * nx, rf * wb * ny
            df[2] = rf * (wa * d[a] + wb * d[b]) / (near + far)
            df[5] = -df[2]
            shear = area / (near / mu[a] + far / mu[b])
            if flow[f] >= 0.0:
                fb = 0.5 * blend * wb
                fa = 1.0 - fb
            else:
                fa = 0.5 * blend * wa
                fb = 1.0 - fa
            uf = face_value(faces, f, a, b, flow[f], u, gu, blend)
            vf = face_value(faces, f, a, b, flow[f], v, gv, blend)
            tf = face_value(faces, f, a, b, flow[f], t, gt, blend)
            hf = property_at(tables, cells.material[a], 1, tf)
            cp = specific_heat_at(tables, cells.material[a], tf)
            step[0, 0], step[1, 0] = uf - u[a], uf - u[b]
            step[0, 1], step[1, 1] = vf - v[a], vf - v[b]
            step[0, 2], step[1, 2] = hf - h[a], hf - h[b]
            for i in range(2):
                dia[a, i, i] += flow[f] * (fa - 1.0) + shear
                off[f, 0, i, i] += flow[f] * fb - shear
                dia[b, i, i] += -flow[f] * (fb - 1.0) + shear
                off[f, 1, i, i] += -flow[f] * fa - shear
                dia[a, i, 2] -= cells.volume[a] * faces.pressure_owner[f, i]
                off[f, 0, i, 2] += cells.volume[a] * faces.pressure_owner[f, i]
                dia[b, i, 2] -= cells.volume[b] * faces.pressure_neighbour[f, i]
                off[f, 1, i, 2] += cells.volume[b] * faces.pressure_neighbour[f, i]
            dia[a, 3, 3] += flow[f] * cp * (fa - 1.0)
            off[f, 0, 3, 3] += flow[f] * cp * fb
            dia[b, 3, 3] -= flow[f] * cp * (fb - 1.0)
            off[f, 1, 3, 3] -= flow[f] * cp * fa
            for j in range(3):
                dia[a, 2, j] += df[j]
                off[f, 0, 2, j] += df[3 + j]
                dia[b, 2, j] -= df[3 + j]
                off[f, 1, 2, j] -= df[j]
                for i in range(3):
                    row = i if i < 2 else 3
                    dia[a, row, j] += step[0, i] * df[j]
                    off[f, 0, row, j] += step[0, i] * df[3 + j]
                    dia[b, row, j] -= step[1, i] * df[3 + j]
                    off[f, 1, row, j] -= step[1, i] * df[j]
        elif kind == OUTLET:
            rf = rho[a] * area
            dia[a, 2, 0] += rf * nx
            dia[a, 2, 1] += rf * ny
            dia[a, 2, 2] += rf * d[a] / near
            for i in range(2):
                dia[a, i, 2] -= cells.volume[a] * faces.pressure_owner[f, i]
        elif kind == SYMMETRY and cells.fluid[a] == 1:
            shear = area * mu[a] / near
            dia[a, 0, 0] += shear * nx * nx
            dia[a, 0, 1] += shear * nx * ny
            dia[a, 1, 0] += shear * nx * ny
            dia[a, 1, 1] += shear * ny * ny
        elif kind >= INTERFACE:
            if cells.fluid[a] == 1:
                for i in range(2):
                    dia[a, i, i] += area * mu[a] / near - flow[f]
                if kind == INLET:
                    dia[a, 3, 3] -= flow[f] * specific_heat_at(tables, cells.material[a], t[a])
            if b >= 0 and cells.fluid[b] == 1:
                for i in range(2):
                    dia[b, i, i] += area * mu[b] / far
    for c in range(n):
        if cells.fluid[c] == 1 and cells.radius[c] > 0.0:
            dia[c, 1, 1] += cells.volume[c] * mu[c] / cells.radius[c] ** 2
    return dia, off


@dataclass(frozen=True)
class Pattern:
    """Where every unknown stands, and the fixed sparsity of the matrix.

    Attributes:
        position: shape (n_cells, 4), the unknown's number, -1 where the cell does not have it.
        indptr, indices: the matrix in compressed rows.
        source: for each non-zero, its place in the concatenated diagonal and off-diagonal blocks.
        first: starts of runs of `source` that belong to one non-zero (cells that share more than one face).
    """

    position: Index
    size: int
    indptr: Index
    indices: Index
    source: Index
    first: Index
    pinned: Index

    def pack(self, u: Array, v: Array, p: Array, t: Array) -> Array:
        """Cell arrays as one vector of unknowns (or of their residuals)."""
        stacked = np.stack([u, v, p, t], axis=1)
        vector = np.empty(self.size)
        used = self.position >= 0
        vector[self.position[used]] = stacked[used]
        return vector

    def unpack(self, vector: Array) -> tuple[Array, Array, Array, Array]:
        """The four cell arrays in a vector; zero where a cell does not have the unknown."""
        used = self.position >= 0
        stacked = np.zeros(self.position.shape)
        stacked[used] = vector[self.position[used]]
        u, v, p, t = stacked.T
        return u.copy(), v.copy(), p.copy(), t.copy()

    def matrix(self, diagonal: Array, off: Array, pin_scale: Array) -> Any:
        """The sparse matrix of the blocks, with the rows of pinned pressures replaced."""
        from scipy.sparse import csr_matrix

        values = np.concatenate([diagonal.ravel(), off.ravel()])[self.source]
        data = values if self.first.size == values.size else np.add.reduceat(values, self.first)
        for cell in self.pinned:
            row = self.position[cell, 2]
            span = slice(self.indptr[row], self.indptr[row + 1])
            data[span] = np.where(self.indices[span] == row, pin_scale[cell], 0.0)
        return csr_matrix((data, self.indices, self.indptr), shape=(self.size, self.size))


def build_pattern(faces: Faces, cells: Cells) -> Pattern:
    """Number the unknowns cell by cell and lay out the matrix once."""
    n, n_faces = cells.fluid.size, faces.owner.size
    has = np.ones((n, 4), dtype=bool)
    has[:, :3] = cells.fluid[:, None] == 1
    position = np.full((n, 4), -1, dtype=np.int64)
    position[has] = np.arange(int(has.sum()))
    size = int(has.sum())

    cell = np.arange(n)
    inner = np.nonzero(faces.neighbour >= 0)[0]
    rows, columns, places = [], [], []
    for first, second, base in (
        (cell, cell, cell * 16),
        (faces.owner[inner], faces.neighbour[inner], n * 16 + inner * 32),
        (faces.neighbour[inner], faces.owner[inner], n * 16 + inner * 32 + 16),
    ):
        for i, j in zip(*np.nonzero(_COUPLED), strict=True):
            row, column = position[first, i], position[second, j]
            used = (row >= 0) & (column >= 0)
            if i < 3 and first is not second:
                # Flow passes through flow faces only; pressure and velocity do not see the other side of a wall.
                used &= faces.kind[inner] == FLOW
            rows.append(row[used])
            columns.append(column[used])
            places.append((base + 4 * i + j)[used])
    row, column, place = np.concatenate(rows), np.concatenate(columns), np.concatenate(places)
    order = np.argsort(row * np.int64(size) + column, kind="stable")
    row, column, place = row[order], column[order], place[order]
    new = np.concatenate([[True], (np.diff(row) != 0) | (np.diff(column) != 0)])
    indptr = np.concatenate([[0], np.cumsum(np.bincount(row[new], minlength=size))])
    assert place.max() < n * 16 + n_faces * 32
    return Pattern(
        position,
        size,
        indptr.astype(np.int32),
        column[new].astype(np.int32),
        place,
        np.nonzero(new)[0],
        np.nonzero(cells.pin == 1)[0],
    )


def pin_scales(cells: Cells, d: Array, density: Array) -> Array:
    """Diagonal values of the rows that fix a pressure level, as in the residual."""
    return np.asarray(d * density * cells.volume ** (1.0 / 3.0))
