"""Runs beside each other: what was given differently, their ledgers in columns, and the difference of their fields."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

import numpy as np
from django.http import HttpRequest
from ninja import Query, Router, Schema
from pydantic import Field

from wattikos_core.case import read_case
from wattikos_core.case.comparing import given_differently
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.read import FIELDS
from wattikos_core.read.comparing import MOST_OVERLAID, Overlap, difference, overlap_of, same_grid
from wattikos_web.api.access import own_run
from wattikos_web.api.schemas import FieldOut, Id, ProblemsOut, SketchOut
from wattikos_web.aside import aside
from wattikos_web.aside.arrays import packed
from wattikos_web.aside.tasks import LOOKING, look
from wattikos_web.models import Run
from wattikos_web.reading import Kept, read_instant

router = Router(tags=["comparing"])
_FEWEST, _MOST = 2, 6
# Pairs of cells that are kept.
_OVERLAPS_KEPT = 2_000_000
_overlaps: Kept[Overlap] = Kept(_OVERLAPS_KEPT)


class ComparedFrameOut(Schema):
    """A frame of a run."""

    number: int
    time: float | None


class ComparedRunOut(Schema):
    """A run among those that are compared."""

    run: int
    case: int
    title: str
    finished: datetime | None
    cells: int | None
    sketch: SketchOut | None
    frames: list[ComparedFrameOut]


class GivenOut(Schema):
    """What was given differently, run by run."""

    name: str
    values: list[str]


class ComparedQuantityOut(Schema):
    """A ledger quantity in all runs, SI, None where one has it not; `wanted` in any of them."""

    name: str
    kind: str
    unit: str
    wanted: bool
    values: list[float | None]


class ComparedOut(Schema):
    """Runs beside each other, the first one being what others are compared with."""

    runs: list[ComparedRunOut]
    given: list[GivenOut]
    ledger: list[ComparedQuantityOut]


class Asked(Schema):
    """Runs by their numbers."""

    run: Annotated[list[Id], Field(min_length=_FEWEST, max_length=_MOST)]


@router.get("/compare", response={200: ComparedOut, 404: ProblemsOut, 422: ProblemsOut})
def compare(request: HttpRequest, asked: Query[Asked]) -> Any:
    """Two to six runs beside each other."""
    found = [own_run(request, number) for number in asked.run]
    return {
        "runs": [_about(run) for run in found],
        "given": [{"name": row.name, "values": row.values} for row in given_differently([read_case(r.document) for r in found])],
        "ledger": _ledgers(found),
    }


def _about(run: Run) -> dict[str, Any]:
    try:
        sketch = aside(look, LOOKING, "", run.document)["sketch"]
    except CaseError:
        sketch = None
    return {
        "run": run.pk,
        "case": run.case.pk,
        "title": run.case.title,
        "finished": run.finished,
        "cells": run.summary.get("cells"),
        "sketch": sketch,
        "frames": list(run.frames.values("number", "time")),
    }


def _ledgers(runs: list[Run]) -> list[dict[str, Any]]:
    """The union of the ledgers, in the order of the first run that has each quantity."""
    rows: dict[str, dict[str, Any]] = {}
    for index, run in enumerate(runs):
        for row in (run.ledger or {}).get("quantities", []):
            if row["solved"] is None:
                continue
            made = {name: row[name] for name in ("name", "kind", "unit")} | {"wanted": False, "values": [None] * len(runs)}
            entry = rows.setdefault(row["name"], made)
            entry["values"][index] = row["solved"]
            entry["wanted"] = entry["wanted"] or bool(row["wanted"])
    return list(rows.values())


@router.get("/runs/{int:run}/difference/{int:other}", response={200: FieldOut, 404: ProblemsOut, 422: ProblemsOut})
def difference_of(
    request: HttpRequest, run: int, other: int, field: str, frame: int | None = None, other_frame: int | None = None
) -> Any:
    """A field of a run minus that of another, on the grid of the first."""
    one, two = own_run(request, run), own_run(request, other)
    first, second = read_instant(one, frame), read_instant(two, other_frame)
    for instant, found in ((first, one), (second, two)):
        if field not in instant.fields:
            remedy = f"choose one of {', '.join(name for name in instant.fields if name in FIELDS)}"
            raise CaseError(InputProblem("field", f"run {found.pk} has no field '{field}'", remedy))
    overlap = None
    if not same_grid(first.grid, second.grid):
        key = (one.pk, one.queued, two.pk, two.queued)
        overlap = _overlaps.find(key)
        if overlap is None and max(first.grid.n_cells, second.grid.n_cells) <= MOST_OVERLAID:
            found_overlap = overlap_of(first.grid, second.grid)
            overlap = _overlaps.keep(key, found_overlap, found_overlap.area.size)
    values = difference(first, second, field, overlap)
    if np.isnan(values).all():
        raise CaseError(InputProblem("other", "the sections of both runs have nothing in common", "compare others"))
    kind = "temperature_difference" if FIELDS[field] == "temperature" else FIELDS[field]
    low, high = float(np.nanmin(values)), float(np.nanmax(values))
    return {"name": f"{field}, difference", "kind": kind, "values": packed(values, "f4"), "low": low, "high": high}
