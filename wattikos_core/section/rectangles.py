"""Painting upright rectangles: regions on the tensor lines through all edges."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import ResolvedCase, ResolvedPart
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities.values import show
from wattikos_core.section.painted import Array, Boundary, PaintedSection, Tensor

SIDES = ("bottom", "right", "top", "left")
_OPPOSITE = {"bottom": "top", "top": "bottom", "left": "right", "right": "left"}
_OFFSETS = {"bottom": (-1, 0), "right": (0, 1), "top": (1, 0), "left": (0, -1)}

# Edges closer than this share of the section's diagonal are one edge; up to the second share they are a mistake.
_SAME_EDGE = 1e-9
_SMALLEST_GAP = 2e-6


def paint_rectangles(resolved: ResolvedCase) -> PaintedSection:
    """Paint a case whose parts are all upright rectangles.

    Raises:
        CaseError: a gap is too thin to mean anything.
    """
    parts = resolved.parts
    x = np.array([v for p in parts for v in (p.x, p.x + p.width, *_divisions(p, "bottom"), *_divisions(p, "top"))])
    y = np.array([v for p in parts for v in (p.y, p.y + p.height, *_divisions(p, "left"), *_divisions(p, "right"))])
    diagonal = float(np.hypot(np.ptp(x), np.ptp(y)))
    lines_x, lines_y = _lines(x, diagonal, "x"), _lines(y, diagonal, "y")
    names = tuple(p.name for p in resolved.bodies)
    label = np.full((lines_y.size - 1, lines_x.size - 1), -1, dtype=np.int64)
    cut = np.full(label.shape, "", dtype=f"<U{max(len(p.name) for p in parts)}")
    for part in parts:
        c0, c1 = _index(lines_x, part.x), _index(lines_x, part.x + part.width)
        r0, r1 = _index(lines_y, part.y), _index(lines_y, part.y + part.height)
        label[r0:r1, c0:c1] = -1 if part.table is None else names.index(part.name)
        cut[r0:r1, c0:c1] = part.name if part.table is None else ""
    divided = {(names.index(p.name), side): np.array(_divisions(p, side)) for p in resolved.bodies for side in p.divided}
    tensor = Tensor(lines_x, lines_y, label, cut, divided)
    fluid = tuple(p.material.fluid for p in resolved.bodies)
    return PaintedSection(names, fluid, _boundaries(names, tensor), _rings(names, tensor), tensor)


def side_names(tensor: Tensor) -> NDArray[np.str_]:
    """For each cell and side (bottom, right, top, left), the side's name if it turns out to be outside."""
    padded = np.pad(tensor.cut, 1, constant_values="")
    sides = []
    for side in SIDES:
        dr, dc = _OFFSETS[side]
        beyond = padded[1 + dr : padded.shape[0] - 1 + dr, 1 + dc : padded.shape[1] - 1 + dc]
        sides.append(_by_piece(tensor, side, np.where(beyond == "", side, np.char.add(beyond, f" {_OPPOSITE[side]}"))))
    return np.stack(sides, axis=-1)


def _divisions(part: ResolvedPart, side: str) -> list[float]:
    """Coordinates along a side at which it is divided, m."""
    start = part.y if side in ("left", "right") else part.x
    return [start + place for place in part.divided.get(side, ())]


def _by_piece(tensor: Tensor, side: str, named: NDArray[np.str_]) -> NDArray[np.str_]:
    """Names of one side of every cell, with the number of the piece where the side of its part is divided."""
    named = named.astype(f"<U{named.dtype.itemsize // 4 + 3}")
    lines = tensor.y if side in ("left", "right") else tensor.x
    middle = 0.5 * (lines[1:] + lines[:-1])
    place = np.broadcast_to(middle[:, None] if side in ("left", "right") else middle, tensor.label.shape)
    for (part, of), divisions in tensor.divided.items():
        if of == side:
            mine = (tensor.label == part) & (named == side)
            piece = 1 + np.searchsorted(divisions, place[mine])
            named[mine] = [f"{side} {k}" for k in piece]
    return named


def _rings(names: tuple[str, ...], tensor: Tensor) -> dict[str, list[Array]]:
    from shapely import box, union_all

    rings: dict[str, list[Array]] = {}
    for index, name in enumerate(names):
        rows, columns = np.nonzero(tensor.label == index)
        x, y = tensor.x, tensor.y
        shape = union_all([box(x[c], y[r], x[c + 1], y[r + 1]) for r, c in zip(rows, columns, strict=True)])
        rings[name] = [
            np.array(ring.coords)
            for polygon in getattr(shape, "geoms", [shape])
            if not polygon.is_empty
            for ring in (polygon.exterior, *polygon.interiors)
        ]
    return rings


def _lines(values: Array, diagonal: float, axis: str) -> Array:
    ordered = np.sort(values)
    lines: Array = ordered[np.concatenate([[True], np.diff(ordered) > _SAME_EDGE * diagonal])]
    gaps = np.diff(lines)
    thin = np.nonzero(gaps < _SMALLEST_GAP * diagonal)[0]
    if thin.size:
        at = float(lines[thin[0]])
        raise CaseError(
            InputProblem(
                "section.parts",
                f"two edges at {axis} = {show(at, 'length')} are only {gaps[thin[0]]:.2g} m apart",
                "let the parts touch exactly, or leave a real gap",
            )
        )
    return lines


def _index(lines: Array, value: float) -> int:
    return int(np.argmin(np.abs(lines - value)))


def _boundaries(names: tuple[str, ...], tensor: Tensor) -> dict[str, Boundary]:
    x, y, label = tensor.x, tensor.y, tensor.label
    padded = np.pad(label, 1, constant_values=-1)
    outside = side_names(tensor)
    found: dict[str, list[tuple[float, float, float, float]]] = {}
    owners: dict[str, tuple[str, ...]] = {}
    for r, c in zip(*np.nonzero(label >= 0), strict=True):
        here = int(label[r, c])
        corners = {
            "bottom": (x[c], y[r], x[c + 1], y[r]),
            "right": (x[c + 1], y[r], x[c + 1], y[r + 1]),
            "top": (x[c], y[r + 1], x[c + 1], y[r + 1]),
            "left": (x[c], y[r], x[c], y[r + 1]),
        }
        for k, side in enumerate(SIDES):
            dr, dc = _OFFSETS[side]
            there = int(padded[r + 1 + dr, c + 1 + dc])
            if there == here or there > here:
                continue
            name = f"{names[here]}, {outside[r, c, k]}" if there < 0 else f"{names[there]} | {names[here]}"
            owners[name] = (names[here],) if there < 0 else (names[there], names[here])
            found.setdefault(name, []).append(corners[side])
    return {
        name: Boundary(name, len(owners[name]) == 2, owners[name], np.array(segments, dtype=float))
        for name, segments in found.items()
    }
