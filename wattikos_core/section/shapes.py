"""The outlines of shapes: loops of named edges as points in the section.

Curves are sampled finely; the gridder chooses its own points on them. The blade's thickness distribution is the
four-digit one of Jacobs, Ward and Pinkerton (1933, NACA Report 460), made to close at the trailing edge.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from wattikos_core.case import ResolvedPart

Array = NDArray[np.float64]

# Straight pieces of a full circle or closed curve; the error of the radius is 5e-5.
CIRCLE_PIECES = 192
_BLADE_PIECES = 80
# Points of an imported loop that turn by less than this belong to one edge.
_SMOOTH_TURN = np.radians(25.0)


@dataclass(frozen=True)
class Edge:
    """An edge of a shape: its name and its points, shape (n, 2), m; first and last coincide when it closes by itself."""

    side: str
    points: Array


def outline_of(part: ResolvedPart) -> list[list[Edge]]:
    """The loops of a part's outline where it stands; a point inside an odd number of loops is inside the part."""
    return [[Edge(edge.side, _placed(edge.points, part)) for edge in loop] for loop in _LOOPS[part.shape](part)]


def polygon_points(loop: list[Edge]) -> Array:
    """The points of a loop in order, without the last one repeated."""
    return np.concatenate([edge.points[:-1] for edge in loop])


def _rectangle(part: ResolvedPart) -> list[list[Edge]]:
    w, h = part.width, part.height
    corners = np.array([(0.0, 0.0), (w, 0.0), (w, h), (0.0, h), (0.0, 0.0)])
    edges = []
    for i, side in enumerate(("bottom", "right", "top", "left")):
        places = part.divided.get(side, ())
        if not places:
            edges.append(Edge(side, corners[i : i + 2]))
            continue
        start, end = corners[i : i + 2]
        shares = np.array([0.0, *places, 1.0])
        shares[1:-1] /= float(np.hypot(*(end - start)))
        # The loop runs down the left side and back along the top; pieces are counted from the left or lower end.
        backwards = side in ("top", "left")
        pieces = [
            Edge(
                f"{side} {k + 1}",
                np.array(
                    [start + s * (end - start) for s in (1.0 - b, 1.0 - a)]
                    if backwards
                    else [start + s * (end - start) for s in (a, b)]
                ),
            )
            for k, (a, b) in enumerate(itertools.pairwise(shares))
        ]
        edges += pieces[::-1] if backwards else pieces
    return [edges]


def _circle_points(diameter: float) -> Array:
    angle = np.linspace(0.0, 2.0 * np.pi, CIRCLE_PIECES + 1)
    points = 0.5 * diameter * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    points[-1] = points[0]
    return np.asarray(points)


def _circle(part: ResolvedPart) -> list[list[Edge]]:
    return [[Edge("outside", _circle_points(part.size["diameter"]))]]


def _ring(part: ResolvedPart) -> list[list[Edge]]:
    return [
        [Edge("outside", _circle_points(part.size["outer_diameter"]))],
        [Edge("inside", _circle_points(part.size["inner_diameter"]))],
    ]


def _polygon(part: ResolvedPart) -> list[list[Edge]]:
    corners = np.concatenate([part.loops[0], part.loops[0][:1]])
    return [[Edge(f"side {i + 1}", corners[i : i + 2]) for i in range(len(corners) - 1)]]


def _curve(part: ResolvedPart) -> list[list[Edge]]:
    corners = np.concatenate([part.loops[0], part.loops[0][:1]])
    # Chord lengths to the power 0.5 keep a spline from overshooting between uneven points (Lee 1989, Comput. Aided Des. 21).
    steps = np.hypot(*np.diff(corners, axis=0).T) ** 0.5
    place = np.concatenate([[0.0], np.cumsum(steps)])
    pieces = max(CIRCLE_PIECES, 8 * len(corners))
    points = CubicSpline(place, corners, bc_type="periodic")(np.linspace(0.0, place[-1], pieces + 1))
    points[-1] = points[0]
    return [[Edge("outside", points)]]


