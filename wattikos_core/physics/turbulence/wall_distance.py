"""How far cells are from the nearest wall, and how far they reach."""

from __future__ import annotations

import numpy as np

from wattikos_core.grid import Grid
from wattikos_core.physics.faces import INTERFACE, WALL, Array, Faces, Index

# Of so many walls whose middles are nearest, the nearest one is looked for.
_CANDIDATES = 8


def wall_distances(grid: Grid, faces: Faces, fluid: Index, roughness: Array) -> tuple[Array, Array, Array]:
    """Distance of every cell's centre from the nearest face of a wall, infinite where there is none, and how rough that is.

    Both are in m, shape (n_cells,); the direction away from that wall comes third, shape (n_cells, d), zero where there is none.

    Walls of the modules before and after the one that is solved count too.

    Args:
        grid: cells and faces.
        faces: geometry of faces.
        fluid: 1 in cells whose fluid moves.
        roughness: equivalent sand roughness of faces, m.
    """
    from scipy.spatial import cKDTree

    beyond = np.where(faces.neighbour >= 0, faces.neighbour, faces.owner)
    wet = (fluid[faces.owner] == 1) | (fluid[beyond] == 1)
    walls = np.nonzero(((faces.kind == WALL) | (faces.kind == INTERFACE)) & wet)[0]
    distance, rough, away_from = np.full(grid.n_cells, np.inf), np.zeros(grid.n_cells), np.zeros_like(grid.centre)
    if walls.size == 0:
        return distance, rough, away_from
    ends = grid.nodes[grid.edges[walls]]
    if grid.joined.size:
        ends = np.concatenate([ends, ends + grid.period, ends - grid.period])
    mine = np.nonzero(fluid == 1)[0]
    centre = grid.centre[mine]
    count = min(_CANDIDATES, len(ends))
    near = np.asarray(cKDTree(ends.mean(axis=1)).query(centre, count)[1]).reshape(mine.size, count)
    start, way = ends[near, 0], ends[near, 1] - ends[near, 0]
    length = np.maximum(np.einsum("nkd,nkd->nk", way, way), 1e-300)
    share = np.clip(np.einsum("nkd,nkd->nk", centre[:, None] - start, way) / length, 0.0, 1.0)
    off = centre[:, None] - start - share[:, :, None] * way
    away = np.sqrt(np.einsum("nkd,nkd->nk", off, off))
    first = np.arange(mine.size), away.argmin(axis=1)
    distance[mine], rough[mine] = away[first], roughness[walls[near[first] % walls.size]]
    away_from[mine] = off[first] / np.maximum(away[first], 1e-300)[:, None]
    return distance, rough, away_from


def cell_extents(grid: Grid, faces: Faces) -> Array:
    """How far cells reach, ½ Σ r rᵀ over the ways r from their centres to their faces, m2, shape (n_cells, d, d).

    The square of by how much something varies from the middle to the sides is ∇φ · extent · ∇φ.
    """
    extent = np.zeros((grid.n_cells, grid.dimensions, grid.dimensions))
    inner = faces.neighbour >= 0
    for cells, reach in ((faces.owner, faces.reach_owner), (faces.neighbour[inner], faces.reach_neighbour[inner])):
        for i in range(grid.dimensions):
            for j in range(grid.dimensions):
                extent[:, i, j] += 0.5 * np.bincount(cells, reach[:, i] * reach[:, j], grid.n_cells)
    return extent
