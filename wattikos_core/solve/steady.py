"""The steady solve: choose the method, run it, judge convergence, fall back by itself."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from wattikos_core.errors import Cancelled, SolveError
from wattikos_core.ledger import Key, labelled
from wattikos_core.physics import Evaluation, Problem, State
from wattikos_core.physics.faces import Array
from wattikos_core.solve.convergence import imbalances, settled
from wattikos_core.solve.coupled import driven_by_weight, run_heat
from wattikos_core.solve.events import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.solve.iterate import Iterate, look_at
from wattikos_core.solve.laminar_start import run_laminar
from wattikos_core.solve.linear import direct_solver_available
from wattikos_core.solve.module import run_module
from wattikos_core.solve.segregated import RanAway, run_segregated
from wattikos_core.solve.solution import Solution
from wattikos_core.solve.start import initial_state
from wattikos_core.solve.turbulent_start import Way
from wattikos_core.solve.turning_start import run_turbulent

Watch = Callable[[Evaluation, State], dict[Key, float]]

# Above this the factors of the coupled matrix no longer fit comfortably (docs/numerics.md).
COUPLED_LIMIT = 120_000
# No single cell may be off its own balance by more than this many times the tolerance, as share of the scales: sums do not
# see the smallest cells.
_OF_A_CELL = 100.0
# The heat and mass imbalance asked for before a solve counts as finished.
_BALANCE = 5e-10
_SEGREGATED_STEPS = 4000
# Streams of different weight find their places slowly: so many times the steps.
_STEPS_OF_WEIGHT = 4
# A state whose residuals are half its scales or more says nothing: 1 is that of heat that was never solved.
_USELESS = 0.5
# A last state this much further from a solution than the nearest one there was has run away.
_ASTRAY = 10.0
# Streams of higher Reynolds numbers are seldom steady and laminar.
_HARDLY_STEADY = 1500.0
# A flow is kept only if its mass imbalance is below this share of the inflow.
_KEPT_MASS = 1e-6


@dataclass(frozen=True)
class SolveSettings:
    """How far and by which method."""

    tolerance: float = 1e-8
    max_steps: int = 80
    method: Literal["automatic", "coupled", "segregated"] = "automatic"
    # Whether the flow of a start is kept and heat alone is solved: always, never, or where it still holds.
    flow: Literal["automatic", "kept", "solved"] = "automatic"
    # Whether a small residual alone is enough: for a coarse grid that only gives a finer one its start.
    preliminary: bool = False


class _Journal:
    """Collects the history, tells listeners, and decides when to stop."""

    def __init__(self, problem: Problem, settings: SolveSettings, watch: Watch, listen: Listen, cancel: Cancel, stage: str) -> None:
        self.problem, self.settings, self.watch = problem, settings, watch
        self.listen, self.cancel, self.stage = listen, cancel, stage
        self.history: list[dict[str, float]] = []
        self.last: dict[Key, float] = {}
        self.converged = False
        self.best: Iterate | None = None
        # The nearest to a solution of all: what is left where a method runs away.
        self.nearest: Iterate | None = None
        self.nearest_step = -1
        self.first = 0.0
        self.heat_only = False

    def report(self, now: Iterate, inner: int) -> bool:
        """Note a step; True when the solve is to end."""
        if self.cancel():
            self.best = now
            raise Cancelled("the solve was stopped")
        sound = now.state.finite() and np.isfinite(now.norms.worst)
        watches = self.watch(now.evaluation, now.state) if sound else {}
        if sound and (self.nearest is None or now.norms.worst < self.nearest.norms.worst):
            self.nearest, self.nearest_step = now, len(self.history)
        mass, heat = imbalances(self.problem, now.evaluation, now.state.periodicity)
        row = {**now.norms.as_dict(), "mass balance": mass, "heat balance": heat, "inner iterations": float(inner)}
        self.history.append({**row, **labelled(watches)})
        self.first = self.first or max(now.norms.worst, 1e-300)
        residual = now.norms.heat if self.heat_only else now.norms.worst
        of_a_cell = now.norms.temperature if self.heat_only else max(now.norms.velocity, now.norms.temperature)
        within = residual <= self.settings.tolerance and of_a_cell <= _OF_A_CELL * self.settings.tolerance
        still = settled(self.last, watches)
        # A kept flow may bring less mass into cells than it takes out: whether it holds is asked once heat has converged with it.
        balanced = self.heat_only or max(mass, heat) <= _BALANCE
        # For a start a rough estimate of the remaining error suffices.
        self.converged = now.norms.pace <= self.settings.tolerance if self.settings.preliminary else within and still and balanced
        self.last = watches
        self.best = now
        span = np.log(self.first / self.settings.tolerance)
        done = np.log(self.first / max(residual, self.settings.tolerance)) / max(span, 1e-9)
        self.listen(Event(self.stage, len(self.history), now.norms.as_dict(), watches, float(np.clip(done, 0.0, 1.0))))
        return self.converged


def solve_steady(
    problem: Problem,
    settings: SolveSettings | None = None,
    *,
    start: tuple[State, Array] | None = None,
    watch: Watch | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
    stage: str = "solving",
) -> Solution:
    """Solve the steady flow and heat of a problem.

    Args:
        problem: the discrete problem.
        settings: how far and how exactly.
        start: a state and its interpolation coefficients to begin with (see `start_from`); at rest when None.
        watch: gives the quantities to follow at each step.
        listen: told of every step.
        cancel: asked at every step whether to stop.
        stage: what a listener is told that goes on.

    Returns:
        the solution; `converged` is False when the steps ran out, `stopped` is True when the user stopped it.

    Raises:
        SolveError: no usable state was found by either method.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.grid import grid_section
        >>> from wattikos_core.physics import problem_of
        >>> from wattikos_core.section import paint
        >>> resolved = resolve(starter_case("plate_sink"))
        >>> solve_steady(problem_of(resolved, grid_section(resolved, paint(resolved), 0.5))).converged
        True
    """
    settings = settings or SolveSettings()
    begun = time.perf_counter()
    journal = _Journal(problem, settings, watch or (lambda evaluation, state: {}), listen, cancel, stage)
    state, interpolation = start if start is not None else (initial_state(problem), np.zeros(problem.grid.n_cells))
    notes: list[str] = []
    method = _choose(problem, settings, notes)
    stopped = False
    try:
        if start is not None and method == "coupled" and _may_keep_flow(problem, settings, state, interpolation, notes):
            journal.heat_only = True
            kept = run_heat(problem, state, interpolation, settings.max_steps, journal.report)
            journal.heat_only = False
            if not _flow_was_kept(settings, kept, notes):
                state, interpolation, journal.converged = kept.state, kept.interpolation, False
        if problem.module is not None:
            run_module(
                problem,
                state,
                interpolation,
                settings.max_steps,
                settings.tolerance,
                journal.report,
                from_scratch=start is None,
            )
        elif method == "coupled" and not journal.converged:
            steps = settings.max_steps * (_STEPS_OF_WEIGHT if problem.physics.heavy else 1)
            stirred = bool(problem.turbulent.any())
            if stirred:
                now = look_at(problem, state, interpolation)
                way = Way(journal.report, lambda _, finished: finished)
                run_turbulent(way, problem, now, steps, from_scratch=start is None)
            else:
                run_laminar(problem, state, interpolation, steps, journal.report, from_scratch=start is None)
            if not journal.converged and settings.method == "automatic" and not stirred:
                notes.append("the coupled method did not converge; the segregated method went on from there")
                method = "segregated"
                if journal.best is not None and journal.best.norms.worst < 1.0:
                    state, interpolation = journal.best.state, journal.best.interpolation
        if method == "segregated" and problem.module is None:
            run_segregated(problem, state, interpolation, _SEGREGATED_STEPS, journal.report)
    except Cancelled:
        stopped = True
    except RanAway:
        journal.converged = False
    last, best = journal.best, journal.best
    if not journal.converged and not stopped and journal.nearest is not None:
        best = journal.nearest
        # The history ends with the state that is left.
        journal.history.append(journal.history[journal.nearest_step])
    if best is None or not best.state.finite() or not np.isfinite(best.norms.worst):
        raise SolveError(*_why_not(problem))
    # Where the steps ran out on the way, there is more to come; where it went astray, there is not.
    astray = last is not None and not last.norms.worst <= _ASTRAY * best.norms.worst
    if not stopped and not journal.converged and astray and best.norms.worst > _USELESS:
        raise SolveError(*_why_not(problem))
    return Solution(
        problem.grid,
        problem.unknowns,
        best.state,
        best.interpolation,
        journal.history,
        journal.converged,
        stopped,
        method,
        time.perf_counter() - begun,
        notes,
    )


def _why_not(problem: Problem) -> tuple[str, str]:
    """Why no steady solution was found, and what to do: most often the flow that is asked for is not steady or not laminar."""
    if problem.turbulent.any():
        return (
            "no steady turbulent flow was found: it may be that none is steady",
            "draw half of what is symmetric, grid finer along walls, or solve it in time",
        )
    if driven_by_weight(problem):
        remedy = "let the flow be turbulent, solve it in time, or begin with a smaller difference"
        return "no steady laminar flow was found: the weight may stir it for ever", remedy
    reynolds = _driven_reynolds(problem)
    if reynolds > _HARDLY_STEADY:
        reason = f"no steady laminar flow was found: what drives it makes a Reynolds number of about {reynolds:.2g}"
        return reason, "lower what drives it (pressure, speed or flow), or solve it in time"
    if problem.physics.heavy:
        return "no steady flow was found: the weight may stir it for ever", "solve it in time, or begin with a smaller difference"
    return "no steady solution was found from rest", "try a coarser grid first, or a lower flow; the next solve begins from there"


def _driven_reynolds(problem: Problem) -> float:
    """The largest Reynolds number of a body of fluid by the speed that is given or can be driven, on its shorter side."""
    scales, largest = problem.scales, 0.0
    middle = 0.5 * (scales.lowest + scales.highest)
    for body in np.unique(problem.body[problem.cells.fluid == 1]):
        cells = np.nonzero(problem.body == body)[0]
        table = problem.materials[problem.grid.region[cells[0]]]
        size = float(np.ptp(problem.grid.centre[cells], axis=0).min())
        speed = float(scales.velocity[cells].max())
        largest = max(largest, speed * size * float(table.density(middle)) / float(table.viscosity(middle)))
    return largest


def _may_keep_flow(problem: Problem, settings: SolveSettings, state: State, interpolation: Array, notes: list[str]) -> bool:
    """Whether a start brings a flow that can be kept: of the same flow conditions, on the same grid."""
    if settings.flow == "solved" or not problem.streams_enter:
        return False
    first = look_at(problem, state, interpolation).norms
    if settings.flow == "automatic":
        return max(first.flow, first.scalars) <= settings.tolerance
    if first.mass > _KEPT_MASS:
        notes.append("the flow could not be kept: it belongs to other flow conditions or another grid; it was solved anew")
        return False
    return True


def _flow_was_kept(settings: SolveSettings, now: Iterate, notes: list[str]) -> bool:
    """Whether the kept flow will do at the temperatures found with it, with a note that says so."""
    off = now.norms.flow
    if off <= settings.tolerance:
        notes.append("the flow of the former run still holds: it was kept, and heat alone was solved")
        return True
    if settings.flow == "kept":
        notes.append(
            f"the flow was kept from the former run, as wished; at the new temperatures its equations are off by {off:.1e}"
        )
        return True
    return False


def _choose(problem: Problem, settings: SolveSettings, notes: list[str]) -> str:
    if problem.module is not None:
        if not direct_solver_available():
            raise SolveError("a module that repeats needs PARDISO, which is not installed here", "solve a length with an inlet")
        if settings.method == "segregated":
            notes.append("a module that repeats is solved by the coupled method")
        return "coupled"
    if problem.turbulent.any():
        if not direct_solver_available():
            raise SolveError("turbulent flow needs PARDISO, which is not installed here", "let the flow be laminar")
        if settings.method == "segregated":
            notes.append("turbulent flow is solved by the coupled method")
        return "coupled"
    if settings.method != "automatic":
        if settings.method == "coupled" and not direct_solver_available():
            raise SolveError("the coupled method needs PARDISO, which is not installed here", "choose the automatic method")
        return settings.method
    if not direct_solver_available():
        notes.append("PARDISO is not installed here; the segregated method is used")
        return "segregated"
    return "coupled" if problem.grid.n_cells <= COUPLED_LIMIT else "segregated"
