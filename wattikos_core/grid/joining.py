"""Modules that repeat: the two ends of a section joined, so that what leaves at one enters at the other.

The ends may be gridded differently: every face between them spans from node to node of both sides, so that the joined
grid conforms exactly whatever gridder, or file, the section's grid comes from.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid.grid import Array, Grid, Index, face_vectors

# Nodes of both ends closer than this share of the end's extent are the same.
_SAME = 1e-7
# Ends may bend or fail to fit by this share of their extent before they are refused.
_FIT = 1e-6


def join_ends(grid: Grid, upstream: Sequence[str], downstream: Sequence[str], field: str = "conditions") -> Grid:
    """The grid with its boundaries `downstream` joined to those `upstream`, which are the same straight lines one period before.

    Args:
        grid: cells and faces.
        upstream: names of the boundaries at the upstream end.
        downstream: names of those at the downstream end.
        field: of the condition that asks for it, for errors.

    Raises:
        CaseError: the ends are not straight, or one is not the other shifted.
    """
    ends = []
    for names in (upstream, downstream):
        missing = [name for name in names if name not in grid.groups]
        if missing:
            raise CaseError(InputProblem(f"{field}.boundaries", f"there is no boundary '{missing[0]}'", "choose another one"))
        ends.append(np.concatenate([grid.groups[name] for name in names]))
    first, last = ends
    extents = [_extent(grid, faces, names, field) for faces, names in zip(ends, (upstream, downstream), strict=True)]
    (start, stop), (start_last, stop_last) = extents
    along = stop - start
    if (stop_last - start_last) @ along < 0.0:
        start_last, stop_last = stop_last, start_last
    length = float(np.hypot(*along))
    period = start_last - start
    if float(np.abs(stop_last - stop - period).max()) > _FIT * length:
        problem = f"'{downstream[0]}' is not '{upstream[0]}' shifted: one end is {1e3 * length:.5g} mm long, the other "
        problem += f"{1e3 * float(np.hypot(*(stop_last - start_last))):.5g} mm, or they are not parallel"
        raise CaseError(InputProblem(f"{field}.downstream", problem, "cut the module along two equal, parallel straight lines"))
    unit = along / length
    low_first, high_first, cells_first = _spans(grid, first, start, unit)
    low_last, high_last, cells_last = _spans(grid, last, start_last, unit)
    marks = np.sort(np.concatenate([low_first, high_first, low_last, high_last]))
    marks = marks[np.concatenate([[True], np.diff(marks) > _SAME * length])]
    middle = 0.5 * (marks[1:] + marks[:-1])
    owner, neighbour = (
        _cell_at(middle, *spans) for spans in ((low_last, high_last, cells_last), (low_first, high_first, cells_first))
    )
    gaps = (owner < 0) != (neighbour < 0)
    other = (owner >= 0) & (neighbour >= 0) & (grid.region[owner] != grid.region[neighbour])
    for wrong, what in ((gaps, "ends there on one side only"), (other, "is made of one part here and of another there")):
        if wrong.any():
            x, y = start + unit * middle[np.argmax(wrong)]
            problem = f"the module {what}, at x {1e3 * x:.4g} mm, y {1e3 * y:.4g} mm"
            raise CaseError(
                InputProblem(
                    f"{field}.boundaries", problem, "let both ends cut the same parts at the same heights", (float(x), float(y))
                )
            )
    there = owner >= 0
    nodes, number = _with_marks(grid, start_last + unit * marks[:, None], last, _SAME * length)
    pairs = np.stack([number[:-1], number[1:]], axis=1)[there]
    return _joined(grid, nodes, pairs, owner[there], neighbour[there], np.concatenate(ends), period)


def _extent(grid: Grid, faces: Index, names: Sequence[str], field: str) -> tuple[Array, Array]:
    """The two tips of a straight end."""
    points = grid.nodes[np.unique(grid.edges[faces])]
    middle = points.mean(axis=0)
    direction = np.linalg.svd(points - middle)[2][0]
    place = (points - middle) @ direction
    start, stop = points[int(place.argmin())], points[int(place.argmax())]
    off = np.abs((points - start) @ np.array([-direction[1], direction[0]])).max()
    if off > _FIT * float(np.ptp(place)):
        raise CaseError(InputProblem(f"{field}.boundaries", f"'{names[0]}' is not straight", "cut the module along straight lines"))
    return start, stop


def _spans(grid: Grid, faces: Index, origin: Array, unit: Array) -> tuple[Array, Array, Index]:
    """From where to where along an end each of its faces lies, in order, and its cell."""
    place = (grid.nodes[grid.edges[faces]] - origin) @ unit
    order = np.argsort(place.min(axis=1))
    return place.min(axis=1)[order], place.max(axis=1)[order], grid.owner[faces][order]


def _cell_at(place: Array, low: Array, high: Array, cells: Index) -> Index:
    """The cell beside each place along an end, -1 where there is none."""
    span = np.maximum(np.searchsorted(low, place, side="right") - 1, 0)
    return np.where((place > low[span]) & (place < high[span]), cells[span], -1).astype(np.int64)


def _with_marks(grid: Grid, points: Array, faces: Index, same: float) -> tuple[Array, Index]:
    """All nodes with those at `points` that the end did not have, and the number of the node at each point."""
    own = np.unique(grid.edges[faces])
    distance = np.hypot(*(points[:, None] - grid.nodes[own][None]).transpose(2, 0, 1))
    nearest = distance.argmin(axis=1)
    known = distance.min(axis=1) <= 2.0 * same
    number = own[nearest]
    number[~known] = grid.nodes.shape[0] + np.arange(int((~known).sum()))
    return np.concatenate([grid.nodes, points[~known]]), number


def _joined(grid: Grid, nodes: Array, pairs: Index, owner: Index, neighbour: Index, gone: Index, period: Array) -> Grid:
    """The grid without the faces `gone`, and with joined ones after its other internal faces."""
    kept = np.setdiff1d(np.arange(grid.n_faces), gone)
    inner = grid.neighbour[kept] >= 0
    before, after = kept[inner], kept[~inner]
    # Seen from the downstream end's cells, faces lead out of the module: anticlockwise around their owner.
    ahead = nodes[pairs[:, 1]] - nodes[pairs[:, 0]]
    outward = ahead[:, 1] * period[0] - ahead[:, 0] * period[1] > 0.0
    pairs = np.where(outward[:, None], pairs, pairs[:, ::-1])
    edges = np.concatenate([grid.edges[before], pairs, grid.edges[after]])
    centre, area = face_vectors(nodes, edges, grid.axisymmetric, grid.depth)
    moved = np.full(grid.n_faces, -1, dtype=np.int64)
    moved[before], moved[after] = np.arange(before.size), before.size + len(pairs) + np.arange(after.size)
    groups = {name: moved[faces] for name, faces in grid.groups.items()}
    return replace(
        grid,
        nodes=nodes,
        face_start=np.arange(0, edges.size + 1, 2),
        face_nodes=edges.ravel(),
        owner=np.concatenate([grid.owner[before], owner, grid.owner[after]]),
        neighbour=np.concatenate([grid.neighbour[before], neighbour, grid.neighbour[after]]),
        area=area,
        face_centre=centre,
        groups={name: faces for name, faces in groups.items() if (faces >= 0).all()},
        joined=before.size + np.arange(len(pairs)),
        period=period,
    )
