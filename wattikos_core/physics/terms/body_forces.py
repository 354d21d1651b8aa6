"""Forces on the fluid itself: weight, the pressure that drives a module, and what swirling fluid is flung outwards by.

They enter the balances with the pressure (see `terms.pressure`) and the flow through faces (see `terms.continuity`).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import Array, Index
from wattikos_core.physics.properties import Properties, weight_slopes
from wattikos_core.physics.state import State
from wattikos_core.physics.terms.term import Point, Term
from wattikos_core.physics.unknowns import Unknowns


@dataclass(frozen=True)
class Buoyancy(Term):
    """(ρ - ρ_0) g: weight beyond that of a column of the reference density, whose pressure is taken out of the pressure.

    Attributes:
        gravity: m/s2, shape (d,).
        level: reference density of each cell, kg/m3, shape (n_cells,).
    """

    gravity: Array
    level: Array

    @override
    def add_force(self, state: State, properties: Properties, cells: Cells, force: Array) -> None:
        _weigh(cells.fluid, properties.weight, self.level, self.gravity, force)

    @override
    def forced_by(self, unknowns: Unknowns) -> tuple[int, ...]:
        return (unknowns.temperature,)

    @override
    def add_force_slopes(self, point: Point, slopes: Array) -> None:
        problem = point.problem
        by_temperature = weight_slopes(problem.cells, problem.tables, point.properties.filling, point.state.stretched)
        slopes[:, problem.unknowns.temperature, :] += by_temperature[:, None] * self.gravity


@dataclass(frozen=True)
class PressureDrive(Term):
    """A uniform force that stands for the pressure that falls along a module: what repeats in every module is the rest.

    Attributes:
        along: direction of the stream, shape (d,).
    """

    along: Array

    @override
    def add_force(self, state: State, properties: Properties, cells: Cells, force: Array) -> None:
        drive = state.periodicity.pressure_gradient * self.along
        force += np.where(cells.fluid[:, None] == 1, drive, 0.0)


class CentrifugalForce(Term):
    """ρ ω² r, away from the axis."""

    @override
    def add_force(self, state: State, properties: Properties, cells: Cells, force: Array) -> None:
        outwards = properties.density * state.angular_velocity**2 * cells.radius
        force[:, 1] += np.where(cells.fluid == 1, outwards, 0.0)

    @override
    def forced_by(self, unknowns: Unknowns) -> tuple[int, ...]:
        return unknowns.angular_velocity

    @override
    def add_force_slopes(self, point: Point, slopes: Array) -> None:
        cells = point.problem.cells
        by_angular_velocity = 2.0 * point.properties.density * point.state.angular_velocity * cells.radius
        slopes[:, point.problem.unknowns.angular_velocity[0], 1] += np.where(cells.fluid == 1, by_angular_velocity, 0.0)


@njit(cache=True, error_model="numpy", nogil=True)
def _weigh(fluid: Index, weight: Array, level: Array, gravity: Array, force: Array) -> None:
    for c in range(fluid.size):
        if fluid[c] == 1:
            for x in range(gravity.size):
                force[c, x] += (weight[c] - level[c]) * gravity[x]
