"""Heat of friction and of compression: what flows lose of their energy, and what moves against the pressure or along it.

Bird, Stewart and Lightfoot, Transport Phenomena, tables 11.4 and B.7. Beside friction heat, compression keeps a throttled ideal gas
at its temperature, and warms a liquid by (1 - β T) Δp / (ρ c_p).
"""

from __future__ import annotations

from dataclasses import dataclass

from numba import njit
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import Array
from wattikos_core.physics.properties import WEIGHT, Tables, property_at, slope_at
from wattikos_core.physics.terms.term import Evaluation, Point, Term


@dataclass(frozen=True)
class FrictionHeat(Term):
    """μ times the dissipation function, and β T u·∇p with the whole pressure, that of the column included.

    Attributes:
        gravity: m/s2, shape (d,); `level`: density of that column in each cell, kg/m3.
    """

    of_energy = True

    gravity: Array
    level: Array

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, state, gradients = point.problem, point.state, point.gradients
        viscosity = point.properties.viscosity
        if point.turbulence.eddy_viscosity.size:
            # What the mean flow loses to turbulence becomes heat where it is lost, near enough.
            viscosity = viscosity + point.turbulence.eddy_viscosity
        _release(
            problem.cells,
            problem.tables,
            viscosity,
            state.velocity,
            state.stretched,
            gradients.velocity,
            gradients.angular_velocity,
            gradients.pressure + point.force + self.level[:, None] * self.gravity,
            out.dissipation,
            out.compression,
        )
        out.energy[:] -= out.dissipation + out.compression


@njit(cache=True, error_model="numpy", nogil=True)
def _release(
    cells: Cells,
    tables: Tables,
    viscosity: Array,
    velocity: Array,
    stretched: Array,
    gradients: Array,
    angular_gradients: Array,
    pressure_gradient: Array,
    dissipation: Array,
    compression: Array,
) -> None:
    d = velocity.shape[1]
    for c in range(cells.fluid.size):
        if cells.fluid[c] == 0:
            continue
        r, m, phi = cells.radius[c], cells.material[c], 0.0
        for i in range(d):
            phi += 2.0 * gradients[c, i, i] ** 2
            for j in range(i):
                phi += (gradients[c, i, j] + gradients[c, j, i]) ** 2
        if r > 0.0:
            phi += 2.0 * (velocity[c, 1] / r) ** 2
            for j in range(d):
                phi += (r * angular_gradients[c, 0, j]) ** 2
        dissipation[c] = viscosity[c] * phi * cells.volume[c]
        if tables.melts[m] == 0:
            expansion = -slope_at(tables, m, WEIGHT, stretched[c]) / property_at(tables, m, WEIGHT, stretched[c])
            power = 0.0
            for i in range(d):
                power += velocity[c, i] * pressure_gradient[c, i]
            compression[c] = expansion * stretched[c] * power * cells.volume[c]
