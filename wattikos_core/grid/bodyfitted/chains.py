"""Points along chains: spacing by the size field, rows of a layer at open ends, shared spacing where regions are mapped."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid.bodyfitted.sizes import ChainSizes
from wattikos_core.section import Chain

Array = NDArray[np.float64]

_FEWEST = 3
_COMPARED = 400


def count_of(chain: Chain, sizes: ChainSizes) -> int:
    """How many edges the size field asks for along a chain."""
    total = float(np.trapezoid(1.0 / sizes.size, sizes.s))
    return max(round(total), 12 if chain.closed else _FEWEST)


def fractions(sizes: ChainSizes, count: int, low: float = 0.0, high: float | None = None) -> Array:
    """Places (m) of `count` edges between `low` and `high`, each as long as the size field asks for there."""
    high = float(sizes.s[-1]) if high is None else high
    inner = sizes.s[(sizes.s > low) & (sizes.s < high)]
    s = np.concatenate([[low], inner, [high]])
    density = 1.0 / np.interp(s, sizes.s, sizes.size)
    grown = np.concatenate([[0.0], np.cumsum(0.5 * (density[1:] + density[:-1]) * np.diff(s))])
    return np.asarray(np.interp(np.linspace(0.0, grown[-1], count + 1), grown, s))


def points_along(chain: Chain, s: Array) -> Array:
    """The points at distances `s` from a chain's start; on its circle exactly when it has one."""
    step = np.hypot(*np.diff(chain.points, axis=0).T)
    place = np.concatenate([[0.0], np.cumsum(step)])
    points = np.stack([np.interp(s, place, chain.points[:, k]) for k in (0, 1)], axis=1)
    if chain.arc is not None:
        centre = np.array(chain.arc[:2])
        out = points - centre
        points = centre + out * (chain.arc[2] / np.hypot(*out.T))[:, None]
    # Ends are junctions: they stay where all chains that meet there have them.
    for i, at in ((0, 0.0), (-1, place[-1])):
        if abs(s[i] - at) < 1e-12 * place[-1]:
            points[i] = chain.points[i]
    return points


def angles_around(chain: Chain, turn: Array) -> Array:
    """Points on a full circle at fractions of a turn, anticlockwise from the direction of x."""
    assert chain.arc is not None
    x, y, radius = chain.arc
    angle = 2.0 * np.pi * turn
    points = np.stack([x + radius * np.cos(angle), y + radius * np.sin(angle)], axis=1)
    points[-1] = points[0]
    return points


def start_of(chain: Chain) -> float:
    """Where a full circle's chain starts, as a fraction of a turn from the direction of x in the direction it is walked."""
    assert chain.arc is not None
    x, y = chain.points[0] - np.array(chain.arc[:2])
    turn = float(np.arctan2(y, x) / (2.0 * np.pi))
    return (turn if anticlockwise(chain.points) else -turn) % 1.0


def anticlockwise(points: Array) -> bool:
    """Whether a closed line of points runs anticlockwise."""
    x, y = points[:-1].T
    return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y)) > 0.0


def with_rows(chain: Chain, sizes: ChainSizes, head: Array, tail: Array) -> Array:
    """Places along an open chain whose ends carry the rows of layers: `head` and `tail` are heights from each end."""
    length = float(sizes.s[-1])
    low = float(head[-1]) if head.size else 0.0
    high = length - (float(tail[-1]) if tail.size else 0.0)
    inner = sizes.s[(sizes.s > low) & (sizes.s < high)]
    s = np.concatenate([[low], inner, [high]])
    total = float(np.trapezoid(1.0 / np.interp(s, sizes.s, sizes.size), s))
    middle = fractions(sizes, max(round(total), 1 if head.size or tail.size else _FEWEST), low, high)
    return np.concatenate(
        [[0.0], head[:-1], middle, length - tail[:-1][::-1], [length]]
        if head.size and tail.size
        else [[0.0], head[:-1], middle]
        if head.size
        else [middle, length - tail[:-1][::-1], [length]]
        if tail.size
        else [middle]
    )


def end_direction(chain: Chain, at_end: bool, reach: float) -> Array:
    """Unit vector from one end of a chain into it, over a distance `reach`."""
    points = chain.points[::-1] if at_end else chain.points
    step = np.hypot(*np.diff(points, axis=0).T)
    place = np.concatenate([[0.0], np.cumsum(step)])
    at = min(reach, float(place[-1]))
    tip = np.array([np.interp(at, place, points[:, k]) for k in (0, 1)])
    along = tip - points[0]
    return np.asarray(along / np.hypot(*along))


def shared_spacing(chains: Sequence[Chain], sizes: Sequence[ChainSizes], flipped: Sequence[bool], fewest: int) -> Array:
    """Fractions of the length shared by chains that stand opposite each other: everywhere as fine as the finest wants.

    Full circles are compared by angle, anticlockwise from the direction of x; other chains along their length.
    """
    t = np.linspace(0.0, 1.0, _COMPARED + 1)
    density = np.zeros(t.size)
    for chain, size, flip in zip(chains, sizes, flipped, strict=True):
        if chain.closed:
            along = t if anticlockwise(chain.points) else 1.0 - t
            s = (along - start_of(chain)) % 1.0 * chain.length
        else:
            s = (1.0 - t if flip else t) * chain.length
        density = np.maximum(density, chain.length / np.interp(s, size.s, size.size))
    grown = np.concatenate([[0.0], np.cumsum(0.5 * (density[1:] + density[:-1]) * np.diff(t))])
    count = max(round(float(grown[-1])), fewest)
    fraction = np.interp(np.linspace(0.0, grown[-1], count + 1), grown, t)
    fraction[0], fraction[-1] = 0.0, 1.0
    return np.asarray(fraction)
