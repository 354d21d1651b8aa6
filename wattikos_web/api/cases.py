"""Cases: read, save with revisions, look at, grid."""

from __future__ import annotations

import json
from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router

from wattikos_core.case import Case, differences, edited, read_case
from wattikos_web.api.access import asker, grid_file_of, own_case, user_of
from wattikos_web.api.projects import case_out
from wattikos_web.api.schemas import (
    CaseOut,
    CaseViewOut,
    ConflictOut,
    EditBody,
    EditedOut,
    GridBody,
    LookBody,
    MeshOut,
    ProblemsOut,
    RevisionOut,
    SaveBody,
    SavedOut,
    file_of,
)
from wattikos_web.aside import aside
from wattikos_web.aside.tasks import GRIDDING, LOOKING, look, mesh, mesh_file
from wattikos_web.models import CaseRecord, CaseRevision, Run

router = Router(tags=["cases"])


@router.post("/evaluate", response={200: CaseViewOut, 409: ProblemsOut, 422: ProblemsOut})
def evaluate(request: HttpRequest, body: LookBody) -> Any:
    """Look at a document without storing it: sketch, hand calculation, problems. Answers while one types."""
    own = Run.objects.filter(pk__in=body.runs, case__project__owner=user_of(request), case__deleted=None)
    return aside(look, LOOKING, asker(request), body.document, dict(own.values_list("pk", "document")))


@router.post("/grid", response={200: MeshOut, 404: ProblemsOut, 409: ProblemsOut, 422: ProblemsOut})
def grid(request: HttpRequest, body: GridBody) -> Any:
    """The grid a document makes, or the one that was imported for its case."""
    return aside(mesh, GRIDDING, asker(request), body.document, _grid_file(request, body))


@router.post("/grid.vtu", response={200: bytes, 404: ProblemsOut, 422: ProblemsOut}, openapi_extra=file_of("application/xml"))
def grid_download(request: HttpRequest, body: GridBody) -> HttpResponse:
    """The same as a file, with the names of parts and boundaries."""
    content = aside(mesh_file, GRIDDING, "", body.document, _grid_file(request, body))
    return HttpResponse(content, content_type="application/xml", headers={"Content-Disposition": 'attachment; filename="grid.vtu"'})


def _grid_file(request: HttpRequest, body: GridBody) -> bytes | None:
    record = own_case(request, body.case) if body.case is not None else None
    return grid_file_of(record, read_case(body.document))


@router.post("/edit", response={200: EditedOut, 422: ProblemsOut})
def edit(request: HttpRequest, body: EditBody) -> Any:
    """An edit of a document that reaches further than its own place; nothing is stored."""
    case, also = edited(read_case(body.document), body.action, body.name, body.to)
    return {"document": case, "also": also}


@router.get("/cases/{int:case}", response={200: CaseOut, 404: ProblemsOut})
def read(request: HttpRequest, case: int) -> Any:
    """A stored case."""
    return case_out(own_case(request, case))


@router.get("/cases/{int:case}/state", response={200: SavedOut, 404: ProblemsOut})
def state(request: HttpRequest, case: int) -> Any:
    """Which revision is stored now: what an open desk asks every few seconds."""
    owned = CaseRecord.objects.filter(pk=case, project__owner=user_of(request), deleted=None)
    return get_object_or_404(owned.only("revision"))


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
    what = differences(record.document, data)
    record.document = data
    record.title = document.title
    record.revision += 1
    record.save()
    CaseRevision.objects.create(case=record, number=record.revision, document=data, what=what)


@router.delete("/cases/{int:case}", response={204: None, 404: ProblemsOut})
def delete(request: HttpRequest, case: int) -> Any:
    """Delete a case; it can be brought back for a while. What is being run of it is stopped."""
    record = own_case(request, case)
    with transaction.atomic():
        CaseRecord.objects.filter(pk=record.pk).update(deleted=timezone.now())
        record.runs.filter(state=Run.State.QUEUED).update(state=Run.State.STOPPED, finished=timezone.now())
        record.runs.filter(state=Run.State.RUNNING).update(stop_wanted=True)
    return 204, None


@router.post("/cases/{int:case}/bring-back", response={200: CaseOut, 404: ProblemsOut, 422: ProblemsOut})
def bring_back(request: HttpRequest, case: int) -> Any:
    """Bring back a case that was deleted."""
    CaseRecord.objects.filter(pk=case, project__owner=user_of(request)).update(deleted=None)
    return case_out(own_case(request, case))


@router.get("/cases/{int:case}/case.json", response={200: dict[str, Any], 404: ProblemsOut})
def document(request: HttpRequest, case: int) -> HttpResponse:
    """The stored document as it is, readable or not."""
    record = own_case(request, case)
    content = json.dumps(record.document, indent=2).encode()
    name = f'attachment; filename="case-{record.pk}.json"'
    return HttpResponse(content, content_type="application/json", headers={"Content-Disposition": name})


@router.get("/cases/{int:case}/revisions", response={200: list[RevisionOut], 404: ProblemsOut})
def revisions(request: HttpRequest, case: int) -> Any:
    """Earlier saves, newest first."""
    return list(own_case(request, case).revisions.all()[:200])


@router.get("/cases/{int:case}/revisions/{int:number}", response={200: Case, 404: ProblemsOut})
def revision(request: HttpRequest, case: int, number: int) -> Any:
    """The document of an earlier save."""
    return read_case(get_object_or_404(CaseRevision, case=own_case(request, case), number=number).document)
