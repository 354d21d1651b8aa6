"""The solve in time: a diagonally implicit Runge-Kutta method with steps that follow their own error.

Second order: the two-stage, L-stable method of Alexander (1977, SIAM J. Numer. Anal. 14, 1006) with γ = 1 - 1/√2; first order:
implicit Euler. Both are written for what cells store (mass, momentum, heat), so that over a whole run what came in over
the boundaries is what is stored, to the tolerance of the equations. A step needs nothing but the state at its beginning:
a run can be stopped, carried on and extended without a trace.
"""

from __future__ import annotations

import time as clock
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.errors import SolveError
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import Array
from wattikos_core.physics.storage import Storage, Stored
from wattikos_core.solve.convergence import Norms
from wattikos_core.solve.coupled import (
    MOST_KRYLOV,
    UNLIMITED,
    CoupledSolver,
    Iterate,
    look_at,
    look_at_heat,
    properties_of,
    storage_diagonal,
    stored_in,
)
from wattikos_core.solve.events import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.solve.state import Past, State
from wattikos_core.solve.steady import heat_sum

TimeWatch = Callable[[Problem, Evaluation, State], dict[str, float]]

_GAMMA = 1.0 - 1.0 / np.sqrt(2.0)
# The part of the second difference of a step that counts as its error (a first-order method inside the second-order one).
_ERROR_SHARE = 0.1
_SAFETY, _SHRINK, _GROW = 0.9, 0.3, 2.0
# A step is taken back when its error is beyond this multiple of what is wanted.
_TOO_MUCH = 2.0
# After a step that found no solution: how much shorter the next is, and how fast that is forgotten.
_AFTER_FAILURE, _FORGET = 0.4, 1.15
_FIRST_STEP = 1e-3
_SHORTEST = 1e-9
_MOST_NEWTON = 16
# Stages are guessed along a line through this many states.
_COURSE = 2
# After the last iteration of a stage, this multiple of the tolerance will do.
_ALMOST = 10.0
_MOST_CLOSING = 3
# The heat of each stage closes to this share of what passes.
_HEAT_CLOSES, _ROUND_OFF = 1e-8, 1e-14
_NEWTON_KRYLOV = 1e-2
# Factors serve on while the length of the step stays within this factor of theirs.
_SAME_LENGTH = 1.5
_MOST_STEPS = 20_000


@dataclass(frozen=True)
class TimeSettings:
    """How far and how exactly.

    Attributes:
        end: s; `stops` are times a step must end at, ascending, for frames.
        step, largest: first and longest step, s; found when None. `fixed`: all steps are as long as the first.
        accuracy: error of a step as a share of the scales of temperature and velocity.
        order: 1 or 2.
        tolerance: of the equations of each stage.
        heat_only: the flow stays as it is at the beginning.
    """

    end: float
    stops: tuple[float, ...] = ()
    step: float | None = None
    largest: float | None = None
    fixed: bool = False
    accuracy: float = 2e-3
    order: int = 2
    tolerance: float = 1e-6
    heat_only: bool = False


@dataclass(frozen=True)
class Instant:
    """A state in time with what was evaluated at the end of its step."""

    time: float
    problem: Problem
    iterate: Iterate


@dataclass(frozen=True)
class TimeSolution:
    """A run in time.

    Attributes:
        last: where it ended.
        past: all of it, the former part of a run that was carried on included.
        finished: whether it reached its end; `stopped` whether it was asked to end before, or ran out of steps.
        rejected: steps that were taken back.
    """

    last: Instant
    past: Past
    finished: bool
    stopped: bool
    rejected: int
    seconds: float

    @property
    def history(self) -> list[dict[str, float]]:
        """One row per step."""
        return self.past.history


