"""What surfaces take on, and least-squares gradients in cells.

The gradient of pressure is taken of what is left of it beside the force on the fluid: between two cells
p_b - p_a - ½ (f_a + f_b)·(x_b - x_a). Where pressure just carries the force, every one of these is zero, on any polygons, so
that a fluid with a linear stratification stays at rest exactly.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.faces import (
    FLOW,
    INLET,
    INTERFACE,
    OUTLET,
    SOLID,
    SYMMETRY,
    TEMPERATURE_GIVEN,
    TOTAL_PRESSURE,
    WALL,
    Array,
    Faces,
)
from wattikos_core.physics.properties import Forces, Properties

STEFAN_BOLTZMANN = 5.670374419e-8
_MOST_BALANCING = 200


class Gradients(NamedTuple):
    """Gradients in cells, shape (n_cells, 2): velocities, net pressure (see above), temperature, and rate of turning."""

    u: Array
    v: Array
    pressure: Array
    temperature: Array
    spin: Array


@njit(cache=True, error_model="numpy")
def surface_temperature(faces: Faces, f: int, foot: float, k: float) -> float:
    """Temperature of an outer surface where conduction from inside meets flux, convection and radiation.

    Where a coating lies on the surface, this is its outside; `k` is the conductivity along the normal.
    """
    inside = 1.0 / (faces.near[f] / k + faces.contact[f])
    h, emission = faces.film[f], faces.emissivity[f] * STEFAN_BOLTZMANN
    if h == 0.0 and emission == 0.0:
        return float(foot + faces.heat_flux[f] / inside)
    surface = foot
    # From far below, the first step leads far beyond, and each one after that comes back by a quarter.
    for _ in range(_MOST_BALANCING):
        arriving = faces.heat_flux[f] + h * (faces.ambient[f] - surface)
        arriving += emission * (faces.surroundings[f] ** 4 - surface**4)
        change = (arriving - inside * (surface - foot)) / (inside + h + 4.0 * emission * abs(surface) ** 3)
        surface += change
        if abs(change) < 1e-11 * abs(surface):
            break
    return surface


@njit(cache=True, error_model="numpy")
def surface_conductance(faces: Faces, f: int, t: float, k: float) -> float:
    """What a cell sees of a given temperature or of the surroundings beyond an outer surface, W/m2/K."""
    if faces.thermal[f] == TEMPERATURE_GIVEN:
        return float(1.0 / (faces.near[f] / k + faces.contact[f]))
    outside = faces.film[f] + 4.0 * faces.emissivity[f] * STEFAN_BOLTZMANN * abs(t) ** 3
    if outside == 0.0:
        return 0.0
    return float(1.0 / (faces.near[f] / k + faces.contact[f] + 1.0 / outside))


@njit(cache=True, error_model="numpy", inline="always")
def outlet_pressure(faces: Faces, f: int, rho: float, across: float) -> float:
    """Pressure on a face where it is given; a total one less the head of what enters."""
    if faces.fed[f] == TOTAL_PRESSURE and across < 0.0:
        return float(faces.pressure[f] - 0.5 * rho * across * across)
    return float(faces.pressure[f])


@njit(cache=True, error_model="numpy")
def outlet_heads(faces: Faces, forces: Forces, density: Array, spin: Array) -> Array:
    """Pressure on outlet faces beyond the one given, Pa: what holds turning fluid on its way, ∂p/∂r = ρ ω² r; zero on the mean.

    One pressure all over an outlet would push turning fluid back in near its axis, or near the wall that turns less.
    """
    heads = np.zeros(faces.owner.size)
    if forces.swirl == 0:
        return heads
    leaving = np.nonzero(faces.kind == OUTLET)[0]
    order = leaving[np.argsort(faces.radius[leaving])]
    for first in range(order.size):
        group = faces.outlet[order[first]]
        # Once for each outlet: from its innermost face.
        if np.any(faces.outlet[order[:first]] == group):
            continue
        head = before = place = whole = mean = 0.0
        for f in order[first:]:
            if faces.outlet[f] != group:
                continue
            a, r = faces.owner[f], faces.radius[f]
            pull = density[a] * spin[a] ** 2 * r
            head += 0.5 * (pull + before) * (r - place) if whole > 0.0 else 0.0
            before, place = pull, r
            heads[f] = head
            whole += faces.area[f]
            mean += faces.area[f] * head
        for f in order[first:]:
            if faces.outlet[f] == group:
                heads[f] -= mean / whole
    return heads


@njit(cache=True, error_model="numpy", inline="always")
def force_between(faces: Faces, f: int, a: int, b: int, fx: Array, fy: Array) -> float:
    """Force along the way from the owner's centre to the neighbour's, or to the face at an outer one, Pa."""
    if b < 0:
        return float(fx[a] * faces.reach_owner[f, 0] + fy[a] * faces.reach_owner[f, 1])
    dx = faces.reach_owner[f, 0] - faces.reach_neighbour[f, 0]
    dy = faces.reach_owner[f, 1] - faces.reach_neighbour[f, 1]
    return float(0.5 * ((fx[a] + fx[b]) * dx + (fy[a] + fy[b]) * dy))


@njit(cache=True, error_model="numpy", inline="always")
def of_next_module(forces: Forces, t: float) -> float:
    """What a temperature is one module further on."""
    return float(forces.about + forces.ratio * (t - forces.about) + forces.jump)


@njit(cache=True, error_model="numpy", inline="always")
def of_module_before(forces: Forces, t: float) -> float:
    """What a temperature is one module further back."""
    return float(forces.about + (t - forces.about - forces.jump) / forces.ratio)


@njit(cache=True, error_model="numpy")
def gradients(
    faces: Faces,
    forces: Forces,
    u: Array,
    v: Array,
    p: Array,
    spin: Array,
    properties: Properties,
    fx: Array,
    fy: Array,
    passes: int,
) -> Gradients:
    """Least-squares gradients of a state, with the forces `fx`, `fy` (N/m3) on its fluid."""
    n = u.size
    t, k = properties.temperature, properties.conductivity
    heads = outlet_heads(faces, forces, properties.density, spin)
    gu, gv, gp, gt, gs = np.zeros((n, 2)), np.zeros((n, 2)), np.zeros((n, 2)), np.zeros((n, 2)), np.zeros((n, 2))
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        nx, ny = faces.normal[f, 0], faces.normal[f, 1]
        du_a = dv_a = dp_a = ds_a = 0.0
        if kind == FLOW:
            du_a, dv_a, ds_a = u[b] - u[a], v[b] - v[a], spin[b] - spin[a]
            dp_a = p[b] - p[a] - force_between(faces, f, a, b, fx, fy)
            for i in range(2):
                gu[b, i] -= faces.velocity_neighbour[f, i] * du_a
                gv[b, i] -= faces.velocity_neighbour[f, i] * dv_a
                gp[b, i] -= faces.pressure_neighbour[f, i] * dp_a
                gs[b, i] -= faces.velocity_neighbour[f, i] * ds_a
        elif kind == WALL or kind == INLET or kind == INTERFACE:
            # A mass flow enters the more slowly the denser its gas is.
            slower = properties.filling[a] if kind == INLET else 1.0
            du_a, dv_a = faces.velocity[f, 0] / slower - u[a], faces.velocity[f, 1] / slower - v[a]
            ds_a = faces.spin[f] - spin[a]
            if kind == INTERFACE:
                for i in range(2):
                    gu[b, i] += faces.velocity_neighbour[f, i] * (faces.velocity[f, 0] - u[b])
                    gv[b, i] += faces.velocity_neighbour[f, i] * (faces.velocity[f, 1] - v[b])
                    gs[b, i] += faces.velocity_neighbour[f, i] * (faces.spin[f] - spin[b])
        elif kind == SYMMETRY:
            across = u[a] * nx + v[a] * ny
            du_a, dv_a = -across * nx, -across * ny
        elif kind == OUTLET:
            given = outlet_pressure(faces, f, properties.density[a], u[a] * nx + v[a] * ny) + heads[f]
            dp_a = given - p[a] - force_between(faces, f, a, b, fx, fy)
        for i in range(2):
            gu[a, i] += faces.velocity_owner[f, i] * du_a
            gv[a, i] += faces.velocity_owner[f, i] * dv_a
            gp[a, i] += faces.pressure_owner[f, i] * dp_a
            gs[a, i] += faces.velocity_owner[f, i] * ds_a
    # An interface temperature on a skewed grid needs a first gradient to be located; one more pass settles it.
    for _ in range(passes):
        old = gt.copy()
        gt[:, :] = 0.0
        for f in range(faces.owner.size):
            a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
            beyond_a = beyond_b = 0.0
            if kind == FLOW or kind == SOLID:
                beyond_a, beyond_b = t[b], t[a]
                if faces.joined[f] == 1:
                    beyond_a, beyond_b = of_next_module(forces, t[b]), of_module_before(forces, t[a])
            elif kind == INTERFACE:
                ta, tb = heat_foot_values(faces, f, a, b, t, old)
                ka, kb = k[a] * faces.share_owner[f], k[b] * faces.share_neighbour[f]
                flux = (ta - tb) / (faces.near[f] / ka + faces.contact[f] + faces.far[f] / kb)
                beyond_a, beyond_b = ta - flux * faces.near[f] / ka, tb + flux * faces.far[f] / kb
            else:
                ka = k[a] * faces.share_owner[f]
                foot = t[a]
                if faces.thermal[f] == TEMPERATURE_GIVEN:
                    foot, _ = heat_foot_values(faces, f, a, b, t, old)
                beyond_a = foot - outer_flux(faces, f, foot, ka) * faces.near[f] / ka
            for i in range(2):
                gt[a, i] += faces.temperature_owner[f, i] * (beyond_a - t[a])
                if b >= 0:
                    gt[b, i] += faces.temperature_neighbour[f, i] * (beyond_b - t[b])
    return Gradients(gu, gv, gp, gt, gs)


@njit(cache=True, error_model="numpy", inline="always")
def foot_values(faces: Faces, f: int, a: int, b: int, value: Array, gradient: Array) -> tuple[float, float]:
    """Values at the feet of the owner's and the neighbour's centre on the face's normal line."""
    at_a = value[a] + gradient[a, 0] * faces.shift_owner[f, 0] + gradient[a, 1] * faces.shift_owner[f, 1]
    if b < 0:
        return at_a, at_a
    return at_a, value[b] + gradient[b, 0] * faces.shift_neighbour[f, 0] + gradient[b, 1] * faces.shift_neighbour[f, 1]


@njit(cache=True, error_model="numpy", inline="always")
def heat_foot_values(faces: Faces, f: int, a: int, b: int, value: Array, gradient: Array) -> tuple[float, float]:
    """Temperatures from where heat is conducted to the face on both sides."""
    at_a = value[a] + gradient[a, 0] * faces.heat_shift_owner[f, 0] + gradient[a, 1] * faces.heat_shift_owner[f, 1]
    if b < 0:
        return at_a, at_a
    return at_a, value[b] + gradient[b, 0] * faces.heat_shift_neighbour[f, 0] + gradient[b, 1] * faces.heat_shift_neighbour[f, 1]


@njit(cache=True, error_model="numpy")
def outer_flux(faces: Faces, f: int, foot: float, k: float) -> float:
    """Heat flux out of the section through an outer face, from its foot temperature, W/m2."""
    inside = faces.near[f] / k + faces.contact[f]
    if faces.thermal[f] == TEMPERATURE_GIVEN:
        return float((foot - faces.temperature[f]) / inside)
    return float((foot - surface_temperature(faces, f, foot, k)) / inside)
