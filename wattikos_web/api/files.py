"""Files in: outlines for parts, tables for conditions, grids for cases; tables of the desk out."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router
from ninja.files import UploadedFile

from wattikos_core.case.document import Table
from wattikos_core.case.series import Varied
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.formats import Sheet, workbook_bytes
from wattikos_web.api.access import own_case, own_project
from wattikos_web.api.downloads import download
from wattikos_web.api.projects import case_out
from wattikos_web.api.schemas import WORKBOOK, CaseOut, GridFileOut, OutlineOut, ProblemsOut, TableBody, file_of
from wattikos_web.archives import read_archive, write_archive
from wattikos_web.aside import aside, tasks
from wattikos_web.aside.series import points_of_file
from wattikos_web.aside.tasks import READING_A_FILE
from wattikos_web.models import GridFile

router = Router(tags=["files"])

_LARGEST, _LARGEST_ARCHIVE = 60_000_000, 300_000_000


def _content(file: UploadedFile, largest: int = _LARGEST) -> tuple[str, bytes]:
    name = (file.name or "file")[:200]
    if file.size is not None and file.size > largest:
        problem = f"'{name}' has {file.size / 1e6:.0f} MB"
        raise CaseError(InputProblem("file", problem, f"keep it under {largest / 1e6:.0f} MB"))
    return name, file.read()


@router.post("/import/outline", response={200: OutlineOut, 422: ProblemsOut})
def outline(request: HttpRequest, file: File[UploadedFile], unit: Form[str] = "mm") -> Any:
    """Closed outlines in a file of points (CSV), a drawing (DXF) or paths (SVG), as a shape for a part."""
    name, content = _content(file)
    return aside(tasks.outline, READING_A_FILE, "", name, content, unit[:20])


@router.post("/import/table", response={200: Table, 422: ProblemsOut})
def table(request: HttpRequest, file: File[UploadedFile], unit: Form[str] = "m", value_unit: Form[str] = "") -> Any:
    """A table of positions and values (CSV)."""
    name, content = _content(file)
    return aside(tasks.table, READING_A_FILE, "", name, content, unit[:20], value_unit[:20])


@router.post("/cases/{int:case}/import/points", response={200: list[Varied], 404: ProblemsOut, 422: ProblemsOut})
def points(request: HttpRequest, case: int, file: File[UploadedFile]) -> Any:
    """What a table (CSV, XLSX) varies of a case, row by row; its headings name inputs."""
    record = own_case(request, case)
    name, content = _content(file)
    return aside(points_of_file, READING_A_FILE, "", record.document, name, content)


@router.post("/cases/{int:case}/grid-file", response={201: GridFileOut, 404: ProblemsOut, 422: ProblemsOut})
def grid_file(request: HttpRequest, case: int, file: File[UploadedFile]) -> Any:
    """Keep a grid file with a case, once it has been found to fit; name it in the document to use it."""
    record = own_case(request, case)
    name, content = _content(file)
    cells = aside(tasks.cells_of_file, tasks.GRIDDING, "", record.document, name, content)
    GridFile.objects.update_or_create(case=record, name=name, defaults={"content": content})
    return 201, {"name": name, "cells": cells}


@router.get("/cases/{int:case}/archive.zip", response={200: bytes, 404: ProblemsOut}, openapi_extra=file_of("application/zip"))
def archive(request: HttpRequest, case: int) -> HttpResponse:
    """A case with its saves, grids, runs with their fields, and series, as one archive that can be read back."""
    record = own_case(request, case)
    return download(write_archive(record), "application/zip", f"case-{case}.zip")


@router.post("/projects/{int:project}/archive", response={201: CaseOut, 404: ProblemsOut, 422: ProblemsOut})
def from_archive(request: HttpRequest, project: int, file: File[UploadedFile]) -> Any:
    """A case from an archive, with all that came with it."""
    owner = own_project(request, project)
    _, content = _content(file, _LARGEST_ARCHIVE)
    return 201, case_out(read_archive(owner, content))


@router.post("/table.xlsx", response={200: bytes, 422: ProblemsOut}, openapi_extra=file_of(WORKBOOK))
def workbook(request: HttpRequest, body: TableBody) -> HttpResponse:
    """A table of the desk as a workbook."""
    content = workbook_bytes([Sheet(body.name, body.columns, body.rows)])
    return HttpResponse(content, content_type=WORKBOOK, headers={"Content-Disposition": 'attachment; filename="table.xlsx"'})
