"""The face-based grid: polygons of any kind, flat with a depth or axisymmetric about y = 0.

Solvers see cells, faces with an owner and a neighbour, and vectors; nothing in it says two dimensions except the
length of the vectors, so that a grid in space can be added without touching the solvers' interfaces.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Index = NDArray[np.int64]

# Faces on the axis have no area; a tiny one keeps their direction defined.
_AXIS_RADIUS = 1e-9


@dataclass(frozen=True)
class Grid:
    """Cells and faces.

    Attributes:
        nodes: shape (n_nodes, 2), m.
        cell_start, cell_nodes: the polygon of cell i is `cell_nodes[cell_start[i]:cell_start[i+1]]`, anticlockwise.
        region: shape (n_cells,), index into `region_names`.
        face_start, face_nodes: the nodes of face f are `face_nodes[face_start[f]:face_start[f+1]]`; internal faces come first.
        owner, neighbour: shape (n_faces,), the cells on both sides; neighbour is -1 on the outside.
        area: shape (n_faces, 2), area vectors from owner to neighbour, m2.
        face_centre: shape (n_faces, 2); `centre`: shape (n_cells, 2), m.
        volume: shape (n_cells,), m3.
        groups: face indices per boundary or interface name; at an interface `a | b` the owners are in a.
        joined: of a module that repeats, the faces at its downstream end, whose neighbours are at its upstream end (see
            `grid.joining`); `period` (2,) leads from the upstream end to the downstream one, m.
        spacing: what the gridder was asked for, for the record.
    """

    nodes: Array
    cell_start: Index
    cell_nodes: Index
    region: Index
    region_names: tuple[str, ...]
    face_start: Index
    face_nodes: Index
    owner: Index
    neighbour: Index
    area: Array
    face_centre: Array
    centre: Array
    volume: Array
    groups: dict[str, Index]
    axisymmetric: bool
    depth: float
    spacing: dict[str, float] = field(default_factory=dict)
    joined: Index = field(default_factory=lambda: np.zeros(0, dtype=np.int64))
    period: Array = field(default_factory=lambda: np.zeros(2))

    @property
    def dimensions(self) -> int:
        """Length of its vectors."""
        return int(self.nodes.shape[1])

    @property
    def edges(self) -> Index:
        """The nodes at both ends of every face of a plane grid, shape (n_faces, 2)."""
        return self.face_nodes.reshape(-1, 2)

    @property
    def n_cells(self) -> int:
        """Number of cells."""
        return int(self.volume.size)

    @property
    def n_faces(self) -> int:
        """Number of faces."""
        return int(self.owner.size)

    @property
    def n_internal(self) -> int:
        """Number of faces with cells on both sides; they are the first ones."""
        return int(np.count_nonzero(self.neighbour >= 0))

    def way_between(self) -> Array:
        """From the owner's centre to the neighbour's (in the next module at joined faces), shape (n_faces, 2), m; 0 outside."""
        other = np.where(self.neighbour >= 0, self.neighbour, self.owner)
        way = self.centre[other] - self.centre[self.owner]
        way[self.joined] += self.period
        return np.asarray(way)

    def area_of(self, name: str) -> float:
        """Area of a named boundary or interface, m2."""
        return float(np.hypot(*self.area[self.groups[name]].T).sum())


@dataclass(frozen=True)
class Polygons:
    """Cells of a plane grid: nodes (n, 2) in m, and the polygon of each cell as in a `Grid`."""

    nodes: Array
    cell_start: Index
    cell_nodes: Index


def build_grid(
    polygons: Polygons,
    region: Index,
    region_names: Sequence[str],
    edge_side: NDArray[np.str_],
    *,
    axisymmetric: bool,
    depth: float,
    spacing: dict[str, float] | None = None,
) -> Grid:
    """Make a grid from polygons.

    Args:
        polygons: the cells.
        region: index of the region of each cell, shape (n_cells,).
        region_names: by index.
        edge_side: shape like `cell_nodes`; the side name of the edge that starts at that node, used where the edge
            turns out to be outside.
        axisymmetric: whether the section turns about y = 0; else it is flat.
        depth: of a flat section, m.
        spacing: what the gridder was asked for, for the record.

    Raises:
        ValueError: an edge belongs to more than two cells.
    """
    nodes, cell_start, cell_nodes = polygons.nodes, polygons.cell_start, polygons.cell_nodes
    n_cells = region.size
    count = np.diff(cell_start)
    cell_of_edge = np.repeat(np.arange(n_cells), count)
    following = np.arange(cell_nodes.size) + 1
    following[cell_start[1:] - 1] = cell_start[:-1]
    a, b = cell_nodes, cell_nodes[following]
    key = np.minimum(a, b) * np.int64(nodes.shape[0]) + np.maximum(a, b)
    order = np.argsort(key, kind="stable")
    same = key[order][1:] == key[order][:-1]
    if np.any(same[1:] & same[:-1]):
        raise ValueError("an edge belongs to more than two cells")
    first = order[:-1][same]
    second = order[1:][same]
    # An interface is told from its first part to its second: every face of it leads that way.
    turned = region[cell_of_edge[first]] > region[cell_of_edge[second]]
    first, second = np.where(turned, second, first), np.where(turned, first, second)
    lone = np.setdiff1d(np.arange(key.size), np.concatenate([first, second]), assume_unique=True)
    edges = np.concatenate([first, lone])
    ends = np.stack([a[edges], b[edges]], axis=1)
    owner = cell_of_edge[edges]
    neighbour = np.concatenate([cell_of_edge[second], np.full(lone.size, -1)]).astype(np.int64)

    face_centre, area = face_vectors(nodes, ends, axisymmetric, depth)
    plane_area, centre = _polygon_centres(nodes, cell_nodes, following, cell_of_edge, n_cells)
    volume = plane_area * (2.0 * np.pi * centre[:, 1] if axisymmetric else depth)

    groups = _interfaces(region, region_names, owner[: first.size], neighbour[: first.size])
    outer = np.arange(first.size, edges.size)
    sides = edge_side[lone]
    for part, side in sorted({(int(r), str(s)) for r, s in zip(region[owner[outer]], sides, strict=True)}):
        groups[f"{region_names[part]}, {side}"] = outer[(region[owner[outer]] == part) & (sides == side)]
    return Grid(
        nodes,
        cell_start,
        cell_nodes,
        region,
        tuple(region_names),
        np.arange(0, ends.size + 1, 2),
        ends.ravel(),
        owner,
        neighbour,
        area,
        face_centre,
        centre,
        volume,
        groups,
        axisymmetric,
        depth,
        spacing or {},
    )


def _interfaces(region: Index, region_names: Sequence[str], owner: Index, neighbour: Index) -> dict[str, Index]:
    """Inner faces between two regions, by both their names; `owner` and `neighbour` of the inner faces."""
    pair = np.stack([region[owner], region[neighbour]])
    low, high = pair.min(axis=0), pair.max(axis=0)
    between = np.unique(np.stack([low, high])[:, low != high], axis=1).T
    return {f"{region_names[p]} | {region_names[q]}": np.nonzero((low == p) & (high == q))[0] for p, q in between}


def face_vectors(nodes: Array, edges: Index, axisymmetric: bool, depth: float) -> tuple[Array, Array]:
    """Centres (m) and area vectors (m2) of faces, to the right of the way from their first node to their second."""
    start, end = nodes[edges[:, 0]], nodes[edges[:, 1]]
    centre = 0.5 * (start + end)
    along = end - start
    scale = float(np.ptp(nodes, axis=0).max())
    thickness = 2.0 * np.pi * np.maximum(centre[:, 1], _AXIS_RADIUS * scale) if axisymmetric else np.full(len(centre), depth)
    return centre, np.stack([along[:, 1], -along[:, 0]], axis=1) * thickness[:, None]


def _polygon_centres(nodes: Array, cell_nodes: Index, following: Index, cell: Index, n_cells: int) -> tuple[Array, Array]:
    """Plane areas and centroids of polygons by the shoelace formula, about each polygon's first node for accuracy."""
    first_edge = np.searchsorted(cell, np.arange(n_cells))
    origin = nodes[cell_nodes[first_edge]]
    p = nodes[cell_nodes] - origin[cell]
    q = nodes[cell_nodes[following]] - origin[cell]
    cross = p[:, 0] * q[:, 1] - q[:, 0] * p[:, 1]
    plane = 0.5 * np.bincount(cell, cross, n_cells)
    centre = np.stack([np.bincount(cell, (p[:, k] + q[:, k]) * cross, n_cells) for k in (0, 1)], axis=1)
    return np.asarray(plane, dtype=np.float64), origin + centre / (6.0 * plane[:, None])
