"""The demo project: Ferrow Dairy, invented."""

from __future__ import annotations

from django.contrib.auth.models import User

from wattikos_core.case import read_case, starter_case
from wattikos_core.case.reporting import STANDARD, ReportSection, ReportWish
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.case.sizing import AimWish, ChosenWish, SizingWish, Spread
from wattikos_core.case.wanted import Wanted
from wattikos_core.ledger import Key
from wattikos_core.studies.series import name_of, points_of
from wattikos_core.studies.sizing_wish import ground_of
from wattikos_web.api.projects import create_case
from wattikos_web.aside.series import series_by_hand
from wattikos_web.models import CaseRecord, Letterhead, Project, Run
from wattikos_web.series import begin, meaning_of

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
    "turbulent_passage",
    "turbulent_ribs",
    "fast_bar",
    "fan_channel",
    "packed_bed",
    "core_with_fans",
    "oven_wall",
    "ripening_room",
)
# What is varied and solved in the demo, one of each kind of equipment.
_SERIES: dict[str, list[Varied]] = {
    "plate_passage": [Varied(input="length", values="400, 600, 900 mm"), Varied(input="hot_flow", values="4, 6 g/s")],
    "feed_line": [Varied(input="insulation", values="10, 20, 30, 40 mm")],
    "bundle_staggered": [Varied(input="velocity", values="1..2 mm/s by 0.5")],
    "power_module": [Varied(material_of="base", values="copper, aluminium"), Varied(input="power", values="80, 120, 160 W")],
    "vane": [Varied(input="coolant_h", values="1000..2000 W/m²/K : 3")],
}
# One sink with other numbers of fins, to be compared.
_FINS = (5, 8, 12)
_SIZED = ("plate_passage", "feed_line", "bundle_module", "vane", "cone_gap")
# What the regenerator's report says in words of its own.
_REPORTS = {
    "plate_passage": ReportWish(
        sections=[
            ReportSection(
                name=name,
                text="The dairy loses a tenth of the heat of its pasteuriser: is a longer passage worth its pressure drop?"
                if name == "answer"
                else "",
            )
            for name in STANDARD
        ]
    )
}
# The shortest passage of any height that recovers enough at a pressure drop that its pump has to give.
_SIZINGS = {
    "plate_passage": SizingWish(
        chosen=[
            ChosenWish(varied=[Varied(input="length")], lower="300 mm", upper="2 m"),
            ChosenWish(varied=[Varied(input="hot_height")], lower="0.8 mm", upper="3 mm"),
        ],
        goals=[
            Wanted(key=Key("effectiveness"), target="0.8"),
            Wanted(key=Key("pressure_drop", "hot"), target="15 Pa", sense="at_most"),
        ],
        aim=AimWish(expression="length"),
        second=AimWish(key=Key("pressure_drop", "hot")),
        spreads=[Spread(input="hot_flow", plus_minus="5 %"), Spread(input="cold_inlet", plus_minus="1 K")],
    )
}
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
    Letterhead.objects.update_or_create(user=user, defaults={"company": PROJECT})
    project = Project.objects.create(owner=user, name=PROJECT, note="An invented dairy: everything here is made up.")
    varied: list[CaseRecord] = []
    for starter in DEMO_CASES:
        case = starter_case(starter)
        checked = case.solve.model_copy(update={"grid_check": case.physics.regime == "steady"})
        grid = case.grid.model_copy(update={"fineness": case.grid.fineness * _FINER.get(starter, 1.0)})
        series = SeriesWish(varied=_SERIES.get(starter, []))
        wishes = {"sizing": _SIZINGS.get(starter, case.sizing), "report": _REPORTS.get(starter, case.report)}
        case = case.model_copy(update={"solve": checked, "grid": grid, "series": series, **wishes})
        record = create_case(project, case)
        if starter in _SIZED:
            queue(record, Run.Kind.SIZING)
        queue(record, Run.Kind.SOLVE)
        varied += [record] if case.series.varied else []
    for fins in _FINS:
        sink = starter_case("plate_sink")
        inputs = sink.inputs | {"fins": sink.inputs["fins"].model_copy(update={"value": str(fins)})}
        checked = sink.solve.model_copy(update={"grid_check": True})
        title = f"Sink of the pump drive, {fins} fins"
        queue(create_case(project, sink.model_copy(update={"title": title, "inputs": inputs, "solve": checked})), Run.Kind.SOLVE)
    for record in varied:
        vary(record)
    return True


def vary(record: CaseRecord) -> None:
    """Begin the series of a case, behind all that a person asks for; its points have no Grid ±, which takes three grids each."""
    case = read_case(record.document)
    plain = case.model_copy(update={"solve": case.solve.model_copy(update={"grid_check": False})})
    points = points_of(case, case.series)
    found = series_by_hand(plain.model_dump(mode="json"), points)
    name = " and ".join(name_of(one) for one in case.series.varied)
    begin(record, name, points, {key: found[key] for key in ("quantities", "values")}, plain)


def queue(record: CaseRecord, kind: Run.Kind) -> None:
    """Queue a run of a case as it stands, behind all that a person asks for."""
    case = read_case(record.document)
    Run.objects.create(
        case=record,
        kind=kind,
        document=record.document,
        revision=record.revision,
        meaning=meaning_of(case) if kind == Run.Kind.SOLVE else ground_of(case, case.sizing),
        progress={"stage": "queued"},
        background=True,
    )
