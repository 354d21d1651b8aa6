"""Rough walls: the model's own layer of constant stress, which begins where a smooth one would already be some way from its wall.

A layer that is moved by a distance d is one as well: u⁺(y⁺ + d⁺) - u⁺(d⁺), with the k and ω of there (the idea of Rotta 1962, Prog.
Aerosp. Sci. 2, 1). d⁺ follows from by how much roughness lowers the logarithmic law: Δu⁺ = 1/κ ln(1 + k_s⁺/c), as Colebrook (1939)
has it between smooth and fully rough (Grigson 1992, J. Ship Res. 36, 182), with the c by which the law of the fully rough wall is
that of Nikuradse (1933), 1/κ ln(y/k_s) + 8.5. So the law is met by the model as it is, its stress limiter included; the ω that
Wilcox gives rough walls of the k-ω model is not.
"""

from __future__ import annotations

from functools import cache
from typing import NamedTuple

import numpy as np
from numba import njit

from wattikos_core.physics.faces import Array
from wattikos_core.physics.turbulence.constants import BETA_STAR, SIGMA_K
from wattikos_core.physics.turbulence.wall_layer import constant_stress_layer, kader_temperature

# Constant of the logarithmic law of fully rough walls (Nikuradse 1933).
FULLY_ROUGH = 8.5
# By how much of its roughness a wall moves its layer: fully rough, and at the most, where it is hardly rough.
MOVED_FULLY_ROUGH, MOVED_AT_MOST = 0.03, 0.65
# y⁺ is found to this share of itself, in so many steps at most.
_FOUND, _MOST_STEPS = 1e-12, 100
_NODES = 3200


class RoughLayer(NamedTuple):
    """The layer over the logarithm of y⁺ in even steps from `start`.

    Attributes:
        speed: u⁺.
        length: (β* ω⁺)^-½, g in wall units, in its logarithm.
        production: of k, in its logarithm.
        passing: what of k diffuses towards the wall, (1 + σ_k ν_t⁺) dk⁺/dy⁺.
        strain: S⁺, in its logarithm.
        moved: logarithm of d⁺, over that of k_s⁺ in even steps from `rough_start`.
    """

    start: float
    step: float
    speed: Array
    length: Array
    production: Array
    passing: Array
    strain: Array
    rough_start: float
    rough_step: float
    moved: Array


@cache
def rough_layer() -> RoughLayer:
    """The layer as it is looked up, and how far roughness moves it."""
    layer = constant_stress_layer()
    y = layer.distance
    far = np.nonzero(y > 1e5)[0]
    by_log, constant = np.polyfit(np.log(y[far]), layer.speed[far], 1)
    height = np.exp((FULLY_ROUGH - constant) / by_log)
    roughness = np.exp(np.linspace(np.log(1e-2), np.log(1e6), _NODES))
    moved = np.exp(np.interp(by_log * np.log1p(roughness / height), layer.speed, np.log(y)))
    evenly = np.linspace(float(np.log(y[0])), float(np.log(y[-1])), _NODES)

    def at(values: Array) -> Array:
        return np.interp(evenly, np.log(y), values)

    passing = (1.0 + SIGMA_K[0] * layer.viscosity) * np.gradient(layer.energy, y)
    ends = np.log(roughness)
    return RoughLayer(
        float(evenly[0]),
        float(evenly[1] - evenly[0]),
        at(layer.speed),
        at(-0.5 * np.log(BETA_STAR * layer.frequency)),
        at(np.log(layer.viscosity * layer.strain**2)),
        at(passing),
        at(np.log(layer.strain)),
        float(ends[0]),
        float(ends[1] - ends[0]),
        np.log(moved),
    )


@njit(cache=True, error_model="numpy", inline="always")
def _looked_up(values: Array, start: float, step: float, logarithm: float) -> float:
    place = min(max((logarithm - start) / step, 0.0), values.size - 1.0)
    below = min(int(place), values.size - 2)
    return float(values[below] + (place - below) * (values[below + 1] - values[below]))


@njit(cache=True, error_model="numpy", inline="always")
def _speed(layer: RoughLayer, plus: float) -> float:
    """u⁺ of the smooth layer; next to the wall it is y⁺."""
    logarithm = np.log(plus) if plus > 0.0 else -np.inf
    return plus if logarithm < layer.start else _looked_up(layer.speed, layer.start, layer.step, logarithm)


