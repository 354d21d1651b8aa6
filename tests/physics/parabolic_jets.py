"""Jets by the k-ω model of shear stress transport, by another method than the program's: marched along the stream.

Boundary-layer equations without a pressure gradient, one dimension across, implicit steps along; finite volumes that are fine at
the wall and at the lip. In units of the slot's height and the speed of supply.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from scipy.linalg import solve_banded

Array = np.ndarray
BETA_STAR, A1 = 0.09, 0.31
# What is still around the jet: nothing of it reaches the answer.
STILL_ENERGY, STILL_OMEGA = 1e-7, 1e-2
_TOP = 14.0


class Profile(NamedTuple):
    """Speed, k and ω at the slot, at places y from 0 to 1."""

    y: Array
    speed: Array
    energy: Array
    omega: Array


class Across(NamedTuple):
    """Largest speed, where it has fallen to half of it, and the momentum with what the wall has taken, as a share of the first."""

    fastest: float
    half: float
    momentum: float


def even(energy: float = 1.5 * 0.04**2, omega: float = 0.9, *, wall: bool = True) -> Profile:
    """Even but for a thin layer at the lip, and at the wall."""
    y = np.linspace(0.0005, 0.9995, 2000)
    speed = np.tanh((1.0 - y) / 0.05) * (np.tanh(y / 0.05) if wall else 1.0)
    return Profile(y, speed, energy + 0.01 * np.exp(-(((1.0 - y) / 0.03) ** 2)), omega + 30.0 * np.exp(-(((1.0 - y) / 0.03) ** 2)))


def marched(profile: Profile, reynolds: float, places: Sequence[float], *, wall: bool = True, cells: int = 400) -> list[Across]:
    """The jet at some distances from the slot: along a wall at y = 0, or free about that line."""
    nu, nodes = 1.0 / reynolds, _nodes(cells, wall)
    y, size = 0.5 * (nodes[1:] + nodes[:-1]), np.diff(nodes)
    inside = y < 1.0
    u = np.where(inside, np.interp(y, np.r_[0.0, profile.y, 1.0], np.r_[0.0 if wall else 1.0, profile.speed, 0.0]), 0.0)
    k = np.where(inside, np.interp(y, profile.y, profile.energy), STILL_ENERGY)
    omega = np.where(
        inside, np.interp(y, profile.y, profile.omega), np.interp(y, [1.0, 1.05, 1.5], [profile.omega[-1], 50.0, 0.01])
    )
    x = taken = 0.0
    v, first, found = np.zeros(cells + 1), float((u * u * size).sum()), []
    step = 4.0 / cells
    held = 0.0 if wall else None
    for place in places:
        while x < place - 1e-9:
            dx = min(step * (0.1 if x < 0.5 else 1.0), place - x)
            strain = np.abs(_slope(u, y, nodes, held))
            cross = 2.0 * 0.856 / omega * _slope(k, y, nodes, held) * _slope(omega, y, nodes, None)
            distance = y if wall else np.full(cells, 1e9)
            far, viscous = np.sqrt(k) / (BETA_STAR * omega * distance), 500.0 * nu / (distance**2 * omega)
            outer = 4.0 * 0.856 * k / (np.maximum(cross, 1e-10) * distance**2)
            f1, f2 = np.tanh(np.minimum(np.maximum(far, viscous), outer) ** 4), np.tanh(np.maximum(2.0 * far, viscous) ** 2)
            eddy = A1 * k / np.maximum(A1 * omega, strain * f2)
            alpha, beta, sigma_k, sigma_omega = (
                inner * f1 + other * (1.0 - f1) for inner, other in ((5.0 / 9.0, 0.44), (0.075, 0.0828), (0.85, 1.0), (0.5, 0.856))
            )
            most, crossing = 10.0 * BETA_STAR * k * omega, (1.0 - f1) * cross
            before, along = u, np.maximum(u, 1e-4) / dx
            none = np.zeros(cells)
            u = _across(y, size, nodes, nu + eddy, v, along * u, along, held, 0.0)
            v = np.concatenate([[0.0], -np.cumsum((u - before) * size) / dx])
            along = np.maximum(u, 1e-4) / dx
            k = _across(
                y, size, nodes, nu + sigma_k * eddy, v, along * k + np.minimum(eddy * strain**2, most),
                along + BETA_STAR * omega, held, STILL_ENERGY,
            )  # fmt: skip
            k = np.maximum(k, 1e-12)
            gained = alpha * np.minimum(strain**2, most / np.maximum(eddy, 1e-30)) + np.maximum(crossing, none)
            lost = beta * omega - np.minimum(crossing, none) / omega
            omega = _across(
                y, size, nodes, nu + sigma_omega * eddy, v, along * omega + gained, along + lost, None, STILL_OMEGA
            )  # fmt: skip
            if wall:
                friction = nu * u[0] / y[0]
                taken += dx * friction
                omega = np.where(y * np.sqrt(max(friction, 1e-12)) < 2.5 * nu, 6.0 * nu / (0.075 * y**2), omega)
            omega = np.maximum(omega, 1e-8)
            x += dx
        top = int(u.argmax())
        half = float(np.interp(-0.5 * u[top], -u[top:], y[top:]))
        found.append(Across(float(u[top]), half, (float((u * u * size).sum()) + taken) / first))
    return found


def _nodes(cells: int, wall: bool) -> Array:
    """Ends of the cells: finest at the wall and at the lip."""
    y = np.linspace(0.0, _TOP, 200_001)
    size = np.minimum(0.06, 0.004 + 0.04 * np.abs(y - 1.0))
    size = np.minimum(size, 0.0005 + 0.03 * y) if wall else size
    count = np.concatenate([[0.0], np.cumsum(0.5 * np.diff(y) * (1.0 / size[1:] + 1.0 / size[:-1]))])
    return np.interp(np.linspace(0.0, count[-1], cells + 1), count, y)


def _slope(values: Array, y: Array, nodes: Array, bottom: float | None) -> Array:
    """Derivative across; even about y = 0 where nothing is held at the `bottom`."""
    places = np.r_[-y[0] if bottom is None else 0.0, y, nodes[-1]]
    slopes = np.diff(np.r_[values[0] if bottom is None else bottom, values, values[-1]]) / np.diff(places)
    below, above = np.diff(places)[:-1], np.diff(places)[1:]
    return (slopes[:-1] * above + slopes[1:] * below) / (below + above)


def _across(
    y: Array, size: Array, nodes: Array, spreads: Array, v: Array, gained: Array, lost: Array, bottom: float | None, top: float
) -> Array:
    """Implicit balance across: lost φ + v ∂φ/∂y - ∂(spreads ∂φ/∂y)/∂y = gained, central but where v carries far more."""
    between = 0.5 * (spreads[1:] + spreads[:-1])
    way = np.r_[y[0], np.diff(y), nodes[-1] - y[-1]]
    conducts = np.r_[spreads[0], between, spreads[-1]] / way
    central = np.abs(v) < 2.0 * conducts
    above = np.where(central[1:], 0.5, np.where(v[1:] < 0.0, 1.0, 0.0))
    below = np.where(central[:-1], 0.5, np.where(v[:-1] > 0.0, 1.0, 0.0))
    up, down = (conducts[1:] - v[1:] * above) / size, (conducts[:-1] + v[:-1] * below) / size
    down[0] = 0.0 if bottom is None else conducts[0] / size[0]
    right = gained.copy()
    right[-1] += up[-1] * top
    right[0] += down[0] * (bottom or 0.0)
    bands = np.zeros((3, y.size))
    bands[0, 1:], bands[1], bands[2, :-1] = -up[:-1], lost + up + down, -down[1:]
    return np.asarray(solve_banded((1, 1), bands, right))
