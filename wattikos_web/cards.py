"""What the home page shows of a case: made when the case or its runs have changed, and kept with it."""

from __future__ import annotations

from typing import Any

from django.db.models import Max

from wattikos_core.errors import CaseError
from wattikos_web.aside import aside
from wattikos_web.aside.tasks import LOOKING, look
from wattikos_web.models import CaseRecord, Project, Run

# To be raised when cards show something else.
_MADE_BY = 2


def cards_of(project: Project) -> list[dict[str, Any]]:
    """The cards of all cases of a project."""
    records = list(project.cases.filter(deleted=None))
    newest = Run.objects.filter(case__in=records).exclude(kind=Run.Kind.POINT).values_list("case").annotate(newest=Max("pk"))
    last = {run.case_id: run for run in Run.objects.filter(pk__in=[pk for _, pk in newest]).only("case", "state")}
    return [_card(record, last.get(record.pk)) for record in records]


def _card(record: CaseRecord, last: Run | None) -> dict[str, Any]:
    state = last.state if last else None
    made_from = [_MADE_BY, record.revision, last.pk if last else 0, state]
    if record.card is None or record.card["made_from"] != made_from:
        record.card = {"made_from": made_from, **_looked_at(record)}
        # Not a change of the case: its date and its revision stay.
        CaseRecord.objects.filter(pk=record.pk, revision=record.revision).update(card=record.card)
    shown = {name: value for name, value in record.card.items() if name != "made_from"}
    return {
        "id": record.pk,
        "title": record.title,
        "revision": record.revision,
        "changed": record.changed,
        "run_state": state,
        **shown,
    }


def _looked_at(record: CaseRecord) -> dict[str, Any]:
    done = (
        record.runs.filter(state=Run.State.DONE)
        .exclude(kind=Run.Kind.POINT)
        .exclude(ledger=None)
        .only("document", "ledger")
        .first()
    )
    try:
        view = aside(look, LOOKING, "", record.document, {} if done is None else {done.pk: done.document})
    except CaseError as error:
        # It can still be opened, downloaded, and replaced by an earlier save.
        return {
            "sketch": None,
            "ledger": [],
            "problems": len(error.problems),
            "unreadable": str(error.problems[0]),
            "solved_run": None,
        }
    solved = done is not None and not view["changed"][done.pk]
    ledger = done.ledger["quantities"] if done is not None and done.ledger and solved else view["ledger"]
    return {
        "sketch": view["sketch"],
        "ledger": [row for row in ledger if row["wanted"]],
        "problems": len(view["problems"]),
        "unreadable": "",
        "solved_run": done.pk if done is not None else None,
    }
