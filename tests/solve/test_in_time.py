"""Solving in time against exact series and limits, the order of the scheme, and what is conserved over a whole run."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from django.test import tag
from numpy.typing import NDArray
from scipy.optimize import brentq
from scipy.special import erf, j0, j1

from tests.support import quads
from wattikos_core.case import read_case, starter_case
from wattikos_core.ledger import Key
from wattikos_core.materials import PropertyTable, constant_melting_table, constant_table
from wattikos_core.physics import Condition, FlowPhysics, Problem, State, beginning_at, build_problem, properties_of
from wattikos_core.solve import Instant, TimeSettings, TimeSolution, never_cancel, solve_in_time
from wattikos_core.solve.checkpoint import Past
from wattikos_core.solve.start import initial_state, stretched
from wattikos_core.studies import solve_case

Array = NDArray[np.float64]
TIME = FlowPhysics(in_time=True)
# Unit diffusivity.
SOLID = constant_table("solid", density=1.0, specific_heat=1.0, viscosity=0.0, conductivity=1.0)


def run(problem: Problem, start: State, end: float, **settings: float | int | bool) -> TimeSolution:
    wishes = TimeSettings(end=end, **{"tolerance": 1e-8, **settings})  # type: ignore[arg-type]
    problem = beginning_at(problem, cell_temperatures(problem, start))
    return solve_in_time(lambda time: problem, wishes, (start, np.zeros(problem.grid.n_cells)))


def cell_temperatures(problem: Problem, start: State) -> Array:
    return properties_of(problem, start).temperature


def warm(problem: Problem, temperature: float | Array) -> State:
    return replace(initial_state(problem), stretched=np.zeros(problem.grid.n_cells) + temperature)


class Conduction(unittest.TestCase):
    """Exact series of Fourier and Bessel functions: Carslaw and Jaeger (1959), sections 3.3 and 7.6."""

    def test_slab(self) -> None:
        grid = quads(np.linspace(0.0, 1.0, 41), np.linspace(0.0, 0.1, 2))
        problem = build_problem(grid, [SOLID], {"fluid, right": Condition("wall", temperature=300.0)}, physics=TIME)
        done = run(problem, warm(problem, 301.0), 0.3, accuracy=2e-4)
        k = (np.arange(40) + 0.5) * np.pi
        terms = 2.0 * (-1.0) ** np.arange(40) / k * np.exp(-(k**2) * 0.3)
        exact = 300.0 + terms @ np.cos(np.outer(k, grid.centre[:, 0]))
        np.testing.assert_allclose(done.last.iterate.state.stretched, exact, atol=5e-4)
        self.assertLess(done.history[-1]["heat balance"], 1e-8)

    def test_cylinder_with_a_film(self) -> None:
        """Biot number 1: the first roots of ζ J1(ζ) = Bi J0(ζ)."""
        grid = quads(np.linspace(0.0, 0.1, 2), np.linspace(0.0, 1.0, 41), axisymmetric=True)
        film = Condition("wall", coefficient=1.0, ambient=300.0)
        problem = build_problem(grid, [SOLID], {"fluid, top": film}, physics=TIME)
        done = run(problem, warm(problem, 301.0), 0.4, accuracy=2e-4)

        def mismatch(z: float) -> float:
            return float(z * j1(z) - j0(z))

        ends = np.linspace(0.01, 40.0, 4000)
        signs = np.sign([mismatch(z) for z in ends])
        roots = np.array([brentq(mismatch, ends[i], ends[i + 1]) for i in np.nonzero(np.diff(signs))[0]])
        weights = 2.0 / roots * j1(roots) / (j0(roots) ** 2 + j1(roots) ** 2) * np.exp(-(roots**2) * 0.4)
        exact = 300.0 + weights @ j0(np.outer(roots, grid.centre[:, 1]))
        np.testing.assert_allclose(done.last.iterate.state.stretched, exact, atol=5e-4)

    def test_lump(self) -> None:
        """A body that conducts far better than its film cools as exp(-h A t / ρ V c)."""
        grid = quads(np.linspace(0.0, 0.02, 3), np.linspace(0.0, 0.01, 3))
        metal = constant_table("metal", density=2.0, specific_heat=50.0, viscosity=0.0, conductivity=1e4)
        problem = build_problem(grid, [metal], {"fluid, top": Condition("wall", coefficient=2.0, ambient=290.0)}, physics=TIME)
        done = run(problem, warm(problem, 340.0), 1.0, accuracy=1e-5)
        exact = 290.0 + 50.0 * np.exp(-2.0 * 1.0 / (2.0 * 50.0 * 0.01))
        self.assertAlmostEqual(float(done.last.iterate.state.stretched.mean()), exact, delta=2e-3)


class Order(unittest.TestCase):
    def errors(self, order: int) -> list[float]:
        """Against a run with far shorter steps, from a smooth start."""
        grid = quads(np.linspace(0.0, 1.0, 21), np.linspace(0.0, 0.1, 2))
        problem = build_problem(grid, [SOLID], {"fluid, right": Condition("wall", temperature=300.0)}, physics=TIME)
        start = warm(problem, 300.0 + np.cos(0.5 * np.pi * grid.centre[:, 0]) + 0.3 * np.cos(1.5 * np.pi * grid.centre[:, 0]))

        def ended(steps: int, order: int) -> Array:
            return run(problem, start, 0.4, step=0.4 / steps, fixed=True, order=order, tolerance=1e-12).last.iterate.state.stretched

        exact = ended(160, 2)
        return [float(np.abs(ended(steps, order) - exact).max()) for steps in (5, 10, 20)]

    def test_second(self) -> None:
        a, b, c = self.errors(2)
        self.assertGreater(min(np.log2(a / b), np.log2(b / c)), 1.8)

    def test_first(self) -> None:
        _, b, c = self.errors(1)
        self.assertAlmostEqual(float(np.log2(b / c)), 1.0, delta=0.15)

    def test_flow_in_time_is_of_second_order_too(self) -> None:
        """A closed box stirred by its lid, from rest to a smooth speed."""
        lines = np.linspace(0.0, 1.0, 9)
        grid = quads(lines, lines)
        fluid = constant_table("fluid", density=1.0, specific_heat=1.0, viscosity=0.05, conductivity=1.0)

        def at(time: float) -> Problem:
            lid = Condition("wall", velocity=(float(np.sin(time) ** 2), 0.0))
            built = build_problem(grid, [fluid], {"fluid, top": lid}, physics=TIME)
            one = np.ones(grid.n_cells)
            return replace(built, scales=replace(built.scales, velocity=one, mass=one[:1]))

        def ended(steps: int) -> Array:
            wishes = TimeSettings(end=1.0, step=1.0 / steps, fixed=True, tolerance=1e-10)
            start = initial_state(at(1.0))
            still = replace(start, velocity=0.0 * start.velocity)
            return solve_in_time(at, wishes, (still, np.zeros(grid.n_cells))).last.iterate.state.velocity[:, 0]

        exact = ended(80)
        a, b = (float(np.abs(ended(steps) - exact).max()) for steps in (10, 20))
        self.assertGreater(float(np.log2(a / b)), 1.8)


def melting(
    *, begin: float, surface: float, end: float, conductivity: tuple[float, float] = (1.0, 1.0)
) -> tuple[Problem, TimeSolution]:
    """A bar that melts from its left; unit density and specific heat, melting at 300 K."""
    grid = quads(np.linspace(0.0, 1.0, 101), np.linspace(0.0, 0.1, 2))
    table: PropertyTable = constant_melting_table(
        "wax", melts=(299.999, 300.001), latent_heat=20.0, density=1.0, specific_heat=(1.0, 1.0), conductivity=conductivity
    )
    given = {"fluid, left": Condition("wall", temperature=surface)}
    problem = build_problem(grid, [table], given, physics=TIME)
    start = replace(initial_state(problem), stretched=stretched(problem, np.full(grid.n_cells, begin)))
    return problem, run(problem, start, end, accuracy=5e-4)


class Melting(unittest.TestCase):
    """Neumann's solution: Carslaw and Jaeger (1959), section 11.2."""

    def front(self, problem: Problem, done: TimeSolution) -> float:
        """Melted length: the mean liquid fraction of the bar."""
        table = problem.materials[0]
        assert table.melting is not None
        nodes = table.start + table.step * np.arange(table.melting.nodes.size)
        share = np.append(table.melting.liquid[:, 3], 1.0)
        return float(np.interp(done.last.iterate.state.stretched, nodes, share).mean())

    def test_one_phase(self) -> None:
        """Solid at its melting point; Stefan number 0.5: λ exp(λ²) erf(λ) = Ste/√π."""
        problem, done = melting(begin=299.999, surface=310.0, end=0.15)
        root = brentq(lambda x: x * np.exp(x**2) * erf(x) - 0.5 / np.sqrt(np.pi), 0.01, 2.0)
        self.assertAlmostEqual(self.front(problem, done) / (2.0 * root * np.sqrt(0.15)), 1.0, delta=0.01)
        self.assertLess(done.history[-1]["heat balance"], 1e-8)

    def test_two_phases(self) -> None:
        """Solid 5 K below its melting point, and twice as conductive as the liquid."""
        problem, done = melting(begin=295.0, surface=310.0, end=0.06, conductivity=(2.0, 1.0))

        def mismatch(x: float) -> float:
            nu = np.sqrt(1.0 / 2.0)
            liquid = np.exp(-(x**2)) / erf(x)
            solid = np.sqrt(2.0) * 0.5 * np.exp(-((nu * x) ** 2)) / (1.0 - erf(nu * x))
            return float(liquid - solid - x * np.sqrt(np.pi) * 2.0)

        root = brentq(mismatch, 0.05, 2.0)
        self.assertAlmostEqual(self.front(problem, done) / (2.0 * root * np.sqrt(0.06)), 1.0, delta=0.015)
        self.assertLess(done.history[-1]["heat balance"], 1e-8)


