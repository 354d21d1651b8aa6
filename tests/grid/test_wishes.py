"""What a grid is asked for: a number of cells, one row in strips, thermal layers of natural convection."""

from __future__ import annotations

import unittest

from benchmarks.in_time import cavity
from wattikos_core.case import Case, starter_case
from wattikos_core.studies import fineness_of, grid_of, prepare, solve_case


def asking_for(case: Case, cells: int) -> Case:
    return case.model_copy(update={"grid": case.grid.model_copy(update={"cells": cells})})


class Cells(unittest.TestCase):
    def test_about_as_many_as_asked_for(self) -> None:
        for key in ("plate_passage", "bundle_staggered"):
            for cells in (1_500, 12_000):
                made = grid_of(prepare(asking_for(starter_case(key), cells))).n_cells
                self.assertAlmostEqual(made / cells, 1.0, delta=0.15)

    def test_beyond_fineness_eight(self) -> None:
        """A plain rectangle was allowed some thousand cells."""
        prepared = prepare(asking_for(cavity(1e4, 1.0), 100_000))
        self.assertGreater(fineness_of(prepared), 8.0)
        self.assertAlmostEqual(grid_of(prepared).n_cells / 1e5, 1.0, delta=0.1)


class ThermalLayers(unittest.TestCase):
    def test_default_cavities_are_within_two_per_cent(self) -> None:
        """Nusselt numbers of de Vahl Davis (1983) and Le Quéré (1991), from memory; 3 and 9 % off at Ra 1e6 and 1e7 before."""
        for rayleigh, nusselt in ((1e5, 4.5216), (1e6, 8.8252), (1e7, 16.523)):
            run = solve_case(cavity(rayleigh, 1.0))
            self.assertTrue(run.solution.converged)
            self.assertAlmostEqual(abs(run.value("heat out through box, left")) / 0.1 / nusselt, 1.0, delta=0.02)
