"""What enters as out of a long duct: speed, k and g over an inlet between walls, near enough to how the model has them itself.

Next to the wall it is the model's layer of constant stress; further off stress falls evenly to where it is zero, and the eddy
viscosity of the layer is held back as Reichardt (1951, Z. angew. Math. Mech. 31, 208) found it in pipes and between plates:
κ/6 (1 - ρ²)(1 + 2ρ²) u_τ R, with ρ the share of the way from the middle to the wall.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from scipy.optimize import brentq

from wattikos_core.boundaries.profiles import Across
from wattikos_core.physics.faces import Array
from wattikos_core.physics.turbulence.constants import BETA_STAR
from wattikos_core.physics.turbulence.wall_layer import constant_stress_layer

# k in the middle is this share of what it would be in a layer of constant stress (our own solutions).
_IN_THE_MIDDLE = 0.25
_NODES = 400


class Profile(NamedTuple):
    """Over the distance from a wall to where stress is zero: distance, speed, k and g, SI, shape (n,) each."""

    distance: Array
    speed: Array
    energy: Array
    length: Array


def developed_profile(width: float, mean_speed: float, viscosity: float, *, wide: bool) -> Profile:
    """Flow along a wall whose stress ends at a distance from it.

    Args:
        width: that distance, m: the radius of a pipe, half the way between plates.
        mean_speed: m/s.
        viscosity: kinematic, m2/s.
        wide: of plates; else of a pipe, in which the outside counts for more.

    Example:
        >>> profile = developed_profile(0.01, 1.0, 1e-6, wide=False)
        >>> round(float(profile.speed[-1]), 2)
        1.22
    """
    wanted = mean_speed * width / viscosity

    def excess(logarithm: float) -> float:
        reynolds = float(np.exp(logarithm))
        return float(np.log(reynolds * _mean(_in_wall_units(reynolds), wide) / wanted))

    reynolds = float(np.exp(brentq(excess, 0.0, float(np.log(wanted)) + 1.0)))
    plus, speed, energy, frequency = _in_wall_units(reynolds)
    friction = reynolds * viscosity / width
    length = np.sqrt(viscosity / (BETA_STAR * frequency)) / friction
    return Profile(plus * width / reynolds, speed * friction, energy * friction**2, length)


def _in_wall_units(reynolds: float) -> tuple[Array, Array, Array, Array]:
    """Distance, speed, k and ω from the wall to where stress is zero, by the Reynolds number u_τ R/ν of that way."""
    layer = constant_stress_layer()
    plus = np.concatenate([[0.0], np.geomspace(min(0.02, 1e-3 * reynolds), reynolds, _NODES)])
    log, share = np.log(np.maximum(plus, layer.distance[0])), plus / reynolds
    near = np.log(layer.distance)
    rest = np.maximum(share, 1e-12)
    middle = 1.0 - share
    held_back = np.where(share > 0.0, (1.0 - middle**2) * (1.0 + 2.0 * middle**2) / (6.0 * rest), 1.0)
    viscosity = np.interp(log, near, layer.viscosity) * held_back
    energy = np.interp(log, near, layer.energy) * (1.0 - (1.0 - _IN_THE_MIDDLE) * share)
    frequency = np.exp(np.interp(log, near, np.log(layer.frequency))) * (1.0 - (1.0 - _IN_THE_MIDDLE) * share) / held_back
    slope = middle / (1.0 + viscosity)
    speed = np.concatenate([[0.0], np.cumsum(0.5 * np.diff(plus) * (slope[1:] + slope[:-1]))])
    return plus, speed, energy, frequency


def _mean(profile: tuple[Array, Array, Array, Array], wide: bool) -> float:
    plus, speed = profile[:2]
    weight = np.ones_like(plus) if wide else 1.0 - plus / plus[-1]
    return float(np.trapezoid(speed * weight, plus) / np.trapezoid(weight, plus))


def entering_between(across: Across, mean_speed: float, viscosity: float) -> Profile:
    """What enters through the faces of an inlet, one end of which at least is a wall: means over each of them.

    Args:
        across: the faces and their ends.
        mean_speed: m/s.
        viscosity: kinematic, m2/s.

    Returns:
        the distance of each face's middle from its wall, and the means of speed, k and g, shape (n,).
    """
    low, high = np.minimum(across.start, across.end), np.maximum(across.start, across.end)
    walls, round_axis = across.walls, across.round_axis
    r0, r1 = float(low.min()), float(high.max())
    pipe = round_axis and r0 < 1e-9 * r1
    if pipe:
        walls = (False, walls[1])
    if walls[0] and walls[1]:
        # Stress is zero where it is in laminar flow.
        between = np.sqrt((r1**2 - r0**2) / (2.0 * np.log(r1 / r0))) if round_axis else 0.5 * (r0 + r1)
    else:
        between = r1 if walls[0] else r0
    sides = {
        side: developed_profile(abs(wall - between), mean_speed, viscosity, wide=not pipe)
        for side, wall, there in (("low", r0, walls[0]), ("high", r1, walls[1]))
        if there and abs(wall - between) > 0.0
    }
    found = np.zeros((4, low.size))
    points = np.linspace(0.0, 1.0, 9)
    for k in range(low.size):
        at = low[k] + points * (high[k] - low[k])
        side = "low" if "high" not in sides or (0.5 * (low[k] + high[k]) < between and "low" in sides) else "high"
        profile = sides[side]
        away = np.abs(at - (r0 if side == "low" else r1))
        rows = [away, *(np.interp(away, profile.distance, values) for values in profile[1:])]
        found[:, k] = [np.trapezoid(row, points) for row in rows]
    return Profile(*found)
