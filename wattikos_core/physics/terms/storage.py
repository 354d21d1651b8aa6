"""What cells store: mass, momentum, heat, angular momentum and scalars, and how a step in time adds it to their balances."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.faces import Array, Index
from wattikos_core.physics.properties import specific_heats
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point, Term
from wattikos_core.physics.unknowns import MATRIX


@dataclass(frozen=True)
class Storage(Term):
    """A step in time: (what is stored - what was before) / interval, the balance of mass times φ_P taken out.

    A stage of a diagonally implicit Runge-Kutta method is such a step, from a beginning that carries what earlier
    stages have brought.

    Attributes:
        before: what was stored at the beginning, see `stored`.
        interval: effective length of the step, s.
    """

    before: Array
    interval: float

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, unknowns = point.problem, point.problem.unknowns
        per_mass = point.state.columns(unknowns)
        per_mass[:, unknowns.temperature] = point.properties.carried
        per_mass[:, unknowns.angular_velocity] *= problem.cells.radius[:, None] ** 2
        if MATRIX in unknowns.scalars:
            # No fluid carries what a matrix has.
            per_mass[:, unknowns.matrix] = 0.0
        _gain(
            stored(point),
            self.before,
            self.interval,
            per_mass,
            problem.cells.pin,
            (unknowns.pressure, unknowns.temperature),
            out.gaining,
            out.storing,
            out.residual,
        )

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        m = np.arange(point.problem.unknowns.size)
        out.diagonal[:, m, m] += storage_diagonal(point, self.interval)


def stored(point: Point) -> Array:
    """What cells hold in the order of the unknowns, shape (n_cells, n_unknowns): N s, kg, J, N m s, kg times scalars.

    The heat of a closed gas is its enthalpy less its pressure times its volume. In porous parts the fluid has its share of volume,
    and the matrix stores heat beside it.
    """
    problem, state, properties = point.problem, point.state, point.properties
    unknowns, cells = problem.unknowns, problem.cells
    mass = properties.density * cells.volume
    held = mass[:, None] * state.columns(unknowns)
    held[:, unknowns.pressure] = mass
    if MATRIX in unknowns.scalars:
        held[:, unknowns.matrix] = 0.0
    worked = (properties.filling - 1.0) * problem.table_pressure * cells.volume
    held[:, unknowns.temperature] = mass * properties.enthalpy - worked
    for drag in problem.drags:
        share = drag.given.porosity
        held[drag.cells] *= share
        # Between the grains fluid moves faster than the speed that is told, by the same share.
        for row in unknowns.velocity:
            held[drag.cells, row] /= share**2
        if drag.given.exchange is not None:
            own = drag.matrix_heat(properties.temperature + state.scalars[:, unknowns.scalars.index(MATRIX)])
            held[drag.cells, unknowns.matrix] = own
            held[drag.cells, unknowns.temperature] += own
        elif drag.given.matrix is not None:
            held[drag.cells, unknowns.temperature] += drag.matrix_heat(properties.temperature)
    held[:, unknowns.angular_velocity] *= cells.radius[:, None] ** 2
    return held


def storage_diagonal(point: Point, interval: float) -> Array:
    """How what cells store answers to their own unknowns, over the step, shape (n_cells, n_unknowns)."""
    problem = point.problem
    unknowns, cells = problem.unknowns, problem.cells
    mass = point.properties.density * cells.volume / interval
    held = np.repeat(mass[:, None], unknowns.size, axis=1)
    held[:, unknowns.pressure] = 0.0
    held[:, unknowns.temperature] *= specific_heats(cells, problem.tables, point.state.stretched)
    held[:, unknowns.angular_velocity] *= cells.radius[:, None] ** 2
    if MATRIX in unknowns.scalars:
        held[:, unknowns.matrix] = 0.0
    for drag in problem.drags:
        share = drag.given.porosity
        held[drag.cells] *= share
        for row in unknowns.velocity:
            held[drag.cells, row] /= share**2
        if drag.given.matrix is not None:
            capacity = drag.matrix_capacity(point.properties.temperature) / interval
            held[drag.cells, unknowns.temperature] += capacity
            if drag.given.exchange is not None:
                held[drag.cells, unknowns.matrix] = capacity
    return held


@njit(cache=True, error_model="numpy", nogil=True)
def _gain(
    held: Array,
    before: Array,
    interval: float,
    per_mass: Array,
    pin: Index,
    mass_and_heat: tuple[int, int],
    gaining: Array,
    storing: Array,
    residual: Array,
) -> None:
    mass, heat = mass_and_heat
    for c in range(pin.size):
        gaining[c] = (held[c, mass] - before[c, mass]) / interval
        storing[c] = (held[c, heat] - before[c, heat]) / interval
        for i in range(held.shape[1]):
            if i != mass:
                residual[c, i] += (held[c, i] - before[c, i]) / interval - per_mass[c, i] * gaining[c]
            elif pin[c] == 0:
                # A cell whose pressure level is fixed has no balance of mass of its own.
                residual[c, i] += gaining[c]
