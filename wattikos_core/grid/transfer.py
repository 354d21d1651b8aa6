"""Carry cell values from one grid to another, of the same or a changed section, for warm starts."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid.grid import Array, Grid

_NEIGHBOURS = 4


def transfer(values: Array, source: Grid, target: Grid) -> Array:
    """Interpolate cell values region by region, each region stretched onto its counterpart of the same name.

    Args:
        values: shape (source.n_cells, n_fields).

    Returns:
        shape (target.n_cells, n_fields); NaN in regions the source does not have.
    """
    from scipy.spatial import cKDTree

    result = np.full((target.n_cells, values.shape[1]), np.nan)
    for index, name in enumerate(target.region_names):
        if name not in source.region_names:
            continue
        old = np.nonzero(source.region == source.region_names.index(name))[0]
        new = np.nonzero(target.region == index)[0]
        if old.size == 0 or new.size == 0:
            continue
        tree = cKDTree(_unit(source, old))
        distance, nearest = tree.query(_unit(target, new), k=min(_NEIGHBOURS, old.size))
        distance, nearest = distance.reshape(new.size, -1), nearest.reshape(new.size, -1)
        weight = 1.0 / np.maximum(distance, 1e-12) ** 2
        weight /= weight.sum(axis=1, keepdims=True)
        result[new] = np.einsum("ij,ijk->ik", weight, values[old][nearest])
    return result


def _unit(grid: Grid, cells: NDArray[np.int64]) -> Array:
    """Cell centres in the unit square of their region.

    Where the cells stand in rows and columns the ranks of the lines are used, which keeps graded layers on graded layers.
    """
    centre = grid.centre[cells]
    unit = np.empty_like(centre)
    for axis in (0, 1):
        levels, rank = np.unique(np.round(centre[:, axis], 12), return_inverse=True)
        low, high = levels[0], levels[-1]
        if levels.size * 8 < cells.size:
            unit[:, axis] = (rank + 0.5) / levels.size
        else:
            unit[:, axis] = (centre[:, axis] - low) / max(high - low, 1e-30)
    return unit
