"""The core of a region: Voronoi cells that end exactly on its boundary.

The diagram of all seeds and mirror images gives cells whose outer edges are the boundary's own. Where the images are
not enough (sharp corners, narrow gaps), the cells concerned are cut from the diagram of the inner seeds by the core
itself; what is shared with their neighbours keeps its nodes, and nodes that come to lie on a boundary edge are told, so
that the other side of the edge can take them over.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid.bodyfitted.clusters import joined
from wattikos_core.grid.bodyfitted.seeds import BoundarySeeds, Outline, boundary_seeds, inner_seeds
from wattikos_core.grid.bodyfitted.sizes import SizeField

Array = NDArray[np.float64]
Index = NDArray[np.int64]

# A Voronoi vertex this near to a boundary vertex (as a share of its circle) is that vertex.
_SAME = 1e-6
_SHORT_EDGE = 0.04
# Steps of relaxing, and how far from the boundary, in distances between seeds, they move and hold.
_RELAXING, _MOVING, _HOLDING = 10, 3.5, 7.0
# A node on a boundary edge moves to an end of the edge that is nearer than this share of it.
_TO_VERTEX = 0.3


class Unfilled(Exception):
    """A core that could not be filled, with the place where cells and boundary disagree."""

    def __init__(self, x: float, y: float) -> None:
        super().__init__(f"at {x:g}, {y:g}")
        self.place = (x, y)


@dataclass
class CoreCells:
    """Polygons of a core.

    Attributes:
        points: shape (n, 2): the outline's vertices first, then new nodes.
        size, nodes: corners of each polygon, and their numbers one after the other.
        on_edge: new nodes that lie on an outline edge: (number of the edge, share of its length, number of the node).
    """

    points: Array
    size: Index
    nodes: Index
    on_edge: list[tuple[int, float, int]] = field(default_factory=list)


def fill(outline: Outline, core: Any, size: SizeField, attempt: int = 0) -> CoreCells:
    """Fill a core with cells.

    Args:
        outline: the boundary with its edges.
        core: the area inside the outline as a prepared shapely polygon.
        size: wanted sizes of cells.
        attempt: number of the attempt.

    Raises:
        Unfilled: cells and boundary do not fit together.
    """
    border = boundary_seeds(outline)
    inner = inner_seeds(core, size, border, outline, attempt)
    inner = _relaxed(border, inner, _RELAXING if attempt == 0 else 1)
    seeds = np.concatenate([border.inside, inner])
    diagram = _Diagram(np.concatenate([seeds, border.mirrored]), len(seeds))
    vertex = _outline_vertices(diagram, outline, border)
    number, points = _identify(diagram, outline, vertex)
    polygons = diagram.polygons(number)
    bad = _leaking(diagram, outline, vertex) | _bad_cells(polygons, outline, len(seeds))
    if not bad.any():
        size_, nodes = _packed(polygons, ~bad)
        return CoreCells(*_compact(points, size_, nodes, len(outline.points)))
    return _repaired(outline, core, seeds, diagram, number, points, polygons, bad)


def _relaxed(border: BoundarySeeds, inner: Array, steps: int) -> Array:
    """Inner seeds near the boundary moved to the middle of their cells (steps of Lloyd 1982): where cells meet a wall unevenly,
    small forces on it scatter from grid to grid."""
    from scipy.spatial import cKDTree

    if len(inner) < 4:
        return inner
    distance, _ = cKDTree(border.inside).query(inner)
    span = np.minimum(cKDTree(inner).query(inner, k=2)[0][:, 1], distance)
    # Beyond the seeds that move stand those that hold them.
    around = np.nonzero(distance < _HOLDING * span)[0]
    moving = distance[around] < _MOVING * span[around]
    first = len(border.inside)
    seeds = np.concatenate([border.inside, inner[around]])
    for _ in range(steps):
        diagram = _Diagram(np.concatenate([seeds, border.mirrored]), len(seeds))
        centroid, area = diagram.centroids()
        move = (centroid - seeds)[first:]
        near = moving & (np.hypot(*move.T) < 0.5 * np.sqrt(np.maximum(area[first:], 0.0)))
        seeds[first:][near] += move[near]
    relaxed = inner.copy()
    relaxed[around] = seeds[first:]
    return relaxed


class _Diagram:
    """The Voronoi diagram of points, of which the first `count` have cells that are wanted."""

    def __init__(self, points: Array, count: int) -> None:
        from scipy.spatial import Delaunay

        self.points = points
        self.count = count
        triangulation = Delaunay(points)
        self.triangles = triangulation.simplices.astype(np.int64)
        self.neighbours = triangulation.neighbors.astype(np.int64)
        self.centre = _circumcentres(points, self.triangles)

    @cached_property
    def around(self) -> tuple[Index, Index]:
        """The triangles around each wanted seed in turn, one seed after the other, and where each seed's begin."""
        seed = self.triangles.ravel()
        triangle = np.repeat(np.arange(len(self.triangles)), 3)
        wanted = seed < self.count
        seed, triangle = seed[wanted], triangle[wanted]
        # Around a seed, triangles follow each other by the direction of their middle.
        out = self.points[self.triangles[triangle]].mean(axis=1) - self.points[seed]
        order = np.lexsort((np.arctan2(out[:, 1], out[:, 0]), seed))
        return triangle[order], np.searchsorted(seed[order], np.arange(self.count + 1))

    def polygons(self, number: Index) -> tuple[Index, Index]:
        """Start of each cell's corners, and their node numbers; corners that fall together appear once."""
        triangle, start = self.around
        nodes = number[triangle]
        following = np.arange(nodes.size) + 1
        following[start[1:] - 1] = start[:-1]
        keep = nodes != nodes[following]
        kept = np.concatenate([[0], np.cumsum(keep)])
        return kept[start], nodes[keep]

    def centroids(self) -> tuple[Array, Array]:
        """Centroid and area of each wanted cell, from the kites that triangles give to the cells of their corners."""
        area, moment = np.zeros(self.count), np.zeros((self.count, 2))
        for k in range(3):
            seed = self.triangles[:, k]
            wanted = seed < self.count
            seed = seed[wanted]
            origin = self.points[seed]
            middle = self.centre[wanted] - origin
            half, other_half = (0.5 * (self.points[self.triangles[wanted, (k + j) % 3]] - origin) for j in (1, 2))
            for a, b in ((half, middle), (middle, other_half)):
                cross = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
                area += np.bincount(seed, 0.5 * cross, self.count)
                for j in (0, 1):
                    moment[:, j] += np.bincount(seed, (a[:, j] + b[:, j]) * cross / 6.0, self.count)
        safe = np.where(np.abs(area) > 0.0, area, 1.0)
        return self.points[: self.count] + moment / safe[:, None], area


