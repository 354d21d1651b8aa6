"""Radiation between the surfaces of cavities: what every face of them absorbs at given temperatures.

A surface is where conduction from both its sides meets what it absorbs: q = ε (H - σ T⁴) and what else shines on it. Irradiations H
of pieces and temperatures of faces are found together, by a fixed point where gas insulates little, else by Newton's method.

In a module that repeats all temperatures rise by the same from one to the next, and T⁴ does not repeat: it is taken as linear about
the mean temperature of the surfaces, T_m³ (4 T - 3 T_m), and pieces see those of the modules before and behind as much colder or
warmer as these are.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numba import njit

from wattikos_core.physics.cavities import CELL_BEYOND, OWN_CELL, SURFACE, Cavity, OfFaces
from wattikos_core.physics.faces import TEMPERATURE_GIVEN, Array, Faces, Given, HeatWeights
from wattikos_core.physics.gradients import heat_foot_neighbour, heat_foot_owner
from wattikos_core.physics.surfaces import (
    NetRadiation,
    no_radiation,
    outer_flux,
    surface_conductance,
    surface_temperature,
)
from wattikos_core.radiation import STEFAN_BOLTZMANN

_MOST_FIXED_POINTS, _MOST_NEWTON = 60, 30
_CONVERGED = 1e-13
_MOST_OF_ONE_FACE = 50
# Up to this share of its irradiation that a change of it brings about again, a fixed point is found without a matrix.
_WEAK = 0.25


def radiated(
    cavities: Sequence[Cavity],
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    temperature: Array,
    conductivity: Array,
    gradient: Array,
    rise: float = 0.0,
) -> NetRadiation:
    """What surfaces absorb by radiation on the balance at temperatures of cells.

    Args:
        cavities: of the problem.
        faces: geometry of faces.
        given: what conditions give on faces.
        weights: how heat is conducted to faces.
        temperature: of cells, K.
        conductivity: of cells, W/m/K.
        gradient: of the temperature in cells, K/m, shape (n_cells, 1, d).
        rise: of temperatures from module to module, K, where any repeats.
    """
    found = no_radiation(faces.owner.size)
    for cavity in cavities:
        count = len(cavity.irradiation)
        arriving, about = np.zeros(count), _mean_beside(faces, cavity.faces, temperature) if cavity.ahead is not None else 0.0
        for step in range(_MOST_FIXED_POINTS + _MOST_NEWTON):
            emitted, slope = np.zeros(count), np.zeros(count)
            first = step == 0
            moved, mean = _absorb(
                faces,
                given,
                weights,
                cavity.faces,
                temperature,
                conductivity,
                gradient,
                arriving,
                first,
                about,
                *found,
                emitted,
                slope,
            )
            missing: Array = cavity.irradiation @ emitted - arriving
            settled = True
            if cavity.ahead is not None:
                missing += 4.0 * STEFAN_BOLTZMANN * about**3 * rise * cavity.ahead
                settled, about = abs(mean - about) <= _CONVERGED * about, mean
            if not first and settled and max(float(np.abs(missing).max()), moved) <= _CONVERGED * float(np.abs(arriving).max()):
                break
            if not np.isfinite(missing).all():
                # Of temperatures that are none: the step that led there is taken back.
                break
            strongest = float((cavity.irradiation @ slope).max())
            if not first and (strongest > _WEAK or step > _MOST_FIXED_POINTS):
                missing[:] = np.linalg.solve(np.eye(count) - cavity.irradiation * slope, missing)
            arriving += missing
    return found


def _mean_beside(faces: Faces, cavity: OfFaces, temperature: Array) -> float:
    """Mean temperature of the cells beside the faces of a cavity, K."""
    cell = np.where(cavity.side == 0, faces.owner[cavity.face], faces.neighbour[cavity.face])
    return float(np.average(temperature[cell], weights=faces.area[cavity.face]))


@njit(cache=True, error_model="numpy", inline="always")
def _fourth_power(t: float, about: float) -> float:
    """T⁴, or its tangent at `about` (K) where that is not zero."""
    return t**4 if about == 0.0 else about**3 * (4.0 * t - 3.0 * about)


@njit(cache=True, error_model="numpy", inline="always")
def _four_cubes(t: float, about: float) -> float:
    """The derivative of that."""
    return 4.0 * abs(t if about == 0.0 else about) ** 3


@njit(cache=True, error_model="numpy", nogil=True)
def _absorb(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    cavity: OfFaces,
    temperature: Array,
    conductivity: Array,
    gradient: Array,
    arriving: Array,
    first: bool,
    about: float,
    flux: Array,
    conductance: Array,
    emitted: Array,
    slope: Array,
) -> tuple[float, float]:
    """Balance of every face at irradiations of pieces: what it absorbs, how much less where it is warmer, what pieces emit.

    Returns:
        the largest change of a flux, W/m2, and the mean temperature of the faces, K.
    """
    largest = warmth = whole = 0.0
    for k in range(cavity.face.size):
        f, side, p, e = cavity.face[k], cavity.side[k], cavity.piece[k], cavity.emissivity[k] * STEFAN_BOLTZMANN
        share, absorbs = cavity.share[k], cavity.emissivity[k] * arriving[p] + cavity.absorbed[k]
        if cavity.what[k] != SURFACE:
            a, b = faces.owner[f], faces.neighbour[f]
            t = given.temperature[f]
            if cavity.what[k] == OWN_CELL or (cavity.what[k] == CELL_BEYOND and side == 1):
                t = temperature[a]
            elif cavity.what[k] == CELL_BEYOND:
                t = temperature[b]
            flux[f, side] = absorbs - e * _fourth_power(t, about)
            emitted[p] += share * e * _fourth_power(t, about)
            warmth, whole = warmth + faces.area[f] * t, whole + faces.area[f]
            continue
        q = 0.0 if first else flux[f, side]
        before = q
        t = resistance = 0.0
        if first:
            # Before anything is known to arrive, a face emits at the temperature it has without radiation.
            t, resistance = _surface(faces, given, weights, temperature, conductivity, gradient, f, side, 0.0, flux)
        else:
            for _ in range(_MOST_OF_ONE_FACE):
                t, resistance = _surface(faces, given, weights, temperature, conductivity, gradient, f, side, q, flux)
                change = (absorbs - e * _fourth_power(t, about) - q) / (1.0 + e * _four_cubes(t, about) * resistance)
                q += change
                if abs(change) <= 1e-14 * (abs(absorbs) + e * abs(_fourth_power(t, about))):
                    break
        flux[f, side] = q
        conductance[f, side] = e * _four_cubes(t, about)
        emitted[p] += share * e * _fourth_power(t, about)
        warmth, whole = warmth + faces.area[f] * t, whole + faces.area[f]
        by_arriving = resistance * cavity.emissivity[k] / (1.0 + conductance[f, side] * resistance)
        slope[p] += share * conductance[f, side] * by_arriving
        largest = max(largest, abs(q - before))
    return largest, warmth / whole


@njit(cache=True, error_model="numpy", nogil=True)
def _surface(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    temperature: Array,
    conductivity: Array,
    gradient: Array,
    f: int,
    side: int,
    q: float,
    flux: Array,
) -> tuple[float, float]:
    """Temperature of a surface that absorbs q (W/m2), K, and by how much it rises with q, m2 K/W."""
    a, b = faces.owner[f], faces.neighbour[f]
    ta = heat_foot_owner(faces, weights, f, a, temperature, gradient)
    ka = conductivity[a] * weights.share_owner[f]
    near = faces.near[f] / ka
    if b < 0:
        foot = ta + q * near
        t = foot - outer_flux(faces, given, f, foot, ka) * near
        if given.thermal[f] == TEMPERATURE_GIVEN:
            outside = given.contact[f]
            return t, near * outside / (near + outside)
        skin = surface_temperature(faces, given, f, foot, ka)
        seen = surface_conductance(faces, given, f, skin, ka)
        return t, near - near * near * seen
    tb = heat_foot_neighbour(faces, weights, f, b, temperature, gradient)
    far = faces.far[f] / (conductivity[b] * weights.share_neighbour[f])
    # What the surface on the other side absorbs, where two gases meet at a thin wall.
    if side == 0:
        tb += flux[f, 1] * far
        own, other, one, two = near, far + given.contact[f], ta, tb
    else:
        ta += flux[f, 0] * near
        own, other, one, two = far, near + given.contact[f], tb, ta
    both = own * other / (own + other)
    return both * (one / own + two / other + q), both
