"""One step in time: the implicit stages of the method, each solved by the coupled Newton-Krylov method from a guess.

Second order: the two-stage, L-stable method of Alexander (1977, SIAM J. Numer. Anal. 14, 1006) with γ = 1 - 1/√2; first order:
implicit Euler. Both are written for what cells store (mass, momentum, heat), so that over a whole run what came in over
the boundaries is what is stored, to the tolerance of the equations.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import Array
from wattikos_core.physics.storage import Storage, Stored
from wattikos_core.solve.convergence import Norms
from wattikos_core.solve.coupled import MOST_KRYLOV, UNLIMITED, CoupledSolver
from wattikos_core.solve.iterate import Iterate, look_at, look_at_heat, properties_of, storage_diagonal, stored_in
from wattikos_core.solve.state import State
from wattikos_core.solve.steady import heat_sum

_GAMMA = 1.0 - 1.0 / np.sqrt(2.0)
# The part of the second difference of a step that counts as its error (a first-order method inside the second-order one).
_ERROR_SHARE = 0.1
# Krylov iterations that make a step hard.
_HARD = 9
_MOST_NEWTON = 16
# Stages are guessed along a line through this many states.
_COURSE = 2
# After the last iteration of a stage, this multiple of the tolerance will do.
_ALMOST = 10.0
_MOST_CLOSING = 3
# The heat of each stage closes to this share of what passes.
_HEAT_CLOSES, _ROUND_OFF = 1e-8, 1e-14
# An answer is learnt from what is this many times larger than round-off.
_ABOVE_NOISE = 100.0
# Each Newton step is solved to a share of what is still open: what is needed to end at this share of the tolerance, in bounds.
_NEWTON_SHARE, _NEWTON_KRYLOV, _LOOSEST_KRYLOV = 0.2, 1e-2, 0.2
# Factors serve on while the length of the step stays within this factor of theirs.
_SAME_LENGTH = 1.5
# Guesses are kept this far from where melting begins or ends, K: right there the equations have no derivative.
_BESIDE_THE_KINK = 1e-3


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
        # How the heat of a stage answers to a kelvin everywhere, as a multiple of what the cells store.
        self._answers = 1.0
        self._before: tuple[Iterate, float] | None = None
        # The latest states with their times: what the next one is guessed from.
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
        mid = self._stage(first, begins, gamma * step, self._ahead(now, time + gamma * step))
        if mid is None:
            return None
        if self.settings.order == 1:
            error = self._first_order_error(now, mid, step)
            self._before = (now, step)
            return Trial(mid[0], mid[1], ((mid[0], mid[1].evaluation, 1.0),), error)
        second = self.at(time + step)
        carried = begins.ahead(stored_in(first, mid[1].state), (1.0 - gamma) / gamma)
        self._passed(time + gamma * step, mid[1].state)
        end = self._stage(second, carried, gamma * step, self._ahead(mid[1], time + step))
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
            if not solver.conduction:
                enough = _NEWTON_SHARE * self.settings.tolerance / max(now.norms.worst, 1e-300)
                solver.krylov_tolerance = float(np.clip(enough, _NEWTON_KRYLOV, _LOOSEST_KRYLOV))
            now, accepted = solver.step(now)
            self.iterations += solver.krylov
            # A step about as long as a plume takes to grow makes the equations nearly singular: it is to be shorter.
            if not accepted or solver.krylov >= MOST_KRYLOV:
                return None
        return (problem, now) if self._solved(now, _ALMOST) and self._balanced(problem, now, _ALMOST) else None

    def _solved(self, now: Iterate, slack: float = 1.0) -> bool:
        norms: Norms = now.norms
        # No cell may be off by more than the error of the whole step may be.
        tolerance, of_a_cell = slack * self.settings.tolerance, slack * self.settings.accuracy
        flows = self.settings.heat_only or (norms.flow <= tolerance and norms.velocity <= of_a_cell)
        return flows and norms.energy <= tolerance and norms.temperature <= of_a_cell

    def _closed(self, problem: Problem, now: Iterate) -> Iterate:
        """The same with the heat that the iteration has left open spread over all cells: some nanokelvins each.

        Heat is to be conserved over the whole run, far better than a single step is exact.
        """
        open_by, _ = heat_sum(problem, now.evaluation)
        # What the sum answers to a kelvin everywhere, W/K: storage and what passes the boundaries, whose share is learnt.
        stored = float(storage_diagonal(problem, now.state, properties_of(problem, now.state))[3].sum())
        for _ in range(_MOST_CLOSING):
            if self._balanced(problem, now):
                break
            warmer = -open_by / (self._answers * stored)
            now = look_at_heat(problem, replace(now.state, t=now.state.t + warmer), now.d)
            before, (open_by, _) = open_by, heat_sum(problem, now.evaluation)
            if abs(before) > _ABOVE_NOISE * self._noise(problem):
                self._answers = (open_by - before) / (warmer * stored)
        return now

    def _balanced(self, problem: Problem, now: Iterate, slack: float = 1.0) -> bool:
        """Whether the heat of a stage closes, as a share of what passes; round-off is let pass."""
        open_by, passing = heat_sum(problem, now.evaluation)
        return abs(open_by) <= max(slack * _HEAT_CLOSES * passing, self._noise(problem))

    @staticmethod
    def _noise(problem: Problem) -> float:
        """Round-off of what cells hold, as heat over the step, W."""
        assert problem.storage is not None
        return _ROUND_OFF * float(np.abs(problem.storage.before.heat).sum()) / problem.storage.interval

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
        if table.melting_range is None:
            continue
        low, high = table.melting_range
        mine = problem.grid.region == index
        within = np.clip(result, low - _BESIDE_THE_KINK, high + _BESIDE_THE_KINK)
        was = before[mine]
        melting = (was > low) & (was < high)
        # A solid that begins to melt, or a melt that begins to freeze, is led into its range but not through it.
        starts = ((was <= low) & (result[mine] > low)) | ((was >= high) & (result[mine] < high))
        result[mine] = np.where(melting | starts, within[mine], result[mine])
        # What is beyond its range has come out of it lately perhaps: a step further than it stands from it would be too far.
        beyond = np.where(was >= high, was - high, low - was)
        out = ~(melting | starts)
        result[mine] = np.where(out, np.clip(result[mine], was - beyond, was + beyond), result[mine])
    return result
