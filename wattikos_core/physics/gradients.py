"""Least-squares gradients in cells.

The gradient of pressure is taken of what is left of it beside the force on the fluid: between two cells
p_b - p_a - ½ (f_a + f_b)·(x_b - x_a). Where pressure just carries the force, every one of these is zero, on any polygons, so
that a fluid with a linear stratification stays at rest exactly.
"""

from __future__ import annotations

from typing import NamedTuple

from numba import njit

from wattikos_core.physics.faces import (
    FLOW,
    INLET,
    INTERFACE,
    OUTLET,
    SOLID,
    SYMMETRY,
    TEMPERATURE_GIVEN,
    WALL,
    Array,
    Faces,
    FlowWeights,
    Given,
    HeatWeights,
)
from wattikos_core.physics.properties import Properties
from wattikos_core.physics.schemes import change_along, dot
from wattikos_core.physics.surfaces import NextModule, of_module_before, of_next_module, on_side, outer_flux, outlet_pressure


class Gradients(NamedTuple):
    """Gradients in cells: of k values, shape (n_cells, k, d); of the net pressure (see above), shape (n_cells, d)."""

    velocity: Array
    pressure: Array
    temperature: Array
    angular_velocity: Array
    scalars: Array


@njit(cache=True, error_model="numpy", inline="always")
def force_between(faces: Faces, f: int, a: int, b: int, force: Array) -> float:
    """Force (N/m3, shape (n_cells, d)) along the way from the owner's centre to the neighbour's, or to an outer face, Pa.

    What varies smoothly is the mean of both all the way; what ends at the face acts up to it.
    """
    if b < 0:
        return float(dot(faces, force, a, faces.reach_owner, f))
    total = 0.0
    if faces.edge[f] == 1:
        for x in range(len(faces.axes)):
            total += force[a, x] * faces.reach_owner[f, x] - force[b, x] * faces.reach_neighbour[f, x]
        return total
    for x in range(len(faces.axes)):
        total += (force[a, x] + force[b, x]) * (faces.reach_owner[f, x] - faces.reach_neighbour[f, x])
    return 0.5 * total


@njit(cache=True, error_model="numpy", inline="always")
def across_face(faces: Faces, f: int, a: int, velocity: Array) -> float:
    """The owner's velocity along a face's normal, m/s."""
    return float(dot(faces, velocity, a, faces.normal, f))


@njit(cache=True, error_model="numpy", nogil=True)
def velocity_gradients(faces: Faces, given: Given, weights: FlowWeights, filling: Array, velocity: Array, gradient: Array) -> None:
    """Gradients ∂u_i/∂x_j of the velocity, shape (n_cells, d, d), added to `gradient`.

    Args:
        faces: geometry of faces.
        given: what conditions give on faces.
        weights: least-squares weights.
        filling: see `Properties`; a mass flow enters the more slowly the denser its gas is.
        velocity: m/s, shape (n_cells, d).
        gradient: array that they are added to.
    """
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == SOLID or kind == OUTLET:
            continue
        across = across_face(faces, f, a, velocity) if kind == SYMMETRY else 0.0
        slower = filling[a] if kind == INLET else 1.0
        for i in range(len(faces.axes)):
            if kind == FLOW:
                change = velocity[b, i] - velocity[a, i]
                for j in range(len(faces.axes)):
                    gradient[b, i, j] -= weights.velocity_neighbour[f, j] * change
            elif kind == SYMMETRY:
                change = -across * faces.normal[f, i]
            else:
                change = given.velocity[f, i] / slower - velocity[a, i]
                if kind == INTERFACE:
                    beyond = given.velocity[f, i] - velocity[b, i]
                    for j in range(len(faces.axes)):
                        gradient[b, i, j] += weights.velocity_neighbour[f, j] * beyond
            for j in range(len(faces.axes)):
                gradient[a, i, j] += weights.velocity_owner[f, j] * change


@njit(cache=True, error_model="numpy", nogil=True)
def pressure_gradients(
    faces: Faces,
    given: Given,
    weights: FlowWeights,
    density: Array,
    velocity: Array,
    pressure: Array,
    force: Array,
    heads: Array,
    gradient: Array,
) -> None:
    """Gradients of the net pressure, shape (n_cells, d), Pa/m, added to `gradient`.

    Args:
        faces: geometry of faces.
        given: what conditions give on faces.
        weights: least-squares weights.
        density: kg/m3, shape (n_cells,).
        velocity: m/s, shape (n_cells, d).
        pressure: Pa, shape (n_cells,).
        force: on the fluid, N/m3, shape (n_cells, d).
        heads: see `outlet_heads`; empty where there are none.
        gradient: array that they are added to.
    """
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == FLOW:
            rise = pressure[b] - pressure[a] - force_between(faces, f, a, b, force)
            for x in range(len(faces.axes)):
                gradient[a, x] += weights.pressure_owner[f, x] * rise
                gradient[b, x] -= weights.pressure_neighbour[f, x] * rise
        elif kind == OUTLET:
            at_face = outlet_pressure(given, f, density[a], across_face(faces, f, a, velocity))
            at_face += heads[f] if heads.size else 0.0
            rise = at_face - pressure[a] - force_between(faces, f, a, b, force)
            for x in range(len(faces.axes)):
                gradient[a, x] += weights.pressure_owner[f, x] * rise


