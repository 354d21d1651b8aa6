"""The layer next to a smooth wall as the model itself has it, from the wall to far into the logarithmic range.

Where stress is constant across a layer the model has one solution in wall units. What a first cell whose centre lies anywhere in it
needs to know is looked up by its own Reynolds number u y/ν: Kalitzin, Medic, Iaccarino and Durbin (2005, J. Comput. Phys. 204,
265). So the wall treatment is that of a resolved layer in fine cells and of the logarithmic law in coarse ones, without a switch.

The solution is found in logarithms of k and ω over that of the distance: there both are straight lines next to the wall, where ω
falls as 6ν/(β y²), and far from it.
"""

from __future__ import annotations

from functools import cache
from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.errors import SolveError
from wattikos_core.physics.faces import Array
from wattikos_core.physics.turbulence.constants import A1, ALPHA, BETA, BETA_STAR, SIGMA_K, SIGMA_OMEGA

# Distances between which it is solved, in wall units, and on how many of them.
_NEAREST, _FARTHEST, _NODES = 0.02, 1e7, 1600
_MOST_STEPS, _SOLVED = 100, 1e-9
# k rises from the wall as y to this power: n(n - 1) = 6 β*/β.
_RISE = 0.5 + np.sqrt(0.25 + 6.0 * BETA_STAR / BETA[0])


class WallLayer(NamedTuple):
    """The layer, over the logarithm of u y/ν in even steps from `start`.

    Attributes:
        distance: logarithm of y⁺.
        length: g/y √ν, where ω is 1/(β* g²): √(β/6β*) at the wall.
        production: of k times y⁴/ν³, in its logarithm.
        strain: times y²/ν, in its logarithm.
    """

    start: float
    step: float
    distance: Array
    length: Array
    production: Array
    strain: Array


class Profile(NamedTuple):
    """A layer of constant stress in wall units, shape (n,) each: distance, speed, k, ω, eddy viscosity, strain."""

    distance: Array
    speed: Array
    energy: Array
    frequency: Array
    viscosity: Array
    strain: Array


@cache
def constant_stress_layer() -> Profile:
    """The model's layer of constant stress.

    Example:
        >>> layer = constant_stress_layer()
        >>> round(float(np.interp(100.0, layer.distance, layer.speed)), 1)
        16.3
    """
    from scipy.sparse import csc_matrix
    from scipy.sparse.linalg import splu

    t = np.linspace(np.log(_NEAREST), np.log(_FARTHEST), _NODES)
    y, n = np.exp(t), t.size
    k = (1.0 / np.sqrt(BETA_STAR)) * np.minimum(1.0, (y / 12.0) ** _RISE)
    omega = np.hypot(6.0 / (BETA[0] * y**2), 1.0 / (np.sqrt(BETA_STAR) * 0.41 * y))
    found = np.concatenate([np.log(k), np.log(omega)])
    # Unknowns that are five nodes apart share no equation: one difference serves them all.
    groups = [v * n + np.arange(first, n, 5) for v in range(2) for first in range(5)]
    pace, residual = 0.1, _unbalance(found, t, y)
    for _ in range(_MOST_STEPS):
        rows, columns, slopes = [], [], []
        for group in groups:
            moved = found.copy()
            moved[group] += 1e-7
            change = (_unbalance(moved, t, y) - residual) / 1e-7
            for away in range(-2, 3):
                node = group % n + away
                inside = (node >= 0) & (node < n)
                for of in range(2):
                    rows.append(of * n + node[inside])
                    columns.append(group[inside])
                    slopes.append(change[of * n + node[inside]])
        matrix = csc_matrix((np.concatenate(slopes), (np.concatenate(rows), np.concatenate(columns))), shape=(2 * n, 2 * n))
        matrix.setdiag(matrix.diagonal() + 1.0 / pace)
        found = found + np.clip(splu(matrix).solve(-residual), -1.0, 1.0)
        before, residual = float(np.abs(residual).max()), _unbalance(found, t, y)
        now = float(np.abs(residual).max())
        if now < _SOLVED:
            break
        pace = max(pace * min(max(before / now, 0.5), 3.0), 0.05)
    else:
        raise SolveError("the layer next to walls was not found", "this is an error of the program: please report it")
    k, omega = np.exp(found[:n]), np.exp(found[n:])
    viscosity, strain = _stirred(y, k, omega)
    steps = 0.5 * np.diff(t) * (strain[1:] * y[1:] + strain[:-1] * y[:-1])
    return Profile(y, strain[0] * y[0] + np.concatenate([[0.0], np.cumsum(steps)]), k, omega, viscosity, strain)


