"""Painting shapes of any kind: all outlines are noded once, faces labelled in painter's order, edges put into chains.

The outlines are never cut shape by shape: they are noded together on a fine lattice and polygonized, each face takes
the label of the last part that covers it, and edges with the same label on both sides are dropped.
"""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import ResolvedCase, ResolvedPart
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities.values import show
from wattikos_core.section.painted import Array, Boundary, Chain, PaintedSection
from wattikos_core.section.shapes import Edge, outline_of, polygon_points

Index = NDArray[np.int64]

# Shares of the section's diagonal: the lattice of the nodes, what counts as on an edge, and the thinnest face.
_LATTICE = 1e-9
_ON_EDGE = 2e-7
_THINNEST = 2e-6
# Chains break where the outline turns by more than this.
_CORNER = np.radians(25.0)


@dataclass(frozen=True)
class _Drawn:
    """A case by what is drawn alone: cases that differ in something else are painted alike."""

    what: tuple[Hashable, ...]
    resolved: ResolvedCase = field(compare=False)


def paint_outlines(resolved: ResolvedCase) -> PaintedSection:
    """Paint a case with shapes of any kind; one that was painted a moment ago, with other temperatures say, is remembered.

    Raises:
        CaseError: a shape crosses itself, or what is left somewhere is thinner than anything can be.
    """
    return _painted(_Drawn((resolved.axisymmetric, *(_drawn(part) for part in resolved.parts)), resolved))


def _drawn(part: ResolvedPart) -> tuple[Hashable, ...]:
    """All of a part that its place and outline depend on, and whether it is a void, a fluid or a solid."""
    kind = None if part.table is None else part.table.fluid
    size, divided = tuple(sorted(part.size.items())), tuple(sorted(part.divided.items()))
    loops = tuple(loop.tobytes() for loop in part.loops)
    return (part.name, part.field, kind, part.shape, part.x, part.y, size, divided, loops, part.angle, part.mirror, part.placement)


@lru_cache(maxsize=16)
def _painted(drawn: _Drawn) -> PaintedSection:
    import shapely

    resolved = drawn.resolved

    loops = {part.name: outline_of(part) for part in resolved.parts}
    shapes = [_polygon(part, loops[part.name], resolved.axisymmetric) for part in resolved.parts]
    x0, y0, x1, y1 = shapely.total_bounds(shapely.geometrycollections(shapes))
    diagonal = float(np.hypot(x1 - x0, y1 - y0))
    lattice = _LATTICE * diagonal
    noded = shapely.unary_union([s.boundary for s in shapes], grid_size=lattice)
    lines = [line for line in shapely.get_parts(noded) if line.geom_type == "LineString"]
    faces = list(shapely.get_parts(shapely.polygonize(lines)))
    label = _labels(faces, shapes)
    bodies = [i for i, part in enumerate(resolved.parts) if part.table is not None]
    region = np.full(len(shapes) + 1, -1, dtype=np.int64)
    region[bodies] = np.arange(len(bodies))
    regions = region[label]
    if not np.any(regions >= 0):
        problem = f"nothing is left of a section of {show(diagonal, 'length')} across"
        remedy = "give its parts sizes of one kind, and let voids leave something"
        raise CaseError(InputProblem("section.parts", problem, remedy))
    _refuse_slivers(faces, regions, diagonal)
    names = tuple(part.name for part in resolved.bodies)
    segments = _segments(faces, regions, lattice)
    side = _sides(segments, resolved.parts, loops, bodies, diagonal)
    chains = tuple(_chains(names, *segments, side))
    fluid = tuple(part.material.fluid for part in resolved.bodies)
    return PaintedSection(names, fluid, _boundaries(names, chains), _rings(names, faces, regions), None, chains)


def _polygon(part: ResolvedPart, loops: list[list[Edge]], axisymmetric: bool) -> Any:
    """The area of a part, above the axis only when there is one."""
    import shapely

    rings = [shapely.Polygon(polygon_points(loop)) for loop in loops]
    for ring in rings:
        if not ring.is_valid:
            reason = shapely.is_valid_reason(ring)
            raise CaseError(
                InputProblem(
                    f"{part.field}.shape",
                    f"the outline of '{part.name}' crosses itself ({reason})",
                    "move its points apart",
                    _place_in(reason),
                )
            )
        if ring.area <= 0.0:
            raise CaseError(InputProblem(f"{part.field}.shape", f"'{part.name}' has no area", "give it a size"))
    shape = rings[0]
    for ring in rings[1:]:
        shape = shape.symmetric_difference(ring)
    if axisymmetric and shape.bounds[1] < 0.0:
        low_x, _low_y, high_x, high_y = shape.bounds
        width = high_x - low_x
        shape = shape.intersection(shapely.box(low_x - width, 0.0, high_x + width, max(high_y, 0.0) + width))
        if shape.is_empty or shape.area == 0.0:
            raise CaseError(
                InputProblem(f"{part.field}.shape", f"'{part.name}' lies below the axis", "an axisymmetric section lies at y ≥ 0")
            )
    return shape


