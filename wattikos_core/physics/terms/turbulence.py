"""The balances of turbulence: k, and g = (β* ω)^-½ in place of ω (see `physics.turbulence.closure`).

Menter, Kuntz and Langtry (2003, Turbulence, Heat and Mass Transfer 4, 625). With ∇ω = -2/(β* g³) ∇g their balance of ω becomes

ρ Dg/Dt = g³ ∇·(Γ g⁻³ ∇g) + ½β/β* ρ/g - ½β* αρ S² g³ + 2(1 - F₁) ρ σ_ω2 β* g² ∇k·∇g,   Γ = μ + σ_ω μ_t.

What diffuses is ω. Its slope on faces and the mean of ω² over cells are of a straight line of g^(1/p) between and within the cells,
where g grows as the power p of the distance: 1 next to walls, ½ in the logarithmic range (`Turbulence.power`). So both are exact in
either, and a cell whose g is too small is not driven lower by its neighbours.

In cells next to walls g and strain are those of the layer there (see `turbulence.wall_layer`); nothing of k passes walls.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import FLOW, INLET, INTERFACE, WALL, Array, Faces, FlowWeights, Given, Index
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.schemes import neighbour_foot, owner_foot
from wattikos_core.physics.terms.convection import Carried, Convection
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point
from wattikos_core.physics.turbulence.closure import Turbulence
from wattikos_core.physics.turbulence.constants import ALPHA, BETA, BETA_STAR, ENERGY, LENGTH, SIGMA_K, SIGMA_OMEGA
from wattikos_core.physics.unknowns import Unknowns

# Unknowns that are zero on walls.
VANISHING = (LENGTH,)
# How much g varies within a cell, as a share of its own, counts as no more.
_MOST_VARIATION = 0.6
# g at the foot of a centre is within this share of that of the cell.
_NEAREST_FOOT = 0.5


@dataclass(frozen=True)
class TurbulenceBalances(Convection):
    """Both balances: they share their coefficients, and their faces are passed once."""

    names: ClassVar[tuple[str, str]] = (ENERGY, LENGTH)

    def entering_on(self, given: Given) -> Array:
        """k and g that enter on faces, shape (n_faces, 2)."""
        return given.turbulence

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        k, g = columns_of_turbulence(unknowns)
        of_velocity = [(row, column) for row in (k, g) for column in unknowns.velocity]
        return [(k, k), (k, g), (g, k), (g, g), *of_velocity]

    @override
    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        return columns_of_turbulence(unknowns)

    @override
    def what(self, point: Point) -> Carried:
        unknowns, problem = point.problem.unknowns, point.problem
        first = unknowns.scalars.index(ENERGY)
        mine = slice(first, first + 2)
        values, gradients = point.state.scalars[:, mine], point.gradients.scalars[:, mine]
        return Carried(
            columns_of_turbulence(unknowns),
            np.ascontiguousarray(values),
            np.ascontiguousarray(gradients),
            np.ascontiguousarray(problem.entering[:, mine]),
            fed=True,
            bounds=(0.0, np.inf),
        )

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        super().add_residual(point, interpolation, out)
        problem, what = point.problem, self.what(point)
        first = problem.unknowns.scalars.index(ENERGY)
        properties = point.properties
        _spread(
            problem.faces, problem.turbulent, properties.viscosity, point.turbulence, what.values, what.gradients, what.columns,
            what.entering, out.residual,
        )  # fmt: skip
        _come_about(
            problem.cells, problem.turbulent, properties.density, point.turbulence, problem.extent, what.values,
            what.gradients, what.columns, out.scalar_amounts[first : first + 2], out.residual,
        )  # fmt: skip

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        super().add_jacobian(point, interpolation, flow, out)
        problem, what = point.problem, self.what(point)
        properties = point.properties
        _spread_slopes(
            problem.faces, problem.turbulent, properties.viscosity, point.turbulence, what.values, what.entering, what.columns,
            out.diagonal, out.off,
        )  # fmt: skip
        slopes = _slopes_of_cells(
            problem.cells, problem.turbulent, properties.density, point.turbulence, problem.extent, what.values,
            what.gradients, what.columns, out.diagonal,
        )  # fmt: skip
        _slopes_of_gradients(
            problem.faces, problem.flow_weights, problem.turbulent, slopes, point.gradients.velocity, what.columns, out.diagonal,
            out.off,
        )  # fmt: skip
        _hold(
            problem.faces,
            problem.cells,
            problem.turbulent,
            properties.density,
            point.turbulence,
            what.columns,
            out.diagonal,
            out.off,
        )


def columns_of_turbulence(unknowns: Unknowns) -> tuple[int, int]:
    """Columns of k and g."""
    first = unknowns.scalars.index(ENERGY)
    return unknowns.transported[first], unknowns.transported[first + 1]


def turbulence_of(physics: FlowPhysics) -> TurbulenceBalances | None:
    """The balances where turbulence is wanted."""
    return None if physics.turbulence is None else TurbulenceBalances()


@njit(cache=True, error_model="numpy", inline="always")
def _blend(pair: tuple[float, float], inner: float) -> float:
    return pair[0] * inner + pair[1] * (1.0 - inner)


@njit(cache=True, error_model="numpy", inline="always")
def _stirred(turbulence: Turbulence, c: int, i: int) -> float:
    """Eddy viscosity of a cell times the σ of k (0) or ω (1)."""
    sigma = _blend(SIGMA_K, turbulence.inner[c]) if i == 0 else _blend(SIGMA_OMEGA, turbulence.inner[c])
    return float(turbulence.eddy_viscosity[c] * sigma)


@njit(cache=True, error_model="numpy", inline="always")
def _conductance(faces: Faces, f: int, viscosity: Array, turbulence: Turbulence, i: int) -> float:
    """Of k (0) or g (1) between two cells, kg/s."""
    a, b, near, far = faces.owner[f], faces.neighbour[f], faces.near[f], faces.far[f]
    at_a, at_b = _stirred(turbulence, a, i), _stirred(turbulence, b, i)
    stirred = at_a + near / (near + far) * (at_b - at_a)
    return float(faces.area[f] / (near / (viscosity[a] + stirred) + far / (viscosity[b] + stirred)))


@njit(cache=True, error_model="numpy", inline="always")
def _foot_of_length(values: Array, c: int, foot: float) -> float:
    """g at the foot of a cell's centre, kept near that of the cell."""
    return float(min(max(foot, _NEAREST_FOOT * values[c, 1]), values[c, 1] / _NEAREST_FOOT))


