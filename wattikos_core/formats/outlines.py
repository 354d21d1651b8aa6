"""Closed outlines from files: points (CSV), drawings (DXF) and paths (SVG), as loops of points in metres."""

from __future__ import annotations

import csv
import io
import math
import re
from collections.abc import Sequence
from pathlib import PurePath

import numpy as np
import shapely
from numpy.typing import NDArray

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities import QuantityError, evaluate_in

Loops = list[list[list[float]]]

# Curves become chords that leave them by no more than this share of the drawing's size.
_CHORD_ERROR = 1e-4
# Ends this near to each other, as a share of the drawing's size, are one.
_JOIN = 1e-5
_MOST_POINTS, _MOST_LOOPS = 20_000, 200
_DEEPEST, _MOST_USES = 60, 500
# Beyond this, in metres or as numbers, nothing in a file is the outline of a piece of equipment.
_LARGEST = 1e6
# A file of this many characters has more points than an outline may.
_LONGEST_TEXT = 5_000_000
# What DXF files call their unit ($INSUNITS).
_DXF_UNITS = {1: "in", 2: "ft", 4: "mm", 5: "cm", 6: "m", 13: "um"}


def read_outline(name: str, content: bytes, unit: str = "mm") -> Loops:
    """Closed loops in a file.

    Args:
        name: of the file; its ending says the format.
        content: of the file.
        unit: of lengths in the file, where the file does not say it itself.

    Returns:
        loops of (x, y) in m, without the repeated last point.

    Raises:
        CaseError: the file cannot be read, or nothing in it is closed; names the place of a gap.
    """
    kind = PurePath(name).suffix.lower()
    try:
        metres = evaluate_in("length", f"1 {unit}", {})
    except QuantityError as error:
        raise CaseError(InputProblem("unit", f"'{unit}' is not a unit of length", "give mm, cm, m, in or ft")) from error
    if kind in (".csv", ".txt", ".dat"):
        loops = read_columns(name, content)
    elif kind == ".dxf":
        loops, own = _dxf(name, content)
        metres = own or metres
    elif kind == ".svg":
        loops = _svg(name, content)
    else:
        raise CaseError(
            InputProblem("file", f"'{name}' is of no known kind", "give points as .csv, a drawing as .dxf, or paths as .svg")
        )
    return _checked(name, [metres * loop for loop in loops])


def _checked(name: str, loops: Sequence[NDArray[np.float64]]) -> Loops:
    result: Loops = []
    if not all(np.abs(loop).max(initial=0.0) < _LARGEST for loop in loops):
        raise CaseError(InputProblem("file", f"'{name}' reaches further than {_LARGEST:g} m", "look at its unit and its points"))
    for loop in loops:
        points = loop[:-1] if len(loop) > 1 and np.allclose(loop[0], loop[-1], rtol=0.0, atol=1e-12) else loop
        if len(points) >= 3:
            result.append(points.tolist())
    if not result:
        raise CaseError(InputProblem("file", f"there is no closed outline in '{name}'", "close the outline: at least three points"))
    if len(result) > _MOST_LOOPS or max(map(len, result)) > _MOST_POINTS:
        limit = f"keep it to {_MOST_LOOPS} loops of {_MOST_POINTS:,} points"
        raise CaseError(
            InputProblem("file", f"'{name}' has {len(result)} loops, the longest of {max(map(len, result)):,} points", limit)
        )
    return result


def read_columns(name: str, content: bytes) -> list[NDArray[np.float64]]:
    """Blocks of rows of two numbers in a text file; blank lines part the blocks, one line of headings is passed over.

    Raises:
        CaseError: a row is no pair of numbers; names the line.
    """
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise CaseError(InputProblem("file", f"'{name}' is not a text file", "save it as CSV in UTF-8")) from error
    if len(text) > _LONGEST_TEXT:
        raise CaseError(
            InputProblem("file", f"'{name}' has {len(text):,} characters", f"keep it under {_LONGEST_TEXT:,}: thin its points out")
        )
    semicolons = ";" in text
    blocks: list[list[tuple[float, float]]] = [[]]
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip() or line.lstrip().startswith("#"):
            blocks.append([])
            continue
        if semicolons or "\t" in line or "," in line:
            cells = next(csv.reader(io.StringIO(line), delimiter=";" if semicolons else "\t" if "\t" in line else ","))
        else:
            cells = line.split()
        try:
            # With semicolons between columns, a comma is a decimal one.
            first, second = (float(cell.strip().replace(",", ".") if semicolons else cell) for cell in cells[:2])
        except ValueError as error:
            if not any(blocks) and re.search("[A-Za-z]", line):
                continue
            raise CaseError(
                InputProblem("file", f"line {number} of '{name}' is not two numbers: {line[:60]!r}", "correct it")
            ) from error
        if not (math.isfinite(first) and math.isfinite(second)):
            raise CaseError(InputProblem("file", f"line {number} of '{name}' holds no number: {line[:60]!r}", "correct it"))
        blocks[-1].append((first, second))
    return [np.array(block) for block in blocks if block]


