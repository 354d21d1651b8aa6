"""Differences of fields: manufactured ones on grids that differ, with nothing lost or gained on the way."""

from __future__ import annotations

import unittest
from itertools import pairwise

import numpy as np

from tests.support import quads
from wattikos_core.grid import Grid
from wattikos_core.physics.faces import Array
from wattikos_core.read import Instant, interpolant_of
from wattikos_core.read.comparing import carried, difference, overlap_of


def one(points: Array) -> Array:
    return np.asarray(300.0 + 10.0 * np.sin(3.0 * points[:, 0]) * np.cos(2.0 * points[:, 1]))


def other(points: Array) -> Array:
    return np.asarray(300.0 + 5.0 * points[:, 0] ** 2 - 3.0 * points[:, 1])


def grid(n: int, shake: float = 0.0, width: float = 1.0) -> Grid:
    return quads(np.linspace(0.0, width, n + 1), np.linspace(0.0, 1.0, n + 1), shake=shake)


def instant(g: Grid, field: Array) -> Instant:
    return Instant(interpolant_of(g), {"temperature": field})


class Differences(unittest.TestCase):
    def test_between_grids_that_differ(self) -> None:
        """The error falls with the square of the cell size."""
        errors = []
        for n in (12, 24, 48):
            first, second = grid(n), grid(round(1.3 * n), shake=0.25)
            found = difference(instant(first, one(first.centre)), instant(second, other(second.centre)), "temperature")
            errors.append(float(np.sqrt(np.mean((found - (one(first.centre) - other(first.centre))) ** 2))))
        self.assertLess(errors[0], 0.05)
        for coarse, fine in pairwise(errors):
            self.assertLess(fine, 0.33 * coarse)

    def test_nothing_is_lost_or_gained(self) -> None:
        """The integral over the section is the same before and after, to round-off."""
        first, second = grid(17), grid(23, shake=0.3)
        source = instant(second, other(second.centre) ** 2)
        found = carried(source, "temperature", overlap_of(first, second), first.n_cells)
        self.assertAlmostEqual(float(found @ first.volume) / float(source.fields["temperature"] @ second.volume), 1.0, places=9)

    def test_between_grids_too_large_to_be_laid_over_each_other(self) -> None:
        """Taken at the centres of cells: within the error of a grid of a 250th."""
        first, second = grid(250), grid(200)
        found = difference(instant(first, one(first.centre)), instant(second, other(second.centre)), "temperature")
        np.testing.assert_allclose(found, one(first.centre) - other(first.centre), atol=2e-4)

    def test_on_the_same_grid_it_is_just_subtracted(self) -> None:
        g = grid(10)
        found = difference(instant(g, one(g.centre)), instant(grid(10), other(g.centre)), "temperature")
        np.testing.assert_array_equal(found, one(g.centre) - other(g.centre))

    def test_where_only_one_of_both_is(self) -> None:
        """A section half as wide: no difference beyond it."""
        first, second = grid(20), grid(20, width=0.5)
        found = difference(instant(first, one(first.centre)), instant(second, other(second.centre)), "temperature")
        np.testing.assert_array_equal(np.isnan(found), first.centre[:, 0] > 0.5)
