"""What cells store: mass, momentum, heat, angular momentum and scalars, and how a step in time adds it to their balances."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from wattikos_core.physics.faces import Array
from wattikos_core.physics.properties import specific_heats
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point, Term


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
        problem, state, unknowns = point.problem, point.state, point.problem.unknowns
        gained = (stored(point) - self.before) / self.interval
        out.gaining[:], out.storing[:] = gained[:, unknowns.pressure], gained[:, unknowns.temperature]
        per_mass = state.columns(unknowns)
        per_mass[:, unknowns.temperature] = point.properties.carried
        per_mass[:, unknowns.angular_velocity] *= problem.cells.radius[:, None] ** 2
        gained -= per_mass * out.gaining[:, None]
        # A cell whose pressure level is fixed has no balance of mass of its own.
        gained[:, unknowns.pressure] = np.where(problem.cells.pin == 1, 0.0, out.gaining)
        out.residual += gained

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        m = np.arange(point.problem.unknowns.size)
        out.diagonal[:, m, m] += storage_diagonal(point, self.interval)


def stored(point: Point) -> Array:
    """What cells hold in the order of the unknowns, shape (n_cells, n_unknowns): N s, kg, J, N m s, kg times scalars.

    The heat of a closed gas is its enthalpy less its pressure times its volume.
    """
    problem, state, properties = point.problem, point.state, point.properties
    unknowns, cells = problem.unknowns, problem.cells
    mass = properties.density * cells.volume
    held = mass[:, None] * state.columns(unknowns)
    held[:, unknowns.pressure] = mass
    worked = (properties.filling - 1.0) * problem.table_pressure * cells.volume
    held[:, unknowns.temperature] = mass * properties.enthalpy - worked
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
    return held
