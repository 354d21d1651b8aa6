"""How good a grid is: angles, aspect ratios and growth, in numbers an engineer can judge."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

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


@dataclass(frozen=True)
class WorstCell:
    """A cell with one of the largest values of a measure of quality; `x`, `y` its centre, m."""

    measure: str
    value: float
    cell: int
    x: float
    y: float


@dataclass(frozen=True)
class _Measures:
    """Each measure with the cell it is of: angles and growths on faces count for the face's owner."""

    angle: NDArray[np.float64]
    angle_cell: NDArray[np.int64]
    aspect: NDArray[np.float64]
    growth: NDArray[np.float64]
    growth_cell: NDArray[np.int64]


def quality_of(grid: Grid) -> Quality:
    """Measure a grid."""
    measures = _measures(grid)
    return Quality(
        cells=grid.n_cells,
        faces=grid.n_faces,
        non_orthogonality=float(measures.angle.max(initial=0.0)),
        aspect_ratio=float(measures.aspect.max()),
        growth=float(measures.growth.max(initial=1.0)),
    )


def worst_cells(grid: Grid, count: int = 5) -> list[WorstCell]:
    """The cells with the largest values of each measure, worst first."""
    m = _measures(grid)
    found = []
    for measure, values, cells in (
        ("non-orthogonality", m.angle, m.angle_cell),
        ("aspect ratio", m.aspect, np.arange(grid.n_cells)),
        ("growth", m.growth, m.growth_cell),
    ):
        for i in np.argsort(values)[::-1][:count]:
            cell = int(cells[i])
            x, y = grid.centre[cell]
            found.append(WorstCell(measure, float(values[i]), cell, float(x), float(y)))
    return found


def _measures(grid: Grid) -> _Measures:
    inner = grid.neighbour >= 0
    owner, neighbour = grid.owner[inner], grid.neighbour[inner]
    normal = grid.area[inner] / np.hypot(*grid.area[inner].T)[:, None]
    between = grid.way_between()[inner]
    cosine = np.einsum("ij,ij->i", normal, between) / np.hypot(*between.T)
    near = np.einsum("ij,ij->i", normal, grid.face_centre[inner] - grid.centre[owner])
    far = np.einsum("ij,ij->i", normal, grid.centre[owner] + between - grid.face_centre[inner])
    same = grid.region[owner] == grid.region[neighbour]
    following = np.arange(grid.cell_nodes.size) + 1
    following[grid.cell_start[1:] - 1] = grid.cell_start[:-1]
    edge = np.hypot(*(grid.nodes[grid.cell_nodes[following]] - grid.nodes[grid.cell_nodes]).T)
    longest = np.maximum.reduceat(edge, grid.cell_start[:-1])
    shortest = np.minimum.reduceat(edge, grid.cell_start[:-1])
    return _Measures(
        np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0))),
        owner,
        longest / shortest,
        np.maximum(near / far, far / near)[same],
        owner[same],
    )
