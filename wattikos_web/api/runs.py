"""Runs: queue, follow, stop, read, download."""

from __future__ import annotations

import gzip
import json
import tempfile
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from wattikos_core.case import Case, read_case
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.formats import Sheet, workbook_bytes, write_series, write_vtu
from wattikos_core.quantities.values import show
from wattikos_core.read import unpack_frame
from wattikos_web.api.access import grid_file_of, own_case, own_run, user_of
from wattikos_web.api.downloads import download
from wattikos_web.api.schemas import WORKBOOK, FieldOut, FieldsOut, NewRunBody, ProblemsOut, RunLineOut, RunOut, file_of
from wattikos_web.aside import aside
from wattikos_web.aside.arrays import fields_out, frame_out, mesh_bytes, mesh_out
from wattikos_web.aside.tasks import GRIDDING, refuse
from wattikos_web.models import CaseRecord, Frame, Run
from wattikos_web.reading import read_instant, read_run
from wattikos_web.series import meaning_of
from wattikos_web.tables import LEDGER_COLUMNS, history_csv, ledger_csv, ledger_rows
from wattikos_web.waiting import waits_for

router = Router(tags=["runs"])
# Compression of frames: codes are small already, and the next frame is waited for.
_QUICKLY = 1
# Frames times cells in one archive of VTU files.
_MOST_IN_A_SERIES = 20_000_000


@router.post("/cases/{int:case}/runs", response={201: RunOut, 404: ProblemsOut, 409: ProblemsOut, 422: ProblemsOut})
def start(request: HttpRequest, case: int, body: NewRunBody) -> Any:
    """Queue a run of the case as it is stored; refused with all problems when it cannot be solved."""
    record = own_case(request, case)
    if record.revision != body.revision:
        problem = {
            "field": "revision",
            "problem": f"the stored case is at revision {record.revision}, not {body.revision}",
            "remedy": "save first, or take over what is stored",
        }
        return 409, {"problems": [problem]}
    document = read_case(record.document)
    sizing = body.kind == Run.Kind.SIZING.value
    end, ground = aside(refuse, GRIDDING, "", record.document, grid_file_of(record, document), sizing)
    former = _former(record, document, body)
    _refuse_beginning(document, end, body, former)
    with transaction.atomic():
        # A second click, or a second tab: what is on its way already is what was asked for.
        alike = record.runs.filter(kind=body.kind, revision=record.revision, go_on=body.go_on, stop_wanted=False)
        going = alike.filter(state__in=(Run.State.QUEUED, Run.State.RUNNING)).first()
        if going is not None:
            Run.objects.filter(pk=going.pk).update(background=False)
            return 201, _out(going, 0, user_of(request))
        run = Run.objects.create(
            case=record,
            kind=body.kind,
            document=record.document,
            revision=record.revision,
            meaning=meaning_of(document) if body.kind == Run.Kind.SOLVE.value else ground,
            trials=_trials(record, ground),
            warm_start=former,
            go_on=body.go_on,
            before=[*former.before, *former.history] if body.go_on and former is not None else [],
            progress={"stage": "queued"},
        )
        if body.go_on and former is not None:
            Frame.objects.bulk_create([Frame(run=run, number=f.number, time=f.time, data=f.data) for f in former.frames.all()])
    return 201, _out(run, 0, user_of(request))


def _trials(record: CaseRecord, ground: str) -> list[dict[str, Any]]:
    """What earlier sizings on the same ground have tried."""
    if not ground:
        return []
    return next((run.trials for run in record.runs.filter(kind=Run.Kind.SIZING, meaning=ground).only("trials") if run.trials), [])


def _refuse_beginning(document: Case, end: float | None, body: NewRunBody, former: Run | None) -> None:
    """Raise CaseError when a run that ends at `end` (s; None in steady state) cannot begin as it is wished to."""
    if body.go_on and end is None:
        raise CaseError(InputProblem("go_on", "a steady case has no time to go on in", "solve it, or choose the regime 'in time'"))
    if former is None and body.go_on:
        raise CaseError(InputProblem("go_on", "there is no former run to begin from", "solve from the beginning"))
    if former is None and end is not None and document.time.begin == "former_run":
        raise CaseError(InputProblem("time.begin", "there is no former run to begin from", "begin at given temperatures"))
    if body.go_on and end is not None and former is not None and former.summary["time"] >= end:
        reached = show(former.summary["time"], "time")
        raise CaseError(InputProblem("time.end", f"the run has reached {reached} already", "give a later end to carry it on"))


