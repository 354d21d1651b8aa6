"""Solving: two methods one answer, warm starts, stopping, fall-back, checkpoints."""

from __future__ import annotations

import unittest
from unittest import mock

import numpy as np

from tests.support import INSULATED, SYMMETRIC, WALL_AT_60, duct, quads
from wattikos_core.case import Case, starter_case
from wattikos_core.ledger import Key
from wattikos_core.materials import constant_table
from wattikos_core.physics import Condition, build_problem
from wattikos_core.solve import Event, SolveSettings, solve_steady
from wattikos_core.solve.checkpoint import unpack_checkpoint
from wattikos_core.solve.linear import DirectSolver, flexible_gmres
from wattikos_core.studies import solve_case, with_input


def passage(fineness: float = 0.5, **solve: object) -> Case:
    case = starter_case("plate_passage")
    wishes = case.solve.model_copy(update=solve)
    return case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": fineness}), "solve": wishes})


class Methods(unittest.TestCase):
    def test_coupled_and_segregated_agree(self) -> None:
        coupled, segregated = (solve_case(passage(0.4, method=m)) for m in ("coupled", "segregated"))
        self.assertTrue(coupled.solution.converged and segregated.solution.converged)
        for name in ("duty", "hot pressure drop", "cold outlet temperature"):
            self.assertAlmostEqual(coupled.value(name) / segregated.value(name), 1.0, places=6)

    def test_the_conjugate_balance_closes(self) -> None:
        run = solve_case(passage())
        self.assertLess(run.value("heat balance"), 1e-9)
        self.assertLess(run.value("mass balance"), 1e-9)
        self.assertAlmostEqual(run.value("heat from cold to plate") / run.value("heat from plate to hot"), 1.0, places=9)

    def test_without_the_direct_solver_the_other_method_steps_in(self) -> None:
        with mock.patch("wattikos_core.solve.steady.direct_solver_available", return_value=False):
            run = solve_case(passage(0.3))
        self.assertEqual(run.solution.method, "segregated")
        self.assertTrue(run.solution.converged)
        self.assertTrue(any("segregated" in f.text for f in run.findings))

    def test_a_coupled_solve_that_fails_goes_on_segregated(self) -> None:
        with mock.patch("wattikos_core.solve.coupled.CoupledSolver.step", lambda self, now, hold=(): (now, False)):
            run = solve_case(passage(0.3))
        self.assertEqual(run.solution.method, "segregated")
        self.assertTrue(run.solution.converged)

    def test_air_heated_strongly(self) -> None:
        """Density falls by 12 % along the duct: mass must still be conserved."""
        case = duct(length=0.2, height=0.004, reynolds=200.0, diameter=0.008, bottom=WALL_AT_60, top=INSULATED)
        section = case.section.model_copy(update={"parts": [case.section.parts[0].model_copy(update={"material": "air"})]})
        run = solve_case(case.model_copy(update={"section": section}))
        self.assertTrue(run.solution.converged)
        self.assertLess(run.value("mass balance"), 1e-9)
        self.assertAlmostEqual(run.value("duct outlet temperature"), 333.1, delta=0.5)

    def test_a_closed_fluid_gets_its_pressure_level(self) -> None:
        grid = quads(np.linspace(0.0, 1.0, 9), np.linspace(0.0, 1.0, 9))
        fluid = constant_table("fluid", density=1.0, specific_heat=1.0, viscosity=0.1, conductivity=1.0)
        moving = {"fluid, top": Condition("wall", velocity=(1.0, 0.0))}
        problem = build_problem(grid, [fluid], moving)
        self.assertEqual(int(problem.cells.pin.sum()), 1)
        for method in ("coupled", "segregated"):
            solution = solve_steady(problem, SolveSettings(method=method, tolerance=1e-7))
            self.assertTrue(solution.converged, method)
            self.assertAlmostEqual(float(solution.state.pressure[problem.cells.pin == 1][0]), 0.0, places=6)


