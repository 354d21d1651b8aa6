"""Mapped regions: rings between two circles and four-sided pieces, gridded by rows and columns of quadrilaterals."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid.bodyfitted.regions import Piece
from wattikos_core.section import Chain

Array = NDArray[np.float64]
Index = NDArray[np.int64]

_SHARPEST, _BLUNTEST = np.radians(40.0), np.radians(140.0)
_CONCENTRIC = 1e-6


@dataclass(frozen=True)
class Mapping:
    """How a piece is mapped: `ring` (outer and inner chain) or `four` (its sides in order, anticlockwise)."""

    piece: int
    kind: str
    chains: tuple[int, ...]
    forward: tuple[bool, ...]


def mappings(chains: Sequence[Chain], pieces: Sequence[Piece], movable: Sequence[bool]) -> list[Mapping]:
    """The pieces that can be mapped.

    Args:
        chains: outlines between regions.
        pieces: regions with their loops of chains.
        movable: per piece, whether it may be mapped at all.
    """
    found = []
    for index, piece in enumerate(pieces):
        if not movable[index]:
            continue
        mapping = _ring(chains, index, piece) or _four(chains, index, piece)
        if mapping is not None:
            found.append(mapping)
    return found


def _ring(chains: Sequence[Chain], index: int, piece: Piece) -> Mapping | None:
    if len(piece.loops) != 2 or any(len(loop) != 1 for loop in piece.loops):
        return None
    uses = (piece.loops[0][0], piece.loops[1][0])
    arcs = [chains[use.chain].arc for use in uses]
    if arcs[0] is None or arcs[1] is None:
        return None
    if max(abs(arcs[0][0] - arcs[1][0]), abs(arcs[0][1] - arcs[1][1])) > _CONCENTRIC * arcs[0][2]:
        return None
    return Mapping(index, "ring", tuple(use.chain for use in uses), tuple(use.forward for use in uses))


def _four(chains: Sequence[Chain], index: int, piece: Piece) -> Mapping | None:
    if len(piece.loops) != 1 or len(piece.loops[0]) != 4:
        return None
    uses = piece.loops[0]
    sides = [chains[use.chain].points if use.forward else chains[use.chain].points[::-1] for use in uses]
    for before, after in zip([sides[-1], *sides[:-1]], sides, strict=True):
        u, v = before[-1] - before[-2], after[1] - after[0]
        inside = np.pi - np.arctan2(u[0] * v[1] - u[1] * v[0], u @ v)
        if not _SHARPEST < inside < _BLUNTEST:
            return None
    if len({use.chain for use in uses}) < 4:
        return None
    # A coarse map tells whether a fine one would fold.
    lattice = transfinite([_resampled(side, 9) for side in sides])
    if not positive(lattice):
        return None
    return Mapping(index, "four", tuple(use.chain for use in uses), tuple(use.forward for use in uses))


def _resampled(points: Array, count: int) -> Array:
    place = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    s = np.linspace(0.0, place[-1], count)
    return np.stack([np.interp(s, place, points[:, k]) for k in (0, 1)], axis=1)


def transfinite(sides: Sequence[Array]) -> Array:
    """The lattice (n, m, 2) between four sides in anticlockwise order (Gordon and Hall 1973, IJNME 7, 461)."""
    bottom, right, top, left = sides[0], sides[1], sides[2][::-1], sides[3][::-1]
    u = 0.5 * (_share(bottom) + _share(top))[:, None, None]
    v = 0.5 * (_share(left) + _share(right))[None, :, None]
    across = (1 - v) * bottom[:, None] + v * top[:, None] + (1 - u) * left[None] + u * right[None]
    corners = (1 - u) * (1 - v) * bottom[0] + u * (1 - v) * bottom[-1] + u * v * top[-1] + (1 - u) * v * top[0]
    return np.asarray(across - corners)


def _share(side: Array) -> Array:
    place = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(side, axis=0).T))])
    return np.asarray(place / place[-1])


def positive(lattice: Array) -> bool:
    """Whether no quadrilateral of a lattice is folded at any corner."""
    a, b, c, d = lattice[:-1, :-1], lattice[1:, :-1], lattice[1:, 1:], lattice[:-1, 1:]
    for p, q, r in ((a, b, d), (b, c, a), (c, d, b), (d, a, c)):
        u, v = q - p, r - p
        if np.any(u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0] <= 0.0):
            return False
    return True


def opposite_groups(count: int, found: Sequence[Mapping]) -> list[list[tuple[int, bool]]]:
    """Chains that must share their spacing, each with whether it runs against the first of its group."""
    parent = list(range(count))
    against = [False] * count

    def root(i: int) -> tuple[int, bool]:
        flip = False
        while parent[i] != i:
            flip ^= against[i]
            i = parent[i]
        return i, flip

    def join(i: int, j: int, flip: bool) -> None:
        (a, fa), (b, fb) = root(i), root(j)
        if a != b:
            parent[b] = a
            against[b] = fa ^ fb ^ flip

    for mapping in found:
        c, f = mapping.chains, mapping.forward
        if mapping.kind == "four":
            # Opposite sides are walked in opposite directions.
            join(c[0], c[2], f[0] == f[2])
            join(c[1], c[3], f[1] == f[3])
        else:
            join(c[0], c[1], False)
    groups: dict[int, list[tuple[int, bool]]] = {}
    members = {i for mapping in found for i in mapping.chains}
    for i in sorted(members):
        a, flip = root(i)
        groups.setdefault(a, []).append((i, flip))
    return list(groups.values())
