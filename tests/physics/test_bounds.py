"""Convection that cannot leave what conditions, sources and the start allow, and is of second order all the same."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from tests.support import quads
from wattikos_core.case import read_case, starter_case
from wattikos_core.materials import constant_table
from wattikos_core.physics import Condition, FlowPhysics, Problem, beginning_at, build_problem
from wattikos_core.physics.schemes import bounded, bounded_slopes
from wattikos_core.solve import SolveSettings, TimeSettings, solve_in_time, solve_steady
from wattikos_core.solve.start import initial_state
from wattikos_core.studies import solve_case

Array = NDArray[np.float64]
DIFFUSIVITY = 0.02


def stream(x: int, y: int, entering: Array | float) -> Problem:
    """A uniform stream along x between planes of symmetry, of length 2 and height 1; speed, density and heat capacity are 1."""
    fluid = constant_table("fluid", density=1.0, specific_heat=1.0, viscosity=1e-3, conductivity=DIFFUSIVITY)
    grid = quads(np.linspace(0.0, 2.0, x + 1), np.linspace(0.0, 1.0, y + 1))
    conditions = {
        "fluid, left": Condition("inlet", mean_velocity=1.0, temperature=entering),
        "fluid, right": Condition("outlet"),
        "fluid, bottom": Condition("symmetry"),
        "fluid, top": Condition("symmetry"),
    }
    return build_problem(grid, [fluid], conditions)


class Smooth(unittest.TestCase):
    def test_second_order_with_bounds_at_work(self) -> None:
        """T = 300 + 10 exp(-λx) cos πy, where λ + αλ² = απ²: exact for a uniform stream; its crest stands on a bound."""
        decay = (-1.0 + np.sqrt(1.0 + 4.0 * (DIFFUSIVITY * np.pi) ** 2)) / (2.0 * DIFFUSIVITY)
        errors = []
        for cells in (16, 32, 64):
            y = (np.arange(cells) + 0.5) / cells
            mean = np.sinc(0.5 / cells)
            problem = stream(2 * cells, cells, 300.0 + 10.0 * mean * np.cos(np.pi * y))
            solution = solve_steady(problem, SolveSettings(tolerance=1e-9))
            self.assertTrue(solution.converged)
            centre = problem.grid.centre
            exact = 300.0 + 10.0 * np.exp(-decay * centre[:, 0]) * np.cos(np.pi * centre[:, 1])
            inside = centre[:, 0] < 1.0
            errors.append(float(np.sqrt(np.mean((solution.state.stretched - exact)[inside] ** 2))))
        self.assertGreater(np.log2(errors[0] / errors[1]), 1.8)
        self.assertGreater(np.log2(errors[1] / errors[2]), 1.8)

    def test_the_limiter(self) -> None:
        self.assertAlmostEqual(bounded(0.01, 1.0), 0.01, delta=1e-10)
        self.assertLess(bounded(5.0, 1.0), 1.0)
        self.assertLess(abs(bounded(-5.0, 1.0)), 1.0)
        self.assertEqual(bounded(5.0, 0.0), 0.0)
        self.assertEqual(bounded(5.0, np.inf), 5.0)

    def test_its_slopes(self) -> None:
        h = 1e-6
        for correction, below in ((0.3, 0.5), (0.7, 0.5), (2.0, 0.5)):
            by_correction, by_value = bounded_slopes(correction, below, 10.0)
            self.assertAlmostEqual(
                by_correction, (bounded(correction + h, below) - bounded(correction - h, below)) / (2 * h), places=6
            )
            self.assertAlmostEqual(by_value, (bounded(correction, below + h) - bounded(correction, below - h)) / (2 * h), places=6)


class Steep(unittest.TestCase):
    def test_a_step_across_a_stream(self) -> None:
        """Cold below, hot above, hardly any conduction: Fromm's scheme alone swings beside the step."""
        fluid = constant_table("fluid", density=1.0, specific_heat=1.0, viscosity=1e-3, conductivity=1e-6)
        grid = quads(np.linspace(0.0, 2.0, 33), np.linspace(0.0, 1.0, 17), shake=0.25)
        inlet = np.where(grid.face_centre[grid.groups["fluid, left"]][:, 1] > 0.5, 310.0, 300.0)
        conditions = {
            "fluid, left": Condition("inlet", mean_velocity=1.0, temperature=inlet),
            "fluid, right": Condition("outlet"),
            "fluid, bottom": Condition("symmetry"),
            "fluid, top": Condition("symmetry"),
        }
        problem = build_problem(grid, [fluid], conditions)
        solution = solve_steady(problem, SolveSettings(tolerance=1e-8))
        self.assertTrue(solution.converged)
        self.assertGreater(float(solution.state.stretched.min()), 300.0 - 0.01)
        self.assertLess(float(solution.state.stretched.max()), 310.0 + 0.01)
        free = replace(problem, cells=problem.cells._replace(low=problem.cells.low - np.inf, high=problem.cells.high + np.inf))
        swings = solve_steady(free, SolveSettings(tolerance=1e-8)).state.stretched
        self.assertGreater(max(300.0 - float(swings.min()), float(swings.max()) - 310.0), 0.1)

    def test_the_staggered_bundle(self) -> None:
        """All that enters is at 12 °C and hotter; whey was 1 K colder beside hot tubes once."""
        document = starter_case("bundle_staggered").model_dump(mode="json")
        run = solve_case(read_case(document))
        self.assertTrue(run.solution.converged)
        self.assertGreater(float(run.evaluation.temperature.min()), 273.15 + 12.0 - 0.01)
        self.assertLess(len(run.solution.history), 10)
        self.assertFalse([finding.text for finding in run.findings if "colder than anything given" in finding.text])

    def test_in_time(self) -> None:
        """A front that is carried through a duct stays between what was there and what comes in."""
        problem = stream(48, 4, 310.0)
        problem = replace(problem, physics=FlowPhysics(in_time=True), blend=1.0)
        start = replace(initial_state(problem), stretched=np.full(problem.grid.n_cells, 300.0))
        problem = beginning_at(problem, start.stretched)
        kept: list[Array] = []
        wishes = TimeSettings(end=1.0, stops=(0.25, 0.5, 0.75), tolerance=2e-5, accuracy=1e-3)
        one = np.ones(problem.grid.n_cells)
        running = replace(start, velocity=np.stack([one, 0.0 * one], axis=1))
        solve_in_time(lambda t: problem, wishes, (running, 0.0 * one), keep=lambda i: kept.append(i.iterate.state.stretched))
        self.assertGreater(min(float(t.min()) for t in kept), 300.0 - 0.02)
        self.assertLess(max(float(t.max()) for t in kept), 310.0 + 0.02)