class _Record:
    """Writes the history and keeps account of the heat over the whole run."""

    def __init__(self, past: Past, watch: TimeWatch | None, listen: Listen, stage: str, end: float) -> None:
        self.watch, self.listen, self.stage = watch, listen, stage
        self.begin, self.end = past.time, end
        self.beginning, self.history = past.beginning, [*past.history]
        # What went missing and what passed, J.
        self.missing, self.passed = past.missing, past.passed

    def account(self, trial: _Trial, step: float) -> None:
        """Count the stages of a step, each for its share of it."""
        for problem, evaluation, share in trial.stages:
            total, scale = heat_sum(problem, evaluation)
            self.missing += total * share * step
            self.passed += scale * abs(share) * step

    def note(self, time: float, problem: Problem, now: Iterate, step: float, iterations: int) -> Instant:
        """Add a row, and tell whoever listens."""
        watches = self.watch(problem, now.evaluation, now.state) if self.watch is not None else {}
        open_by = abs(self.missing) / max(self.passed, 1e-300)
        norms = now.norms.as_dict()
        row = {
            "time": time,
            "step": step,
            **norms,
            "heat balance": float(open_by),
            "inner iterations": float(iterations),
            **watches,
        }
        self.history.append(row)
        done = (time - self.begin) / max(self.end - self.begin, 1e-300)
        self.listen(Event(self.stage, len(self.history) - 1, norms, watches, float(np.clip(done, 0.0, 1.0)), time))
        return Instant(time, problem, now)

    def past(self, time: float) -> Past:
        """All of the run up to a time."""
        return Past(time, self.beginning, self.history, self.missing, self.passed)


def solve_in_time(
    at: Callable[[float], Problem],
    settings: TimeSettings,
    start: State,
    d: Array,
    *,
    past: Past | None = None,
    watch: TimeWatch | None = None,
    keep: Callable[[Instant], None] | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
    stage: str = "solving in time",
) -> TimeSolution:
    """Carry a state on to the end.

    Args:
        at: the problem with what is given at a time; always on the same grid.
        past: of a run that is carried on; it begins at time zero when None.
        start: the state at the beginning, with `d` its momentum interpolation coefficients (zeros where unknown).
        watch: quantities to follow at each step.
        keep: called at the beginning and at every stop, for frames.
        listen, cancel: progress out, the wish to stop in.

    Raises:
        SolveError: steps became too short to go on.
    """
    begun = clock.perf_counter()
    record = _Record(past or Past(0.0, start), watch, listen, stage, settings.end)
    begin = record.begin
    first = at(begin)
    now = look_at_heat(first, start, d) if settings.heat_only else look_at(first, start, d)
    # What is carried on has its row already.
    last = Instant(begin, first, now) if record.history else record.note(begin, first, now, 0.0, 0)
    if keep is not None:
        keep(last)
    stops = [stop for stop in (*settings.stops, settings.end) if stop > begin * (1.0 + 1e-12)]
    wanted = settings.step or _FIRST_STEP * (settings.end - begin)
    ceiling, shortest = np.inf, _SHORTEST * (settings.end - begin)
    taken = rejected = 0
    stopped = False
    with closing(_Stepper(at, settings)) as stepper:
        while last.time < settings.end * (1.0 - 1e-12):
            if cancel() or taken == _MOST_STEPS:
                stopped = True
                break
            time = last.time
            stop = next(s for s in stops if s > time * (1.0 + 1e-12) + 1e-300)
            wanted = min(wanted, settings.largest or wanted, ceiling)
            step = _towards(wanted, stop - time, settings.fixed)
            trial = stepper.step(time, step, last.iterate)
            if trial is None or (not settings.fixed and trial.error > _TOO_MUCH * settings.accuracy):
                rejected += 1
                shorter = _AFTER_FAILURE if trial is None else max(_SHRINK, _SAFETY * (settings.accuracy / trial.error) ** 0.5)
                wanted = step * shorter
                if trial is None:
                    ceiling = wanted
                if wanted < shortest:
                    raise SolveError(
                        f"the solve in time came to a stop at {time:.4g} s: no step was short enough",
                        "soften what changes abruptly, allow a larger error, or start from a calmer state",
                    )
                continue
            taken += 1
            ceiling *= _FORGET
            record.account(trial, step)
            time = stop if abs(stop - (time + step)) < 1e-9 * step else time + step
            last = record.note(time, trial.problem, trial.now, step, stepper.iterations)
            if time == stop and keep is not None:
                keep(last)
            wanted = _next_step(wanted, step, trial.error, settings)
    return TimeSolution(last, record.past(last.time), not stopped, stopped, rejected, clock.perf_counter() - begun)


def _next_step(wanted: float, step: float, error: float, settings: TimeSettings) -> float:
    """The step to want after one of length `step` with an error."""
    if settings.fixed:
        return settings.step or wanted
    grow = float(np.clip(_SAFETY * (settings.accuracy / max(error, 1e-300)) ** 0.5, _SHRINK, _GROW))
    # A step cut short for a frame says little about the next.
    return max(wanted, step * grow) if step < 0.9 * wanted and grow >= 1.0 else step * grow


