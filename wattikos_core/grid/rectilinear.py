"""The rectilinear gridder: a tensor grid through all part edges, graded towards walls and interfaces.

Spacing follows a smooth exponential map of the unit interval, so that a finer grid of the same section is a true
refinement: doubling the fineness halves every cell and takes the square root of every growth factor.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import LocalSize
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid.density import ALONE, Family
from wattikos_core.grid.grid import Array, Grid, Polygons, build_grid
from wattikos_core.grid.uniform import STRIP_FINER
from wattikos_core.section import PaintedSection, Tensor, side_names

# Cells over the thinnest fluid gap at fineness 1, between two walls; one wall needs fewer. Common practice, no source.
_CELLS_TWO_WALLS = 24.0
_CELLS_ONE_WALL = 16.0
_CELLS_NO_WALL = 8.0
_CELLS_THIN_SOLID = 4.0
_CELLS_THICK_SOLID = 10.0
_LENGTH_EXPONENT = 0.25
# Growth of cells away from walls of turbulent streams at fineness 1, and the fewest from a wall to the middle.
_TURBULENT_GROWTH, _FEWEST_TURBULENT = 1.2, 10.0
_DENSITY_SAMPLES = 401
_FEWEST_FLUID, _FEWEST_SOLID = 4.0, 3.0
MAX_CELLS = 400_000


@dataclass(frozen=True)
class FirstCells:
    """Cells next to walls of turbulent streams.

    Attributes:
        heights: of the first ones at fineness 1, by part, m.
        bare: boundaries that are no walls.
    """

    heights: Mapping[str, float]
    bare: frozenset[str]


def too_many_cells(fineness: float, cells: int) -> CaseError:
    """What is told of a grid that would be too large; it is counted before it is made."""
    made = f"a fineness of {fineness:.3g}, with what the conditions imply, makes {cells:,} cells"
    return CaseError(InputProblem("grid.fineness", made, f"lower it: the limit is {MAX_CELLS:,} cells"))


def cells_between(section: PaintedSection, x: Array, y: Array) -> int:
    """How many cells grid lines x and y (m) make of a section of rectangles: what is not painted has none."""
    tensor = _tensor(section)
    row, column = _places_between(tensor, x, y)
    across, along = (np.bincount(place, minlength=n) for place, n in zip((row, column), tensor.label.shape, strict=True))
    return int(across @ (tensor.label >= 0) @ along)


def grid_rectangles(  # noqa: PLR0913
    section: PaintedSection,
    fineness: float,
    *,
    axisymmetric: bool = False,
    depth: float = 1.0,
    ungraded: Collection[str] = (),
    local: Sequence[LocalSize] = (),
    uniform: tuple[bool, bool] = (False, False),
    family: Family = ALONE,
    first: FirstCells | None = None,
) -> Grid:
    """Grid a painted section of upright rectangles.

    Args:
        section: the painted section.
        fineness: one number; doubling it halves every cell.
        axisymmetric: whether the section turns about y = 0; else it is flat.
        depth: of a flat section, m.
        ungraded: boundaries without a layer along them (symmetry), towards which cells need not become thinner.
        local: places to grid finer or coarser; lines run through the whole section.
        uniform: whether nothing varies along x, and along y (see `uniform`): one cell there, and more along the other.
        family: of the grids that it is compared with.
        first: cells along walls of parts whose flow is turbulent.

    Raises:
        CaseError: the grid would have more than MAX_CELLS cells.
    """
    x, y = lines_of(section, fineness, ungraded, local, uniform, family, first)
    if (cells := cells_between(section, x, y)) > MAX_CELLS:
        raise too_many_cells(fineness, cells)
    tensor = _tensor(section)
    row, column = _places_between(tensor, x, y)
    label = tensor.label[np.ix_(row, column)]
    sides = side_names(tensor)[np.ix_(row, column)]
    rows, columns = np.nonzero(label >= 0)
    nodes_per_row = x.size
    corner = rows * nodes_per_row + columns
    cell_nodes = np.stack([corner, corner + 1, corner + 1 + nodes_per_row, corner + nodes_per_row], axis=1).ravel()
    used, cell_nodes = np.unique(cell_nodes, return_inverse=True)
    nodes = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)[used]
    return build_grid(
        Polygons(nodes, np.arange(0, cell_nodes.size + 1, 4), cell_nodes.astype(np.int64)),
        label[rows, columns],
        section.names,
        sides[rows, columns].ravel(),
        axisymmetric=axisymmetric,
        depth=depth,
        spacing={"fineness": fineness, "columns": float(x.size - 1), "rows": float(y.size - 1)},
    )


def _tensor(section: PaintedSection) -> Tensor:
    assert section.tensor is not None
    return section.tensor


def _places_between(tensor: Tensor, x: Array, y: Array) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """In which row and column of the section each row and column of the grid lies."""
    column = np.searchsorted(tensor.x, 0.5 * (x[1:] + x[:-1])) - 1
    row = np.searchsorted(tensor.y, 0.5 * (y[1:] + y[:-1])) - 1
    return row, column


def lines_of(
    section: PaintedSection,
    fineness: float,
    ungraded: Collection[str] = (),
    local: Sequence[LocalSize] = (),
    uniform: tuple[bool, bool] = (False, False),
    family: Family = ALONE,
    first: FirstCells | None = None,
) -> tuple[Array, Array]:
    """The grid lines x and y (m) of a painted section of rectangles at a fineness."""
    tensor = _tensor(section)
    fluid = np.array([*section.fluid, False])[tensor.label]
    gaps = [*np.diff(tensor.x)[fluid.any(axis=0)], *np.diff(tensor.y)[fluid.any(axis=1)]]
    thinnest = min(gaps) if gaps else min(np.diff(tensor.x).min(), np.diff(tensor.y).min())
    finer_x, finer_y = _finer(section, local)
    if any(uniform):
        fineness *= STRIP_FINER
    denser = [None if family.density is None else partial(family.density.along_axis, axis) for axis in (0, 1)]
    walls = _Walls(_layered(section, ungraded, vertical=True), _heights(section, first, vertical=True), thinnest)
    x = _axis(tensor.x, fluid, walls, fineness * finer_x, family.coarser, denser[0])
    walls = _Walls(_layered(section, ungraded, vertical=False), _heights(section, first, vertical=False), thinnest)
    y = _axis(tensor.y, fluid.T, walls, fineness * finer_y, family.coarser, denser[1])
    return (tensor.x.copy() if uniform[0] else x), (tensor.y.copy() if uniform[1] else y)


def _finer(section: PaintedSection, local: Sequence[LocalSize]) -> tuple[Array, Array]:
    """By how much the intervals along x and along y are to be finer: the most that is asked for there."""
    tensor = _tensor(section)
    asked: list[tuple[list[Array], list[Array]]] = [([], []), ([], [])]
    for size in local:
        boxes = [size.box] if size.box else []
        for name in size.at:
            if name in section.names:
                rows, columns = np.nonzero(tensor.label == section.names.index(name))
                boxes += [(tensor.x[c], tensor.y[r], tensor.x[c + 1], tensor.y[r + 1]) for r, c in zip(rows, columns, strict=True)]
            elif name in section.boundaries:
                boxes += [tuple(segment) for segment in section.boundaries[name].segments]
        for axis, lines in enumerate((tensor.x, tensor.y)):
            for box in boxes:
                low, high = sorted((box[axis], box[axis + 2]))
                touched = (lines[:-1] <= high) & (lines[1:] >= low) if low == high else (lines[:-1] < high) & (lines[1:] > low)
                asked[axis][size.fineness < 1.0].append(np.where(touched, size.fineness, 1.0))
    result = []
    for axis, lines in enumerate((tensor.x, tensor.y)):
        one = np.ones(lines.size - 1)
        finer, coarser = asked[axis]
        most = np.max([one, *finer], axis=0)
        result.append(np.where(most > 1.0, most, np.min([one, *coarser], axis=0)))
    return result[0], result[1]


def _layered(section: PaintedSection, ungraded: Collection[str], *, vertical: bool) -> set[float]:
    """Positions of the lines along which a layer must be resolved."""
    found: set[float] = set()
    for boundary in section.boundaries.values():
        if boundary.name in ungraded:
            continue
        for x0, y0, x1, y1 in boundary.segments:
            if vertical and x0 == x1:
                found.add(float(x0))
            if not vertical and y0 == y1:
                found.add(float(y0))
    return found


def _heights(section: PaintedSection, first: FirstCells | None, *, vertical: bool) -> dict[tuple[float, int], float]:
    """Height of first cells beside walls of turbulent streams, by the position of the wall and the side that the stream is on."""
    found: dict[tuple[float, int], float] = {}
    if first is None:
        return found
    tensor = _tensor(section)
    for boundary in section.boundaries.values():
        if boundary.name in first.bare:
            continue
        for part in boundary.parts:
            if part not in first.heights:
                continue
            rows, columns = np.nonzero(tensor.label == section.names.index(part))
            lines, places = (tensor.x, columns) if vertical else (tensor.y, rows)
            for x0, y0, x1, y1 in boundary.segments:
                if (x0 != x1) if vertical else (y0 != y1):
                    continue
                at = float(x0 if vertical else y0)
                for side, beside in ((1, lines[places]), (-1, lines[places + 1])):
                    if np.any(beside == at):
                        found[at, side] = min(found.get((at, side), np.inf), first.heights[part])
    return found


@dataclass(frozen=True)
class _Walls:
    """What stands on the lines of one axis.

    Attributes:
        layered: positions along which a layer must be resolved, m.
        heights: see `_heights`.
        thinnest: gap of fluid, m.
    """

    layered: set[float]
    heights: dict[tuple[float, int], float]
    thinnest: float


def _axis(
    breaks: Array,
    fluid: NDArray[np.bool_],
    lines: _Walls,
    fineness: Array,
    coarser: float,
    denser: Callable[[Array], Array] | None,
) -> Array:
    """Grid lines along one axis; `fluid` has the intervals of this axis as its last dimension, `fineness` one value each."""
    pieces = [breaks[:1]]
    layered, thinnest = lines.layered, lines.thinnest
    for i in range(breaks.size - 1):
        low, high = float(breaks[i]), float(breaks[i + 1])
        length = high - low
        stretch = max(length / thinnest, 1.0) ** _LENGTH_EXPONENT
        walls = (low in layered, high in layered)
        thin = min(lines.heights.get((low, 1), np.inf), lines.heights.get((high, -1), np.inf))
        if fluid[:, i].any() and np.isfinite(thin):
            cells, ratio = turbulent_spacing(length, sum(walls), thin)
            cells, fewest = cells * float(fineness[i]), _FEWEST_FLUID / coarser
        elif fluid[:, i].any():
            cells = (_CELLS_NO_WALL, _CELLS_ONE_WALL, _CELLS_TWO_WALLS)[sum(walls)] * stretch
            cells, fewest = cells * float(fineness[i]), _FEWEST_FLUID / coarser
            ratio = float(np.clip(20.0 * length / max(cells, fewest) / thinnest, 5.0, 80.0))
        else:
            base = _CELLS_THIN_SOLID if length <= thinnest else _CELLS_THICK_SOLID
            cells, fewest = base * stretch * float(fineness[i]), _FEWEST_SOLID / coarser
            ratio = 1.0 if length < 4.0 * thinnest else 4.0
        if denser is None:
            share = np.linspace(0.0, 1.0, max(round(max(cells, fewest)), 1) + 1)
        else:
            at = np.linspace(0.0, 1.0, _DENSITY_SAMPLES)
            factor = denser(low + length * graded_at(0.5 * (at[1:] + at[:-1]), walls, ratio))
            count = np.concatenate([[0.0], np.cumsum(factor)]) / factor.size
            number = max(round(max(cells * count[-1], fewest)), 1)
            share = np.interp(np.linspace(0.0, count[-1], number + 1), count, at)
        pieces.append(low + length * graded_at(share, walls, ratio)[1:])
        pieces[-1][-1] = high
    return np.concatenate(pieces)


def turbulent_spacing(length: float, walls: int, first: float) -> tuple[float, float]:
    """Cells across a turbulent stream at fineness 1, and how much thinner the first is than the last.

    Args:
        length: across the stream, m.
        walls: how many of its ends are walls.
        first: height of the cell next to them, m.
    """
    reach = length / max(walls, 1)
    growing = np.log1p(reach * (_TURBULENT_GROWTH - 1.0) / first) / np.log(_TURBULENT_GROWTH)
    one_sided = max(float(growing), _FEWEST_TURBULENT)
    return max(walls, 1) * one_sided, float(_TURBULENT_GROWTH**growing if growing > _FEWEST_TURBULENT else 1.0 + 1e-9)


def graded(cells: int, walls: tuple[bool, bool], ratio: float) -> Array:
    """Positions 0..1 of `cells + 1` lines, thinner by `ratio` at the ends that are walls."""
    return graded_at(np.linspace(0.0, 1.0, cells + 1), walls, ratio)


def graded_at(share: Array, walls: tuple[bool, bool], ratio: float) -> Array:
    """Positions 0..1 of lines whose number, counted from the first, is a `share` (0..1) of all: thinner by `ratio` at the ends
    that are walls."""
    if not any(walls) or abs(ratio - 1.0) < 1e-6:
        return share
    if all(walls):
        half = 2.0 * share - 1.0
        return np.asarray(0.5 * (1.0 + np.sign(half) * (1.0 - (ratio ** (1.0 - np.abs(half)) - 1.0) / (ratio - 1.0))))
    from_wall = share if walls[0] else 1.0 - share
    one_sided = (ratio**from_wall - 1.0) / (ratio - 1.0)
    return np.asarray(one_sided if walls[0] else 1.0 - one_sided)