def _former(record: CaseRecord, document: Case, body: NewRunBody) -> Run | None:
    """The run whose fields the new one begins with."""
    ended = record.runs.filter(checkpoint__isnull=False).exclude(kind=Run.Kind.POINT).defer("checkpoint")
    if body.go_on:
        return ended.filter(state__in=(Run.State.DONE, Run.State.STOPPED), summary__time__isnull=False).first()
    in_time = document.physics.regime == "time"
    if not body.warm or (in_time and document.time.begin != "former_run"):
        return None
    return ended.filter(state=Run.State.DONE).first()


@router.get("/cases/{int:case}/runs", response={200: list[RunLineOut], 404: ProblemsOut})
def runs(request: HttpRequest, case: int) -> Any:
    """The runs of a case, newest first; those of its series stand with them."""
    found = own_case(request, case).runs.exclude(kind=Run.Kind.POINT)
    return list(found.defer("checkpoint", "history", "ledger"))


@router.get("/runs/{int:run}", response={200: RunOut, 404: ProblemsOut})
def read(request: HttpRequest, run: int, since: int = 0) -> Any:
    """A run; `since` leaves out the history rows already known."""
    return _out(own_run(request, run), since, user_of(request))


@router.post("/runs/{int:run}/stop", response={200: RunOut, 404: ProblemsOut})
def stop(request: HttpRequest, run: int) -> Any:
    """Ask a run to stop; what it has reached is kept."""
    found = own_run(request, run)
    Run.objects.filter(pk=found.pk, state=Run.State.QUEUED).update(state=Run.State.STOPPED, finished=timezone.now())
    Run.objects.filter(pk=found.pk, state=Run.State.RUNNING).update(stop_wanted=True)
    return _out(own_run(request, run), 0, user_of(request))


@router.get("/runs/{int:run}/fields", response={200: FieldsOut, 404: ProblemsOut})
def fields(request: HttpRequest, run: int, frame: int | None = None) -> Any:
    """The fields of a frame of a run with their grid; the last one that there is when none is named."""
    instant = read_instant(own_run(request, run), frame)
    return {"mesh": mesh_out(instant.grid), "fields": fields_out(instant.fields)}


@router.get(
    "/runs/{int:run}/mesh/packed",
    response={200: bytes, 404: ProblemsOut},
    openapi_extra=file_of("application/octet-stream"),
)
def packed_mesh(request: HttpRequest, run: int) -> HttpResponse:
    """The grid that the fields of a run are on, compressed; see `aside.arrays.mesh_bytes`."""
    return _compressed(mesh_bytes(read_run(own_run(request, run)).between.grid))


@router.get(
    "/runs/{int:run}/frames/{int:frame}/packed",
    response={200: bytes, 404: ProblemsOut},
    openapi_extra=file_of("application/octet-stream"),
)
def packed_frame(request: HttpRequest, run: int, frame: int) -> HttpResponse:
    """The fields of a frame as they are kept, sixteen bits a value, compressed; see `aside.arrays.frame_out`."""
    data = own_run(request, run).frames.filter(number=frame).values_list("data", flat=True).first()
    if data is None:
        raise Http404
    return _compressed(frame_out(bytes(data)))


def _compressed(content: bytes) -> HttpResponse:
    small = gzip.compress(content, compresslevel=_QUICKLY, mtime=0)
    return HttpResponse(small, content_type="application/octet-stream", headers={"Content-Encoding": "gzip"})


@router.get("/runs/{int:run}/frames/{int:frame}", response={200: list[FieldOut], 404: ProblemsOut})
def frame(request: HttpRequest, run: int, frame: int) -> Any:
    """The fields of a frame alone."""
    return fields_out(read_instant(own_run(request, run), frame).fields)


@router.get("/runs/{int:run}/fields.vtu", response={200: bytes, 404: ProblemsOut}, openapi_extra=file_of("application/xml"))
def vtu(request: HttpRequest, run: int, frame: int | None = None) -> HttpResponse:
    """The fields of a frame as a VTU file; the last one when none is named."""
    instant = read_instant(own_run(request, run), frame)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "fields.vtu"
        write_vtu(path, instant.grid, instant.fields)
        return download(path.read_bytes(), "application/xml", f"run-{run}.vtu")


