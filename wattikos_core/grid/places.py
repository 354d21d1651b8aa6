"""Places of a grid that can be made finer by themselves, so that it can be tried on which of them an answer depends."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from wattikos_core.grid.grid import Array, Grid, Index
from wattikos_core.section import PaintedSection

# Cells up to so many of their faces' lengths from a surface are near it; the rest is halved into so many pieces.
_NEAR = 3.0
_PIECES = 8
_MOST_SURFACES = 16
_FEWEST_CELLS = 4
# A stretch of lines with at least so many is told apart into its ends, a quarter of the lines each, and its middle.
_TOLD_APART = 6
_END = 0.25
_MOST_STRETCHES = 48


@dataclass(frozen=True)
class Place:
    """A place of a grid: cells, or, of a grid of lines, stretches along an axis.

    Attributes:
        cells: numbers of its cells; empty for stretches.
        axis: 0 for x, 1 for y; None where it is of cells.
        stretches: from and to, m.
    """

    cells: Index
    axis: int | None = None
    stretches: tuple[tuple[float, float], ...] = ()


def places_of(section: PaintedSection, grid: Grid) -> list[Place]:
    """Places that cover a grid: near each surface and pieces of the rest, or stretches between edges of parts along each axis."""
    if section.tensor is None:
        return [Place(cells) for cells in _near_surfaces(grid)]
    found = []
    for axis, edges in enumerate((section.tensor.x, section.tensor.y)):
        lines = np.unique(grid.nodes[:, axis])
        # Where nothing varies along an axis there are no lines between the edges.
        if lines.size > edges.size:
            found += [Place(np.zeros(0, dtype=np.int64), axis, stretches) for stretches in _along(lines, edges)]
    return found


def _near_surfaces(grid: Grid) -> list[Index]:
    """Cells near each named surface, and the others in pieces of equal numbers."""
    names = list(grid.groups)
    faces = np.concatenate([grid.groups[name] for name in names])
    surface = np.concatenate([np.full(grid.groups[name].size, i) for i, name in enumerate(names)])
    ends = grid.nodes[grid.edges[faces]]
    length = np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    distance, nearest = cKDTree(grid.face_centre[faces]).query(grid.centre)
    near = distance < _NEAR * length[nearest]
    mine = [np.nonzero(near & (surface[nearest] == i))[0] for i in range(len(names))]
    mine = sorted((cells for cells in mine if cells.size), key=lambda cells: int(cells.size))
    while len(mine) > 1 and (len(mine) > _MOST_SURFACES or mine[0].size < _FEWEST_CELLS):
        mine = sorted([np.concatenate(mine[:2]), *mine[2:]], key=lambda cells: int(cells.size))
    return mine + _halved(grid.centre, np.nonzero(~near)[0], _PIECES)


def _halved(centre: Array, cells: Index, pieces: int) -> list[Index]:
    """Cells in pieces, halved again and again across the longer side."""
    if not cells.size:
        return []
    if pieces == 1 or cells.size < 2 * _FEWEST_CELLS:
        return [cells]
    longer = int(np.argmax(np.ptp(centre[cells], axis=0)))
    order = cells[np.argsort(centre[cells, longer], kind="stable")]
    half = order.size // 2
    return _halved(centre, order[:half], pieces // 2) + _halved(centre, order[half:], pieces // 2)


def _along(lines: Array, edges: Array) -> list[tuple[tuple[float, float], ...]]:
    """Stretches of lines between edges of parts: ends and middle of each, neighbours together where they would be too many."""
    between = list(zip(edges[:-1].tolist(), edges[1:].tolist(), strict=True))
    if len(between) > _MOST_STRETCHES:
        step = -(-len(between) // _MOST_STRETCHES)
        return [tuple(between[i : i + step]) for i in range(0, len(between), step)]
    found: list[tuple[tuple[float, float], ...]] = []
    for low, high in between:
        mine = lines[(lines >= low) & (lines <= high)]
        cells = mine.size - 1
        if cells < _TOLD_APART or 2 * len(between) > _MOST_STRETCHES:
            found.append(((low, high),))
            continue
        end = max(round(_END * cells), 1)
        first, last = float(mine[end]), float(mine[-1 - end])
        found += [((low, first), (last, high)), ((first, last),)]
    return found
