"""Exchange between surfaces against networks solved by hand."""

from __future__ import annotations

import unittest

import numpy as np

from wattikos_core.radiation import STEFAN_BOLTZMANN, irradiation_matrix, net_radiation


class Networks(unittest.TestCase):
    """A triangle of three sides: two at temperatures, one that re-radiates or is held as well (from memory: textbook network)."""

    def setUp(self) -> None:
        self.area = np.array([1.0, 0.8, 0.6])
        a, b, c = self.area
        # Sides of a triangle: F_ab = (a + b - c) / 2a.
        self.factors = np.array(
            [[0.0, (a + b - c) / (2 * a), (a + c - b) / (2 * a)], [(b + a - c) / (2 * b), 0.0, (b + c - a) / (2 * b)],
             [(c + a - b) / (2 * c), (c + b - a) / (2 * c), 0.0]]
        )  # fmt: skip
        self.emissivity = np.array([0.8, 0.4, 0.6])

    def test_with_a_side_that_gives_off_nothing(self) -> None:
        a, factors, e = self.area, self.factors, self.emissivity
        heat, found = net_radiation(a, e, factors, np.array([900.0, 400.0, np.nan]), np.zeros(3))
        way_round = 1.0 / (1.0 / (a[0] * factors[0, 2]) + 1.0 / (a[1] * factors[1, 2]))
        resistance = (1 - e[0]) / (e[0] * a[0]) + 1.0 / (a[0] * factors[0, 1] + way_round) + (1 - e[1]) / (e[1] * a[1])
        self.assertAlmostEqual(heat[0], STEFAN_BOLTZMANN * (900.0**4 - 400.0**4) / resistance, delta=1e-9 * heat[0])
        self.assertAlmostEqual(heat[1], -heat[0], delta=1e-9 * heat[0])
        self.assertTrue(400.0 < found[2] < 900.0)

    def test_the_same_by_what_arrives(self) -> None:
        temperature = np.array([900.0, 400.0, 650.0])
        heat, _ = net_radiation(self.area, self.emissivity, self.factors, temperature, np.zeros(3))
        emitted = self.emissivity * STEFAN_BOLTZMANN * temperature**4
        arriving = irradiation_matrix(self.factors, self.emissivity) @ emitted
        np.testing.assert_allclose(self.area * (emitted - self.emissivity * arriving), heat, rtol=1e-12)
        self.assertAlmostEqual(float(heat.sum()), 0.0, delta=1e-9)