def _circumcentres(points: Array, triangles: Index) -> Array:
    a, b, c = (points[triangles[:, k]] for k in range(3))
    p, q = b - a, c - a
    cross = 2.0 * (p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0])
    cross = np.where(np.abs(cross) > 0.0, cross, 1e-300)
    pp, qq = (p * p).sum(axis=1), (q * q).sum(axis=1)
    offset = np.stack([q[:, 1] * pp - p[:, 1] * qq, p[:, 0] * qq - q[:, 0] * pp], axis=1) / cross[:, None]
    # Triangles of points in a line, along the hull of the images, have none.
    far = 1e3 * float(np.ptp(points, axis=0).max())
    return np.asarray(a + np.clip(np.nan_to_num(offset), -far, far))


def _outline_vertices(diagram: _Diagram, outline: Outline, border: BoundarySeeds) -> Index:
    """The outline vertex each Voronoi vertex is, -1 for none."""
    from scipy.spatial import cKDTree

    distance, nearest = cKDTree(outline.points).query(diagram.centre)
    return np.where(distance < _SAME * border.radius[nearest], nearest, -1)


def _leaking(diagram: _Diagram, outline: Outline, vertex: Index) -> NDArray[np.bool_]:
    """Cells that meet a mirror image in anything but an edge of the outline."""
    bad = np.zeros(diagram.count, dtype=bool)
    for k in range(3):
        other = diagram.neighbours[:, k]
        a, b = diagram.triangles[:, (k + 1) % 3], diagram.triangles[:, (k + 2) % 3]
        mixed = (a < diagram.count) != (b < diagram.count)
        v, w = vertex, np.where(other >= 0, vertex[other], -1)
        known = (v >= 0) & (w >= 0)
        right = known & ((v == w) | (outline.following[v] == w) | (outline.following[w] == v))
        bad[np.minimum(a, b)[mixed & ~right]] = True
    return bad


