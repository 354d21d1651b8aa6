"""Series: looked at by hand, solved point by point, read, handed on."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict
from typing import Any

import numpy as np
from django.db.models import Count, Q
from django.http import HttpRequest, HttpResponse
from ninja import Router

from wattikos_core.case import Case, read_case
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.formats import Sheet, workbook_bytes
from wattikos_core.quantities import KINDS, difference_from_si, from_si, unit_label
from wattikos_core.studies.sensitivity import of_points
from wattikos_core.studies.series import Values, name_of
from wattikos_core.studies.series_solving import NOT_CONVERGED
from wattikos_web import series as stored
from wattikos_web.api.access import asker, own_case, own_series
from wattikos_web.api.downloads import download
from wattikos_web.api.schemas import WORKBOOK, ProblemsOut, file_of
from wattikos_web.api.series_schemas import (
    CoursesOut,
    MorePointsBody,
    NewSeriesBody,
    SensitivityBody,
    SensitivityOut,
    SeriesBody,
    SeriesLineOut,
    SeriesOut,
    SlopeOut,
)
from wattikos_web.aside import aside
from wattikos_web.aside.series import BY_HAND, series_by_hand, series_points, series_sensitivities
from wattikos_web.aside.tasks import LOOKING
from wattikos_web.models import Run, Series, SeriesPoint

router = Router(tags=["series"])
# Runs that the worker carries out at once.
_AT_ONCE = 2
# From so many points on both processes share them.
_SHARED_FROM = 200
# Instants of a course that are sent, about.
_MOST_OF_A_COURSE = 600
_OPEN = (Run.State.QUEUED, Run.State.RUNNING)


@router.post("/series/by-hand", response={200: SeriesOut, 409: ProblemsOut, 422: ProblemsOut})
def by_hand(request: HttpRequest, body: SeriesBody) -> Any:
    """The points of a document's series, and what they are by hand; nothing is stored."""
    case = read_case(body.document)
    points = aside(series_points, LOOKING, asker(request), body.document)
    hand = _hand_of(body.document, points, asker(request)) if body.hand else None
    return {
        "varied": _varied(case),
        "quantities": hand["quantities"] if hand else [],
        "points": [
            {
                "number": i,
                "values": list(values),
                "place": hand["places"][i] if hand else [],
                "hand": [column[i] for column in hand["values"]] if hand else [],
                "problem": hand["problems"][i] if hand else "",
            }
            for i, values in enumerate(points)
        ],
        "seconds": _seconds_each(request, body.case),
        "at_once": _AT_ONCE,
    }


def _hand_of(document: dict[str, Any], points: Sequence[Values], who: str) -> dict[str, Any]:
    """Points by hand; of many the second half beside the first."""
    if len(points) < _SHARED_FROM:
        return aside(series_by_hand, BY_HAND, who, document, points)
    half = len(points) // 2
    with ThreadPoolExecutor(2) as threads:
        askers = [f"{who} {i}" if who else "" for i in (1, 2)]
        halves = list(
            threads.map(
                lambda given: aside(series_by_hand, BY_HAND, given[0], document, given[1]),
                zip(askers, (points[:half], points[half:]), strict=True),
            )
        )
    keys = {json.dumps(q["key"]): q for part in halves for q in part["quantities"]}
    columns = []
    for name in keys:
        column: list[float | None] = []
        for part in halves:
            here = {json.dumps(q["key"]): values for q, values in zip(part["quantities"], part["values"], strict=True)}
            column += here.get(name, [None] * len(part["problems"]))
        columns.append(column)
    return {
        "quantities": list(keys.values()),
        "values": columns,
        **{name: [one for part in halves for one in part[name]] for name in ("problems", "places")},
    }


def _seconds_each(request: HttpRequest, case: int | None) -> float | None:
    """What a point may take, by how long the case took before; None where it was never solved."""
    if case is None:
        return None
    ended = own_case(request, case).runs.filter(state=Run.State.DONE, kind__in=(Run.Kind.SOLVE, Run.Kind.POINT))
    last = ended.exclude(summary__stored__isnull=False).only("summary").first()
    return float(last.summary["seconds"]) if last is not None and last.summary.get("seconds") else None


