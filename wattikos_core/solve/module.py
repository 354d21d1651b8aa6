"""The developed flow and heat of a module that repeats: first its flow, then, since properties are constant, heat alone."""

from __future__ import annotations

from dataclasses import replace

from wattikos_core.physics import Problem
from wattikos_core.physics.faces import Array
from wattikos_core.solve.coupled import FIRST_CFL, UNLIMITED, CoupledSolver, Iterate, Report, look_at, look_at_heat
from wattikos_core.solve.state import State

_MOST_REJECTED = 3
# A start whose residuals are below this is near its answer: no pseudo-time.
_NEAR = 0.05
# The flow is found this much further than is asked, so that heat need not go back to it.
_FURTHER = 0.1


def run_module(problem: Problem, start: State, d: Array, most_steps: int, tolerance: float, report: Report) -> Iterate:
    """Solve a module that repeats; see `run_coupled` for `report`."""
    module = problem.module
    assert module is not None
    if module.gradient is not None:
        start = replace(start, repeat=(module.gradient, *start.repeat[1:]))
    ratio, jump = start.repeat[1:]
    start = replace(start, repeat=(start.repeat[0], *((1.0, jump) if module.wall is None else (ratio, 0.0))))
    now = look_at(problem, start, d)
    if problem.cells.fluid.any():
        now = _run_flow(problem, now, most_steps, _FURTHER * tolerance, report)
    solver = CoupledSolver(problem, heat_only=True)
    solver.cfl = UNLIMITED
    now = look_at_heat(problem, now.state, now.d)
    rejected = 0
    try:
        for _ in range(most_steps):
            now, accepted = solver.step(now)
            rejected = 0 if accepted else rejected + 1
            if report(now, solver.krylov) or rejected > _MOST_REJECTED:
                break
        return now
    finally:
        solver.close()


def _run_flow(problem: Problem, first: Iterate, most_steps: int, tolerance: float, report: Report) -> Iterate:
    """The flow alone, temperatures as they are: boldly, and again from the start more carefully when that fails."""
    solver = CoupledSolver(problem)
    now, steps = first, 0
    try:
        for cfl in FIRST_CFL:
            now, rejected = first, 0
            solver.cfl = UNLIMITED if first.norms.flow < _NEAR and cfl == FIRST_CFL[0] else cfl
            while steps < most_steps and rejected <= _MOST_REJECTED:
                now, accepted = solver.step(now, hold_heat=True)
                rejected = 0 if accepted else rejected + 1
                steps += 1
                report(now, solver.krylov)
                if now.norms.flow <= tolerance:
                    return now
        return now
    finally:
        solver.close()
