"""The developed flow and heat of a module that repeats: first its flow, then, since properties are constant, heat alone.

With a wall temperature the ratio by which differences from it shrink is an eigenvalue; the one wanted is the largest below
one, whose temperatures all lie on one side of the wall's. It is approached from one, where a source in the stream stands in
for what a right ratio would bring along: each time the source says how much heat the stream would have to give beside.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from wattikos_core.errors import SolveError
from wattikos_core.physics import Periodicity, Problem, State
from wattikos_core.physics.faces import Array
from wattikos_core.solve.coupled import FIRST_CFL, UNLIMITED, CoupledSolver, Report, judged_of, run_heat
from wattikos_core.solve.iterate import Iterate, look_at, look_at_heat
from wattikos_core.solve.nonlocal_unknowns import GrowthUpstream, PressureGradient, RiseOfTemperature, SourceInStream
from wattikos_core.solve.turbulent_start import Way
from wattikos_core.solve.turning_start import run_turbulent

_MOST_REJECTED = 3
# A start whose residuals are below this is near its answer: no pseudo-time.
_NEAR = 0.05
# The flow is converged further than asked by this factor, so that it need not be solved again after heat, which can balance in it.
_FURTHER = 0.03
# The ratio has converged when the source left over is below this share of the enthalpy flow and of the heat.
_SOURCE_SHARE = 0.01
# Logarithm of the most a ratio changes at once.
_FARTHEST = 3.0
_MOST_APPROACHES = 12
# Below this ratio the difference left at the downstream end is round-off.
_LEAST_RATIO = 1e-6
_APPROACH_STEPS = 4
_APPROACH_NORM = 1e-8


def run_module(
    problem: Problem, start: State, interpolation: Array, most_steps: int, tolerance: float, report: Report, *, from_scratch: bool
) -> Iterate:
    """Solve a module that repeats; see `run_laminar` for `report` and `from_scratch`."""
    module = problem.module
    assert module is not None
    former = start.periodicity
    gradient = module.gradient if module.gradient is not None else former.pressure_gradient
    periodicity = Periodicity(gradient, rise=former.rise) if module.wall is None else Periodicity(gradient, former.ratio)
    now = look_at(problem, replace(start, periodicity=periodicity), interpolation)
    if problem.cells.fluid.any():
        now = _run_flow(problem, now, most_steps, _FURTHER * tolerance, report, from_scratch)
    now = look_at_heat(problem, now.state, now.interpolation)
    if module.wall is not None and periodicity.ratio == 1.0:
        now = _approach_ratio(problem, now)
    further = RiseOfTemperature if module.wall is None else GrowthUpstream
    return run_heat(problem, now.state, now.interpolation, most_steps, report, (further,))


def _run_flow(problem: Problem, first: Iterate, most_steps: int, tolerance: float, report: Report, from_scratch: bool) -> Iterate:
    """The flow alone, temperatures as they are: boldly, and again from the start more carefully when that fails."""
    assert problem.module is not None
    further = (PressureGradient,) if problem.module.mass_flow is not None else ()
    solver = CoupledSolver(problem, further=further)
    now, steps, hold = first, 0, problem.unknowns.heat
    try:
        if problem.turbulent.any():

            def done(now: Iterate, _: bool) -> bool:
                return judged_of(problem, now.norms, hold) <= tolerance

            return run_turbulent(Way(report, done, further, hold), problem, first, most_steps, from_scratch=from_scratch)
        for cfl in FIRST_CFL:
            now, rejected = first, 0
            solver.cfl = UNLIMITED if judged_of(problem, first.norms, hold) < _NEAR and cfl == FIRST_CFL[0] else cfl
            while steps < most_steps and rejected <= _MOST_REJECTED:
                now, accepted = solver.step(now, hold)
                rejected = 0 if accepted else rejected + 1
                steps += 1
                report(now, solver.krylov)
                if judged_of(problem, now.norms, hold) <= tolerance:
                    return now
        return now
    finally:
        solver.close()


def _approach_ratio(problem: Problem, now: Iterate) -> Iterate:
    """A state near the one wanted, and its ratio."""
    module = problem.module
    assert module is not None
    assert module.wall is not None
    flow = float(now.evaluation.flow[module.faces].sum())
    capacity = abs(flow) * float(problem.materials[module.region].specific_heat(module.temperature))
    volume = float(problem.grid.volume[problem.grid.region == module.region].sum())
    difference = module.temperature - module.wall
    solver = CoupledSolver(problem, problem.unknowns.heat, (SourceInStream,))
    before: tuple[float, float] | None = None
    try:
        for _ in range(_MOST_APPROACHES):
            solver.cfl, solver.best = UNLIMITED, np.inf
            solver.forget_factors()
            for _ in range(_APPROACH_STEPS):
                now, _ = solver.step(now)
                if now.norms.energy < _APPROACH_NORM:
                    break
            periodicity = now.state.periodicity
            wanting = periodicity.source * volume / (capacity * difference)
            brought = 1.0 - periodicity.ratio
            if abs(wanting) < _SOURCE_SHARE * min(periodicity.ratio, brought):
                break
            # The stream's mean difference is a logarithmic one of those at both ends.
            mean = brought / -np.log(periodicity.ratio) if brought > 1e-9 else 1.0
            ratio = periodicity.ratio * float(np.exp(-np.clip(wanting / mean, -_FARTHEST, _FARTHEST)))
            if before is not None and before[1] != wanting:
                # The source is nearly linear in the ratio: secant steps converge.
                straight = periodicity.ratio - wanting * (before[0] - periodicity.ratio) / (before[1] - wanting)
                ratio = max(straight, periodicity.ratio * float(np.exp(-_FARTHEST)))
            if ratio < _LEAST_RATIO:
                raise SolveError(
                    "the stream all but reaches the walls' temperature within one module: there is nothing left that could repeat",
                    "cut a shorter module, let more flow through it, or solve a length with an inlet",
                )
            before = (periodicity.ratio, wanting)
            now = look_at_heat(problem, replace(now.state, periodicity=replace(periodicity, ratio=ratio)), now.interpolation)
        return look_at_heat(problem, replace(now.state, periodicity=replace(now.state.periodicity, source=0.0)), now.interpolation)
    finally:
        solver.close()
