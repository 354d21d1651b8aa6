"""Fluids that move by their own weight: at rest where they should be, and as published where not."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from django.test import tag
from numpy.typing import NDArray

from tests.sections import polygon, rectangle, section_case
from tests.states import plane_state
from tests.support import quads, triangles
from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable, constant_table, expanding, table_of
from wattikos_core.physics import Condition, FlowPhysics, Problem, State, build_problem, compact_blocks, point_of, properties_of
from wattikos_core.physics.pattern import build_pattern
from wattikos_core.solve import SolveSettings, solve_steady
from wattikos_core.solve.iterate import evaluate_state, look_at
from wattikos_core.studies import grid_of, prepare, solve_case

EXPANSION = 1e-3
PRANDTL = 0.71


def graded(n: int, strength: float = 1.5) -> NDArray[np.float64]:
    return 0.5 * (1.0 + np.tanh(strength * (2.0 * np.linspace(0.0, 1.0, n + 1) - 1.0)) / np.tanh(strength))


def dimensionless(prandtl: float = PRANDTL) -> PropertyTable:
    """A fluid of unit density, specific heat and conductivity, so that heat passing is the Nusselt number."""
    table = constant_table("fluid", density=1.0, specific_heat=1.0, viscosity=prandtl, conductivity=1.0)
    return expanding(table, EXPANSION, 300.5)


def cavity(grid: Grid, rayleigh: float, *, hot: str = "left", cold: str = "right") -> Problem:
    conditions = {f"fluid, {hot}": Condition("wall", temperature=301.0), f"fluid, {cold}": Condition("wall", temperature=300.0)}
    physics = FlowPhysics(gravity=(0.0, -rayleigh * PRANDTL / EXPANSION))
    return build_problem(grid, [dimensionless()], conditions, physics=physics)


def nusselt(problem: Problem, cold: str = "right") -> tuple[float, State]:
    solution = solve_steady(problem, SolveSettings(tolerance=1e-8, method="coupled", max_steps=150))
    assert solution.converged
    evaluation = evaluate_state(problem, solution.state, solution.interpolation)
    return float(evaluation.heat[problem.grid.groups[f"fluid, {cold}"]].sum()), solution.state


def polygons(*corners: tuple[float, float], fineness: float) -> Grid:
    """The body-fitted grid of a four-cornered fluid, its sides named bottom, right, top and left."""
    case = section_case(polygon("fluid", "water", *corners), conditions=[], fineness=fineness)
    grid = grid_of(prepare(case.model_copy(update={"physics": case.physics.model_copy(update={"regime": "time"})})))
    names = {f"fluid, side {k + 1}": f"fluid, {side}" for k, side in enumerate(("bottom", "right", "top", "left"))}
    return replace(grid, groups={names[name]: faces for name, faces in grid.groups.items()})


class AtRest(unittest.TestCase):
    """Where pressure just carries the weight, nothing moves: to round-off, on any polygons."""

    def disturbed(self, grid: Grid, gravity: tuple[float, float], t: NDArray[np.float64], p: NDArray[np.float64]) -> float:
        """The largest flow through a face and the largest force left, against the weight at hand."""
        problem = build_problem(grid, [dimensionless()], {}, physics=FlowPhysics(gravity=gravity, reference=300.5))
        zero = np.zeros(grid.n_cells)
        now = look_at(problem, plane_state(zero, zero, p, t, zero), zero)
        forces = np.hypot(now.evaluation.momentum[:, 0], now.evaluation.momentum[:, 1]) / grid.volume
        inner = problem.cells.pin == 0
        return float(np.abs(now.evaluation.mass[inner]).max() + forces.max())

    def test_linear_stratification_on_triangles_and_shaken_quads(self) -> None:
        lines = np.linspace(0.0, 1.0, 9)
        for grid in (triangles(8), quads(lines, lines, shake=0.3), quads(lines, lines**1.5)):
            x, y = grid.centre.T
            # Weight 1000 (ρ - 1) = -1000 β (T - 300.5) downwards; stable, tilted against the grid.
            t = 300.0 + 2.0 * y
            pull = 1000.0 * EXPANSION
            p = pull * (y**2 - 0.5 * y)
            self.assertLess(self.disturbed(grid, (0.0, -1000.0), t, p), 1e-10)
            # The same not in balance does move: the check can fail.
            self.assertGreater(self.disturbed(grid, (0.0, -1000.0), t + 0.1 * x, p), 1e-3)

    def test_polygons_of_the_bodyfitted_gridder_stay_at_rest(self) -> None:
        grid = polygons((0.0, 0.0), (1.2, 0.1), (1.0, 0.8), (0.1, 1.0), fineness=0.5)
        y = grid.centre[:, 1]
        self.assertLess(self.disturbed(grid, (0.0, -1000.0), 300.0 + 2.0 * y, y**2 - 0.5 * y), 1e-9)

    def test_a_layer_heated_from_above_conducts(self) -> None:
        value, state = nusselt(cavity(quads(graded(20), graded(20)), 1e5, hot="top", cold="bottom"), "bottom")
        self.assertAlmostEqual(value, 1.0, places=6)
        # Speeds in units of α/L; the flow the other way up reaches 70.
        self.assertLess(float(np.hypot(state.velocity[:, 0], state.velocity[:, 1]).max()), 1e-5)


class SquareCavity(unittest.TestCase):
    """De Vahl Davis (1983), Int. J. Numer. Methods Fluids 3, 249: mean Nusselt numbers 2.243 and 4.519 (from memory), and the
    largest vertical velocity on the middle line, 19.617 and 68.59 in units of α/L."""

    def test_rectangles(self) -> None:
        for rayleigh, value, speed in ((1e4, 2.243, 19.617), (1e5, 4.519, 68.59)):
            grid = quads(graded(40), graded(40))
            got, state = nusselt(cavity(grid, rayleigh))
            self.assertAlmostEqual(got / value, 1.0, delta=0.003)
            self.assertAlmostEqual(float(np.abs(state.velocity[:, 1]).max()) / speed, 1.0, delta=0.01)

    def test_bodyfitted_grid(self) -> None:
        grid = polygons((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0), fineness=2.0)
        for rayleigh, value in ((1e4, 2.243), (1e5, 4.519)):
            got, _ = nusselt(cavity(grid, rayleigh))
            self.assertAlmostEqual(got / value, 1.0, delta=0.01)

    @tag("slow")
    def test_cold_starts_on_a_body_fitted_grid(self) -> None:
        # De Vahl Davis (1983) and, at the last, Le Quéré (1991, Comput. Fluids 20, 29): no hand is lent at any of them.
        grid = polygons((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0), fineness=2.0)
        for rayleigh, known in ((1e3, 1.118), (1e6, 8.800), (1e7, 16.523)):
            with self.subTest(rayleigh=rayleigh):
                self.assertAlmostEqual(nusselt(cavity(grid, rayleigh))[0] / known, 1.0, delta=0.025)

    def test_cold_start_at_ten_million(self) -> None:
        """Le Quéré (1991), Comput. Fluids 20, 29: 16.523 (from memory)."""
        got, _ = nusselt(cavity(quads(graded(48, 2.0), graded(48, 2.0)), 1e7))
        self.assertAlmostEqual(got / 16.523, 1.0, delta=0.02)


class Onset(unittest.TestCase):
    """A layer between rigid plates heated from below starts to move at Ra = 1707.76 (Chandrasekhar 1961), in rolls of wave number
    3.117; half a roll between planes of symmetry is 1.008 heights wide."""

    def moves(self, rayleigh: float) -> float:
        x = np.linspace(0.0, np.pi / 3.117, 21)
        grid = quads(x, graded(20, 1.0))
        conditions = {
            "fluid, bottom": Condition("wall", temperature=301.0),
            "fluid, top": Condition("wall", temperature=300.0),
            "fluid, left": Condition("symmetry"),
            "fluid, right": Condition("symmetry"),
        }
        physics = FlowPhysics(gravity=(0.0, -rayleigh * PRANDTL / EXPANSION))
        problem = build_problem(grid, [dimensionless()], conditions, physics=physics)
        # Begin with a roll: below the onset it dies away.
        a, y = grid.centre[:, 0] * 3.117, grid.centre[:, 1]
        zero = np.zeros(grid.n_cells)
        u, v = -np.sin(a) * np.cos(np.pi * y), np.cos(a) * np.sin(np.pi * y)
        start = plane_state(3.0 * u, 3.0 * v, zero, 301.0 - y + 0.1 * np.cos(a) * np.sin(np.pi * y), zero)
        solution = solve_steady(problem, SolveSettings(method="coupled", max_steps=150), start=(start, zero))
        evaluation = evaluate_state(problem, solution.state, solution.interpolation)
        return float(evaluation.heat[grid.groups["fluid, top"]].sum()) / (np.pi / 3.117)

    def test_between_1650_and_1800(self) -> None:
        self.assertAlmostEqual(self.moves(1650.0), 1.0, places=4)
        self.assertGreater(self.moves(1800.0), 1.03)


class VaryingDensity(unittest.TestCase):
    def test_small_differences_agree_with_weight_alone(self) -> None:
        """A closed gas with 2 K across: density in all balances or in the weight alone give the same heat within 1 %."""
        air = table_of("air")
        lines = 0.02 * graded(24)
        conditions = {"fluid, left": Condition("wall", temperature=301.0), "fluid, right": Condition("wall", temperature=299.0)}
        heats = []
        for varying in (False, True):
            physics = FlowPhysics(gravity=(0.0, -9.81), varying_density=varying)
            heats.append(nusselt(build_problem(quads(lines, lines), [air], conditions, physics=physics))[0])
        self.assertAlmostEqual(heats[1] / heats[0], 1.0, delta=0.01)

    def test_a_closed_gas_keeps_its_mass(self) -> None:
        """Chenoweth and Paolucci (1986): what is heated on one side and cooled on the other keeps what was filled in."""
        air = table_of("air")
        lines = 0.02 * graded(16)
        conditions = {"fluid, left": Condition("wall", temperature=500.0), "fluid, right": Condition("wall", temperature=300.0)}
        physics = FlowPhysics(gravity=(0.0, -9.81), varying_density=True, reference=300.0)
        problem = build_problem(quads(lines, lines), [air], conditions, physics=physics)
        _, state = nusselt(problem)
        properties = properties_of(problem, state)
        mass = float((properties.density * problem.grid.volume).sum())
        self.assertAlmostEqual(mass / (float(air.density(300.0)) * 4e-4), 1.0, places=10)
        self.assertGreater(float(properties.filling[0]), 1.1)


class Jacobian(unittest.TestCase):
    """Weight and swirl in the blocks, against differences of the residuals, with the momentum interpolation left out: of that,
    blocks hold the compact part alone."""

    def check(self, problem: Problem, rate: float) -> None:
        problem = replace(problem, blend=0.0)
        random = np.random.default_rng(3)
        n = problem.grid.n_cells
        u, v, p = 0.1 * random.random((3, n))
        t = 300.0 + random.random(n)
        state = plane_state(u, v, p, t, rate * (1.0 + 0.1 * random.random(n)))
        d = np.zeros(n)
        flow = evaluate_state(problem, state, d).flow
        pattern, unknowns = build_pattern(problem), problem.unknowns
        matrix = pattern.matrix(compact_blocks(point_of(problem, state), d, flow), np.zeros(problem.pins.size))

        def residual(vector: NDArray[np.float64]) -> NDArray[np.float64]:
            return pattern.pack(evaluate_state(problem, State.of(pattern.unpack(vector), unknowns), d).residual)

        base = pattern.pack(state.columns(unknowns))
        for unknown in (unknowns.temperature, *unknowns.angular_velocity):
            direction = np.zeros(base.size)
            direction[pattern.position[:, unknown]] = random.standard_normal(n)
            numerical = (residual(base + 1e-5 * direction) - residual(base - 1e-5 * direction)) / 2e-5
            exact = matrix @ direction
            for row in (*unknowns.velocity, *range(unknowns.temperature, unknowns.size)):
                rows = pattern.position[:, row]
                bound = 1e-6 * float(np.abs(numerical).max())
                np.testing.assert_allclose(exact[rows], numerical[rows], atol=bound, err_msg=f"{unknown} {row}")

    def test_weight(self) -> None:
        lines = np.linspace(0.0, 1.0, 6)
        self.check(cavity(quads(lines, lines), 1e3), 0.0)

    def test_swirl(self) -> None:
        grid = quads(np.linspace(0.0, 1.0, 6), np.linspace(0.5, 1.5, 6), axisymmetric=True)
        conditions = {
            "fluid, top": Condition("wall", angular_velocity=2.0, temperature=301.0),
            "fluid, left": Condition("wall", temperature=300.0),
        }
        problem = build_problem(grid, [dimensionless()], conditions, physics=FlowPhysics(gravity=(-10.0, 0.0)))
        self.check(problem, 1.0)


class Cases(unittest.TestCase):
    def test_gravity_by_the_document(self) -> None:
        """A closed gap with gravity carries more heat than the same at rest, and says its Rayleigh number."""
        still = section_case(
            rectangle("air", "air", "0 m", "0 m", "20 mm", "60 mm"),
            conditions=[
                {"type": "wall", "boundaries": ["air, left"], "thermal": "temperature", "temperature": "40 °C"},
                {"type": "wall", "boundaries": ["air, right"], "thermal": "temperature", "temperature": "0 °C"},
            ],
        )
        at_rest = solve_case(still).value("heat out through air, right")
        physics = still.physics.model_copy(update={"gravity_y": "-9.81 m/s^2"})
        run = solve_case(still.model_copy(update={"physics": physics}))
        self.assertTrue(run.solution.converged)
        self.assertGreater(run.value("heat out through air, right") / at_rest, 1.15)
        # 9.81/293 · 40 · 0.06³ / (1.51e-5 · 2.13e-5), on the height.
        # On the gap, a third of the height.
        self.assertAlmostEqual(run.value("Rayleigh number of air") / (9.0e5 / 27.0), 1.0, delta=0.05)