@njit(cache=True, error_model="numpy", nogil=True)
def _spread(
    faces: Faces, turbulent: Index, viscosity: Array, turbulence: Turbulence, values: Array, gradients: Array,
    columns: tuple[int, int], entering: Array, residual: Array,
) -> None:  # fmt: skip
    """Diffusion of k, and of ω in the balance of g; walls let nothing of either through, g of the cells there being held."""
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if (kind != FLOW and kind != INLET) or turbulent[a] == 0:
            continue
        at_a = _foot_of_length(values, a, owner_foot(faces, f, a, 1, values, gradients))
        if kind == FLOW:
            through = _conductance(faces, f, viscosity, turbulence, 0)
            through *= owner_foot(faces, f, a, 0, values, gradients) - neighbour_foot(faces, f, b, 0, values, gradients)
            residual[a, columns[0]] += through
            residual[b, columns[0]] -= through
            at_b = _foot_of_length(values, b, neighbour_foot(faces, f, b, 1, values, gradients))
            share = faces.near[f] / (faces.near[f] + faces.far[f])
            power = turbulence.power[a] + share * (turbulence.power[b] - turbulence.power[a])
            straight_a, straight_b = at_a ** (1.0 / power), at_b ** (1.0 / power)
            middle = straight_a + share * (straight_b - straight_a)
            through = power * _conductance(faces, f, viscosity, turbulence, 1) * (straight_a - straight_b)
            through *= middle ** (-2.0 * power - 1.0)
            residual[a, columns[1]] += through * values[a, 1] ** 3
            residual[b, columns[1]] -= through * values[b, 1] ** 3
        else:
            for i in range(2):
                conductance = faces.area[f] * (viscosity[a] + _stirred(turbulence, a, i)) / faces.near[f]
                at = at_a if i == 1 else owner_foot(faces, f, a, i, values, gradients)
                weight = (values[a, 1] / entering[f, 1]) ** 3 if i == 1 else 1.0
                residual[a, columns[i]] += conductance * weight * (at - entering[f, i])


