"""What runs on a Dask worker: the core only, no Django.

Arguments and results are plain data, so that the workers of an existing cluster need nothing but the core.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import asdict
from math import isfinite
from typing import Any

from wattikos_core.case import read_case
from wattikos_core.errors import CaseError, SolveError
from wattikos_core.evidence.balances import Balance, balances_of
from wattikos_core.evidence.momentum import momentum_balances
from wattikos_core.evidence.record import record_of
from wattikos_core.formats import ledger_json
from wattikos_core.ledger import labelled
from wattikos_core.physics import point_of
from wattikos_core.read import cell_fields, pack_frame, surface_fields
from wattikos_core.read.walls import stream_scales
from wattikos_core.solve import Event
from wattikos_core.studies import Frame, GridStudy, Optimum, Result, SizingResult, StudiedGrid, Tried, size, solve_case, study_grids
from wattikos_core.studies.series_solving import solve_near
from wattikos_web.worker.sizings import sizing_data, trial_data, trials_of

# How often a solve looks whether it is to stop, in seconds.
_LOOK_EVERY = 0.1


def topic_of(run: int) -> str:
    """The Dask topic on which a run tells its progress."""
    return f"wattikos-run-{run}"


def stop_event_of(run: int) -> str:
    """The Dask event that asks a run to stop."""
    return f"wattikos-stop-{run}"


def execute(
    run: int,
    kind: str,
    document: dict[str, Any],
    start: bytes | None,
    go_on: bool,
    grid_file: bytes | None,
    known: list[dict[str, Any]],
) -> dict[str, Any]:
    """Carry out a run on a Dask worker; progress goes out as events, the wish to stop comes in as one."""
    from distributed import Event as StopEvent
    from distributed import get_worker

    worker = get_worker()
    stop = StopEvent(stop_event_of(run), client=worker._get_client())
    last = [0.0, False]

    def cancel() -> bool:
        now = time.monotonic()
        if now - last[0] > _LOOK_EVERY:
            last[0], last[1] = now, bool(stop.is_set())
        return bool(last[1])

    return perform(kind, document, start, go_on, grid_file, known, lambda message: worker.log_event(topic_of(run), message), cancel)


def perform(
    kind: str,
    document: dict[str, Any],
    start: bytes | None,
    go_on: bool,
    grid_file: bytes | None,
    known: list[dict[str, Any]],
    tell: Callable[[dict[str, Any]], None],
    cancel: Callable[[], bool],
) -> dict[str, Any]:
    """Solve or size, and pack the result; errors a user can cause come back as data. `known` are trials of a sizing before."""

    def listen(event: Event) -> None:
        tell({"event": _told(event)})

    def on_trial(trial: Tried) -> None:
        tell({"trial": trial_data(trial)})

    frames = 0

    def on_frame(frame: Frame) -> None:
        nonlocal frames
        # The first one brings the grid that all of them are drawn on.
        checkpoint = frame.checkpoint() if frames == 0 else None
        frames += 1
        tell({"frame": {"time": frame.time, "data": frame.data, "checkpoint": checkpoint}})

    try:
        case = read_case(document)
        if kind == "grid_study":
            return _packed_study(study_grids(case, listen=listen, cancel=cancel, on_grid=lambda grid: tell({"grid": _grid(grid)})))
        if kind == "sizing":
            before = trials_of(known)
            return _packed_sizing(
                size(case, known=before, start=start, grid_file=grid_file, listen=listen, cancel=cancel, on_trial=on_trial)
            )
        if kind == "point" and start is not None:
            near = solve_near(case, start, listen, cancel)
            if near is not None:
                return _packed(near)
            start = None
        return _packed(
            solve_case(case, start=start, grid_file=grid_file, go_on=go_on, on_frame=on_frame, listen=listen, cancel=cancel)
        )
    except CaseError as error:
        problem = error.problems[0]
        return {"failure": {"field": problem.field, "problem": problem.problem, "remedy": problem.remedy}}
    except SolveError as error:
        return {"failure": {"field": "solve", "problem": error.reason, "remedy": error.remedy}}


def _packed(run: Result) -> dict[str, Any]:
    last = run.solution.history[-1] if run.solution.history else {}
    return {
        "stopped": run.solution.stopped,
        "ledger": ledger_json(run.case.title, run.ledger, run.findings),
        "history": run.solution.history,
        "checkpoint": run.solution.checkpoint(),
        # A run in time has told its frames; a steady one has this one.
        "frame": _frame(run) if run.solution.time is None else None,
        "summary": {
            "converged": run.solution.converged,
            "ended_by": run.solution.ended_by,
            "good_enough": run.good_enough,
            "method": run.solution.method,
            "cells": run.field.quality.cells,
            "solver_seconds": run.field.solver_seconds,
            "seconds": run.seconds,
            "steps": len(run.solution.history),
            "heat_balance": last.get("heat balance"),
            "mass_balance": last.get("mass balance"),
            "grids": run.field.grids,
            "time": run.solution.time,
            "fluid": [table.fluid for table in run.problem.materials],
            "module": _module(run),
            "streams": _streams(run),
            "balances": [asdict(balance) for balance in _balances(run)],
            "record": record_of(run.case, run.problem, run.solution),
        },
    }


def _frame(run: Result) -> bytes:
    at = run.problem, run.solution.state, run.evaluation
    return pack_frame(cell_fields(*at), surface_fields(*at))


def _balances(run: Result) -> list[Balance]:
    state = run.solution.state
    return balances_of(run.problem, run.evaluation, state.periodicity) + momentum_balances(
        point_of(run.problem, state), run.evaluation
    )


def _module(run: Result) -> dict[str, Any] | None:
    """How the fields of a module go on in the next one; None where nothing repeats."""
    module, periodicity = run.problem.module, run.solution.state.periodicity
    if module is None:
        return None
    return {
        "period": [module.length * float(x) for x in module.along],
        "wall": module.wall or 0.0,
        "ratio": periodicity.ratio,
        "jump": periodicity.rise,
        "pressure_drop": periodicity.pressure_gradient * module.length,
    }


def _streams(run: Result) -> dict[str, dict[str, float | None]]:
    """What local coefficients are counted from, by fluid part; no hydraulic diameter where a stream is open round about."""
    scales = stream_scales(run.problem, run.evaluation, run.solution.state.periodicity)
    return {
        part: {name: value if isfinite(value) else None for name, value in asdict(scale).items()} for part, scale in scales.items()
    }


def _told(event: Event) -> dict[str, Any]:
    """An event as data: watched quantities by how they are written, with their kinds."""
    told = {name: getattr(event, name) for name in ("stage", "step", "residuals", "fraction", "time")}
    return told | {"watches": labelled(event.watches), "kinds": {key.label: key.kind for key in event.watches}}


def _packed_sizing(result: SizingResult | Optimum) -> dict[str, Any]:
    packed = _packed(result.run)
    packed["stopped"] = result.outcome == "stopped"
    packed["summary"]["sizing"] = sizing_data(result)
    packed["document"] = result.case.model_dump(mode="json")
    return packed


def _grid(grid: StudiedGrid) -> dict[str, Any]:
    told = {name: getattr(grid, name) for name in ("fineness", "wished_cells", "cells", "seconds", "converged")}
    return told


def _packed_study(study: GridStudy) -> dict[str, Any]:
    """A study has no fields of its own: what it found is in its summary."""
    quantities = [{"name": one.key.label, "kind": one.key.kind, **asdict(one), "key": asdict(one.key)} for one in study.quantities]
    summary = {"grid_study": {"grids": [_grid(grid) for grid in study.grids], "quantities": quantities}}
    return {"stopped": study.stopped, "ledger": None, "history": [], "checkpoint": None, "frame": None, "summary": summary}