@njit(cache=True, error_model="numpy", nogil=True)
def angular_gradients(faces: Faces, given: Given, weights: FlowWeights, angular_velocity: Array, gradient: Array) -> None:
    """Gradients of the angular velocity, shape (n_cells, 1, d), 1/(m s), added to `gradient`."""
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == FLOW:
            change = angular_velocity[b] - angular_velocity[a]
            for x in range(len(faces.axes)):
                gradient[a, 0, x] += weights.velocity_owner[f, x] * change
                gradient[b, 0, x] -= weights.velocity_neighbour[f, x] * change
        elif kind == WALL or kind == INLET or kind == INTERFACE:
            for x in range(len(faces.axes)):
                gradient[a, 0, x] += weights.velocity_owner[f, x] * (given.angular_velocity[f] - angular_velocity[a])
                if kind == INTERFACE:
                    gradient[b, 0, x] += weights.velocity_neighbour[f, x] * (given.angular_velocity[f] - angular_velocity[b])


@njit(cache=True, error_model="numpy", nogil=True)
def scalar_gradients(
    faces: Faces, weights: FlowWeights, scalars: Array, entering: Array, vanishing: tuple[int, ...], gradient: Array
) -> None:
    """Gradients of transported scalars, shape (n_cells, n_scalars, d), added to `gradient`.

    Args:
        faces: geometry of faces.
        weights: least-squares weights.
        scalars: values in cells, shape (n_cells, n_scalars).
        entering: their values at inlets, shape (n_faces, n_scalars).
        vanishing: which of them are zero on walls; all others have no slope there.
        gradient: array that they are added to.
    """
    count = scalars.shape[1]
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind != FLOW and kind != INLET:
            continue
        for i in range(count):
            if vanishing[i]:
                continue
            change = (scalars[b, i] if kind == FLOW else entering[f, i]) - scalars[a, i]
            for x in range(len(faces.axes)):
                gradient[a, i, x] += weights.scalar_owner[f, x] * change
                if kind == FLOW:
                    gradient[b, i, x] -= weights.scalar_neighbour[f, x] * change
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        for i in range(count):
            if not vanishing[i]:
                continue
            if kind == FLOW or kind == INLET:
                change = (scalars[b, i] if kind == FLOW else entering[f, i]) - scalars[a, i]
                for x in range(len(faces.axes)):
                    gradient[a, i, x] += weights.velocity_owner[f, x] * change
                    if kind == FLOW:
                        gradient[b, i, x] -= weights.velocity_neighbour[f, x] * change
            elif kind == WALL or kind == INTERFACE:
                for x in range(len(faces.axes)):
                    gradient[a, i, x] -= weights.velocity_owner[f, x] * scalars[a, i]
                    if b >= 0:
                        gradient[b, i, x] -= weights.velocity_neighbour[f, x] * scalars[b, i]


@njit(cache=True, error_model="numpy", inline="always")
def heat_foot_owner(faces: Faces, weights: HeatWeights, f: int, a: int, temperature: Array, gradient: Array) -> float:
    """Temperature from where heat is conducted to the face from the owner."""
    return float(temperature[a] + change_along(faces, gradient, a, 0, weights.shift_owner, f))


@njit(cache=True, error_model="numpy", inline="always")
def heat_foot_neighbour(faces: Faces, weights: HeatWeights, f: int, b: int, temperature: Array, gradient: Array) -> float:
    """Temperature from where heat is conducted to the face from the neighbour."""
    return float(temperature[b] + change_along(faces, gradient, b, 0, weights.shift_neighbour, f))


@njit(cache=True, error_model="numpy", nogil=True)
def temperature_gradients(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    change: NextModule,
    properties: Properties,
    absorbed: Array,
    passes: int,
    gradient: Array,
) -> None:
    """Gradients of the temperature, shape (n_cells, 1, d), K/m, written to `gradient`, which begins with zeros.

    An interface temperature on a skewed grid needs a first gradient to be located; one more pass settles it.

    Args:
        faces: geometry of faces.
        given: what conditions give on faces.
        weights: least-squares weights.
        change: of temperatures from module to module.
        properties: of cells.
        absorbed: by surfaces of cavities, W/m2 (see `NetRadiation.flux`).
        passes: 1 on orthogonal grids, else 2.
        gradient: array that they are added to.
    """
    t, k = properties.temperature, properties.conductivity
    for _ in range(passes):
        old = gradient.copy()
        gradient[:] = 0.0
        for f in range(faces.owner.size):
            a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
            beyond_a = beyond_b = 0.0
            if kind == FLOW or kind == SOLID:
                beyond_a, beyond_b = t[b], t[a]
                if faces.joined[f] == 1:
                    beyond_a, beyond_b = of_next_module(change, t[b]), of_module_before(change, t[a])
            elif kind == INTERFACE:
                ta = heat_foot_owner(faces, weights, f, a, t, old)
                tb = heat_foot_neighbour(faces, weights, f, b, t, old)
                ka, kb = k[a] * weights.share_owner[f], k[b] * weights.share_neighbour[f]
                ta += on_side(absorbed, f, 0) * faces.near[f] / ka
                tb += on_side(absorbed, f, 1) * faces.far[f] / kb
                flux = (ta - tb) / (faces.near[f] / ka + given.contact[f] + faces.far[f] / kb)
                beyond_a, beyond_b = ta - flux * faces.near[f] / ka, tb + flux * faces.far[f] / kb
            else:
                ka = k[a] * weights.share_owner[f]
                foot = t[a]
                if given.thermal[f] == TEMPERATURE_GIVEN:
                    foot = heat_foot_owner(faces, weights, f, a, t, old)
                if kind == WALL:
                    foot += on_side(absorbed, f, 0) * faces.near[f] / ka
                beyond_a = foot - outer_flux(faces, given, f, foot, ka) * faces.near[f] / ka
            for x in range(len(faces.axes)):
                gradient[a, 0, x] += weights.owner[f, x] * (beyond_a - t[a])
                if b >= 0:
                    gradient[b, 0, x] += weights.neighbour[f, x] * (beyond_b - t[b])