def _place_in(reason: str) -> tuple[float, float] | None:
    """The coordinates at the end of a sentence like `Self-intersection[0.5 0.5]`."""
    _, bracket, rest = reason.partition("[")
    numbers = rest.rstrip("]").split()
    return (float(numbers[0]), float(numbers[1])) if bracket and len(numbers) == 2 else None


def _labels(faces: list[Any], shapes: list[Any]) -> Index:
    """Index of the last shape over each face, -1 where there is none."""
    import shapely

    inside = shapely.point_on_surface(np.array(faces, dtype=object))
    x, y = shapely.get_x(inside), shapely.get_y(inside)
    label = np.full(len(faces), -1, dtype=np.int64)
    for index, shape in enumerate(shapes):
        shapely.prepare(shape)
        label[shapely.contains_xy(shape, x, y)] = index
    return label


def _refuse_slivers(faces: list[Any], regions: Index, diagonal: float) -> None:
    for face, region in zip(faces, regions, strict=True):
        if region >= 0 and 2.0 * face.area / face.length < _THINNEST * diagonal:
            x, y = face.centroid.x, face.centroid.y
            raise CaseError(
                InputProblem(
                    "section.parts",
                    f"what is left between edges at x = {show(x, 'length')}, y = {show(y, 'length')} is only "
                    f"{2.0 * face.area / face.length:.2g} m thin",
                    "let the parts touch exactly, or leave a real gap",
                    (x, y),
                )
            )


class _Segments(NamedTuple):
    """Nodes (n, 2), m, and segments between them: start, end, and the region on the left and on the right, -1 outside."""

    node: Array
    start: Index
    end: Index
    left: Index
    right: Index


def _segments(faces: list[Any], regions: Index, lattice: float) -> _Segments:
    """The segments between different regions."""
    import shapely

    oriented = shapely.orient_polygons(np.array(faces, dtype=object))
    rings, owner = shapely.get_rings(oriented, return_index=True)
    points, ring = shapely.get_coordinates(rings, return_index=True)
    whole = np.round(points / lattice).astype(np.int64)
    _, first, number = np.unique(whole[:, 0] * np.int64(2**32) + whole[:, 1], return_index=True, return_inverse=True)
    node = points[first]
    inner = ring[1:] == ring[:-1]
    a, b = number[:-1][inner], number[1:][inner]
    face = regions[owner[ring[:-1][inner]]]
    different = a != b
    a, b, face = a[different], b[different], face[different]
    low, high = np.minimum(a, b), np.maximum(a, b)
    _, place, key = np.unique(low * np.int64(len(node)) + high, return_index=True, return_inverse=True)
    start, end = low[place], high[place]
    left, right = np.full(start.size, -1, dtype=np.int64), np.full(start.size, -1, dtype=np.int64)
    forward = a == start[key]
    left[key[forward]] = face[forward]
    right[key[~forward]] = face[~forward]
    kept = left != right
    return _Segments(node, start[kept], end[kept], left[kept], right[kept])


def _sides(
    segments: _Segments,
    parts: tuple[ResolvedPart, ...],
    loops: dict[str, list[list[Edge]]],
    bodies: list[int],
    diagonal: float,
) -> NDArray[np.str_]:
    """The name of the side each outer segment lies on: its own part's edge, a void's edge, or the axis."""
    import shapely

    node, start, end, left, right = segments
    edges = [(i, edge) for i, part in enumerate(parts) for loop in loops[part.name] for edge in loop]
    tree = shapely.STRtree([shapely.LineString(edge.points) for _, edge in edges])
    outer = np.nonzero((left < 0) | (right < 0))[0]
    middle = shapely.points(0.5 * (node[start[outer]] + node[end[outer]]))
    point, found = tree.query(middle, predicate="dwithin", distance=_ON_EDGE * diagonal)
    own = np.array(bodies, dtype=np.int64)[np.maximum(left[outer], right[outer])]
    part = np.array([i for i, _ in edges], dtype=np.int64)[found]
    void = np.array([p.table is None for p in parts])[part]
    score = np.where(part == own[point], 2 * len(parts), np.where(void, part, -1))
    order = np.lexsort((score, point))
    point, found, score = point[order], found[order], score[order]
    last = np.concatenate([point[1:] != point[:-1], [True]]) if point.size else np.zeros(0, dtype=bool)
    names = [f"{parts[i].name} {edge.side}" if parts[i].table is None else edge.side for i, edge in edges]
    side = np.full(start.size, "", dtype=f"<U{max(len(n) for n in [*names, 'axis'])}")
    side[outer] = "axis"
    good = last & (score >= 0)
    side[outer[point[good]]] = np.array(names)[found[good]]
    return side


