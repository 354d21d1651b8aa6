"""Intermittency: its critical number, its rounded kinks, and a flat plate whose layer turns turbulent on its way."""

from __future__ import annotations

import unittest
from dataclasses import replace
from functools import cache

import numpy as np
from django.test import tag

from tests.physics.test_turbulence import lines
from tests.support import quads
from wattikos_core.boundaries.on_faces import FaceCondition
from wattikos_core.materials import constant_table
from wattikos_core.physics import FlowPhysics, Problem, build_problem, compact_blocks, point_of
from wattikos_core.physics.flow_physics import TurbulenceModel
from wattikos_core.physics.turbulence.transition import LEAST, above, critical_reynolds
from wattikos_core.read import cell_fields
from wattikos_core.solve.intermittency import settle_intermittency
from wattikos_core.solve.iterate import evaluate_state, look_at
from wattikos_core.solve.solution import Solution
from wattikos_core.solve.start import initial_state
from wattikos_core.solve.steady import solve_steady

SPEED, NU, DENSITY, LENGTH, HEIGHT = 5.4, 1.5e-5, 1.2, 1.7, 0.1
# Turbulence that enters so is 3 % at the leading edge of the plate, and decays along it as was measured.
INTENSITY, RATIO = 0.035, 13.3


def plate(nx: int, ny: int, plus: float) -> Problem:
    """A heated plate of 1.7 m in air of 5.4 m/s, its leading edge at the inlet; cells grow along it by 3 %."""
    along = np.concatenate([[0.0], np.cumsum(1.03 ** np.arange(nx))])
    grid = quads(LENGTH * along / along[-1], HEIGHT * lines(ny, plus, HEIGHT * SPEED * 0.045 / NU))
    k = 1.5 * (INTENSITY * SPEED) ** 2
    eddies = np.sqrt(k) / (0.09**0.25 * k / (RATIO * NU))
    viscosity, capacity = DENSITY * NU, 1006.0
    table = constant_table(
        "fluid", density=DENSITY, specific_heat=capacity, viscosity=viscosity, conductivity=capacity * viscosity / 0.71
    )
    inlet = FaceCondition("inlet", mean_velocity=SPEED, temperature=300.0, intensity=INTENSITY, eddies=float(eddies))
    conditions = {
        "fluid, left": inlet,
        "fluid, right": FaceCondition("outlet"),
        "fluid, top": FaceCondition("outlet"),
        "fluid, bottom": FaceCondition("wall", temperature=310.0),
    }
    return build_problem(grid, [table], conditions, physics=FlowPhysics(turbulence=TurbulenceModel((0,), transition=True)))


@cache
def solved(nx: int, ny: int, plus: float) -> tuple[Problem, Solution]:
    problem = plate(nx, ny, plus)
    return problem, solve_steady(problem)


def friction(problem: Problem, solution: Solution) -> tuple[np.ndarray, np.ndarray]:
    """Reynolds numbers on the distance from the leading edge, and friction factors there."""
    point, grid = point_of(problem, solution.state), problem.grid
    wall = grid.groups["fluid, bottom"]
    wall = wall[np.argsort(grid.face_centre[wall][:, 0])]
    cells = grid.owner[wall]
    stress = (DENSITY * NU + point.turbulence.stir_owner[wall]) * solution.state.velocity[cells, 0] / problem.faces.near[wall]
    return SPEED * grid.face_centre[wall][:, 0] / NU, 2.0 * stress / (DENSITY * SPEED**2)


class Model(unittest.TestCase):
    def test_critical_number(self) -> None:
        """Menter and others (2015): 100 in strong turbulence, 1,100 in still air; streams that speed up stay laminar longer."""
        self.assertAlmostEqual(critical_reynolds(100.0, 0.0), 100.0, places=6)
        self.assertAlmostEqual(critical_reynolds(0.0, 0.0), 1100.0, places=6)
        self.assertAlmostEqual(critical_reynolds(1.0, 0.0), 100.0 + 1000.0 * np.exp(-1.0), places=6)
        self.assertLess(critical_reynolds(2.0, 0.02), critical_reynolds(2.0, 0.0))
        self.assertLess(critical_reynolds(2.0, -0.1), critical_reynolds(2.0, 0.0))

    def test_kinks_are_rounded(self) -> None:
        for value in (-1.0, -0.1, 0.1, 0.7):
            self.assertAlmostEqual(above(value, 0.1), max(value, 0.0), places=12)
        for at in (-0.1, 0.0, 0.1):
            before, after = (above(at, 0.1) - above(at - 1e-6, 0.1)) / 1e-6, (above(at + 1e-6, 0.1) - above(at, 0.1)) / 1e-6
            self.assertAlmostEqual(before, after, places=4)


