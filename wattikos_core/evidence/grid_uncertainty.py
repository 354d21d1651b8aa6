"""Grid uncertainty from three grids: Celik et al. (2008), J. Fluids Eng. 130, 078001; and whether the three are fit for it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from wattikos_core.grid import Grid

SAFETY_FACTOR = 1.25
# The scheme is of second order; an observed order outside this span is a sign of noise and is not trusted beyond it.
_LOWEST_ORDER, _HIGHEST_ORDER = 0.5, 2.0


@dataclass(frozen=True)
class GridUncertainty:
    """The ± of a quantity on its finest grid.

    Attributes:
        plus_minus: in the quantity's own SI unit.
        order: observed order of convergence, as limited; NaN when the grids agree to round-off.
        extrapolated: the value towards which the three point.
    """

    plus_minus: float
    order: float
    extrapolated: float


def grid_uncertainty(values: tuple[float, float, float], cells: tuple[int, int, int], dimensions: int = 2) -> GridUncertainty:
    """Uncertainty of `values[0]`, given a quantity on three grids from fine to coarse and their cell counts."""
    fine, medium, coarse = values
    h = [n ** (-1.0 / dimensions) for n in cells]
    r21, r32 = h[1] / h[0], h[2] / h[1]
    e21, e32 = medium - fine, coarse - medium
    if abs(e21) <= 1e-12 * max(abs(fine), 1e-300):
        return GridUncertainty(0.0, float("nan"), fine)
    order = _HIGHEST_ORDER
    if e32 != 0.0:
        sign = math.copysign(1.0, e32 / e21)
        for _ in range(100):
            ratio = (r21**order - sign) / (r32**order - sign) if r32**order != sign else 1.0
            q = math.log(abs(ratio)) if ratio != 0.0 else 0.0
            new = abs(math.log(abs(e32 / e21)) + q) / math.log(r21)
            if abs(new - order) < 1e-10:
                break
            order = min(max(new, 1e-3), 20.0)
    order = min(max(order, _LOWEST_ORDER), _HIGHEST_ORDER)
    change = e21 / (r21**order - 1.0)
    return GridUncertainty(SAFETY_FACTOR * abs(change), order, fine - change)


# Cells along the edge of a part must become this many times as thin from one grid to the next.
_REFINED = 1.1


def unrefined_layers(grids: Sequence[Grid]) -> list[str]:
    """Parts whose cells, seen from one of their edges, are hardly thinner on each next grid; `grids` from fine to coarse.

    A thin layer that has the same few cells on all three grids has the same error on all of them, which three values do not show.
    """
    fine, *_ = thicknesses = [_at_edges(grid) for grid in grids]
    found = []
    for (part, edge), _ in fine.items():
        course = [thickness.get((part, edge), float("nan")) for thickness in thicknesses]
        if any(not after > _REFINED * before for before, after in pairwise(course)):
            found.append(part)
    return list(dict.fromkeys(found))


def _at_edges(grid: Grid) -> Mapping[tuple[str, str], float]:
    """Mean distance from each named edge to the centres of the cells on it, by part and edge, m; none where one cell is all
    there is."""
    alone = {key for key, along in (("x", "columns"), ("y", "rows")) if grid.spacing.get(along) == 1.0}
    area = np.linalg.norm(grid.area, axis=1)
    found = {}
    for name, faces in grid.groups.items():
        normal = np.abs(grid.area[faces]).mean(axis=0)
        if ("x" if normal[0] > normal[1] else "y") in alone:
            continue
        for cells in (grid.owner[faces], grid.neighbour[faces]):
            if cells[0] < 0:
                continue
            reach = grid.face_centre[faces] - grid.centre[cells]
            distance = np.abs(np.einsum("ij,ij->i", reach, grid.area[faces])) / area[faces]
            found[grid.region_names[grid.region[cells[0]]], name] = float(np.average(distance, weights=area[faces]))
    return found


def at_least_the_change(found: GridUncertainty, values: Sequence[float]) -> GridUncertainty:
    """The uncertainty, but no smaller than the change across all grids: what has changed so far may do so again."""
    return replace(found, plus_minus=max(found.plus_minus, max(values) - min(values)))