@router.post("/series/sensitivities", response={200: list[SensitivityOut], 409: ProblemsOut, 422: ProblemsOut})
def sensitivities(request: HttpRequest, body: SensitivityBody) -> Any:
    """How much a quantity answers to each input, by hand."""
    return aside(series_sensitivities, LOOKING, asker(request), body.document, asdict(body.key))


@router.post("/cases/{int:case}/series", response={201: SeriesOut, 404: ProblemsOut, 409: ProblemsOut, 422: ProblemsOut})
def begin(request: HttpRequest, case: int, body: NewSeriesBody) -> Any:
    """Solve the series of a case as it is stored, point by point."""
    record = own_case(request, case)
    if record.revision != body.revision:
        said = f"the stored case is at revision {record.revision}, not {body.revision}"
        return 409, {"problems": [{"field": "revision", "problem": said, "remedy": "save first, or take over what is stored"}]}
    points = aside(series_points, LOOKING, "", record.document)
    stored.refuse_too_many(len(points))
    hand = _hand_of(record.document, points, "")
    names = " and ".join(one["label"] for one in _varied(read_case(record.document)))
    return 201, _out(stored.begin(record, body.name.strip() or names, points, _by_key(hand)))


def _by_key(hand: dict[str, Any]) -> dict[str, Any]:
    return {name: hand[name] for name in ("quantities", "values")}


@router.get("/cases/{int:case}/series", response={200: list[SeriesLineOut], 404: ProblemsOut})
def series_of_case(request: HttpRequest, case: int) -> Any:
    """The series of a case, newest first."""
    counts = {
        "count": Count("points"),
        "solved": Count("points", filter=Q(points__run__in=Run.objects.filter(stored.SOLVED))),
        "failed": Count("points", filter=Q(points__run__in=Run.objects.filter(stored.FAILED))),
        "open": Count("points", filter=Q(points__run__state__in=_OPEN)),
        "held": Count("points", filter=Q(points__run__state__in=(Run.State.HELD, Run.State.STOPPED))),
    }
    return [
        {
            "id": one.pk,
            "name": one.name,
            "begun": one.begun,
            "varied": [name_of(varied) for varied in stored.varied_of(one)],
            "points": points,
            "solved": solved,
            "failed": failed,
            "state": "running" if going else "held" if held else "done",
        }
        for one, points, solved, failed, going, held in (
            (one, *(getattr(one, name) for name in counts)) for one in own_case(request, case).series.annotate(**counts)
        )
    ]


@router.get("/series/{int:series}", response={200: SeriesOut, 404: ProblemsOut})
def read(request: HttpRequest, series: int) -> Any:
    """A series with all its points."""
    return _out(own_series(request, series))


@router.get("/series/{int:series}/slopes", response={200: list[SlopeOut], 404: ProblemsOut})
def slopes(request: HttpRequest, series: int) -> Any:
    """How quantities answer to what is varied, by the solved points together."""
    out = _out(own_series(request, series))
    places = np.array([[np.nan if x is None else x for x in point["place"]] for point in out["points"]], dtype=float)
    kinds = {one["name"]: one["kind"] for one in out["varied"] if one["kind"]}
    names = [one["name"] for one in out["varied"]]
    middles = np.nanmean(places, axis=0) if places.size else np.zeros(len(names))
    told = []
    for i, quantity in enumerate(out["quantities"]):
        found = of_points(places, [point["solved"][i] for point in out["points"]], names, kinds)
        told += [
            {"key": quantity["key"], "input": name, "slope": slope, "middle": float(middles[names.index(name)])}
            for name, slope in found.items()
        ]
    return told


@router.get("/series/{int:series}/courses", response={200: CoursesOut, 404: ProblemsOut})
def courses(request: HttpRequest, series: int, quantity: str = "") -> Any:
    """How a quantity went in time at each point: that which is named, or the first that was followed."""
    points = own_series(request, series).points.select_related("run").filter(run__summary__time__isnull=False)
    kinds: dict[str, str] = {}
    rows: dict[int, list[dict[str, Any]]] = {}
    for point in points.defer("run__checkpoint", "run__ledger", "run__document"):
        if point.run is not None:
            rows[point.number] = [row for row in [*point.run.before, *point.run.history] if row.get("time") is not None]
            kinds |= point.run.progress.get("kinds", {})
    names = list(dict.fromkeys(name for history in rows.values() for row in history for name in row.get("watches", {})))
    shown = quantity if quantity in names else next(iter(names), "")
    return {
        "quantities": names,
        "kinds": {name: kinds.get(name, "number") for name in names},
        "shown": shown,
        "courses": [_course(number, history, shown) for number, history in rows.items()] if shown else [],
    }