class Balance(unittest.TestCase):
    """Of a state between laminar and turbulent, made up on a small plate."""

    def setUp(self) -> None:
        self.problem = plate(8, 10, 2.0)
        state, generator = initial_state(self.problem), np.random.default_rng(7)
        scalars = state.scalars.copy()
        scalars[:, :2] *= generator.uniform(0.8, 1.25, (len(scalars), 2))
        scalars[:, 2] = generator.uniform(0.2, 0.9, len(scalars))
        velocity = state.velocity * generator.uniform(0.9, 1.1, state.velocity.shape)
        self.now = look_at(self.problem, replace(state, scalars=scalars, velocity=velocity), np.zeros(len(scalars)))

    def test_slopes(self) -> None:
        """By how much the balances of k and γ in a cell answer to γ there, against differences: what diffuses and is carried is in
        both; fluxes by gradients, which the compact matrix leaves out, are what is left."""
        blocks = compact_blocks(self.now.point, self.now.interpolation, self.now.evaluation.flow)
        k, _, share = self.problem.unknowns.transported
        scale = np.abs(blocks.diagonal[:, share, share])
        step, sought = 1e-6, range(0, self.problem.grid.n_cells, 7)
        self.assertGreater(len(sought), 10)
        for c in sought:
            scalars = self.now.state.scalars.copy()
            scalars[c, 2] += step
            there = evaluate_state(self.problem, replace(self.now.state, scalars=scalars), self.now.interpolation)
            slopes = (there.residual[c] - self.now.evaluation.residual[c]) / step
            self.assertAlmostEqual(slopes[share] / scale[c], blocks.diagonal[c, share, share] / scale[c], delta=0.35)
            if self.now.point.turbulence.held[c] == 0.0 and self.now.point.turbulence.capped[c] == 0.0:
                self.assertAlmostEqual(slopes[k], blocks.diagonal[c, k, share], delta=0.05 * abs(slopes[k]) + 1e-12)

    def test_it_settles_within_its_bounds(self) -> None:
        column = self.problem.unknowns.transported[2]
        before = np.abs(self.now.evaluation.residual[:, column]).sum()
        for _ in range(4):
            self.now = settle_intermittency(self.now)
            share = self.now.state.scalars[:, 2]
            self.assertTrue((share >= 0.9 * LEAST).all() and (share <= 1.0).all())
        self.assertLess(np.abs(self.now.evaluation.residual[:, column]).sum(), 1e-3 * before)

    def test_a_share_of_what_it_does(self) -> None:
        """Nothing of it leaves the flow as it is all along; k follows it evenly between."""
        model = self.problem.physics.turbulence
        assert model is not None
        made = []
        for followed in (0.0, 0.5, 1.0):
            physics = replace(self.problem.physics, turbulence=replace(model, followed=followed))
            made.append(point_of(replace(self.problem, physics=physics), self.now.state).turbulence.lost_share)
        np.testing.assert_allclose(made[0], 1.0)
        np.testing.assert_allclose(made[1], 0.5 * (made[0] + made[2]), atol=1e-12)
        np.testing.assert_allclose(made[2], self.now.state.scalars[:, 2], atol=1e-12)

    def test_no_layer_without_a_wall(self) -> None:
        """Where there is no wall intermittency is only carried along."""
        free = replace(self.problem, wall_distance=np.full(self.problem.grid.n_cells, np.inf))
        there = point_of(free, self.now.state).turbulence
        self.assertFalse(there.grows.any() or there.dies.any())
        self.assertTrue(np.isfinite(evaluate_state(free, self.now.state, self.now.interpolation).residual).all())


class Plate(unittest.TestCase):
    """The plate T3A of Roach and Brierley (1990); from memory: friction is lowest at about 1.6e5 and highest at about 3.1e5, so
    that the layer takes 1.5e5 to turn turbulent (band 15 %)."""

    def check(self, nx: int, ny: int, plus: float) -> None:
        problem, solution = solved(nx, ny, plus)
        self.assertTrue(solution.converged)
        reynolds, found = friction(problem, solution)
        layer = (reynolds > 3e4) & (reynolds < 3e5)
        lowest = reynolds[layer][np.argmin(found[layer])]
        behind = reynolds > lowest
        highest = reynolds[behind][np.argmax(found[behind])]
        self.assertTrue(1.1e5 < lowest < 2.1e5, f"{lowest:.3g}")
        self.assertAlmostEqual((highest - lowest) / 1.5e5, 1.0, delta=0.15)
        # Before, the laminar layer (Blasius), which turbulence outside makes somewhat thinner; behind, the turbulent one
        # (0.455/ln²(0.06 Re), White 2006).
        early, late = float(np.interp(5e4, reynolds, found)), float(np.interp(5e5, reynolds, found))
        self.assertTrue(1.0 < early / (0.664 / np.sqrt(5e4)) < 1.25, f"{early:.5f}")
        self.assertAlmostEqual(late / (0.455 / np.log(0.06 * 5e5) ** 2), 1.0, delta=0.04)

    def test_on_a_coarse_grid(self) -> None:
        self.check(40, 30, 0.7)

    def test_intermittency_is_among_the_fields(self) -> None:
        problem, solution = solved(40, 30, 0.7)
        evaluation = evaluate_state(problem, solution.state, solution.interpolation)
        share = cell_fields(problem, solution.state, evaluation)["intermittency"]
        self.assertTrue((share >= 0.9 * LEAST).all() and (share <= 1.0).all())
        # Laminar next to the front of the plate, turbulent in the layer far behind.
        x, y = problem.grid.centre.T
        self.assertLess(share[(x > 0.1) & (x < 0.3) & (y < 5e-4)].max(), 0.1)
        self.assertGreater(share[(x > 1.2) & (y > 3e-3)].min(), 0.9)

    @tag("slow")
    def test_on_finer_ones(self) -> None:
        self.check(60, 40, 0.5)
        self.check(120, 60, 0.5)
