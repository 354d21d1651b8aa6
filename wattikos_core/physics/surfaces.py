"""What surfaces take on: temperatures and fluxes of outer ones, pressures on outlets, and what changes from module to module."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.faces import OUTLET, TEMPERATURE_GIVEN, TOTAL_PRESSURE, Array, Faces, Given
from wattikos_core.radiation import STEFAN_BOLTZMANN

_MOST_BALANCING = 200


class NextModule(NamedTuple):
    """What a temperature T is one module further on: about + ratio (T - about) + rise, K; itself where nothing repeats."""

    ratio: float = 1.0
    rise: float = 0.0
    about: float = 0.0


class NetRadiation(NamedTuple):
    """What surfaces of cavities absorb from each other, by face and side (0 the owner's, 1 the neighbour's).

    Attributes:
        flux: W/m2, shape (n_faces, 2), or (0, 2) where nothing radiates.
        conductance: by how much less a warmer surface absorbs, W/m2/K, in the same shape.
    """

    flux: Array
    conductance: Array


def no_radiation(n_faces: int = 0) -> NetRadiation:
    """Nothing absorbed on so many faces."""
    return NetRadiation(np.zeros((n_faces, 2)), np.zeros((n_faces, 2)))


@njit(cache=True, error_model="numpy", inline="always")
def on_side(values: Array, f: int, side: int) -> float:
    """What a face has on a side, zero where there is no radiation at all."""
    return float(values[f, side]) if values.shape[0] > 0 else 0.0


@njit(cache=True, error_model="numpy", inline="always")
def of_next_module(change: NextModule, t: float) -> float:
    """What a temperature is one module further on."""
    return float(change.about + change.ratio * (t - change.about) + change.rise)


@njit(cache=True, error_model="numpy", inline="always")
def of_module_before(change: NextModule, t: float) -> float:
    """What a temperature is one module further back."""
    return float(change.about + (t - change.about - change.rise) / change.ratio)


@njit(cache=True, error_model="numpy", nogil=True)
def surface_temperature(faces: Faces, given: Given, f: int, foot: float, k: float) -> float:
    """Temperature of an outer surface where conduction from inside meets flux, convection and radiation.

    Where a coating lies on the surface, this is its outside; `k` is the conductivity along the normal.
    """
    inside = 1.0 / (faces.near[f] / k + given.contact[f])
    h, emission = given.coefficient[f], given.emissivity[f] * STEFAN_BOLTZMANN
    if h == 0.0 and emission == 0.0:
        return float(foot + given.heat_flux[f] / inside)
    surface = foot
    # From far below, the first Newton step overshoots (T⁴), and each further one comes back by a quarter.
    for _ in range(_MOST_BALANCING):
        arriving = given.heat_flux[f] + h * (given.ambient[f] - surface)
        arriving += emission * (given.surroundings[f] ** 4 - surface**4)
        change = (arriving - inside * (surface - foot)) / (inside + h + 4.0 * emission * abs(surface) ** 3)
        surface += change
        if abs(change) < 1e-11 * abs(surface):
            break
    return surface


@njit(cache=True, error_model="numpy", nogil=True)
def outer_flux(faces: Faces, given: Given, f: int, foot: float, k: float) -> float:
    """Heat flux out of the section through an outer face, from its foot temperature, W/m2."""
    inside = faces.near[f] / k + given.contact[f]
    if given.thermal[f] == TEMPERATURE_GIVEN:
        return float((foot - given.temperature[f]) / inside)
    return float((foot - surface_temperature(faces, given, f, foot, k)) / inside)


@njit(cache=True, error_model="numpy", nogil=True)
def surface_conductance(faces: Faces, given: Given, f: int, t: float, k: float) -> float:
    """What a cell sees of a given temperature or of the surroundings beyond an outer surface, W/m2/K."""
    if given.thermal[f] == TEMPERATURE_GIVEN:
        return float(1.0 / (faces.near[f] / k + given.contact[f]))
    outside = given.coefficient[f] + 4.0 * given.emissivity[f] * STEFAN_BOLTZMANN * abs(t) ** 3
    if outside == 0.0:
        return 0.0
    return float(1.0 / (faces.near[f] / k + given.contact[f] + 1.0 / outside))


@njit(cache=True, error_model="numpy", inline="always")
def outlet_pressure(given: Given, f: int, rho: float, across: float) -> float:
    """Pressure on a face where it is given; a total one less the head of what enters."""
    if given.fed[f] >= TOTAL_PRESSURE and across < 0.0:
        return float(given.pressure[f] - 0.5 * rho * across * across)
    return float(given.pressure[f])


@njit(cache=True, error_model="numpy", nogil=True)
def outlet_heads(faces: Faces, given: Given, density: Array, angular_velocity: Array) -> Array:
    """Pressure on outlet faces beyond the one given, Pa: what holds swirling fluid on its way, ∂p/∂r = ρ ω² r; zero on the mean.

    One pressure all over an outlet would push swirling fluid back in near its axis, or near the wall that turns less.
    """
    heads = np.zeros(faces.owner.size)
    leaving = np.nonzero(faces.kind == OUTLET)[0]
    order = leaving[np.argsort(faces.radius[leaving])]
    for first in range(order.size):
        group = given.outlet[order[first]]
        # Once for each outlet: from its innermost face.
        if np.any(given.outlet[order[:first]] == group):
            continue
        head = before = place = whole = mean = 0.0
        for f in order[first:]:
            if given.outlet[f] != group:
                continue
            a, r = faces.owner[f], faces.radius[f]
            pull = density[a] * angular_velocity[a] ** 2 * r
            head += 0.5 * (pull + before) * (r - place) if whole > 0.0 else 0.0
            before, place = pull, r
            heads[f] = head
            whole += faces.area[f]
            mean += faces.area[f] * head
        for f in order[first:]:
            if given.outlet[f] == group:
                heads[f] -= mean / whole
    return heads
