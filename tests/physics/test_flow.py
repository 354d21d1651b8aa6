"""Flow: an exact solution at second order, the lid-driven cavity, and the Jacobian against finite differences."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from tests.states import plane_state
from tests.support import quads
from wattikos_core.grid import Grid
from wattikos_core.grid.rectilinear import graded
from wattikos_core.materials import PropertyTable, constant_table
from wattikos_core.physics import Condition, FlowPhysics, Problem, State, build_problem, compact_blocks, properties_of
from wattikos_core.physics.pattern import build_pattern, wide_pressure
from wattikos_core.physics.terms import Blocks
from wattikos_core.physics.terms.continuity import pressure_conductance
from wattikos_core.solve import SolveSettings, solve_steady
from wattikos_core.solve.iterate import Iterate, evaluate_state, look_at


def fluid(reynolds: float) -> list[PropertyTable]:
    return [constant_table("fluid", density=1.0, specific_heat=1.0, viscosity=1.0 / reynolds, conductivity=1.0)]


class Kovasznay(unittest.TestCase):
    """The exact Navier-Stokes solution of Kovasznay (1948, Proc. Camb. Phil. Soc. 44, 58) behind a grid, Re = 40."""

    rate = 20.0 - np.sqrt(400.0 + 4.0 * np.pi**2)

    def velocity(self, p: np.ndarray) -> np.ndarray:
        e, y = np.exp(self.rate * p[:, 0]), 2.0 * np.pi * p[:, 1]
        return np.column_stack([1.0 - e * np.cos(y), self.rate / (2.0 * np.pi) * e * np.sin(y)])

    def stream(self, p: np.ndarray) -> np.ndarray:
        return p[:, 1] - np.exp(self.rate * p[:, 0]) * np.sin(2.0 * np.pi * p[:, 1]) / (2.0 * np.pi)

    def problem(self, grid: Grid) -> Problem:
        sides = ("left", "right", "bottom", "top")
        given = {f"fluid, {side}": Condition("inlet", mass_flow=1.0, temperature=300.0) for side in sides}
        problem = build_problem(grid, fluid(40.0), given)
        outer = grid.neighbour < 0
        ends = grid.nodes[grid.edges[outer]]
        flow, velocity = problem.given.mass_flow.copy(), problem.given.velocity.copy()
        # Flows through faces by the stream function: they add up to nothing exactly.
        flow[outer] = self.stream(ends[:, 1]) - self.stream(ends[:, 0])
        velocity[outer] = self.velocity(grid.face_centre[outer])
        return replace(problem, given=problem.given._replace(mass_flow=flow, velocity=velocity))

    def error(self, n: int, shake: float) -> float:
        grid = quads(np.linspace(-0.5, 1.0, n + 1), np.linspace(-0.5, 1.5, n + 1), shake=shake)
        solution = solve_steady(self.problem(grid), SolveSettings(tolerance=1e-9))
        self.assertTrue(solution.converged)
        miss = np.column_stack([solution.state.velocity[:, 0], solution.state.velocity[:, 1]]) - self.velocity(grid.centre)
        return float(np.sqrt(np.average((miss**2).sum(axis=1), weights=grid.volume)))

    def test_second_order_on_straight_and_shaken_grids(self) -> None:
        for shake in (0.0, 0.2):
            coarse, fine = self.error(24, shake), self.error(48, shake)
            self.assertGreater(np.log2(coarse / fine), 1.8, f"shake {shake}")


class LidDrivenCavity(unittest.TestCase):
    """u on the vertical mid line: Ghia, Ghia and Shin (1982), J. Comput. Phys. 48, 387, table I."""

    y = np.array(
        [0.9766, 0.9688, 0.9609, 0.9531, 0.8516, 0.7344, 0.6172, 0.5, 0.4531, 0.2813, 0.1719, 0.1016, 0.0703, 0.0625, 0.0547]
    )
    u100 = np.array(
        [
            0.84123, 0.78871, 0.73722, 0.68717, 0.23151, 0.00332, -0.13641, -0.20581,
            -0.21090, -0.15662, -0.10150, -0.06434, -0.04775, -0.04192, -0.03717,
        ]
    )  # fmt: skip
    u1000 = np.array(
        [
            0.65928, 0.57492, 0.51117, 0.46604, 0.33304, 0.18719, 0.05702, -0.06080,
            -0.10648, -0.27805, -0.38289, -0.29730, -0.22220, -0.20196, -0.18109,
        ]
    )  # fmt: skip

    def profile(self, reynolds: float, n: int, start: State | None = None) -> tuple[np.ndarray, State]:
        lines = graded(n, (True, True), 5.0)
        grid = quads(lines, lines)
        problem = build_problem(grid, fluid(reynolds), {"fluid, top": Condition("wall", velocity=(1.0, 0.0))})
        first = None if start is None else (start, np.zeros(grid.n_cells))
        solution = solve_steady(problem, SolveSettings(tolerance=1e-7), start=first)
        self.assertTrue(solution.converged)
        centres = 0.5 * (lines[1:] + lines[:-1])
        u = solution.state.velocity[:, 0].reshape(n, n)
        middle = np.array([np.interp(0.5, centres, row) for row in u])
        return np.interp(self.y, np.concatenate([[0.0], centres, [1.0]]), np.concatenate([[0.0], middle, [1.0]])), solution.state

    def test_reynolds_100(self) -> None:
        found, _ = self.profile(100.0, 48)
        self.assertLess(float(np.abs(found - self.u100).max()), 0.006)

    def test_reynolds_1000(self) -> None:
        state = None
        for reynolds in (100.0, 400.0, 1000.0):
            found, state = self.profile(reynolds, 64, state)
        # The table lies 0.006 from spectral solutions at the minimum (-0.3886, from memory).
        self.assertLess(float(np.abs(found - self.u1000).max()), 0.012)


OUT = {"fluid, right": Condition("outlet")}


def at_rest(problem: Problem) -> State:
    """A fluid at rest at 300 K."""
    zero = np.zeros(problem.grid.n_cells)
    return plane_state(zero, zero, zero, zero + 300.0, zero)


def blocks_of(now: Iterate) -> Blocks:
    """The blocks of the compact Jacobian."""
    return compact_blocks(now.point, now.interpolation, now.evaluation.flow)


class Jacobian(unittest.TestCase):
    """Every entry the compact Jacobian claims, against finite differences of the residuals it approximates."""

    def test_blocks_match_upwind_residuals_with_frozen_gradients(self) -> None:
        grid = quads(np.linspace(0.0, 1.0, 6), np.linspace(0.0, 1.0, 6))
        conditions = {
            "fluid, left": Condition("inlet", mean_velocity=1.0, temperature=320.0),
            "fluid, right": Condition("outlet"),
            "fluid, top": Condition("wall", temperature=300.0),
            "fluid, bottom": Condition("symmetry"),
        }
        problem = build_problem(grid, fluid(20.0), conditions, physics=FlowPhysics(blend=0.0))
        random = np.random.default_rng(3)
        n = grid.n_cells
        state = plane_state(
            1.0 + 0.1 * random.random(n), 0.1 * random.random(n), 0.1 * random.random(n), 310.0 + random.random(n), np.zeros(n)
        )
        now = look_at(problem, state, np.zeros(n))
        pattern, unknowns = build_pattern(problem), problem.unknowns
        matrix = pattern.matrix(blocks_of(now), np.zeros(0))
        base = pattern.pack(state.columns(unknowns))
        direction = random.standard_normal(base.size)
        # Velocities and temperatures only: pressure enters the true residual through averaged gradients as well.
        direction[pattern.position[:, unknowns.pressure]] = 0.0

        def residual(vector: np.ndarray) -> np.ndarray:
            moved = State.of(pattern.unpack(vector), unknowns)
            return pattern.pack(evaluate_state(problem, moved, now.interpolation).residual)

        step = 1e-6
        numerical = (residual(base + step * direction) - residual(base - step * direction)) / (2.0 * step)
        np.testing.assert_allclose(matrix @ direction, numerical, atol=2e-6 * float(np.abs(numerical).max()))

    def test_pressure_columns_of_momentum(self) -> None:
        lines = np.linspace(0.0, 1.0, 5)
        problem = build_problem(
            quads(lines, lines), fluid(10.0), {"fluid, right": Condition("outlet")}, physics=FlowPhysics(blend=0.0)
        )
        n, zero, state = problem.grid.n_cells, np.zeros(problem.grid.n_cells), at_rest(problem)
        now = look_at(problem, state, np.zeros(n))
        pattern = build_pattern(problem)
        matrix = pattern.matrix(blocks_of(now), np.zeros(0))
        pressure = np.random.default_rng(5).standard_normal(n)
        change = matrix @ pattern.pack(np.stack([zero, zero, pressure, zero], axis=1))
        moved = evaluate_state(problem, plane_state(zero, zero, pressure, state.stretched, zero), now.interpolation)
        u_rows, v_rows = pattern.position[:, 0], pattern.position[:, 1]
        # With the flow that pressure itself drives left out: its momentum is of second order in a fluid at rest.
        np.testing.assert_allclose(change[u_rows], moved.momentum[:, 0], atol=0.02 * np.abs(moved.momentum[:, 0]).max())
        np.testing.assert_allclose(change[v_rows], moved.momentum[:, 1], atol=0.02 * np.abs(moved.momentum[:, 1]).max())

    def test_pressure_columns_of_mass_with_the_wide_part_are_exact(self) -> None:
        """Where the compact part alone is off by its own size: the mean gradient all but cancels it where pressure is smooth.

        In cells that are skew, the way from the centres to the feet on the face's normal line belongs to it too.
        """
        lines = np.linspace(0.0, 1.0, 7)
        problem = build_problem(
            quads(lines, lines, shake=0.2), fluid(10.0), {"fluid, right": Condition("outlet")}, physics=FlowPhysics(blend=0.0)
        )
        n, zero, state = problem.grid.n_cells, np.zeros(problem.grid.n_cells), at_rest(problem)
        now = look_at(problem, state, np.zeros(n))
        faces = problem.faces
        pattern = build_pattern(problem, wide_pressure(faces, problem.flow_weights, n))
        conductance = pressure_conductance(faces, now.interpolation, properties_of(problem, state).density)
        matrix = pattern.matrix(blocks_of(now), np.zeros(0), conductance)
        pressure = np.random.default_rng(5).standard_normal(n)
        change = matrix @ pattern.pack(np.stack([zero, zero, pressure, zero], axis=1))
        moved = evaluate_state(problem, plane_state(zero, zero, pressure, state.stretched, zero), now.interpolation)
        np.testing.assert_allclose(change[pattern.position[:, 2]], moved.mass, atol=1e-12 * float(np.abs(moved.mass).max()))