@njit(cache=True, error_model="numpy", nogil=True)
def _spread_slopes(
    faces: Faces, turbulent: Index, viscosity: Array, turbulence: Turbulence, values: Array, entering: Array,
    columns: tuple[int, int], diagonal: Array, off: Array,
) -> None:  # fmt: skip
    k_row, g_row = columns
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if (kind != FLOW and kind != INLET) or turbulent[a] == 0:
            continue
        at_a = values[a, 1]
        if kind == FLOW:
            conductance = _conductance(faces, f, viscosity, turbulence, 0)
            diagonal[a, k_row, k_row] += conductance
            off[f, 0, k_row, k_row] -= conductance
            diagonal[b, k_row, k_row] += conductance
            off[f, 1, k_row, k_row] -= conductance
            at_b, conductance = values[b, 1], _conductance(faces, f, viscosity, turbulence, 1)
            share_a, share_b = faces.far[f] / (faces.near[f] + faces.far[f]), faces.near[f] / (faces.near[f] + faces.far[f])
            power = share_a * turbulence.power[a] + share_b * turbulence.power[b]
            straight_a, straight_b = at_a ** (1.0 / power), at_b ** (1.0 / power)
            middle = share_a * straight_a + share_b * straight_b
            conductance *= power * middle ** (-2.0 * power - 1.0)
            drop = straight_a - straight_b
            # Derivatives of the straight ones, and with them of the flux but for the factors g³ of both cells.
            slope_a, slope_b = straight_a / (power * at_a), straight_b / (power * at_b)
            bend = (2.0 * power + 1.0) * drop / middle
            by_a, by_b = conductance * slope_a * (1.0 - bend * share_a), -conductance * slope_b * (1.0 + bend * share_b)
            diagonal[a, g_row, g_row] += at_a**3 * by_a + 3.0 * at_a**2 * conductance * drop
            off[f, 0, g_row, g_row] += at_a**3 * by_b
            diagonal[b, g_row, g_row] -= at_b**3 * by_b + 3.0 * at_b**2 * conductance * drop
            off[f, 1, g_row, g_row] -= at_b**3 * by_a
        else:
            diagonal[a, k_row, k_row] += faces.area[f] * (viscosity[a] + _stirred(turbulence, a, 0)) / faces.near[f]
            conductance = faces.area[f] * (viscosity[a] + _stirred(turbulence, a, 1)) / faces.near[f]
            weight = (at_a / entering[f, 1]) ** 3
            diagonal[a, g_row, g_row] += conductance * weight * (4.0 - 3.0 * entering[f, 1] / at_a)


@njit(cache=True, error_model="numpy", inline="always")
def _variation(gradients: Array, extent: Array, c: int) -> float:
    """Square of how g varies within a cell from its middle to its sides, s."""
    square = 0.0
    for x in range(gradients.shape[2]):
        for y in range(gradients.shape[2]):
            square += gradients[c, 1, x] * extent[c, x, y] * gradients[c, 1, y]
    return square


@njit(cache=True, error_model="numpy", inline="always")
def _steeper(square: float, g: float, power: float) -> tuple[float, float]:
    """The mean of g⁻⁴ over a cell times g⁴, where g^(1/p) is a straight line, and its logarithmic derivative times itself.

    Args:
        square: of how g varies to the sides, s.
        g: of the cell, √s.
        power: p.
    """
    s, n = np.sqrt(square) / (power * g), 4.0 * power
    if s < 1e-3:
        return 1.0 + n * (n + 1.0) / 6.0 * s * s, n * (n + 1.0) / 3.0 * s * s
    slope = s < _MOST_VARIATION
    s = min(s, _MOST_VARIATION)
    low, high = (1.0 - s) ** (1.0 - n), (1.0 + s) ** (1.0 - n)
    mean = (low - high) / (2.0 * s * (n - 1.0))
    return mean, 0.5 * (low / (1.0 - s) + high / (1.0 + s)) - mean if slope else 0.0


