"""Grid uncertainty from more than three grids: least squares by Eça and Hoekstra (2014), J. Comput. Phys. 262, 104.

Values on all grids are fitted by φ0 + α h^p, with weights by cell size and without; where the order found is none that the scheme
can have, by the powers that it can have instead. The estimate of the error is widened by how well the fit meets the values.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import minimize_scalar

from wattikos_core.physics.faces import Array

# Orders that are taken as they are found; the scheme is of second order.
_LOWEST, _HIGHEST = 0.5, 2.0
_TRUSTED_TO = 2.1
_SURE, _UNSURE = 1.25, 3.0
# Orders that are tried, beyond what is believed, so that an order that is none is seen.
_TRIED = (0.05, 8.0)


@dataclass(frozen=True)
class FittedGrids:
    """What values on several grids point to.

    Attributes:
        extrapolated: the value towards which they go.
        order: found by the fit; None where powers of the scheme were fitted instead.
        plus_minus: of the value on each grid, in the order they were given.
        scatter: standard deviation of the fit.
    """

    extrapolated: float
    order: float | None
    plus_minus: tuple[float, ...]
    scatter: float


@dataclass(frozen=True)
class _Fit:
    extrapolated: float
    values: Array
    scatter: float
    order: float | None


def fit_grids(values: Sequence[float], cells: Sequence[int], dimensions: int = 2) -> FittedGrids:
    """Fit a quantity on four or more grids.

    Args:
        values: of the quantity.
        cells: how many cells each grid has.
        dimensions: that are refined.

    Example:
        >>> sizes = [1000, 2000, 4000, 8000]
        >>> found = fit_grids([1.0 + 100.0 / n for n in sizes], sizes)
        >>> round(found.extrapolated, 6), round(found.order, 3)
        (1.0, 2.0)
    """
    phi = np.asarray(values, dtype=float)
    size = np.asarray(cells, dtype=float) ** (-1.0 / dimensions)
    h = size / size.min()
    spread = float(np.ptp(phi)) / (phi.size - 1)
    if spread <= 1e-13 * max(float(np.abs(phi).max()), 1e-300):
        return FittedGrids(float(phi[np.argmin(h)]), None, (0.0,) * phi.size, 0.0)
    fit = _best(phi, h)
    error = np.abs(phi - fit.extrapolated)
    beside = np.abs(phi - fit.values)
    if fit.scatter < spread:
        sure = fit.order is not None and _LOWEST <= fit.order < _TRUSTED_TO
        width = (_SURE if sure else _UNSURE) * error + fit.scatter + beside
    else:
        width = _UNSURE * fit.scatter / spread * (error + fit.scatter + beside)
    return FittedGrids(fit.extrapolated, fit.order, tuple(float(w) for w in width), fit.scatter)


def _best(phi: Array, h: Array) -> _Fit:
    """The fit of the power found; of the powers that the scheme has where that is none of them."""
    weights = [np.full(h.size, 1.0 / h.size), (1.0 / h) / (1.0 / h).sum()]
    free = min((_free(phi, h, w) for w in weights), key=lambda fit: fit.scatter)
    assert free.order is not None
    if _LOWEST <= free.order <= _HIGHEST:
        return free
    powers: list[tuple[Callable[[Array], Array], ...]] = [(_first,), (_second,)]
    if free.order < _LOWEST:
        powers.append((_first, _second))
    return min((_linear(phi, h, w, terms) for w in weights for terms in powers), key=lambda fit: fit.scatter)


def _first(h: Array) -> Array:
    return h


def _second(h: Array) -> Array:
    return np.asarray(h**2)


def _free(phi: Array, h: Array, weight: Array) -> _Fit:
    def miss(order: float) -> float:
        return _linear(phi, h, weight, (lambda x: np.asarray(x**order),), 3).scatter

    # The lowest of a row of trials, then the bottom near it.
    tried = np.linspace(*_TRIED, 80)
    near = tried[int(np.argmin([miss(p) for p in tried]))]
    step = tried[1] - tried[0]
    low, high = max(near - step, _TRIED[0]), min(near + step, _TRIED[1])
    order = float(minimize_scalar(miss, bounds=(low, high), method="bounded", options={"xatol": 1e-6}).x)
    fit = _linear(phi, h, weight, (lambda x: np.asarray(x**order),), 3)
    return _Fit(fit.extrapolated, fit.values, fit.scatter, order)


def _linear(phi: Array, h: Array, weight: Array, terms: Sequence[Callable[[Array], Array]], unknowns: int = 0) -> _Fit:
    columns = np.column_stack([np.ones(h.size), *(term(h) for term in terms)])
    root = np.sqrt(weight)
    found = np.linalg.lstsq(columns * root[:, None], phi * root, rcond=None)[0]
    values = columns @ found
    free = max(phi.size - (unknowns or columns.shape[1]), 1)
    # Weights sum to one: n of them count like plain ones.
    scatter = float(np.sqrt(phi.size * (weight @ (phi - values) ** 2) / free))
    return _Fit(float(found[0]), values, scatter, None)