def _blade(part: ResolvedPart) -> list[list[Edge]]:
    size = part.size
    chord, camber, at, thick = size["chord"], size["camber"], size["camber_at"], size["thickness"]
    radius = max(size["edge_radius"] / chord, 0.002)
    s = 0.5 * (1.0 - np.cos(np.linspace(0.0, np.pi, _BLADE_PIECES + 1)))
    half = 5.0 * thick * (0.2969 * np.sqrt(s) - 0.1260 * s - 0.3516 * s**2 + 0.2843 * s**3 - 0.1036 * s**4)
    # The trailing edge is a half circle of its radius instead of a point.
    half = half + radius * s
    before = s <= at
    line = np.where(before, camber / at**2 * (2 * at * s - s**2), camber / (1 - at) ** 2 * ((1 - 2 * at) + 2 * at * s - s**2))
    slope = np.where(before, 2 * camber / at**2 * (at - s), 2 * camber / (1 - at) ** 2 * (at - s))
    across = np.stack([-slope, np.ones_like(slope)], axis=1) / np.hypot(1.0, slope)[:, None]
    middle = np.stack([s, line], axis=1)
    upper, lower = middle + half[:, None] * across, middle - half[:, None] * across
    turn = np.linspace(0.0, np.pi, 33)
    along = np.array([across[-1, 1], -across[-1, 0]])
    tip = middle[-1] + radius * (-np.cos(turn)[:, None] * across[-1] + np.sin(turn)[:, None] * along)
    tip[0], tip[-1] = lower[-1], upper[-1]
    return [
        [
            Edge("pressure side", chord * lower),
            Edge("trailing edge", chord * tip),
            Edge("suction side", chord * upper[::-1]),
        ]
    ]


def _outline(part: ResolvedPart) -> list[list[Edge]]:
    loops = []
    for k, points in enumerate(part.loops):
        closed = points if np.allclose(points[0], points[-1]) else np.concatenate([points, points[:1]])
        prefix = f"loop {k + 1} " if len(part.loops) > 1 else ""
        loops.append(_split_at_corners(closed, prefix))
    return loops


def _split_at_corners(closed: Array, prefix: str) -> list[Edge]:
    """Edges between sharp corners of a closed line of points; one edge when there is none."""
    step = np.diff(closed, axis=0)
    keep = np.hypot(*step.T) > 0.0
    closed = np.concatenate([closed[:1], closed[1:][keep]])
    step = np.diff(closed, axis=0)
    before = np.roll(step, 1, axis=0)
    turn = np.arctan2(before[:, 0] * step[:, 1] - before[:, 1] * step[:, 0], (before * step).sum(axis=1))
    corners = np.nonzero(np.abs(turn) > _SMOOTH_TURN)[0]
    if corners.size == 0:
        return [Edge(f"{prefix}outside", closed)]
    ring = np.roll(closed[:-1], -corners[0], axis=0)
    marks = [*(corners - corners[0]), len(ring)]
    ring = np.concatenate([ring, ring[:1]])
    return [Edge(f"{prefix}side {i + 1}", ring[a : b + 1]) for i, (a, b) in enumerate(itertools.pairwise(marks))]


_LOOPS = {
    "rectangle": _rectangle,
    "circle": _circle,
    "ring": _ring,
    "polygon": _polygon,
    "curve": _curve,
    "blade": _blade,
    "outline": _outline,
}


def _turned(points: Array, angle: float) -> Array:
    if angle == 0.0:
        return points
    c, s = np.cos(angle), np.sin(angle)
    return np.asarray(points @ np.array([[c, s], [-s, c]]))


def _placed(points: Array, part: ResolvedPart) -> Array:
    """Points about the origin, flipped, turned and moved to where the part stands."""
    flip = {"": (1.0, 1.0), "left_right": (-1.0, 1.0), "upside_down": (1.0, -1.0)}[part.mirror]
    moved = _turned(points * np.array(flip), part.angle) + np.array([part.x, part.y])
    place = part.placement
    about = np.array([place.about_x, place.about_y])
    if place.angle != 0.0:
        moved = _turned(moved - about, place.angle) + about
    return np.asarray(moved + np.array([place.dx, place.dy]))
