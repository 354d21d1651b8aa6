"""What is computed beside the web process: the core only, no Django; arguments and results are plain data."""

from __future__ import annotations

from typing import Any

import numpy as np

from wattikos_core.case import STARTERS, Case, changed_between, read_case, resolve, starter_case
from wattikos_core.case.document import Table
from wattikos_core.case.shapes import Outline
from wattikos_core.errors import CaseError
from wattikos_core.formats import grid_bytes, read_outline, read_table
from wattikos_core.formats.grids import imported_grid
from wattikos_core.grid import Grid, check_sizes
from wattikos_core.section import paint
from wattikos_core.section.sketch import sketch_of
from wattikos_core.studies import draft, grid_of, prepare
from wattikos_core.studies.sizing_wish import ground_of, one_for_one, read_one
from wattikos_web.aside.arrays import mesh_out
from wattikos_web.aside.view import case_view

# Seconds and megabytes of each kind of task.
LOOKING = (20.0, 1000)
GRIDDING = (90.0, 3000)
READING_A_FILE = (4.5, 450)


def look(document: dict[str, Any], solved: dict[int, dict[str, Any]] | None = None) -> dict[str, Any]:
    """What is shown of a document, and for each run's document by what the case has changed since."""
    case = read_case(document)
    view = case_view(case)
    view["changed"] = {run: _changed(then, case) for run, then in (solved or {}).items()}
    return view


def _changed(then: dict[str, Any], case: Case) -> list[str]:
    """What a case has changed since a run was made from a document, which may be one that nobody can read any more."""
    try:
        return changed_between(read_case(then), case)
    except CaseError:
        return ["a document that cannot be read any more"]


def refuse(document: dict[str, Any], grid_file: bytes | None, sizing: bool) -> tuple[float | None, str]:
    """Raise CaseError with all that keeps a case from being solved, or sized.

    Returns:
        when it ends, s, or None in steady state; of a sizing the ground of its trials, see `sizing_wish.ground_of`.
    """
    case = read_case(document)
    prepared = prepare(case, grid_file)
    if prepared.imported is None:
        check_sizes(prepared.resolved, prepared.section, case.grid.fineness)
    ground = ""
    if sizing:
        if one_for_one(case.sizing):
            read_one(case, case.sizing)
        ground = ground_of(case, case.sizing)
    return (prepared.resolved.time.end if prepared.resolved.time is not None else None), ground


def starter_sketches() -> list[dict[str, Any]]:
    """The sketches of all starters."""
    drawn = ((key, draft(starter_case(key))) for key in STARTERS)
    return [
        {"key": key, "sketch": sketch_of(found.resolved, found.section)}
        for key, found in drawn
        if found.resolved is not None and found.section is not None
    ]


def mesh(document: dict[str, Any], grid_file: bytes | None) -> dict[str, Any]:
    """The grid of a document for the browser."""
    return mesh_out(_grid(document, grid_file))


def mesh_file(document: dict[str, Any], grid_file: bytes | None) -> bytes:
    """The grid of a document as a file."""
    return grid_bytes(_grid(document, grid_file))


def _grid(document: dict[str, Any], grid_file: bytes | None) -> Grid:
    return grid_of(prepare(read_case(document), grid_file))


def outline(name: str, content: bytes, unit: str) -> dict[str, Any]:
    """Closed outlines in a file, as a shape and its size."""
    loops = read_outline(name, content, unit)
    size = np.ptp(np.concatenate([np.array(loop) for loop in loops]), axis=0)
    return {"shape": Outline(loops=loops, source=name), "width": float(size[0]), "height": float(size[1])}


def table(name: str, content: bytes, unit: str, value_unit: str) -> Table:
    """A table of positions and values in a file."""
    return read_table(name, content, unit, value_unit)


def cells_of_file(document: dict[str, Any], name: str, content: bytes) -> int:
    """How many cells a grid file has that fits a document."""
    case: Case = read_case(document)
    case = case.model_copy(update={"grid": case.grid.model_copy(update={"file": name})})
    resolved = resolve(case)
    return imported_grid(resolved, paint(resolved), content).n_cells
