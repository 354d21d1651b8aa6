"""A case solved in time: its beginning, its steps, its frames, and what its ledger says of the whole run."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.case.reader import Along
from wattikos_core.errors import CaseError
from wattikos_core.errors import Problem as InputProblem
from wattikos_core.evidence.settling import first_time, settling
from wattikos_core.grid import Grid
from wattikos_core.grid.wakes import wake_step
from wattikos_core.physics import Evaluation, Problem, beginning_at, problem_at, problem_of
from wattikos_core.physics.faces import Array
from wattikos_core.quantities import QuantityError
from wattikos_core.read import cell_fields, front_distance, pack_frame, watch_for
from wattikos_core.read.senses import in_sense
from wattikos_core.section import PaintedSection
from wattikos_core.solve import Cancel, Instant, Listen, Solution, State, TimeSettings, solve_in_time, start_from
from wattikos_core.solve.iterate import Iterate, properties_of, stored_in
from wattikos_core.solve.ramp import established_flow
from wattikos_core.solve.state import Past, at_start, pack_checkpoint, stretched, unpack_checkpoint

# A store counts as molten, or frozen, at this share.
_ALL = 0.99
# The equations of each stage are solved to this share of the error that its step may have.
_STAGE_SHARE = 0.1


@dataclass(frozen=True)
class Frame:
    """The fields of one instant, packed (see `read.frames`), and the state they are of."""

    time: float
    data: bytes
    grid: Grid
    state: State
    diagonal: Array

    def checkpoint(self) -> bytes:
        """Grid and state at full precision."""
        return pack_checkpoint(self.grid, self.state, self.diagonal)


OnFrame = Callable[[Frame], None]


@dataclass(frozen=True)
class TimeRun:
    """What solving in time gives: the last problem, its solution, and ledger quantities of the whole run."""

    problem: Problem
    solution: Solution
    evaluation: Evaluation
    over_time: dict[str, float]
    unsettled: list[str]


def solve_film(
    resolved: ResolvedCase,
    section: PaintedSection,
    grid: Grid,
    start: bytes | None,
    go_on: bool,
    on_frame: OnFrame | None,
    listen: Listen,
    cancel: Cancel,
) -> TimeRun:
    """Solve a case in time on a grid.

    Args:
        start: a former run's checkpoint; its fields are the beginning where the case or `go_on` asks for them.
        go_on: carry the former run on from its time, instead of beginning anew at zero.
        on_frame: called with each frame as it comes.
    """
    wishes = resolved.time
    assert wishes is not None
    base = problem_of(resolved, grid)
    before, diagonal, past = _beginning(resolved, base), np.zeros(grid.n_cells), None
    begins_with_former = go_on or resolved.case.time.begin == "former_run"
    if start is None or not begins_with_former:
        if base.streams_enter:
            before, diagonal = established_flow(base, before.t)
    else:
        former_grid, former, coefficients, past = unpack_checkpoint(start)
        before, diagonal = start_from(base, former_grid, former, coefficients)
        past = past if go_on else None
        _refuse_going_on(past, former_grid, grid, wishes.end)
    beginning = past.beginning if past is not None else before
    base = beginning_at(base, properties_of(base, beginning).temperature)
    settings = TimeSettings(
        end=wishes.end,
        stops=wishes.frames,
        step=wishes.step,
        largest=wishes.largest or wake_step(resolved, section),
        fixed=wishes.fixed,
        accuracy=wishes.accuracy,
        order=wishes.order,
        tolerance=max(resolved.case.solve.tolerance, _STAGE_SHARE * wishes.accuracy),
        heat_only=resolved.case.solve.flow == "kept" and base.has_flow,
    )
    varies = _varies(resolved)

    def at(time: float) -> Problem:
        return problem_at(base, resolved, time) if varies else base

    content = _contents(base, beginning)

    def watch(problem: Problem, evaluation: Evaluation, state: State) -> dict[str, float]:
        stores = _stores(problem, state, content)
        chosen = {name: value for name in resolved.case.watches if (value := in_sense(stores, name)) is not None}
        return watch_for(resolved, problem)(evaluation, state) | stores | chosen

    def keep(instant: Instant) -> None:
        if on_frame is not None:
            fields = cell_fields(instant.problem, instant.iterate.state)
            iterate = instant.iterate
            on_frame(Frame(instant.time, pack_frame(fields), grid, iterate.state, iterate.d))

    done = solve_in_time(
        at, settings, before, diagonal, past=past, watch=watch, keep=keep, listen=listen, cancel=cancel, stage="solving in time"
    )
    last = done.last
    notes: list[str] = []
    if settings.heat_only:
        notes.append("the flow was kept as it was at the beginning, as wished; heat alone was solved in time")
    if done.rejected > 0:
        notes.append(f"{done.rejected} steps were too long and taken back")
    solution = Solution(
        grid,
        last.iterate.state,
        last.iterate.d,
        done.history,
        done.finished,
        done.stopped,
        "in time",
        done.seconds,
        notes,
        done.past,
    )
    over_time, unsettled = _over_time(last.problem, beginning, last.iterate, done.history, content)
    return TimeRun(last.problem, solution, last.iterate.evaluation, over_time, unsettled)


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


def _beginning(resolved: ResolvedCase, problem: Problem) -> State:
    """The state at the beginning: at the temperatures given for it, and at rest.

    Raises:
        CaseError: a temperature cannot be evaluated somewhere.
    """
    wishes = resolved.time
    assert wishes is not None
    plain = at_start(problem)
    grid = problem.grid
    middle = 0.5 * (problem.scales.lowest + problem.scales.highest)
    temperature = np.full(grid.n_cells, middle)
    if wishes.temperature is not None:
        temperature = _field(wishes.temperature, grid.centre, "time.temperature")
    for name, given in wishes.of_parts.items():
        if name in grid.region_names:
            mine = grid.region == grid.region_names.index(name)
            temperature[mine] = _field(given, grid.centre[mine], f"time.of_parts.{name}")
    zero = np.zeros(grid.n_cells)
    return replace(plain, u=zero, v=zero.copy(), t=stretched(problem, temperature))


def _field(given: float | Along, places: Array, field: str) -> Array:
    if not isinstance(given, Along):
        return np.full(len(places), given)
    try:
        return given.at(places)
    except QuantityError as error:
        raise CaseError(InputProblem(field, error.problem, error.remedy)) from error


def _contents(problem: Problem, state: State) -> dict[str, float]:
    """Heat in every part, J."""
    heat = stored_in(problem, state).heat
    return {name: float(heat[problem.grid.region == index].sum()) for index, name in enumerate(problem.grid.region_names)}


def _stores(problem: Problem, state: State, before: Mapping[str, float]) -> dict[str, float]:
    """Heat taken up by every part that melts, and by all together, since the beginning."""
    now = _contents(problem, state)
    melting = [name for name, table in zip(problem.grid.region_names, problem.materials, strict=True) if table.melting is not None]
    stores = {f"heat stored in {name}": now[name] - before[name] for name in melting}
    return stores | {"heat stored": sum(now.values()) - sum(before.values())}


def _over_time(
    problem: Problem,
    before: State,
    last: Iterate,
    history: list[dict[str, float]],
    content: Mapping[str, float],
) -> tuple[dict[str, float], list[str]]:
    """Ledger quantities of the whole run, and the watched quantities that have not settled."""
    after = last.state
    values = _stores(problem, after, content)
    now = _contents(problem, after)
    for name in problem.grid.region_names:
        values[f"heat stored in {name}"] = now[name] - content[name]
    time = [row["time"] for row in history]
    account = {"time", "step", "momentum", "mass", "energy", "heat balance", "inner iterations"}
    unsettled = []
    for name in history[-1]:
        if name in account or any(name not in row for row in history):
            continue
        course = [row[name] for row in history]
        if name.startswith("liquid fraction of "):
            values |= _melting_times(name.removeprefix("liquid fraction of "), time, course)
        found = settling(name, time, course)
        if found is None:
            continue
        if found.at_95 is None or found.at_99 is None:
            unsettled.append(name)
        else:
            values[f"time to 95 % of {name}"], values[f"time to 99 % of {name}"] = found.at_95, found.at_99
    for index, name in enumerate(problem.grid.region_names):
        if problem.materials[index].melting is None:
            continue
        most = _most_stored(problem, before, index)
        front = front_distance(problem, before, after, last.evaluation, index)
        if front is not None:
            values[f"front in {name}"] = front
        if most != 0.0:
            values[f"store effectiveness of {name}"] = values[f"heat stored in {name}"] / most
    # The balance of the whole run, not of its last stage.
    values["heat balance"] = history[-1]["heat balance"]
    return values, unsettled


def _melting_times(part: str, time: list[float], liquid: list[float]) -> dict[str, float]:
    """When all of a part was first frozen and molten: at once where it begins so, and then the next time."""
    values = {}
    for what, course in (("melting", liquid), ("freezing", [1.0 - share for share in liquid])):
        since = 0
        if course[0] >= _ALL:
            # What begins molten melts after it has been frozen for the most part.
            since = min(range(len(course)), key=course.__getitem__)
            if course[since] > 0.5:
                continue
        reached = first_time(time[since:], course[since:], _ALL)
        if reached is not None:
            values[f"{what} time of {part}"] = reached
    return values


def _most_stored(problem: Problem, before: State, index: int) -> float:
    """Heat a part would take up if all of it reached the temperature given that is furthest from its beginning, J."""
    table = problem.materials[index]
    mine = problem.grid.region == index
    held = stored_in(problem, before)
    begins = float(np.average(before.t[mine], weights=problem.grid.volume[mine]))
    given = max((problem.scales.lowest, problem.scales.highest), key=lambda t: abs(float(table.stretched(t)) - begins))
    return float(held.mass[mine].sum()) * float(table.enthalpy(given)) - float(held.heat[mine].sum())
