"""What is asked of a run's fields and what is answered: lines, probes, streamlines. Numbers are SI; arrays base64 of float32."""

from __future__ import annotations

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from wattikos_core.case.reading import Probe, ReadLine

Frame = Annotated[int, Field(ge=0, le=2**31)]


class LinesBody(Schema):
    """Lines to read at some frames (the last one when none is named); `reference` of local coefficients along walls."""

    lines: Annotated[list[ReadLine], Field(min_length=1, max_length=40)]
    frames: Annotated[list[Frame], Field(max_length=12)] = []
    reference: Literal["", "bulk", "entering"] = ""


class StatisticsOut(Schema):
    """See the core's `Statistics`."""

    mean: float
    flow_mean: float | None
    integral: float
    lowest: float
    lowest_at: float
    highest: float
    highest_at: float
    deviation: float
    at_wall: float


class LineFieldOut(Schema):
    """A field along a line."""

    name: str
    kind: str
    values: str
    statistics: StatisticsOut


class ProfileOut(Schema):
    """Fields along a line: `along`, `x` and `y` (m) and fields have one value for each point."""

    name: str
    length: float
    area: float
    mass_flow: float | None
    along: str
    x: str
    y: str
    fields: list[LineFieldOut]


class LineAtOut(Schema):
    """A line at a frame."""

    frame: int | None
    time: float | None
    profiles: list[ProfileOut]


class LineOut(Schema):
    """A line at all frames that were asked for, or why it cannot be read."""

    name: str
    problem: str = ""
    at: list[LineAtOut] = []


class WallsBody(Schema):
    """What is wanted along all walls of a run, at a frame (the last one when none is named)."""

    field: Literal["heat flux into it", "heat flux radiated", "friction", "local h", "local Nusselt number", "y⁺"]
    frame: Frame | None = None
    reference: Literal["", "bulk", "entering"] = ""


class WallOut(Schema):
    """A field along a wall: places (m), unit normals into the part on whose side it is read, and values, SI."""

    name: str
    kind: str
    x: str
    y: str
    normal_x: str
    normal_y: str
    values: str


class ProbesBody(Schema):
    """Probes to read at a frame (the last one when none is named); `course` is a field that is wanted at all frames."""

    probes: Annotated[list[Probe], Field(max_length=40)]
    frame: Frame | None = None
    course: Annotated[str, Field(max_length=60)] = ""


class ProbeFieldOut(Schema):
    """A field at a probe, see the core's `ProbeValue`."""

    name: str
    kind: str
    mean: float
    lowest: float
    highest: float
    deviation: float
    uniformity: float | None


class CourseOut(Schema):
    """A field at a probe over time, s."""

    time: list[float]
    mean: list[float]
    lowest: list[float]
    highest: list[float]


class ProbeOut(Schema):
    """What was found at a probe (`place` x, y of a point, or x0, y0, x1, y1 of a box, m; empty for a part), or why nothing was."""

    name: str
    place: list[float] = []
    fields: list[ProbeFieldOut]
    course: CourseOut | None = None
    problem: str = ""


class StreamlinesBody(Schema):
    """How streamlines are wanted.

    `even`: `distance` apart in the drawing (m along x), which is stretched along y by `stretch`. `line`: `count` of them through a
    line with equal flow between each two. `point`: through `points`.
    """

    how: Literal["even", "line", "point"] = "even"
    frame: Frame | None = None
    distance: Annotated[float, Field(gt=0.0, le=1e6)] = 0.01
    stretch: Annotated[float, Field(gt=0.0, le=1e6)] = 1.0
    line: ReadLine | None = None
    count: Annotated[int, Field(ge=1, le=200)] = 12
    points: Annotated[list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(max_length=200)] = []


class StreamlinesOut(Schema):
    """Lines one after the other: x, y pairs, where each begins (uint32), the time along it, the cell of each point (uint32)."""

    points: str
    start: str
    time: str
    cells: str
    closed: list[bool]
