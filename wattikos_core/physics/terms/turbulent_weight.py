"""Production of turbulence by weight: fluid stirred up and down where its density differs.

What comes about in the balance of k is

    G = -(μ_t / (ρ Pr_t)) g·∇ρ,

positive where heavy fluid lies above light one. The dissipation ε = β* k ω of k answers to it by C₁C₃ G ε/k, with C₃ one where
weight stirs, as for shear, and zero where it calms: Rodi (1987, J. Geophys. Res. 92, 5305). For ω, with C₁ = 1 + α, that is
((1 + α) C₃ - 1) G ω/k, and for g = (β* ω)^-½ it is -½ ((1 + α) C₃ - 1) G g/k.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from wattikos_core.physics.faces import Array
from wattikos_core.physics.properties import weight_slopes
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point, Term
from wattikos_core.physics.terms.turbulence import columns_of_turbulence
from wattikos_core.physics.turbulence.closure import Turbulence
from wattikos_core.physics.turbulence.constants import ALPHA, ENERGY
from wattikos_core.physics.unknowns import Unknowns

# No cell has less energy than this, J/kg.
_LEAST_ENERGY = 1e-300


@dataclass(frozen=True)
class ProductionByWeight(Term):
    """What weight adds to the balances of k and g.

    Attributes:
        gravity: m/s2, shape (d,).
    """

    gravity: Array

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        k, g = columns_of_turbulence(unknowns)
        return [(k, k), (k, g), (g, k), (g, g)]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        unknowns = point.problem.unknowns
        first, (k_row, g_row) = unknowns.scalars.index(ENERGY), columns_of_turbulence(unknowns)
        made = point.problem.cells.volume * self._made(point)
        k, g = np.maximum(point.state.scalars[:, first], _LEAST_ENERGY), point.state.scalars[:, first + 1]
        out.residual[:, k_row] -= made
        out.residual[:, g_row] += 0.5 * _answers(point.turbulence, made) * made * g / k
        out.scalar_amounts[first] += float(np.abs(made).sum())

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, turbulence = point.problem, point.turbulence
        first = problem.unknowns.scalars.index(ENERGY)
        k_row, g_row = columns_of_turbulence(problem.unknowns)
        made = problem.cells.volume * self._made(point)
        # Solids have none.
        k, g = np.maximum(point.state.scalars[:, first], _LEAST_ENERGY), np.maximum(point.state.scalars[:, first + 1], 1e-300)
        by_k, by_g = turbulence.by_energy * made / k, turbulence.by_length * made / g
        out.diagonal[:, k_row, k_row] -= by_k
        out.diagonal[:, k_row, g_row] -= by_g
        share = 0.5 * _answers(turbulence, made) * g / k
        out.diagonal[:, g_row, k_row] += share * (by_k - made / k)
        out.diagonal[:, g_row, g_row] += share * (by_g + made / g)

    def _made(self, point: Point) -> Array:
        """What comes about of k, kg/(m s³), shape (n_cells,)."""
        problem = point.problem
        slopes = weight_slopes(problem.cells, problem.tables, point.properties.filling, point.state.stretched)
        along = point.gradients.temperature[:, 0] @ self.gravity
        made = -point.turbulence.eddy_viscosity / point.properties.density * slopes * along
        return np.asarray(np.divide(made, point.turbulence.prandtl, out=np.zeros_like(made), where=problem.turbulent == 1))


def _answers(turbulence: Turbulence, made: Array) -> Array:
    """(1 + α) C₃ - 1 of cells; 0 where g is held."""
    stirs = ALPHA[0] * turbulence.inner + ALPHA[1] * (1.0 - turbulence.inner)
    return np.where(turbulence.held > 0.0, 0.0, np.where(made > 0.0, stirs, -1.0))
