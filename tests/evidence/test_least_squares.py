"""Grid uncertainty by least squares: against sequences whose limit is known, with and without noise."""

from __future__ import annotations

import unittest

import numpy as np

from wattikos_core.evidence.least_squares import fit_grids

CELLS = [1000, 2000, 4000, 8000, 16000]
SIZE = np.array(CELLS) ** -0.5


class Fits(unittest.TestCase):
    def test_orders_that_the_scheme_can_have(self) -> None:
        """φ = 5 + α h^p: limit and order are found, and the ± of every grid covers its error by a quarter more."""
        for order in (0.7, 1.0, 1.6, 2.0):
            values = 5.0 + 3.0 * (SIZE / SIZE[0]) ** order
            found = fit_grids(values.tolist(), CELLS)
            self.assertAlmostEqual(found.extrapolated, 5.0, places=5)
            self.assertAlmostEqual(found.order or 0.0, order, places=4)
            np.testing.assert_allclose(found.plus_minus, 1.25 * (values - 5.0), rtol=1e-3)

    def test_an_order_that_is_none(self) -> None:
        """Faster than the scheme can be: fitted by its own powers, with the larger factor of safety."""
        values = 5.0 + 3.0 * (SIZE / SIZE[0]) ** 4
        found = fit_grids(values.tolist(), CELLS)
        self.assertIsNone(found.order)
        self.assertGreaterEqual(found.plus_minus[-1], abs(values[-1] - 5.0))

    def test_noise_widens_the_band(self) -> None:
        """Scattered values: the limit lies within the ± of every grid, in all of two hundred sequences but a few."""
        random = np.random.default_rng(5)
        missed = 0
        for _ in range(200):
            values = 5.0 + 0.3 * (SIZE / SIZE[0]) ** 2 + random.normal(0.0, 0.03, SIZE.size)
            found = fit_grids(values.tolist(), CELLS)
            missed += sum(abs(v - 5.0) > w for v, w in zip(values, found.plus_minus, strict=True))
        self.assertLess(missed / (200 * SIZE.size), 0.05)

    def test_what_does_not_change(self) -> None:
        found = fit_grids([7.0] * 4, CELLS[:4])
        self.assertEqual((found.extrapolated, found.plus_minus), (7.0, (0.0,) * 4))