def _identify(diagram: _Diagram, outline: Outline, vertex: Index) -> tuple[Index, Array]:
    """A node for each Voronoi vertex: a boundary vertex, or one of its own that short edges may share.

    Returns:
        the node of each triangle, and the positions of all nodes, boundary vertices first.
    """
    n = len(outline.points)
    _, area = diagram.centroids()
    first, second, short = [], [], []
    for k in range(3):
        other = diagram.neighbours[:, k]
        mine = np.arange(len(other))
        pair = np.nonzero(other > mine)[0]
        # The two seeds whose cells meet in the edge between the two Voronoi vertices.
        a, b = diagram.triangles[pair, (k + 1) % 3], diagram.triangles[pair, (k + 2) % 3]
        inside = (a < diagram.count) | (b < diagram.count)
        pair, a, b = pair[inside], a[inside], b[inside]
        area_a = np.where(a < diagram.count, area[np.minimum(a, diagram.count - 1)], np.inf)
        area_b = np.where(b < diagram.count, area[np.minimum(b, diagram.count - 1)], np.inf)
        span = np.hypot(*(diagram.centre[pair] - diagram.centre[other[pair]]).T)
        close = span < _SHORT_EDGE * np.sqrt(np.maximum(np.minimum(area_a, area_b), 0.0))
        first.append(pair[close])
        second.append(other[pair[close]])
        short.append(span[close])
    order = np.argsort(np.concatenate(short), kind="stable")
    cluster = joined(np.concatenate(first)[order], np.concatenate(second)[order], vertex.copy())
    _, number = np.unique(cluster, return_inverse=True)
    count = int(number.max()) + 1
    weight = np.bincount(number, minlength=count)
    place = np.stack([np.bincount(number, diagram.centre[:, k], count) for k in (0, 1)], axis=1) / weight[:, None]
    at = np.full(count, -1, dtype=np.int64)
    known = vertex >= 0
    at[number[known]] = vertex[known]
    node = np.where(at >= 0, at, n + np.cumsum(at < 0) - 1)
    return node[number], np.concatenate([outline.points, place[at < 0]])


def _edges(polygons: tuple[Index, Index]) -> tuple[Index, Index, Index]:
    """Cell, start node and end node of every polygon edge."""
    start, nodes = polygons
    cell = np.repeat(np.arange(start.size - 1), np.diff(start))
    following = np.arange(nodes.size) + 1
    full = np.diff(start) > 0
    following[start[1:][full] - 1] = start[:-1][full]
    return cell, nodes, nodes[following]


def _lone(a: Index, b: Index) -> NDArray[np.bool_]:
    """Which directed edges have no counterpart."""
    big = np.int64(max(int(a.max()), int(b.max())) + 1)
    return ~np.isin(a * big + b, b * big + a)


def _bad_cells(polygons: tuple[Index, Index], outline: Outline, count: int) -> NDArray[np.bool_]:
    """Cells with an outer edge that is no edge of the outline, or that have too few corners."""
    cell, a, b = _edges(polygons)
    lone = _lone(a, b)
    n = len(outline.points)
    right = (a < n) & (b < n) & (outline.following[np.minimum(a, n - 1)] == b)
    bad = np.zeros(count, dtype=bool)
    bad[cell[lone & ~right]] = True
    bad |= np.diff(polygons[0]) < 3
    return bad


