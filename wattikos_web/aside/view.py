"""What the desk shows of a case before it is solved: sketch, hand-calculated ledger, findings, problems."""

from __future__ import annotations

import time
from dataclasses import asdict
from typing import Any

from wattikos_core.case import Case, ResolvedCase
from wattikos_core.case.document import Input
from wattikos_core.errors import InputProblem
from wattikos_core.evidence import build_ledger
from wattikos_core.formats import ledger_json
from wattikos_core.grid import cells_between, section_lines
from wattikos_core.quantities import measures
from wattikos_core.quantities.values import show
from wattikos_core.section import PaintedSection
from wattikos_core.section.sketch import bare_sketch, sketch_of
from wattikos_core.studies import draft


def case_view(case: Case) -> dict[str, Any]:
    """Everything that can be said of `case`, and every problem; parts that cannot be computed are left out."""
    begun = time.perf_counter()
    found = draft(case)
    view: dict[str, Any] = {"ledger": [], "findings": [], "grid": None, "lasts": None}
    view["inputs"] = [
        {
            "name": name,
            "value": found.values[name].magnitude if name in found.values else None,
            "text": show(found.values[name].magnitude, item.kind, shown_in(item), 5) if name in found.values else "",
        }
        for name, item in case.inputs.items()
    ]
    if found.resolved is not None:
        view["lasts"] = found.resolved.time.end if found.resolved.time is not None else None
    if found.resolved is not None and found.section is not None:
        view["sketch"] = sketch_of(found.resolved, found.section)
        view["grid"] = grid_count(found.resolved, found.section)
        written = ledger_json(case.title, build_ledger(found.resolved, found.hand, {}), found.findings)
        view["ledger"], view["findings"] = written["quantities"], written["findings"]
    else:
        view["sketch"] = bare_sketch(case, found.problems)
    problems = dict.fromkeys(found.problems)
    view["problems"] = [_told(problem) for problem in problems]
    view["by_hand"] = [
        {
            "index": calculation.index,
            "values": [
                {"key": asdict(k), "name": k.label, "kind": k.kind, "value": v.value} for k, v in calculation.values.items()
            ],
            "problem": _told(calculation.problems[0]) if calculation.problems else None,
        }
        for calculation in found.by_hand
    ]
    view["milliseconds"] = 1000.0 * (time.perf_counter() - begun)
    return view


def _told(problem: InputProblem) -> dict[str, Any]:
    return {"field": problem.field, "problem": problem.problem, "remedy": problem.remedy, "at": problem.at}


def shown_in(item: Input) -> str | None:
    """The unit an input is shown in; None for that of its kind."""
    return item.unit if item.unit and measures(item.unit, item.kind) else None


def grid_count(resolved: ResolvedCase, section: PaintedSection) -> dict[str, int] | None:
    """How many cells the rectilinear gridder will make; other grids are counted when they are made."""
    wishes = resolved.case.grid
    if section.tensor is None or wishes.cells is not None:
        return None
    x, y = section_lines(resolved, section, wishes.fineness)
    return {"cells": cells_between(section, x, y), "columns": x.size - 1, "rows": y.size - 1}
