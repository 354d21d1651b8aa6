"""Whether cells are enough across what is narrow: gaps between walls, and solids so thin that one cell is all they have."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wattikos_core.evidence.finding import Finding, refine
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import INTERFACE, WALL, Array, Index
from wattikos_core.physics.scales import LEAST_SPAN
from wattikos_core.quantities.values import show

# Flow between two walls needs so many cells across (common practice, no source); told where this share of a wall has fewer.
_FEWEST, _SHARE = 4, 0.05
# A face ends a way across where it looks back along it.
_FACING = 0.7
# A layer of one cell is told of where it takes this share of all differences of temperature.
_COUNTS = 0.01


def findings_of_grids(problem: Problem, evaluation: Evaluation) -> list[Finding]:
    """Findings about cells across gaps and layers."""
    faces = problem.faces
    solid_or_wall = np.isin(faces.kind, (WALL, INTERFACE))
    table = _faces_of_cells(problem)
    found: list[Finding] = []
    for index, name in enumerate(problem.grid.region_names):
        begin, cells, way = _surfaces_of(problem, solid_or_wall, index)
        if not begin.size:
            continue
        count, end = cells_across(problem, table, cells, way)
        # Solids may end at a fluid or at an outer face; fluids between walls.
        met = (end >= 0) & solid_or_wall[np.maximum(end, 0)] & (count > 0)
        if problem.fluid_regions[index]:
            found += _narrow(problem, name, begin, count, met)
        else:
            found += _thin(problem, evaluation, name, begin, end, count, met)
    return found


def _surfaces_of(problem: Problem, chosen: np.ndarray, region: int) -> tuple[Index, Index, Array]:
    """Wall faces of a region, the cells on them, and the unit vectors into it."""
    grid, faces = problem.grid, problem.faces
    mine = np.nonzero(chosen & (grid.region[grid.owner] == region))[0]
    inner = np.nonzero(chosen & (grid.neighbour >= 0) & (grid.region[np.maximum(grid.neighbour, 0)] == region))[0]
    begin = np.concatenate([mine, inner])
    cells = np.concatenate([grid.owner[mine], grid.neighbour[inner]])
    return begin, cells, np.concatenate([-faces.normal[mine], faces.normal[inner]])


def _faces_of_cells(problem: Problem) -> tuple[Index, Index]:
    """Faces of all cells one after the other, and where each cell's begin."""
    grid = problem.grid
    inner = np.nonzero(grid.neighbour >= 0)[0]
    cell = np.concatenate([grid.owner, grid.neighbour[inner]])
    face = np.concatenate([np.arange(grid.n_faces), inner])
    order = np.argsort(cell, kind="stable")
    return face[order], np.searchsorted(cell[order], np.arange(grid.n_cells + 1))


def cells_across(problem: Problem, table: tuple[Index, Index], cells: Index, way: Array) -> tuple[Index, Index]:
    """How many cells lie from surfaces straight across to the next surface, looking no further than is enough.

    Args:
        problem: with its grid.
        table: faces of cells, see `_faces_of_cells`.
        cells: the cells on the surfaces, shape (n,).
        way: unit vectors into them, shape (n, d).

    Returns:
        Counts, and the faces where they end; counts of 0 and faces of -1 where it goes on.
    """
    grid, normal, kind = problem.grid, problem.faces.normal, problem.faces.kind
    face_list, first = table
    count, end = np.zeros(cells.size, dtype=np.int64), np.full(cells.size, -1)
    going = np.arange(cells.size)
    at = cells.copy()
    for step in range(1, _FEWEST + 1):
        sizes = first[at + 1] - first[at]
        which = np.repeat(np.arange(at.size), sizes)
        faces = face_list[np.arange(sizes.sum()) - np.repeat(np.cumsum(sizes) - sizes, sizes) + np.repeat(first[at], sizes)]
        outward = np.where(grid.owner[faces] == at[which], 1.0, -1.0)
        facing = outward * (normal[faces] * way[going[which]]).sum(axis=1)
        # The face that looks most along the way: the last of each cell once they are in order.
        order = np.lexsort((facing, which))
        best = order[np.cumsum(sizes) - 1]
        chosen, straight = faces[best], facing[best] > _FACING
        over = np.isin(kind[chosen], (WALL, INTERFACE)) | (grid.neighbour[chosen] < 0)
        done = over & straight
        count[going[done]], end[going[done]] = step, chosen[done]
        on = ~over & straight
        at = np.where(grid.owner[chosen] == at, grid.neighbour[chosen], grid.owner[chosen])[on]
        going = going[on]
        if not going.size:
            break
    return count, end


def _narrow(problem: Problem, name: str, begin: Index, count: Index, met: np.ndarray) -> Iterator[Finding]:
    """A gap of a fluid with too few cells across."""
    few = met & (count < _FEWEST)
    area = problem.faces.area[begin]
    if float(area[few].sum()) <= _SHARE * float(area.sum()):
        return
    worst = begin[few][np.argmin(count[few])]
    x, y = 1e3 * problem.grid.face_centre[worst]
    least = int(count[few].min())
    text = f"only {least} cell{'s' if least > 1 else ''} lie across the gap of '{name}' at x {x:.3g} mm, y {y:.3g} mm"
    yield Finding("check", name, text, f"its profile needs {_FEWEST} or more: make cells finer there", fix=refine(name))


def _thin(
    problem: Problem, evaluation: Evaluation, name: str, begin: Index, end: Index, count: Index, met: np.ndarray
) -> Iterator[Finding]:
    """A solid layer of one cell, through which heat passes."""
    one = met & (count == 1)
    area = problem.faces.area[begin]
    span = float(np.ptp(evaluation.temperature))
    if span < LEAST_SPAN or float(area[one].sum()) <= _SHARE * float(area.sum()):
        return
    drop = float(np.abs(evaluation.face_temperature[begin[one]] - evaluation.face_temperature[end[one]]).max())
    if drop > _COUNTS * span:
        told = show(drop, "temperature_difference", digits=2)
        text = f"'{name}' has no thickness in the grid: one cell takes the {told} across it"
        yield Finding("check", name, text, "make cells finer there, or give it as a contact or coating", fix=refine(name))
