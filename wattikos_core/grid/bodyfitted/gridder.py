"""The body-fitted gridder: layers along walls in fluids, mapped rings and four-sided pieces, Voronoi cells elsewhere.

Every chain of the section is divided once, so that its two sides share their nodes; pieces of regions are then filled
one by one. A grid is given out only when it conforms exactly: outer faces are exactly the outer edges, and areas add up.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import LocalSize
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid.bodyfitted.chains import (
    angles_around,
    anticlockwise,
    count_of,
    fractions,
    points_along,
    shared_spacing,
    start_of,
    with_rows,
)
from wattikos_core.grid.bodyfitted.core import CoreCells, Unfilled, fill
from wattikos_core.grid.bodyfitted.layers import Folded, Loop, grow, heights
from wattikos_core.grid.bodyfitted.mapped import Mapping, mappings, opposite_groups, positive, transfinite
from wattikos_core.grid.bodyfitted.nodes import Cells, Nodes
from wattikos_core.grid.bodyfitted.regions import Piece, Use, pieces_of
from wattikos_core.grid.bodyfitted.seeds import outline_of_loops
from wattikos_core.grid.bodyfitted.sizes import SizeField, size_field
from wattikos_core.grid.bodyfitted.thickness import Layers, Shrunk, carries, layer_thickness, plan_layers
from wattikos_core.grid.density import ALONE, Family
from wattikos_core.grid.grid import Grid, Polygons, build_grid
from wattikos_core.grid.rectilinear import MAX_CELLS, graded, too_many_cells, turbulent_spacing
from wattikos_core.quantities.values import show
from wattikos_core.section import PaintedSection

Array = NDArray[np.float64]
Index = NDArray[np.int64]

# Rows of a layer and their growth at fineness 1; twice the fineness has twice the rows and the square root of the growth.
_ROWS = 6.0
_GROWTH = 1.25
_FEWEST_ROWS = 3
# Cells across mapped pieces: between two walls, beside one, and through solids.
_ACROSS_TWO_WALLS, _ACROSS_ONE_WALL, _ACROSS_SOLID = 24.0, 16.0, 4.0
_WALL_RATIO = 8.0
_ATTEMPTS = 14
_SHRINK = 0.7
_CORE_ATTEMPTS = 2
# Places with poor faces are gridded again with finer cells, a few times; the best grid is taken.
_REFINEMENTS = 5
_FINER = 0.6
_LEAST_DISTANCE = 0.05


def grid_outlines(
    section: PaintedSection,
    fineness: float,
    *,
    axisymmetric: bool = False,
    depth: float = 1.0,
    bare: Collection[str] = (),
    local: Sequence[LocalSize] = (),
    family: Family = ALONE,
    first: dict[str, float] | None = None,
) -> Grid:
    """Grid a painted section of any shapes.

    Args:
        section: the painted section.
        fineness: one number; doubling it halves every cell.
        axisymmetric: whether the section turns about y = 0; else it is flat.
        depth: of a flat section, m.
        bare: boundaries and interfaces that no layer need lie along.
        local: finer or coarser places.
        family: of the grids that it is compared with.
        first: height of first cells at fineness 1 along walls of parts whose flow is turbulent, m.

    Raises:
        CaseError: the section cannot be gridded, with the place; or the grid would be too large.
    """
    work = _Work(section, fineness, bare, local, family, first or {})
    best: Grid | None = None
    fewest = np.inf
    failed: Unfilled | None = None
    for _ in range(_REFINEMENTS):
        try:
            nodes, cells = work.run()
        except Unfilled as error:
            failed = error
            places = np.array([error.place])
        else:
            grid = _assembled(section, work, nodes, cells, axisymmetric, depth)
            places = _poor_places(grid)
            if len(places) < fewest:
                best, fewest = grid, len(places)
            if not len(places):
                break
        work.size.refine(places, _FINER * work.size.at(places))
    if best is None:
        assert failed is not None
        raise _refusal(*failed.place)
    return best


@dataclass
class _Divided:
    """Chains divided into edges: node numbers along each, and where nodes lie on it (m from its start)."""

    nodes: list[Index]
    places: list[Array]


class _Work:
    """One section on its way to a grid."""

    def __init__(
        self,
        section: PaintedSection,
        fineness: float,
        bare: Collection[str],
        local: Sequence[LocalSize],
        family: Family,
        first: dict[str, float],
    ) -> None:
        self.section = section
        self.chains = section.chains
        self.fineness = fineness
        self.pieces = pieces_of(self.chains, len(section.names))
        self.bare_names = set(bare)
        self.bare = {i for i, chain in enumerate(self.chains) if chain.name in bare}
        self.fewest_rows = max(round(_FEWEST_ROWS / family.coarser), 1)
        self.first = {index: first[name] for index, name in enumerate(section.names) if name in first}
        self.mapped = mappings(self.chains, self.pieces, [self._movable(piece) for piece in self.pieces])
        across = {(chain, self.pieces[m.piece].region) for m in self.mapped for chain in m.chains}
        self.size: SizeField = size_field(section, fineness, local, across, family.density)
        rows = self._rows_wanted()
        self.rows = max(round(rows * fineness), self.fewest_rows)
        self.shares = heights(self.rows, _GROWTH ** (rows / self.rows))
        self.groups = opposite_groups(len(self.chains), self.mapped)
        self.hanging: list[tuple[int, int, float, int]] = []

    def _rows_wanted(self) -> float:
        """Rows of layers at fineness 1: as many as lead from the thickest one to the first cells that turbulent streams need."""
        wanted = 0.0
        for chain, sizes in zip(self.chains, self.size.chains, strict=True):
            for region, gap in ((chain.left, sizes.gap_left), (chain.right, sizes.gap_right)):
                if region in self.first and chain.name not in self.bare_names:
                    thickness = float(layer_thickness(sizes.size, gap, self.fineness).max())
                    wanted = max(wanted, np.log1p(thickness * (_GROWTH - 1.0) / self.first[region]) / np.log(_GROWTH))
        if not self.first or not wanted:
            return _ROWS
        # Streams that are not turbulent have layers of their own, beside these.
        laminar = any(fluid and region not in self.first for region, fluid in enumerate(self.section.fluid))
        return max(wanted, _ROWS if laminar else _FEWEST_ROWS)

    def _spacing(self, length: float, ends: tuple[bool, bool], region: int, least: float) -> Array:
        """Places 0..1 of lines across a mapped piece of fluid between walls or beside one, at least so many."""
        if region in self.first:
            cells, ratio = turbulent_spacing(length, sum(ends), self.first[region])
            return graded(max(round(cells * self.fineness), round(least)), ends, ratio)
        wanted = (_ACROSS_TWO_WALLS if all(ends) else _ACROSS_ONE_WALL) * self.fineness
        return graded(max(round(wanted), round(least)), ends, _WALL_RATIO)

    def _movable(self, piece: Piece) -> bool:
        """Whether a piece may be mapped: not a fluid that is open to another fluid, whose layers it would have to carry."""
        if not self.section.fluid[piece.region]:
            return True
        for loop in piece.loops:
            for use in loop:
                chain = self.chains[use.chain]
                other = chain.right if chain.left == piece.region else chain.left
                if other >= 0 and self.section.fluid[other] and use.chain in self.bare:
                    return False
        return True

    def run(self) -> tuple[Nodes, Cells]:
        """Grid everything, with thinner layers where they do not fit."""
        shrunk: list[Shrunk] = []
        skipped: set[int] = set()
        mapped = {mapping.piece for mapping in self.mapped}
        for attempt in range(_ATTEMPTS):
            try:
                return self._attempt(shrunk, skipped | mapped, attempt)
            except Folded as error:
                for x, y in error.places[:50]:
                    reach = 4.0 * float(self.size.at(np.array([[x, y]]))[0]) * self.fineness
                    shrunk.append(Shrunk(float(x), float(y), reach, _SHRINK))
            if attempt == _ATTEMPTS - 3:
                skipped |= set(range(len(self.pieces)))
        x, y = shrunk[-1].x, shrunk[-1].y
        raise _refusal(x, y)

    def _attempt(self, shrunk: list[Shrunk], skipped: set[int], attempt: int) -> tuple[Nodes, Cells]:
        nodes, cells = Nodes(), Cells()
        self.hanging = []
        layers = plan_layers(self.chains, self.pieces, self.section.fluid, self.bare, self.size, shrunk, skipped)
        divided = self._divide(layers, nodes)
        loops: dict[int, list[Index]] = {}
        mapped = {mapping.piece for mapping in self.mapped}
        for index, piece in enumerate(self.pieces):
            if index not in mapped:
                loops[index] = [
                    grow(self._loop(piece, loop, layers, divided), piece.region, self.shares, nodes, cells) for loop in piece.loops
                ]
        cores = {index: _core_area(nodes, mine) for index, mine in loops.items()}
        for mapping in self.mapped:
            self._map(mapping, divided, nodes, cells)
        for index, mine in loops.items():
            self._fill(index, mine, cores[index], nodes, cells)
        return nodes, cells

    # Dividing chains

    def _divide(self, layers: Layers, nodes: Nodes) -> _Divided:
        places: list[Array | None] = [None] * len(self.chains)
        points: list[Array | None] = [None] * len(self.chains)
        for group in self.groups:
            self._divide_group(group, places, points)
        rows = self._carried(layers)
        for i, chain in enumerate(self.chains):
            if points[i] is not None:
                continue
            head, tail = rows.get((i, 0), np.zeros(0)), rows.get((i, 1), np.zeros(0))
            if head.size or tail.size:
                s = with_rows(chain, self.size.chains[i], head, tail)
            else:
                s = fractions(self.size.chains[i], count_of(chain, self.size.chains[i]))
            places[i], points[i] = s, points_along(chain, s)
        junction: dict[tuple[float, float], int] = {}
        numbers: list[Index] = []
        for chain, at in zip(self.chains, points, strict=True):
            assert at is not None
            inner = nodes.add(at[1:-1])
            if chain.closed:
                first = nodes.add(at[:1])
                numbers.append(np.concatenate([first, inner, first]))
                continue
            ends = []
            for which in (0, -1):
                key = (float(chain.points[which, 0]), float(chain.points[which, 1]))
                if key not in junction:
                    junction[key] = int(nodes.add(chain.points[which : which + 1 or None])[0])
                ends.append(junction[key])
            numbers.append(np.concatenate([ends[:1], inner, ends[1:]]))
        return _Divided(numbers, [place for place in places if place is not None])

    def _divide_group(self, group: list[tuple[int, bool]], places: list[Array | None], points: list[Array | None]) -> None:
        """Chains opposite each other: as many edges as the one that wants most, in the mean spacing of all."""
        chains = [self.chains[i] for i, _ in group]
        sizes = [self.size.chains[i] for i, _ in group]
        flipped = [flip for _, flip in group]
        walls = self._walls_across(group)
        if walls is None:
            fraction = shared_spacing(chains, sizes, flipped, 12 if chains[0].closed else self.fewest_rows)
        elif walls[1] and any(walls[0]):
            # A wall near counts in full; far walls are met by cells that the size field asks for.
            most = max(count_of(chain, size) for chain, size in zip(chains, sizes, strict=True))
            fraction = self._spacing(chains[0].length, walls[0], walls[2], most)
        else:
            fraction = shared_spacing(chains, sizes, flipped, max(round(_ACROSS_SOLID * self.fineness), self.fewest_rows))
        for (i, flip), chain in zip(group, chains, strict=True):
            if chain.closed:
                turn = fraction if anticlockwise(chain.points) else fraction[::-1]
                along = turn if anticlockwise(chain.points) else 1.0 - turn
                places[i] = (along - start_of(chain)) % 1.0 * chain.length
                points[i] = angles_around(chain, turn)
            else:
                along = (1.0 - fraction[::-1] if flip else fraction) * chain.length
                places[i] = along
                points[i] = points_along(chain, along)

    def _walls_across(self, group: list[tuple[int, bool]]) -> tuple[tuple[bool, bool], bool, int] | None:
        """For chains that cross mapped four-sided pieces: whether walls stand at their ends, whether fluid is between, and of which
        region it is: of a turbulent one, where there is any."""
        members = dict(group)
        ends = [False, False]
        fluid = False
        crossing, region = False, -1
        for mapping in self.mapped:
            if mapping.kind != "four":
                continue
            piece = self.pieces[mapping.piece]
            for k in range(4):
                i = mapping.chains[k]
                if i not in members:
                    continue
                sides = (mapping.chains[k - 1], mapping.chains[(k + 1) % 4])
                if sum(self.chains[side].length for side in sides) < 2.0 * self.chains[i].length:
                    continue
                crossing = True
                fluid |= self.section.fluid[piece.region]
                region = piece.region if region not in self.first else region
                along = mapping.forward[k] != members[i]
                for end, side in enumerate(sides if along else sides[::-1]):
                    ends[end] |= side not in self.bare and self.section.fluid[piece.region]
        return ((ends[0], ends[1]), fluid, region) if crossing else None

    def _carried(self, layers: Layers) -> dict[tuple[int, int], Array]:
        """Heights of the rows that open chains carry at their starts (0) and ends (1)."""
        rows: dict[tuple[int, int], Array] = {}
        for piece in self.pieces:
            for loop in piece.loops:
                for before, after in zip([loop[-1], *loop[:-1]], loop, strict=True):
                    wall_before, wall_after = ((use.chain, piece.region) in layers.walls for use in (before, after))
                    if wall_before == wall_after:
                        continue
                    wall, open_ = (before, after) if wall_before else (after, before)
                    sample = -1 if wall.forward == wall_before else 0
                    thickness = float(layers.thickness[wall.chain, piece.region][sample])
                    stretch = carries(self.chains, wall, open_, wall_before)
                    end = int(open_.forward != wall_before)
                    rows[open_.chain, end] = thickness * stretch * self.shares
        return rows

    def _loop(self, piece: Piece, loop: Sequence[Use], layers: Layers, divided: _Divided) -> Loop:
        numbers, wall, thickness = [], [], []
        for use in loop:
            mine = divided.nodes[use.chain] if use.forward else divided.nodes[use.chain][::-1]
            layered = (use.chain, piece.region) in layers.walls
            height = np.zeros(mine.size)
            if layered:
                height = layers.at(use.chain, piece.region, self.size.chains, divided.places[use.chain])
                height = height if use.forward else height[::-1]
            numbers.append(mine[:-1])
            wall.append(np.full(mine.size - 1, layered))
            thickness.append(height[:-1])
        return Loop(np.concatenate(numbers), np.concatenate(wall), np.concatenate(thickness))

    # Filling pieces

    def _map(self, mapping: Mapping, divided: _Divided, nodes: Nodes, cells: Cells) -> None:
        piece = self.pieces[mapping.piece]
        if mapping.kind == "four":
            sides = [
                divided.nodes[c] if f else divided.nodes[c][::-1] for c, f in zip(mapping.chains, mapping.forward, strict=True)
            ]
            lattice = transfinite([nodes.at(side) for side in sides])
            if not positive(lattice):
                x, y = lattice.reshape(-1, 2).mean(axis=0)
                raise _refusal(float(x), float(y))
            number = np.empty(lattice.shape[:2], dtype=np.int64)
            number[:, 0], number[-1], number[:, -1], number[0] = sides[0], sides[1], sides[2][::-1], sides[3][::-1]
            number[1:-1, 1:-1] = nodes.add(lattice[1:-1, 1:-1]).reshape(number[1:-1, 1:-1].shape)
            cells.add_lattice(piece.region, number)
            return
        outer, inner = (
            divided.nodes[c] if anticlockwise(self.chains[c].points) else divided.nodes[c][::-1] for c in mapping.chains
        )
        fluid = self.section.fluid[piece.region]
        a, b = nodes.at(inner), nodes.at(outer)
        gap = float(np.hypot(*(b - a).T).mean())
        size = float(min(self.size.chains[c].size.mean() for c in mapping.chains))
        if fluid:
            ends = (mapping.chains[1] not in self.bare, mapping.chains[0] not in self.bare)
            share = self._spacing(gap, ends, piece.region, max(gap / size, self.fewest_rows))
        else:
            count = max(round(gap / size), round(_ACROSS_SOLID * self.fineness), self.fewest_rows)
            share = np.linspace(0.0, 1.0, count + 1)
        lattice = a[:, None] + share[None, :, None] * (b - a)[:, None]
        number = np.empty(lattice.shape[:2], dtype=np.int64)
        number[:, 0], number[:, -1] = inner, outer
        number[:-1, 1:-1] = nodes.add(lattice[:-1, 1:-1]).reshape(number[:-1, 1:-1].shape)
        number[-1, 1:-1] = number[0, 1:-1]
        # Around anticlockwise, rows lead outwards, to the right.
        cells.add_lattice(piece.region, number[::-1])

    def _fill(self, index: int, loops: list[Index], core: object, nodes: Nodes, cells: Cells) -> None:
        piece = self.pieces[index]
        outline = outline_of_loops([nodes.at(loop) for loop in loops])
        fixed = np.concatenate(loops)
        failed: Unfilled | None = None
        for attempt in range(_CORE_ATTEMPTS):
            try:
                filled: CoreCells = fill(outline, core, self.size, attempt)
            except Unfilled as error:
                failed = error
                continue
            number = np.concatenate([fixed, nodes.add(filled.points[fixed.size :])])
            cells.add(piece.region, filled.size, number[filled.nodes])
            for edge, share, node in filled.on_edge:
                self.hanging.append((int(fixed[edge]), int(fixed[outline.following[edge]]), share, int(number[node])))
            return
        assert failed is not None
        raise failed


def _refusal(x: float, y: float) -> CaseError:
    where = f"x = {show(x, 'length')}, y = {show(y, 'length')}"
    return CaseError(
        InputProblem(
            "section.parts",
            f"the section cannot be gridded near {where}",
            "widen the gap or blunt the corner there, or choose a finer grid",
            (x, y),
        )
    )


def _poor_places(grid: Grid) -> Array:
    """Where a face does not lie well between its two cells, shape (n, 2)."""
    inner = grid.neighbour >= 0
    owner, neighbour = grid.owner[inner], grid.neighbour[inner]
    normal = grid.area[inner] / np.hypot(*grid.area[inner].T)[:, None]
    between = np.hypot(*(grid.centre[neighbour] - grid.centre[owner]).T)
    near = np.einsum("ij,ij->i", normal, grid.face_centre[inner] - grid.centre[owner])
    far = np.einsum("ij,ij->i", normal, grid.centre[neighbour] - grid.face_centre[inner])
    return np.asarray(grid.face_centre[inner][np.minimum(near, far) < _LEAST_DISTANCE * between])


def _core_area(nodes: Nodes, loops: list[Index]) -> object:
    """The area inside the layers as a prepared polygon; Folded where layers cross each other."""
    import shapely

    core = shapely.Polygon(nodes.at(loops[0]), [nodes.at(loop) for loop in loops[1:]])
    if not core.is_valid or not core.exterior.is_ccw:
        reason = shapely.is_valid_reason(core)
        _, bracket, rest = reason.partition("[")
        place = np.array([float(v) for v in rest.rstrip("]").split()]) if bracket else nodes.at(loops[0]).mean(axis=0)
        raise Folded(place[None])
    shapely.prepare(core)
    return core


def _assembled(section: PaintedSection, work: _Work, nodes: Nodes, cells: Cells, axisymmetric: bool, depth: float) -> Grid:
    """The grid of all cells, nodes that hang on one side of an edge taken over by the other, and everything checked."""
    size, corner = np.concatenate(cells.size), np.concatenate(cells.nodes)
    region = np.concatenate(cells.region)
    if size.size > MAX_CELLS:
        raise too_many_cells(work.fineness, size.size)
    size, corner = _with_hanging(size, corner, work.hanging)
    points = nodes.points()
    used, corner = np.unique(corner, return_inverse=True)
    start = np.concatenate([[0], np.cumsum(size)])
    side = _outer_sides(work, points[used], start, corner, region)
    try:
        grid = build_grid(
            Polygons(points[used], start, corner.astype(np.int64)),
            region,
            section.names,
            side,
            axisymmetric=axisymmetric,
            depth=depth,
            spacing={"fineness": work.fineness},
        )
    except ValueError as error:
        raise CaseError(
            InputProblem("section.parts", f"the section cannot be gridded ({error})", "change the fineness a little")
        ) from error
    _check_areas(section, grid)
    return grid


def _with_hanging(size: Index, corner: Index, hanging: list[tuple[int, int, float, int]]) -> tuple[Index, Index]:
    """Polygons with the nodes that lie on their edges put in."""
    if not hanging:
        return size, corner
    on: dict[tuple[int, int], list[tuple[float, int]]] = {}
    for a, b, share, node in hanging:
        on.setdefault((min(a, b), max(a, b)), []).append((share if a < b else 1.0 - share, node))
    between: dict[tuple[int, int], list[int]] = {}
    for (a, b), members in on.items():
        path = [a, *(node for _, node in sorted(members)), b]
        for i in range(len(path)):
            for j in range(i + 2, len(path)):
                between[path[i], path[j]] = path[i + 1 : j]
                between[path[j], path[i]] = path[i + 1 : j][::-1]
    start = np.concatenate([[0], np.cumsum(size)])
    following = np.arange(corner.size) + 1
    following[start[1:] - 1] = start[:-1]
    touched = np.array(sorted({n for pair in between for n in pair}))
    candidate = np.nonzero(np.isin(corner, touched) & np.isin(corner[following], touched))[0]
    inserts = [(int(e), between[key]) for e in candidate if (key := (int(corner[e]), int(corner[following[e]]))) in between]
    if not inserts:
        return size, corner
    cell = np.repeat(np.arange(size.size), size)
    size = size.copy()
    for edge, new in inserts:
        size[cell[edge]] += len(new)
    places = np.concatenate([np.full(len(new), edge + 1) for edge, new in inserts])
    values = np.concatenate([np.array(new) for _, new in inserts])
    return size, np.insert(corner, places, values)


def _outer_sides(work: _Work, points: Array, start: Index, corner: Index, region: Index) -> NDArray[np.str_]:
    """The side name of every edge that turns out to be outside, by the chain it lies on."""
    import shapely

    following = np.arange(corner.size) + 1
    following[start[1:] - 1] = start[:-1]
    a, b = corner, corner[following]
    big = np.int64(len(points))
    key, opposite = a * big + b, b * big + a
    lone = np.nonzero(~np.isin(key, opposite))[0]
    chains = [chain for chain in work.chains if chain.left < 0 or chain.right < 0]
    names = np.array([chain.side for chain in chains] or [""])
    side = np.full(corner.size, "", dtype=names.dtype)
    middle = 0.5 * (points[a[lone]] + points[b[lone]])
    owner = np.repeat(region, np.diff(start))[lone]
    mine = np.array([max(chain.left, chain.right) for chain in chains])
    for index in range(len(work.section.names)):
        own = np.nonzero(owner == index)[0]
        which = np.nonzero(mine == index)[0]
        if own.size == 0 or which.size == 0:
            continue
        tree = shapely.STRtree([shapely.LineString(chains[k].points) for k in which])
        side[lone[own]] = names[which[tree.nearest(shapely.points(middle[own]))]]
    return side


def _check_areas(section: PaintedSection, grid: Grid) -> None:
    """The outside of the grid is what the chains are, and areas add up to what their divided chains enclose."""
    plane = grid.volume / (2.0 * np.pi * grid.centre[:, 1] if grid.axisymmetric else grid.depth)
    if np.any(plane <= 0.0):
        x, y = grid.centre[int(np.argmin(plane))]
        raise _refusal(float(x), float(y))
    outer = np.nonzero(grid.neighbour < 0)[0]
    a, b = grid.nodes[grid.edges[outer, 0]], grid.nodes[grid.edges[outer, 1]]
    enclosed = 0.5 * float(np.sum(a[:, 0] * b[:, 1] - b[:, 0] * a[:, 1]))
    total = float(plane.sum())
    lengths = {name: 0.0 for name, boundary in section.boundaries.items() if not boundary.interface}
    for name, faces in grid.groups.items():
        ends = grid.nodes[grid.edges[faces]]
        lengths[name] = float(np.hypot(*(ends[:, 1] - ends[:, 0]).T).sum())
    for name, length in lengths.items():
        boundary = section.boundaries.get(name)
        exact = boundary.length if boundary is not None else 0.0
        # Chords are shorter than the curve they cut off; the section's own pieces of a curve are chords too, of 1 in 1000.
        if boundary is None or not 0.9 * exact <= length <= exact * 1.002:
            x, y = grid.face_centre[grid.groups[name]].mean(axis=0) if name in grid.groups else grid.nodes.mean(axis=0)
            raise _refusal(float(x), float(y))
    if abs(enclosed - total) > 1e-9 * total:
        raise _refusal(*map(float, grid.centre.mean(axis=0)))
