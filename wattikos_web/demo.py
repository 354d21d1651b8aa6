"""The demo project: Ferrow Dairy, invented."""

from __future__ import annotations

from django.contrib.auth.models import User

from wattikos_core.case import read_case, starter_case
from wattikos_web.api.projects import create_case
from wattikos_web.models import CaseRecord, Project, Run
from wattikos_web.series import meaning_of

USER = "ferrow"
PROJECT = "Ferrow Dairy"
DEMO_CASES = (
    "plate_passage",
    "feed_line",
    "bundle_staggered",
    "bundle_module",
    "power_module",
    "vane",
    "double_pipe",
    "rinse_heater",
    "holding_tube",
    "tank",
    "silo",
    "ice_bank",
    "duct_start",
    "cone_gap",
)
# One sink with other numbers of fins, to be compared.
_FINS = (5, 8, 12)
_SIZED = ("plate_passage", "feed_line")
# Multiples of the starters' fineness, by which the Grid ± of what is wanted is at most 3 %.
_FINER = {"rinse_heater": 1.4, "cone_gap": 1.3}


def demo_user() -> User:
    """The demo's user, without a usable password: sign-in is by one-time link."""
    user, new = User.objects.get_or_create(username=USER)
    if new:
        user.set_unusable_password()
        user.save()
    return user


def load_demo() -> bool:
    """Load the demo project if it is not there; True when it was loaded now.

    Sizings of the first cases and the solutions of all are queued, so that a first look soon after finds answers.
    """
    user = demo_user()
    if Project.objects.filter(owner=user, name=PROJECT).exists():
        return False
    project = Project.objects.create(owner=user, name=PROJECT, note="An invented dairy: everything here is made up.")
    for starter in DEMO_CASES:
        case = starter_case(starter)
        checked = case.solve.model_copy(update={"grid_check": case.physics.regime == "steady"})
        grid = case.grid.model_copy(update={"fineness": case.grid.fineness * _FINER.get(starter, 1.0)})
        record = create_case(project, case.model_copy(update={"solve": checked, "grid": grid}))
        if starter in _SIZED:
            queue(record, Run.Kind.SIZING)
        queue(record, Run.Kind.SOLVE)
    for fins in _FINS:
        sink = starter_case("plate_sink")
        inputs = sink.inputs | {"fins": sink.inputs["fins"].model_copy(update={"value": str(fins)})}
        checked = sink.solve.model_copy(update={"grid_check": True})
        title = f"Sink of the pump drive, {fins} fins"
        queue(create_case(project, sink.model_copy(update={"title": title, "inputs": inputs, "solve": checked})), Run.Kind.SOLVE)
    return True


def queue(record: CaseRecord, kind: Run.Kind) -> None:
    """Queue a run of a case as it stands, behind all that a person asks for."""
    Run.objects.create(
        case=record,
        kind=kind,
        document=record.document,
        revision=record.revision,
        meaning=meaning_of(read_case(record.document)) if kind == Run.Kind.SOLVE else "",
        progress={"stage": "queued"},
        background=True,
    )
