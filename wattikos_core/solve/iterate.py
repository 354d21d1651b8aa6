"""A state with everything evaluated at it: properties, residuals, coefficients and norms."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.physics import Evaluation, Problem, evaluate
from wattikos_core.physics.faces import Array
from wattikos_core.physics.properties import Properties, cell_properties, mush_resistance
from wattikos_core.physics.residual import diagonals as coefficients
from wattikos_core.physics.residual import specific_heats
from wattikos_core.physics.storage import Stored, stored, with_storage
from wattikos_core.solve.convergence import Diagonals, Norms, norms
from wattikos_core.solve.state import State


@dataclass
class Iterate:
    """The current state with everything evaluated at it.

    Attributes:
        d: V/a_P, by which velocities are interpolated to faces.
    """

    state: State
    d: Array
    evaluation: Evaluation
    norms: Norms
    diagonals: Diagonals


def carrying(problem: Problem, state: State) -> Problem:
    """The problem with what drives and changes a module by its state; the same where nothing repeats."""
    if problem.module is None:
        return problem
    repeat, module = state.repeat, problem.module
    forces = problem.forces._replace(
        drive=repeat.fall * module.along, ratio=repeat.ratio, jump=repeat.jump, about=module.wall or 0.0
    )
    cells = problem.cells
    if repeat.source:
        cells = cells._replace(source=np.where(cells.material == module.region, cells.source + repeat.source, cells.source))
    return replace(problem, forces=forces, cells=cells)


def evaluate_state(problem: Problem, state: State, d: Array) -> Evaluation:
    """Residuals and face flows of a state with momentum interpolation coefficients `d`."""
    problem = carrying(problem, state)
    evaluation: Evaluation = evaluate(
        problem.faces,
        problem.cells,
        problem.tables,
        problem.forces,
        *state.unknowns,
        d,
        problem.blend,
        problem.passes,
    )
    if problem.storage is None:
        return evaluation
    properties = properties_of(problem, state)
    now = stored(properties, problem.cells.volume, problem.cells.radius, state, problem.table_pressure)
    return with_storage(evaluation, problem.storage, now, properties, problem.cells.radius, state, problem.cells.pin)


def properties_of(problem: Problem, state: State) -> Properties:
    """Properties of every cell at a state."""
    properties: Properties = cell_properties(problem.cells, problem.tables, problem.forces, state.t, state.p)
    return properties


def stored_in(problem: Problem, state: State) -> Stored:
    """What the cells of a state hold."""
    properties = properties_of(problem, state)
    return stored(properties, problem.cells.volume, problem.cells.radius, state, problem.table_pressure)


def interpolation_coefficients(problem: Problem, state: State, flow: Array) -> tuple[Array, Diagonals]:
    """V/a_P, and the diagonals of the balances, at a state.

    Mush holds the fluid: pressure moves less of it through faces too. Inertia over a step in time is part of the diagonals
    but not of V/a_P, so that the answer does not depend on the step; in its place stands convection at the scale of speeds,
    without which a fluid at rest in coarse cells would let pressure push far more through faces than a step can move.
    """
    momentum, energy = coefficients(problem.faces, problem.cells, problem.tables, problem.forces, state.t, flow)
    hindered = momentum
    inertia = held = passing = np.zeros_like(momentum)
    if problem.tables.melts.any():
        hindered = momentum + problem.cells.volume * mush_resistance(problem.cells, problem.tables, problem.forces, state.t)
    if problem.storage is not None:
        properties = properties_of(problem, state)
        passing = properties.density * problem.scales.velocity * _width(problem)
        hindered = hindered + passing
        inertia, _, _, held, _ = storage_diagonal(problem, state, properties)
    d = np.where(problem.cells.fluid == 1, problem.cells.volume / hindered, 0.0)
    return d, Diagonals(momentum + inertia, energy + held, inertia, held, passing)


def _width(problem: Problem) -> Array:
    """A quarter of the area of all faces of each cell, m2: what a square one shows to a flow."""
    faces, n = problem.faces, problem.grid.n_cells
    inner = faces.neighbour >= 0
    whole = np.bincount(faces.owner, faces.area, n) + np.bincount(faces.neighbour[inner], faces.area[inner], n)
    return np.asarray(0.25 * whole)


def look_at(problem: Problem, state: State, d: Array, flow: Array | None = None) -> Iterate:
    """Evaluate a state: first its coefficients from the flow it implies, or one close to it, then its residuals with them."""
    if not d.any():
        d, _ = interpolation_coefficients(problem, state, problem.faces.mass_flow)
    # Where nothing flows there is no flow to look for.
    if flow is None:
        flow = evaluate_state(problem, state, d).flow if problem.cells.fluid.any() else problem.faces.mass_flow
    d, diagonals = interpolation_coefficients(problem, state, flow)
    evaluation = evaluate_state(problem, state, d)
    return Iterate(state, d, evaluation, norms(carrying(problem, state), evaluation, diagonals), diagonals)


def look_at_heat(problem: Problem, state: State, d: Array) -> Iterate:
    """Evaluate a state whose flow is kept to the last digit, its coefficients included."""
    evaluation = evaluate_state(problem, state, d)
    _, diagonals = interpolation_coefficients(problem, state, evaluation.flow)
    return Iterate(state, d, evaluation, norms(carrying(problem, state), evaluation, diagonals), diagonals)


def storage_diagonal(problem: Problem, state: State, properties: Properties) -> tuple[Array, Array, Array, Array, Array]:
    """How what cells store answers to their own unknowns, over the step: for u, v, p, T and the turning."""
    zero = np.zeros(problem.grid.n_cells)
    if problem.storage is None:
        return zero, zero, zero, zero, zero
    mass = properties.density * problem.cells.volume / problem.storage.interval
    heat = mass * specific_heats(problem.cells, problem.tables, state.t)
    return mass, mass, zero, heat, mass * problem.cells.radius**2