def _packed(polygons: tuple[Index, Index], chosen: NDArray[np.bool_]) -> tuple[Index, Index]:
    start, nodes = polygons
    size = np.diff(start)
    return size[chosen], nodes[np.repeat(chosen, size)]


def _compact(points: Array, size: Index, nodes: Index, fixed: int) -> tuple[Array, Index, Index]:
    """Leave out nodes that no polygon uses; the first `fixed` stay."""
    used = np.zeros(len(points), dtype=bool)
    used[:fixed] = True
    used[nodes] = True
    new = np.cumsum(used) - 1
    return points[used], size, new[nodes]


def _repaired(
    outline: Outline,
    core: Any,
    seeds: Array,
    diagram: _Diagram,
    number: Index,
    points: Array,
    polygons: tuple[Index, Index],
    bad: NDArray[np.bool_],
) -> CoreCells:
    """Cut the bad cells from the diagram of the inner seeds alone."""
    import shapely
    from scipy.spatial import cKDTree

    scale = float(np.ptp(outline.points, axis=0).max())
    middle = outline.points.mean(axis=0)
    far = middle + 50.0 * scale * np.array([(1, 0), (0, 1), (-1, 0), (0, -1)])
    plain = _Diagram(np.concatenate([seeds, far]), len(seeds))
    triangle, start = plain.around
    raw = []
    for seed in np.nonzero(bad)[0]:
        corners = plain.centre[triangle[start[seed] : start[seed + 1]]]
        cell = shapely.Polygon(corners)
        # Corners that coincide up to round-off may come in the wrong order; cells are convex all the same.
        raw.append(cell if cell.is_valid else cell.convex_hull)
    cut = shapely.intersection(np.array(raw, dtype=object), core)
    pieces = _whole_pieces(cut, seeds[bad])
    # Nodes of the cut cells: those of the first diagram where they are the same, outline vertices, or new ones.
    known = cKDTree(diagram.centre)
    vertices = cKDTree(outline.points)
    rings = [np.asarray(piece.exterior.coords)[:-1] for piece in pieces]
    rings = [ring if _area(ring) > 0.0 else ring[::-1] for ring in rings]
    coordinates = np.concatenate(rings)
    tolerance = 1e-8 * scale
    to_vertex, vertex = vertices.query(coordinates)
    to_known, nearest = known.query(coordinates)
    edge, share = _on_outline(outline, coordinates, tolerance)
    # Nodes on the outline go to its vertices where these are near.
    ahead = (edge >= 0) & (share > 1.0 - _TO_VERTEX)
    back = (edge >= 0) & (share < _TO_VERTEX)
    number_of = np.full(len(coordinates), -1, dtype=np.int64)
    number_of[back] = edge[back]
    number_of[ahead] = outline.following[edge[ahead]]
    near = to_vertex < tolerance
    number_of[near] = vertex[near]
    same = (number_of < 0) & (edge < 0) & (to_known < tolerance)
    number_of[same] = number[nearest[same]]
    fresh = np.nonzero(number_of < 0)[0]
    new_points = np.zeros((0, 2))
    on_edge: list[tuple[int, float, int]] = []
    if fresh.size:
        label = _grouped(coordinates[fresh], tolerance)
        number_of[fresh] = len(points) + label
        first = np.unique(label, return_index=True)[1]
        new_points = coordinates[fresh[first]]
        on_edge = [(int(edge[fresh[i]]), float(share[fresh[i]]), int(len(points) + label[i])) for i in first if edge[fresh[i]] >= 0]
    size, nodes = _packed(polygons, ~bad)
    all_size, all_nodes = [size], [nodes]
    at = 0
    for ring in rings:
        mine = number_of[at : at + len(ring)]
        at += len(ring)
        mine = mine[mine != np.roll(mine, -1)]
        if len(mine) >= 3:
            all_size.append(np.array([len(mine)]))
            all_nodes.append(mine)
    size, nodes = np.concatenate(all_size), np.concatenate(all_nodes)
    points = np.concatenate([points, new_points])
    _check(outline, points, size, nodes, on_edge)
    used = np.zeros(len(points), dtype=bool)
    used[: len(outline.points)] = True
    used[nodes] = True
    new = np.cumsum(used) - 1
    return CoreCells(points[used], size, new[nodes], [(e, t, int(new[k])) for e, t, k in on_edge if used[k]])