def _dxf(name: str, content: bytes) -> tuple[list[NDArray[np.float64]], float | None]:
    from ezdxf import path, recover
    from ezdxf.lldxf.const import DXFError

    try:
        document, _ = recover.read(io.BytesIO(content))
    except (DXFError, OSError, ValueError, UnicodeDecodeError) as error:
        raise CaseError(
            InputProblem("file", f"'{name}' cannot be read as DXF ({error})", "save the drawing as DXF again")
        ) from error
    unit = _DXF_UNITS.get(document.header.get("$INSUNITS", 0))
    metres = evaluate_in("length", f"1 {unit}", {}) if unit else None
    paths = []
    for entity in document.modelspace().query("LWPOLYLINE POLYLINE LINE ARC CIRCLE ELLIPSE SPLINE"):
        try:
            paths.append(path.make_path(entity))
        except (TypeError, ValueError):
            continue
    ends = [point for made in paths for point in made.control_vertices()]
    if not ends:
        raise CaseError(
            InputProblem("file", f"there are no lines, arcs or curves in '{name}'", "draw the outline in the model space")
        )
    plane = np.array([(point.x, point.y) for point in ends])
    size = float(np.ptp(plane, axis=0).max()) or 1.0
    pieces = [np.array([(p.x, p.y) for p in made.flattening(_CHORD_ERROR * size)]) for made in paths]
    return _join(name, pieces, size), metres


def _svg(name: str, content: bytes) -> list[NDArray[np.float64]]:
    from svgelements import SVG, Move, Path, Shape

    _refuse_hostile_svg(name, content)
    try:
        # Lengths are taken as they stand in the file; px are not millimetres to anybody.
        drawing = SVG.parse(io.BytesIO(content), reify=True, ppi=25.4)
    except (ValueError, SyntaxError, OSError, RecursionError, TypeError, KeyError, AttributeError) as error:
        raise CaseError(InputProblem("file", f"'{name}' cannot be read as SVG ({error})", "save the paths as plain SVG")) from error
    runs: list[list[object]] = []
    for element in drawing.elements():
        if isinstance(element, Shape):
            for segment in Path(element).segments():
                if isinstance(segment, Move) or not runs:
                    runs.append([])
                if not isinstance(segment, Move):
                    runs[-1].append(segment)
    corners = [(s.end.x, s.end.y) for run in runs for s in run if s.end is not None]  # type: ignore[attr-defined]
    if not corners:
        raise CaseError(InputProblem("file", f"there are no paths in '{name}'", "draw the outline as a closed path"))
    size = float(np.ptp(np.array(corners), axis=0).max()) or 1.0
    pieces = [np.concatenate([_segment_points(segment, size) for segment in run]) for run in runs if run]
    # In SVG y points down.
    return _join(name, [piece * (1.0, -1.0) for piece in pieces], size)


def _refuse_hostile_svg(name: str, content: bytes) -> None:
    """Raise CaseError for entities, for too much nesting, and for drawings that use themselves."""
    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import ParseError, iterparse

    depth, uses = 0, 0
    try:
        for event, element in iterparse(io.BytesIO(content), events=("start", "end"), forbid_dtd=False):
            depth += 1 if event == "start" else -1
            uses += event == "start" and element.tag.rpartition("}")[2] == "use"
            if depth > _DEEPEST or uses > _MOST_USES:
                found = f"'{name}' nests or reuses its shapes more than {_DEEPEST if depth > _DEEPEST else _MOST_USES} times"
                raise CaseError(InputProblem("file", found, "save the outline alone, as plain paths"))
    except (ParseError, DefusedXmlException, ValueError) as error:
        if isinstance(error, CaseError):
            raise
        problem = f"'{name}' cannot be read as SVG ({error})"
        raise CaseError(InputProblem("file", problem, "save the paths as plain SVG")) from error


def _segment_points(segment: object, size: float) -> NDArray[np.float64]:
    """Points on a segment of a path, twice as many until its chords follow it."""
    from svgelements import Close, Line

    ends = np.array([[p.x, p.y] for p in (segment.start, segment.end)])  # type: ignore[attr-defined]
    if isinstance(segment, Line | Close):
        return ends
    count = 8
    points = _on(segment, count)
    while count < 2048:
        finer = _on(segment, 2 * count)
        off = finer[1::2] - 0.5 * (points[1:] + points[:-1])
        if float(np.hypot(*off.T).max()) <= _CHORD_ERROR * size:
            break
        count, points = 2 * count, finer
    return points


def _on(segment: object, count: int) -> NDArray[np.float64]:
    at = [segment.point(t) for t in np.linspace(0.0, 1.0, count + 1)]  # type: ignore[attr-defined]
    return np.array([(p.x, p.y) for p in at])


def _join(name: str, pieces: Sequence[NDArray[np.float64]], size: float) -> list[NDArray[np.float64]]:
    """Closed loops of pieces joined end to end."""
    lattice = _JOIN * size
    lines = []
    for piece in pieces:
        apart = np.concatenate([[True], np.hypot(*np.diff(piece, axis=0).T) > 0.0])
        points = np.array(piece[apart], dtype=np.float64)
        if len(points) < 2:
            continue
        for end in (0, -1):
            points[end] = np.round(points[end] / lattice) * lattice
        lines.append(shapely.LineString(points))
    merged = shapely.line_merge(shapely.MultiLineString(lines))
    chains = list(getattr(merged, "geoms", [merged]))
    open_ends = [chain for chain in chains if not chain.is_ring]
    closed = [np.array(chain.coords) for chain in chains if chain.is_ring]
    if not closed and open_ends:
        x, y = open_ends[0].coords[-1]
        problem = f"the outline in '{name}' is not closed: a line ends at ({x:g}, {y:g})"
        raise CaseError(InputProblem("file", problem, "close the gap there in the drawing"))
    return closed
