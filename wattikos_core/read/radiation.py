"""Radiation between the surfaces of cavities, in a solution."""

from __future__ import annotations

import numpy as np

from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import INTERFACE, WALL


def radiation_quantities(problem: Problem, evaluation: Evaluation) -> dict[Key, float]:
    """Ledger quantities of cavities and their surfaces by key, SI."""
    values: dict[Key, float] = {}
    if not problem.cavities:
        return values
    grid = problem.grid
    beyond = np.where(grid.neighbour >= 0, grid.neighbour, grid.owner)
    for name, group in grid.groups.items():
        if problem.faces.kind[group[0]] not in (WALL, INTERFACE):
            continue
        radiated = -evaluation.absorbed[group].sum(axis=0)
        two = bool(np.all(evaluation.absorbed[group] != 0.0))
        for cells, heat in ((grid.owner[group], radiated[0]), (beyond[group], radiated[1])):
            if heat != 0.0:
                values[Key("radiated", name, grid.region_names[grid.region[cells[0]]] if two else "")] = float(heat)
    for cavity in problem.cavities:
        faces = cavity.faces
        radiated = -evaluation.absorbed[faces.face, faces.side]
        conducted = evaluation.into_cells(faces.face, faces.side == 0)
        by_radiation = float(np.maximum(radiated, 0.0).sum())
        both = by_radiation + float(np.maximum(conducted, 0.0).sum())
        if both > 0.0:
            for region in cavity.regions:
                values[Key("radiated_share", grid.region_names[region])] = by_radiation / both
    return values
