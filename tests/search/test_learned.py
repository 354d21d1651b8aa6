"""Searches that learn from trials alone: constrained optima that are known exactly."""

from __future__ import annotations

import unittest
from collections.abc import Callable

import numpy as np

from wattikos_core.search.learned import LearnedModel
from wattikos_core.search.space_mapping import Aim, Array, Limit, Trial, Variable


def search(found: Callable[[Array], Array], variables: list[Variable], limits: list[Limit], aim: Aim) -> tuple[Trial, int]:
    """The best trial within the limits, and how many there were."""
    count = found(np.array([v.at(0.5) for v in variables])).size
    model = LearnedModel(variables, limits, aim, count=count, margin=2e-4)
    trials: list[Trial] = []
    while len(trials) < 30 and (place := model.next_place(trials, 4e-4)) is not None:
        trials.append(Trial(place, np.zeros(count), found(place)))
    good = [trial for trial in trials if all(limit.missing(trial.found) <= 4e-4 for limit in limits)]
    return min(good, key=lambda trial: aim(trial.place, trial.found)), len(trials)


class Learning(unittest.TestCase):
    def test_the_nearest_point_of_a_half_plane(self) -> None:
        """Least distance from (0.3, 0.6) where x + y is at least 1.2: (0.45, 0.75), squared 0.045."""

        def found(x: Array) -> Array:
            return np.array([(x[0] - 0.3) ** 2 + (x[1] - 0.6) ** 2, x[0] + x[1]])

        best, count = search(found, [Variable(0.0, 1.0)] * 2, [Limit(1, 1.2, np.inf, 1.2)], lambda x, q: float(q[0]))
        np.testing.assert_allclose(best.place, [0.45, 0.75], atol=5e-3)
        self.assertLessEqual(count, 20)

    def test_a_valley_with_three_bottoms(self) -> None:
        """Branin's function (Branin 1972, IBM J. Res. Dev. 16, 504): its least value is 0.397887."""

        def found(x: Array) -> Array:
            bow = x[1] - 5.1 / (4.0 * np.pi**2) * x[0] ** 2 + 5.0 / np.pi * x[0] - 6.0
            return np.array([bow**2 + 10.0 * (1.0 - 1.0 / (8.0 * np.pi)) * np.cos(x[0]) + 10.0])

        best, count = search(found, [Variable(-5.0, 10.0), Variable(0.0, 15.0)], [], lambda x, q: float(q[0]))
        self.assertAlmostEqual(float(best.found[0]), 0.397887, delta=0.02)
        self.assertLessEqual(count, 25)

    def test_whole_numbers(self) -> None:
        """Least (n - 6.4)^2 + (x - 0.2)^2 with n whole: n = 6."""

        def found(x: Array) -> Array:
            return np.array([(x[0] - 6.4) ** 2 + (x[1] - 0.2) ** 2])

        best, _ = search(found, [Variable(1.0, 12.0, whole=True), Variable(0.0, 1.0)], [], lambda x, q: float(q[0]))
        self.assertEqual(best.place[0], 6.0)
        self.assertAlmostEqual(float(best.place[1]), 0.2, delta=0.03)