class Running(unittest.TestCase):
    def test_events_tell_progress_and_watches(self) -> None:
        events: list[Event] = []
        solve_case(passage(), listen=events.append)
        steps = [e.step for e in events if e.residuals]
        self.assertEqual(steps, list(range(1, len(steps) + 1)))
        self.assertIn(Key("duty"), events[-1].watches)
        self.assertGreater(events[-1].fraction, 0.99)
        self.assertLess(events[-1].residuals["energy"], 1e-8)

    def test_stopping_keeps_what_is_there(self) -> None:
        calls = iter(range(100))
        run = solve_case(passage(), cancel=lambda: next(calls) >= 2)
        self.assertTrue(run.solution.stopped)
        self.assertFalse(run.solution.converged)
        self.assertTrue(any("stopped" in f.text for f in run.findings))

    def test_too_few_steps_is_said(self) -> None:
        run = solve_case(passage(method="coupled", max_steps=2))
        self.assertFalse(run.solution.converged)
        self.assertTrue(any("not converged" in f.text for f in run.findings))

    def test_a_warm_start_needs_fewer_steps(self) -> None:
        cold = solve_case(passage())
        checkpoint = cold.solution.checkpoint()
        changed = with_input(passage(), "length", 0.63, "mm")
        warm = solve_case(changed, start=checkpoint)
        self.assertLess(len(warm.solution.history), len(cold.solution.history))
        self.assertAlmostEqual(warm.value("duty") / solve_case(changed).value("duty"), 1.0, places=7)

    def test_a_start_without_some_parts_still_works(self) -> None:
        cold = solve_case(passage(0.4))
        checkpoint = cold.solution.checkpoint()
        walled = passage(0.4)
        item = walled.inputs["end_walls"].model_copy(update={"value": "1"})
        walled = walled.model_copy(update={"inputs": {**walled.inputs, "end_walls": item}})
        run = solve_case(walled, start=checkpoint)
        self.assertTrue(run.solution.converged)
        self.assertIn("hot end wall", run.problem.grid.region_names)

    def test_checkpoints_lose_nothing(self) -> None:
        run = solve_case(passage(0.3))
        kept = unpack_checkpoint(run.solution.checkpoint())
        for name in ("velocity", "pressure", "stretched", "angular_velocity", "scalars"):
            np.testing.assert_array_equal(getattr(kept.state, name), getattr(run.solution.state, name))
        np.testing.assert_array_equal(kept.interpolation, run.solution.interpolation)
        self.assertEqual(set(kept.grid.groups), set(run.problem.grid.groups))

    def test_isothermal_cases_have_a_scale(self) -> None:
        case = duct(length=0.02, height=0.002, reynolds=50.0, diameter=0.004, bottom=INSULATED, top=SYMMETRIC)
        run = solve_case(case)
        self.assertTrue(run.solution.converged)
        self.assertAlmostEqual(run.value("duct outlet temperature"), 293.15, places=6)


class Linear(unittest.TestCase):
    def test_direct_solver_reuses_its_analysis(self) -> None:
        from scipy.sparse import random as random_matrix

        base = random_matrix(60, 60, 0.1, format="csr", random_state=1)
        base.setdiag(10.0)
        base = base.tocsr()
        base.sort_indices()
        solver = DirectSolver()
        right = np.arange(60.0)
        for factor in (1.0, 3.0):
            matrix = base * factor
            solver.factor(matrix)
            np.testing.assert_allclose(matrix @ solver.solve(right), right, rtol=1e-9, atol=1e-9)
        solver.close()

    def test_small_and_large_systems_in_turn(self) -> None:
        """They are ordered differently and shared out to different numbers of threads, each as it was analysed."""
        from scipy.sparse import diags

        sizes = (1_000, 40_000)
        matrices = [diags([-1.0, 2.5, -0.5], [-1, 0, 1], shape=(n, n), format="csr") for n in sizes]
        solvers = [DirectSolver() for _ in sizes]
        for factor in (1.0, 2.0):
            for matrix, solver in zip(matrices, solvers, strict=True):
                solver.factor(factor * matrix)
            for matrix, solver in zip(matrices, solvers, strict=True):
                right = np.linspace(0.0, 1.0, matrix.shape[0])
                np.testing.assert_allclose(factor * matrix @ solver.solve(right), right, atol=1e-9)
                self.assertLess(solver.error(right), 1e-12)
        for solver in solvers:
            solver.close()

    def test_gmres_solves(self) -> None:
        matrix = np.diag(np.arange(1.0, 21.0)) + 0.1
        solution, steps = flexible_gmres(lambda x: matrix @ x, lambda x: x / np.diag(matrix), np.ones(20), 1e-10, 20)
        np.testing.assert_allclose(matrix @ solution, np.ones(20), atol=1e-8)
        self.assertLess(steps, 20)
