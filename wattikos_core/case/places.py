"""Lines and probes of a case in numbers: from its expressions to places in the section."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case.document import Case
from wattikos_core.case.reader import Reader
from wattikos_core.case.reading import ArcLine, AtPoint, CentreLine, InBox, Probe, ReadLine, StraightLine, SurfaceLine
from wattikos_core.case.resolve import evaluate_inputs
from wattikos_core.errors import CaseError

Array = NDArray[np.float64]

# Straight pieces of a full circle.
_PIECES = 180


@dataclass(frozen=True)
class PlacedLine:
    """A line in numbers.

    Attributes:
        corners: shape (n, 2), m; none where it follows something of the section.
        boundaries, side: of a line along surfaces.
        part: whose middle it follows, or that it crosses `count` times.
    """

    name: str
    corners: Array | None = None
    boundaries: tuple[str, ...] = ()
    side: str = ""
    part: str = ""
    count: int = 0


@dataclass(frozen=True)
class PlacedProbe:
    """A probe in numbers: a point (x, y), a box (x0, y0, x1, y1), or a part."""

    name: str
    place: tuple[float, ...] = ()
    part: str = ""


def placed_line(case: Case, line: ReadLine, field: str = "line") -> PlacedLine:
    """A line with the inputs of a case; CaseError, by the field it was entered in, when it is none.

    Example:
        >>> from wattikos_core.case import starter_case
        >>> from wattikos_core.case.reading import ReadLine, StraightLine
        >>> across = StraightLine(x0="length/2", y0="0 m", x1="length/2", y1="1 mm")
        >>> placed_line(starter_case("plate_passage"), ReadLine(name="middle", along=across)).corners.shape
        (2, 2)
    """
    reader = Reader(case, evaluate_inputs(case)[0])
    placed = _placed(reader, line, f"{field}.along")
    if reader.problems:
        raise CaseError(reader.problems)
    return placed


def _placed(reader: Reader, line: ReadLine, field: str) -> PlacedLine:
    along = line.along
    if isinstance(along, StraightLine):
        x0, y0, x1, y1 = (reader.read(getattr(along, name), "length", f"{field}.{name}") for name in ("x0", "y0", "x1", "y1"))
        if not reader.problems and np.hypot(x1 - x0, y1 - y0) < 1e-12:
            reader.fail(f"{field}.x1", "the line ends where it begins", "give it another end")
        return PlacedLine(line.name, np.array([[x0, y0], [x1, y1]]))
    if isinstance(along, ArcLine):
        x, y = (reader.read(getattr(along, name), "length", f"{field}.{name}") for name in ("x", "y"))
        radius = reader.read(along.radius, "length", f"{field}.radius", above=0.0)
        begin, end = (reader.angle(getattr(along, name), f"{field}.{name}") for name in ("begin", "end"))
        if begin == end:
            reader.fail(f"{field}.end", "the arc ends where it begins", "give it another end")
        pieces = max(2, round(_PIECES * abs(end - begin) / (2.0 * np.pi))) if not reader.problems else 2
        turn = np.linspace(begin, end, pieces + 1)
        return PlacedLine(line.name, np.stack([x + radius * np.cos(turn), y + radius * np.sin(turn)], axis=1))
    if isinstance(along, SurfaceLine):
        return PlacedLine(line.name, boundaries=tuple(along.boundaries), side=along.side)
    if isinstance(along, CentreLine):
        return PlacedLine(line.name, part=along.part)
    return PlacedLine(line.name, part=along.part, count=along.count)


def placed_probe(case: Case, probe: Probe, field: str = "probe") -> PlacedProbe:
    """A probe with the inputs of a case; CaseError, by the field it was entered in, when it is none."""
    at = probe.at
    if not isinstance(at, AtPoint | InBox):
        return PlacedProbe(probe.name, part=at.part)
    reader = Reader(case, evaluate_inputs(case)[0])
    names = ("x", "y") if isinstance(at, AtPoint) else ("x0", "y0", "x1", "y1")
    place = tuple(reader.read(getattr(at, name), "length", f"{field}.at.{name}") for name in names)
    if isinstance(at, InBox) and not reader.problems and not (place[2] > place[0] and place[3] > place[1]):
        reader.fail(f"{field}.at.x1", "the box has no area", "give its lower left corner first, then its upper right one")
    if reader.problems:
        raise CaseError(reader.problems)
    return PlacedProbe(probe.name, place)
