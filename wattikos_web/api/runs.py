"""Runs: queue, follow, stop, read, download."""

from __future__ import annotations

import csv
import io
import json
import tempfile
from pathlib import Path
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from ninja import Router

from wattikos_core.case import read_case
from wattikos_core.formats import write_vtu
from wattikos_core.grid import check_sizes
from wattikos_core.quantities import KINDS, from_si
from wattikos_core.runs import prepare
from wattikos_core.search import read_task
from wattikos_core.solve.state import unpack_checkpoint
from wattikos_web.api.access import grid_file_of, own_case, own_run
from wattikos_web.api.arrays import fields_out
from wattikos_web.api.catalogue import unit_label
from wattikos_web.api.schemas import FieldsOut, NewRunBody, ProblemsOut, RunLineOut, RunOut
from wattikos_web.models import Run

router = Router(tags=["runs"])


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
    prepared = prepare(document, grid_file_of(record, document))
    if prepared.imported is None:
        check_sizes(prepared.resolved, prepared.section, document.grid.fineness)
    if body.kind == Run.Kind.SIZING:
        read_task(document, **document.sizing.model_dump())
    former = record.runs.filter(state=Run.State.DONE).defer("checkpoint").first() if body.warm else None
    run = Run.objects.create(
        case=record,
        kind=body.kind,
        document=record.document,
        revision=record.revision,
        warm_start=former,
        progress={"stage": "queued"},
    )
    return 201, _out(run, 0)


@router.get("/cases/{int:case}/runs", response={200: list[RunLineOut], 404: ProblemsOut})
def runs(request: HttpRequest, case: int) -> Any:
    """The runs of a case, newest first."""
    return list(own_case(request, case).runs.defer("checkpoint", "history", "ledger"))


@router.get("/runs/{int:run}", response={200: RunOut, 404: ProblemsOut})
def read(request: HttpRequest, run: int, since: int = 0) -> Any:
    """A run; `since` leaves out the history rows already known."""
    return _out(own_run(request, run), since)


@router.post("/runs/{int:run}/stop", response={200: RunOut, 404: ProblemsOut})
def stop(request: HttpRequest, run: int) -> Any:
    """Ask a run to stop; what it has reached is kept."""
    found = own_run(request, run)
    Run.objects.filter(pk=found.pk, state=Run.State.QUEUED).update(state=Run.State.STOPPED)
    Run.objects.filter(pk=found.pk, state=Run.State.RUNNING).update(stop_wanted=True)
    return _out(own_run(request, run), 0)


@router.get("/runs/{int:run}/fields", response={200: FieldsOut, 404: ProblemsOut})
def fields(request: HttpRequest, run: int) -> Any:
    """The fields of a finished run."""
    grid, state, fluid = _solution(request, run)
    return fields_out(grid, state, fluid)


@router.get("/runs/{int:run}/fields.vtu", response={200: bytes, 404: ProblemsOut})
def vtu(request: HttpRequest, run: int) -> HttpResponse:
    """The fields as a VTU file."""
    grid, state, fluid = _solution(request, run)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "fields.vtu"
        write_vtu(path, grid, state, fluid)
        return _file(path.read_bytes(), "application/xml", f"run-{run}.vtu")


@router.get("/runs/{int:run}/ledger.json", response={200: bytes, 404: ProblemsOut})
def ledger_file(request: HttpRequest, run: int) -> HttpResponse:
    """The ledger as JSON."""
    return _file(json.dumps(_ledger(request, run), indent=2).encode(), "application/json", f"run-{run}-ledger.json")


@router.get("/runs/{int:run}/ledger.csv", response={200: bytes, 404: ProblemsOut})
def ledger_table(request: HttpRequest, run: int) -> HttpResponse:
    """The ledger as a table, in the units people read."""
    text = io.StringIO()
    table = csv.writer(text)
    table.writerow(["quantity", "unit", "wanted", "by hand", "solved", "grid ±", "verdict", "definition"])
    for row in _ledger(request, run)["quantities"]:
        kind, unit = row["kind"], KINDS[row["kind"]].unit
        hand = row["by_hand"]["value"] if row["by_hand"] else None
        shown = ["" if v is None else f"{from_si(v, unit, kind):.6g}" for v in (row["target"], hand, row["solved"])]
        spread = row["grid_plus_minus"]
        # A ± is a difference: it has the scale of the unit but not its offset.
        width = "" if spread is None else f"{from_si(spread, unit, kind) - from_si(0.0, unit, kind):.2g}"
        table.writerow([row["name"], unit_label(unit), *shown, width, row["verdict"], row["definition"]])
    return _file(text.getvalue().encode(), "text/csv", f"run-{run}-ledger.csv")


@router.get("/runs/{int:run}/case.json", response={200: bytes, 404: ProblemsOut})
def case_file(request: HttpRequest, run: int) -> HttpResponse:
    """The case a run was made from."""
    return _file(json.dumps(own_run(request, run).document, indent=2).encode(), "application/json", f"run-{run}-case.json")


def _solution(request: HttpRequest, run: int) -> Any:
    found = own_run(request, run, fields=True)
    if not found.checkpoint:
        raise Http404
    grid, state, _ = unpack_checkpoint(bytes(found.checkpoint))
    fluid = ~_solid(found, grid)
    return grid, state, fluid


def _solid(run: Run, grid: Any) -> Any:
    import numpy as np

    solid = [not fluid for fluid in run.summary["fluid"]]
    return np.array(solid)[grid.region]


def _ledger(request: HttpRequest, run: int) -> dict[str, Any]:
    found = own_run(request, run)
    if found.ledger is None:
        raise Http404
    return dict(found.ledger)


def _file(content: bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(content, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


def _out(run: Run, since: int) -> dict[str, Any]:
    ledger = run.ledger or {}
    return {
        "id": run.pk,
        "case": run.case.pk,
        "kind": run.kind,
        "state": run.state,
        "revision": run.revision,
        "document": read_case(run.document),
        "progress": run.progress,
        "history": run.history[max(since, 0) :],
        "steps": len(run.history),
        "ledger": ledger.get("quantities", []),
        "findings": ledger.get("findings", []),
        "summary": run.summary,
        "failure": run.failure,
        "queued": run.queued,
        "started": run.started,
        "finished": run.finished,
    }
