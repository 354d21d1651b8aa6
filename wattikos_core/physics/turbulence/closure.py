"""What turbulence adds to a state: eddy viscosity and conductivity, the blending of constants, and the treatment of walls.

Unknowns are k and g = (β* ω)^-½. Next to a wall ω falls as 6ν/(β y²), which no difference of neighbours can follow, but g is a
straight line there that begins at zero: Kalitzin, Gould and Benton (1996, AIAA 96-0522).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import FLOW, INLET, INTERFACE, OUTLET, SYMMETRY, WALL, Array, Faces, FlowWeights, Given
from wattikos_core.physics.turbulence.constants import BETA, BETA_STAR, MOST_PRODUCTION, PRANDTL_FAR, SIGMA_OMEGA
from wattikos_core.physics.turbulence.rough_walls import RoughLayer, rough_cell, rough_distance_plus
from wattikos_core.physics.turbulence.wall_layer import (
    WallLayer,
    between,
    kader_temperature,
    layer_place,
    wall_distance_plus,
)

# Values that differ by less than this factor have one mean.
_NEARLY_EVEN = 1.0001
# Differences count in the strain by no less than this, and no more than its inverse.
_LEAST_WEIGHT = 0.5
# Cross-diffusion counts as no less in the blending, kg/(m³ s²).
_LEAST_CROSS = 1e-10


class Turbulence(NamedTuple):
    """What turbulence adds to a state; all arrays are empty where the flow is laminar.

    Attributes:
        eddy_viscosity: of cells, Pa s, shape (n_cells,) as all of cells.
        inner: F₁, the share of the inner constants.
        by_energy, by_length, by_strain: exponents by which eddy viscosity follows k, g and strain: 1, 2, 0 unless strain limits it.
        strain: √(2 S:S), 1/s; in cells next to walls that of the layer there.
        vorticity: √(2 W:W), 1/s; in cells next to walls the strain.
        production: of k, kg/(m s³); `capped` 1 where it is the most there can be, or that of the layer next to a
            wall.
        made_share, lost_share: of production and dissipation of k, by intermittency: one without it.
        grows, dies: what makes intermittency grow and die, kg/(m³ s); zero without it.
        power: with which g grows away from walls: 1 next to them, ½ in the logarithmic range and far off.
        held: g of cells next to walls by the layer there, √s; 0 in other cells.
        prandtl: turbulent Prandtl number.
        stir_owner, stir_neighbour: what is added to the viscosity on both sides of a face, Pa s, shape (n_faces,).
        heat_owner, heat_neighbour: what is added to the conductivity, W/m/K, shape (n_faces,).
        plus_owner, plus_neighbour: y⁺ of the cells at faces of walls, 0 at others.
    """

    eddy_viscosity: Array
    inner: Array
    by_energy: Array
    by_length: Array
    by_strain: Array
    strain: Array
    vorticity: Array
    production: Array
    capped: Array
    made_share: Array
    lost_share: Array
    grows: Array
    dies: Array
    power: Array
    held: Array
    prandtl: Array
    stir_owner: Array
    stir_neighbour: Array
    heat_owner: Array
    heat_neighbour: Array
    plus_owner: Array
    plus_neighbour: Array


_EMPTY = np.zeros(0)
LAMINAR = Turbulence(*[_EMPTY] * len(Turbulence._fields))


def nothing_stirred(n_cells: int, n_faces: int) -> Turbulence:
    """Arrays to be filled in."""
    return Turbulence(*np.zeros((16, n_cells)), *np.zeros((6, n_faces)))


def as_frozen(turbulence: Turbulence) -> Turbulence:
    """Turbulence that does not answer to the unknowns."""
    if not turbulence.capped.size:
        return turbulence
    still = np.zeros_like(turbulence.capped)
    return turbulence._replace(by_energy=still, by_length=still, by_strain=still, capped=still + 1.0)


class Fluid(NamedTuple):
    """Properties of cells that turbulence depends on, shape (n_cells,): kg/m3, Pa s, W/m/K, J/kg/K, and distance from walls, m."""

    density: Array
    viscosity: Array
    conductivity: Array
    specific_heat: Array
    distance: Array


class Motion(NamedTuple):
    """A state's k, g and velocities, and their gradients, in cells."""

    energy: Array
    length: Array
    velocity: Array
    angular_velocity: Array
    gradients: Array
    angular_gradients: Array
    energy_gradient: Array
    length_gradient: Array


