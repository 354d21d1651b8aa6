"""Intermittency by itself, in the flow as it is: a way that never leaves what is possible.

Its balance has a second root, zero everywhere in a layer, to which Newton steps from afar are drawn. Here what grows it, (G + D) γ,
is taken as it is, and what lets it die, (G + D/γ_0) γ², as that much of the new one: the matrix has no negative entries in its
inverse, and γ stays above zero.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from wattikos_core.physics import compact_blocks
from wattikos_core.physics.faces import FLOW
from wattikos_core.physics.turbulence.constants import INTERMITTENCY
from wattikos_core.physics.turbulence.transition import LEAST
from wattikos_core.solve.iterate import Iterate, look_at

_STEPS = 3


def settle_intermittency(now: Iterate) -> Iterate:
    """The iterate with γ as the flow, k and g of it want it."""
    from scipy.sparse import csc_matrix
    from scipy.sparse.linalg import splu

    problem = now.point.problem
    index = problem.unknowns.scalars.index(INTERMITTENCY)
    column = problem.unknowns.transported[index]
    mine = np.nonzero(problem.cells.fluid == 1)[0]
    number = np.full(problem.grid.n_cells, -1)
    number[mine] = np.arange(mine.size)
    inner = np.nonzero(problem.faces.kind == FLOW)[0]
    a, b = number[problem.faces.owner[inner]], number[problem.faces.neighbour[inner]]
    both = (a >= 0) & (b >= 0)
    inner, a, b = inner[both], a[both], b[both]
    for _ in range(_STEPS):
        blocks = compact_blocks(now.point, now.interpolation, now.evaluation.flow)
        turbulence, gamma = now.point.turbulence, now.state.scalars[:, index]
        volume = np.where(problem.turbulent == 1, problem.cells.volume, 0.0)
        dying = turbulence.grows + turbulence.dies / LEAST
        true = turbulence.grows + turbulence.dies - 2.0 * dying * gamma
        diagonal = blocks.diagonal[:, column, column] + volume * (true + dying * gamma)
        entries = np.concatenate([diagonal[mine], blocks.off[inner, 0, column, column], blocks.off[inner, 1, column, column]])
        rows = np.concatenate([np.arange(mine.size), a, b])
        columns = np.concatenate([np.arange(mine.size), b, a])
        matrix = csc_matrix((entries, (rows, columns)), shape=(mine.size, mine.size))
        change = splu(matrix).solve(-np.ascontiguousarray(now.evaluation.residual[mine, column]))
        scalars = now.state.scalars.copy()
        scalars[mine, index] = np.clip(gamma[mine] + change, 0.9 * LEAST, 1.0)
        now = look_at(problem, replace(now.state, scalars=scalars), now.interpolation)
    return now
