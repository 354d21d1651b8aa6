"""A solution as its report tells it."""

from __future__ import annotations

from datetime import UTC, datetime

from wattikos_core.evidence.record import record_of
from wattikos_core.formats import ledger_json
from wattikos_core.read import Instant, cell_fields, interpolant_of
from wattikos_core.report.data import SolvedData
from wattikos_core.studies import Result


def solved_data(result: Result) -> SolvedData:
    """The ledger, the course and the fields of a result."""
    solution = result.solution
    last = solution.history[-1] if solution.history else {}
    summary = {
        "converged": solution.converged,
        "method": solution.method,
        "cells": result.field.quality.cells,
        "grids": result.field.grids,
        "steps": len(solution.history),
        "solver_seconds": result.field.solver_seconds,
        "heat_balance": last.get("heat balance"),
        "mass_balance": last.get("mass balance"),
        "record": record_of(result.case, result.problem, solution),
    }
    instant = Instant(interpolant_of(result.problem.grid), cell_fields(result.problem, solution.state, result.evaluation))
    today = datetime.now(tz=UTC).date().isoformat()
    return SolvedData(ledger_json(result.case.title, result.ledger, result.findings), summary, instant, today)
