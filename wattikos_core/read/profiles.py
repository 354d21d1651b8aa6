"""Lines through a solution: its fields along them, with means, integrals and extremes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.physics.faces import Array, Index
from wattikos_core.read.instant import Instant
from wattikos_core.read.interpolation import Interpolant
from wattikos_core.read.surface_fields import surface_faces

# Points along a line beside its corners and what it crosses.
_POINTS = 240
# How far beside a crossing both sides are read, as a share of the line.
_BESIDE = 1e-7
# A net flow below this share of what passes both ways has no mixed-mean: two streams are not one.
_LEAST_NET = 0.3
# Nor has one below this share of what passes along the line.
_LEAST_ACROSS = 1e-3
# Speed at a wall as a share of the highest along a line.
_AT_REST = 1e-3


@dataclass(frozen=True)
class Path:
    """Where a line is read.

    Attributes:
        name: of the line.
        points: shape (n, 2), m; a place where parts meet is there twice, once on each side.
        along: distance from its start, m, shape (n,).
        normal: unit vectors to the right of the way, shape (n, 2): what flows along them passes from left to right.
        cells: around the points, -1 outside.
        length: of the line, m.
    """

    name: str
    points: Array
    along: Array
    normal: Array
    cells: Index
    length: float


@dataclass(frozen=True)
class Statistics:
    """One field along one line, over its area (length times depth, or turned about the axis); None where there is none.

    Attributes:
        mean: over the area.
        flow_mean: weighted by the mass flow through the line.
        integral: over the area, in the field's unit times m2.
        lowest, highest: extremes, `lowest_at` and `highest_at` where they are along the line, m.
        deviation: standard deviation over the area.
        at_wall: mean of the ends where the fluid is at rest; of both ends where none is.
    """

    mean: float
    flow_mean: float | None
    integral: float
    lowest: float
    lowest_at: float
    highest: float
    highest_at: float
    deviation: float
    at_wall: float


@dataclass(frozen=True)
class Profile:
    """Fields along a line at an instant, SI.

    Attributes:
        path: where.
        fields: by name, shape (n,) each, NaN where there is none.
        statistics: by field.
        area: of the section turned or deepened along the line where fields are, m2.
        mass_flow: through the line from its left to its right, kg/s; None where nothing flows.
    """

    path: Path
    fields: Mapping[str, Array]
    statistics: Mapping[str, Statistics]
    area: float
    mass_flow: float | None


def path_along(name: str, between: Interpolant, corners: Array, points: int = _POINTS) -> Path:
    """A path along a line of straight pieces.

    Args:
        name: of the line.
        between: the interpolant of the grid.
        corners: of the line, shape (m, 2), m; at least two that differ.
        points: read along it beside corners and crossings.
    """
    step = np.hypot(*np.diff(corners, axis=0).T)
    place = np.concatenate([[0.0], np.cumsum(step)])
    whole = float(place[-1])
    grid = between.grid
    # Where it passes from cell to cell, so that every piece lies in one; twice where parts meet.
    crossed, edges = _crossings(between, corners, place)
    on_surface = np.isin(edges, surface_faces(grid))
    passed, met = np.unique(crossed[~on_surface]), np.unique(crossed[on_surface])
    eps = _BESIDE * whole
    plain = np.concatenate([np.linspace(0.0, whole, points + 1), place, passed])
    if met.size:
        between_both = (np.abs(plain[:, None] - met[None, :]).min(axis=1) < 0.5 * eps) & (plain > 0.0) & (plain < whole)
        plain = plain[~between_both]
    along = np.concatenate([plain, met - eps, met + eps])
    along = np.unique(np.clip(along, 0.0, whole))
    places = np.stack([np.interp(along, place, corners[:, axis]) for axis in (0, 1)], axis=1)
    piece = np.clip(np.searchsorted(place, along, side="right") - 1, 0, step.size - 1)
    way = np.diff(corners, axis=0)[piece] / step[piece][:, None]
    # Ends may lie on surfaces: they are read just inside the line.
    places[0], places[-1] = places[0] + eps * way[0], places[-1] - eps * way[-1]
    cells = between.locate(places)
    return Path(name, places, along, np.stack([way[:, 1], -way[:, 0]], axis=1), cells, whole)


def _crossings(between: Interpolant, corners: Array, place: Array) -> tuple[Array, Index]:
    """Distances along a line at which it crosses edges of the grid, and the faces that these are."""
    grid, (low, high) = between.grid, between.edge_boxes
    found, faces = [np.zeros(0)], [np.zeros(0, dtype=np.int64)]
    for k in range(len(corners) - 1):
        p, q = corners[k], corners[k + 1]
        near = np.nonzero(((low <= np.maximum(p, q)) & (high >= np.minimum(p, q))).all(axis=1))[0]
        a, b = grid.nodes[grid.edges[near, 0]], grid.nodes[grid.edges[near, 1]]
        e, d = b - a, q - p
        across = d[0] * e[:, 1] - d[1] * e[:, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            t = ((a[:, 0] - p[0]) * e[:, 1] - (a[:, 1] - p[1]) * e[:, 0]) / across
            u = ((a[:, 0] - p[0]) * d[1] - (a[:, 1] - p[1]) * d[0]) / across
        hit = (np.abs(across) > 1e-12 * np.hypot(*d) * np.hypot(*e.T)) & (t > 0.0) & (t < 1.0) & (u >= 0.0) & (u <= 1.0)
        found.append(place[k] + t[hit] * (place[k + 1] - place[k]))
        faces.append(near[hit])
    return np.concatenate(found), np.concatenate(faces)


@dataclass(frozen=True)
class _Pieces:
    """The pieces of a path between two points, each in one cell: ends, areas (m2)."""

    cells: Index
    start: Array
    end: Array
    area: Array

    def ends_of(self, instant: Instant, name: str) -> tuple[Array, Array]:
        """A field at both ends of all pieces, linear within cells: over a whole cell its mean is the cell's value."""
        values, centre = instant.fields[name][self.cells], instant.grid.centre[self.cells]
        slope = instant.between.slopes(self.cells, instant.corners(name))
        slope[~np.isfinite(slope)] = 0.0
        ends = [values + np.einsum("ij,ij->i", slope, place - centre) for place in (self.start, self.end)]
        return ends[0], ends[1]


