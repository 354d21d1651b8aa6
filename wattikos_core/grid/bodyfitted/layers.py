"""Layers: columns of nodes that stand on walls, quadrilaterals between them, and the outline of the core inside."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid.bodyfitted.nodes import Cells, Nodes

Array = NDArray[np.float64]
Index = NDArray[np.int64]

# Walls that turn away by more than this get a fan of columns, one about every _FAN_STEP.
_MITRE = np.radians(105.0)
_FAN_STEP = np.radians(60.0)


class Folded(Exception):
    """Layers that fold over each other, with the places."""

    def __init__(self, places: Array) -> None:
        super().__init__(f"at {places[0]}")
        self.places = places


@dataclass(frozen=True)
class Loop:
    """A loop of boundary nodes.

    Attributes:
        nodes: numbers, the region on the left.
        wall: per edge from each node to the next, whether it has a layer.
        thickness: per node, m; 0 where there is none.
    """

    nodes: Index
    wall: NDArray[np.bool_]
    thickness: Array


def heights(rows: int, growth: float) -> Array:
    """Heights of the rows' upper sides as shares of the thickness, the first one above 0."""
    if abs(growth - 1.0) < 1e-9:
        return np.arange(1, rows + 1) / rows
    return np.asarray((growth ** np.arange(1, rows + 1) - 1.0) / (growth**rows - 1.0))


def grow(loop: Loop, region: int, shares: Array, nodes: Nodes, cells: Cells) -> Index:
    """Add the layer cells of a loop; the loop of nodes that bounds the core.

    Raises:
        Folded: a quadrilateral is turned inside out.
    """
    if not loop.wall.any():
        return loop.nodes
    n, rows = loop.nodes.size, shares.size
    points = nodes.at(loop.nodes)
    columns: list[list[Index]] = [[] for _ in range(n)]
    before = np.roll(loop.wall, 1)
    along = np.roll(points, -1, axis=0) - points
    along /= np.hypot(*along.T)[:, None]
    normal = np.stack([-along[:, 1], along[:, 0]], axis=1)
    behind = np.roll(along, 1, axis=0)
    turn = np.arctan2(behind[:, 0] * along[:, 1] - behind[:, 1] * along[:, 0], (behind * along).sum(axis=1))
    plain = before & loop.wall & (turn > -_MITRE)
    bisector = normal + np.roll(normal, 1, axis=0)
    square = np.maximum((bisector * bisector).sum(axis=1), 1e-12)
    # The mitre: a vector whose part along either edge's normal is the thickness.
    direction = 2.0 * bisector / square[:, None]
    up = points[plain][:, None] + (loop.thickness[plain][:, None] * shares)[:, :, None] * direction[plain][:, None]
    numbers = nodes.add(up.reshape(-1, 2)).reshape(-1, rows)
    for k, column in zip(np.nonzero(plain)[0], numbers, strict=True):
        columns[k].append(np.concatenate([loop.nodes[k : k + 1], column]))
    for i in np.nonzero(before & loop.wall & ~plain)[0].tolist():
        count = int(np.ceil(-turn[i] / _FAN_STEP)) + 1
        first = np.arctan2(normal[i - 1, 1], normal[i - 1, 0])
        for angle in first + turn[i] * np.linspace(0.0, 1.0, count):
            fan = points[i] + loop.thickness[i] * shares[:, None] * np.array([np.cos(angle), np.sin(angle)])
            columns[i].append(np.concatenate([loop.nodes[i : i + 1], nodes.add(fan)]))
    core: list[int] = []
    skip = np.zeros(n, dtype=bool)
    for i in range(n):
        if before[i] and not loop.wall[i]:
            columns[i].append(loop.nodes[(i + np.arange(rows + 1)) % n])
            skip[(i + np.arange(1, rows)) % n] = True
        elif loop.wall[i] and not before[i]:
            columns[i].append(loop.nodes[(i - np.arange(rows + 1)) % n])
            skip[(i - np.arange(1, rows)) % n] = True
    lattices = []
    for i in range(n):
        if loop.wall[i]:
            lattices.append((columns[i][-1], columns[(i + 1) % n][0]))
        lattices += list(zip(columns[i][:-1], columns[i][1:], strict=True))
    pair = np.array(lattices)
    _refuse_folds(nodes, pair)
    a, d, b, c = pair[:, 0, :-1], pair[:, 0, 1:], pair[:, 1, :-1], pair[:, 1, 1:]
    cells.add_polygons(region, np.stack([a, b, c, d], axis=-1).reshape(-1, 4))
    for i in range(n):
        if columns[i]:
            # The tops of columns that an open edge carries are its own nodes.
            tops = [int(column[-1]) for column in columns[i]]
            if before[i] and loop.wall[i]:
                core += tops
        elif not skip[i]:
            core.append(int(loop.nodes[i]))
    return np.array(core, dtype=np.int64)


def _refuse_folds(nodes: Nodes, pair: Index) -> None:
    p, q = nodes.at(pair[:, 0].ravel()).reshape(*pair[:, 0].shape, 2), nodes.at(pair[:, 1].ravel()).reshape(*pair[:, 1].shape, 2)
    a, d, b, c = p[:, :-1], p[:, 1:], q[:, :-1], q[:, 1:]
    bad = np.zeros(len(pair), dtype=bool)
    for u, v, w in ((a, b, d), (b, c, a), (c, d, b), (d, a, c)):
        e, f = v - u, w - u
        size = np.hypot(e[..., 0], e[..., 1]) * np.hypot(f[..., 0], f[..., 1])
        cross = e[..., 0] * f[..., 1] - e[..., 1] * f[..., 0]
        # Angles under 3 degrees are as good as folded; a fan's first row has no first side.
        bad |= ((cross < 0.05 * size) & (size > 0.0)).any(axis=1)
    if bad.any():
        raise Folded(0.5 * (p[bad, 0] + q[bad, 0]))
