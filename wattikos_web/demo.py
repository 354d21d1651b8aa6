"""The demo project: Ferrow Dairy, invented."""

from __future__ import annotations

from django.contrib.auth.models import User

from wattikos_core.case import starter_case
from wattikos_web.api.projects import create_case
from wattikos_web.models import CaseRecord, Project, Run

USER = "ferrow"
PROJECT = "Ferrow Dairy"


def demo_user() -> User:
    """The demo's user, without a usable password: sign-in is by one-time link."""
    user, new = User.objects.get_or_create(username=USER)
    if new:
        user.set_unusable_password()
        user.save()
    return user


def load_demo() -> bool:
    """Load the demo project if it is not there; True when it was loaded now.

    Sizing and solution of every case are queued, so that the first look a few seconds later finds both.
    """
    user = demo_user()
    if Project.objects.filter(owner=user, name=PROJECT).exists():
        return False
    project = Project.objects.create(owner=user, name=PROJECT, note="An invented dairy: everything here is made up.")
    for starter in ("plate_passage", "feed_line"):
        case = starter_case(starter)
        queue_both(create_case(project, case.model_copy(update={"solve": case.solve.model_copy(update={"grid_check": True})})))
    return True


def queue_both(record: CaseRecord) -> None:
    """Queue a sizing and then a solve of a case, so that the case's newest run is of the case as it stands."""
    for kind in (Run.Kind.SIZING, Run.Kind.SOLVE):
        Run.objects.create(case=record, kind=kind, document=record.document, revision=record.revision, progress={"stage": "queued"})