@njit(cache=True, error_model="numpy", inline="always")
def strain_of(gradients: Array, angular_gradients: Array, c: int, radial: float, radius: float) -> float:
    """√(2 S:S) of a cell, 1/s; `radial` is its velocity away from the axis."""
    square, d = 0.0, gradients.shape[1]
    for i in range(d):
        square += 2.0 * gradients[c, i, i] ** 2
        for j in range(i):
            square += (gradients[c, i, j] + gradients[c, j, i]) ** 2
    if radius > 0.0:
        square += 2.0 * (radial / radius) ** 2
        for j in range(d):
            square += (radius * angular_gradients[c, 0, j]) ** 2
    return float(np.sqrt(square))


@njit(cache=True, error_model="numpy", inline="always")
def vorticity_of(gradients: Array, angular_gradients: Array, c: int, turning: float, radius: float) -> float:
    """√(2 W:W) of a cell, 1/s; `turning` is its angular velocity about the axis."""
    square, d = 0.0, gradients.shape[1]
    for i in range(d):
        for j in range(i):
            square += (gradients[c, i, j] - gradients[c, j, i]) ** 2
    if radius > 0.0:
        # About the radius, and about the axis.
        square += (radius * angular_gradients[c, 0, 0]) ** 2
        square += (2.0 * turning + radius * angular_gradients[c, 0, 1]) ** 2
    return float(np.sqrt(square))


@njit(cache=True, error_model="numpy", inline="always")
def in_between(at_a: float, at_b: float, still: float, share: float) -> float:
    """What is added to a property between two centres, where it stands `share` of the way.

    The one constant value through which as much passes as through a straight line between both: their logarithmic mean, exact in
    the logarithmic range of a layer.
    """
    low, high = still + min(at_a, at_b), still + max(at_a, at_b)
    linear = float(at_a + share * (at_b - at_a))
    if high < _NEARLY_EVEN * low:
        return linear
    return float((high - low) / np.log(high / low) - still + linear - 0.5 * (at_a + at_b))


@njit(cache=True, error_model="numpy", nogil=True)
def strain_cells(faces: Faces, weights: FlowWeights, cells: Cells, fluid: Fluid, motion: Motion, out: Turbulence) -> None:
    """Strain of all cells but those next to walls, from gradients whose differences count by the viscosity between the cells.

    In a layer of constant stress it is exact that way, where speed goes as the logarithm of the distance and the plain gradient of
    three cells is a fifth too steep; where viscosity hardly varies it is the plain one.
    """
    d = motion.velocity.shape[1]
    gradients = motion.gradients.copy()
    for f in range(faces.owner.size):
        a, b = faces.owner[f], faces.neighbour[f]
        if faces.kind[f] != FLOW or cells.fluid[a] == 0:
            continue
        mu_a, mu_b = fluid.viscosity[a], fluid.viscosity[b]
        at_a = fluid.density[a] * BETA_STAR * max(motion.energy[a], 0.0) * motion.length[a] ** 2
        at_b = fluid.density[b] * BETA_STAR * max(motion.energy[b], 0.0) * motion.length[b] ** 2
        share = faces.near[f] / (faces.near[f] + faces.far[f])
        mu = mu_a + share * (mu_b - mu_a)
        between_both = mu + in_between(at_a, at_b, mu, share)
        for_a = min(max(between_both / (mu_a + at_a), _LEAST_WEIGHT), 1.0 / _LEAST_WEIGHT) - 1.0
        for_b = min(max(between_both / (mu_b + at_b), _LEAST_WEIGHT), 1.0 / _LEAST_WEIGHT) - 1.0
        for i in range(d):
            change = motion.velocity[b, i] - motion.velocity[a, i]
            for j in range(d):
                gradients[a, i, j] += weights.velocity_owner[f, j] * change * for_a
                gradients[b, i, j] -= weights.velocity_neighbour[f, j] * change * for_b
    for c in range(cells.fluid.size):
        if cells.fluid[c] == 1 and out.held[c] == 0.0:
            out.strain[c] = strain_of(gradients, motion.angular_gradients, c, motion.velocity[c, 1], cells.radius[c])
            out.vorticity[c] = vorticity_of(gradients, motion.angular_gradients, c, motion.angular_velocity[c], cells.radius[c])
        elif cells.fluid[c] == 1:
            out.vorticity[c] = out.strain[c]


