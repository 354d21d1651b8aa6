"""How far a melting front has come."""

from __future__ import annotations

import numpy as np

from wattikos_core.physics import Evaluation, Problem, State
from wattikos_core.physics.faces import INTERFACE, WALL
from wattikos_core.physics.properties import liquid_fractions

# Faces at radii that differ by less than this share lie on one cylinder.
_ONE_RADIUS = 1e-6


def front_distance(problem: Problem, before: State, after: State, evaluation: Evaluation, index: int) -> float | None:
    """Mean distance (m) of the front in region `index` from the surface through which most heat passes now; None without any.

    It is the volume that has melted or frozen since `before` over that surface's area; around a cylinder, in its radius.
    """
    grid, faces = problem.grid, problem.faces
    mine = grid.region == index
    share = [liquid_fractions(problem.cells, problem.tables, state.stretched)[mine] for state in (before, after)]
    changed = abs(float((share[1] - share[0]) @ grid.volume[mine]))
    beyond = np.where(grid.neighbour >= 0, grid.neighbour, grid.owner)
    most, surface = 0.0, None
    for group in grid.groups.values():
        touches = (grid.region[grid.owner[group[0]]] == index) or (grid.region[beyond[group[0]]] == index)
        passing = abs(float(evaluation.heat[group].sum()))
        if touches and faces.kind[group[0]] in (WALL, INTERFACE) and passing > most:
            most, surface = passing, group
    if surface is None:
        return None
    per_area = changed / float(faces.area[surface].sum())
    radius = grid.face_centre[surface, 1]
    if not grid.axisymmetric or float(np.ptp(radius)) > _ONE_RADIUS * float(radius.max()):
        return per_area
    r = float(radius.mean())
    outwards = float(np.average(grid.centre[mine, 1], weights=grid.volume[mine])) > r
    if outwards:
        return float(np.sqrt(r * r + 2.0 * r * per_area)) - r
    return r - float(np.sqrt(max(r * r - 2.0 * r * per_area, 0.0)))
