"""A state with everything evaluated at it: residuals, coefficients and norms."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wattikos_core.physics import Evaluation, Point, Problem, State, coefficients_of, evaluate, flow_of, point_of
from wattikos_core.physics.faces import Array
from wattikos_core.physics.terms.storage import storage_diagonal, stored
from wattikos_core.physics.turbulence.closure import Turbulence
from wattikos_core.solve.convergence import Diagonals, Norms, norms


@dataclass
class Iterate:
    """The current state with everything evaluated at it.

    Attributes:
        interpolation: V/a_P of momentum interpolation, m3 s/kg, shape (n_cells,).
    """

    state: State
    interpolation: Array
    point: Point
    evaluation: Evaluation
    norms: Norms
    diagonals: Diagonals


def evaluate_state(problem: Problem, state: State, interpolation: Array, frozen: Turbulence | None = None) -> Evaluation:
    """Residuals and face flows of a state with coefficients of momentum interpolation; see `point_of` for `frozen`."""
    return evaluate(point_of(problem, state, frozen), interpolation)


def stored_in(problem: Problem, state: State) -> Array:
    """What the cells of a state hold; see `terms.storage.stored`."""
    return stored(point_of(problem, state))


def interpolation_coefficients(point: Point, flow: Array) -> tuple[Array, Diagonals]:
    """V/a_P, and the diagonals of the balances, at a point.

    Mush holds the fluid: pressure moves less of it through faces too. Inertia over a step in time is part of the diagonals
    but not of V/a_P, so that the answer does not depend on the step; in its place stands convection at the scale of speeds,
    without which a fluid at rest in coarse cells would let pressure push far more through faces than a step can move.
    """
    problem = point.problem
    coefficients = coefficients_of(point, flow)
    hindered = coefficients.momentum + coefficients.sink
    inertia = held = passing = np.zeros_like(hindered)
    if problem.storage is not None:
        passing = point.properties.density * problem.scales.velocity * _width(problem)
        hindered = hindered + passing
        over_step = storage_diagonal(point, problem.storage.interval)
        inertia, held = over_step[:, problem.unknowns.velocity[0]], over_step[:, problem.unknowns.temperature]
    interpolation = np.where(problem.cells.fluid == 1, problem.cells.volume / hindered, 0.0)
    return interpolation, Diagonals(coefficients.momentum + inertia, coefficients.energy + held, inertia, held, passing)


def _width(problem: Problem) -> Array:
    """A quarter of the area of all faces of each cell, m2: what a square one shows to a flow."""
    faces, n = problem.faces, problem.grid.n_cells
    inner = faces.neighbour >= 0
    whole = np.bincount(faces.owner, faces.area, n) + np.bincount(faces.neighbour[inner], faces.area[inner], n)
    return np.asarray(0.25 * whole)


def look_at(
    problem: Problem, state: State, interpolation: Array, flow: Array | None = None, frozen: Turbulence | None = None
) -> Iterate:
    """Evaluate a state: first its coefficients from the flow it implies, or one close to it, then its residuals with them.

    See `point_of` for `frozen`.
    """
    point = point_of(problem, state, frozen)
    if not interpolation.any():
        interpolation, _ = interpolation_coefficients(point, problem.given.mass_flow)
    # Without any moving fluid only heat is solved.
    if flow is None:
        flow = flow_of(point, interpolation) if problem.has_flow else problem.given.mass_flow
    interpolation, diagonals = interpolation_coefficients(point, flow)
    evaluation = evaluate(point, interpolation)
    return Iterate(state, interpolation, point, evaluation, norms(problem, state, evaluation, diagonals), diagonals)


def look_at_heat(problem: Problem, state: State, interpolation: Array) -> Iterate:
    """Evaluate a state whose flow is kept to the last digit, its coefficients included."""
    point = point_of(problem, state)
    evaluation = evaluate(point, interpolation)
    _, diagonals = interpolation_coefficients(point, evaluation.flow)
    return Iterate(state, interpolation, point, evaluation, norms(problem, state, evaluation, diagonals), diagonals)
