"""k and g to begin with where nothing is known of turbulence yet."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from wattikos_core.physics.faces import INLET, Array
from wattikos_core.physics.turbulence.constants import BETA, BETA_STAR

if TYPE_CHECKING:
    from wattikos_core.physics.problem import Problem

# Friction speed as a share of the speed of a stream, and the part of the way from its walls over which its eddies grow.
_FRICTION, _GROWING = 0.05, 0.2
_KARMAN = 0.41


def first_turbulence(problem: Problem) -> Array:
    """k and g of every cell, shape (n_cells, 2), as in a developed duct; what enters counts where it stirs less.

    Eddies of the size of the distance from walls and a friction speed of a twentieth: from there on balances take over.
    """
    found = np.repeat([[0.0, 1.0]], problem.grid.n_cells, axis=0)
    for body in np.unique(problem.body[problem.turbulent == 1]):
        mine = np.nonzero((problem.body == body) & (problem.turbulent == 1))[0]
        table = problem.materials[problem.grid.region[mine[0]]]
        middle = 0.5 * (problem.scales.lowest + problem.scales.highest)
        nu = float(table.viscosity(middle)) / float(table.density(middle))
        distance = np.minimum(problem.wall_distance[mine], 1e3 * float(np.ptp(problem.grid.centre[mine], axis=0).max()))
        friction = _FRICTION * problem.scales.velocity[mine]
        energy = friction**2 / np.sqrt(BETA_STAR)
        grown = np.minimum(distance, _GROWING * float(distance.max()))
        far = friction / (np.sqrt(BETA_STAR) * _KARMAN * grown)
        omega = np.hypot(6.0 * nu / (BETA[0] * distance**2), far)
        plus = distance * friction / nu
        energy *= np.minimum(1.0, (plus / 12.0) ** 3)
        found[mine, 0], found[mine, 1] = energy, 1.0 / np.sqrt(BETA_STAR * omega)
        inlets = np.nonzero((problem.faces.kind == INLET) & (problem.body[problem.faces.owner] == body))[0]
        if inlets.size:
            # Far from walls what enters is what there is.
            thin = problem.given.turbulence[inlets, 1].max()
            outside = found[mine, 1] > thin
            found[mine[outside], 1] = thin
    return found
