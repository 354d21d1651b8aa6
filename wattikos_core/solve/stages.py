"""One step in time: the implicit stages of the method, each solved by the coupled Newton-Krylov method from a guess.

Second order: the two-stage, L-stable method of Alexander (1977, SIAM J. Numer. Anal. 14, 1006) with γ = 1 - 1/√2; first order:
implicit Euler. Both are written for what cells store (mass, momentum, heat), so that over a whole run what came in over
the boundaries is what is stored, to the tolerance of the equations.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.physics import Evaluation, Problem, State
from wattikos_core.physics.faces import Array, Index
from wattikos_core.physics.scales import per_body, spans
from wattikos_core.physics.terms.storage import Storage
from wattikos_core.solve.convergence import Norms, heat_account, heat_sum
from wattikos_core.solve.coupled import BESIDE_THE_KINK, MOST_KRYLOV, UNLIMITED, CoupledSolver
from wattikos_core.solve.iterate import Iterate, look_at, look_at_heat, stored_in

_GAMMA = 1.0 - 1.0 / np.sqrt(2.0)
# The part of the second difference of a step that counts as its error (a first-order method inside the second-order one).
_ERROR_SHARE = 0.1
# Krylov iterations that make a step hard.
_HARD = 9
# Newton steps a stage may take; where heat alone melts something the front stops at each cell it passes.
_MOST_NEWTON, _MOST_AT_FRONTS = 16, 30
# Stages are guessed along a line through this many states.
_COURSE = 2
_MOST_CLOSING = 3
# The heat balance of each stage is closed to this share of the heat passing.
_HEAT_CLOSES, _ROUND_OFF = 1e-8, 1e-14
# The response of the heat sum is updated only from changes this many times larger than round-off.
_ABOVE_NOISE = 100.0
# Tolerance of a stage, as share of the change it brings; never below the second value, a share of the scales.
# Tolerance where heat alone is solved: it is nearly linear, and one more iteration costs little.
_OF_CHANGE, _OF_CHANGE_OF_FLOWS = 1e-4, 1e-3
_FINEST, _FINEST_OF_FLOWS = 1e-8, 1e-6
# An iteration that used up its Krylov steps is still accepted if it reduced the residual to this share.
_SLOW = 0.3
# The linear tolerance of a Newton step is what would end the stage at this share of its tolerance, within bounds.
_NEWTON_SHARE, _NEWTON_KRYLOV, _LOOSEST_KRYLOV = 0.2, 1e-2, 0.2
# Factors are kept while the step in time stays within this factor of the one they were made for.
_SAME_LENGTH = 1.5


@dataclass(frozen=True)
class TimeSettings:
    """How far and how exactly.

    Attributes:
        end: s; `stops` are times a step must end at, ascending, for frames.
        step, largest: first and longest step, s; found when None. `fixed`: all steps are as long as the first.
        accuracy: error of a step as a share of the scales of temperature and velocity.
        order: 1 or 2.
        tolerance: by how much any cell may be off the solution of a stage, as a share of the scales.
        heat_only: the flow stays as it is at the beginning.
    """

    end: float
    stops: tuple[float, ...] = ()
    step: float | None = None
    largest: float | None = None
    fixed: bool = False
    accuracy: float = 2e-4
    order: int = 2
    tolerance: float = 1e-6
    heat_only: bool = False


@dataclass(frozen=True)
class Trial:
    """A step that was computed: its end, its stages with their shares of the step, and its error."""

    problem: Problem
    now: Iterate
    stages: tuple[tuple[Problem, Evaluation, float], ...]
    error: float


class Stepper:
    """Takes steps with one solver, whose factors are used again for as long as they serve."""

    def __init__(self, at: Callable[[float], Problem], settings: TimeSettings) -> None:
        self.at, self.settings = at, settings
        self.gamma = _GAMMA if settings.order == 2 else 1.0
        self.solver: CoupledSolver | None = None
        self.iterations = 0
        self._length = 0.0
        # Change of the heat sum per kelvin everywhere, as a multiple of the heat capacity of the cells.
        self._answers = 1.0
        self._before: tuple[Iterate, float] | None = None
        # The latest states with their times; the next one is extrapolated from them.
        self._course: list[tuple[float, State]] = []

    @property
    def effort(self) -> float:
        """Krylov iterations of the last step as a share of what makes a step hard; none where heat alone is sought."""
        return self.iterations / _HARD if self.solver is not None and not self.solver.conduction else 0.0

    def close(self) -> None:
        """Give the factors' memory back."""
        if self.solver is not None:
            self.solver.close()

    def step(self, time: float, step: float, now: Iterate) -> Trial | None:
        """One step from `now` at `time`; None when a stage found no solution."""
        self.iterations = 0
        gamma = self.gamma
        first = self.at(time + gamma * step)
        begins = stored_in(first, now.state)
        self._passed(time, now.state)
        mid = self._stage(first, begins, gamma * step, self._ahead(now, time + gamma * step), now.state)
        if mid is None:
            return None
        if self.settings.order == 1:
            error = self._first_order_error(now, mid, step)
            self._before = (now, step)
            return Trial(mid[0], mid[1], ((mid[0], mid[1].evaluation, 1.0),), error)
        second = self.at(time + step)
        carried = begins + (1.0 - gamma) / gamma * (stored_in(first, mid[1].state) - begins)
        self._passed(time + gamma * step, mid[1].state)
        end = self._stage(second, carried, gamma * step, self._ahead(mid[1], time + step), mid[1].state)
        if end is None:
            return None
        error = self._error(now, mid[1], end[1])
        self._before = (now, step)
        shares = ((mid[0], mid[1].evaluation, 1.0 - gamma), (end[0], end[1].evaluation, gamma))
        return Trial(end[0], end[1], shares, error)

    def _passed(self, time: float, state: State) -> None:
        """Note a state on the way; what a step that was taken back had reached is forgotten."""
        self._course = [*(point for point in self._course if point[0] < time), (time, state)][-_COURSE:]

    def _ahead(self, now: Iterate, time: float) -> Iterate:
        """Where the course so far leads by a time, along the line through its last states: a start for the iteration."""
        times, unknowns = [t for t, _ in self._course], now.point.problem.unknowns
        found = np.zeros((now.state.pressure.size, unknowns.size))
        for i, (t, state) in enumerate(self._course):
            others = [other for k, other in enumerate(times) if k != i]
            found += float(np.prod([(time - other) / (t - other) for other in others])) * state.columns(unknowns)
        state = State.of(found, unknowns)
        if self.solver is not None:
            state = replace(state, stretched=_at_the_front(self.solver.problem, now.state.stretched, state.stretched))
        return replace(now, state=state)

    def _stage(
        self, problem: Problem, before: Array, interval: float, guess: Iterate, start: State
    ) -> tuple[Problem, Iterate] | None:
        """Solve an implicit stage from `guess`."""
        problem = replace(problem, storage=Storage(before, interval))
        solver = self.solver
        if solver is None:
            solver = self.solver = CoupledSolver(problem, problem.unknowns.heat if self.settings.heat_only else None)
        solver.problem = problem
        solver.cfl, solver.best = UNLIMITED, np.inf
        if not 1.0 / _SAME_LENGTH < interval / max(self._length, 1e-300) < _SAME_LENGTH:
            solver.forget_factors()
            self._length = interval
        if self.settings.heat_only:
            now = look_at_heat(problem, guess.state, guess.interpolation)
        else:
            now = look_at(problem, guess.state, guess.interpolation, guess.evaluation.flow)
        tolerance = self._tolerance(problem, now, start)
        most = _MOST_AT_FRONTS if solver.conduction and problem.tables.melts.any() else _MOST_NEWTON
        for _ in range(most):
            if self._open(now) <= tolerance:
                now = self._closed(problem, now, tolerance)
                if self._open(now) <= tolerance and self._balanced(problem, now):
                    return problem, now
            if not solver.conduction or problem.tables.melts.any():
                enough = _NEWTON_SHARE * tolerance / max(self._open(now), 1e-300)
                solver.krylov_tolerance = float(np.clip(enough, _NEWTON_KRYLOV, _LOOSEST_KRYLOV))
            was_open = self._open(now)
            now, accepted = solver.step(now)
            self.iterations += solver.krylov
            # With a step about as long as a plume takes to grow the equations are nearly singular: the step must be shorter.
            stalled = solver.krylov >= MOST_KRYLOV and not solver.conduction
            if not accepted or (stalled and self._open(now) > max(tolerance, _SLOW * was_open)):
                return None
        return None

    def _open(self, now: Iterate) -> float:
        """By how much a stage may still be off, as a share of the scales: see `norms`."""
        norms: Norms = now.norms
        of_heat = max(norms.temperature, norms.matrix)
        return of_heat if self.settings.heat_only else max(of_heat, norms.velocity, norms.scalars)

    def _tolerance(self, problem: Problem, guess: Iterate, begins: State) -> float:
        """By how much a stage may be off: the tolerance, and no more than a small share of the change that it is to bring."""
        evaluation = guess.evaluation
        stretch = np.array([table.stretch for table in problem.materials])[problem.grid.region]
        span = spans(problem.heat_body, evaluation.temperature, problem.scales.span) + stretch
        change, share = float(np.max(np.abs(guess.state.stretched - begins.stretched) / span)), _OF_CHANGE
        if not self.settings.heat_only and problem.cells.fluid.any():
            speed = np.linalg.norm(guess.state.velocity - begins.velocity, axis=1)
            change, share = max(change, float(np.max(speed / problem.scales.velocity))), _OF_CHANGE_OF_FLOWS
        # The first stage of a run has no former change to set its tolerance by: it takes the error allowed to the first step.
        finest = _FINEST if share == _OF_CHANGE else _FINEST_OF_FLOWS
        return min(self.settings.tolerance, max(share * change, finest))

    def _closed(self, problem: Problem, now: Iterate, tolerance: float) -> Iterate:
        """The same with the heat that the iteration has left open spread over all cells of each body: some nanokelvins each.

        Heat is to be conserved over the whole run, far better than a single step is exact. No more is spread than the tolerance
        of the stage: more than that is for the iteration to find.
        """
        number = problem.heat_body
        open_by, _, _ = heat_account(problem, now.evaluation)
        span = spans(number, now.evaluation.temperature, problem.scales.span)
        # Derivative of the heat sum by a kelvin everywhere, W/K: storage, and the boundaries' share, estimated from former steps.
        stored = per_body(number, now.diagonals.storage, open_by.size)
        for _ in range(_MOST_CLOSING):
            if self._balanced(problem, now):
                break
            warmer = -open_by / (self._answers * stored)
            if np.any(np.abs(warmer[number]) > tolerance * span):
                break
            now = look_at_heat(problem, replace(now.state, stretched=now.state.stretched + warmer[number]), now.interpolation)
            before, (open_by, _, _) = open_by, heat_account(problem, now.evaluation)
            if abs(before.sum()) > _ABOVE_NOISE * self._noise(problem):
                self._answers = float((open_by - before).sum() / (warmer * stored).sum())
        return now

    def _balanced(self, problem: Problem, now: Iterate) -> bool:
        """Whether the heat of a stage closes, as a share of what passes; round-off is let pass."""
        open_by, passing = heat_sum(problem, now.evaluation)
        return abs(open_by) <= max(_HEAT_CLOSES * passing, self._noise(problem))

    @staticmethod
    def _noise(problem: Problem) -> float:
        """Round-off of what cells hold, as heat over the step, W."""
        assert problem.storage is not None
        return _ROUND_OFF * float(np.abs(problem.storage.before[:, problem.unknowns.temperature]).sum()) / problem.storage.interval

    def _error(self, start: Iterate, mid: Iterate, end: Iterate) -> float:
        """Error of a second-order step from the second difference of its states, as a share of the scales."""
        gamma = self.gamma
        s, m, e = _judged(start), _judged(mid), _judged(end)
        return self._share(_ERROR_SHARE * ((e - m) / (1.0 - gamma) - (m - s) / gamma), start, end)

    def _first_order_error(self, now: Iterate, end: tuple[Problem, Iterate], step: float) -> float:
        """Error of a first-order step from the course of the one before; 0 at the first."""
        if self._before is None:
            return 0.0
        before, length = self._before
        here = _judged(now)
        ahead = here + (here - _judged(before)) * (step / length)
        return self._share(0.5 * step / (step + length) * (_judged(end[1]) - ahead), now, end[1])

    def _share(self, errors: Array, before: Iterate, end: Iterate) -> float:
        """Root mean square of errors over each body, as a share of its speed or of how its temperatures differ; the worst counts.

        A front passes one cell after the other, and all temperatures beside it go in steps that have no second difference: where
        something melts, the error counts as no larger than the square of the change, which is what it would be without the steps.
        """
        assert self.solver is not None
        problem = self.solver.problem
        changes = _judged(end) - _judged(before)
        melts = problem.tables.melts[problem.cells.material] == 1
        temperatures = (i.evaluation.temperature for i in (before, end))
        span = np.maximum(*(spans(problem.heat_body, t, problem.scales.span) for t in temperatures))
        fluid = problem.cells.fluid == 1
        lever = problem.cells.radius
        worst = 0.0
        speed, d = problem.scales.velocity, problem.grid.dimensions
        for number, columns, scale in (
            (problem.heat_body, (d,), span),
            (np.where(fluid, problem.body, -1), (*range(d), d + 1), speed),
        ):
            if not np.any(number >= 0):
                continue
            factors = np.stack([(lever if column == d + 1 else 1.0) / scale for column in columns], axis=1)
            error, change = (
                _mean_squares(number, problem.grid.volume, np.sum((x[:, columns] * factors) ** 2, axis=1))
                for x in (errors, changes)
            )
            steps = per_body(number, melts.astype(float), error.size) > 0.0
            worst = max(worst, float(np.max(np.where(steps, np.minimum(error, change**2), error))))
        return float(np.sqrt(worst))


