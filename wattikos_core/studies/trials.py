"""On which places of its grid an answer depends: each is made finer by itself, and what that changes is seen.

What a quantity changes by when a place is refined tells the share of its error that is made there; a scheme of second order
leaves E/m² of it where cells are m times as fine. Shares have signs: what one place adds another takes away, so that a place
refined by itself can make an answer worse. The fineness of all places together is what leaves the least error for as many cells.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np
from scipy.optimize import minimize

from wattikos_core.errors import CaseError
from wattikos_core.grid import Density, Grid, density_of
from wattikos_core.grid.density import graded_to_corners
from wattikos_core.grid.places import Place, places_of
from wattikos_core.ledger import Key
from wattikos_core.ledger.key import in_sense
from wattikos_core.physics.faces import Array
from wattikos_core.section import PaintedSection

# How many times as fine a place is made to see what it does.
_FINER = 2.0
_LEFT = 1.0 - _FINER**-2
_COARSEST, _FINEST = 0.6, 3.0
# The sum of what all places make counts so much beside what remains when they take from each other, which is known less well; the
# worst of several quantities is their norm of this power.
_WITHOUT_SIGNS, _WORST = 0.3, 6
_FEWEST = 3.0
_WAYS = 5
# What the step to a grid twice as fine is of what is still to come, at an order between the first and the second.
_FURTHER = _FINER**1.5 - 1.0

Solved = tuple[Grid, Mapping[Key, float]]


def learn_density(
    section: PaintedSection,
    base: Solved,
    bending: Array,
    solve: Callable[[Density | None, float], Solved],
    tolerances: Mapping[Key, float],
    tell: Callable[[int, int], None],
) -> Density | None:
    """Where cells are to be finer and where they may be coarser for the sake of some quantities.

    Of five ways to share out the cells (evenly; by the trials; within places also by where the solution bends, or towards corners,
    or both) the one is taken whose error is least, seen from grids twice as fine.

    Args:
        section: the painted section.
        base: grid and values of the solution that is learnt from.
        bending: of that solution, see `read.indicator`.
        solve: solves on a grid of a density that is so many times as fine as the base.
        tolerances: the quantities, each with the error that is allowed, in its unit.
        tell: called before each trial with its number and how many there are.

    Returns:
        The density with about as many cells as the base; None where even cells are best.
    """
    grid, values = base
    places = places_of(section, grid)
    count = len(places) + _WAYS
    errors, sizes = np.zeros((len(places), len(tolerances))), np.ones(len(places))
    for i, place in enumerate(places):
        tell(i, count)
        factors = [_FINER if other is place else 1.0 for other in places]
        try:
            finer, there = solve(density_of(grid, places, factors), 1.0)
        except CaseError:
            # A grid that cannot be made tells nothing of its place.
            continue
        errors[i] = [_change(values, there, key) / allowed / _LEFT for key, allowed in tolerances.items()]
        more = finer.n_cells - grid.n_cells
        sizes[i] = max(more / (_FINER - 1.0 if place.axis is not None else _FINER**2 - 1.0), _FEWEST)
    best = best_factors(places, errors, sizes).tolist()
    tried, bent = density_of(grid, places, best), density_of(grid, places, best, bending)
    ways = [None, tried, bent, graded_to_corners(tried, section, grid), graded_to_corners(bent, section, grid)]
    solved: list[tuple[Density | None, Mapping[Key, float], Solved]] = []
    for i, way in enumerate(ways):
        tell(len(places) + i, count)
        try:
            solved.append((way, solve(way, 1.0)[1], solve(way, _FINER)))
        except CaseError:
            continue
    return _least_error(solved, tolerances) if solved else None


def _least_error(
    solved: Sequence[tuple[Density | None, Mapping[Key, float], Solved]], tolerances: Mapping[Key, float]
) -> Density | None:
    """The density whose error is least for its cells on the finer grid, seen from the mean of what all of them point to."""
    scores: list[tuple[float, int, Density | None]] = []
    for way, _, (grid, values) in solved:
        errors = []
        for key, allowed in tolerances.items():
            pairs = [(in_sense(coarse, key), in_sense(finer, key)) for _, coarse, (_, finer) in solved]
            known = [fine + (fine - coarse) / _FURTHER for coarse, fine in pairs if coarse is not None and fine is not None]
            mine = in_sense(values, key)
            if known and mine is not None:
                errors.append(abs(mine - float(np.mean(known))) / allowed)
        scores.append((max(errors, default=0.0) * grid.n_cells, len(scores), way))
    return min(scores, key=lambda score: score[:2])[2]


def _change(before: Mapping[Key, float], after: Mapping[Key, float], key: Key) -> float:
    one, other = in_sense(before, key), in_sense(after, key)
    return other - one if one is not None and other is not None else 0.0


def best_factors(places: Sequence[Place], errors: Array, sizes: Array) -> Array:
    """How many times as fine each place is to be for the least error with the cells there are.

    Args:
        places: of cells, or stretches along both axes.
        errors: shape (n_places, n_quantities), made at each place, as shares of what is allowed.
        sizes: cells of each place, or cells on the lines of each stretch.

    Example:
        >>> import numpy as np
        >>> place = Place(np.zeros(0, dtype=np.int64))
        >>> best_factors([place, place], np.array([[16.0], [1.0]]), np.array([100.0, 100.0])).round(2).tolist()
        [1.26, 0.63]
    """
    if not errors.any():
        return np.ones(sizes.size)
    axes = np.array([-1 if place.axis is None else place.axis for place in places])
    shares = np.array([np.where(axes == axis, sizes, 0.0) / sizes[axes == axis].sum() for axis in np.unique(axes)])
    # Cells of any shape become more by both directions, lines by one, and by that of the lines across them.
    power = 2.0 if (axes < 0).any() else 1.0
    scale = float(np.abs(errors).sum(axis=0).max())

    def left(logarithms: Array) -> float:
        by_place = errors / scale * np.exp(-2.0 * logarithms)[:, None]
        totals = np.concatenate([np.abs(by_place.sum(axis=0)), _WITHOUT_SIGNS * np.abs(by_place).sum(axis=0)]).reshape(2, -1)
        return float(np.linalg.norm(totals, _WORST, axis=1).sum())

    def more_cells(logarithms: Array) -> float:
        return float(np.log(shares @ np.exp(power * logarithms)).sum())

    bounds = [(np.log(_COARSEST), np.log(_FINEST))] * sizes.size
    constraint = {"type": "eq", "fun": more_cells}
    found = minimize(left, np.zeros(sizes.size), method="SLSQP", bounds=bounds, constraints=[constraint], options={"maxiter": 300})
    return np.exp(found.x) if found.success else np.ones(sizes.size)
