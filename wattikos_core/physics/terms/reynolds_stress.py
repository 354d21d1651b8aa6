"""The transposed part of the turbulent stress, ∇·(μ_t (∇u)ᵀ), and what an axis holds back of both parts.

The part μ_t ∇u is added to friction, see `terms.friction`; the isotropic part ⅔ρk counts as pressure.
"""

from __future__ import annotations

from collections.abc import Iterable

from numba import njit
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import FLOW, INLET, OUTLET, SYMMETRY, Array, Faces
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.terms.turbulence import columns_of_turbulence
from wattikos_core.physics.turbulence.closure import Turbulence
from wattikos_core.physics.turbulence.constants import ENERGY
from wattikos_core.physics.unknowns import Unknowns


class ReynoldsStress(Term):
    """Momentum that turbulence carries across the stream where its velocity turns."""

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem = point.problem
        _turn(problem.faces, point.turbulence, point.gradients.velocity, out.residual)
        if problem.grid.axisymmetric:
            radial = problem.unknowns.velocity[1]
            out.residual[:, radial] += _hoop(problem.cells, point.turbulence) * point.state.velocity[:, 1]

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(row, column) for row in unknowns.velocity for column in columns_of_turbulence(unknowns)]

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem = point.problem
        first = problem.unknowns.scalars.index(ENERGY)
        _slopes_of_turbulence(
            problem.faces, point.properties.viscosity, point.turbulence, point.state.velocity, point.state.scalars[:, first],
            point.state.scalars[:, first + 1], columns_of_turbulence(problem.unknowns), out.diagonal, out.off,
        )  # fmt: skip
        if problem.grid.axisymmetric:
            radial = problem.unknowns.velocity[1]
            out.diagonal[:, radial, radial] += _hoop(problem.cells, point.turbulence)

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        if point.problem.grid.axisymmetric:
            out.momentum += _hoop(point.problem.cells, point.turbulence)


@njit(cache=True, error_model="numpy", nogil=True)
def _hoop(cells: Cells, turbulence: Turbulence) -> Array:
    """What turbulence holds the radial velocity back by since it goes round the axis: 2 V μ_t / r², kg/s."""
    held = 0.0 * cells.volume
    for c in range(held.size):
        if cells.fluid[c] == 1 and cells.radius[c] > 0.0:
            held[c] = 2.0 * cells.volume[c] * turbulence.eddy_viscosity[c] / cells.radius[c] ** 2
    return held


@njit(cache=True, error_model="numpy", nogil=True)
def _slopes_of_turbulence(
    faces: Faces, viscosity: Array, turbulence: Turbulence, velocity: Array, energy: Array, length: Array,
    columns: tuple[int, int], diagonal: Array, off: Array,
) -> None:  # fmt: skip
    """How friction between cells answers to k and g of both: see `Turbulence.by_energy`."""
    for f in range(faces.owner.size):
        if faces.kind[f] != FLOW or turbulence.stir_owner[f] == 0.0:
            continue
        a, b, near, far = faces.owner[f], faces.neighbour[f], faces.near[f], faces.far[f]
        at_a, at_b = viscosity[a] + turbulence.stir_owner[f], viscosity[b] + turbulence.stir_neighbour[f]
        resistance = near / at_a + far / at_b
        by_stir = faces.area[f] * (near / at_a**2 + far / at_b**2) / resistance**2
        for side in range(2):
            c, share = (a, far / (near + far)) if side == 0 else (b, near / (near + far))
            by_k = turbulence.by_energy[c] * share * by_stir * turbulence.eddy_viscosity[c] / max(energy[c], 1e-300)
            by_g = turbulence.by_length[c] * share * by_stir * turbulence.eddy_viscosity[c] / length[c]
            for x in range(len(faces.axes)):
                slope = velocity[a, x] - velocity[b, x]
                for i in range(2):
                    answer = slope * (by_k if i == 0 else by_g)
                    if side == 0:
                        diagonal[a, x, columns[i]] += answer
                        off[f, 1, x, columns[i]] -= answer
                    else:
                        diagonal[b, x, columns[i]] -= answer
                        off[f, 0, x, columns[i]] += answer


@njit(cache=True, error_model="numpy", nogil=True)
def _turn(faces: Faces, turbulence: Turbulence, gradients: Array, residual: Array) -> None:
    d = len(faces.axes)
    for f in range(faces.owner.size):
        kind = faces.kind[f]
        if (kind != FLOW and kind != INLET and kind != OUTLET and kind != SYMMETRY) or turbulence.stir_owner[f] == 0.0:
            continue
        a, b = faces.owner[f], faces.neighbour[f]
        share = faces.near[f] / (faces.near[f] + faces.far[f])
        for x in range(d):
            along = 0.0
            for y in range(d):
                slope = gradients[a, y, x]
                if kind == FLOW:
                    slope += share * (gradients[b, y, x] - slope)
                along += slope * faces.normal[f, y]
            stress = faces.area[f] * turbulence.stir_owner[f] * along
            residual[a, x] -= stress
            if kind == FLOW:
                residual[b, x] += stress
