"""View factors between the pieces of a cavity's outline, with what stands in between and what mirrors show."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import numpy as np
from numpy.typing import NDArray

from wattikos_core.radiation.closing import closed
from wattikos_core.radiation.flat import strings_between
from wattikos_core.radiation.outline import Pieces, blockers, images
from wattikos_core.radiation.rings import rings_between

Array = NDArray[np.float64]
Index = NDArray[np.int64]

_THREADS = 2


def view_factors(pieces: Pieces, whole: bool = True) -> Array:
    """The share F_ij of what leaves piece i, diffuse, that meets piece j, shape (n, n).

    Flat pieces stand for strips without end: Hottel's crossed strings where they see each other whole, else the sines of the angles
    that are free, integrated between the places where one more corner comes into sight. Rings about an axis: differences of discs
    where nothing hides any of them, else the angle about the axis by its closed integral between what hides, and Gauss points along
    the meridian.

    Args:
        pieces: of the outline of the cavity.
        whole: whether the outline is closed, so that rows are made to sum to one (see `closing`).

    Example:
        Two plates one beneath the other, as wide as their distance: √2 - 1.

        >>> import numpy as np
        >>> from wattikos_core.radiation import pieces_of
        >>> plates = pieces_of(np.array([[0.0, 0.0], [1.0, 1.0]]), np.array([[1.0, 0.0], [0.0, 1.0]]))
        >>> view_factors(plates, whole=False).round(6).tolist()
        [[0.0, 0.414214], [0.414214, 0.0]]
    """
    n = len(pieces.start)
    seen = images(pieces)
    start, end = np.concatenate([s for s, _ in seen]), np.concatenate([e for _, e in seen])
    runs = int(pieces.straight.max()) + 1
    straight = np.concatenate([pieces.straight + k * runs for k in range(len(seen))])
    first, last, hiding = blockers(start, end, straight, pieces.axisymmetric)
    between = rings_between if pieces.axisymmetric else strings_between
    seen_once = np.zeros((n, len(seen), n))

    def look(rows: Index) -> None:
        seen_once[rows] = between(rows, start, end, first, last, hiding).reshape(rows.size, len(seen), n)

    # Every other row to another thread: early rows have more to do.
    with ThreadPoolExecutor(max_workers=_THREADS) as pool:
        list(pool.map(look, [np.arange(k, n, _THREADS) for k in range(_THREADS)]))
    # Of images, that of i seen from j is as large as that of j seen from i, in another mirror or the same.
    exchange = seen_once[:, 0] + seen_once[:, 0].T + 0.5 * (seen_once[:, 1:].sum(axis=1) + seen_once[:, 1:].sum(axis=1).T)
    area = pieces.area
    if whole:
        if pieces.axisymmetric:
            seeing_itself(exchange, pieces.start, pieces.end, area)
        exchange = closed(exchange, area)
    return np.asarray(exchange / area[:, None])


def seeing_itself(exchange: Array, start: Array, end: Array, area: Array) -> None:
    """Add to exchange areas (m2) what rings that look inwards see of themselves: what is left of their rows."""
    inwards = end[:, 0] < start[:, 0]
    left = area - exchange.sum(axis=1)
    exchange[np.diag_indices(area.size)] += np.where(inwards, np.maximum(left, 0.0), 0.0)
