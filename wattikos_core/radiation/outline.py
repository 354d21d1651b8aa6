"""The outline of a cavity as straight pieces, and what of it can stand between others."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Index = NDArray[np.int64]

# Pieces of one surface turn by no more than this, rad, before a new one begins.
_STRAIGHT = 0.02
# Lines that differ by less than this share of the outline's size are the same one.
_SAME = 1e-9
# Images beyond this number show too little of themselves.
_MOST_IMAGES = 12


@dataclass(frozen=True)
class Mirror:
    """A line of symmetry through `point` with the unit `normal`, m."""

    point: Array
    normal: Array

    def image(self, points: Array) -> Array:
        """Points (…, 2) seen in it."""
        off = (points - self.point) @ self.normal
        return np.asarray(points - 2.0 * off[..., None] * self.normal)


@dataclass(frozen=True)
class Pieces:
    """Straight pieces of the outline of a cavity, which lies to the left on the way from `start` to `end`.

    Attributes:
        start, end: in the section, m, shape (n, 2).
        straight: number of the straight run of the outline that a piece belongs to, shape (n,).
        axisymmetric: whether they are rings about y = 0.
        mirrors: lines of symmetry, beyond which the cavity goes on as its image.
    """

    start: Array
    end: Array
    straight: Index
    axisymmetric: bool = False
    mirrors: tuple[Mirror, ...] = ()

    @property
    def area(self) -> Array:
        """Of each piece, m2 (of a flat section, per metre of depth), shape (n,)."""
        length = np.hypot(*(self.end - self.start).T)
        return np.asarray(length * np.pi * (self.start[:, 1] + self.end[:, 1]) if self.axisymmetric else length)


def pieces_of(start: Array, end: Array, axisymmetric: bool = False, mirrors: tuple[Mirror, ...] = ()) -> Pieces:
    """Pieces with the straight runs that they make up.

    Args:
        start: of each piece, m, shape (n, 2).
        end: of each piece; the cavity lies to the left on the way.
        axisymmetric: whether y is the distance from an axis.
        mirrors: lines of symmetry.
    """
    straight = np.full(len(start), -1, dtype=np.int64)
    run = 0
    for chain in _chains(start, end):
        way = (end - start)[chain]
        turn = np.abs(np.diff(np.unwrap(np.arctan2(way[:, 1], way[:, 0]))))
        straight[chain] = run + np.concatenate([[0], np.cumsum(turn > 1e-7)])
        run = int(straight[chain[-1]]) + 1
    return Pieces(start, end, straight, axisymmetric, mirrors)


def whole_pieces(start: Array, end: Array, surface: Index, longest: float) -> Index:
    """Number of the piece that each face of an outline goes to: next to each other, of one surface, nearly straight, not too long.

    Args:
        start: of faces, m, shape (n, 2).
        end: of faces, the cavity to the left on the way.
        surface: a number for what belongs together, shape (n,).
        longest: length that a piece of several faces does not exceed, m.
    """
    piece = np.full(len(start), -1, dtype=np.int64)
    length = np.hypot(*(end - start).T)
    number = -1
    for chain in _chains(start, end):
        so_far, before, first = np.inf, -1, 0.0
        for k in chain:
            heading = float(np.arctan2(*(end - start)[k][::-1]))
            turned = abs((heading - first + np.pi) % (2.0 * np.pi) - np.pi)
            if surface[k] != before or so_far + length[k] > longest or turned > _STRAIGHT:
                number, so_far, before, first = number + 1, 0.0, int(surface[k]), heading
            piece[k] = number
            so_far += length[k]
    return piece


def joined_faces(start: Array, end: Array, piece: Index) -> tuple[Array, Array]:
    """Both ends of pieces, which are made up of faces one behind the other, m, shape (n_pieces, 2) each.

    Args:
        start: of faces, m, shape (n, 2).
        end: of faces.
        piece: that each goes to (see `whole_pieces`).
    """
    count = int(piece.max()) + 1
    way = np.stack([np.bincount(piece, (end - start)[:, axis], count) for axis in range(2)], axis=1)
    # The first face of a piece begins furthest back on its way.
    along = np.einsum("ij,ij->i", start, way[piece])
    first = np.lexsort((along, piece))
    begins = start[first[np.searchsorted(piece[first], np.arange(count))]]
    return begins, begins + way


def images(pieces: Pieces) -> list[tuple[Array, Array]]:
    """The pieces and what mirrors show of them, as starts and ends, nearest first; the first is the outline itself."""
    found = [(pieces.start, pieces.end)]
    centres = [0.5 * (pieces.start + pieces.end).mean(axis=0)]
    size = float(np.ptp(np.concatenate([pieces.start, pieces.end]), axis=0).max())
    k = 0
    while k < len(found) and len(found) < _MOST_IMAGES:
        start, end = found[k]
        for mirror in pieces.mirrors:
            centre = mirror.image(centres[k])
            if min(float(np.hypot(*(centre - other))) for other in centres) > 1e-6 * size:
                # What is seen in a mirror is walked the other way round.
                found.append((mirror.image(end), mirror.image(start)))
                centres.append(centre)
        k += 1
    return found[:_MOST_IMAGES]


def blockers(start: Array, end: Array, straight: Index, both_sides: bool) -> tuple[Array, Array, Index]:
    """Straight runs of an outline that may stand between others.

    Args:
        start: of all pieces, images included, m, shape (n, 2).
        end: of the same.
        straight: the straight run that each belongs to, shape (n,).
        both_sides: whether the outline stands on the other side of y = 0 as well, turned about it.

    Returns:
        starts and ends of the runs, shape (m, 2), and the run that each piece belongs to, -1 where it hides nothing.
    """
    runs, of_piece = np.unique(straight, return_inverse=True)
    first, last = np.zeros((2, runs.size, 2))
    for k in range(runs.size):
        mine = np.nonzero(of_piece == k)[0]
        way = (end - start)[mine[0]]
        along = np.concatenate([start[mine], end[mine]])
        first[k], last[k] = along[np.argmin(along @ way)], along[np.argmax(along @ way)]
    points = np.concatenate([start, end])
    if both_sides:
        points = np.concatenate([points, points * (1.0, -1.0)])
    size = float(np.ptp(points, axis=0).max())
    way = last - first
    normal = np.stack([-way[:, 1], way[:, 0]], axis=1) / np.maximum(np.hypot(*way.T), 1e-300)[:, None]
    # What has the whole outline on one side stands in nobody's way.
    off = points @ normal.T - np.einsum("ij,ij->i", first, normal)
    hides = off.min(axis=0) < -_SAME * size
    number = np.where(hides, np.cumsum(hides) - 1, -1)
    return first[hides], last[hides], number[of_piece]


def _chains(start: Array, end: Array) -> list[Index]:
    """The pieces in the order in which each begins where the one before ends."""
    size = max(float(np.ptp(np.concatenate([start, end]), axis=0).max()), 1e-300)
    key = [tuple(point) for point in np.round(start / (1e-9 * size)).astype(np.int64).tolist()]
    to = [tuple(point) for point in np.round(end / (1e-9 * size)).astype(np.int64).tolist()]
    beginning: dict[tuple[int, ...], list[int]] = {}
    for k, place in enumerate(key):
        beginning.setdefault(place, []).append(k)
    ends = set(to)
    left = set(range(len(start)))
    found = []
    for first in [*(k for k, place in enumerate(key) if place not in ends), *range(len(start))]:
        chain, k = [], first
        while k in left:
            left.discard(k)
            chain.append(k)
            k = next((n for n in beginning.get(to[k], ()) if n in left), -1)
        if chain:
            found.append(np.array(chain, dtype=np.int64))
    return found
