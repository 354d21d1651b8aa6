"""What the API sends and takes of series."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from wattikos_core.ledger import Key
from wattikos_web.api.schemas import CaseDocument


class SeriesBody(Schema):
    """A document whose series is looked at, and the case that it is of, for the time it took to solve before."""

    document: CaseDocument
    case: int | None = None
    hand: bool = True


class NewSeriesBody(Schema):
    """A series to be solved, of a case as it is stored."""

    name: Annotated[str, Field(max_length=200)] = ""
    revision: int


class MorePointsBody(Schema):
    """Points to be added: what is varied, by name, and the values of each, as they are entered."""

    varied: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=6)]
    points: Annotated[list[Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=6)]], Field(max_length=1000)]


class SensitivityBody(Schema):
    """A quantity whose answers to the inputs are asked for."""

    document: CaseDocument
    key: Key


class SensitivityOut(Schema):
    """How a quantity answers to an input, SI; see `studies.sensitivity`."""

    input: str
    slope: float
    elasticity: float | None
    step: Literal["percent", "kelvin", "one"]
    per_step: float


class SlopeOut(Schema):
    """Slope of a quantity over an input through the solved points of a series, SI, and the middle of what the input spans."""

    key: Key
    input: str
    slope: float
    middle: float


class VariedOut(Schema):
    """What is varied: its name as it is read, and what kind of quantity it is; none for materials."""

    name: str
    label: str
    kind: str
    unit: str


class SeriesQuantityOut(Schema):
    """A quantity of the points."""

    key: Key
    name: str
    kind: str


class SeriesPointOut(Schema):
    """A point: values as entered, its place (SI; of materials their number), and each quantity by hand and solved."""

    number: int
    values: list[str]
    place: list[float | None]
    hand: list[float | None]
    solved: list[float | None] = []
    plus_minus: list[float | None] = []
    run: int | None = None
    state: str = ""
    fraction: float = 0.0
    problem: str = ""


class SeriesOut(Schema):
    """A series with its points, or one that is looked at by hand (without number)."""

    id: int | None = None
    name: str = ""
    begun: datetime | None = None
    varied: list[VariedOut]
    quantities: list[SeriesQuantityOut]
    points: list[SeriesPointOut]
    state: Literal["", "running", "held", "done"] = ""
    seconds: float | None = None
    at_once: int = 1


class PointCourseOut(Schema):
    """How a watched quantity of a point went in time, SI."""

    number: int
    time: list[float]
    values: list[float | None]


class CoursesOut(Schema):
    """The quantities that the points of a series followed in time, and the course of one of them at each point."""

    quantities: list[str]
    kinds: dict[str, str]
    shown: str
    courses: list[PointCourseOut]


class SeriesLineOut(Schema):
    """A series as a line of a list."""

    id: int
    name: str
    begun: datetime
    varied: list[str]
    points: int
    solved: int
    failed: int
    state: Literal["running", "held", "done"]