class Runs(unittest.TestCase):
    def problem(self) -> Problem:
        grid = quads(np.linspace(0.0, 1.0, 11), np.linspace(0.0, 0.1, 2))
        return build_problem(grid, [SOLID], {"fluid, right": Condition("wall", temperature=310.0)}, physics=TIME)

    def solve(
        self, start: State, past: Past | None, end: float, cancel: Callable[[], bool] = never_cancel
    ) -> tuple[TimeSolution, list[Instant]]:
        kept: list[Instant] = []
        problem = self.problem()
        wishes = TimeSettings(end=end, stops=(0.05, 0.1, 0.15), step=0.01, fixed=True, tolerance=1e-12)
        done = solve_in_time(
            lambda time: problem,
            wishes,
            (start, np.zeros(problem.grid.n_cells)),
            past=past,
            keep=kept.append,
            cancel=cancel,
        )
        return done, kept

    def test_frames_stand_where_they_were_asked_for(self) -> None:
        _, kept = self.solve(warm(self.problem(), 300.0), None, 0.2)
        self.assertEqual([round(k.time, 12) for k in kept], [0.0, 0.05, 0.1, 0.15, 0.2])

    def test_a_run_carried_on_ends_where_one_in_one_go_does(self) -> None:
        start = warm(self.problem(), 300.0)
        whole, _ = self.solve(start, None, 0.2)
        first, _ = self.solve(start, None, 0.1)
        second, _ = self.solve(first.last.iterate.state, first.past, 0.2)
        np.testing.assert_allclose(second.last.iterate.state.stretched, whole.last.iterate.state.stretched, atol=1e-8)
        self.assertEqual([round(row["time"], 9) for row in second.history], [round(row["time"], 9) for row in whole.history])
        self.assertAlmostEqual(second.past.passed / whole.past.passed, 1.0, places=8)
        np.testing.assert_array_equal(second.past.beginning.stretched, start.stretched)

    def test_stop(self) -> None:
        asked = iter([False] * 3 + [True] * 100)
        done, _ = self.solve(warm(self.problem(), 300.0), None, 0.2, lambda: next(asked))
        self.assertTrue(done.stopped)
        self.assertFalse(done.finished)
        self.assertAlmostEqual(done.last.time, 0.03)

    def test_steps_follow_their_error(self) -> None:
        problem = self.problem()
        start = warm(problem, 300.0)
        few, many = (run(problem, start, 0.3, accuracy=a) for a in (1e-2, 1e-4))
        self.assertLess(2 * len(few.history), len(many.history))
        steps = [row["step"] for row in many.history[1:-2]]
        self.assertGreater(max(steps), 20.0 * min(steps))


