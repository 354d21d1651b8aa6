"""How thick the layers along walls are: at every place of every wall, on both its sides, and at junctions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid.bodyfitted.regions import Piece, Use
from wattikos_core.grid.bodyfitted.sizes import ChainSizes, SizeField
from wattikos_core.section import Chain

Array = NDArray[np.float64]

# Thickness in cells of fineness 1, as a share of the gap and of open edges that meet the wall, and its slope along it.
_CELLS = 5.0
_OF_GAP = 0.22
_OF_OPEN_EDGE = 0.3
_SLOPE = 0.35
_OF_CORNER_EDGE = 0.5
# An open edge that leaves a wall under an angle in this range carries the ends of the wall's rows.
_CARRIES = (np.radians(40.0), np.radians(140.0))


@dataclass(frozen=True)
class Shrunk:
    """A place where layers did not fit and are thinner."""

    x: float
    y: float
    radius: float
    factor: float


@dataclass
class Layers:
    """Which chains have layers, and how thick.

    Attributes:
        walls: (chain, region) pairs with a layer on the region's side.
        thickness: per such pair, at the chain's samples, m.
    """

    walls: set[tuple[int, int]]
    thickness: dict[tuple[int, int], Array]

    def at(self, chain: int, region: int, sizes: Sequence[ChainSizes], s: Array) -> Array:
        """Thickness along a chain at places `s`."""
        return np.asarray(np.interp(s, sizes[chain].s, self.thickness[chain, region]))


def interior_angle(chains: Sequence[Chain], before: Use, after: Use) -> float:
    """The angle of the region between two chains of a loop, rad."""
    p = chains[before.chain].points if before.forward else chains[before.chain].points[::-1]
    q = chains[after.chain].points if after.forward else chains[after.chain].points[::-1]
    u, v = p[-1] - p[-2], q[1] - q[0]
    return float(np.pi - np.arctan2(u[0] * v[1] - u[1] * v[0], u @ v))


def plan_layers(
    chains: Sequence[Chain],
    pieces: Sequence[Piece],
    fluid: Sequence[bool],
    bare: set[int],
    size: SizeField,
    shrunk: Sequence[Shrunk],
    skipped: set[int],
) -> Layers:
    """Choose the walls and their thickness.

    Args:
        chains: outlines between regions.
        pieces: regions with their loops of chains.
        fluid: which regions are fluid.
        bare: chains without layers (inlets, outlets, symmetry, the axis, open interfaces between fluids).
        size: wanted sizes of cells.
        shrunk: where layers did not fit in an earlier attempt.
        skipped: pieces that have no layers at all.
    """
    walls: set[tuple[int, int]] = set()
    for index, piece in enumerate(pieces):
        if not fluid[piece.region] or index in skipped:
            continue
        for loop in piece.loops:
            layered = [use.chain not in bare for use in loop]
            # Along an open edge that goes on straight from a wall, or turns away from it, the layer goes on too.
            changed = any(layered) and len(loop) > 1
            while changed:
                changed = False
                for i, use in enumerate(loop):
                    j = (i + 1) % len(loop)
                    if layered[i] != layered[j] and interior_angle(chains, use, loop[j]) > _CARRIES[1]:
                        layered[i] = layered[j] = changed = True
            walls |= {(use.chain, piece.region) for use, wall in zip(loop, layered, strict=True) if wall}
    thickness = {key: _wanted(chains[key[0]], size.chains[key[0]], key[1], size.fineness, shrunk) for key in walls}
    _limit(chains, pieces, size, walls, thickness)
    return Layers(walls, thickness)


def layer_thickness(size: Array, gap: Array, fineness: float) -> Array:
    """Thickness of layers by the size of cells and the gap to what stands opposite, m."""
    return np.asarray(np.minimum(_CELLS * size * fineness, _OF_GAP * gap))


def _wanted(chain: Chain, sizes: ChainSizes, region: int, fineness: float, shrunk: Sequence[Shrunk]) -> Array:
    gap = sizes.gap_left if chain.left == region else sizes.gap_right
    result = layer_thickness(sizes.size, gap, fineness)
    if shrunk:
        place = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(chain.points, axis=0).T))])
        points = np.stack([np.interp(sizes.s, place, chain.points[:, k]) for k in (0, 1)], axis=1)
        for at in shrunk:
            near = np.hypot(points[:, 0] - at.x, points[:, 1] - at.y) < at.radius
            result = np.where(near, result * at.factor, result)
    return np.asarray(result)


def _limit(
    chains: Sequence[Chain],
    pieces: Sequence[Piece],
    size: SizeField,
    walls: set[tuple[int, int]],
    thickness: dict[tuple[int, int], Array],
) -> None:
    """Thickness at corners and junctions, and its slope from there."""
    ends: dict[tuple[float, float], list[tuple[tuple[int, int], int]]] = {}
    most: dict[tuple[float, float], float] = {}
    for key in walls:
        chain = chains[key[0]]
        if chain.closed:
            continue
        for which in (0, -1):
            ends.setdefault(_key(chain.points[which]), []).append((key, which))
    for piece in pieces:
        for loop in piece.loops:
            for before, after in zip([loop[-1], *loop[:-1]], loop, strict=True):
                at = _key(chains[after.chain].points[0 if after.forward else -1])
                pair = [(use, (use.chain, piece.region) in walls) for use in (before, after)]
                if not any(wall for _, wall in pair) or before == after:
                    continue
                angle = interior_angle(chains, before, after)
                limit = most.get(at, np.inf)
                edge = min(size.chains[use.chain].size[_end(use, use is before)] for use, _ in pair)
                if all(wall for _, wall in pair):
                    turn = np.pi - angle
                    if turn > np.radians(5.0):
                        limit = min(limit, _OF_CORNER_EDGE * edge / np.tan(0.5 * turn))
                else:
                    use = next(use for use, wall in pair if not wall)
                    limit = min(limit, _OF_OPEN_EDGE * chains[use.chain].length * max(np.sin(angle), 0.3))
                    slant = abs(np.tan(angle))
                    if angle < 0.5 * np.pi:
                        limit = min(limit, 0.35 * edge * slant)
                most[at] = limit
    for _ in range(3):
        for at, members in ends.items():
            common = min([most.get(at, np.inf), *(float(thickness[key][which]) for key, which in members)])
            for key, which in members:
                thickness[key][which] = common
        for key in walls:
            s, t = size.chains[key[0]].s, thickness[key]
            if chains[key[0]].closed:
                t[0] = t[-1] = min(t[0], t[-1])
            rise = _SLOPE * s
            t[:] = np.minimum(t, np.minimum.accumulate(t - rise) + rise)
            t[:] = np.minimum(t, np.minimum.accumulate((t + rise)[::-1])[::-1] - rise)


def _key(point: Array) -> tuple[float, float]:
    return float(point[0]), float(point[1])


def _end(use: Use, last: bool) -> int:
    """Index of a chain's sample at the end (or beginning) of its use in a loop."""
    return -1 if use.forward == last else 0


def carries(chains: Sequence[Chain], wall: Use, open_: Use, wall_first: bool) -> float:
    """How much longer the rows of a wall are along an open edge that carries their ends: 1/sin of the angle between them."""
    angle = interior_angle(chains, wall, open_) if wall_first else interior_angle(chains, open_, wall)
    return float(1.0 / max(np.sin(angle), 0.3))
