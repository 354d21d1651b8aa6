"""From scratch to a turbulent flow: first boldly, and where that leads nowhere from a calmed one.

Streams along walls are found boldly: the flow with turbulence as a first guess has it, turbulence in that flow, then both together.
Where a flow separates that goes astray, for speeds that have not come about yet stir up turbulence that is not there. Such a flow
is found from one with a viscosity beside its own so large that it creeps, which is taken away step by step: natural continuation,
each solution starts the next. Where that cannot be followed either, small steps in pseudo-time are left.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from wattikos_core.physics import Problem
from wattikos_core.solve.coupled import FIRST_CFL, MOST_KRYLOV, UNLIMITED, CoupledSolver, Report, driven_by_weight, judged_of
from wattikos_core.solve.iterate import Iterate, look_at
from wattikos_core.solve.nonlocal_unknowns import NonlocalUnknown
from wattikos_core.solve.turbulence import among_scalars, turbulence_columns

# Turns of flow and turbulence by themselves, and steps in each.
_ROUNDS, _FLOW_STEPS, _TURBULENCE_STEPS, _HEAT_STEPS = 2, 6, 4, 6
_WARM_STEPS = 25
_TURBULENCE_CFL, _FARTHEST_SPEED = 100.0, 3.0
# By then one has come far enough for the other.
_ENOUGH = 1e-3
# Both together are given up when so many steps have not brought their residuals below this share of what they were: they may rise
# at first, when the flow moves on and turbulence follows.
_PROGRESS = 0.7
_NEAR = 0.05
# k of a first guess is no more than this share of the square of a stream's speed.
_MOST_ENERGY = 0.1
_MOST_REJECTED = 3
# The calmed flow one begins with: its Reynolds number on the largest distance from walls.
_CREEPING = 5.0
_FIRST_FACTOR, _LEAST_FACTOR, _LARGEST_FACTOR = 2.0, 1.03, 3.0
# How many times a flow that begins with too little calming is calmed further.
_CALMER = 5.0
# Calming below this share of a fluid's own viscosity is taken away at once.
_NEXT_TO_NOTHING = 0.4
# Steps and residuals of a calmed flow, when it was quick, and steps of all of them.
STEPS_OF_LEVEL, _LEVEL, _QUICK, _MOST_CALMED = 25, 1e-2, 6, 120

Done = Callable[[Iterate, bool], bool]


class Pace(NamedTuple):
    """How an attempt goes: pseudo-time to begin with, the factor a step by which its most grows, and steps without progress."""

    cfl: float
    growth: float
    patience: int


BOLD, AT_ONCE, CAREFUL = Pace(FIRST_CFL[0], UNLIMITED, 10), Pace(UNLIMITED, UNLIMITED, 10), Pace(20.0, 1.3, 40)
# Where weight stirs, turbulence comes to its balance long after the flow has.
PATIENT = Pace(FIRST_CFL[0], UNLIMITED, 40)
# Pseudo-time is no less than this after steps that were taken back.
_LEAST_CFL = 1.0
_SLOWER, _SMALLER = 0.4, 0.3
# Careful steps are many and short.
_LEAST_CAREFUL_STEPS = 240


@dataclass(frozen=True)
class Way:
    """What all attempts have in common.

    Attributes:
        report: called after every step with the iterate and the Krylov iterations it took.
        done: told of the iterate and what `report` has answered, says when to end.
        further: non-local unknowns beside those of the cells.
        hold: columns of unknowns that stay as they are.
    """

    report: Report
    done: Done
    further: Sequence[type[NonlocalUnknown]] = ()
    hold: Sequence[int] = ()

    def together(self, problem: Problem, now: Iterate, pace: Pace, steps: int) -> tuple[Iterate, bool]:
        """Flow, turbulence and what else is not held, in one system; and whether all is done."""
        solver, rejected = CoupledSolver(problem, further=self.further), 0
        solver.cfl = most_cfl = pace.cfl
        course: list[float] = []
        try:
            for _ in range(steps):
                now, accepted = solver.step(now, self.hold)
                most_cfl = min(most_cfl * pace.growth, UNLIMITED)
                rejected = 0 if accepted else rejected + 1
                if accepted and solver.krylov >= MOST_KRYLOV and problem.physics.heavy:
                    # The step was solved for poorly.
                    most_cfl = solver.cfl = max(_SLOWER * min(solver.cfl, most_cfl), _LEAST_CFL)
                # What was taken back is tried again in smaller steps.
                solver.cfl = float(np.clip(solver.cfl, _LEAST_CFL * _SMALLER**rejected, most_cfl))
                if self.done(now, self.report(now, solver.krylov)):
                    return now, True
                course.append(self.judged(problem, now))
                if rejected > _MOST_REJECTED or stands(course, pace.patience):
                    break
            return now, False
        finally:
            solver.close()

    def by_one_of(self, paces: Sequence[Pace], problem: Problem, first: Iterate, steps: int) -> tuple[Iterate, bool]:
        """All together from one start, at the first pace that does it."""
        now, finished = first, False
        for pace in paces:
            now, finished = self.together(problem, first, pace, steps)
            if finished:
                break
        return now, finished

    def by_turns(self, problem: Problem, now: Iterate, rounds: int, calmed: bool) -> Iterate:
        """Flow and turbulence by turns, each as the other leaves it; temperatures stay as they are, unless they alone drive it."""
        unknowns = problem.unknowns
        of_turbulence = turbulence_columns(problem)
        warm = driven_by_weight(problem)
        others = unknowns.transported if warm else (unknowns.temperature, *unknowns.transported)
        of_flow = [c for c in range(unknowns.size) if c not in others]
        flow, turbulence = CoupledSolver(problem, of_flow, self.further), CoupledSolver(problem, of_turbulence)
        solver_cfl = FIRST_CFL[1] if warm else UNLIMITED
        flow.farthest_speed, flow.freeze = (np.inf if calmed or warm else _FARTHEST_SPEED), calmed or warm
        flow_steps = _WARM_STEPS if warm else _FLOW_STEPS
        try:
            for _ in range(rounds):
                for solver, steps, cfl in ((flow, flow_steps, solver_cfl), (turbulence, _TURBULENCE_STEPS, _TURBULENCE_CFL)):
                    solver.cfl, solver.best = cfl, float("inf")
                    for _ in range(steps):
                        now, _ = solver.step(now)
                        self.report(now, solver.krylov)
                        of_streams = max(now.norms.flow, now.norms.energy) if warm else now.norms.flow
                        if (of_streams if solver is flow else now.norms.scalars) < _ENOUGH:
                            break
                now = _moderate(problem, now)
            return now
        finally:
            flow.close()
            turbulence.close()

    def heat_alone(self, problem: Problem, now: Iterate) -> Iterate:
        """Temperatures in the flow as it is, by upwind values first: from them no temperature is beyond what is possible."""
        for scheme in (replace(problem, blend=0.0), problem):
            solver = CoupledSolver(scheme, (problem.unknowns.temperature,), self.further)
            solver.cfl, now = UNLIMITED, look_at(scheme, now.state, now.interpolation)
            try:
                for _ in range(_HEAT_STEPS):
                    now, _ = solver.step(now)
                    self.report(look_at(problem, now.state, now.interpolation) if scheme is not problem else now, solver.krylov)
                    if now.norms.energy < _ENOUGH:
                        break
            finally:
                solver.close()
        return now

    def pace(self, problem: Problem, now: Iterate) -> Pace:
        """That of an attempt from a start that is near or not."""
        return AT_ONCE if self.judged(problem, now) < _NEAR else BOLD

    def judged(self, problem: Problem, now: Iterate) -> float:
        """Residuals of all that is sought."""
        return judged_of(problem, now.norms, self.hold) if self.hold else now.norms.pace


def run_all_along(way: Way, problem: Problem, first: Iterate, most_steps: int, *, from_scratch: bool) -> Iterate:
    """Step until the way is done, or all attempts are over, with layers that are turbulent all along; see `turning_start`."""
    careful_steps = max(most_steps, _LEAST_CAREFUL_STEPS)
    # Where weight stirs, taking calming away leads into flows that warmth would not allow: they are found by small steps alone.
    heavy = problem.physics.heavy
    if not from_scratch:
        now, finished = way.together(problem, first, way.pace(problem, first), most_steps)
        if not finished and heavy:
            now, finished = way.together(problem, first, CAREFUL, careful_steps)
        elif not finished:
            now, finished = _by_calm(way, problem, first, most_steps, from_scratch=False)
        if finished:
            return now
    begun = way.by_turns(problem, first, _ROUNDS, calmed=False)
    if driven_by_weight(problem):
        return way.together(problem, begun, CAREFUL, careful_steps)[0]
    now, finished = way.together(problem, begun, PATIENT if heavy else BOLD, most_steps)
    if not finished and not heavy:
        now, finished = _by_calm(way, problem, first, most_steps, from_scratch=True)
    if finished:
        return now
    begun = way.by_turns(problem, first, 1, calmed=False)
    return way.together(problem, begun, CAREFUL, careful_steps)[0]


def _by_calm(way: Way, problem: Problem, first: Iterate, most_steps: int, *, from_scratch: bool) -> tuple[Iterate, bool]:
    """Flow and turbulence by continuation from a calmed flow, heat in it, then all together; and whether all is done."""
    calmed = _from_calm(way, problem, first, from_scratch=from_scratch)
    if calmed is None:
        return first, False
    now = look_at(problem, calmed.state, calmed.interpolation)
    if problem.unknowns.temperature not in way.hold:
        now = way.heat_alone(problem, now)
    return way.together(problem, now, way.pace(problem, now), most_steps)


def stands(course: Sequence[float], patience: int) -> bool:
    """Whether the lowest of the last steps is hardly lower than that of as many before them."""
    before, last = course[-2 * patience : -patience], course[-patience:]
    return bool(before) and min(last) > _PROGRESS * min(before)


def _moderate(problem: Problem, now: Iterate) -> Iterate:
    """A first guess whose k is nowhere more than what streams stir up at their speeds: too much of it decays slowly."""
    scalars, k = now.state.scalars.copy(), among_scalars(problem).start
    most = _MOST_ENERGY * problem.scales.velocity**2
    if not (scalars[:, k] > most).any():
        return now
    scalars[:, k] = np.minimum(scalars[:, k], most)
    return look_at(problem, replace(now.state, scalars=scalars), now.interpolation)


def _from_calm(way: Way, problem: Problem, first: Iterate, *, from_scratch: bool) -> Iterate | None:
    """The flow that is left when all calming is taken away; None where it cannot be followed. Temperatures stay as they are.

    From scratch it begins with a flow that creeps. A former solution, or that of a coarser grid, begins with as much calming as its
    turbulence has viscosity, and is calmed further where that is too little.
    """
    hold = tuple(sorted({*way.hold, problem.unknowns.temperature}))

    def calm_enough(now: Iterate, _: bool) -> bool:
        return judged_of(problem, now.norms, hold) < _LEVEL

    taken = 0

    def count(now: Iterate, inner: int) -> bool:
        nonlocal taken
        taken += 1
        # What is told and remembered is how far the state is from a solution of the problem itself.
        return way.report(look_at(problem, now.state, now.interpolation), inner)

    calm = Way(count, calm_enough, way.further, hold)
    creeping, viscosity = _creeping(problem), _viscosity(problem, first)
    calming, factor = creeping if from_scratch else min(_stirred(problem, first), creeping), _FIRST_FACTOR
    found: Iterate | None = None
    last = calming
    while taken < _MOST_CALMED and factor > _LEAST_FACTOR:
        level, before = (_calmed(problem, calming) if calming > 0.0 else problem), taken
        start = look_at(level, (found or first).state, (found or first).interpolation)
        if found is None and calming >= creeping:
            start = calm.by_turns(level, start, 1, calmed=True)
        paces = (BOLD,) if found is None else (AT_ONCE, BOLD)
        now, good = calm.by_one_of(paces, level, start, STEPS_OF_LEVEL)
        if good:
            found, last = now, calming
            factor = min(1.3 * factor, _LARGEST_FACTOR) if taken - before <= _QUICK else factor
        elif found is None and calming < creeping:
            calming = min(_CALMER * calming, creeping)
            continue
        elif found is None:
            return None
        else:
            factor = np.sqrt(factor)
        if good and level is problem:
            break
        calming = last / factor
        if good and calming < _NEXT_TO_NOTHING * viscosity:
            # The last level is the problem itself.
            calming = 0.0
    return found


def _creeping(problem: Problem) -> float:
    """The viscosity with which a flow creeps, m2/s."""
    mine = problem.turbulent == 1
    distance = problem.wall_distance[mine]
    reach = float(np.max(distance, where=np.isfinite(distance), initial=0.0)) or float(
        np.ptp(problem.grid.centre[mine], axis=0).min()
    )
    return float(problem.scales.velocity[mine].max()) * reach / _CREEPING


def _viscosity(problem: Problem, now: Iterate) -> float:
    """The least viscosity of streams that are turbulent, m2/s."""
    mine, properties = problem.turbulent == 1, now.point.properties
    return float((properties.viscosity[mine] / properties.density[mine]).min())


def _stirred(problem: Problem, now: Iterate) -> float:
    """The mean viscosity of turbulence, m2/s."""
    mine, turbulence = problem.turbulent == 1, now.point.turbulence
    assert turbulence is not None
    volume, density = problem.cells.volume[mine], now.point.properties.density[mine]
    return float(np.average(turbulence.eddy_viscosity[mine] / density, weights=volume))


def _calmed(problem: Problem, calming: float) -> Problem:
    """The problem with a viscosity (m2/s) beside that of its turbulence."""
    model = problem.physics.turbulence
    assert model is not None
    return replace(problem, physics=replace(problem.physics, turbulence=replace(model, calming=calming)))