@njit(cache=True, error_model="numpy", nogil=True)
def moved_by(layer: RoughLayer, roughness: float) -> float:
    """d⁺ of a wall by its k_s⁺; both go to zero together."""
    logarithm = np.log(roughness) if roughness > 0.0 else -np.inf
    if logarithm < layer.rough_start:
        return float(roughness * np.exp(layer.moved[0] - layer.rough_start))
    return float(np.exp(_looked_up(layer.moved, layer.rough_start, layer.rough_step, logarithm)))


@njit(cache=True, error_model="numpy", nogil=True)
def rough_distance_plus(layer: RoughLayer, reynolds: float, ratio: float) -> float:
    """y⁺ of a cell beside a rough wall.

    Args:
        layer: see `rough_layer`.
        reynolds: u y/ν of the cell.
        ratio: k_s/y.

    Example:
        >>> layer = rough_layer()
        >>> 100.0 < rough_distance_plus(layer, 1629.0, 1.0)
        True
    """
    if not reynolds > 0.0:
        return 0.0
    high = 0.5 * np.log(reynolds)
    # A viscous layer is the one of least stress.
    for _ in range(_MOST_STEPS):
        if _excess(layer, high, reynolds, ratio) > 0.0:
            break
        high += 1.0
    low = high - 1.0
    for _ in range(_MOST_STEPS):
        if _excess(layer, low, reynolds, ratio) < 0.0:
            break
        low -= 1.0
    at_low, at_high = _excess(layer, low, reynolds, ratio), _excess(layer, high, reynolds, ratio)
    # False position, weighted as in the Illinois algorithm (Dowell and Jarratt 1971, BIT 11, 168).
    for _ in range(_MOST_STEPS):
        middle = high - at_high * (high - low) / (at_high - at_low)
        found = _excess(layer, middle, reynolds, ratio)
        if abs(found) < _FOUND or high - low < _FOUND:
            return float(np.exp(middle))
        if found * at_high < 0.0:
            low, at_low = high, at_high
        else:
            at_low *= 0.5
        high, at_high = middle, found
    return float(np.exp(high))


@njit(cache=True, error_model="numpy", inline="always")
def _excess(layer: RoughLayer, logarithm: float, reynolds: float, ratio: float) -> float:
    plus = np.exp(logarithm)
    moved = moved_by(layer, ratio * plus)
    return float(np.log(plus * (_speed(layer, plus + moved) - _speed(layer, moved)) / reynolds))


class RoughCell(NamedTuple):
    """What a cell beside a rough wall has of its layer, in wall units: g, S⁺, production of k, and its temperature."""

    length: float
    strain: float
    production: float
    temperature: float


@njit(cache=True, error_model="numpy", nogil=True)
def rough_cell(layer: RoughLayer, plus: float, ratio: float, prandtl: float) -> RoughCell:
    """What the layer is like at a cell's centre; see `RoughCell`.

    What of k passes the wall is taken off its production, which so keeps the layer's k in a cell twice as thick as its centre is
    far. Between the wall and the height of the roughness temperature falls by 5.19 k_s⁺^0.2 Pr^0.44 wall units (Dipprey and
    Sabersky 1963, Int. J. Heat Mass Transfer 6, 329; from memory), but by no more than it would at a smooth wall.

    Args:
        layer: see `rough_layer`.
        plus: y⁺ of the centre.
        ratio: k_s/y.
        prandtl: of the fluid.
    """
    roughness = ratio * plus
    moved = moved_by(layer, roughness)
    here = np.log(plus + moved)
    production = np.exp(_looked_up(layer.production, layer.start, layer.step, here))
    production -= _looked_up(layer.passing, layer.start, layer.step, np.log(moved)) / (2.0 * plus)
    smooth = kader_temperature(roughness + moved, prandtl)
    at_crest = min(5.19 * roughness**0.2 * prandtl**0.44, smooth)
    at_wall = max(at_crest - smooth + kader_temperature(moved, prandtl), 0.0)
    temperature = kader_temperature(plus + moved, prandtl) - kader_temperature(moved, prandtl) + at_wall
    return RoughCell(
        np.exp(_looked_up(layer.length, layer.start, layer.step, here)),
        np.exp(_looked_up(layer.strain, layer.start, layer.step, here)),
        max(production, 0.0),
        temperature,
    )