@njit(cache=True, error_model="numpy", nogil=True)
def stir_cells(cells: Cells, fluid: Fluid, motion: Motion, near: float, most_stress: float, out: Turbulence) -> None:
    """Blending, strain, eddy viscosity, production and turbulent Prandtl number of cells; see `Turbulence`.

    Args:
        cells: cell data.
        fluid: properties of cells.
        motion: of the state.
        near: rise of the turbulent Prandtl number near walls, see `constants`.
        most_stress: shear stress over ρk that is not passed (a₁); infinite where it is free.
        out: what is written.
    """
    for c in range(cells.fluid.size):
        if cells.fluid[c] == 0:
            continue
        rho, nu, y = fluid.density[c], fluid.viscosity[c] / fluid.density[c], fluid.distance[c]
        k, g = max(motion.energy[c], 0.0), motion.length[c]
        omega = 1.0 / (BETA_STAR * g * g)
        viscous_length = y * np.sqrt(BETA[0] / (6.0 * BETA_STAR * nu))
        out.power[c] = 0.5 + 0.5 * min((g / viscous_length) ** 4, 1.0)
        cross = 0.0
        for x in range(motion.velocity.shape[1]):
            cross -= 2.0 / (BETA_STAR * g**3) * motion.energy_gradient[c, x] * motion.length_gradient[c, x]
        cross = max(2.0 * rho * SIGMA_OMEGA[1] / omega * cross, _LEAST_CROSS)
        far = np.sqrt(k) / (BETA_STAR * omega * y)
        viscous = 500.0 * nu / (y * y * omega)
        at_wall = min(max(far, viscous), 4.0 * rho * SIGMA_OMEGA[1] * k / (cross * y * y))
        out.inner[c] = np.tanh(at_wall**4)
        near_wall = max(2.0 * far, viscous) ** 2
        f2 = np.tanh(near_wall)
        strain = out.strain[c]
        held_by = strain * f2 / most_stress
        out.by_energy[c], out.by_length[c] = 1.0, 2.0
        if held_by > omega:
            grows = near_wall * (1.0 - f2 * f2) / max(f2, 1e-300)
            out.by_energy[c] = 1.0 - (grows if 2.0 * far > viscous else 0.0)
            out.by_length[c], out.by_strain[c] = -4.0 * grows, -1.0
        eddy = rho * k / max(omega, held_by)
        out.eddy_viscosity[c] = eddy
        if out.held[c] > 0.0:
            out.capped[c] = 1.0
        else:
            production, cap = eddy * strain * strain, MOST_PRODUCTION * BETA_STAR * rho * k * omega
            out.capped[c] = 1.0 if production > cap else 0.0
            out.production[c] = min(production, cap)
        out.made_share[c], out.lost_share[c] = 1.0 - out.capped[c], 1.0
        stirred = eddy * fluid.specific_heat[c] / fluid.conductivity[c]
        out.prandtl[c] = PRANDTL_FAR + (near / stirred if stirred > 0.0 else 0.0)


def spare_stagnation(cells: Cells, out: Turbulence) -> None:
    """Production by μ_t S Ω in place of μ_t S², and never more: none where a stream is strained and does not turn.

    Kato and Launder (1993, 9th Symposium on Turbulent Shear Flows, 10-4-1). In shear layers both are the same.
    """
    free = (cells.fluid == 1) & (out.held == 0.0)
    turns = np.ones_like(out.strain)
    np.divide(out.vorticity, out.strain, out=turns, where=out.strain > 0.0)
    turns = np.minimum(turns, 1.0)
    made = turns * out.eddy_viscosity * out.strain**2
    out.capped[free] = np.where(made > out.production, out.capped, 0.0)[free]
    out.production[free] = np.minimum(made, out.production)[free]
    out.made_share[free] = ((1.0 - out.capped) * turns)[free]


@njit(cache=True, error_model="numpy", nogil=True)
def stir_walls(
    faces: Faces, given: Given, cells: Cells, fluid: Fluid, layer: WallLayer, rough: RoughLayer, motion: Motion, out: Turbulence
) -> None:
    """What the layer next to walls adds on their faces, and what it makes of the cells there; see `Turbulence`."""
    nearest = np.full(cells.fluid.size, np.inf)
    for f in range(faces.owner.size):
        kind = faces.kind[f]
        if kind != WALL and kind != INTERFACE:
            continue
        a, b = faces.owner[f], faces.neighbour[f]
        if cells.fluid[a] == 1:
            found = _beside(faces, given, cells, fluid, layer, rough, motion, f, a, faces.near[f], nearest, out)
            out.plus_owner[f], out.stir_owner[f], out.heat_owner[f] = found
        if b >= 0 and cells.fluid[b] == 1:
            found = _beside(faces, given, cells, fluid, layer, rough, motion, f, b, faces.far[f], nearest, out)
            out.plus_neighbour[f], out.stir_neighbour[f], out.heat_neighbour[f] = found


