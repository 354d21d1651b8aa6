"""Paint rectangles in order into regions and name every edge.

A boundary's name follows from the part it belongs to (`plate, top`), an interface's from its two parts
(`cold | plate`, the earlier part first). Names never depend on sizes, so conditions stay where they were put.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import CaseError, Problem
from wattikos_core.quantities.values import show

SIDES = ("bottom", "right", "top", "left")

# Edges closer than this share of the section's diagonal are one edge; up to the second share they are a mistake.
_SAME_EDGE = 1e-9
_SMALLEST_GAP = 2e-6


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
    segments: NDArray[np.float64]

    @property
    def length(self) -> float:
        """Length in the section, m."""
        d = self.segments[:, 2:] - self.segments[:, :2]
        return float(np.hypot(d[:, 0], d[:, 1]).sum())


@dataclass(frozen=True)
class PaintedSection:
    """The painted section on the tensor lines through all part edges.

    Attributes:
        x, y: the lines, m, ascending.
        label: shape (len(y)-1, len(x)-1); index of the part on top there, -1 where nothing is painted.
        boundaries: every outer edge and interface by name.
    """

    names: tuple[str, ...]
    fluid: tuple[bool, ...]
    x: NDArray[np.float64]
    y: NDArray[np.float64]
    label: NDArray[np.int64]
    boundaries: dict[str, Boundary]

    def outlines(self) -> dict[str, list[list[tuple[float, float]]]]:
        """Per part, the rings of what can be seen of it (holes included), for drawing."""
        from shapely import box, union_all

        rings: dict[str, list[list[tuple[float, float]]]] = {}
        for index, name in enumerate(self.names):
            rows, columns = np.nonzero(self.label == index)
            shape = union_all([box(self.x[c], self.y[r], self.x[c + 1], self.y[r + 1]) for r, c in zip(rows, columns, strict=True)])
            rings[name] = [
                [(float(px), float(py)) for px, py in ring.coords]
                for polygon in getattr(shape, "geoms", [shape])
                for ring in (polygon.exterior, *polygon.interiors)
            ]
        return rings

    def bounds(self) -> tuple[float, float, float, float]:
        """x0, y0, x1, y1 of all that is painted."""
        return float(self.x[0]), float(self.y[0]), float(self.x[-1]), float(self.y[-1])


def paint(resolved: ResolvedCase) -> PaintedSection:
    """Paint the parts of a resolved case.

    Raises:
        CaseError: nothing is painted, a part is hidden completely, or a gap is too thin to mean anything.
    """
    parts = resolved.parts
    if not parts:
        raise CaseError(Problem("section.parts", "no part is present", "switch at least one part on"))
    x = np.array([v for p in parts for v in (p.x, p.x + p.width)])
    y = np.array([v for p in parts for v in (p.y, p.y + p.height)])
    diagonal = float(np.hypot(np.ptp(x), np.ptp(y)))
    lines_x, lines_y = _lines(x, diagonal, "x"), _lines(y, diagonal, "y")
    label = np.full((lines_y.size - 1, lines_x.size - 1), -1, dtype=np.int64)
    for index, part in enumerate(parts):
        c0, c1 = _index(lines_x, part.x), _index(lines_x, part.x + part.width)
        r0, r1 = _index(lines_y, part.y), _index(lines_y, part.y + part.height)
        label[r0:r1, c0:c1] = index
    hidden = [p.name for i, p in enumerate(parts) if not (label == i).any()]
    if hidden:
        fields = {p.name: i for i, p in enumerate(resolved.case.section.parts)}
        raise CaseError(
            [
                Problem(
                    f"section.parts[{fields[name]}]",
                    f"nothing of '{name}' is left after painting",
                    "make it larger or paint it later",
                )
                for name in hidden
            ]
        )
    names = tuple(p.name for p in parts)
    fluid = tuple(p.table.fluid for p in parts)
    boundaries = _boundaries(names, lines_x, lines_y, label)
    mixed = [b.name for b in boundaries.values() if b.interface and all(fluid[names.index(p)] for p in b.parts)]
    if mixed and any(resolved.part(a).table is not resolved.part(b).table for a, b in (boundaries[m].parts for m in mixed)):
        raise CaseError(Problem("section.parts", f"two different fluids touch at {mixed[0]}", "put a solid part between them"))
    return PaintedSection(names, fluid, lines_x, lines_y, label, boundaries)


def _lines(values: NDArray[np.float64], diagonal: float, axis: str) -> NDArray[np.float64]:
    ordered = np.sort(values)
    lines: NDArray[np.float64] = ordered[np.concatenate([[True], np.diff(ordered) > _SAME_EDGE * diagonal])]
    gaps = np.diff(lines)
    thin = np.nonzero(gaps < _SMALLEST_GAP * diagonal)[0]
    if thin.size:
        at = float(lines[thin[0]])
        raise CaseError(
            Problem(
                "section.parts",
                f"two edges at {axis} = {show(at, 'length')} are only {gaps[thin[0]]:.2g} m apart",
                "let the parts touch exactly, or leave a real gap",
            )
        )
    return lines


def _index(lines: NDArray[np.float64], value: float) -> int:
    return int(np.argmin(np.abs(lines - value)))


def _boundaries(
    names: tuple[str, ...], x: NDArray[np.float64], y: NDArray[np.float64], label: NDArray[np.int64]
) -> dict[str, Boundary]:
    padded = np.pad(label, 1, constant_values=-1)
    found: dict[str, list[tuple[float, float, float, float]]] = {}
    owners: dict[str, tuple[str, ...]] = {}
    offsets = {"bottom": (-1, 0), "right": (0, 1), "top": (1, 0), "left": (0, -1)}
    for r in range(label.shape[0]):
        for c in range(label.shape[1]):
            here = int(label[r, c])
            if here < 0:
                continue
            corners = {
                "bottom": (x[c], y[r], x[c + 1], y[r]),
                "right": (x[c + 1], y[r], x[c + 1], y[r + 1]),
                "top": (x[c], y[r + 1], x[c + 1], y[r + 1]),
                "left": (x[c], y[r], x[c], y[r + 1]),
            }
            for side, (dr, dc) in offsets.items():
                there = int(padded[r + 1 + dr, c + 1 + dc])
                if there == here or there > here:
                    continue
                name = f"{names[here]}, {side}" if there < 0 else f"{names[there]} | {names[here]}"
                owners[name] = (names[here],) if there < 0 else (names[there], names[here])
                found.setdefault(name, []).append(corners[side])
    return {
        name: Boundary(name, len(owners[name]) == 2, owners[name], np.array(segments, dtype=float))
        for name, segments in found.items()
    }
