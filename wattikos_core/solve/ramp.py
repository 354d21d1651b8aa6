"""Raising the flow step by step: a separated flow that cannot be found from nothing is found from a slower one.

Natural continuation in the speed of all inlets and moving walls, and in the pressures that drive streams, those of fans among
them: each solution, scaled, starts the next.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from wattikos_core.physics import Problem, State
from wattikos_core.physics.faces import AS_IT_COMES, OUTLET, Array
from wattikos_core.physics.terms.fans import FanForce
from wattikos_core.solve.coupled import FLOW_IS_THERE, UNLIMITED, CoupledSolver, Report
from wattikos_core.solve.iterate import Iterate, look_at
from wattikos_core.solve.start import initial_state

_FIRST_SHARE, _LOWEST_SHARE = 0.2, 0.002
_FIRST_FACTOR, _SMALLEST_FACTOR, _LARGEST_FACTOR = 1.5, 1.06, 2.0
_MOST_STEPS = 10
_QUICK = 4
# The flow a run in time begins with: steps it may take, and when it is there.
_MOST_ESTABLISHING, _ESTABLISHED = 40, 1e-9


def with_share(problem: Problem, share: float) -> Problem:
    """The problem with all that drives its flow times `share`."""
    given = problem.given._replace(
        velocity=share * problem.given.velocity,
        mass_flow=share * problem.given.mass_flow,
        angular_velocity=share * problem.given.angular_velocity,
        pressure=_pressure_with_share(problem, share),
    )
    given_scales = problem.scales
    scales = replace(
        given_scales,
        velocity=share * given_scales.velocity,
        mass=np.where(problem.driven, share * given_scales.mass, given_scales.mass),
        capacity=share * given_scales.capacity,
    )
    terms = tuple(term.with_share(_steeper(share)) if isinstance(term, FanForce) else term for term in problem.terms)
    return replace(problem, given=given, scales=scales, terms=terms)


def _pressure_with_share(problem: Problem, share: float) -> Array:
    """Pressures given on faces when those that drive streams are nearer to their outlets', Pa: as a flow of that share needs it."""
    given, faces = problem.given, problem.faces
    pressure = given.pressure.copy()
    ends = faces.kind == OUTLET
    drives = ends & (given.fed != AS_IT_COMES)
    for body in np.unique(problem.body[faces.owner[drives]]):
        mine = problem.body[faces.owner] == body
        leaves = mine & ends & ~drives
        if leaves.any():
            level = float(pressure[leaves].mean())
            pressure[mine & drives] = level + _steeper(share) * (pressure[mine & drives] - level)
    return pressure


def _steeper(share: float) -> float:
    """Share of a pressure that drives a share of a flow: between linearly and as the square."""
    return float(share**1.5)


def established_flow(problem: Problem, temperature: Array) -> tuple[State, Array]:
    """The steady flow of a problem at temperatures that stay as they are, with its interpolation coefficients.

    Where streams enter by their mass flow or velocity, this is how a run in time begins: with the pumps running.
    """
    start = replace(initial_state(problem), stretched=temperature)
    now = look_at(problem, start, np.zeros(problem.grid.n_cells))
    solver = CoupledSolver(problem)
    try:
        for _ in range(_MOST_ESTABLISHING):
            now, accepted = solver.step(now, (problem.unknowns.temperature, *problem.unknowns.transported))
            if now.norms.flow < _ESTABLISHED or not accepted:
                break
    finally:
        solver.close()
    if now.norms.flow >= FLOW_IS_THERE:
        raised, _ = raise_flow(problem, lambda iterate, krylov: False, _MOST_ESTABLISHING)
        now = raised or now
    return replace(now.state, stretched=temperature), now.interpolation


def raise_flow(problem: Problem, report: Report, steps: int) -> tuple[Iterate | None, int]:
    """The flow of a problem at the temperatures of entry, found from slower ones.

    Args:
        problem: the discrete problem.
        report: called after every step.
        steps: how many may be taken.

    Returns:
        the iterate, None when even slow flows cannot be found, and the steps taken.
    """
    share, factor = _FIRST_SHARE, _FIRST_FACTOR
    found: Iterate | None = None
    at = 0.0
    taken = 0
    while taken < steps:
        trial = with_share(problem, share)
        if found is None:
            plain = initial_state(trial)
            begin, interpolation, cfl = plain, np.zeros(problem.grid.n_cells), 1e3
        else:
            up = share / at
            begin, interpolation, cfl = (
                _faster(found.state, up),
                found.interpolation,
                UNLIMITED,
            )
        now, used = _flow_at(trial, begin, interpolation, cfl, report)
        taken += used
        if now.norms.flow < FLOW_IS_THERE:
            found, at = now, share
            if share == 1.0:
                return look_at(problem, now.state, now.interpolation), taken
            if used <= _QUICK:
                factor = min(factor * 1.2, _LARGEST_FACTOR)
            share = min(1.0, at * factor)
        elif found is None:
            share /= 4.0
            if share < _LOWEST_SHARE:
                return None, taken
        else:
            factor = factor**0.5
            if factor < _SMALLEST_FACTOR:
                return None, taken
            share = at * factor
    return None, taken


def _faster(state: State, share: float) -> State:
    """A state whose flow is faster by a share."""
    return replace(
        state,
        velocity=share * state.velocity,
        pressure=_steeper(share) * state.pressure,
        angular_velocity=share * state.angular_velocity,
    )


def _flow_at(problem: Problem, start: State, interpolation: Array, cfl: float, report: Report) -> tuple[Iterate, int]:
    solver = CoupledSolver(problem)
    solver.cfl = cfl
    now = look_at(problem, start, interpolation)
    try:
        for step in range(1, _MOST_STEPS + 1):
            now, accepted = solver.step(now, (problem.unknowns.temperature, *problem.unknowns.transported))
            report(now, solver.krylov)
            if now.norms.flow < FLOW_IS_THERE or not accepted or now.norms.flow > 1e2:
                return now, step
        return now, _MOST_STEPS
    finally:
        solver.close()
