"""Slow checks on fine grids: run with `make slow`."""

from __future__ import annotations

import unittest

import numpy as np
from django.test import tag

from tests.support import quads
from wattikos_core.case import starter_case
from wattikos_core.grid.rectilinear import graded
from wattikos_core.materials import constant_table
from wattikos_core.physics import Condition, build_problem
from wattikos_core.solve import SolveSettings, solve_steady
from wattikos_core.studies import solve_case


@tag("slow")
class Fine(unittest.TestCase):
    def test_lid_driven_cavity_at_1000_approaches_the_spectral_minimum(self) -> None:
        """Graded 128²: minimum of u on the mid line -0.3874; spectral value -0.3886 (from memory)."""
        lines = graded(128, (True, True), 5.0)
        grid = quads(lines, lines)
        fluid = constant_table("fluid", density=1.0, specific_heat=1.0, viscosity=1e-3, conductivity=1.0)
        problem = build_problem(grid, [fluid], {"fluid, top": Condition("wall", velocity=(1.0, 0.0))})
        solution = solve_steady(problem, SolveSettings(tolerance=1e-7))
        self.assertTrue(solution.converged)
        centres = 0.5 * (lines[1:] + lines[:-1])
        middle = [np.interp(0.5, centres, row) for row in solution.state.velocity[:, 0].reshape(128, 128)]
        self.assertAlmostEqual(min(middle), -0.3886, delta=0.002)

    def test_the_passage_on_100_000_cells_and_its_order(self) -> None:
        duties = []
        case = starter_case("plate_passage")
        for fineness in (1.25, 2.5, 5.0):
            run = solve_case(case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": fineness})}))
            self.assertTrue(run.solution.converged)
            self.assertLess(run.value("heat balance"), 1e-9)
            duties.append(run.value("duty"))
        self.assertGreater(np.log2((duties[1] - duties[0]) / (duties[2] - duties[1])), 1.6)

    def test_the_segregated_method_on_10_000_cells(self) -> None:
        case = starter_case("plate_passage")
        grid = case.grid.model_copy(update={"fineness": 1.58})
        duties = []
        for method in ("segregated", "coupled"):
            solve = case.solve.model_copy(update={"method": method})
            run = solve_case(case.model_copy(update={"grid": grid, "solve": solve}))
            self.assertTrue(run.solution.converged)
            self.assertEqual(run.solution.method, method)
            duties.append(run.value("duty"))
        self.assertAlmostEqual(duties[0] / duties[1], 1.0, places=6)
