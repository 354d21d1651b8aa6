"""A case solved in time: its beginning, its steps and its frames."""

from __future__ import annotations

import time as clock
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.case.reader import Along
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence import build_ledger, findings_after, latest
from wattikos_core.evidence.findings_in_time import findings_after_weight, findings_in_time
from wattikos_core.evidence.findings_of_solids import findings_of_solids
from wattikos_core.grid import Grid, quality_of
from wattikos_core.grid.wakes import wake_step
from wattikos_core.ledger import Key, in_sense
from wattikos_core.physics import Evaluation, Problem, State, Unknowns, beginning_at, problem_at, problem_of, properties_of
from wattikos_core.physics.faces import Array
from wattikos_core.quantities import QuantityError
from wattikos_core.read import cell_fields, pack_frame, solved_quantities, surface_fields, watch_for
from wattikos_core.solve import (
    Cancel,
    Instant,
    Listen,
    Solution,
    TimeSettings,
    TimeSolution,
    initial_state,
    solve_in_time,
    start_from,
)
from wattikos_core.solve.checkpoint import Checkpoint, Past, pack_checkpoint
from wattikos_core.solve.ramp import established_flow
from wattikos_core.solve.start import stretched
from wattikos_core.studies.gridding import grid_of
from wattikos_core.studies.preparation import Prepared
from wattikos_core.studies.result import FieldSolution, Result
from wattikos_core.studies.stopping import Stopping
from wattikos_core.studies.stores import heat_contents, heat_stored, over_time

# The equations of each stage are solved to this share of the error that its step may have.
_STAGE_SHARE = 0.1


@dataclass(frozen=True)
class Frame:
    """The fields of one instant, packed (see `read.frames`), and the state they are of."""

    time: float
    data: bytes
    grid: Grid
    unknowns: Unknowns
    state: State
    interpolation: Array

    def checkpoint(self) -> bytes:
        """Grid and state at full precision."""
        return pack_checkpoint(Checkpoint(self.grid, self.unknowns, self.state, self.interpolation))


OnFrame = Callable[[Frame], None]


@dataclass(frozen=True)
class _Beginning:
    """What a run in time begins with.

    Attributes:
        problem: with the temperatures at the very beginning among its scales.
        state, interpolation: from where it goes on now; `first` at the very beginning.
        past: of a run that is carried on.
    """

    problem: Problem
    state: State
    interpolation: Array
    first: State
    past: Past | None


def solve_case_in_time(
    prepared: Prepared, start: Checkpoint | None, go_on: bool, on_frame: OnFrame | None, listen: Listen, cancel: Cancel
) -> Result:
    """Solve a prepared case in time.

    Args:
        prepared: the case made ready.
        start: a former run's checkpoint; its fields are the beginning where the case or `go_on` asks for them.
        go_on: carry the former run on from its time, instead of beginning anew at zero.
        on_frame: called with each frame as it comes.
        listen: told of every step.
        cancel: asked at every step whether to stop.

    Raises:
        CaseError: the run cannot be carried on, or a temperature at its beginning cannot be evaluated.
        SolveError: the solve broke down.
    """
    begun = clock.perf_counter()
    resolved, grid = prepared.resolved, grid_of(prepared)
    wishes = resolved.time
    assert wishes is not None
    beginning = _begin(resolved, grid, start, go_on)
    base = beginning.problem
    settings = TimeSettings(
        end=wishes.end,
        stops=wishes.frames,
        step=wishes.step,
        largest=wishes.largest or wake_step(resolved, prepared.section),
        fixed=wishes.fixed,
        accuracy=wishes.accuracy,
        order=wishes.order,
        tolerance=max(resolved.case.solve.tolerance, _STAGE_SHARE * wishes.accuracy),
        heat_only=resolved.case.solve.flow == "kept" and base.has_flow,
    )
    varies = _varies(resolved)

    def at(time: float) -> Problem:
        return problem_at(base, resolved, time) if varies else base

    content = heat_contents(base, beginning.first)
    watched: dict[Key, None] = {}

    def watch(problem: Problem, evaluation: Evaluation, state: State) -> dict[Key, float]:
        stores = heat_stored(problem, state, content)
        followed = [*resolved.case.watches, *(stop.key for stop in resolved.stops)]
        chosen = {key: value for key in followed if (value := in_sense(stores, key)) is not None}
        values = watch_for(resolved, problem)(evaluation, state) | stores | chosen
        watched.update(dict.fromkeys(values))
        return values

    def keep(instant: Instant) -> None:
        if on_frame is not None:
            iterate = instant.iterate
            fields = cell_fields(instant.problem, iterate.state, iterate.evaluation)
            if "speed" in fields:
                fields["Courant number"] = fields["speed"] * instant.step / fields["cell size"]
            packed = pack_frame(fields, surface_fields(instant.problem, iterate.state, iterate.evaluation))
            on_frame(Frame(instant.time, packed, grid, base.unknowns, iterate.state, iterate.interpolation))

    stopping = Stopping(resolved.stops, listen, cancel)
    done = solve_in_time(
        at,
        settings,
        (beginning.state, beginning.interpolation),
        past=beginning.past,
        watch=watch,
        keep=keep,
        listen=stopping.listen,
        cancel=stopping.cancel,
    )
    problem, last = done.last.problem, done.last.iterate
    solution = stopping.ended(_solution(grid, done, settings.heat_only))
    told, unsettled = over_time(problem, beginning.first, last, done.history, content, watched)
    values = solved_quantities(resolved, problem, last.evaluation, last.state) | told
    ledger = build_ledger(resolved, prepared.hand, values)
    findings = prepared.findings + findings_after(
        resolved, prepared.section, problem, solution, last.evaluation, ledger, prepared.findings
    )
    findings += findings_in_time(problem, solution, unsettled, last.evaluation)
    findings += findings_after_weight(problem, solution, last.evaluation, ledger)
    findings += findings_of_solids(problem, last.evaluation)
    grids = [{"cells": float(grid.n_cells), "steps": float(len(done.history)), "seconds": done.seconds}]
    field = FieldSolution(problem, solution, last.evaluation, quality_of(problem.grid), done.seconds, grids)
    return Result(prepared.case, ledger, latest(findings), clock.perf_counter() - begun, field)


