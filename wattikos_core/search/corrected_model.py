"""A search for where an expensive quantity meets its target, led by a cheap model that the trials made so far correct.

The difference between found and cheap values at the trials is carried as a correction (one trial: a constant; more: a line
through the two nearest in the logarithm of the input), and the corrected model is solved for the target.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

# How near to the target is near enough, as a share of what the input can change between its bounds.
_TOLERANCE = 5e-4
_SAMPLES = 25


@dataclass(frozen=True)
class Trial:
    """One trial: the value of the input, what the cheap model says of it (None: nothing), and what was found."""

    value: float
    cheap: float | None
    found: float


class CorrectedModel:
    """The cheap model corrected by the trials; proposes the next value to try.

    Args:
        cheap: the quantity at a value of the input; None where the model has no answer.
        lower, upper: bounds of the input; `target` of the quantity.

    Example:
        >>> model = CorrectedModel(lambda x: 2.0 * x, 1.0, 10.0, 8.0)
        >>> round(model.propose([]), 6)
        4.0
        >>> round(model.propose([Trial(4.0, 8.0, 7.0)]), 6)
        4.5
    """

    def __init__(self, cheap: Callable[[float], float | None], lower: float, upper: float, target: float) -> None:
        self.cheap, self.lower, self.upper, self.target = cheap, lower, upper, target
        values = [(float(x), cheap(float(x))) for x in spread(lower, upper, _SAMPLES)]
        self.curve: list[tuple[float, float]] = [(x, y) for x, y in values if y is not None]

    def tolerance(self, trials: list[Trial]) -> float:
        """How near to the target is near enough: a share of what the input can change, by the model or between the trials so far.

        Of a first trial without a cheap model nothing is known to compare with: it has to meet the target to its digits.
        """
        heights = [y for _, y in self.curve] if len(self.curve) > 1 else [t.found for t in trials]
        return max(_TOLERANCE * (max(heights) - min(heights)), 1e-12)

    def _coordinate(self, value: float) -> float:
        return math.log(value) if self.lower > 0.0 else value

    def correction(self, value: float, trials: list[Trial]) -> float:
        """Found minus cheap, carried from the trials to `value`."""
        known = [(self._coordinate(t.value), t.found - t.cheap) for t in trials if t.cheap is not None]
        if not known:
            return 0.0
        x = self._coordinate(value)
        known.sort(key=lambda pair: abs(pair[0] - x))
        if len(known) == 1 or abs(known[0][0] - known[1][0]) < 1e-12:
            return known[0][1]
        (x0, y0), (x1, y1) = known[0], known[1]
        # A line is trusted between its points and a little beyond.
        share = float(np.clip((x - x0) / (x1 - x0), -0.5, 1.5))
        return y0 + share * (y1 - y0)

    def propose(self, trials: list[Trial]) -> float:
        """Where the corrected model meets the target; the better bound when it does not."""
        from scipy.optimize import brentq

        if len(self.curve) < 2:
            return self._without_model(trials)

        def miss(value: float) -> float:
            cheap = self.cheap(value)
            return float("nan") if cheap is None else cheap + self.correction(value, trials) - self.target

        points = [x for x, _ in self.curve]
        misses = [miss(x) for x in points]
        # Of several crossings take the one nearest to where the case stands now, or to the last trial.
        near = trials[-1].value if trials else points[len(points) // 2]
        crossings = [
            (points[i], points[i + 1])
            for i in range(len(points) - 1)
            if misses[i] * misses[i + 1] <= 0.0 and misses[i] != misses[i + 1]
        ]
        if crossings:
            a, b = min(crossings, key=lambda pair: abs(self._coordinate(pair[0]) - self._coordinate(near)))
            return float(brentq(miss, a, b, xtol=1e-9 * (b - a) + 1e-15, rtol=1e-10))
        return points[int(np.argmin(np.abs(misses)))]

    def _without_model(self, trials: list[Trial]) -> float:
        """Bracketing secant steps when no cheap model gives the quantity."""
        ends = (self.lower, self.upper)
        if len(trials) < 2:
            return ends[len(trials)]
        ends_of_it = bracket(trials, self.target)
        if ends_of_it is None:
            return min(trials, key=lambda t: abs(t.found - self.target)).value
        low, high = (self._coordinate(t.value) for t in ends_of_it)
        x = self._inverse(trials)
        if x is None or not low + 0.02 * (high - low) < x < high - 0.02 * (high - low):
            x = 0.5 * (low + high)
        return math.exp(x) if self.lower > 0.0 else x

    def _inverse(self, trials: list[Trial]) -> float | None:
        """Where a parabola through the three trials nearest to the target, the input over the quantity, meets it."""
        nearest = sorted(trials, key=lambda t: abs(t.found - self.target))[:3]
        heights = [t.found - self.target for t in nearest]
        if len(set(heights)) < len(heights):
            return None
        total = 0.0
        for i, trial in enumerate(nearest):
            weight = math.prod(-heights[j] / (heights[i] - heights[j]) for j in range(len(nearest)) if j != i)
            total += weight * self._coordinate(trial.value)
        return total


def bracket(trials: list[Trial], target: float) -> tuple[Trial, Trial] | None:
    """Two trials next to each other between which the target lies; None when there are none."""
    for left, right in pairwise(sorted(trials, key=lambda t: t.value)):
        if (left.found - target) * (right.found - target) <= 0.0 and left.found != right.found:
            return left, right
    return None


def spread(lower: float, upper: float, count: int) -> np.ndarray:
    """Values between bounds: each the same multiple of the one before, or evenly apart where the lower bound is not positive."""
    return np.geomspace(lower, upper, count) if lower > 0.0 else np.linspace(lower, upper, count)
