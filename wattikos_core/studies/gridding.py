"""The grids of a case: at its own fineness, for a number of cells, and from coarse to fine."""

from __future__ import annotations

import numpy as np

from wattikos_core.grid import ALONE, Family, Grid, grid_section
from wattikos_core.studies.preparation import Prepared

# From this many cells on, a grid of twice the spacing gives the fine one its start.
_SEQUENCE_FROM = 2_500
_COARSER = 2.0
_COARSEST = 0.05
_COARSE_TOLERANCE = 1e-4
# What separates and repeats is not found on fewer cells than this: hundreds of steps there lead nowhere.
_LEAST_OF_MODULE = 600
# Ratio of cell sizes between the three grids of the uncertainty procedure, which asks for more than 1.3.
_CHECK_RATIO = 1.5
# A number of cells is met to this share, within so many grids and between these finenesses.
_AS_MANY, _MOST_GRIDS, _FINENESS = 0.05, 6, (0.05, 100.0)


def grid_of(prepared: Prepared, fineness: float | None = None, family: Family = ALONE) -> Grid:
    """The grid of a prepared case at its own fineness, or another, of a family of grids; an imported one as it is."""
    if prepared.imported is not None:
        return prepared.imported
    wanted = fineness_of(prepared) if fineness is None else fineness
    return grid_section(prepared.resolved, prepared.section, wanted, family)


def fineness_of(prepared: Prepared) -> float:
    """The fineness a case is gridded at: its own, or the one that makes about as many cells as it asks for."""
    wishes = prepared.case.grid
    if wishes.cells is None or prepared.imported is not None:
        return wishes.fineness
    fineness = 1.0
    for _ in range(_MOST_GRIDS):
        grid = grid_section(prepared.resolved, prepared.section, fineness)
        along_one = 1.0 in (grid.spacing.get("rows"), grid.spacing.get("columns"))
        share = wishes.cells / grid.n_cells
        if abs(share - 1.0) < _AS_MANY:
            break
        fineness = float(np.clip(fineness * share ** (1.0 if along_one else 0.5), *_FINENESS))
    return fineness


def grid_chain(prepared: Prepared, *, warm: bool) -> list[tuple[Grid, float]]:
    """The grids to solve on, coarse to fine, each with the tolerance asked of it."""
    fineness, tolerance = fineness_of(prepared), prepared.case.solve.tolerance
    if prepared.case.solve.grid_check and prepared.imported is None:
        steps = [_CHECK_RATIO**power for power in (2, 1, 0)]
        return [(grid_of(prepared, fineness / coarser, Family(coarser)), tolerance) for coarser in steps]
    chain = [(grid_of(prepared), tolerance)]
    if prepared.imported is not None or warm:
        return chain
    while fineness / _COARSER >= _COARSEST and chain[0][0].n_cells >= _SEQUENCE_FROM:
        fineness /= _COARSER
        coarser = grid_of(prepared, fineness)
        if prepared.resolved.module is not None and coarser.n_cells < _LEAST_OF_MODULE:
            break
        chain.insert(0, (coarser, _COARSE_TOLERANCE))
    return chain
