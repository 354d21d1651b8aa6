"""The first steps of a turbulent flow from scratch: flow and turbulence by turns, each as the other leaves it.

Begun together, momentum that has not come about yet would stir up turbulence that holds it back for ever.
"""

from __future__ import annotations

from collections.abc import Sequence

from wattikos_core.physics import Problem
from wattikos_core.solve.coupled import UNLIMITED, CoupledSolver, Report
from wattikos_core.solve.iterate import Iterate
from wattikos_core.solve.nonlocal_unknowns import NonlocalUnknown
from wattikos_core.solve.turbulence import turbulence_columns

_ROUNDS, _FLOW_STEPS, _TURBULENCE_STEPS = 2, 6, 4
_TURBULENCE_CFL = 100.0
# By then one has come far enough for the other.
_ENOUGH = 1e-3


def calm_turbulence(problem: Problem, now: Iterate, report: Report, further: Sequence[type[NonlocalUnknown]] = ()) -> Iterate:
    """An iterate from which flow and turbulence can be solved together; temperatures stay as they are.

    Args:
        problem: the discrete problem.
        now: the iterate to begin with.
        report: called after every step.
        further: non-local unknowns of the flow.
    """
    unknowns = problem.unknowns
    of_turbulence = turbulence_columns(problem)
    of_flow = [c for c in range(unknowns.size) if c not in (unknowns.temperature, *unknowns.transported)]
    flow, turbulence = CoupledSolver(problem, of_flow, further), CoupledSolver(problem, of_turbulence)
    try:
        for _ in range(_ROUNDS):
            for solver, steps, cfl in ((flow, _FLOW_STEPS, UNLIMITED), (turbulence, _TURBULENCE_STEPS, _TURBULENCE_CFL)):
                solver.cfl, solver.best = cfl, float("inf")
                for _ in range(steps):
                    now, _ = solver.step(now)
                    if report(now, solver.krylov):
                        return now
                    if (now.norms.flow if solver is flow else now.norms.scalars) < _ENOUGH:
                        break
        return now
    finally:
        flow.close()
        turbulence.close()