@njit(cache=True, error_model="numpy", nogil=True)
def _come_about(
    cells: Cells, turbulent: Index, density: Array, turbulence: Turbulence, extent: Array, values: Array, gradients: Array,
    columns: tuple[int, int], amounts: Array, residual: Array,
) -> None:  # fmt: skip
    """Sources of k and g; g of cells next to walls is held, and both are at rest where the flow is laminar."""
    for c in range(cells.fluid.size):
        if cells.fluid[c] == 0:
            continue
        volume, rho = cells.volume[c], density[c]
        if turbulent[c] == 0:
            residual[c, columns[0]] = volume * values[c, 0]
            residual[c, columns[1]] = volume * (values[c, 1] - 1.0)
            continue
        k, g, inner = values[c, 0], values[c, 1], turbulence.inner[c]
        dissipation = turbulence.lost_share[c] * rho * k / (g * g)
        residual[c, columns[0]] += volume * (dissipation - turbulence.production[c])
        amounts[0] += volume * abs(dissipation)
        if turbulence.held[c] > 0.0:
            strength = rho * volume / (turbulence.held[c] * turbulence.held[c])
            residual[c, columns[1]] = strength * (g - turbulence.held[c])
            amounts[1] += strength * turbulence.held[c]
            continue
        cross = 0.0
        for x in range(gradients.shape[2]):
            cross += gradients[c, 0, x] * gradients[c, 1, x]
        steeper, _ = _steeper(_variation(gradients, extent, c), g, turbulence.power[c])
        # In the logarithmic range strain goes as ω, and the mean of its square is that much more too; next to walls it is even.
        falls = steeper * 0.5 * _blend(BETA, inner) * rho / (BETA_STAR * g)
        made = (
            (1.0 + (2.0 - 2.0 * turbulence.power[c]) ** 2 * (steeper - 1.0))
            * 0.5
            * BETA_STAR
            * _blend(ALPHA, inner)
            * rho
            * turbulence.strain[c] ** 2
            * g
            * g
            * g
        )
        crossing = 2.0 * (1.0 - inner) * rho * SIGMA_OMEGA[1] * BETA_STAR * g * g * cross
        residual[c, columns[1]] += volume * (made - falls - crossing)
        amounts[1] += volume * falls


@njit(cache=True, error_model="numpy", nogil=True)
def _slopes_of_cells(
    cells: Cells, turbulent: Index, density: Array, turbulence: Turbulence, extent: Array, values: Array, gradients: Array,
    columns: tuple[int, int], diagonal: Array,
) -> Array:  # fmt: skip
    """Adds how sources answer to k and g of their cells.

    Returns:
        how they answer to gradients, shape (n_cells, 2 + 2d): that of k to S², that of g to S², and that of g to the gradients of g
        and of k.
    """
    d = gradients.shape[2]
    slopes = np.zeros((cells.fluid.size, 2 + 2 * d))
    k_row, g_row = columns
    for c in range(cells.fluid.size):
        if cells.fluid[c] == 0 or turbulent[c] == 0:
            continue
        volume, rho = cells.volume[c], density[c]
        k, g, inner = values[c, 0], values[c, 1], turbulence.inner[c]
        lost = turbulence.lost_share[c] * volume * rho / (g * g)
        diagonal[c, k_row, k_row] += lost
        diagonal[c, k_row, g_row] -= 2.0 * lost * k / g
        if turbulence.capped[c] == 0.0:
            made = volume * turbulence.production[c]
            diagonal[c, k_row, k_row] -= turbulence.by_energy[c] * made / max(k, 1e-300)
            diagonal[c, k_row, g_row] -= turbulence.by_length[c] * made / g
        if turbulence.held[c] > 0.0:
            continue
        if turbulence.capped[c] == 0.0:
            answers = turbulence.made_share[c] * (1.0 + 0.5 * turbulence.by_strain[c])
            slopes[c, 0] = -answers * volume * turbulence.eddy_viscosity[c]
        square = _variation(gradients, extent, c)
        steeper, grows = _steeper(square, g, turbulence.power[c])
        falls = 0.5 * _blend(BETA, inner) * rho / (BETA_STAR * g)
        by_square = 0.5 * BETA_STAR * _blend(ALPHA, inner) * rho * g * g * g
        made, even = by_square * turbulence.strain[c] ** 2, (2.0 - 2.0 * turbulence.power[c]) ** 2
        of_strain = 1.0 + even * (steeper - 1.0)
        diagonal[c, g_row, g_row] += volume * (falls * (steeper + grows) + made * (3.0 * of_strain - even * grows)) / g
        # Frozen turbulence does not answer to strain, see `closure.as_frozen`.
        slopes[c, 1] = volume * of_strain * by_square if turbulence.by_energy[c] != 0.0 else 0.0
        for x in range(d):
            along = 0.0
            for y in range(d):
                along += extent[c, x, y] * gradients[c, 1, y]
            slopes[c, 2 + x] = volume * (even * made - falls) * grows * along / max(square, 1e-300)
        cross, crossing = 0.0, 2.0 * (1.0 - inner) * volume * rho * SIGMA_OMEGA[1] * BETA_STAR * g * g
        for x in range(d):
            cross += gradients[c, 0, x] * gradients[c, 1, x]
            slopes[c, 2 + x] -= crossing * gradients[c, 0, x]
            slopes[c, 2 + d + x] = -crossing * gradients[c, 1, x]
        diagonal[c, g_row, g_row] -= 2.0 * crossing * cross / g
    return slopes


