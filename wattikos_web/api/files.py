"""Files in: outlines for parts, tables for conditions, grids for cases."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.http import HttpRequest
from ninja import File, Form, Router
from ninja.files import UploadedFile

from wattikos_core.case import read_case, resolve
from wattikos_core.case.document import Table
from wattikos_core.case.shapes import Outline
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.formats import read_outline, read_table
from wattikos_core.formats.grids import imported_grid
from wattikos_core.section import paint
from wattikos_web.api.access import own_case
from wattikos_web.api.schemas import GridFileOut, OutlineOut, ProblemsOut
from wattikos_web.models import GridFile

router = Router(tags=["files"])

_LARGEST = 60_000_000


def _content(file: UploadedFile) -> tuple[str, bytes]:
    name = (file.name or "file")[:200]
    if file.size is not None and file.size > _LARGEST:
        problem = f"'{name}' has {file.size / 1e6:.0f} MB"
        raise CaseError(InputProblem("file", problem, f"keep it under {_LARGEST / 1e6:.0f} MB"))
    return name, file.read()


@router.post("/import/outline", response={200: OutlineOut, 422: ProblemsOut})
def outline(request: HttpRequest, file: File[UploadedFile], unit: Form[str] = "mm") -> Any:
    """Closed outlines in a file of points (CSV), a drawing (DXF) or paths (SVG), as a shape for a part."""
    name, content = _content(file)
    loops = read_outline(name, content, unit)
    size = np.ptp(np.concatenate([np.array(loop) for loop in loops]), axis=0)
    return {"shape": Outline(loops=loops, source=name), "width": float(size[0]), "height": float(size[1])}


@router.post("/import/table", response={200: Table, 422: ProblemsOut})
def table(request: HttpRequest, file: File[UploadedFile], unit: Form[str] = "m", value_unit: Form[str] = "") -> Any:
    """A table of positions and values (CSV)."""
    name, content = _content(file)
    return read_table(name, content, unit, value_unit)


@router.post("/cases/{int:case}/grid-file", response={201: GridFileOut, 404: ProblemsOut, 422: ProblemsOut})
def grid_file(request: HttpRequest, case: int, file: File[UploadedFile]) -> Any:
    """Keep a grid file with a case, once it has been found to fit; name it in the document to use it."""
    record = own_case(request, case)
    name, content = _content(file)
    document = read_case(record.document)
    document = document.model_copy(update={"grid": document.grid.model_copy(update={"file": name})})
    resolved = resolve(document)
    grid = imported_grid(resolved, paint(resolved), content)
    GridFile.objects.update_or_create(case=record, name=name, defaults={"content": content})
    return 201, {"name": name, "cells": grid.n_cells}
