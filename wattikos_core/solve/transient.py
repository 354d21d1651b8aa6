"""The solve in time: steps that follow their own error and the effort they take, the history, and the heat over a whole run.

A step needs nothing but the state at its beginning (see `stages`): a run can be stopped, carried on and extended without a trace.
"""

from __future__ import annotations

import time as clock
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.errors import SolveError
from wattikos_core.ledger import Key, labelled
from wattikos_core.physics import Evaluation, Problem, State, evaluate
from wattikos_core.physics.faces import Array
from wattikos_core.solve.checkpoint import Past
from wattikos_core.solve.convergence import heat_sum
from wattikos_core.solve.events import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.solve.iterate import Iterate, look_at, look_at_heat
from wattikos_core.solve.stages import Stepper, TimeSettings, Trial

TimeWatch = Callable[[Problem, Evaluation, State], dict[Key, float]]

_SAFETY, _SHRINK, _GROW = 0.9, 0.3, 2.0
# A first step whose error stays above this share when it is made shorter is accepted: the error is a jump of the start.
_STAYS = 0.7
# A start whose mass imbalance exceeds this share comes from another grid.
_UNBALANCED = 0.1
# A step is taken back when its error is beyond this multiple of what is wanted.
_TOO_MUCH = 2.0
# After a step that found no solution: how much shorter the next is, and how fast that is forgotten.
_AFTER_FAILURE, _FORGET = 0.4, 1.15
# After a step that was hard to find, no less is wanted than this share of what the error allows.
_LEAST_OF_ALLOWED = 0.3
_FIRST_STEP = 1e-3
_SHORTEST = 1e-9
_MOST_STEPS = 20_000


@dataclass(frozen=True)
class Instant:
    """A state in time with what was evaluated at the end of its step, of length `step` (s; 0 at the beginning)."""

    time: float
    problem: Problem
    iterate: Iterate
    step: float = 0.0


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

    def __init__(self, past: Past, watch: TimeWatch | None, listen: Listen, end: float) -> None:
        self.watch, self.listen = watch, listen
        self.begin, self.end = past.time, end
        self.beginning, self.history = past.beginning, [*past.history]
        # Heat unaccounted for, and heat passed, since the start, J.
        self.missing, self.passed = past.missing, past.passed

    def account(self, trial: Trial, step: float) -> None:
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
            **labelled(watches),
        }
        self.history.append(row)
        done = (time - self.begin) / max(self.end - self.begin, 1e-300)
        self.listen(Event("solving in time", len(self.history) - 1, norms, watches, float(np.clip(done, 0.0, 1.0)), time))
        return Instant(time, problem, now, step)

    def past(self, time: float) -> Past:
        """All of the run up to a time."""
        return Past(time, self.beginning, self.history, self.missing, self.passed)


def solve_in_time(
    at: Callable[[float], Problem],
    settings: TimeSettings,
    start: tuple[State, Array],
    *,
    past: Past | None = None,
    watch: TimeWatch | None = None,
    keep: Callable[[Instant], None] | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
) -> TimeSolution:
    """Carry a state on to the end.

    Args:
        at: the problem with what is given at a time; always on the same grid.
        settings: how far and how exactly.
        start: the state at the beginning, and its coefficients of momentum interpolation (zeros where unknown).
        past: of a run that is carried on; it begins at time zero when None.
        watch: quantities to follow at each step.
        keep: called at the beginning and at every stop, for frames.
        listen: told of every step.
        cancel: asked at every step whether to stop.

    Raises:
        SolveError: steps became too short to go on.
    """
    begun = clock.perf_counter()
    state, interpolation = start
    record = _Record(past or Past(0.0, state), watch, listen, settings.end)
    begin = record.begin
    first = at(begin)
    now = look_at_heat(first, state, interpolation) if settings.heat_only else look_at(first, state, interpolation)
    # A continued run has the row of its first state already.
    last = Instant(begin, first, now)
    if not record.history:
        # Nothing flows yet but with the speeds of the state itself, whatever pressures are about to drive.
        seen = now if interpolation.any() else replace(now, evaluation=evaluate(now.point, np.zeros_like(interpolation)))
        record.note(begin, first, seen, 0.0, 0)
    if keep is not None:
        keep(last)
    stops = [stop for stop in (*settings.stops, settings.end) if stop > begin * (1.0 + 1e-12)]
    wanted = settings.step or _FIRST_STEP * (settings.end - begin)
    ceiling, shortest = np.inf, _SHORTEST * (settings.end - begin)
    taken = rejected = 0
    # Error of a first step that was refused: fields that come from another grid do not balance mass, and jump to those that do, in
    # however short a step. An error that stays when the step shrinks is such a jump, and is taken.
    refused, unbalanced = np.inf, now.norms.mass > _UNBALANCED
    stopped = False
    with closing(Stepper(at, settings)) as stepper:
        while last.time < settings.end * (1.0 - 1e-12):
            if cancel() or taken == _MOST_STEPS:
                stopped = True
                break
            time = last.time
            stop = next(s for s in stops if s > time * (1.0 + 1e-12) + 1e-300)
            wanted = min(wanted, settings.largest or wanted, ceiling)
            step = _towards(wanted, stop - time, settings.fixed)
            trial = stepper.step(time, step, last.iterate)
            jump = unbalanced and trial is not None and taken == 0 and trial.error > _STAYS * refused
            if trial is None or (not settings.fixed and not jump and trial.error > _TOO_MUCH * settings.accuracy):
                rejected += 1
                refused = trial.error if trial is not None else np.inf
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
            wanted = _next_step(wanted, step, trial.error, stepper.effort, settings)
    return TimeSolution(last, record.past(last.time), not stopped, stopped, rejected, clock.perf_counter() - begun)


def _next_step(wanted: float, step: float, error: float, effort: float, settings: TimeSettings) -> float:
    """The step to want after one of length `step` with an error, and an effort that is 1 where it was hard to find.

    Where equations get harder with longer steps, shorter ones get further in less time, and are more exact; but what is hard
    anyway is not made easier: no less is wanted than a share of what the error allows.
    """
    if settings.fixed:
        return settings.step or wanted
    allowed = _SAFETY * (settings.accuracy / max(error, 1e-300)) ** 0.5
    grow = float(np.clip(allowed, _SHRINK, _GROW))
    easier = max(effort, 1e-300) ** -0.5
    if easier < grow:
        grow = max(easier, min(grow, _LEAST_OF_ALLOWED * allowed))
    # A step cut short for a frame says little about the next.
    return max(wanted, step * grow) if step < 0.9 * wanted and grow >= 1.0 else step * grow


def _towards(wanted: float, left: float, fixed: bool) -> float:
    """The step to take: what is wanted, evened out so that no tiny one is left before a stop."""
    if wanted >= left * (1.0 - 1e-9):
        return left
    if not fixed and wanted > 0.5 * left:
        return 0.5 * left
    return wanted