def _course(number: int, history: list[dict[str, Any]], name: str) -> dict[str, Any]:
    some = history[:: max(1, len(history) // _MOST_OF_A_COURSE)]
    if history and some[-1] is not history[-1]:
        some = [*some, history[-1]]
    return {"number": number, "time": [row["time"] for row in some], "values": [row.get("watches", {}).get(name) for row in some]}


def _act(request: HttpRequest, series: int, action: Callable[[Series], None]) -> Any:
    found = own_series(request, series)
    action(found)
    return _out(found)


@router.post("/series/{int:series}/hold", response={200: SeriesOut, 404: ProblemsOut})
def hold(request: HttpRequest, series: int) -> Any:
    """Begin no further points."""
    return _act(request, series, stored.hold)


@router.post("/series/{int:series}/stop", response={200: SeriesOut, 404: ProblemsOut})
def stop(request: HttpRequest, series: int) -> Any:
    """Begin no further points, and end those that are being solved."""
    return _act(request, series, stored.stop)


@router.post("/series/{int:series}/go-on", response={200: SeriesOut, 404: ProblemsOut})
def go_on(request: HttpRequest, series: int) -> Any:
    """Go on with what was held or stopped."""
    return _act(request, series, stored.go_on)


@router.post("/series/{int:series}/retry", response={200: SeriesOut, 404: ProblemsOut})
def retry(request: HttpRequest, series: int) -> Any:
    """Solve what has failed again."""
    return _act(request, series, stored.retry)


@router.post("/series/{int:series}/points", response={200: SeriesOut, 404: ProblemsOut, 422: ProblemsOut})
def more(request: HttpRequest, series: int, body: MorePointsBody) -> Any:
    """Add points to a series; those that it has already are left out."""
    found = own_series(request, series)
    names = [name_of(one) for one in stored.varied_of(found)]
    if body.varied != names:
        problem = f"the points are of {', '.join(body.varied) or 'nothing'}, the series is of {', '.join(names)}"
        raise CaseError(InputProblem("varied", problem, "add points of the same inputs in the same order, or begin another series"))
    count = len(names)
    wrong = next((i for i, values in enumerate(body.points) if len(values) != count), None)
    if wrong is not None:
        problem = f"{len(body.points[wrong])} values for {count} inputs"
        raise CaseError(InputProblem(f"points[{wrong}]", problem, "give one value for each input that is varied"))
    stored.add(found, [tuple(values) for values in body.points])
    everything = [tuple(values) for values in found.points.values_list("values", flat=True)]
    found.hand = _by_key(_hand_of(found.document, everything, ""))
    found.save(update_fields=["hand"])
    return _out(found)


@router.delete("/series/{int:series}", response={204: None, 404: ProblemsOut})
def discard(request: HttpRequest, series: int) -> Any:
    """Delete a series with the runs of its points."""
    stored.discard(own_series(request, series))
    return 204, None


@router.get("/series/{int:series}/table.csv", response={200: bytes, 404: ProblemsOut}, openapi_extra=file_of("text/csv"))
def table(request: HttpRequest, series: int) -> HttpResponse:
    """All points as a table, in the units people read."""
    found = own_series(request, series)
    text = io.StringIO()
    titles, rows = _table(_out(found))
    csv.writer(text).writerows([titles, *rows])
    return download(text.getvalue().encode(), "text/csv", f"series-{found.pk}.csv")


@router.get("/series/{int:series}/table.xlsx", response={200: bytes, 404: ProblemsOut}, openapi_extra=file_of(WORKBOOK))
def workbook(request: HttpRequest, series: int) -> HttpResponse:
    """The same as a workbook."""
    found = own_series(request, series)
    titles, rows = _table(_out(found))
    return download(workbook_bytes([Sheet(found.name[:31], titles, rows)]), WORKBOOK, f"series-{found.pk}.xlsx")


def _table(out: dict[str, Any]) -> tuple[list[str], list[list[str | float]]]:
    titles = ["point"]
    for one in out["varied"]:
        titles.append(f"{one['label']} ({unit_label(one['unit'])})" if one["unit"] else one["label"])
    for quantity in out["quantities"]:
        unit = unit_label(KINDS[quantity["kind"]].unit)
        titles += [f"{quantity['name']}, {column}{f' ({unit})' if unit else ''}" for column in ("by hand", "solved", "grid ±")]
    rows: list[list[str | float]] = []
    for point in out["points"]:
        row: list[str | float] = [point["number"] + 1]
        for one, place, text in zip(out["varied"], point["place"], point["values"], strict=True):
            row.append(from_si(place, one["unit"], one["kind"]) if one["kind"] and place is not None else text)
        for i, quantity in enumerate(out["quantities"]):
            kind, unit = quantity["kind"], KINDS[quantity["kind"]].unit
            for column in ("hand", "solved"):
                value = point[column][i] if point[column] else None
                row.append("" if value is None else from_si(value, unit, kind))
            spread = point["plus_minus"][i] if point["plus_minus"] else None
            row.append("" if spread is None else difference_from_si(spread, unit, kind))
        rows.append([*row, point["state"]])
    return [*titles, "state"], rows


def _varied(case: Case) -> list[dict[str, str]]:
    found = []
    for one in case.series.varied:
        item = case.inputs.get(one.input)
        unit = (item.unit or KINDS[item.kind].unit) if item is not None else ""
        label = item.label if item is not None and item.label else name_of(one)
        found.append({"name": name_of(one), "label": label, "kind": item.kind if item is not None else "", "unit": unit})
    return found


def _out(series: Series) -> dict[str, Any]:
    case = read_case(series.document)
    points = list(series.points.select_related("run").defer("run__checkpoint", "run__history", "run__document", "run__before"))
    hand = series.hand or {"quantities": [], "values": []}
    quantities = {json.dumps(q["key"], sort_keys=True): q for q in hand["quantities"]}
    ledgers = [{json.dumps(row["key"], sort_keys=True): row for row in _rows(point)} for point in points]
    for ledger in ledgers:
        for name, row in ledger.items():
            if row["solved"] is not None:
                quantities.setdefault(name, {"key": row["key"], "name": row["name"], "kind": row["kind"]})
    columns = {json.dumps(q["key"], sort_keys=True): values for q, values in zip(hand["quantities"], hand["values"], strict=True)}
    told = [_point(point, list(quantities), columns, ledger) for point, ledger in zip(points, ledgers, strict=True)]
    states = {point["state"] for point in told}
    going = states & {state.value for state in _OPEN}
    return {
        "id": series.pk,
        "name": series.name,
        "begun": series.begun,
        "varied": _varied(case),
        "quantities": list(quantities.values()),
        "points": told,
        "state": "running" if going else "held" if states & {"held", "stopped"} else "done",
        "seconds": None,
        "at_once": _AT_ONCE,
    }


def series_data(series: Series) -> dict[str, Any]:
    """A series as reports tell it."""
    out = _out(series)
    return {name: out[name] for name in ("name", "varied", "quantities", "points")}


def _rows(point: SeriesPoint) -> list[dict[str, Any]]:
    """Of its ledger; none of a run that did not converge."""
    run = point.run
    return run.ledger["quantities"] if run is not None and run.ledger and run.summary.get("converged") is not False else []


def _point(point: SeriesPoint, names: list[str], columns: dict[str, list[float | None]], ledger: dict[str, Any]) -> dict[str, Any]:
    run = point.run
    failure = (run.failure or {}) if run is not None else {}
    said = f"{failure['problem']}; {failure['remedy']}" if failure else ""
    astray = run is not None and run.state == Run.State.DONE.value and run.summary.get("converged") is False
    by_hand = [columns[name][point.number] if name in columns and point.number < len(columns[name]) else None for name in names]
    return {
        "number": point.number,
        "values": point.values,
        "place": point.place,
        "hand": by_hand,
        "solved": [ledger[name]["solved"] if name in ledger else None for name in names],
        "plus_minus": [ledger[name]["grid_plus_minus"] if name in ledger else None for name in names],
        "run": run.pk if run is not None else None,
        "state": "lost" if run is None else "failed" if astray else run.state,
        "fraction": float(run.progress.get("fraction") or 0.0) if run is not None else 0.0,
        "problem": NOT_CONVERGED if astray else said or point.problem,
    }
