"""Joined ends of a module: what faces between them must add up to, however differently the ends are gridded."""

from __future__ import annotations

import unittest

import numpy as np

from tests.sections import circle, held, rectangle, section_case
from tests.support import quads
from wattikos_core.errors import CaseError
from wattikos_core.grid import Grid, join_ends, quality_of
from wattikos_core.grid.grid import Polygons, build_grid
from wattikos_core.section import SIDES
from wattikos_core.studies import grid_of, prepare


def open_by(grid: Grid) -> np.ndarray:
    """The sum of all area vectors around each cell, in shares of its size: zero when it is closed."""
    total = np.zeros((grid.n_cells, 2))
    np.add.at(total, grid.owner, grid.area)
    inner = grid.neighbour >= 0
    np.add.at(total, grid.neighbour[inner], -grid.area[inner])
    return np.abs(total).max(axis=1) / np.hypot(*grid.area.T).max()


def uneven() -> Grid:
    """Two columns of cells whose rows do not meet at all at the two ends."""
    left, right = np.array([0.0, 0.2, 0.7, 1.0]), np.array([0.0, 0.35, 0.5, 1.0])
    nodes = np.concatenate([np.stack([np.full(4, x), y], axis=1) for x, y in ((0.0, left), (1.0, right), (2.0, right))])
    cells = [[i, 4 + i, 5 + i, 1 + i] for i in range(3)] + [[4 + i, 8 + i, 9 + i, 5 + i] for i in range(3)]
    return build_grid(
        Polygons(nodes, np.arange(0, 25, 4), np.array(cells).ravel()),
        np.zeros(6, dtype=np.int64),
        ["fluid"],
        np.tile(np.array(SIDES), 6),
        axisymmetric=False,
        depth=2.0,
    )


class Joining(unittest.TestCase):
    def test_ends_with_the_same_nodes(self) -> None:
        grid = quads(np.linspace(0.0, 2.0, 4), np.linspace(0.0, 1.0, 6))
        joined = join_ends(grid, ["fluid, left"], ["fluid, right"])
        self.assertEqual(joined.joined.size, 5)
        self.assertEqual(joined.n_faces, grid.n_faces - 5)
        np.testing.assert_allclose(joined.period, [2.0, 0.0])
        self.assertNotIn("fluid, left", joined.groups)
        # Owners are at the downstream end, faces lead out of it, and the way to the neighbour leads on.
        np.testing.assert_allclose(joined.area[joined.joined], [[0.2, 0.0]] * 5)
        np.testing.assert_allclose(joined.way_between()[joined.joined], [[2.0 / 3.0, 0.0]] * 5, atol=1e-12)
        self.assertLess(float(open_by(joined)[joined.owner].max()), 1e-12)

    def test_ends_with_other_nodes(self) -> None:
        joined = join_ends(uneven(), ["fluid, left"], ["fluid, right"])
        # From 0, 0.2, 0.35, 0.5, 0.7 to 1: five faces.
        self.assertEqual(joined.joined.size, 5)
        np.testing.assert_allclose(joined.area[joined.joined].sum(axis=0), [2.0, 0.0])
        self.assertLess(float(open_by(joined)[joined.owner].max()), 1e-12)

    def test_about_an_axis_the_areas_add_up_too(self) -> None:
        grid = quads(np.linspace(0.0, 2.0, 4), np.linspace(0.0, 1.0, 6), axisymmetric=True)
        joined = join_ends(grid, ["fluid, left"], ["fluid, right"])
        self.assertAlmostEqual(float(joined.area[joined.joined, 0].sum()), np.pi, places=12)

    def test_a_body_fitted_section(self) -> None:
        # The hole stands near one end: the gridder divides the two ends as it likes.
        case = section_case(
            rectangle("water", "water", "0 m", "0 m", "60 mm", "30 mm"),
            circle("hole", "void", "14 mm", "12 mm", "12 mm"),
            conditions=[held("water, hole outside", at="20 °C")],
        )
        grid = grid_of(prepare(case))
        joined = join_ends(grid, ["water, left"], ["water, right"])
        self.assertGreaterEqual(joined.joined.size, max(grid.groups["water, left"].size, grid.groups["water, right"].size))
        self.assertLess(float(open_by(joined).max()), 1e-6)
        self.assertLess(quality_of(joined).non_orthogonality, 80.0)

    def test_ends_that_do_not_fit_are_refused(self) -> None:
        grid = quads(np.linspace(0.0, 2.0, 4), np.linspace(0.0, 1.0, 6))
        with self.assertRaisesRegex(CaseError, "is not 'fluid, left' shifted"):
            join_ends(grid, ["fluid, left"], ["fluid, top"])
        with self.assertRaisesRegex(CaseError, "there is no boundary 'fluid, rihgt'"):
            join_ends(grid, ["fluid, left"], ["fluid, rihgt"])
