"""What the coupled method needs to know about k and g: in what they are measured, and how far a step may take them."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from wattikos_core.physics import Evaluation, Problem, State
from wattikos_core.physics.faces import Array
from wattikos_core.physics.turbulence.constants import BETA, BETA_STAR, ENERGY, INTERMITTENCY
from wattikos_core.physics.turbulence.rough_walls import MOVED_AT_MOST
from wattikos_core.physics.turbulence.transition import LEAST

if TYPE_CHECKING:
    from wattikos_core.solve.iterate import Iterate

# A step takes k and g no further than between these shares of what they were.
_FARTHEST = ((0.1, 10.0), (0.4, 2.5))
# For this, k of no cell counts as less than this share of the largest; for the size of differences as no less than that.
_LEAST_OF_STEPS, _LEAST_OF_DIFFERENCES = 1e-6, 1e-3
# By how much g may exceed what it would be by viscosity alone.
_BEYOND = 30.0
# Intermittency of no cell is less than this share of what it dies down to.
_LEAST_SHARE = 0.9
# Pseudo-time in times 1/(β* ω) where that of the flow is one passage of a cell.
_PACE = 1e3


def among_scalars(problem: Problem) -> slice:
    """Where k and g stand among the scalars."""
    first = problem.unknowns.scalars.index(ENERGY)
    return slice(first, first + 2)


def turbulence_columns(problem: Problem) -> list[int]:
    """Columns of k and g among the unknowns."""
    return list(problem.unknowns.transported[among_scalars(problem)])


def row_scales_of_turbulence(problem: Problem, evaluation: Evaluation) -> Array:
    """What the balances of k and g are measured in: what comes about in a cell on the mean, shape (2,)."""
    amounts = evaluation.scalar_amounts[among_scalars(problem)]
    return np.asarray(np.maximum(amounts, 1e-300) / problem.grid.n_cells)


def sizes_of_turbulence(problem: Problem, state: State) -> Array:
    """Typical magnitudes of k and g in cells, shape (n_cells, 2): g is small next to walls, and k hardly counts there."""
    values = state.scalars[:, among_scalars(problem)]
    return np.asarray(np.maximum(values, _LEAST_OF_DIFFERENCES * values.max(axis=0)))


def pace_of_turbulence(now: Iterate) -> Array:
    """How fast k and g of each cell settle by themselves, kg/s: pseudo-time goes along with it, or it overshoots next to walls."""
    problem = now.point.problem
    g = now.state.scalars[:, among_scalars(problem)][:, 1]
    density = now.point.properties.density
    rate = np.divide(density * problem.cells.volume, g**2, out=np.zeros_like(g), where=problem.turbulent == 1)
    return np.asarray(_PACE * rate)


def kept_possible(before: Iterate, after: State) -> State:
    """A state whose k and g stay above zero, and g below what it would be next to its wall if nothing were stirred.

    A step takes them no further than shares of what they were.
    """
    problem = before.point.problem
    if not problem.turbulent.any():
        return after
    mine = among_scalars(problem)
    was, values = before.state.scalars[:, mine], after.scalars[:, mine].copy()
    for i, (least, most) in enumerate(_FARTHEST):
        floor = _LEAST_OF_STEPS * float(was[:, i].max()) if i == 0 else 0.0
        values[:, i] = np.clip(values[:, i], least * was[:, i], most * np.maximum(was[:, i], floor))
    nu = before.point.properties.viscosity / before.point.properties.density
    stirred = problem.turbulent == 1
    away = problem.wall_distance[stirred] + MOVED_AT_MOST * problem.wall_roughness[stirred]
    alone = _BEYOND * away * np.sqrt(BETA[0] / (6.0 * BETA_STAR * nu[stirred]))
    values[stirred, 1] = np.minimum(values[stirred, 1], alone)
    scalars = after.scalars.copy()
    scalars[:, mine] = values
    if INTERMITTENCY in problem.unknowns.scalars:
        share = problem.unknowns.scalars.index(INTERMITTENCY)
        scalars[stirred, share] = np.clip(scalars[stirred, share], _LEAST_SHARE * LEAST, 1.0)
    return replace(after, scalars=scalars)
