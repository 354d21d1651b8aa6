"""View factors made whole: exchange areas that stay symmetric, and whose rows sum to the areas, to round-off."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_PASSES = 3
# Round-off of rows of some hundred.
_CLOSED = 4e-15


def closed(exchange: Array, area: Array) -> Array:
    """Symmetric exchange areas A_i F_ij, made to sum to A_i in every row by factors (1 + λ_i + λ_j) near one.

    Of all symmetric corrections this is the one of least sum of squares relative to the exchange areas, of those of Lawson's kind
    (Larsen and Howell 1986, J. Heat Transfer 108, 239).

    Args:
        exchange: m2, shape (n, n).
        area: m2, shape (n,).
    """
    found = 0.5 * (exchange + exchange.T)
    for _ in range(_PASSES):
        missing = area - found.sum(axis=1)
        if float(np.abs(missing / area).max()) < _CLOSED:
            break
        matrix = np.diag(found.sum(axis=1)) + found
        # Where two halves see but each other, one may gain what the other loses: the shortest answer is taken.
        shares = np.linalg.lstsq(matrix, missing, rcond=1e-12)[0]
        found *= np.maximum(1.0 + shares[:, None] + shares[None, :], 0.0)
    return found
