"""Where a solution bends most for the cells it has: an indicator of where error is made.

Between two cells the gradient of a field changes by its second derivative times their distance; weighted by the gradient itself
this is how much the error of a flux (of heat, of momentum) there weighs in what passes through the section (common practice,
no source). It says how cells should be shared out within a place; between places trials say it.
"""

from __future__ import annotations

import numpy as np

from wattikos_core.physics import Point
from wattikos_core.physics.faces import Array


def bending(point: Point) -> Array:
    """The indicator per axis, shape (n_cells, d), in 1/m³: of temperature by its span and velocity by its largest.

    Only faces within a part count: between two parts gradients jump by right.
    """
    grid = point.problem.grid
    n = grid.n_internal
    a, b = grid.owner[:n], grid.neighbour[:n]
    within = grid.region[a] == grid.region[b]
    a, b, way = a[within], b[within], grid.way_between()[:n][within]
    distance = np.linalg.norm(way, axis=1)
    span = float(np.ptp(point.properties.temperature))
    speed = float(point.state.speed.max(initial=0.0))
    gradients = [point.gradients.temperature.reshape(grid.n_cells, -1) / max(span, 1e-9)]
    if speed > 0.0:
        gradients += [point.gradients.velocity[:, i, :] / speed for i in range(grid.dimensions)]
    total = np.zeros(a.size)
    for gradient in gradients:
        slope = 0.5 * (np.linalg.norm(gradient[a], axis=1) + np.linalg.norm(gradient[b], axis=1))
        total += slope * np.abs(((gradient[b] - gradient[a]) * way).sum(axis=1)) / distance**2
    result = np.zeros((grid.n_cells, grid.dimensions))
    axis = np.argmax(np.abs(way), axis=1)
    for cells in (a, b):
        np.maximum.at(result, (cells, axis), total)
    return result
