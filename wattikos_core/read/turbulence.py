"""Turbulence of a solution: its fields, and how far from walls the first cells are."""

from __future__ import annotations

import numpy as np

from wattikos_core.ledger import Key
from wattikos_core.physics import Point
from wattikos_core.physics.faces import Array
from wattikos_core.physics.turbulence.constants import BETA_STAR, ENERGY, INTERMITTENCY


def turbulence_fields(point: Point) -> dict[str, Array]:
    """k (m2/s2), ω (1/s) and eddy viscosity over viscosity in cells, and the share of time in
    which layers are turbulent where that is followed; NaN where the flow is laminar; none where all of it is."""
    problem = point.problem
    if not problem.turbulent.any():
        return {}
    mine, first = problem.turbulent == 1, problem.unknowns.scalars.index(ENERGY)
    k, g = point.state.scalars[:, first], point.state.scalars[:, first + 1]
    omega = np.divide(1.0, BETA_STAR * g**2, out=np.full(g.size, np.nan), where=mine)
    ratio = np.divide(point.turbulence.eddy_viscosity, point.properties.viscosity, out=np.full(g.size, np.nan), where=mine)
    fields = {"turbulence energy": np.where(mine, k, np.nan), "turbulence frequency": omega, "eddy viscosity ratio": ratio}
    if INTERMITTENCY in problem.unknowns.scalars:
        share = point.state.scalars[:, problem.unknowns.scalars.index(INTERMITTENCY)]
        fields[INTERMITTENCY] = np.where(mine, share, np.nan)
    return fields


def distances_plus(point: Point) -> Array:
    """y⁺ of the first cells at faces of walls, the larger of both sides, shape (n_faces,); 0 where there is none."""
    turbulence = point.turbulence
    if not turbulence.plus_owner.size:
        return np.zeros(point.problem.grid.n_faces)
    return np.asarray(np.maximum(turbulence.plus_owner, turbulence.plus_neighbour))


def turbulence_quantities(point: Point) -> dict[Key, float]:
    """Mean and highest y⁺ on every wall of a turbulent stream."""
    plus, values = distances_plus(point), dict[Key, float]()
    for name, group in point.problem.grid.groups.items():
        mine = group[plus[group] > 0.0]
        if mine.size:
            values[Key("mean_y_plus", name)] = float(np.average(plus[mine], weights=point.problem.faces.area[mine]))
            values[Key("highest_y_plus", name)] = float(plus[mine].max())
    return values