@njit(cache=True, error_model="numpy", nogil=True)
def _beside(
    faces: Faces,
    given: Given,
    cells: Cells,
    fluid: Fluid,
    layer: WallLayer,
    rough: RoughLayer,
    motion: Motion,
    f: int,
    c: int,
    y: float,
    nearest: Array,
    out: Turbulence,
) -> tuple[float, float, float]:
    """y⁺ of the cell beside a wall, and what is added to its viscosity and conductivity towards it."""
    across, square = 0.0, 0.0
    for x in range(motion.velocity.shape[1]):
        across += (motion.velocity[c, x] - given.velocity[f, x]) * faces.normal[f, x]
    for x in range(motion.velocity.shape[1]):
        along = motion.velocity[c, x] - given.velocity[f, x] - across * faces.normal[f, x]
        square += along * along
    turns = cells.radius[c] * (motion.angular_velocity[c] - given.angular_velocity[f])
    square += turns * turns
    mu = fluid.viscosity[c]
    nu = mu / fluid.density[c]
    reynolds = np.sqrt(square) * y / nu
    ratio = given.roughness[f] / y
    plus = rough_distance_plus(rough, reynolds, ratio) if ratio > 0.0 else wall_distance_plus(layer, reynolds)
    prandtl = mu * fluid.specific_heat[c] / fluid.conductivity[c]
    stir = mu * (plus * plus / reynolds - 1.0) if reynolds > 0.0 else 0.0
    heat = 0.0
    if ratio > 0.0 and plus > 0.0:
        beside = rough_cell(rough, plus, ratio, prandtl)
        heat = fluid.conductivity[c] * (prandtl * plus / beside.temperature - 1.0)
        if y < nearest[c]:
            nearest[c] = y
            friction = plus * nu / y
            out.held[c] = beside.length * np.sqrt(nu) / friction
            out.strain[c] = beside.strain * friction * friction / nu
            out.production[c] = fluid.density[c] * beside.production * friction**4 / nu
        return plus, max(stir, 0.0), heat
    if plus > 0.0:
        heat = fluid.conductivity[c] * (prandtl * plus / kader_temperature(plus, prandtl) - 1.0)
    if y < nearest[c]:
        nearest[c] = y
        place = layer_place(layer, reynolds)
        out.held[c] = between(layer.length, place) * y / np.sqrt(nu)
        out.strain[c] = np.exp(between(layer.strain, place)) * nu / (y * y)
        out.production[c] = fluid.density[c] * np.exp(between(layer.production, place)) * nu**3 / y**4
        if place[0] == 0 and place[1] == 0.0:
            out.strain[c], out.production[c] = reynolds * nu / (y * y), 0.0
    return plus, max(stir, 0.0), max(heat, 0.0)


@njit(cache=True, error_model="numpy", nogil=True)
def stir_faces(faces: Faces, cells: Cells, fluid: Fluid, calming: float, out: Turbulence) -> None:
    """What is added to viscosity and conductivity on faces that fluid passes; `calming` see `TurbulenceModel`."""
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if cells.fluid[a] == 0:
            continue
        at_a = out.eddy_viscosity[a]
        heat_a = at_a * fluid.specific_heat[a] / out.prandtl[a]
        if kind == FLOW:
            at_b = out.eddy_viscosity[b]
            heat_b = at_b * fluid.specific_heat[b] / out.prandtl[b]
            share = faces.near[f] / (faces.near[f] + faces.far[f])
            mu = fluid.viscosity[a] + share * (fluid.viscosity[b] - fluid.viscosity[a])
            k = fluid.conductivity[a] + share * (fluid.conductivity[b] - fluid.conductivity[a])
            stir = in_between(at_a, at_b, mu, share) + calming * fluid.density[a]
            heat = in_between(heat_a, heat_b, k, share)
            out.stir_owner[f], out.stir_neighbour[f], out.heat_owner[f], out.heat_neighbour[f] = stir, stir, heat, heat
        elif kind == INLET or kind == OUTLET or kind == SYMMETRY:
            out.stir_owner[f], out.heat_owner[f] = at_a + calming * fluid.density[a], heat_a