def _mean_squares(number: Index, volume: Array, squares: Array) -> Array:
    """Means over each body, weighted with volume."""
    count = int(number.max()) + 1
    whole = per_body(number, volume, count)
    return np.asarray(per_body(number, volume * squares, count) / np.where(whole > 0.0, whole, 1.0))


def _judged(iterate: Iterate) -> Array:
    """What the error of a step is judged by: velocity, true temperature, angular velocity; shape (n_cells, d + 2).

    A melting front passes a cell at one temperature; how its latent heat goes step by step is noise, and is conserved anyway.
    """
    state = iterate.state
    return np.column_stack([state.velocity, iterate.evaluation.temperature, state.angular_velocity])


def _at_the_front(problem: Problem, before: Array, guess: Array) -> Array:
    """Guessed stretched temperatures, but what would leave its melting range only just does so.

    What has molten warms up far slower than its stretched temperature ran through the melting.
    """
    result = guess.copy()
    for index, table in enumerate(problem.materials):
        if table.melting_range is None:
            continue
        low, high = table.melting_range
        mine = problem.grid.region == index
        within = np.clip(result, low - BESIDE_THE_KINK, high + BESIDE_THE_KINK)
        was = before[mine]
        melting = (was > low) & (was < high)
        # A cell that begins to melt or to freeze is limited to its melting range in one iteration.
        starts = ((was <= low) & (result[mine] > low)) | ((was >= high) & (result[mine] < high))
        result[mine] = np.where(melting | starts, within[mine], result[mine])
        # A cell just outside its melting range is limited to a step as large as its distance from the range.
        beyond = np.where(was >= high, was - high, low - was)
        out = ~(melting | starts)
        result[mine] = np.where(out, np.clip(result[mine], was - beyond, was + beyond), result[mine])
    return result
