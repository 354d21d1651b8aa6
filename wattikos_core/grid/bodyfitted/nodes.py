"""Nodes shared by all pieces of a grid, and the cells made of them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Index = NDArray[np.int64]


class Nodes:
    """Points with numbers; each chain's points are added once, so that both its sides share them."""

    def __init__(self) -> None:
        self._blocks: list[Array] = []
        self._count = 0

    def add(self, points: Array) -> Index:
        """Add points of shape (n, 2); their numbers."""
        self._blocks.append(np.asarray(points, dtype=float).reshape(-1, 2))
        first, self._count = self._count, self._count + len(self._blocks[-1])
        return np.arange(first, self._count)

    def points(self) -> Array:
        """All points, shape (n, 2)."""
        if len(self._blocks) > 1:
            self._blocks = [np.concatenate(self._blocks)]
        return self._blocks[0]

    def at(self, numbers: Index) -> Array:
        """The points of given numbers."""
        return np.asarray(self.points()[numbers])


class Cells:
    """Polygons of node numbers with the region each belongs to."""

    def __init__(self) -> None:
        self.size: list[Index] = []
        self.nodes: list[Index] = []
        self.region: list[Index] = []

    def add(self, region: int, size: Index, nodes: Index) -> None:
        """Add polygons of `size` corners each, anticlockwise, their node numbers one after the other."""
        self.size.append(np.asarray(size, dtype=np.int64))
        self.nodes.append(np.asarray(nodes, dtype=np.int64))
        self.region.append(np.full(len(size), region, dtype=np.int64))

    def add_lattice(self, region: int, lattice: Index) -> None:
        """Add the quadrilaterals of a lattice of nodes, shape (n, m); the second index turns left of the first."""
        a, b, c, d = lattice[:-1, :-1], lattice[1:, :-1], lattice[1:, 1:], lattice[:-1, 1:]
        quads = np.stack([a, b, c, d], axis=-1).reshape(-1, 4)
        self.add_polygons(region, quads)

    def add_polygons(self, region: int, corners: Index) -> None:
        """Add polygons with equally many corners, shape (n, corners); corners that repeat are left out."""
        keep = corners != np.roll(corners, -1, axis=1)
        size = keep.sum(axis=1)
        keep &= (size >= 3)[:, None]
        self.add(region, size[size >= 3], corners[keep])
