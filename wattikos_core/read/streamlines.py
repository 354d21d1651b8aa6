"""Streamlines: through given places, or evenly spaced over a section as Jobard and Lefer (1997, Visualization in Scientific
Computing '97, 43) space them.

Lines are followed in the piecewise linear velocity of `interpolation` by the classical Runge-Kutta method, both ways from where
they begin, until they leave the fluid, come to rest, close, or come too near to another.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.faces import Array, Index
from wattikos_core.read.instant import Instant
from wattikos_core.read.interpolation import Bins, locate, triangle_at
from wattikos_core.read.profiles import Path, profile_along

# Steps take this share of the time to cross a cell.
_STEP = 0.25
# Slower than this share of the highest speed, fluid is at rest.
_LEAST_SPEED = 1e-6
# Lines end when they come nearer to others than this share of their distance (Jobard and Lefer's d_test).
_TOO_NEAR = 0.5
# A line that comes back to its beginning within this share of the distance closes.
_CLOSES = 0.15
_SHORTEST = 1.5
_MOST_STEPS = 20_000
_MOST_POINTS = 600_000
# The section is at most this many distances long.
_MOST_ACROSS = 400.0


@dataclass(frozen=True)
class Streamlines:
    """Lines one after the other.

    Attributes:
        points: shape (n, 2), m; line i is `points[start[i]:start[i + 1]]`, in the direction of the flow.
        time: along each line, s, shape (n,), zero where it was begun.
        cells: around the points.
        closed: by line, whether it comes back to where it began.
    """

    points: Array
    start: Index
    time: Array
    cells: Index
    closed: Index


def even_streamlines(instant: Instant, distance: float, stretch: float = 1.0) -> Streamlines:
    """Streamlines evenly spaced over all that flows.

    Args:
        instant: what is read.
        distance: between lines where the section is drawn, in m along x.
        stretch: how much more the section is stretched along y than along x where it is drawn.
    """
    grid = instant.grid
    size = np.ptp(grid.nodes, axis=0) * (1.0, stretch)
    distance = max(distance, float(size.max()) / _MOST_ACROSS)
    speed = np.nan_to_num(instant.fields.get("speed", np.zeros(grid.n_cells)))
    # Where no line reaches, one begins in the fastest cell that is left.
    order = np.argsort(-speed, kind="stable")
    seeds = grid.centre[order[speed[order] > _LEAST_SPEED * speed.max()]]
    return _followed(instant, seeds, distance, stretch, even=True)


def streamlines_from(instant: Instant, seeds: Array, *, close: bool = True) -> Streamlines:
    """The streamlines through places, shape (n, 2), m; those that come back end there where they are to `close`."""
    size = float(np.ptp(instant.grid.nodes, axis=0).max())
    return _followed(instant, np.asarray(seeds, dtype=float).reshape(-1, 2), size / _MOST_ACROSS, 1.0, even=False, close=close)


def seeds_along(instant: Instant, path: Path, count: int) -> Array:
    """Places along a path with the same flow between each two, shape (count, 2); evenly spaced where nothing flows through it."""
    inner = profile_along(instant, path)
    x, y = inner.fields.get("velocity x"), inner.fields.get("velocity y")
    weight = np.ones(path.along.size)
    if x is not None and y is not None:
        across = np.abs(np.nan_to_num(x * path.normal[:, 0] + y * path.normal[:, 1]))
        across = across * path.points[:, 1] if instant.grid.axisymmetric else across
        weight = across if across.max() > 0.0 else np.isfinite(x).astype(float)
    passed = np.concatenate([[0.0], np.cumsum(0.5 * (weight[1:] + weight[:-1]) * np.diff(path.along))])
    wanted = (np.arange(count) + 0.5) / count * passed[-1]
    rising = np.concatenate([[True], np.diff(passed) > 0.0])
    at = np.interp(wanted, passed[rising], path.along[rising])
    return np.stack([np.interp(at, path.along, path.points[:, axis]) for axis in (0, 1)], axis=1)


def _followed(instant: Instant, seeds: Array, distance: float, stretch: float, *, even: bool, close: bool = True) -> Streamlines:
    grid = instant.grid
    if not {"velocity x", "velocity y"} <= instant.fields.keys() or not len(seeds):
        return Streamlines(np.zeros((0, 2)), np.zeros(1, dtype=np.int64), np.zeros(0), np.zeros(0, np.int64), np.zeros(0, np.int64))
    cells = np.stack([np.nan_to_num(instant.fields[f"velocity {axis}"]) for axis in "xy"], axis=1)
    corners = np.stack([np.nan_to_num(instant.corners(f"velocity {axis}")) for axis in "xy"], axis=1)
    flows = np.isfinite(instant.fields["velocity x"])
    box = grid.nodes[grid.cell_nodes]
    size = np.maximum.reduceat(box, grid.cell_start[:-1]) - np.minimum.reduceat(box, grid.cell_start[:-1])
    velocity = _Velocity(*instant.between.geometry, cells, corners, flows, size)
    low, high = grid.nodes.min(axis=0), grid.nodes.max(axis=0)
    return Streamlines(*_follow_all(velocity, np.ascontiguousarray(seeds), low, high, distance, stretch, even, close))


class _Velocity(NamedTuple):
    """A piecewise linear velocity: in cells and at their corners, with what finds cells and the size of their boxes."""

    nodes: Array
    centre: Array
    cell_start: Index
    cell_nodes: Index
    bins: Bins
    cells: Array
    corners: Array
    flows: Array
    size: Array


class _Lines(NamedTuple):
    """All lines so far, with their points by squares of one distance.

    Attributes:
        points, time, cells: of lines, one after the other, as they were walked.
        start: where each line begins; `kept` whether it stays.
        places: points that others keep away from, in the drawing, with `line` and `arc` (way from the line's beginning).
        head, following: of the chain of places in every square, -1 at its end.
        used: numbers of points, lines and places so far.
    """

    points: Array
    time: Array
    cells: Index
    start: Index
    kept: Index
    closed: Index
    places: Array
    line: Index
    arc: Array
    head: Index
    following: Index
    used: Index


class _Rules(NamedTuple):
    """How lines are followed.

    Attributes:
        low, counts: first corner of the drawing, and numbers of squares along x and y.
        distance: between lines in the drawing, which is stretched along y by `stretch`.
        least: speed below which fluid is at rest.
        even: whether lines keep away from each other, `close` whether they end where they began.
    """

    low: Array
    counts: Index
    distance: float
    stretch: float
    least: float
    even: bool
    close: bool


@njit(cache=True, nogil=True, error_model="numpy")
def _velocity_at(field: _Velocity, x: float, y: float, guess: int) -> tuple[int, float, float]:
    cell = locate(field.nodes, field.centre, field.cell_start, field.cell_nodes, field.bins, x, y, guess)
    if cell < 0 or not field.flows[cell]:
        return -1, 0.0, 0.0
    k, p, q = triangle_at(field.nodes, field.centre, field.cell_start, field.cell_nodes, cell, x, y)
    following = k + 1 if k + 1 < field.cell_start[cell + 1] else field.cell_start[cell]
    r = 1.0 - p - q
    return (
        cell,
        p * field.corners[k, 0] + q * field.corners[following, 0] + r * field.cells[cell, 0],
        p * field.corners[k, 1] + q * field.corners[following, 1] + r * field.cells[cell, 1],
    )


@njit(cache=True, nogil=True, error_model="numpy")
def _advance(field: _Velocity, x: float, y: float, cell: int, u: float, v: float, step: float) -> tuple[int, float, float]:
    """One step of the classical Runge-Kutta method, negative in time upstream; cell -1 when it leaves the fluid.

    (u, v) is the velocity where it begins.
    """
    at, u2, v2 = _velocity_at(field, x + 0.5 * step * u, y + 0.5 * step * v, cell)
    if at < 0:
        return -1, x, y
    at, u3, v3 = _velocity_at(field, x + 0.5 * step * u2, y + 0.5 * step * v2, at)
    if at < 0:
        return -1, x, y
    at, u4, v4 = _velocity_at(field, x + step * u3, y + step * v3, at)
    if at < 0:
        return -1, x, y
    nx = x + step / 6.0 * (u + 2.0 * u2 + 2.0 * u3 + u4)
    ny = y + step / 6.0 * (v + 2.0 * v2 + 2.0 * v3 + v4)
    return _velocity_at(field, nx, ny, at)[0], nx, ny


@njit(cache=True, nogil=True, error_model="numpy")
def _nearest(lines: _Lines, rules: _Rules, x: float, y: float, own: int, arc: float) -> float:
    """Distance to the nearest place of a line that is kept, at most two distances; of the own line only what is far along it.

    With `own` -1 all lines count whole.
    """
    low, counts, distance = rules.low, rules.counts, rules.distance
    i, j = int((x - low[0]) / distance), int((y - low[1]) / distance)
    least = 4.0 * distance * distance
    for a in range(max(i - 1, 0), min(i + 2, counts[0])):
        for b in range(max(j - 1, 0), min(j + 2, counts[1])):
            k = lines.head[a * counts[1] + b]
            while k >= 0:
                other = lines.line[k]
                far = other != own or (abs(lines.arc[k] - arc) > 2.0 * distance and abs(lines.arc[k]) > 2.0 * distance)
                if lines.kept[other] and far:
                    dx, dy = lines.places[k, 0] - x, lines.places[k, 1] - y
                    least = min(least, dx * dx + dy * dy)
                k = lines.following[k]
    return float(np.sqrt(least))


@njit(cache=True, nogil=True, error_model="numpy")
def _walk(field: _Velocity, lines: _Lines, rules: _Rules, sign: float, close: bool) -> bool:
    """Follow the newest line from its first point one way; whether it closed."""
    distance, stretch, least, even = rules.distance, rules.stretch, rules.least, rules.even
    own = lines.used[1] - 1
    n = lines.used[0]
    first = lines.start[own]
    x0, y0 = lines.points[first, 0], lines.points[first, 1]
    x, y, cell = x0, y0, lines.cells[first]
    time = arc = away = since = 0.0
    for _ in range(_MOST_STEPS):
        if n >= _MOST_POINTS:
            break
        cell, u, v = _velocity_at(field, x, y, cell)
        if cell < 0 or u * u + v * v <= least * least:
            break
        step = _STEP / (abs(u) / field.size[cell, 0] + abs(v) / field.size[cell, 1])
        if even:
            step = min(step, 0.3 * distance / np.sqrt(u * u + v * v * stretch * stretch))
        at, nx, ny = _advance(field, x, y, cell, u, v, sign * step)
        halved = 0
        while at < 0 and halved < 10:
            step *= 0.5
            halved += 1
            at, nx, ny = _advance(field, x, y, cell, u, v, sign * step)
        if at < 0:
            break
        moved = np.sqrt((nx - x) ** 2 + (stretch * (ny - y)) ** 2)
        arc, since, time = arc + moved, since + moved, time + step
        back = np.sqrt((nx - x0) ** 2 + (stretch * (ny - y0)) ** 2)
        away = max(away, back)
        x, y, cell = nx, ny, at
        if close and away > 2.0 * _CLOSES * distance and back < max(_CLOSES * distance, moved) and arc > 3.0 * back:
            lines.points[n, 0], lines.points[n, 1], lines.time[n], lines.cells[n] = x0, y0, sign * time, lines.cells[first]
            lines.used[0] = n + 1
            return True
        if even and _nearest(lines, rules, x, stretch * y, own, sign * arc) < _TOO_NEAR * distance:
            break
        lines.points[n, 0], lines.points[n, 1], lines.time[n], lines.cells[n] = x, y, sign * time, cell
        n += 1
        k = lines.used[2]
        if even and since >= 0.2 * distance and k < _MOST_POINTS:
            since = 0.0
            _settle(lines, rules, x, stretch * y, own, sign * arc)
    lines.used[0] = n
    return False


@njit(cache=True, nogil=True, error_model="numpy")
def _settle(lines: _Lines, rules: _Rules, x: float, y: float, own: int, arc: float) -> None:
    """Note a place that other lines keep away from."""
    low, counts, distance = rules.low, rules.counts, rules.distance
    k = lines.used[2]
    square = min(int((x - low[0]) / distance), counts[0] - 1) * counts[1] + min(int((y - low[1]) / distance), counts[1] - 1)
    lines.places[k, 0], lines.places[k, 1], lines.line[k], lines.arc[k] = x, y, own, arc
    lines.following[k] = lines.head[square]
    lines.head[square] = k
    lines.used[2] = k + 1


@njit(cache=True, nogil=True, error_model="numpy")
def _add_line(field: _Velocity, lines: _Lines, rules: _Rules, x: float, y: float) -> bool:
    """Begin a line at a place, and follow it both ways; whether it is worth keeping."""
    distance, stretch, least, even = rules.distance, rules.stretch, rules.least, rules.even
    cell, u, v = _velocity_at(field, x, y, -1)
    own = lines.used[1]
    if cell < 0 or u * u + v * v <= least * least or own + 1 >= lines.start.size or lines.used[0] + 2 >= _MOST_POINTS:
        return False
    if even and _nearest(lines, rules, x, stretch * y, -1, 0.0) < 0.999 * distance:
        return False
    n = lines.used[0]
    lines.start[own], lines.kept[own] = n, 1
    lines.points[n, 0], lines.points[n, 1], lines.time[n], lines.cells[n] = x, y, 0.0, cell
    lines.used[0], lines.used[1] = n + 1, own + 1
    if even and lines.used[2] < _MOST_POINTS:
        _settle(lines, rules, x, stretch * y, own, 0.0)
    if _walk(field, lines, rules, 1.0, rules.close):
        lines.closed[own] = 1
    else:
        turned = lines.used[0]
        _walk(field, lines, rules, -1.0, False)
        _put_in_order(lines, n, turned, lines.used[0])
    length = 0.0
    for k in range(n + 1, lines.used[0]):
        dx, dy = lines.points[k, 0] - lines.points[k - 1, 0], stretch * (lines.points[k, 1] - lines.points[k - 1, 1])
        length += np.sqrt(dx * dx + dy * dy)
    if lines.used[0] - n < 2 or (even and length < _SHORTEST * distance and not lines.closed[own]):
        lines.kept[own] = 0
        lines.used[0] = n
    lines.start[own + 1] = lines.used[0]
    return bool(lines.kept[own])


@njit(cache=True, nogil=True)
def _put_in_order(lines: _Lines, first: int, turned: int, last: int) -> None:
    """What was walked upstream comes first, from its far end on."""
    back = last - turned
    points, time, cells = lines.points[first:last].copy(), lines.time[first:last].copy(), lines.cells[first:last].copy()
    ahead = turned - first
    for k in range(back):
        source = ahead + back - 1 - k
        lines.points[first + k], lines.time[first + k], lines.cells[first + k] = points[source], time[source], cells[source]
    for k in range(ahead):
        at = first + back + k
        lines.points[at], lines.time[at], lines.cells[at] = points[k], time[k], cells[k]


@njit(cache=True, nogil=True, error_model="numpy")
def _follow_all(
    field: _Velocity, seeds: Array, low: Array, high: Array, distance: float, stretch: float, even: bool, close: bool
) -> tuple[Array, Index, Array, Index, Index]:
    counts = np.array([int((high[0] - low[0]) / distance) + 1, int(stretch * (high[1] - low[1]) / distance) + 1])
    corner = np.array([low[0], stretch * low[1]])
    most = 20_000 if even else len(seeds) + 1
    lines = _Lines(
        np.empty((_MOST_POINTS, 2)),
        np.empty(_MOST_POINTS),
        np.empty(_MOST_POINTS, dtype=np.int64),
        np.zeros(most + 1, dtype=np.int64),
        np.zeros(most, dtype=np.int64),
        np.zeros(most, dtype=np.int64),
        np.empty((_MOST_POINTS if even else 1, 2)),
        np.empty(_MOST_POINTS if even else 1, dtype=np.int64),
        np.empty(_MOST_POINTS if even else 1),
        np.full(counts[0] * counts[1], -1, dtype=np.int64),
        np.empty(_MOST_POINTS if even else 1, dtype=np.int64),
        np.zeros(3, dtype=np.int64),
    )
    fastest = 0.0
    for cell in range(len(field.cells)):
        if field.flows[cell]:
            fastest = max(fastest, np.sqrt(field.cells[cell, 0] ** 2 + field.cells[cell, 1] ** 2))
    rules = _Rules(corner, counts, distance, stretch, _LEAST_SPEED * fastest, even, close)
    looked = 0
    for s in range(len(seeds)):
        _add_line(field, lines, rules, seeds[s, 0], seeds[s, 1])
        while even and looked < lines.used[1]:
            if lines.kept[looked]:
                _seed_beside(field, lines, rules, looked)
            looked += 1
    kept = np.nonzero(lines.kept[: lines.used[1]])[0]
    start = np.zeros(len(kept) + 1, dtype=np.int64)
    for k in range(len(kept)):
        start[k] = lines.start[kept[k]]
    n = lines.used[0]
    start[len(kept)] = n
    return lines.points[:n].copy(), start, lines.time[:n].copy(), lines.cells[:n].copy(), lines.closed[kept]


@njit(cache=True, nogil=True, error_model="numpy")
def _seed_beside(field: _Velocity, lines: _Lines, rules: _Rules, line: int) -> None:
    """Begin lines one distance beside a line, on both sides all along it."""
    distance, stretch = rules.distance, rules.stretch
    since = distance
    for k in range(lines.start[line] + 1, lines.start[line + 1]):
        x, y = lines.points[k, 0], lines.points[k, 1]
        dx, dy = x - lines.points[k - 1, 0], stretch * (y - lines.points[k - 1, 1])
        length = np.sqrt(dx * dx + dy * dy)
        since += length
        if since < distance or length == 0.0:
            continue
        since = 0.0
        for side in (-1.0, 1.0):
            sx, sy = x - side * distance * dy / length, y + side * distance * dx / length / stretch
            _add_line(field, lines, rules, sx, sy)
