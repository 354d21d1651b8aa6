"""View factors within a module that repeats along a stream: its own pieces see those of the modules before and behind it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattikos_core.radiation.closing import closed
from wattikos_core.radiation.outline import Mirror, pieces_of
from wattikos_core.radiation.view_factors import seeing_itself, view_factors

Array = NDArray[np.float64]

# As far as so many times its height a channel is looked along: of parallel plates 1 % of the view goes further.
_FAR = 8.0


def modules_in_sight(start: Array, end: Array, period: Array, most: int) -> int:
    """How many modules are looked at on either side.

    Args:
        start: of the pieces of one module's outline, m, shape (n, 2).
        end: of the same.
        period: from one module to the next, m, shape (2,).
        most: that are allowed.
    """
    length = float(np.hypot(*period))
    across = np.array([-period[1], period[0]]) / length
    height = float(np.ptp(np.concatenate([start, end]) @ across))
    return int(np.clip(np.ceil(_FAR * height / length), 0, most))


def views_of_module(
    start: Array, end: Array, axisymmetric: bool, mirrors: tuple[Mirror, ...], period: Array, modules: int
) -> tuple[Array, Array]:
    """View factors between the pieces of all modules, taken together, and how far ahead each piece looks in the mean.

    What lies further than the modules looked at is shared out among what is seen of them (see `closing`).

    Args:
        start: of the pieces of one module's outline, which is open at its ends, m, shape (n, 2).
        end: of the same, the cavity to the left on the way.
        axisymmetric: whether y is the distance from an axis.
        mirrors: lines of symmetry.
        period: from one module to the next, m, shape (2,).
        modules: looked at on either side.

    Returns:
        factors F (n, n), whose rows sum to one, and Σ k F_ij(k) over modules k and their pieces, shape (n,).

    Example:
        Between plates 1 m apart in modules of 1 m each sees the other alone, as far ahead as back:

        >>> import numpy as np
        >>> start, end = np.array([[0.0, 0.0], [1.0, 1.0]]), np.array([[1.0, 0.0], [0.0, 1.0]])
        >>> factors, ahead = views_of_module(start, end, False, (), np.array([1.0, 0.0]), 8)
        >>> factors.round(9).tolist(), np.abs(ahead).max().round(9).tolist()
        ([[0.0, 1.0], [1.0, 0.0]], 0.0)
    """
    number = np.arange(-modules, modules + 1)
    shift = number[:, None, None] * period
    outline = pieces_of((start + shift).reshape(-1, 2), (end + shift).reshape(-1, 2), axisymmetric, mirrors)
    n, area = len(start), outline.area[: len(start)]
    seen = view_factors(outline, whole=False).reshape(number.size, n, number.size, n)[modules] * area[:, None, None]
    exchange = seen.sum(axis=1)
    ahead = seen.sum(axis=2) @ number
    if axisymmetric:
        seeing_itself(exchange, start, end, area)
    return closed(exchange, area) / area[:, None], ahead / area
