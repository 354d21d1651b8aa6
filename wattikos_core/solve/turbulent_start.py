"""From scratch to a turbulent flow: first boldly, then as time goes, then from a calmed one.

Streams along walls are found boldly: the flow with turbulence as a first guess has it, turbulence in that flow, then both together.
Where a flow separates or is stirred by its weight that goes astray, for speeds that have not come about yet stir up turbulence that
is not there. Such a flow comes about from one that creeps as it would in time (`solve.marching`). Where that leads nowhere, and
from the solution of a coarser grid, it is found from one with so much viscosity beside its own that it creeps, which is taken away
step by step: natural continuation, each solution starts the next.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.physics import Problem
from wattikos_core.solve.coupled import FIRST_CFL, UNLIMITED, CoupledSolver, Report, judged_of
from wattikos_core.solve.iterate import Iterate, look_at
from wattikos_core.solve.marching import FROM_COARSER, FROM_REST, SLOWER_FROM_COARSER, Pace, march
from wattikos_core.solve.nonlocal_unknowns import NonlocalUnknown
from wattikos_core.solve.turbulence import among_scalars, turbulence_columns

# Turns of flow and turbulence by themselves, and steps in each.
_ROUNDS, _FLOW_STEPS, _TURBULENCE_STEPS, _HEAT_STEPS = 2, 6, 4, 6
_TURBULENCE_CFL, _FARTHEST_SPEED = 100.0, 3.0
# By then one has come far enough for the other.
_ENOUGH = 1e-3
# Both together are given up when so many steps have not brought their residuals below this share of what they were: they may rise
# at first, when the flow moves on and turbulence follows.
_PROGRESS, PATIENCE = 0.7, 10
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


# Pseudo-time of attempts that begin far from what is sought, and near it.
BOLD, AT_ONCE = FIRST_CFL[0], UNLIMITED
# Pseudo-time is no less than this, and than this share of it for every time a step was taken back in a row.
_LEAST_CFL, _SMALLER = 1.0, 0.3
# As time goes steps are many and short.
_LEAST_MARCHING_STEPS = 400


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

    def together(self, problem: Problem, now: Iterate, cfl: float, steps: int) -> tuple[Iterate, bool]:
        """Flow, turbulence and what else is not held, in one system; and whether all is done."""
        solver, rejected = CoupledSolver(problem, further=self.further), 0
        solver.cfl = cfl
        course: list[float] = []
        try:
            for _ in range(steps):
                now, accepted = solver.step(now, self.hold)
                rejected = 0 if accepted else rejected + 1
                # What was taken back is tried again in smaller steps.
                solver.cfl = max(solver.cfl, _LEAST_CFL * _SMALLER**rejected)
                if self.done(now, self.report(now, solver.krylov)):
                    return now, True
                course.append(self.judged(problem, now))
                if rejected > _MOST_REJECTED or stands(course, PATIENCE):
                    break
            return now, False
        finally:
            solver.close()

    def marched(self, problem: Problem, now: Iterate, pace: Pace, steps: int) -> tuple[Iterate, bool]:
        """Together as time goes, see `solve.marching`; and whether all is done."""

        def ends(now: Iterate, inner: int) -> bool:
            return self.done(now, self.report(now, inner))

        return march(problem, now, pace, steps, ends, self.further, self.hold)

    def creeping(self, problem: Problem, first: Iterate) -> Iterate:
        """The flow, at temperatures and with turbulence as they are, of a fluid so viscous that it creeps."""
        unknowns, level = problem.unknowns, _calmed(problem, _creeping(problem))
        others = (unknowns.temperature, *unknowns.transported)
        solver = CoupledSolver(level, [c for c in range(unknowns.size) if c not in others], self.further)
        solver.cfl, solver.farthest_speed, solver.freeze = UNLIMITED, np.inf, True
        now = look_at(level, first.state, first.interpolation)
        try:
            for _ in range(_FLOW_STEPS):
                now, _ = solver.step(now)
                self.report(look_at(problem, now.state, now.interpolation), solver.krylov)
                if now.norms.flow < _ENOUGH:
                    break
        finally:
            solver.close()
        return look_at(problem, now.state, now.interpolation)

    def by_one_of(self, cfls: Sequence[float], problem: Problem, first: Iterate, steps: int) -> tuple[Iterate, bool]:
        """All together from one start, by the first pseudo-time that does it."""
        now, finished = first, False
        for cfl in cfls:
            now, finished = self.together(problem, first, cfl, steps)
            if finished:
                break
        return now, finished

    def by_turns(self, problem: Problem, now: Iterate, rounds: int, calmed: bool) -> Iterate:
        """Flow and turbulence by turns, each as the other leaves it; temperatures stay as they are."""
        unknowns = problem.unknowns
        of_turbulence = turbulence_columns(problem)
        others = (unknowns.temperature, *unknowns.transported)
        of_flow = [c for c in range(unknowns.size) if c not in others]
        flow, turbulence = CoupledSolver(problem, of_flow, self.further), CoupledSolver(problem, of_turbulence)
        flow.farthest_speed, flow.freeze = (np.inf if calmed else _FARTHEST_SPEED), calmed
        try:
            for _ in range(rounds):
                for solver, steps, cfl in ((flow, _FLOW_STEPS, UNLIMITED), (turbulence, _TURBULENCE_STEPS, _TURBULENCE_CFL)):
                    solver.cfl, solver.best = cfl, float("inf")
                    for _ in range(steps):
                        now, _ = solver.step(now)
                        self.report(now, solver.krylov)
                        if (now.norms.flow if solver is flow else now.norms.scalars) < _ENOUGH:
                            break
                now = _moderate(problem, now)
            return now
        finally:
            flow.close()
            turbulence.close()

    def heat_alone(self, problem: Problem, now: Iterate) -> Iterate:
        """Temperatures in the flow as it is, by upwind values first: from them no temperature is beyond what is possible."""
        for scheme in (replace(problem, blend=0.0), problem):
            solver = CoupledSolver(scheme, problem.unknowns.heat, self.further)
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

    def cfl(self, problem: Problem, now: Iterate) -> float:
        """Pseudo-time of an attempt from a start that is near or not."""
        return AT_ONCE if self.judged(problem, now) < _NEAR else BOLD

    def judged(self, problem: Problem, now: Iterate) -> float:
        """Residuals of all that is sought."""
        return judged_of(problem, now.norms, self.hold) if self.hold else now.norms.pace


def run_all_along(way: Way, problem: Problem, first: Iterate, most_steps: int, *, from_scratch: bool) -> Iterate:
    """Step until the way is done, or all attempts are over, with layers that are turbulent all along; see `turning_start`."""
    if problem.physics.heavy:
        march_steps = max(most_steps, _LEAST_MARCHING_STEPS)
        # Where weight stirs, taking calming away leads into flows that warmth would not allow: they are found as time goes.
        if from_scratch:
            return way.marched(problem, way.creeping(problem, first), FROM_REST, march_steps)[0]
        now, finished = first, False
        if way.judged(problem, first) < _NEAR:
            now, finished = way.together(problem, first, AT_ONCE, most_steps)
        return now if finished else _marched_on(way, problem, first, march_steps)
    begun = way.by_turns(problem, first, _ROUNDS, calmed=False) if from_scratch else first
    now, finished = way.together(problem, begun, BOLD if from_scratch else way.cfl(problem, first), most_steps)
    ways = (_by_marching, _by_calm) if from_scratch else (_by_calm, _by_marching)
    for attempt in ways:
        if not finished:
            now, finished = attempt(way, problem, first, most_steps, from_scratch)
    return now


def _marched_on(way: Way, problem: Problem, first: Iterate, most_steps: int) -> Iterate:
    """As time goes from the solution of a coarser grid; slower where that leaps, as jets through few cells do, or from rest."""
    taken = 0

    def count(now: Iterate, inner: int) -> bool:
        nonlocal taken
        taken += 1
        return way.report(now, inner)

    counted = replace(way, report=count)
    now, finished = counted.marched(problem, first, FROM_COARSER, most_steps)
    if not finished and taken < most_steps:
        now, finished = counted.marched(problem, first, SLOWER_FROM_COARSER, most_steps - taken)
    if not finished and taken < most_steps:
        now, _ = counted.marched(problem, counted.creeping(problem, first), FROM_REST, most_steps - taken)
    return now


def _by_marching(way: Way, problem: Problem, first: Iterate, most_steps: int, from_scratch: bool) -> tuple[Iterate, bool]:
    """Flow and turbulence as time goes, heat in them, then all together; and whether all is done."""
    hold = tuple(sorted({*way.hold, problem.unknowns.temperature}))

    def near(now: Iterate, _: bool) -> bool:
        return judged_of(problem, now.norms, hold) < _ENOUGH

    begun = way.creeping(problem, first) if from_scratch else first
    flow = Way(way.report, near, way.further, hold)
    now, found = flow.marched(problem, begun, FROM_REST if from_scratch else FROM_COARSER, max(most_steps, _LEAST_MARCHING_STEPS))
    if not found:
        return now, False
    if problem.unknowns.temperature not in way.hold:
        now = way.heat_alone(problem, now)
    ended, finished = way.together(problem, now, AT_ONCE, most_steps)
    return (ended, True) if finished else way.marched(problem, now, FROM_COARSER, most_steps)


def _by_calm(way: Way, problem: Problem, first: Iterate, most_steps: int, from_scratch: bool) -> tuple[Iterate, bool]:
    """Flow and turbulence by continuation from a calmed flow, heat in it, then all together; and whether all is done."""
    calmed = _from_calm(way, problem, first, from_scratch=from_scratch)
    if calmed is None:
        return first, False
    now = look_at(problem, calmed.state, calmed.interpolation)
    if problem.unknowns.temperature not in way.hold:
        now = way.heat_alone(problem, now)
    return way.together(problem, now, way.cfl(problem, now), most_steps)


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
        cfls = (BOLD,) if found is None else (AT_ONCE, BOLD)
        now, good = calm.by_one_of(cfls, level, start, STEPS_OF_LEVEL)
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
