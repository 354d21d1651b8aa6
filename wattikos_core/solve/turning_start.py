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
from wattikos_core.solve.coupled import CoupledSolver, judged_of
from wattikos_core.solve.intermittency import settle_intermittency
from wattikos_core.solve.iterate import Iterate, look_at
from wattikos_core.solve.turbulent_start import AT_ONCE, BOLD, PATIENCE, STEPS_OF_LEVEL, Way, run_all_along

# Where flow and turbulence are so near, the next degree follows; how far degrees are apart.
_ENOUGH, _FIRST_DEGREE, _LEAST_DEGREE = 1e-2, 0.25, 0.01
# Steps in pseudo-time, its most, and residuals from which on Newton steps are tried: nearer by this factor after each attempt.
_SETTLING_STEPS, _MOST_CFL, _LEAST_CFL, _GROWTH, _SETTLED, _NEARER = 300, 1e5, 1.0, 1.3, 3e-4, 0.3


def run_turbulent(way: Way, problem: Problem, first: Iterate, most_steps: int, *, from_scratch: bool) -> Iterate:
    """Step until the way is done, or all attempts are over.

    Args:
        way: what all attempts have in common.
        problem: the discrete problem, some of whose streams are turbulent.
        first: the iterate to begin with.
        most_steps: steps of flow and turbulence together, in each attempt.
        from_scratch: the start is no former solution.
    """
    model = problem.physics.turbulence
    assert model is not None
    if not model.transition:
        return run_all_along(way, problem, first, most_steps, from_scratch=from_scratch)
    index = problem.unknowns.scalars.index(INTERMITTENCY)
    share = problem.unknowns.transported[index]
    if not from_scratch:
        now, finished = way.together(problem, first, way.cfl(problem, first), most_steps)
        if not finished and way.judged(problem, now) < _ENOUGH:
            now, finished = _settling(way, problem, now, share)
        if finished:
            return now

    def of_problem(now: Iterate, inner: int) -> bool:
        # What is told and remembered is how far the state is from a solution of the problem itself.
        return way.report(look_at(problem, now.state, now.interpolation), inner)

    def near(hold: Sequence[int]) -> Way:
        return Way(of_problem, lambda now, _: judged_of(problem, now.norms, hold) < _ENOUGH, way.further, hold)

    # Intermittency, which is one then, stays as it is.
    all_along = replace(problem, physics=replace(problem.physics, turbulence=replace(model, transition=False)))
    scalars = first.state.scalars.copy()
    scalars[:, index] = problem.cells.fluid
    begun = look_at(all_along, replace(first.state, scalars=scalars), first.interpolation)
    stirred = run_all_along(near((*way.hold, share)), all_along, begun, most_steps, from_scratch=from_scratch)
    found = settle_intermittency(look_at(problem, stirred.state, stirred.interpolation))
    by_degrees, degree, step = near(tuple(way.hold)), 0.0, _FIRST_DEGREE
    while degree < 1.0 and step > _LEAST_DEGREE:
        here = min(degree + step, 1.0)
        level = replace(problem, physics=replace(problem.physics, turbulence=replace(model, followed=here)))
        start = look_at(level, found.state, found.interpolation)
        now, good = by_degrees.by_one_of((AT_ONCE, BOLD), level, start, STEPS_OF_LEVEL)
        if good:
            found, degree, step = now, here, 1.5 * step
        else:
            step *= 0.5
    return _settling(way, problem, look_at(problem, found.state, found.interpolation), share)[0]


def _settling(way: Way, problem: Problem, now: Iterate, share: int) -> tuple[Iterate, bool]:
    """Flow, turbulence and heat in steps, and intermittency after each by itself; and whether all is done."""
    solver = CoupledSolver(problem, further=way.further)
    hold = (*way.hold, share)
    solver.cfl, most_cfl, settled = BOLD, BOLD, _SETTLED
    try:
        for _ in range(_SETTLING_STEPS):
            now = settle_intermittency(now)
            now, _ = solver.step(now, hold)
            most_cfl = min(most_cfl * _GROWTH, _MOST_CFL)
            solver.cfl = float(np.clip(solver.cfl, _LEAST_CFL, most_cfl))
            if way.done(now, way.report(now, solver.krylov)):
                return now, True
            if way.judged(problem, now) < settled:
                ended, finished = way.together(problem, now, AT_ONCE, PATIENCE)
                if finished:
                    return ended, True
                settled *= _NEARER
        return now, False
    finally:
        solver.close()
