"""From scratch to layers that turn turbulent on their way: first turbulent all along, then what intermittency does by degrees.

Newton steps from layers that are turbulent all along to laminar ones lead astray, or to the second root of intermittency, zero.
With a share of what it does each solution starts the next. Then flow and turbulence take steps in pseudo-time, and intermittency
settles after each by itself, until Newton steps end it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wattikos_core.physics import Problem
from wattikos_core.physics.turbulence.constants import INTERMITTENCY
from wattikos_core.solve.coupled import CoupledSolver, Report, judged_of
from wattikos_core.solve.intermittency import settle_intermittency
from wattikos_core.solve.iterate import Iterate, look_at
from wattikos_core.solve.nonlocal_unknowns import NonlocalUnknown
from wattikos_core.solve.turbulent_start import AT_ONCE, BOLD, CAREFUL, Done, Way, run_turbulent

# Where flow and turbulence are so near, the next degree follows; steps of each, and how far degrees are apart.
_ENOUGH, _STEPS_OF_DEGREE, _FIRST_DEGREE, _LEAST_DEGREE = 1e-2, 25, 0.25, 0.01
# Steps in pseudo-time, its most, and residuals from which on Newton steps are tried.
_SETTLING_STEPS, _MOST_CFL, _LEAST_CFL, _SETTLED = 300, 1e5, 1.0, 3e-4


def turns_on_its_way(problem: Problem) -> bool:
    """Whether layers may be laminar for a while."""
    model = problem.physics.turbulence
    return model is not None and model.transition


def run_turning(
    problem: Problem,
    first: Iterate,
    most_steps: int,
    report: Report,
    done: Done,
    *,
    from_scratch: bool,
    further: Sequence[type[NonlocalUnknown]] = (),
    hold: Sequence[int] = (),
) -> Iterate:
    """Step until `done` says that it is enough, or all attempts are over; for the rest see `run_turbulent`."""
    way = Way(report, done, further, hold)
    index = problem.unknowns.scalars.index(INTERMITTENCY)
    share = problem.unknowns.transported[index]
    if not from_scratch:
        now, finished = way.together(problem, first, way.pace(problem, first), most_steps)
        if not finished and way.judged(problem, now) < _ENOUGH:
            now, finished = _settling(way, problem, now, share)
        if finished:
            return now
    plain = _turbulent_all_along(problem)

    def of_problem(now: Iterate, inner: int) -> bool:
        return report(look_at(problem, now.state, now.interpolation), inner)

    def near(now: Iterate, _: bool) -> bool:
        return judged_of(now.point.problem, now.norms, tuple(hold)) < _ENOUGH

    def near_throughout(now: Iterate, _: bool) -> bool:
        return judged_of(plain, now.norms, (*hold, share)) < _ENOUGH

    scalars = first.state.scalars.copy()
    scalars[:, index] = problem.cells.fluid
    begun = look_at(plain, replace(first.state, scalars=scalars), first.interpolation)
    stirred = run_turbulent(
        plain, begun, most_steps, of_problem, near_throughout, from_scratch=from_scratch, further=further, hold=(*hold, share)
    )
    found = settle_intermittency(look_at(problem, stirred.state, stirred.interpolation))
    by_degrees, degree, step = Way(of_problem, near, further, hold), 0.0, _FIRST_DEGREE
    while degree < 1.0 and step > _LEAST_DEGREE:
        level = _followed(problem, min(degree + step, 1.0))
        for pace in (AT_ONCE, BOLD):
            now, good = by_degrees.together(level, look_at(level, found.state, found.interpolation), pace, _STEPS_OF_DEGREE)
            if good:
                break
        if good:
            found, degree, step = now, min(degree + step, 1.0), 1.5 * step
        else:
            step *= 0.5
    return _settling(way, problem, look_at(problem, found.state, found.interpolation), share)[0]


def _settling(way: Way, problem: Problem, now: Iterate, share: int) -> tuple[Iterate, bool]:
    """Flow, turbulence and heat in steps, and intermittency after each by itself; and whether all is done."""
    solver = CoupledSolver(problem, further=way.further)
    hold = (*way.hold, share)
    solver.cfl = most_cfl = BOLD.cfl
    try:
        for _ in range(_SETTLING_STEPS):
            now = settle_intermittency(now)
            now, _ = solver.step(now, hold)
            most_cfl = min(most_cfl * CAREFUL.growth, _MOST_CFL)
            solver.cfl = float(np.clip(solver.cfl, _LEAST_CFL, most_cfl))
            if way.done(now, way.report(now, solver.krylov)):
                return now, True
            if way.judged(problem, now) < _SETTLED:
                now, finished = way.together(problem, now, AT_ONCE, AT_ONCE.patience)
                if finished:
                    return now, True
        return now, False
    finally:
        solver.close()


def _turbulent_all_along(problem: Problem) -> Problem:
    """The problem without intermittency, which is one."""
    model = problem.physics.turbulence
    assert model is not None
    return replace(problem, physics=replace(problem.physics, turbulence=replace(model, transition=False)))


def _followed(problem: Problem, share: float) -> Problem:
    """The problem with a share of what intermittency does."""
    model = problem.physics.turbulence
    assert model is not None
    return replace(problem, physics=replace(problem.physics, turbulence=replace(model, followed=share)))
