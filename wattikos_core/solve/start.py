"""States to begin from: at rest or as streams enter, and former ones carried over to the grid of a changed case."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from wattikos_core.grid import Grid, transfer
from wattikos_core.physics import Problem, State, Unknowns, properties_of
from wattikos_core.physics.faces import AS_IT_COMES, INLET, OUTLET, Array
from wattikos_core.physics.turbulence.beginning import first_turbulence
from wattikos_core.physics.turbulence.constants import INTERMITTENCY
from wattikos_core.solve.blown_start import blown_flow
from wattikos_core.solve.turbulence import among_scalars, turbulence_columns

# k and g that are no more than these shares of a first guess are errors of carrying over.
_LEAST_TURBULENCE = (0.0, 0.2)
# A state whose pressure is off its outlets' by less than this share of its range has their level.
_LEVEL = 0.05
# A flow is scaled to what enters where that differs by this factor or more: beside an inlet cells differ a little from it anyhow.
_ALIKE, _MOST_SCALED = 1.1, 10.0


def start_from(
    problem: Problem, grid: Grid, state: State, interpolation: Array, unknowns: Unknowns | None = None
) -> tuple[State, Array]:
    """A former state carried over to the grid of a changed problem; regions that are new start at rest.

    Args:
        problem: the discrete problem.
        grid: cells and faces.
        state: cell values of all unknowns.
        interpolation: V/a_P of momentum interpolation, m3 s/kg, shape (n_cells,).
        unknowns: of the former state; those of the problem when None.

    Returns:
        the state, and its coefficients of momentum interpolation.
    """
    own, former = problem.unknowns, unknowns or problem.unknowns
    fluid = problem.cells.fluid == 1
    carried = transfer(np.column_stack([state.columns(former), interpolation]), grid, problem.grid)
    found, coefficients = _as_unknowns(carried[:, :-1], former, own), carried[:, -1].copy()
    new = np.isnan(carried).any(axis=1)
    found[new], coefficients[new] = initial_state(problem).columns(own)[new], 0.0
    if problem.turbulent.any():
        _mend_turbulence(problem, found)
    found[np.ix_(~fluid, own.of_fluids)] = 0.0
    return levelled(problem, State.of(found, own, state.periodicity)), coefficients


def at_given_flows(problem: Problem, state: State) -> State:
    """A former state with its streams as fast as they enter now: the flow of another speed is alike, and balanced, if scaled.

    Bodies of fluid whose inlets bring about what they brought are left as they are.
    """
    faces = problem.faces
    inlets = np.nonzero(faces.kind == INLET)[0]
    cells, body = faces.owner[inlets], problem.body[faces.owner[inlets]]
    inwards = -faces.normal[inlets] * faces.area[inlets, None]
    velocity, pressure = state.velocity.copy(), state.pressure.copy()
    for one in np.unique(body):
        mine, all_of_it = body == one, problem.body == one
        now = float((problem.given.velocity[inlets[mine]] * inwards[mine]).sum())
        before = float((state.velocity[cells[mine]] * inwards[mine]).sum())
        if not before > 0.0 or not _MOST_SCALED > now / before > 1.0 / _MOST_SCALED or abs(np.log(now / before)) < np.log(_ALIKE):
            continue
        velocity[all_of_it] *= now / before
        level = float(pressure[all_of_it].min())
        pressure[all_of_it] = level + (pressure[all_of_it] - level) * now / before
    return replace(state, velocity=velocity, pressure=pressure)


def _mend_turbulence(problem: Problem, found: Array) -> None:
    """k and g that carrying over has brought below any sense, or that the former flow did not have: as they begin without it."""
    first = first_turbulence(problem)
    for i, column in enumerate(turbulence_columns(problem)):
        lost = (problem.turbulent == 1) & ~(found[:, column] > _LEAST_TURBULENCE[i] * first[:, i])
        found[lost, column] = first[lost, i]
        found[problem.turbulent == 0, column] = first[problem.turbulent == 0, i]
    if INTERMITTENCY in problem.unknowns.scalars:
        column = problem.unknowns.transported[problem.unknowns.scalars.index(INTERMITTENCY)]
        found[(problem.turbulent == 0) | ~(found[:, column] > 0.0), column] = 1.0


def _as_unknowns(columns: Array, former: Unknowns, own: Unknowns) -> Array:
    """Values of other unknowns; what they do not have is zero."""
    found = np.zeros((len(columns), own.size))
    shared = own.dimensions + 2
    found[:, :shared] = columns[:, :shared]
    if own.swirl and former.swirl:
        found[:, own.angular_velocity] = columns[:, former.angular_velocity]
    for column, name in zip(own.transported, own.scalars, strict=True):
        if name in former.scalars:
            found[:, column] = columns[:, former.transported[former.scalars.index(name)]]
    return found


def initial_state(problem: Problem) -> State:
    """Streams move and are as warm as they enter, at their outlets' pressure, or as fans drive them (see `blown_start`).

    The rest is still, at the mean temperature given.

    A start at rest would give interior cells coefficients without any convection beside inlet cells full of it, and the
    momentum interpolation between them would carry most of the flow the wrong way.
    """
    middle = 0.5 * (problem.scales.lowest + problem.scales.highest)
    temperature = stretched(problem, np.full(problem.grid.n_cells, middle))
    velocity = np.zeros((problem.grid.n_cells, problem.grid.dimensions))
    inlets = np.nonzero(problem.faces.kind == INLET)[0]
    entered = problem.body[problem.faces.owner[inlets]]
    module = problem.module
    if module is not None:
        streaming = problem.body == problem.body[problem.faces.owner[module.faces[0]]]
        velocity[streaming] = problem.scales.velocity[streaming][:, None] * module.along
        temperature[streaming] = module.temperature
    for body in np.unique(entered):
        mine, entrance = problem.body == body, inlets[entered == body]
        table = problem.materials[problem.grid.region[problem.faces.owner[entrance[0]]]]
        temperature[mine] = float(table.stretched(problem.given.temperature[entrance].mean()))
        velocity[mine] = np.average(problem.given.velocity[entrance], axis=0, weights=problem.faces.area[entrance])
    # What a pressure drives in is as warm as it enters: begun cold and viscous, it might never come.
    driven = np.nonzero((problem.faces.kind == OUTLET) & (problem.given.fed != AS_IT_COMES))[0]
    bodies = problem.body[problem.faces.owner[driven]]
    for body in np.unique(bodies[~problem.fed[bodies]]):
        mine, entrance = problem.body == body, driven[bodies == body]
        table = problem.materials[problem.grid.region[problem.faces.owner[entrance[0]]]]
        temperature[mine] = float(table.stretched(problem.given.temperature[entrance].mean()))
    state = replace(State.at_rest(problem.grid.n_cells, problem.unknowns, temperature), velocity=velocity)
    if problem.fans and problem.has_flow:
        state = replace(state, velocity=velocity + blown_flow(problem, properties_of(problem, state)))
    if problem.turbulent.any():
        scalars = state.scalars.copy()
        scalars[:, among_scalars(problem)] = np.where((problem.cells.fluid == 1)[:, None], first_turbulence(problem), 0.0)
        if INTERMITTENCY in problem.unknowns.scalars:
            scalars[:, problem.unknowns.scalars.index(INTERMITTENCY)] = problem.cells.fluid
        state = replace(state, scalars=scalars)
    return levelled(problem, state)


def stretched(problem: Problem, temperature: Array) -> Array:
    """Temperatures (K) of cells as the unknown that the solvers work on: stretched in materials that melt."""
    result = temperature.copy()
    for index, table in enumerate(problem.materials):
        if table.melting is not None:
            mine = problem.grid.region == index
            result[mine] = table.stretched(temperature[mine])
    return result


def levelled(problem: Problem, state: State) -> State:
    """The state with each body of fluid raised to the pressure of its outlets.

    A start at another level would be a pressure step at the outlet, and a jet through it.
    """
    faces = problem.faces
    pressure = state.pressure.copy()
    outlets = np.nonzero(faces.kind == OUTLET)[0]
    cells = faces.owner[outlets]
    for body in np.unique(problem.body[cells]):
        mine, all_of_it = problem.body[cells] == body, problem.body == body
        step = float((problem.given.pressure[outlets[mine]] - state.pressure[cells[mine]]).mean())
        # The pressure of outlet cells is slightly above that of the outlet in any case: a state at this level is left as it is.
        if abs(step) > _LEVEL * float(np.ptp(state.pressure[all_of_it])):
            pressure[all_of_it] += step
    return replace(state, pressure=pressure)
