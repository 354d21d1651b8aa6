"""Cases: read, save with revisions, look at, grid."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Body, Router

from wattikos_core.case import Case, read_case
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence.ledger import hand_in
from wattikos_core.formats import grid_bytes
from wattikos_core.grid import Grid
from wattikos_core.quantities import KINDS, from_si
from wattikos_core.studies import estimate_ledger, grid_of, prepare, read_task, vary_by_hand
from wattikos_web.api.access import grid_file_of, own_case
from wattikos_web.api.arrays import mesh_out
from wattikos_web.api.projects import case_out
from wattikos_web.api.schemas import (
    CaseDocument,
    CaseOut,
    CaseViewOut,
    ConflictOut,
    GridBody,
    MeshOut,
    ProblemsOut,
    RevisionOut,
    SaveBody,
    SavedOut,
    VaryBody,
    VaryOut,
)
from wattikos_web.api.view import case_view
from wattikos_web.models import CaseRecord, CaseRevision

router = Router(tags=["cases"])


@router.post("/evaluate", response={200: CaseViewOut, 422: ProblemsOut})
def evaluate(request: HttpRequest, document: Body[CaseDocument]) -> Any:
    """Look at a document without storing it: sketch, hand calculation, problems. Answers while one types."""
    return case_view(read_case(document))


@router.post("/grid", response={200: MeshOut, 404: ProblemsOut, 422: ProblemsOut})
def grid(request: HttpRequest, body: GridBody) -> Any:
    """The grid a document makes, or the one that was imported for its case."""
    return mesh_out(_grid(request, body))


@router.post("/grid.vtu", response={200: bytes, 404: ProblemsOut, 422: ProblemsOut})
def grid_download(request: HttpRequest, body: GridBody) -> HttpResponse:
    """The same as a file, with the names of parts and boundaries."""
    content = grid_bytes(_grid(request, body))
    return HttpResponse(content, content_type="application/xml", headers={"Content-Disposition": 'attachment; filename="grid.vtu"'})


def _grid(request: HttpRequest, body: GridBody) -> Grid:
    document = read_case(body.document)
    record = own_case(request, body.case) if body.case is not None else None
    return grid_of(prepare(document, grid_file_of(record, document)))


@router.post("/vary", response={200: VaryOut, 422: ProblemsOut})
def vary(request: HttpRequest, body: VaryBody) -> Any:
    """A hand-calculated quantity along the range of one input."""
    case = read_case(body.document)
    # Any value serves as target: a curve has none.
    anything = hand_in(estimate_ledger(case), body.key)
    if anything is None:
        raise CaseError(
            InputProblem("key", f"'{body.key.label}' is not calculated by hand here", "choose one that has a value by hand")
        )
    kind = KINDS[body.key.kind]
    target = f"{from_si(anything.value, kind.unit, kind.name):.12g} {kind.unit}".strip()
    task = read_task(case, input=body.input, key=body.key, target=target, lower=body.lower, upper=body.upper)
    return {"points": vary_by_hand(case, task, body.count), "lower": task.lower, "upper": task.upper}


@router.get("/cases/{int:case}", response={200: CaseOut, 404: ProblemsOut})
def read(request: HttpRequest, case: int) -> Any:
    """A stored case."""
    return case_out(own_case(request, case))


@router.put("/cases/{int:case}", response={200: SavedOut, 404: ProblemsOut, 409: ConflictOut, 422: ProblemsOut})
def save(request: HttpRequest, case: int, body: SaveBody) -> Any:
    """Store a case if nobody else has since it was read; otherwise say what is stored now."""
    document = read_case(body.document)
    own_case(request, case)
    with transaction.atomic():
        record = CaseRecord.objects.select_for_update().get(pk=case)
        if record.revision != body.revision:
            problem = {
                "field": "revision",
                "problem": f"this case was saved elsewhere meanwhile (revision {record.revision}, yours began at {body.revision})",
                "remedy": "keep yours as a copy, take the other one, or put yours on top; both stay among the earlier saves",
            }
            return 409, {"problems": [problem], "revision": record.revision, "document": read_case(record.document)}
        store(record, document)
    return {"revision": record.revision}


def store(record: CaseRecord, document: Case) -> None:
    """Write a new revision."""
    data = document.model_dump(mode="json")
    if data == record.document:
        return
    record.document = data
    record.title = document.title
    record.revision += 1
    record.save()
    CaseRevision.objects.create(case=record, number=record.revision, document=data)


@router.delete("/cases/{int:case}", response={204: None, 404: ProblemsOut})
def delete(request: HttpRequest, case: int) -> Any:
    """Delete a case with its runs."""
    own_case(request, case).delete()
    return 204, None


@router.get("/cases/{int:case}/revisions", response={200: list[RevisionOut], 404: ProblemsOut})
def revisions(request: HttpRequest, case: int) -> Any:
    """Earlier saves, newest first."""
    return list(own_case(request, case).revisions.all()[:200])


@router.get("/cases/{int:case}/revisions/{int:number}", response={200: Case, 404: ProblemsOut})
def revision(request: HttpRequest, case: int, number: int) -> Any:
    """The document of an earlier save."""
    from django.shortcuts import get_object_or_404

    return read_case(get_object_or_404(CaseRevision, case=own_case(request, case), number=number).document)
