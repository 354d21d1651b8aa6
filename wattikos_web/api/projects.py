"""Projects and the cards of their cases."""

from __future__ import annotations

from typing import Any

from django.db.models import Count, Q
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.case.starters import STARTERS
from wattikos_core.errors import CaseError, InputProblem
from wattikos_web.api.access import own_case, own_project, user_of
from wattikos_web.api.schemas import CaseCardOut, CaseOut, DeletedCaseOut, NewCaseBody, ProblemsOut, ProjectBody, ProjectOut
from wattikos_web.cards import cards_of
from wattikos_web.models import CaseRecord, CaseRevision, Project

router = Router(tags=["projects"])


@router.get("/projects", response=list[ProjectOut])
def projects(request: HttpRequest) -> Any:
    """The user's projects."""
    there = Count("cases", filter=Q(cases__deleted=None))
    found = Project.objects.filter(owner=user_of(request)).annotate(count=there).order_by("name")
    return [{"id": p.pk, "name": p.name, "note": p.note, "cases": p.count} for p in found]


@router.post("/projects", response={201: ProjectOut, 422: ProblemsOut})
def new_project(request: HttpRequest, body: ProjectBody) -> Any:
    """Start a project."""
    name = body.name.strip()
    if not 0 < len(name) <= 200:
        raise CaseError(InputProblem("name", f"a name of {len(name)} characters", "give one of 1 to 200 characters"))
    project = Project.objects.create(owner=user_of(request), name=name, note=body.note)
    return 201, {"id": project.pk, "name": project.name, "note": project.note, "cases": 0}


@router.get("/projects/{int:project}/cases", response={200: list[CaseCardOut], 404: ProblemsOut})
def cases(request: HttpRequest, project: int) -> Any:
    """The cases of a project as cards."""
    return cards_of(own_project(request, project))


@router.get("/projects/{int:project}/deleted", response={200: list[DeletedCaseOut], 404: ProblemsOut})
def deleted(request: HttpRequest, project: int) -> Any:
    """The cases that were deleted lately and can be brought back, the last one first."""
    since = timezone.now() - CaseRecord.KEPT_AFTER_DELETION
    return own_project(request, project).cases.filter(deleted__gte=since).order_by("-deleted")


@router.post("/projects/{int:project}/cases", response={201: CaseOut, 404: ProblemsOut, 422: ProblemsOut})
def new_case(request: HttpRequest, project: int, body: NewCaseBody) -> Any:
    """Add a case to a project."""
    owner = own_project(request, project)
    case = _new_document(request, body)
    if body.title and body.title.strip():
        case = case.model_copy(update={"title": body.title.strip()[:200]})
    return 201, case_out(create_case(owner, case))


def _new_document(request: HttpRequest, body: NewCaseBody) -> Case:
    if body.document is not None:
        return read_case(body.document)
    if body.copy_of is not None:
        source = read_case(own_case(request, body.copy_of).document)
        return source.model_copy(update={"title": f"{source.title[:180]}, copy"})
    if body.starter not in STARTERS:
        raise CaseError(InputProblem("starter", f"there is no starter '{body.starter}'", f"choose one of {', '.join(STARTERS)}"))
    return starter_case(body.starter)


def create_case(project: Project, case: Case) -> CaseRecord:
    """Store a new case with its first revision."""
    document = case.model_dump(mode="json")
    record = CaseRecord.objects.create(project=project, title=case.title, document=document)
    CaseRevision.objects.create(case=record, number=1, document=document)
    return record


def case_out(record: CaseRecord) -> dict[str, Any]:
    """A stored case as the API shows it."""
    return {
        "id": record.pk,
        "project": record.project.pk,
        "project_name": record.project.name,
        "title": record.title,
        "revision": record.revision,
        "document": read_case(record.document),
        "changed": record.changed,
    }
