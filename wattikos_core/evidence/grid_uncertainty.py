"""Grid uncertainty from three grids: Celik et al. (2008), J. Fluids Eng. 130, 078001."""

from __future__ import annotations

import math
from dataclasses import dataclass

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