@njit(cache=True, error_model="numpy", nogil=True)
def _slopes_of_gradients(
    faces: Faces, weights: FlowWeights, turbulent: Index, slopes: Array, velocity_gradients: Array,
    columns: tuple[int, int], diagonal: Array, off: Array,
) -> None:  # fmt: skip
    """What sources answer through gradients: S² of the velocities, how g varies within cells, and how k and g vary together."""
    d = len(faces.axes)
    for f in range(faces.owner.size):
        kind = faces.kind[f]
        if kind != FLOW and kind != WALL and kind != INTERFACE and kind != INLET:
            continue
        for side in range(2):
            c = faces.owner[f] if side == 0 else faces.neighbour[f]
            if c < 0 or turbulent[c] == 0:
                continue
            answer = 0.0
            for x in range(d):
                answer += slopes[c, 2 + x] * (weights.velocity_owner[f, x] if side == 0 else weights.velocity_neighbour[f, x])
            diagonal[c, columns[1], columns[1]] -= answer
            if kind == FLOW:
                off[f, side, columns[1], columns[1]] += answer
            if kind == FLOW or kind == INLET:
                answer = 0.0
                for x in range(d):
                    answer += slopes[c, 2 + d + x] * (weights.scalar_owner[f, x] if side == 0 else weights.scalar_neighbour[f, x])
                diagonal[c, columns[1], columns[0]] -= answer
                if kind == FLOW:
                    off[f, side, columns[1], columns[0]] += answer
            for i in range(d):
                along = 0.0
                for j in range(d):
                    w = weights.velocity_owner[f, j] if side == 0 else weights.velocity_neighbour[f, j]
                    along += 2.0 * (velocity_gradients[c, i, j] + velocity_gradients[c, j, i]) * w
                for row in range(2):
                    answer = slopes[c, row] * along
                    diagonal[c, columns[row], i] -= answer
                    if kind == FLOW:
                        off[f, side, columns[row], i] += answer


@njit(cache=True, error_model="numpy", nogil=True)
def _hold(
    faces: Faces, cells: Cells, turbulent: Index, density: Array, turbulence: Turbulence, columns: tuple[int, int],
    diagonal: Array, off: Array,
) -> None:  # fmt: skip
    """Rows of what is held: nothing of their balances is left."""
    for c in range(cells.fluid.size):
        if cells.fluid[c] == 0:
            continue
        if turbulent[c] == 0:
            for row in columns:
                diagonal[c, row, :] = 0.0
                diagonal[c, row, row] = cells.volume[c]
        elif turbulence.held[c] > 0.0:
            row = columns[1]
            diagonal[c, row, :] = 0.0
            diagonal[c, row, row] = density[c] * cells.volume[c] / (turbulence.held[c] * turbulence.held[c])
    for f in range(faces.owner.size):
        if faces.kind[f] != FLOW:
            continue
        for side in range(2):
            c = faces.owner[f] if side == 0 else faces.neighbour[f]
            if turbulent[c] == 0:
                off[f, side, columns[0], :] = 0.0
                off[f, side, columns[1], :] = 0.0
            elif turbulence.held[c] > 0.0:
                off[f, side, columns[1], :] = 0.0