def _chains(
    names: tuple[str, ...], node: Array, start: Index, end: Index, left: Index, right: Index, side: NDArray[np.str_]
) -> list[Chain]:
    """Segments joined into chains, broken at junctions, corners and changes of name."""
    at: dict[int, list[int]] = {}
    for s, (a, b) in enumerate(zip(start.tolist(), end.tolist(), strict=True)):
        at.setdefault(a, []).append(s)
        at.setdefault(b, []).append(s)
    # Nodes with two segments of the same regions and side, that hardly turn, do not break a chain.
    nodes = np.array(list(at), dtype=np.int64)
    lone = np.array([len(here) != 2 for here in at.values()])
    p, q = (np.array([here[k] if len(here) == 2 else here[0] for here in at.values()], dtype=np.int64) for k in (0, 1))
    along = node[end] - node[start]
    pair = np.sort(np.stack([left, right]), axis=0)
    differ = np.any(pair[:, p] != pair[:, q], axis=0) | (side[p] != side[q])
    u = np.where(end[p] == nodes, 1.0, -1.0)[:, None] * along[p]
    v = np.where(start[q] == nodes, 1.0, -1.0)[:, None] * along[q]
    turn = np.arctan2(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0], np.einsum("ij,ij->i", u, v))
    broken = set(nodes[lone | differ | (np.abs(turn) > _CORNER)].tolist())
    starts, ends = start.tolist(), end.tolist()
    used = [False] * len(starts)
    chains = []
    for first in [*sorted(broken), *sorted(set(at) - broken)]:
        for segment in at[first]:
            if used[segment]:
                continue
            path = [first]
            forward = start[segment] == first
            regions = (int(left[segment]), int(right[segment])) if forward else (int(right[segment]), int(left[segment]))
            here, s = first, segment
            while True:
                used[s] = True
                here = ends[s] if starts[s] == here else starts[s]
                path.append(here)
                if here in broken or here == first:
                    break
                s = at[here][0] if at[here][1] == s else at[here][1]
            chains.append(_chain(names, node[path], regions, str(side[segment])))
    return chains


def _chain(names: tuple[str, ...], points: Array, regions: tuple[int, int], side: str) -> Chain:
    left, right = regions
    if left >= 0 and right >= 0:
        name, side = f"{names[min(left, right)]} | {names[max(left, right)]}", ""
    else:
        name = f"{names[max(left, right)]}, {side}"
    return Chain(name, side, points, left, right, _arc(points))


def _arc(points: Array) -> tuple[float, float, float] | None:
    """Centre and radius of the circle all points lie on, if there is one."""
    if len(points) < 6:
        return None
    a, b, c = points[0], points[len(points) // 3], points[2 * len(points) // 3]
    p, q = b - a, c - a
    cross = 2.0 * (p[0] * q[1] - p[1] * q[0])
    size = float(np.ptp(points, axis=0).max())
    if abs(cross) < 1e-6 * size**2:
        return None
    centre = a + np.array([q[1] * (p @ p) - p[1] * (q @ q), p[0] * (q @ q) - q[0] * (p @ p)]) / cross
    radius = float(np.hypot(*(a - centre)))
    off = np.abs(np.hypot(*(points - centre).T) - radius).max()
    return (float(centre[0]), float(centre[1]), radius) if off < 1e-6 * size else None


def _boundaries(names: tuple[str, ...], chains: tuple[Chain, ...]) -> dict[str, Boundary]:
    found: dict[str, list[Array]] = {}
    owners: dict[str, tuple[str, ...]] = {}
    for chain in chains:
        found.setdefault(chain.name, []).append(np.hstack([chain.points[:-1], chain.points[1:]]))
        regions = sorted(r for r in (chain.left, chain.right) if r >= 0)
        owners[chain.name] = tuple(names[r] for r in regions)
    return {name: Boundary(name, len(owners[name]) == 2, owners[name], np.concatenate(pieces)) for name, pieces in found.items()}


def _rings(names: tuple[str, ...], faces: list[Any], regions: Index) -> dict[str, list[Array]]:
    import shapely

    rings: dict[str, list[Array]] = {}
    for index, name in enumerate(names):
        mine = [face for face, region in zip(faces, regions, strict=True) if region == index]
        shape = mine[0] if len(mine) == 1 else shapely.unary_union(mine)
        rings[name] = [
            np.asarray(shapely.get_coordinates(ring))
            for polygon in shapely.get_parts(shape)
            for ring in (polygon.exterior, *polygon.interiors)
        ]
    return rings
