"""Intermittency: where a layer along a wall is laminar yet, and where it has turned turbulent.

The one-equation model of Menter, Smirnov, Liu and Avancha (2015, Flow Turbul. Combust. 95, 583; from memory). The share of time γ
in which a layer is turbulent has a balance of its own, see `terms.intermittency`; k is produced as much less as γ says and is
dissipated less, and F₁ is one in laminar layers.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import Array
from wattikos_core.physics.turbulence.closure import Fluid, Motion, Turbulence
from wattikos_core.physics.turbulence.constants import BETA_STAR

# How fast γ grows where layers turn turbulent, and dies where they are laminar; it dies down to the inverse of the last one.
_GROWTH, _DECAY, LEAST = 100.0, 0.06, 1.0 / 50.0
# The critical number of the momentum thickness: its least, what is added without turbulence outside, and how fast that fades.
_CRITICAL, _QUIET, _FADING = 100.0, 1000.0, 1.0
_AT_MOST_INTENSITY = 100.0
# By the pressure gradient along the wall: slopes and limits for streams that speed up and slow down.
_SPEEDING, _MOST_SPEEDING, _SLOWING, _MOST_SLOWING = 14.68, 1.5, -7.34, 3.0
# A layer that separates laminar turns turbulent at once: production beside, from a Reynolds number of the momentum thickness on.
_SEPARATED, _SEPARATING = 5.0, 1100.0
# The model's kinks are rounded within this: Newton steps hover about them otherwise.
_ROOM = 0.1
# Dissipation is never less than this share.
_LEAST_DISSIPATION = 0.1


@njit(cache=True, error_model="numpy", inline="always")
def above(value: float, room: float) -> float:
    """What of a value is above zero, without a kink: a parabola as far as `room` on both sides of it."""
    if value <= -room:
        return 0.0
    if value >= room:
        return value
    return float((value + room) * (value + room) / (4.0 * room))


@njit(cache=True, error_model="numpy", inline="always")
def critical_reynolds(intensity: float, gradient: float) -> float:
    """Reynolds number of the momentum thickness from which on a layer turns turbulent.

    Args:
        intensity: of turbulence in the layer, %.
        gradient: λ of Thwaites, θ²/ν dU/ds, in the middle of the layer.
    """
    if gradient >= 0.0:
        by_pressure = _MOST_SPEEDING - above(_MOST_SPEEDING - 1.0 - _SPEEDING * gradient, _ROOM)
    else:
        by_pressure = _MOST_SLOWING - above(_MOST_SLOWING - 1.0 - _SLOWING * gradient, _ROOM)
    return float(_CRITICAL + _QUIET * np.exp(-_FADING * intensity * max(by_pressure, 0.0)))


@njit(cache=True, error_model="numpy", nogil=True)
def turn_cells(
    cells: Cells, fluid: Fluid, motion: Motion, from_wall: Array, share: Array, followed: float, out: Turbulence
) -> None:
    """What γ makes of production, dissipation and F₁ of cells, and what makes it grow and die; see `Turbulence`.

    Args:
        cells: cell data.
        fluid: properties of cells.
        motion: of the state.
        from_wall: direction away from the nearest wall, shape (n_cells, d).
        share: γ of cells.
        followed: share of what γ does that is counted.
        out: what is written.
    """
    d = motion.velocity.shape[1]
    for c in range(cells.fluid.size):
        if cells.fluid[c] == 0:
            continue
        rho, mu, y = fluid.density[c], fluid.viscosity[c], fluid.distance[c]
        if not np.isfinite(y):
            # Laminar, or without a wall: no layer.
            continue
        nu, k, strain, vorticity = mu / rho, max(motion.energy[c], 0.0), out.strain[c], out.vorticity[c]
        omega = 1.0 / (BETA_STAR * motion.length[c] ** 2)
        slowing = 0.0
        for i in range(d):
            for j in range(d):
                slowing += from_wall[c, i] * motion.gradients[c, i, j] * from_wall[c, j]
        gradient = min(max(-7.57e-3 * slowing * y * y / nu + 0.0128, -1.0), 1.0)
        intensity = min(100.0 * np.sqrt(2.0 * k / 3.0) / (omega * y), _AT_MOST_INTENSITY)
        of_vorticity = y * y * strain / nu
        eddies = k / (nu * omega)
        onset = 2.0 - above(2.0 - of_vorticity / (2.2 * critical_reynolds(intensity, gradient)), _ROOM)
        onset = above(onset - above(1.0 - (eddies / 3.5) ** 3, _ROOM), _ROOM)
        out.grows[c] = _GROWTH * rho * strain * onset
        out.dies[c] = _DECAY * rho * vorticity * np.exp(-((0.5 * eddies) ** 4))
        gamma = 1.0 - followed * (1.0 - share[c])
        out.lost_share[c] = _LEAST_DISSIPATION + above(gamma - _LEAST_DISSIPATION, 0.5 * _LEAST_DISSIPATION)
        out.inner[c] = max(out.inner[c], followed * np.exp(-((y * np.sqrt(k) / (120.0 * nu)) ** 8)))
        if out.held[c] > 0.0:
            out.production[c] *= gamma
            continue
        # Strain and vorticity differ where a stream is only turned or stagnates: there nothing is produced.
        turns = vorticity / strain if strain > 0.0 else 1.0
        out.made_share[c] = turns * gamma if out.capped[c] == 0.0 else 0.0
        out.production[c] *= turns * gamma
        still = 3.0 - above(3.0 - above(of_vorticity / (2.2 * _SEPARATING) - 1.0, _ROOM), _ROOM)
        lacking = mu * above(3.0 - out.eddy_viscosity[c] / mu, _ROOM)
        out.production[c] += _SEPARATED * above(gamma - 0.2, _ROOM) * (1.0 - gamma) * still * lacking * strain * vorticity
