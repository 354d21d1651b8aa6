"""Behind what a queued run waits, and about how long."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.db.models import Q
from django.utils import timezone

from wattikos_web.models import Run


def waits_for(run: Run, user: User) -> dict[str, Any]:
    """What is before a run in the queue, named where it is the user's own, and the seconds it will take, where that can be told."""
    before = Q(state=Run.State.RUNNING) | Q(state=Run.State.QUEUED, background=False, pk__lt=run.pk)
    if run.background:
        before |= Q(state=Run.State.QUEUED, background=True, pk__lt=run.pk)
    ahead = list(
        Run.objects.filter(before)
        .exclude(pk=run.pk)
        .select_related("case__project")
        .only("case", "state", "progress", "started", "case__title", "case__project__owner")
        .order_by("state", "pk")
    )
    # What nobody waits for gives its place at once.
    seconds = [_seconds_left(other) for other in ahead if run.background or not other.background]
    known = [second for second in seconds if second is not None]
    return {
        "behind": [other.case.title if other.case.project.owner_id == user.pk else "another person's case" for other in ahead],
        "seconds": sum(known) if len(known) == len(seconds) else None,
    }


def _seconds_left(run: Run) -> float | None:
    """By how far it has come, or by how long the case took before."""
    fraction = float(run.progress.get("fraction") or 0.0)
    if run.state == Run.State.RUNNING and run.started is not None and fraction > 0.02:
        return (timezone.now() - run.started).total_seconds() * (1.0 - fraction) / fraction
    former = Run.objects.filter(case=run.case_id, state=Run.State.DONE).only("summary").first()
    return float(former.summary["seconds"]) if former is not None and former.summary.get("seconds") else None