def _solution(grid: Grid, done: TimeSolution, heat_only: bool) -> Solution:
    """A run in time as a solution, with notes on how it went."""
    last = done.last.iterate
    notes: list[str] = []
    if heat_only:
        notes.append("the flow was kept as it was at the beginning, as wished; heat alone was solved in time")
    if done.rejected > 0:
        notes.append(f"{done.rejected} steps were too long and taken back")
    return Solution(
        grid,
        done.last.problem.unknowns,
        last.state,
        last.interpolation,
        done.history,
        done.finished,
        done.stopped,
        "in time",
        done.seconds,
        notes,
        done.past,
    )


def _begin(resolved: ResolvedCase, grid: Grid, start: Checkpoint | None, go_on: bool) -> _Beginning:
    """Where a run begins: at what is given, with the pumps running; or with a former run's fields."""
    wishes = resolved.time
    assert wishes is not None
    base = problem_of(resolved, grid)
    state, interpolation, past = _given(resolved, base), np.zeros(grid.n_cells), None
    if start is None or not (go_on or resolved.case.time.begin == "former_run"):
        if base.streams_enter:
            state, interpolation = established_flow(base, state.stretched)
    else:
        state, interpolation = start_from(base, start.grid, start.state, start.interpolation, start.unknowns)
        past = start.past if go_on else None
        _refuse_going_on(past, start.grid, grid, wishes.end)
    first = past.beginning if past is not None else state
    base = beginning_at(base, properties_of(base, first).temperature)
    return _Beginning(base, state, interpolation, first, past)


def _refuse_going_on(past: Past | None, former: Grid, grid: Grid, end: float) -> None:
    """Raise CaseError when a run cannot be carried on: it is over, or its frames would be of another grid."""
    if past is None:
        return
    if past.time >= end:
        problem = f"the run has reached {past.time:.4g} s already"
        raise CaseError(InputProblem("time.end", problem, "give a later end to carry it on"))
    if not np.array_equal(former.nodes, grid.nodes):
        remedy = "solve from the beginning, or begin with the last run's fields"
        raise CaseError(InputProblem("grid", "the section or its grid has changed since the run that is to go on", remedy))


def _varies(resolved: ResolvedCase) -> bool:
    """Whether anything that is given depends on the time."""
    conditions = any(along.in_time for c in resolved.conditions for along in c.along.values())
    return conditions or any(part.heat_along is not None for part in resolved.bodies)


def _given(resolved: ResolvedCase, problem: Problem) -> State:
    """The state at the beginning: at the temperatures given for it, and at rest.

    Raises:
        CaseError: a temperature cannot be evaluated somewhere.
    """
    wishes = resolved.time
    assert wishes is not None
    plain = initial_state(problem)
    grid = problem.grid
    middle = 0.5 * (problem.scales.lowest + problem.scales.highest)
    temperature = np.full(grid.n_cells, middle)
    if wishes.temperature is not None:
        temperature = _field(wishes.temperature, grid.centre, "time.temperature")
    for name, given in wishes.part_temperatures.items():
        if name in grid.region_names:
            mine = grid.region == grid.region_names.index(name)
            temperature[mine] = _field(given, grid.centre[mine], f"time.part_temperatures.{name}")
    return replace(plain, velocity=np.zeros_like(plain.velocity), stretched=stretched(problem, temperature))


def _field(given: float | Along, places: Array, field: str) -> Array:
    if not isinstance(given, Along):
        return np.full(len(places), given)
    try:
        return given.at(places)
    except QuantityError as error:
        raise CaseError(InputProblem(field, error.problem, error.remedy)) from error