@router.get(
    "/runs/{int:run}/series.zip",
    response={200: bytes, 404: ProblemsOut, 422: ProblemsOut},
    openapi_extra=file_of("application/zip"),
)
def series(request: HttpRequest, run: int) -> HttpResponse:
    """All frames of a run in time as VTU files, with the collection of their times (PVD), in one archive."""
    found = own_run(request, run)
    grid = read_run(found).between.grid
    count = found.frames.count()
    if count * grid.n_cells > _MOST_IN_A_SERIES:
        remedy = "write them with `wattikos solve --frames`, or keep fewer frames"
        raise CaseError(InputProblem("run", f"{count} frames of {grid.n_cells:,} cells are too many for one file", remedy))
    frames = found.frames.values_list("time", "data").iterator(chunk_size=4)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "series.zip"
        write_series(path, grid, ((0.0 if time is None else time, unpack_frame(bytes(data))) for time, data in frames))
        return download(path.read_bytes(), "application/zip", f"run-{run}-series.zip")


@router.get("/runs/{int:run}/history.csv", response={200: bytes, 404: ProblemsOut}, openapi_extra=file_of("text/csv"))
def history_table(request: HttpRequest, run: int) -> HttpResponse:
    """Residuals and watched quantities, step by step, in SI units."""
    return download(history_csv(own_run(request, run)).encode(), "text/csv", f"run-{run}-history.csv")


@router.get("/runs/{int:run}/ledger.json", response={200: dict[str, Any], 404: ProblemsOut})
def ledger_file(request: HttpRequest, run: int) -> HttpResponse:
    """The ledger as JSON."""
    return download(json.dumps(_ledger(request, run), indent=2).encode(), "application/json", f"run-{run}-ledger.json")


@router.get("/runs/{int:run}/ledger.csv", response={200: bytes, 404: ProblemsOut}, openapi_extra=file_of("text/csv"))
def ledger_table(request: HttpRequest, run: int) -> HttpResponse:
    """The ledger as a table, in the units people read."""
    return download(ledger_csv(_ledger(request, run)).encode(), "text/csv", f"run-{run}-ledger.csv")


@router.get("/runs/{int:run}/ledger.xlsx", response={200: bytes, 404: ProblemsOut}, openapi_extra=file_of(WORKBOOK))
def ledger_workbook(request: HttpRequest, run: int) -> HttpResponse:
    """The ledger as a workbook, in the units people read."""

    def number(text: str) -> str | float:
        try:
            return float(text)
        except ValueError:
            return text

    rows = [[*row[:3], *(number(text) for text in row[3:7]), *row[7:]] for row in ledger_rows(_ledger(request, run))]
    return download(workbook_bytes([Sheet("ledger", LEDGER_COLUMNS, rows)]), WORKBOOK, f"run-{run}-ledger.xlsx")


@router.get("/runs/{int:run}/record.json", response={200: dict[str, Any], 404: ProblemsOut})
def record_file(request: HttpRequest, run: int) -> HttpResponse:
    """All that a run was solved with: versions, machine, schemes, properties with their sources, and its case."""
    found = own_run(request, run)
    if "record" not in found.summary:
        raise Http404
    record = {"run": found.pk, "finished": found.finished, **found.summary["record"], "case": found.document}
    return download(json.dumps(record, indent=2, default=str).encode(), "application/json", f"run-{run}-record.json")


@router.get("/runs/{int:run}/case.json", response={200: dict[str, Any], 404: ProblemsOut})
def case_file(request: HttpRequest, run: int) -> HttpResponse:
    """The case a run was made from."""
    return download(json.dumps(own_run(request, run).document, indent=2).encode(), "application/json", f"run-{run}-case.json")


def _ledger(request: HttpRequest, run: int) -> dict[str, Any]:
    found = own_run(request, run)
    if found.ledger is None:
        raise Http404
    return dict(found.ledger)


def _out(run: Run, since: int, user: User) -> dict[str, Any]:
    ledger = run.ledger or {}
    rows = [*run.before, *run.history]
    return {
        "id": run.pk,
        "case": run.case.pk,
        "kind": run.kind,
        "state": run.state,
        "revision": run.revision,
        "document": read_case(run.document),
        "progress": run.progress,
        "history": rows[max(since, 0) :],
        "steps": len(rows),
        "frames": list(run.frames.values("number", "time")),
        "ledger": ledger.get("quantities", []),
        "findings": ledger.get("findings", []),
        "trials": run.trials,
        "summary": run.summary,
        "failure": run.failure,
        "waits": waits_for(run, user) if run.state == Run.State.QUEUED else None,
        "queued": run.queued,
        "started": run.started,
        "finished": run.finished,
    }