def _stirred(y: Array, k: Array, omega: Array) -> tuple[Array, Array]:
    """Eddy viscosity and strain in wall units where the stress is one; inner constants hold, and F₂ limits the former."""
    f2 = np.tanh(np.maximum(2.0 * np.sqrt(k) / (BETA_STAR * omega * y), 500.0 / (y**2 * omega)) ** 2)
    viscosity = k / omega
    strain = 1.0 / (1.0 + viscosity)
    held = strain * f2 > A1 * omega
    slower = np.where(held, 1.0 - A1 * k / f2, strain)
    return np.where(held, A1 * k / np.maximum(slower * f2, A1 * omega), viscosity), slower


def _unbalance(found: Array, t: Array, y: Array) -> Array:
    """What is missing in the balances of k and ω, each as a share of what is dissipated."""
    n, step = t.size, float(t[1] - t[0])
    log_k, log_omega = found[:n], found[n:]
    k, omega = np.exp(log_k), np.exp(log_omega)
    viscosity, strain = _stirred(y, k, omega)

    def leaving(log: Array, sigma: float) -> Array:
        stirred = 1.0 + 0.5 * sigma * (viscosity[1:] + viscosity[:-1])
        middle = np.exp(0.5 * (log[1:] + log[:-1]) - 0.5 * (t[1:] + t[:-1]))
        flux = stirred * middle * np.diff(log) / step
        return np.concatenate([[0.0], -np.diff(flux), [0.0]]) / (step * y)

    of_k = 1.0 - viscosity * strain**2 / (BETA_STAR * k * omega) + leaving(log_k, SIGMA_K[0]) / (BETA_STAR * k * omega)
    of_omega = 1.0 - ALPHA[0] * strain**2 / (BETA[0] * omega**2) + leaving(log_omega, SIGMA_OMEGA[0]) / (BETA[0] * omega**2)
    of_k[0], of_omega[0] = (log_k[1] - log_k[0]) / step - _RISE, log_omega[0] - np.log(6.0 / (BETA[0] * y[0] ** 2))
    of_k[-1], of_omega[-1] = (log_k[-1] - log_k[-2]) / step, (log_omega[-1] - log_omega[-2]) / step + 1.0
    return np.concatenate([of_k, of_omega])


@cache
def wall_layer() -> WallLayer:
    """The layer as it is looked up."""
    layer = constant_stress_layer()
    y = layer.distance
    reynolds = np.log(layer.speed * y)
    evenly = np.linspace(float(reynolds[0]), float(reynolds[-1]), 2 * _NODES)
    values = (
        np.log(y),
        1.0 / np.sqrt(BETA_STAR * layer.frequency) / y,
        np.log(layer.viscosity * layer.strain**2 * y**4),
        np.log(layer.strain * y**2),
    )
    return WallLayer(float(evenly[0]), float(evenly[1] - evenly[0]), *(np.interp(evenly, reynolds, value) for value in values))


@njit(cache=True, error_model="numpy", inline="always")
def layer_place(layer: WallLayer, reynolds: float) -> tuple[int, float]:
    """Where a first cell stands in the layer by its u y/ν: the entry below, and the share of the way to the next."""
    place = (np.log(reynolds) - layer.start) / layer.step if reynolds > 0.0 else -1.0
    if not place > 0.0:
        return 0, 0.0
    below = min(int(place), layer.distance.size - 2)
    return below, place - below


@njit(cache=True, error_model="numpy", inline="always")
def between(values: Array, place: tuple[int, float]) -> float:
    """A value of the layer at a place."""
    return float(values[place[0]] + place[1] * (values[place[0] + 1] - values[place[0]]))


@njit(cache=True, error_model="numpy", nogil=True)
def wall_distance_plus(layer: WallLayer, reynolds: float) -> float:
    """y⁺ of a first cell by its u y/ν; the root of it where the layer is viscous."""
    place = layer_place(layer, reynolds)
    if place[0] == 0 and place[1] == 0.0:
        return float(np.sqrt(max(reynolds, 0.0)))
    return float(np.exp(between(layer.distance, place)))


@njit(cache=True, error_model="numpy", nogil=True)
def kader_temperature(distance: float, prandtl: float) -> float:
    """Temperature of the wall over that of the fluid in wall units: Kader (1981, Int. J. Heat Mass Transfer 24, 1541), eq. 33.

    Args:
        distance: y⁺.
        prandtl: of the fluid.
    """
    viscous = prandtl * distance
    gamma = 0.01 * viscous**4 / (1.0 + 5.0 * distance * prandtl**3)
    level = (3.85 * prandtl ** (1.0 / 3.0) - 1.3) ** 2 + 2.12 * np.log(prandtl)
    far = 2.12 * np.log(1.0 + distance) + level
    return float(viscous * np.exp(-gamma) + (far * np.exp(-1.0 / gamma) if gamma > 0.0 else 0.0))
