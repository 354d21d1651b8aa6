"""What a report tells of a stored case: its newest solution, its series, its sizing, its study of grids."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from wattikos_core.case import changed_between, read_case
from wattikos_core.errors import CaseError
from wattikos_web.api.series import series_data
from wattikos_web.models import CaseRecord, Letterhead, Run

# Series of a case that its report has, the newest ones.
_MOST_SERIES = 6


def told_of(record: CaseRecord, user: User) -> dict[str, Any]:
    """All that a report may tell of a case, as plain data."""
    head = Letterhead.objects.filter(user=user).first()
    kinds = {kind: record.runs.filter(kind=kind, state=Run.State.DONE).first() for kind in (Run.Kind.SIZING, Run.Kind.GRID_STUDY)}
    sizing, study = kinds[Run.Kind.SIZING], kinds[Run.Kind.GRID_STUDY]
    series = list(record.series.all()[:_MOST_SERIES])
    return {
        "document": record.document,
        "solved": _solved(record),
        "series": [series_data(one) for one in reversed(series)],
        "sizing": sizing.summary.get("sizing") if sizing is not None else None,
        "study": study.summary.get("grid_study") if study is not None else None,
        "company": head.company if head is not None else "",
        "logo": bytes(head.logo) if head is not None else b"",
        "date": timezone.now().date().isoformat(),
    }


def _solved(record: CaseRecord) -> dict[str, Any] | None:
    """The newest solution of the case as it stands, else the newest there is, with what has changed since."""
    ended = record.runs.filter(state__in=(Run.State.DONE, Run.State.STOPPED), kind__in=(Run.Kind.SOLVE, Run.Kind.SIZING))
    runs = [run for run in ended.defer("checkpoint", "history")[:12] if run.ledger is not None]
    now = read_case(record.document)
    stale = {run.pk: _changed(run, now) for run in runs}
    run = next((run for run in runs if not stale[run.pk]), next((run for run in runs if run.kind == Run.Kind.SOLVE), None))
    if run is None:
        return None
    frame = run.frames.order_by("-number").values_list("data", flat=True).first()
    checkpoint = Run.objects.values_list("checkpoint", flat=True).get(pk=run.pk)
    return {
        "ledger": run.ledger,
        "summary": run.summary,
        "finished": run.finished.date().isoformat() if run.finished is not None else "",
        "stale": stale[run.pk],
        "checkpoint": bytes(checkpoint) if checkpoint else b"",
        "frame": bytes(frame) if frame else b"",
    }


def _changed(run: Run, now: Any) -> list[str]:
    try:
        return changed_between(read_case(run.document), now)
    except CaseError:
        return ["the document"]
