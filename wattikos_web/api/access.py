"""Finding what belongs to the user who asks; everything else does not exist for them."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest
from django.shortcuts import get_object_or_404

from wattikos_core.case import Case
from wattikos_web.models import CaseRecord, Project, Run, Series


def user_of(request: HttpRequest) -> User:
    """Who asks; every route but that of signing in needs somebody."""
    assert isinstance(request.user, User)
    return request.user


def own_project(request: HttpRequest, project: int) -> Project:
    """The user's project, or Http404."""
    return get_object_or_404(Project, pk=project, owner=request.user)


def own_case(request: HttpRequest, case: int) -> CaseRecord:
    """The user's case, or Http404."""
    return get_object_or_404(
        CaseRecord.objects.select_related("project"), pk=case, project__owner=request.user, deleted__isnull=True
    )


def own_run(request: HttpRequest, run: int) -> Run:
    """The user's run without its fields, or Http404."""
    runs = Run.objects.select_related("case").defer("checkpoint")
    return get_object_or_404(runs, pk=run, case__project__owner=request.user, case__deleted__isnull=True)


def own_series(request: HttpRequest, series: int) -> Series:
    """The user's series, or Http404."""
    found = Series.objects.select_related("case")
    return get_object_or_404(found, pk=series, case__project__owner=request.user, case__deleted__isnull=True)


def asker(request: HttpRequest) -> str:
    """Which desk asks: a newer question of it takes the place of an older one. Empty where it does not say."""
    desk = request.headers.get("X-Desk", "")[:40]
    return f"{request.user.pk} {desk}" if desk else ""


def grid_file_of(record: CaseRecord | None, case: Case) -> bytes | None:
    """The grid file a case's document names, from what was imported for the stored case."""
    found = record.grid_files.filter(name=case.grid.file).first() if record is not None and case.grid.file else None
    return bytes(found.content) if found else None
