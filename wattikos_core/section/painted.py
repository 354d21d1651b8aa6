"""What painting makes: regions with named boundaries.

A boundary's name follows from the part it belongs to (`plate, top`), an interface's from its two parts
(`cold | plate`, the earlier part first), an edge that a void has cut from both (`plate, hole outside`). Names never
depend on sizes, so conditions stay where they were put.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Boundary:
    """A named edge: outer (`interface` False) or between two parts.

    Attributes:
        segments: shape (n, 4), each x0, y0, x1, y1 in m.
        parts: the part it bounds, or the two parts it lies between.
    """

    name: str
    interface: bool
    parts: tuple[str, ...]
    segments: Array

    @property
    def length(self) -> float:
        """Length in the section, m."""
        d = self.segments[:, 2:] - self.segments[:, :2]
        return float(np.hypot(d[:, 0], d[:, 1]).sum())


@dataclass(frozen=True)
class Tensor:
    """A section of upright rectangles on the lines through all their edges.

    Attributes:
        x, y: the lines, m, ascending.
        label: shape (len(y)-1, len(x)-1); index of the part on top there, -1 where nothing is painted.
        cut: shape like `label`; name of the void there, empty elsewhere.
        divided: by part and side, where the side is divided into boundaries of their own: coordinates along it, m, ascending.
    """

    x: Array
    y: Array
    label: NDArray[np.int64]
    cut: NDArray[np.str_]
    divided: dict[tuple[int, str], Array] = field(default_factory=dict)


@dataclass(frozen=True)
class Chain:
    """A line between two regions (or a region and the outside) from one corner or junction to the next.

    Attributes:
        name: of the boundary or interface it belongs to; `side` what is left of it without the part.
        points: shape (n, 2), m; first and last coincide when it closes by itself.
        left, right: regions on both sides as seen along it, -1 outside.
        arc: centre x, y and radius when it is a piece of a circle.
    """

    name: str
    side: str
    points: Array
    left: int
    right: int
    arc: tuple[float, float, float] | None

    @property
    def closed(self) -> bool:
        """Whether it is a loop of its own."""
        return bool(np.array_equal(self.points[0], self.points[-1]))

    @property
    def length(self) -> float:
        """Length, m."""
        return float(np.hypot(*np.diff(self.points, axis=0).T).sum())


@dataclass(frozen=True)
class PaintedSection:
    """The painted section.

    Attributes:
        names, fluid: of the regions, in painter's order.
        boundaries: every outer edge and interface by name.
        rings: per region, the rings of what can be seen of it (holes included), each of shape (n, 2).
        tensor: when everything is upright rectangles; `chains` otherwise.
    """

    names: tuple[str, ...]
    fluid: tuple[bool, ...]
    boundaries: dict[str, Boundary]
    rings: dict[str, list[Array]]
    tensor: Tensor | None
    chains: tuple[Chain, ...] = ()

    def outlines(self) -> dict[str, list[list[tuple[float, float]]]]:
        """Per region, its rings for drawing."""
        return {name: [[(float(x), float(y)) for x, y in ring] for ring in rings] for name, rings in self.rings.items()}

    def bounds(self) -> tuple[float, float, float, float]:
        """x0, y0, x1, y1 of all that is painted."""
        points = np.concatenate([ring for rings in self.rings.values() for ring in rings])
        (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
        return float(x0), float(y0), float(x1), float(y1)
