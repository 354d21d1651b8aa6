"""Laminar flow in pipes and annuli: developed Nusselt numbers, entry and friction, found from the profile of velocity itself.

The profile is that of Shah and London (1978), chapter XII; developed temperatures follow from it by quadrature (one heat flux) or
as the slowest of the decaying ones (one temperature); means over a length from the temperatures along the stream, marched. A pipe
is an annulus of ratio 0, plates nearly one of ratio 1. Everything is on the hydraulic diameter, the gap twice.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
# The walls that give heat; the other one is insulated.
Walls = Literal["inner", "outer", "both"]

# Thinner rods than this share of the pipe are wires, whose film depends on how they are held in its middle.
LEAST_RATIO = 1e-3
# Flat from here on.
_FLAT = 0.999
_CELLS = 400
# Dimensionless lengths that means are marched to, and how many of them.
_FIRST, _LAST, _STATIONS = 1e-6, 0.4, 300
_FIRST_LOG, _STEP_LOG = math.log(_FIRST), math.log(_LAST / _FIRST) / (_STATIONS - 1)
_RATIOS = np.geomspace(LEAST_RATIO, _FLAT, 41)
_LEAST_LOG, _BETWEEN_LOG = math.log(LEAST_RATIO), math.log(_FLAT / LEAST_RATIO) / 40
_STAGE = 1.0 - math.sqrt(0.5)


def velocity(ratio: float, radius: Array) -> Array:
    """Developed velocity over its mean at radii, in outer radii, of an annulus with a ratio of radii below 1, or a pipe."""
    if ratio == 0.0:
        return np.asarray(2.0 * (1.0 - radius**2))
    b = (1.0 - ratio**2) / math.log(1.0 / ratio)
    mean = 1.0 + ratio**2 - b
    return np.asarray(2.0 / mean * (1.0 - radius**2 + b * np.log(radius)))


def friction_reynolds(ratio: float) -> float:
    """Developed Darcy friction factor times Reynolds number."""
    if ratio > _FLAT or ratio == 0.0:
        return 96.0 if ratio else 64.0
    b = (1.0 - ratio**2) / math.log(1.0 / ratio)
    return 64.0 * (1.0 - ratio) ** 2 / (1.0 + ratio**2 - b)


@dataclass(frozen=True)
class _Layers:
    """Rings of an annulus in outer radii: their areas, what they carry, and conductances between them and to the walls."""

    area: Array
    carried: Array
    between: Array
    to_inner: float
    to_outer: float


def _nodes(ratio: float, share: Array) -> Array:
    """Radii between rings, at shares of the way from the inner wall, or the axis, to the outer one."""
    return np.asarray(ratio ** (1.0 - share) if ratio else share)


def _layers(ratio: float, nodes: Array) -> _Layers:
    middle, area = np.sqrt(nodes[1:] * nodes[:-1]), 0.5 * np.diff(nodes**2)
    if ratio == 0.0:
        middle[0] = 0.5 * nodes[1]
    carried = velocity(ratio, middle) * area
    # Heat passes rings as the logarithm of their radii.
    between = 1.0 / np.log(middle[1:] / middle[:-1])
    to_inner = 1.0 / math.log(middle[0] / nodes[0]) if ratio else 0.0
    to_outer = 1.0 / math.log(nodes[-1] / middle[-1])
    return _Layers(area, carried * area.sum() / carried.sum(), between, to_inner, to_outer)


def _perimeters(ratio: float) -> dict[str, tuple[float, float]]:
    return {"inner": (ratio, 0.0), "outer": (0.0, 1.0), "both": (ratio, 1.0)}


@lru_cache(maxsize=256)
def developed_nusselt(ratio: float, walls: Walls, *, flux: bool) -> float:
    """Developed Nu where walls give one heat flux, or are at one temperature; over both of them where both do.

    Args:
        ratio: of the inner to the outer diameter; 0 for a pipe, 1 for plates.
        walls: which walls heat: `inner`, `outer` or `both`.
        flux: share of one heat flux: 1 all along, 0 for one temperature.
    """
    ratio = min(ratio, _FLAT)
    layers = _layers(ratio, _nodes(ratio, np.linspace(0.0, 1.0, _CELLS + 1)))
    given = _perimeters(ratio)[walls]
    perimeter, whole, width = sum(given), float(layers.area.sum()), 2.0 * (1.0 - ratio)
    if not flux:
        inner, outer = layers.to_inner * (given[0] > 0.0), layers.to_outer * (given[1] > 0.0)
        return width * _slowest(layers, inner, outer) * whole / perimeter
    passing = given[0] - np.cumsum(layers.carried / whole * perimeter)[:-1]
    t = np.concatenate([[0.0], np.cumsum(-passing / layers.between)])
    bulk = float((layers.carried * t).sum() / whole)
    surfaces = (t[0] + (given[0] / layers.to_inner if given[0] else 0.0), t[-1] + given[1] / layers.to_outer)
    return float(width * perimeter / sum(share * (surface - bulk) for share, surface in zip(given, surfaces, strict=True)))


def _slowest(layers: _Layers, inner: float, outer: float) -> float:
    """The slowest decay along the stream of temperatures that end at walls which hold theirs."""
    from scipy.linalg import eigh_tridiagonal

    diagonal = np.concatenate([[inner], layers.between]) + np.concatenate([layers.between, [outer]])
    root = np.sqrt(layers.carried)
    beside = -layers.between / (root[1:] * root[:-1])
    values = eigh_tridiagonal(diagonal / layers.carried, beside, select="i", select_range=(0, 0), eigvals_only=True)
    return float(values[0])


def mean_nusselt(ratio: float, x_star: float, walls: Walls, *, flux: bool) -> float:
    """Mean Nu over a length from where heat begins, velocity developed: Q / ∫(T_w - T_b) dA, or of the log-mean difference.

    Args:
        ratio: inner over outer diameter.
        x_star: length over hydraulic diameter, Reynolds and Prandtl number.
        walls: which walls heat.
        flux: share of one heat flux: 1 all along, 0 for one temperature.
    """
    ratio = min(ratio, _FLAT)
    if x_star >= _LAST:
        # What the entry adds to the whole is shared by all of the length.
        developed = developed_nusselt(ratio, walls, flux=flux)
        return developed + (mean_nusselt(ratio, 0.999 * _LAST, walls, flux=flux) - developed) * _LAST / x_star
    # Places are evenly apart in the logarithm. Before the first one it falls with the cube root of the length (Lévêque 1928).
    at = (math.log(x_star) - _FIRST_LOG) / _STEP_LOG
    before = math.exp(-at * _STEP_LOG / 3.0) if at < 0.0 else 1.0
    i = min(max(int(at), 0), _STATIONS - 2)
    share = min(max(at - i, 0.0), 1.0)
    return before * math.exp((1.0 - share) * _log_between(ratio, i, walls, flux) + share * _log_between(ratio, i + 1, walls, flux))


def _log_between(ratio: float, place: int, walls: Walls, flux: bool) -> float:
    """Logarithm of the mean at a place, between those of two ratios that are kept: what varies by hand asks for thousands."""
    if ratio == 0.0:
        return _log_means(-1, walls, flux)[place]
    at = (math.log(ratio) - _LEAST_LOG) / _BETWEEN_LOG
    k = min(max(int(at), 0), _RATIOS.size - 2)
    share = min(max(at - k, 0.0), 1.0)
    return (1.0 - share) * _log_means(k, walls, flux)[place] + share * _log_means(k + 1, walls, flux)[place]


@lru_cache(maxsize=512)
def _log_means(k: int, walls: Walls, flux: bool) -> list[float]:
    """Logarithms of the means of the k-th of the ratios that are kept, or of a pipe (-1)."""
    return [float(x) for x in np.log(_means(0.0 if k < 0 else float(_RATIOS[k]), walls, flux))]


def _means(ratio: float, walls: Walls, flux: bool) -> Array:
    """Mean Nu at dimensionless lengths, from the temperatures along an annulus, marched implicitly."""
    from scipy.linalg import solve_banded

    layers = _layers(ratio, _nodes(ratio, 0.5 * (1.0 - np.cos(np.linspace(0.0, np.pi, _CELLS // 2 + 1)))))
    given = _perimeters(ratio)[walls]
    perimeter, whole, width = sum(given), float(layers.area.sum()), 2.0 * (1.0 - ratio)
    inner, outer = (0.0, 0.0) if flux else (layers.to_inner * (given[0] > 0.0), layers.to_outer * (given[1] > 0.0))
    diagonal = np.concatenate([[inner], layers.between]) + np.concatenate([layers.between, [outer]])
    banded = np.zeros((3, diagonal.size))
    banded[0, 1:] = banded[2, :-1] = -layers.between
    entering = np.zeros(diagonal.size)
    entering[0], entering[-1] = given if flux else (0.0, 0.0)
    places = np.geomspace(_FIRST, _LAST, _STATIONS)
    t = np.zeros(diagonal.size) if flux else np.ones(diagonal.size)
    numbers, excess = [], 0.0
    for step, place in zip(np.diff(places, prepend=0.0) * width**2, places * width**2, strict=True):
        # Two stages of second order that damp what is fast (Alexander 1977).
        storing = layers.carried / (_STAGE * step)
        banded[1] = diagonal + storing
        stage = solve_banded((1, 1), banded, storing * t + entering)
        t = solve_banded((1, 1), banded, storing * (t + (1.0 - _STAGE) / _STAGE * (stage - t)) + entering)
        bulk = float((layers.carried * t).sum() / whole)
        if flux:
            surfaces = (t[0] + (given[0] / layers.to_inner if given[0] else 0.0), t[-1] + given[1] / layers.to_outer)
            excess += step * sum(share * (surface - bulk) for share, surface in zip(given, surfaces, strict=True))
            numbers.append(width * perimeter * place / excess)
        else:
            numbers.append(-math.log(bulk) * whole / (perimeter * place) * width)
    return np.array(numbers)
