"""Kinds of quantity, materials, starters, and the schema of case documents."""

from __future__ import annotations

from functools import cache
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema

from wattikos_core.boundaries import BOUNDARY_KINDS
from wattikos_core.case import json_schema
from wattikos_core.case.estimates import relation_forms
from wattikos_core.case.starters import FAMILIES
from wattikos_core.internals import INTERNAL_KINDS
from wattikos_core.materials import CATALOGUE
from wattikos_core.materials.tubes import TUBE_TABLES
from wattikos_core.quantities import KINDS, from_si, to_si, unit_label
from wattikos_web.api.schemas import CatalogueOut, StarterSketchOut
from wattikos_web.aside import aside
from wattikos_web.aside.tasks import LOOKING, starter_sketches

router = Router(tags=["catalogue"])


def _unit(unit: str, kind: str) -> dict[str, Any]:
    factor = to_si(1.0, unit, kind) - to_si(0.0, unit, kind)
    return {"unit": unit, "label": unit_label(unit), "factor": factor, "offset": -from_si(0.0, unit, kind)}


@router.get("/catalogue", response=CatalogueOut)
def catalogue(request: HttpRequest) -> dict[str, Any]:
    """All that is the same for every case."""
    kinds = [
        {"name": k.name, "label": k.label, "unit": k.unit, "units": [_unit(u, k.name) for u in k.units]} for k in KINDS.values()
    ]
    starters = [
        {"key": s.key, "label": s.label, "summary": s.summary, "family": family} for family, some in FAMILIES.items() for s in some
    ]
    return {
        "kinds": kinds,
        "materials": list(CATALOGUE.values()),
        "starters": starters,
        "relations": relation_forms(),
        "boundaries": [{"form": kind.form(), "defaults": kind.defaults()} for kind in BOUNDARY_KINDS.values()],
        "internals": [{"form": kind.form(), "defaults": kind.defaults()} for kind in INTERNAL_KINDS.values()],
    }


@router.get("/starters", response=list[StarterSketchOut])
def starters(request: HttpRequest) -> list[dict[str, Any]]:
    """The sketches of all starters."""
    return _sketches()


@cache
def _sketches() -> list[dict[str, Any]]:
    return aside(starter_sketches, LOOKING)


class TubeOut(Schema):
    """A size as it is called, m."""

    label: str
    outside: float
    inside: float
    wall: float


class TubeTableOut(Schema):
    """Sizes of one standard."""

    key: str
    label: str
    source: str
    sizes: list[TubeOut]


@router.get("/tubes", response=list[TubeTableOut])
def tubes(request: HttpRequest) -> Any:
    """Nominal sizes of tubes and pipes, to choose from."""
    return TUBE_TABLES


@router.get("/schema", response=dict[str, Any])
def schema(request: HttpRequest) -> dict[str, Any]:
    """The JSON Schema of case documents."""
    return json_schema()
