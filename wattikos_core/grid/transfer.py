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
        source: grid that they are on.
        target: grid that they are wanted on.

    Returns:
        shape (target.n_cells, n_fields); NaN in regions the source does not have.
    """
    same = np.array_equal(source.nodes, target.nodes) and np.array_equal(source.cell_nodes, target.cell_nodes)
    if same and tuple(source.region_names) == tuple(target.region_names):
        return values.copy()
    result = np.full((target.n_cells, values.shape[1]), np.nan)
    for index, name in enumerate(target.region_names):
        if name not in source.region_names:
            continue
        old = np.nonzero(source.region == source.region_names.index(name))[0]
        new = np.nonzero(target.region == index)[0]
        if old.size == 0 or new.size == 0:
            continue
        places, wanted = _unit(source, old), _unit(target, new)
        carried = _from_rows(places, values[old], wanted)
        result[new] = _from_nearest(places, values[old], wanted) if carried is None else carried
    return result


def _unit(grid: Grid, cells: NDArray[np.int64]) -> Array:
    """Cell centres in the unit square of their region's bounding box."""
    corners = np.isin(np.repeat(np.arange(grid.n_cells), np.diff(grid.cell_start)), cells)
    nodes = grid.nodes[grid.cell_nodes[corners]]
    low = nodes.min(axis=0)
    return np.asarray((grid.centre[cells] - low) / np.maximum(nodes.max(axis=0) - low, 1e-30))


def _from_rows(places: Array, values: Array, wanted: Array) -> Array | None:
    """Bilinear interpolation where the cells stand in full rows and columns; None where they do not."""
    from scipy.interpolate import RegularGridInterpolator

    # Centres in one column differ by round-off; rounding finds the columns, the centres themselves place them.
    _, first_x, column = np.unique(np.round(places[:, 0], 9), return_index=True, return_inverse=True)
    _, first_y, row = np.unique(np.round(places[:, 1], 9), return_index=True, return_inverse=True)
    x, y = places[first_x, 0], places[first_y, 1]
    if x.size * y.size != len(places) or min(x.size, y.size) < 2:
        return None
    table = np.empty((x.size, y.size, values.shape[1]))
    table[column, row] = values
    # Beyond the outermost centres the last slope goes on: next to walls this is what the flow does.
    return np.asarray(RegularGridInterpolator((x, y), table, bounds_error=False, fill_value=None)(wanted))


def _from_nearest(places: Array, values: Array, wanted: Array) -> Array:
    """Inverse-distance weighting of the nearest cells."""
    from scipy.spatial import cKDTree

    distance, nearest = cKDTree(places).query(wanted, k=min(_NEIGHBOURS, len(places)))
    distance, nearest = distance.reshape(len(wanted), -1), nearest.reshape(len(wanted), -1)
    weight = 1.0 / np.maximum(distance, 1e-12) ** 2
    weight /= weight.sum(axis=1, keepdims=True)
    return np.asarray(np.einsum("ij,ijk->ik", weight, values[nearest]))
