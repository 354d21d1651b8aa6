"""Series in the database: begun, added to, held, gone on with; what is stored already is not solved again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db import transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from wattikos_core.case import Case, fingerprint, read_case
from wattikos_core.case.series import Varied
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.solve.checkpoint import pack_checkpoint, unpack_checkpoint
from wattikos_core.studies.series import Values, case_at, coordinates, weights_of
from wattikos_core.studies.series_solving import led_on
from wattikos_web.models import CaseRecord, Frame, Run, Series, SeriesPoint

# Points that can be solved in one series.
MOST_SOLVED = 1000
# Runs whose numbers are used, and those that came to nothing.
SOLVED = Q(state=Run.State.DONE) & ~Q(summary__converged=False)
FAILED = Q(state=Run.State.FAILED) | Q(state=Run.State.DONE, summary__converged=False)


def begin(record: CaseRecord, name: str, points: Sequence[Values], hand: dict[str, Any], case: Case | None = None) -> Series:
    """A series of a case as it stands, or of another document of it, with a run queued for each of its points."""
    case = read_case(record.document) if case is None else case
    refuse_too_many(len(points))
    made = _made(case, points, coordinates(case, case.series.varied, points))
    with transaction.atomic():
        series = Series.objects.create(case=record, name=name[:200], document=case.model_dump(mode="json"), hand=hand)
        _queue(series, 0, made)
    return series


def add(series: Series, points: Sequence[Values]) -> None:
    """Add the points that a series has not yet, and queue their runs.

    Raises:
        CaseError: too many of them.
    """
    case = read_case(series.document)
    before = [tuple(values) for values in series.points.values_list("values", flat=True)]
    there = set(before)
    new = [values for values in points if values not in there]
    refuse_too_many(len(before) + len(new))
    made = _made(case, new, coordinates(case, case.series.varied, [*before, *new])[len(before) :])
    with transaction.atomic():
        _queue(series, len(before), made)


def refuse_too_many(count: int) -> None:
    """Raise CaseError for more points than are solved in one series."""
    if count > MOST_SOLVED:
        remedy = f"{MOST_SOLVED:,} are the most: give fewer values, or look at them by hand"
        raise CaseError(InputProblem("series.varied", f"{count:,} points to solve", remedy))


@dataclass(frozen=True)
class _Made:
    """A point that is ready to be queued."""

    values: Values
    place: list[float | None]
    document: dict[str, Any]
    meaning: str


def _made(case: Case, points: Sequence[Values], places: np.ndarray) -> list[_Made]:
    """Points made ready, before the database is held."""
    made = []
    for values, place in zip(points, places, strict=True):
        there = case_at(case, case.series.varied, values)
        if case.series.grid_check and case.physics.regime == "steady":
            there = there.model_copy(update={"solve": there.solve.model_copy(update={"grid_check": True})})
        made.append(_Made(values, _plain(place), there.model_dump(mode="json"), meaning_of(there)))
    return made


def _queue(series: Series, first: int, made: Sequence[_Made]) -> None:
    shared: dict[str, Any] = {"case": series.case, "revision": series.case.revision, "background": True}
    runs = [
        Run(**shared, kind=Run.Kind.POINT, document=one.document, meaning=one.meaning, progress={"stage": "queued"}) for one in made
    ]
    queued = Run.objects.bulk_create(runs)
    SeriesPoint.objects.bulk_create(
        SeriesPoint(series=series, number=number, values=list(one.values), place=one.place, run=run)
        for number, (one, run) in enumerate(zip(made, queued, strict=True), first)
    )


def _plain(place: np.ndarray) -> list[float | None]:
    return [float(x) if np.isfinite(x) else None for x in place]


def meaning_of(case: Case) -> str:
    """See `fingerprint`; empty for a case that cannot be evaluated."""
    try:
        return fingerprint(case)
    except CaseError:
        return ""


def hold(series: Series) -> None:
    """Begin no further points; those that are being solved are solved to their end."""
    _runs(series).filter(state=Run.State.QUEUED).update(state=Run.State.HELD, progress={"stage": "held"})


def stop(series: Series) -> None:
    """Begin no further points, and end those that are being solved."""
    hold(series)
    _runs(series).filter(state=Run.State.RUNNING).update(stop_wanted=True)


def go_on(series: Series) -> None:
    """Queue what was held, and what was stopped before it came to an end."""
    again = _runs(series).filter(state__in=(Run.State.HELD, Run.State.STOPPED))
    again.update(state=Run.State.QUEUED, stop_wanted=False, attempts=0, finished=None, progress={"stage": "queued"})


def retry(series: Series) -> None:
    """Queue what has failed, or did not converge, again."""
    _runs(series).filter(FAILED).update(
        state=Run.State.QUEUED, stop_wanted=False, attempts=0, failure=None, finished=None, progress={"stage": "queued"}
    )


def discard(series: Series) -> None:
    """Delete a series with the runs of its points."""
    _runs(series).filter(state=Run.State.RUNNING).update(stop_wanted=True)
    with transaction.atomic():
        _runs(series).delete()
        series.delete()


def _runs(series: Series) -> Any:
    return Run.objects.filter(points__series=series, kind=Run.Kind.POINT)


def varied_of(series: Series) -> list[Varied]:
    """What a series varies."""
    return read_case(series.document).series.varied


def starts_of(run: Run) -> list[tuple[int, float]]:
    """The runs that a point begins from, with their weights, the nearest first: of those of its series that are solved."""
    point = run.points.first()
    if point is None:
        return []
    # Runs hold their fields: of all but a few the place is enough.
    solved = list(SeriesPoint.objects.filter(series=point.series_id).filter(run__in=_converged()).values_list("place", "run"))
    places = np.array([point.place, *(place for place, _ in solved)], dtype=float)
    return [(solved[row - 1][1], weight) for row, weight in weights_of(places, 0, range(1, len(solved) + 1))]


def begin_from(run: Run, starts: Sequence[tuple[int, float]]) -> None:
    """Note what a run begins from; it is not saved yet."""
    run.warm_start = Run.objects.get(pk=starts[0][0]) if starts else None
    run.led_from = [list(start) for start in starts] if len(starts) > 1 else []


def beginning_of(run: Run) -> bytes | None:
    """The checkpoint that a run begins from; None where it begins cold, or what it began from is gone."""
    if run.warm_start is None or not run.warm_start.checkpoint:
        return None
    kept = Run.objects.filter(pk__in=[pk for pk, _ in run.led_from]).values_list("pk", "checkpoint")
    data = {pk: bytes(content) for pk, content in kept if content}
    if not run.led_from or not all(pk in data for pk, _ in run.led_from):
        return bytes(run.warm_start.checkpoint)
    return pack_checkpoint(led_on([(unpack_checkpoint(data[pk]), weight) for pk, weight in run.led_from]))


def _converged() -> QuerySet[Run]:
    return Run.objects.filter(SOLVED)


def stored_twin(run: Run) -> Run | None:
    """A run of the same project whose solution is the one that is asked for; not the one the same case shows already."""
    if not run.meaning or run.go_on or run.kind not in (Run.Kind.SOLVE, Run.Kind.POINT):
        return None
    alike = _converged().filter(meaning=run.meaning, kind__in=(Run.Kind.SOLVE, Run.Kind.POINT), case__project=run.case.project)
    if run.kind == Run.Kind.SOLVE.value:
        # Who solves the same case twice means it.
        alike = alike.exclude(case=run.case, kind=Run.Kind.SOLVE)
    return alike.exclude(pk=run.pk).first()


def take_over(run: Run, twin: Run) -> None:
    """Give a run what was found before."""
    with transaction.atomic():
        run.ledger, run.history, run.checkpoint = twin.ledger, twin.history, twin.checkpoint
        run.summary = {**twin.summary, "stored": {"run": twin.pk, "case": twin.case.title}}
        run.state, run.finished = Run.State.DONE, timezone.now()
        run.progress = {"stage": "done", "fraction": 1.0, "kinds": twin.progress.get("kinds", {})}
        run.save(update_fields=["ledger", "history", "checkpoint", "summary", "state", "finished", "progress"])
        run.frames.all().delete()
        Frame.objects.bulk_create([Frame(run=run, number=f.number, time=f.time, data=f.data) for f in twin.frames.all()])
