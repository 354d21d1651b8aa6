"""Series in the database: begun, added to, held, gone on with; what is stored already is not solved again."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone

from wattikos_core.case import Case, fingerprint, read_case
from wattikos_core.case.series import Varied
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.studies.series import Values, case_at, coordinates, nearest_of
from wattikos_web.models import CaseRecord, Frame, Run, Series, SeriesPoint

# Points that can be solved in one series.
MOST_SOLVED = 1000


def begin(record: CaseRecord, name: str, points: Sequence[Values], hand: dict[str, Any], case: Case | None = None) -> Series:
    """A series of a case as it stands, or of another document of it, with a run queued for each of its points."""
    document = record.document if case is None else case.model_dump(mode="json")
    with transaction.atomic():
        series = Series.objects.create(case=record, name=name[:200], document=document, hand=hand)
        add(series, points)
    return series


def add(series: Series, points: Sequence[Values]) -> None:
    """Add points and queue their runs.

    Raises:
        CaseError: too many of them.
    """
    case = read_case(series.document)
    before = [tuple(values) for values in series.points.values_list("values", flat=True)]
    new = [values for values in points if values not in before]
    if len(before) + len(new) > MOST_SOLVED:
        remedy = f"{MOST_SOLVED:,} are the most: give fewer values, or look at them by hand"
        raise CaseError(InputProblem("series.varied", f"{len(before) + len(new):,} points to solve", remedy))
    everything = [*before, *new]
    places = coordinates(case, case.series.varied, everything)
    with transaction.atomic():
        for number, values in enumerate(new, len(before)):
            document = case_at(case, case.series.varied, values)
            run = Run.objects.create(
                case=series.case,
                kind=Run.Kind.POINT,
                document=document.model_dump(mode="json"),
                revision=series.case.revision,
                meaning=meaning_of(document),
                progress={"stage": "queued"},
                background=True,
            )
            SeriesPoint.objects.create(series=series, number=number, values=list(values), place=_plain(places[number]), run=run)


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
    """Queue what has failed again."""
    _runs(series).filter(state=Run.State.FAILED).update(
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


def start_of(run: Run) -> Run | None:
    """The run that a point begins from: the nearest one of its series that is solved."""
    point = run.points.select_related("series").first()
    if point is None:
        return None
    solved = [
        other for other in point.series.points.filter(run__state=Run.State.DONE).select_related("run") if other.run is not None
    ]
    places = np.array([point.place, *(other.place for other in solved)], dtype=float)
    near = nearest_of(places, 0, range(1, len(places)))
    return None if near is None else solved[near - 1].run


def stored_twin(run: Run) -> Run | None:
    """A run of the same project whose solution is the one that is asked for; not the one the same case shows already."""
    if not run.meaning or run.go_on or run.kind not in (Run.Kind.SOLVE, Run.Kind.POINT):
        return None
    alike = Run.objects.filter(
        meaning=run.meaning, state=Run.State.DONE, kind__in=(Run.Kind.SOLVE, Run.Kind.POINT), case__project=run.case.project
    )
    if run.kind == Run.Kind.SOLVE.value:
        # Who solves the same case twice means it.
        alike = alike.exclude(case=run.case, kind=Run.Kind.SOLVE)
    return alike.exclude(pk=run.pk).filter(summary__converged=True).first()


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