def _towards(wanted: float, left: float, fixed: bool) -> float:
    """The step to take: what is wanted, evened out so that no tiny one is left before a stop."""
    if wanted >= left * (1.0 - 1e-9):
        return left
    if not fixed and wanted > 0.5 * left:
        return 0.5 * left
    return wanted


@dataclass(frozen=True)
class _Trial:
    """A step that was computed: its end, its stages with their shares of the step, and its error."""

    problem: Problem
    now: Iterate
    stages: tuple[tuple[Problem, Evaluation, float], ...]
    error: float


class _Stepper:
    """Takes steps with one solver, whose factors are used again for as long as they serve."""

    def __init__(self, at: Callable[[float], Problem], settings: TimeSettings) -> None:
        self.at, self.settings = at, settings
        self.gamma = _GAMMA if settings.order == 2 else 1.0
        self.solver: CoupledSolver | None = None
        self.iterations = 0
        self._length = 0.0
        self._before: tuple[Iterate, float] | None = None
        # The latest states with their times: what the next one is guessed from.
        self._course: list[tuple[float, State]] = []

    def close(self) -> None:
        """Give the factors' memory back."""
        if self.solver is not None:
            self.solver.close()

    def step(self, time: float, step: float, now: Iterate) -> _Trial | None:
        """One step from `now` at `time`; None when a stage found no solution."""
        self.iterations = 0
        gamma = self.gamma
        first = self.at(time + gamma * step)
        begins = stored_in(first, now.state)
        self._passed(time, now.state)
        mid = self._stage(first, begins, gamma * step, self._ahead(now, time + gamma * step))
        if mid is None:
            return None
        if self.settings.order == 1:
            error = self._first_order_error(now, mid, step)
            self._before = (now, step)
            return _Trial(mid[0], mid[1], ((mid[0], mid[1].evaluation, 1.0),), error)
        second = self.at(time + step)
        carried = begins.ahead(stored_in(first, mid[1].state), (1.0 - gamma) / gamma)
        self._passed(time + gamma * step, mid[1].state)
        end = self._stage(second, carried, gamma * step, self._ahead(mid[1], time + step))
        if end is None:
            return None
        error = self._error(now, mid[1], end[1])
        self._before = (now, step)
        shares = ((mid[0], mid[1].evaluation, 1.0 - gamma), (end[0], end[1].evaluation, gamma))
        return _Trial(end[0], end[1], shares, error)

    def _passed(self, time: float, state: State) -> None:
        """Note a state on the way; what a step that was taken back had reached is forgotten."""
        self._course = [*(point for point in self._course if point[0] < time), (time, state)][-_COURSE:]

    def _ahead(self, now: Iterate, time: float) -> Iterate:
        """Where the course so far leads by a time, along the line through its last states: a start for the iteration."""
        times = [t for t, _ in self._course]
        found = np.zeros_like(now.state.stacked())
        for i, (t, state) in enumerate(self._course):
            others = [other for k, other in enumerate(times) if k != i]
            found += float(np.prod([(time - other) / (t - other) for other in others])) * state.stacked()
        state = State.of(found)
        if self.solver is not None:
            state = replace(state, t=_at_the_front(self.solver.problem, now.state.t, state.t))
        return replace(now, state=state)

    def _stage(self, problem: Problem, before: Stored, interval: float, guess: Iterate) -> tuple[Problem, Iterate] | None:
        """Solve an implicit stage from `guess`."""
        problem = replace(problem, storage=Storage(before, interval))
        solver = self.solver
        if solver is None:
            solver = self.solver = CoupledSolver(problem, heat_only=self.settings.heat_only)
            solver.krylov_tolerance = min(solver.krylov_tolerance, _NEWTON_KRYLOV)
        solver.problem = problem
        solver.cfl, solver.best = UNLIMITED, np.inf
        if not 1.0 / _SAME_LENGTH < interval / max(self._length, 1e-300) < _SAME_LENGTH:
            solver.forget_factors()
            self._length = interval
        if self.settings.heat_only:
            now = look_at_heat(problem, guess.state, guess.d)
        else:
            now = look_at(problem, guess.state, guess.d, guess.evaluation.flow)
        for _ in range(_MOST_NEWTON):
            if self._solved(now):
                now = self._closed(problem, now)
                if self._solved(now) and self._balanced(problem, now):
                    return problem, now
            now, accepted = solver.step(now)
            self.iterations += solver.krylov
            # A step about as long as a plume takes to grow makes the equations nearly singular: it is to be shorter.
            if not accepted or solver.krylov >= MOST_KRYLOV:
                return None
        return (problem, now) if self._solved(now, _ALMOST) and self._balanced(problem, now, _ALMOST) else None

    def _solved(self, now: Iterate, slack: float = 1.0) -> bool:
        norms: Norms = now.norms
        tolerance = slack * self.settings.tolerance
        flows = self.settings.heat_only or norms.flow <= tolerance
        return flows and norms.energy <= tolerance

    def _closed(self, problem: Problem, now: Iterate) -> Iterate:
        """The same with the heat that the iteration has left open spread over all cells: some nanokelvins each.

        Heat is to be conserved over the whole run, far better than a single step is exact.
        """
        for _ in range(_MOST_CLOSING):
            if self._balanced(problem, now):
                break
            open_by, _ = heat_sum(problem, now.evaluation)
            capacity = storage_diagonal(problem, now.state, properties_of(problem, now.state))[3]
            warmer = replace(now.state, t=now.state.t - open_by / float(capacity.sum()))
            now = look_at_heat(problem, warmer, now.d)
        return now

    @staticmethod
    def _balanced(problem: Problem, now: Iterate, slack: float = 1.0) -> bool:
        """Whether the heat of a stage closes, as a share of what passes; round-off of what cells hold is let pass."""
        open_by, passing = heat_sum(problem, now.evaluation)
        assert problem.storage is not None
        noise = _ROUND_OFF * float(np.abs(problem.storage.before.heat).sum()) / problem.storage.interval
        return abs(open_by) <= max(slack * _HEAT_CLOSES * passing, noise)

    def _error(self, start: Iterate, mid: Iterate, end: Iterate) -> float:
        """Error of a second-order step from the second difference of its states, as a share of the scales."""
        gamma = self.gamma
        s, m, e = _judged(start), _judged(mid), _judged(end)
        return self._share(_ERROR_SHARE * ((e - m) / (1.0 - gamma) - (m - s) / gamma))

    def _first_order_error(self, now: Iterate, end: tuple[Problem, Iterate], step: float) -> float:
        """Error of a first-order step from the course of the one before; 0 at the first."""
        if self._before is None:
            return 0.0
        before, length = self._before
        here = _judged(now)
        ahead = here + (here - _judged(before)) * (step / length)
        return self._share(0.5 * step / (step + length) * (_judged(end[1]) - ahead))

    def _share(self, errors: Array) -> float:
        assert self.solver is not None
        problem = self.solver.problem
        u, v, t, spin = errors.T
        weight = problem.grid.volume / float(problem.grid.volume.sum())
        speed = np.sqrt(u**2 + v**2 + (problem.cells.radius * spin) ** 2) / problem.scales.velocity
        heat = t / problem.scales.temperature
        return float(np.sqrt(max(weight @ speed**2, weight @ heat**2)))