class SmallCells(unittest.TestCase):
    @tag("slow")
    def test_no_cell_leaves_the_range_of_what_is_given(self) -> None:
        """Cells next to an axis are so small that sums over all cells do not see them: they were 15 K astray."""
        document = starter_case("silo").model_dump(mode="json")
        document["inputs"]["duration"]["value"] = "15 min"
        frames: list[Array] = []
        solve_case(read_case(document), on_frame=lambda frame: frames.append(frame.state.stretched))
        self.assertGreater(len(frames), 5)
        # 1 % of the span for the scheme, and for what each stage leaves open in a cell (0.2 %).
        self.assertGreater(min(float(t.min()) for t in frames), 273.15 + 8.0 - 0.3)
        self.assertLess(max(float(t.max()) for t in frames), 273.15 + 38.0)


class Fronts(unittest.TestCase):
    def test_the_front_around_a_tube(self) -> None:
        """By the ledger: what has frozen around a cylinder is a ring, π ((r + s)² - r²) L."""
        document = starter_case("ice_bank").model_dump(mode="json")
        document["inputs"]["duration"]["value"] = "10 min"
        document["grid"]["fineness"] = 0.4
        run = solve_case(read_case(document))
        frozen = (1.0 - run.value("liquid fraction of store")) * np.pi * (0.02**2 - 0.007**2)
        front = run.value("front in store")
        self.assertGreater(front, 1e-3)
        self.assertAlmostEqual(np.pi * ((0.007 + front) ** 2 - 0.007**2) / frozen, 1.0, delta=1e-6)

    def test_charged_and_discharged(self) -> None:
        """Freezing and melting times of one run: each is when it happens, and neither where it never does."""
        from wattikos_core.studies.stores import melting_times

        time = [0.0, 1.0, 2.0, 3.0, 4.0]
        self.assertEqual(
            melting_times("ice", time, [1.0, 0.0, 0.0, 0.5, 1.0]),
            {Key("freezing_time", "ice"): 0.99, Key("melting_time", "ice"): 3.98},
        )
        self.assertEqual(melting_times("ice", time, [0.0, 0.5, 1.0, 1.0, 1.0]), {Key("melting_time", "ice"): 1.98})
        self.assertEqual(melting_times("ice", time, [1.0, 0.9, 0.8, 0.7, 0.6]), {})


class FirstRow(unittest.TestCase):
    def test_it_is_the_initial_state(self) -> None:
        """Water at rest behind a pressure does not flow yet: a Reynolds number of 151 stood there, and 0.3 one step later."""
        case = starter_case("duct_start")
        case.grid.fineness, case.time.end = 0.5, "0.5 s"
        first, second = solve_case(case).solution.history[:2]
        self.assertEqual((first["time"], first["step"]), (0.0, 0.0))
        self.assertNotIn("water Reynolds number", first)
        self.assertLess(second["water Reynolds number"], 50.0)
        self.assertEqual(first["heat stored"], 0.0)
