"""From scratch, or from a former solution, to a laminar flow with its heat, by the coupled method."""

from __future__ import annotations

import numpy as np

from wattikos_core.physics import Problem, State
from wattikos_core.physics.faces import Array
from wattikos_core.solve.coupled import FIRST_CFL, FLOW_IS_THERE, UNLIMITED, CoupledSolver, Report
from wattikos_core.solve.iterate import Iterate, look_at
from wattikos_core.solve.marching import FROM_COARSER, FROM_REST, march
from wattikos_core.solve.ramp import raise_flow

# First pseudo-time steps of buoyant flows, which start from rest.
_FIRST_CFL_OF_WEIGHT = (10.0, 2.0)
# A start whose residuals are below this is near its answer: no pseudo-time.
_NEAR = 0.05
_MOST_REJECTED = 3
# A start from scratch finds its flow at the temperatures streams enter with, before heat joins in: a temperature field
# solved with half a flow would lead viscosity astray.
_FLOW_FIRST_STEPS = 8
# Steps of raising the flow rate gradually, and of those that go as time does; they do not count among the steps asked for.
_MOST_RAISING, _MARCHING = 120, 400


def run_laminar(
    problem: Problem, start: State, interpolation: Array, most_steps: int, report: Report, *, from_scratch: bool = False
) -> Iterate:
    """Step until `report` says that it is enough, or `most_steps` are done.

    Args:
        problem: the discrete problem.
        start: the state to begin with.
        interpolation: V/a_P of momentum interpolation, m3 s/kg, shape (n_cells,).
        most_steps: steps it may take.
        report: called after every step with the iterate and the Krylov iterations it took; True ends the run.
        from_scratch: the start is no former solution; its flow is found before heat joins in.
    """
    first = look_at(problem, start, interpolation)
    now = first
    steps = 0
    heavy = problem.physics.heavy
    solver = CoupledSolver(problem)
    try:
        # In buoyant flow the residuals at rest are small, however far the solution is.
        near = solver.conduction or (first.norms.pace < _NEAR and not (heavy and from_scratch))
        driven = bool(problem.driven.any())
        cfls = _FIRST_CFL_OF_WEIGHT if heavy and not driven else FIRST_CFL
        if near or not (from_scratch or heavy):
            # A former solution, or that of a coarser grid, needs no pseudo-time, unless it fails without.
            cfls = (UNLIMITED, *cfls)
        for cfl in cfls:
            now = first
            solver.cfl = cfl
            solver.best = np.inf
            rejected = 0
            hold = (problem.unknowns.temperature, *problem.unknowns.transported)
            for _ in range(_FLOW_FIRST_STEPS if from_scratch and driven else 0):
                if steps >= most_steps or rejected > _MOST_REJECTED:
                    break
                now, accepted = solver.step(now, hold)
                rejected = 0 if accepted else rejected + 1
                steps += 1
                if report(now, solver.krylov):
                    return now
                if now.norms.flow < FLOW_IS_THERE:
                    break
            if from_scratch and driven and now.norms.flow >= FLOW_IS_THERE and cfl == FIRST_CFL[0]:
                # A flow that does not converge from rest is approached by slower ones.
                raised, taken = raise_flow(problem, report, _MOST_RAISING)
                steps = max(steps + taken - _MOST_RAISING, 0)
                now = raised or first
            solver.best, rejected = np.inf, 0
            while steps < most_steps and rejected <= _MOST_REJECTED:
                now, accepted = solver.step(now)
                rejected = 0 if accepted else rejected + 1
                steps += 1
                if report(now, solver.krylov):
                    return now
    finally:
        solver.close()
    if heavy and not solver.conduction:
        now, _ = march(problem, first, FROM_REST if from_scratch else FROM_COARSER, _MARCHING, report)
    return now
