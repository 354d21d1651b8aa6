"""Regions as loops of chains: what each connected piece of a region is bounded by."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.section import Chain

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Use:
    """A chain as a piece of a loop: walked forwards or backwards, the region on its left."""

    chain: int
    forward: bool


@dataclass(frozen=True)
class Piece:
    """A connected piece of a region: its outer loop (anticlockwise) and its holes (clockwise)."""

    region: int
    loops: tuple[tuple[Use, ...], ...]


def pieces_of(chains: Sequence[Chain], regions: int) -> list[Piece]:
    """All connected pieces of all regions."""
    found = []
    for region in range(regions):
        loops = _loops(chains, region)
        areas = [_signed_area(chains, loop) for loop in loops]
        outer = [i for i, area in enumerate(areas) if area > 0.0]
        holes: dict[int, list[tuple[Use, ...]]] = {i: [] for i in outer}
        for i, area in enumerate(areas):
            if area <= 0.0:
                holes[_holder(chains, loops, outer, areas, i)].append(loops[i])
        found += [Piece(region, (loops[i], *holes[i])) for i in outer]
    return found


def points_of(chains: Sequence[Chain], loop: Sequence[Use]) -> Array:
    """The points along a loop, the last one not repeated."""
    return np.concatenate([(chains[u.chain].points if u.forward else chains[u.chain].points[::-1])[:-1] for u in loop])


def _loops(chains: Sequence[Chain], region: int) -> list[tuple[Use, ...]]:
    """The loops of a region, which lies on the left of each."""
    uses = [Use(i, True) for i, c in enumerate(chains) if c.left == region] + [
        Use(i, False) for i, c in enumerate(chains) if c.right == region
    ]
    leaving: dict[tuple[float, float], list[Use]] = {}
    for use in uses:
        leaving.setdefault(_end(chains, use, 0), []).append(use)
    loops, used = [], set()
    for first in uses:
        if first in used:
            continue
        loop, here = [], first
        while here not in used:
            used.add(here)
            loop.append(here)
            options = [u for u in leaving[_end(chains, here, -1)] if u not in used]
            if not options:
                break
            # Where a region touches itself in a point, the sharpest turn to the left stays in the same piece.
            here = max(options, key=lambda u: _turn(chains, loop[-1], u)) if len(options) > 1 else options[0]
        loops.append(tuple(loop))
    return loops


def _end(chains: Sequence[Chain], use: Use, which: int) -> tuple[float, float]:
    x, y = chains[use.chain].points[which if use.forward else -1 - which]
    return float(x), float(y)


def _turn(chains: Sequence[Chain], before: Use, after: Use) -> float:
    p = chains[before.chain].points if before.forward else chains[before.chain].points[::-1]
    q = chains[after.chain].points if after.forward else chains[after.chain].points[::-1]
    u, v = p[-1] - p[-2], q[1] - q[0]
    return float(np.arctan2(u[0] * v[1] - u[1] * v[0], u @ v))


def _signed_area(chains: Sequence[Chain], loop: Sequence[Use]) -> float:
    x, y = points_of(chains, loop).T
    return 0.5 * float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))


def _holder(chains: Sequence[Chain], loops: list[tuple[Use, ...]], outer: list[int], areas: list[float], hole: int) -> int:
    """The smallest outer loop around a hole."""
    import shapely

    inside = shapely.Polygon(points_of(chains, loops[hole])).representative_point()
    around = [i for i in outer if areas[i] > -areas[hole] and shapely.Polygon(points_of(chains, loops[i])).contains(inside)]
    return min(around or outer, key=lambda i: areas[i])