def _pieces(instant: Instant, path: Path) -> _Pieces:
    grid = instant.grid
    middle = 0.5 * (path.points[1:] + path.points[:-1])
    cells = instant.between.locate(middle)
    area = np.diff(path.along) * (2.0 * np.pi * middle[:, 1] if grid.axisymmetric else grid.depth)
    kept = (cells >= 0) & (area > 0.0)
    return _Pieces(cells[kept], path.points[:-1][kept], path.points[1:][kept], area[kept])


def profile_along(instant: Instant, path: Path) -> Profile:
    """All fields of an instant along a path."""
    fields = {name: instant.at(path.points, path.cells, name) for name in instant.fields}
    pieces = _pieces(instant, path)
    flux = _mass_flux(instant, path, pieces)
    resting = _resting_ends(path, fields)
    statistics = {}
    for name, values in fields.items():
        start, end = pieces.ends_of(instant, name)
        found = statistics_of(path.along, values, pieces.area, start, end, flux)
        if found is not None:
            there = values[np.isfinite(values)][[0, -1]]
            statistics[name] = replace(found, at_wall=float(there[resting].mean()))
    mass_flow = None if flux is None else float(np.nansum(pieces.area * 0.5 * (flux[0] + flux[1])))
    return Profile(path, fields, statistics, float(pieces.area.sum()), mass_flow)


def _mass_flux(instant: Instant, path: Path, pieces: _Pieces) -> tuple[Array, Array] | None:
    """Mass flow from left to right per area at both ends of all pieces, kg/(m2 s); None where nothing flows."""
    if not {"velocity x", "velocity y"} <= instant.fields.keys():
        return None
    way = pieces.end - pieces.start
    way = way / np.maximum(np.hypot(*way.T), 1e-300)[:, None]
    x, y = pieces.ends_of(instant, "velocity x"), pieces.ends_of(instant, "velocity y")
    density = instant.fields["density"][pieces.cells] if "density" in instant.fields else np.ones(pieces.cells.size)
    first, second = (density * (x[end] * way[:, 1] - y[end] * way[:, 0]) for end in (0, 1))
    if np.isnan(first).all():
        return None
    # Along a stream, what crosses the line is nothing beside what passes along it.
    along = np.nansum(pieces.area * density * np.hypot(x[0] + x[1], y[0] + y[1])) / 2.0
    return (first, second) if abs(np.nansum(pieces.area * (first + second))) / 2.0 > _LEAST_ACROSS * along else None


def _resting_ends(path: Path, fields: Mapping[str, Array]) -> list[int]:
    """Which ends of a line lie where fluid is at rest; both where none does."""
    speed = fields.get("speed")
    if speed is None or not np.isfinite(speed).any():
        return [0, 1]
    there = np.nan_to_num(speed[path.cells >= 0][[0, -1]], nan=0.0)
    return [end for end in (0, 1) if there[end] <= _AT_REST * np.nanmax(speed)] or [0, 1]


def statistics_of(
    along: Array, values: Array, area: Array, start: Array, end: Array, flux: tuple[Array, Array] | None = None
) -> Statistics | None:
    """The statistics of one field along a path; None where it has no value.

    Args:
        along: places, m, shape (n,).
        values: of the field there.
        area: of the pieces that it is integrated over, m2, shape (m,).
        start: values where the pieces begin.
        end: and where they end; linear in between.
        flux: mass flow per area at their ends.
    """
    both = np.isfinite(start) & np.isfinite(end)
    if not both.any() or not np.isfinite(values).any():
        return None
    piece, a, b = area[both], start[both], end[both]
    total = float(piece.sum())
    mean = float(piece @ (a + b)) / 2.0 / total
    low, high = a - mean, b - mean
    flow_mean = None
    if flux is not None:
        known = both & np.isfinite(flux[0]) & np.isfinite(flux[1])
        f0, f1, v0, v1 = (x[known] for x in (*flux, start, end))
        # Simpson's rule, exact for the product of two that are linear.
        carried = float(area[known] @ (2.0 * f0 * v0 + 2.0 * f1 * v1 + f0 * v1 + f1 * v0)) / 6.0
        net, gross = float(area[known] @ (f0 + f1)) / 2.0, float(area[known] @ (np.abs(f0) + np.abs(f1))) / 2.0
        flow_mean = carried / net if abs(net) > _LEAST_NET * gross > 0.0 else None
    least, most = int(np.nanargmin(values)), int(np.nanargmax(values))
    return Statistics(
        mean=mean,
        flow_mean=flow_mean,
        integral=mean * total,
        lowest=float(values[least]),
        lowest_at=float(along[least]),
        highest=float(values[most]),
        highest_at=float(along[most]),
        deviation=float(np.sqrt(piece @ (low * low + low * high + high * high) / 3.0 / total)),
        at_wall=mean,
    )
