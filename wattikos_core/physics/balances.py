"""The balances of a problem at a state: residuals, the compact Jacobian and coefficients, each the sum over the problem's terms."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor

import numpy as np

from wattikos_core.physics.faces import Array
from wattikos_core.physics.gradients import (
    Gradients,
    angular_gradients,
    pressure_gradients,
    scalar_gradients,
    temperature_gradients,
    velocity_gradients,
)
from wattikos_core.physics.net_radiation import radiated
from wattikos_core.physics.problem import Problem
from wattikos_core.physics.properties import Properties, cell_properties
from wattikos_core.physics.state import State
from wattikos_core.physics.surfaces import NextModule, no_radiation, outlet_heads
from wattikos_core.physics.terms import Blocks, Coefficients, Conducted, Evaluation, Point, Term
from wattikos_core.physics.turbulence.at_state import turbulence_at, with_turbulence
from wattikos_core.physics.turbulence.closure import LAMINAR, Turbulence
from wattikos_core.physics.unknowns import MATRIX

_NONE = np.zeros(0)
# From so many cells on a second thread is worth its while; it takes some 50 microseconds to be told.
_WORTH_A_THREAD = 12_000
_SECOND = ThreadPoolExecutor(max_workers=1, thread_name_prefix="balances")


def properties_of(problem: Problem, state: State) -> Properties:
    """Properties of every cell at a state."""
    properties: Properties = cell_properties(
        problem.cells, problem.tables, problem.gases, problem.physics.heavy, state.stretched, state.pressure
    )
    return properties


def point_of(problem: Problem, state: State, frozen: Turbulence | None = None) -> Point:
    """A state with what its balances have in common; turbulence may be that of another one, `frozen`.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.grid import grid_section
        >>> from wattikos_core.physics import State, problem_of
        >>> from wattikos_core.section import paint
        >>> resolved = resolve(starter_case("feed_line"))
        >>> problem = problem_of(resolved, grid_section(resolved, paint(resolved), 0.5))
        >>> n = problem.grid.n_cells
        >>> point = point_of(problem, State.at_rest(n, problem.unknowns, np.full(n, 300.0)))
        >>> evaluate(point, np.zeros(n)).residual.shape == (n, problem.unknowns.size)
        True
    """
    properties = properties_of(problem, state)
    faces, given, weights = problem.faces, problem.given, problem.flow_weights
    force = np.zeros_like(state.velocity)
    for term in problem.terms:
        term.add_force(state, properties, problem.cells, force)
    swirl = problem.unknowns.swirl
    heads = outlet_heads(faces, given, properties.density, state.angular_velocity) if swirl else _NONE
    change = NextModule()
    if problem.module is not None:
        change = NextModule(state.periodicity.ratio, state.periodicity.rise, problem.module.wall or 0.0)
    n, d = state.velocity.shape
    velocity, pressure, temperature = np.zeros((n, d, d)), np.zeros((n, d)), np.zeros((n, 1, d))
    angular, scalars = np.zeros((n, 1, d)), np.zeros((n, len(problem.unknowns.scalars), d))

    def of_flow() -> None:
        if not problem.has_flow:
            return
        velocity_gradients(faces, given, weights, properties.filling, state.velocity, velocity)
        pressure_gradients(faces, given, weights, properties.density, state.velocity, state.pressure, force, heads, pressure)
        if swirl:
            angular_gradients(faces, given, weights, state.angular_velocity, angular)
        if problem.unknowns.scalars:
            scalar_gradients(faces, weights, state.scalars, problem.entering, problem.vanishing, scalars)

    two = MATRIX in problem.unknowns.scalars
    conducted = Conducted(properties.temperature, temperature)
    if two:
        excess = state.scalars[:, problem.unknowns.scalars.index(MATRIX)]
        warmed = properties.temperature + problem.matrix_share(properties) * excess
        conducted = Conducted(warmed, np.zeros((n, 1, d)))
    turbulence, heat_weights, radiation = LAMINAR, problem.heat_weights, no_radiation()

    def of_heat() -> None:
        nonlocal radiation
        for _ in range(problem.passes if problem.cavities else 1):
            if problem.cavities:
                radiation = radiated(
                    problem.cavities,
                    faces,
                    given,
                    heat_weights,
                    properties.temperature,
                    properties.conductivity,
                    temperature,
                    state.periodicity.rise,
                )
            temperature[:] = 0.0
            temperature_gradients(faces, given, heat_weights, change, properties, radiation.flux, problem.passes, temperature)
        if two:
            both = properties._replace(temperature=conducted.temperature)
            temperature_gradients(faces, given, heat_weights, change, both, radiation.flux, problem.passes, conducted.gradient)

    gradients = Gradients(velocity, pressure, temperature, angular, scalars)
    if problem.physics.turbulence is None or not problem.has_flow:
        _side_by_side(n, of_flow, of_heat)
    else:
        # Turbulence answers to the gradients of the flow, and conduction to turbulence.
        of_flow()
        turbulence = turbulence_at(problem, state, properties, gradients) if frozen is None else frozen
        heat_weights = with_turbulence(faces, heat_weights, properties.conductivity, turbulence)
        of_heat()
    return Point(problem, state, properties, force, heads, gradients, change, turbulence, heat_weights, radiation, conducted)


def evaluate(point: Point, interpolation: Array) -> Evaluation:
    """All residuals of a point, and what passes faces.

    Args:
        point: the state with what its balances have in common.
        interpolation: V/a_P of momentum interpolation, m3 s/kg, shape (n_cells,).
    """
    problem = point.problem
    out = Evaluation.empty(problem.unknowns, point.properties.temperature, problem.grid.n_faces)

    def add(terms: Iterable[Term]) -> None:
        for term in terms:
            term.add_residual(point, interpolation, out)

    first, rest = problem.terms[:1], problem.terms[1:]
    if problem.has_flow:
        # Mass flow through faces, needed by all convection terms.
        add(first)
    else:
        rest = problem.terms
    _side_by_side(
        problem.grid.n_cells, lambda: add(t for t in rest if not t.of_energy), lambda: add(t for t in rest if t.of_energy)
    )
    if problem.storage is not None:
        problem.storage.add_residual(point, interpolation, out)
    return out


def _side_by_side(n_cells: int, here: Callable[[], None], aside: Callable[[], None]) -> None:
    """Do two things at once, on large grids; kernels let go of the interpreter."""
    if n_cells < _WORTH_A_THREAD:
        here()
        aside()
        return
    done = _SECOND.submit(aside)
    here()
    done.result()


def flow_of(point: Point, interpolation: Array) -> Array:
    """The mass flow through faces alone, kg/s, shape (n_faces,)."""
    problem = point.problem
    out = Evaluation.empty(problem.unknowns, point.properties.temperature, problem.grid.n_faces)
    problem.terms[0].add_residual(point, interpolation, out)
    return out.flow


def compact_blocks(point: Point, interpolation: Array, flow: Array) -> Blocks:
    """The compact Jacobian of a point: derivatives of each cell's balances by its own unknowns and those of its face neighbours.

    Args:
        point: the state with what its balances have in common.
        interpolation: V/a_P of momentum interpolation, m3 s/kg, shape (n_cells,).
        flow: mass flow through faces at the same point, kg/s.
    """
    problem = point.problem
    m, n, n_faces = problem.unknowns.size, problem.grid.n_cells, problem.grid.n_faces
    slopes = np.zeros((n, m, problem.unknowns.dimensions))
    forced: set[int] = set()
    for term in problem.terms:
        term.add_force_slopes(point, slopes)
        forced |= set(term.forced_by(problem.unknowns))
    out = Blocks(
        np.zeros((n, m, m)),
        np.zeros((n_faces, 2, m, m)),
        np.zeros((n_faces, m)),
        np.zeros((n_faces, m)),
        slopes,
        np.array(sorted(forced), dtype=np.int64),
    )
    for term in problem.all_terms:
        term.add_jacobian(point, interpolation, flow, out)
    return out


def coefficients_of(point: Point, flow: Array) -> Coefficients:
    """How the balances of cells answer to their own unknowns by what comes in from their neighbours, for a mass flow (kg/s)."""
    n = point.problem.grid.n_cells
    out = Coefficients(np.zeros(n), np.zeros(n), np.zeros(n))
    for term in point.problem.terms:
        term.add_coefficients(point, flow, out)
    out.momentum[out.momentum == 0.0] = 1.0
    return out
