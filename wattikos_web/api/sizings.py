"""Around a sizing: what is best by hand, where goals can be met, what two aims cost one another, what scatter does."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from wattikos_core.case.series import Varied
from wattikos_core.ledger import Key
from wattikos_web.api.access import asker, own_run
from wattikos_web.api.schemas import CaseDocument, ProblemsOut
from wattikos_web.aside import aside
from wattikos_web.aside.sizings import AROUND, around, by_hand, front, scattered

router = Router(tags=["sizings"])
_ANSWERS: dict[int, Any] = {404: ProblemsOut, 409: ProblemsOut, 422: ProblemsOut}


class SizingBody(Schema):
    """A document whose sizing is looked at, and a run of it whose trials correct the hand calculation."""

    document: CaseDocument
    run: int | None = None


class FeasibleBody(SizingBody):
    """Two of what is chosen, by their numbers."""

    first: Annotated[int, Field(ge=0, le=5)] = 0
    second: Annotated[int, Field(ge=0, le=5)] = 1


class ChosenOut(Schema):
    """What is chosen: a number of a kind, in the unit it is entered in, or (without kind) a row of values."""

    varied: list[Varied]
    kind: str
    unit: str


class SizedQuantityOut(Schema):
    """A quantity, with how it is written."""

    key: Key
    name: str
    kind: str


class AimOut(Schema):
    """What is to be best, and its value (SI)."""

    label: str
    most: bool
    kind: str
    unit: str
    value: float | None


class BestByHandOut(Schema):
    """The best place by hand, corrected by so many trials; `without_hand` are quantities that no hand calculation gives."""

    chosen: list[ChosenOut]
    quantities: list[SizedQuantityOut]
    without_hand: list[str]
    trials: int
    values: list[str] | None
    found: list[float | None]
    met: bool
    aim: AimOut | None


class GoalOut(SizedQuantityOut):
    """A goal: its ends, and its quantity at each place of a map."""

    lower: float | None
    upper: float | None
    values: list[list[float | None]]


class FeasibleOut(Schema):
    """Where goals can be met; rows go along the second of what is chosen. `missing` is at most nought where all are."""

    chosen: list[ChosenOut]
    places: list[list[float | None]]
    goals: list[GoalOut]
    aim: AimOut | None
    aims: list[list[float | None]]
    missing: list[list[float | None]]
    trials: int


class FrontPointOut(Schema):
    """A place where neither aim can be better without the other being worse."""

    values: list[str]
    place: list[float]
    aim: float
    second: float


class FrontOut(Schema):
    """The front of two aims."""

    chosen: list[ChosenOut]
    aims: list[AimOut | None]
    points: list[FrontPointOut]
    trials: int


class ScatterOut(Schema):
    """What scattering inputs do; see `studies.exploring.Scatter`."""

    goals: list[SizedQuantityOut]
    centre: list[str]
    share: float
    shares: list[float]
    quantiles: list[list[float]]
    chosen: list[ChosenOut]
    values: list[str] | None
    place: list[float] | None
    share_there: float
    aim_there: float | None
    aim: AimOut | None
    trials: int


def _looked(request: HttpRequest, body: SizingBody, look: Callable[..., dict[str, Any]], *more: int) -> dict[str, Any]:
    run = own_run(request, body.run) if body.run is not None else None
    ground, trials = (run.meaning, run.trials) if run is not None else ("", [])
    return aside(look, AROUND, f"{asker(request)} {look.__name__}", body.document, ground, trials, *more)


@router.post("/sizings/by-hand", response={200: BestByHandOut, **_ANSWERS})
def best_by_hand(request: HttpRequest, body: SizingBody) -> Any:
    """The best place by hand."""
    return _looked(request, body, by_hand)


@router.post("/sizings/map", response={200: FeasibleOut, **_ANSWERS})
def feasible(request: HttpRequest, body: FeasibleBody) -> Any:
    """Where goals can be met, over two of what is chosen."""
    return _looked(request, body, around, body.first, body.second)


@router.post("/sizings/front", response={200: FrontOut, **_ANSWERS})
def both_aims(request: HttpRequest, body: SizingBody) -> Any:
    """What two aims cost one another."""
    return _looked(request, body, front)


@router.post("/sizings/scatter", response={200: ScatterOut, **_ANSWERS})
def scatter(request: HttpRequest, body: SizingBody) -> Any:
    """What scattering inputs do to the goals, and where enough cases meet them."""
    return _looked(request, body, scattered)
