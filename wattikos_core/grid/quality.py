"""How good a grid is: angles, aspect ratios and growth, in numbers an engineer can judge."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wattikos_core.grid.grid import Grid


@dataclass(frozen=True)
class Quality:
    """Cells and faces, and the worst of what matters.

    Attributes:
        non_orthogonality: largest angle between a face's normal and the line between its cells, degrees.
        aspect_ratio: largest ratio of a cell's longest to its shortest edge.
        growth: largest ratio of the distances from a face to the two cell centres beside it.
    """

    cells: int
    faces: int
    non_orthogonality: float
    aspect_ratio: float
    growth: float


def quality_of(grid: Grid) -> Quality:
    """Measure a grid."""
    inner = grid.neighbour >= 0
    owner, neighbour = grid.owner[inner], grid.neighbour[inner]
    normal = grid.area[inner] / np.hypot(*grid.area[inner].T)[:, None]
    between = grid.centre[neighbour] - grid.centre[owner]
    cosine = np.einsum("ij,ij->i", normal, between) / np.hypot(*between.T)
    near = np.einsum("ij,ij->i", normal, grid.face_centre[inner] - grid.centre[owner])
    far = np.einsum("ij,ij->i", normal, grid.centre[neighbour] - grid.face_centre[inner])
    same = grid.region[owner] == grid.region[neighbour]
    ratio = np.maximum(near / far, far / near)[same]
    following = np.arange(grid.cell_nodes.size) + 1
    following[grid.cell_start[1:] - 1] = grid.cell_start[:-1]
    edge = np.hypot(*(grid.nodes[grid.cell_nodes[following]] - grid.nodes[grid.cell_nodes]).T)
    longest = np.maximum.reduceat(edge, grid.cell_start[:-1])
    shortest = np.minimum.reduceat(edge, grid.cell_start[:-1])
    return Quality(
        cells=grid.n_cells,
        faces=grid.n_faces,
        non_orthogonality=float(np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0))).max(initial=0.0)),
        aspect_ratio=float((longest / shortest).max()),
        growth=float(ratio.max(initial=1.0)),
    )