def _whole_pieces(cut: Any, seeds: Array) -> list[Any]:
    """Polygons from cut cells; what is cut off from its seed joins the cell it shares most of its outline with."""
    import shapely

    main: list[Any] = []
    loose: list[Any] = []
    for shape, seed in zip(cut, seeds, strict=True):
        parts = [part for part in shapely.get_parts(shape) if part.geom_type == "Polygon" and part.area > 0.0]
        if not parts:
            continue
        parts.sort(key=lambda part: (part.distance(shapely.Point(seed)), -part.area))
        main.append(parts[0])
        loose += parts[1:]
    mean = float(np.mean([part.area for part in main])) if main else 0.0
    for part in loose:
        if part.area > 0.05 * mean:
            main.append(part)
            continue
        shared = [candidate.intersection(part).length for candidate in main]
        best = int(np.argmax(shared))
        joined = shapely.union(main[best], part)
        if joined.geom_type == "Polygon":
            main[best] = joined
        elif part.area > 1e-9 * mean:
            main.append(part)
    return main


def _on_outline(outline: Outline, points: Array, tolerance: float) -> tuple[Index, Array]:
    """The outline edge each point lies on (-1 for none), and its share of the edge's length."""
    import shapely

    a, b = outline.points, outline.points[outline.following]
    tree = shapely.STRtree(shapely.linestrings(np.stack([a, b], axis=1)))
    point, edge = tree.query(shapely.points(points), predicate="dwithin", distance=tolerance)
    found = np.full(len(points), -1, dtype=np.int64)
    found[point] = edge
    used = np.maximum(found, 0)
    along = b[used] - a[used]
    share = ((points - a[used]) * along).sum(axis=1) / (along * along).sum(axis=1)
    return found, share


def _grouped(points: Array, tolerance: float) -> Index:
    """A number for each point, the same for points that coincide."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components
    from scipy.spatial import cKDTree

    pairs = cKDTree(points).query_pairs(2.0 * tolerance, output_type="ndarray")
    links = coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(len(points), len(points)))
    label: Index = connected_components(links, directed=False)[1].astype(np.int64)
    return label


def _area(ring: Array) -> float:
    x, y = ring.T
    return 0.5 * float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))


def _check(outline: Outline, points: Array, size: Index, nodes: Index, on_edge: list[tuple[int, float, int]]) -> None:
    """Raise Unfilled unless the polygons' outer edges are pieces of the outline, all of it, each once."""
    start = np.concatenate([[0], np.cumsum(size)])
    _, a, b = _edges((start, nodes))
    lone = _lone(a, b)
    a, b = a[lone], b[lone]
    allowed: set[tuple[int, int]] = set()
    between: dict[int, list[tuple[float, int]]] = {}
    for edge, share, node in on_edge:
        between.setdefault(edge, []).append((share, node))
    for edge in range(len(outline.points)):
        path = [edge, *(node for _, node in sorted(between.get(edge, []))), int(outline.following[edge])]
        allowed |= set(itertools.pairwise(path))
    found = list(zip(a.tolist(), b.tolist(), strict=True))
    for pair in [*(p for p in found if p not in allowed), *(allowed - set(found))]:
        x, y = 0.5 * (points[pair[0]] + points[pair[1]])
        raise Unfilled(float(x), float(y))
    if len(found) != len(set(found)):
        raise Unfilled(*outline.points[0])