def _judged(iterate: Iterate) -> Array:
    """What the error of a step is judged by: velocities, true temperature, turning; shape (n_cells, 4).

    A melting front passes a cell at one temperature; how its latent heat goes step by step is noise, and is conserved anyway.
    """
    state = iterate.state
    return np.stack([state.u, state.v, iterate.evaluation.temperature, state.spin], axis=1)


def _at_the_front(problem: Problem, before: Array, guess: Array) -> Array:
    """Guessed stretched temperatures, but what would leave its melting range only just does so.

    What has molten warms up far slower than its stretched temperature ran through the melting.
    """
    result = guess.copy()
    for index, table in enumerate(problem.materials):
        if table.melting is None:
            continue
        mine = problem.grid.region == index
        low, high = (float(table.stretched(t)) for t in (table.melting.begins, table.melting.ends))
        within = np.clip(result, low, high)
        was = before[mine]
        melting = (was > low) & (was < high)
        # A solid that begins to melt, or a melt that begins to freeze, is led to where its range begins.
        starts = ((was <= low) & (result[mine] > low)) | ((was >= high) & (result[mine] < high))
        result[mine] = np.where(melting | starts, within[mine], result[mine])
        # What is beyond its range has come out of it lately perhaps: a step further than it stands from it would be too far.
        beyond = np.where(was >= high, was - high, low - was)
        out = ~(melting | starts)
        result[mine] = np.where(out, np.clip(result[mine], was - beyond, was + beyond), result[mine])
    return result
