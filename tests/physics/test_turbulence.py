"""The k-ω shear stress transport model: first against itself in one dimension, then against nature."""

from __future__ import annotations

import unittest
from dataclasses import replace
from functools import cache

import numpy as np
from scipy.optimize import brentq

from tests.physics.turbulent_ducts import DevelopedDuct
from tests.support import quads
from wattikos_core.boundaries.on_faces import FaceCondition
from wattikos_core.grid import join_ends
from wattikos_core.materials import constant_table
from wattikos_core.physics import FlowPhysics, Module, Problem, State, build_problem, compact_blocks, point_of
from wattikos_core.physics.flow_physics import TurbulenceModel
from wattikos_core.physics.terms.friction_heat import FrictionHeat
from wattikos_core.physics.terms.term import Evaluation
from wattikos_core.physics.turbulence.wall_layer import constant_stress_layer, kader_temperature, wall_distance_plus, wall_layer
from wattikos_core.solve.iterate import evaluate_state
from wattikos_core.solve.steady import solve_steady

PRANDTL = 0.71


@cache
def duct(reynolds: float, pipe: bool = False) -> DevelopedDuct:
    return DevelopedDuct(reynolds, pipe=pipe)


def lines(cells: int, plus: float, reynolds: float) -> np.ndarray:
    """Lines from a wall at 0 to 1, growing evenly from a first cell whose centre is at y⁺."""
    first = 2.0 * plus / reynolds

    def reach(growth: float) -> float:
        return first * (growth**cells - 1.0) / (growth - 1.0) - 1.0

    growth = float(brentq(reach, 1.0 + 1e-9, 2.0))
    y = np.concatenate([[0.0], np.cumsum(first * growth ** np.arange(cells))])
    return np.asarray(y / y[-1])


def module(reynolds: float, cells: int, plus: float, *, pipe: bool = False, prandtl: float = PRANDTL) -> Problem:
    """A short piece of half a duct or of a pipe, both of width one, with the mean speed at which its friction speed is one."""
    y = lines(cells, plus, reynolds)
    grid = quads(np.linspace(0.0, 0.05, 4), 1.0 - y[::-1] if pipe else y, axisymmetric=pipe)
    grid = join_ends(grid, ["fluid, left"], ["fluid, right"])
    nu = 1.0 / reynolds
    table = constant_table("fluid", density=1.0, specific_heat=1000.0, viscosity=nu, conductivity=1000.0 * nu / prandtl)
    area = float(np.linalg.norm(grid.area[grid.joined], axis=1).sum())
    flow = duct(reynolds, pipe).mean_speed * area
    wall, middle = ("fluid, top", "fluid, bottom") if pipe else ("fluid, bottom", "fluid, top")
    return build_problem(
        grid,
        [table],
        {wall: FaceCondition("wall", heat_flux=100.0), middle: FaceCondition("symmetry")},
        physics=FlowPhysics(repeating=True, turbulence=TurbulenceModel((0,))),
        module=Module(0.05, np.array([1.0, 0.0]), grid.joined, area, 0, flow, None, 300.0, None),
    )


def errors(reynolds: float, cells: int, plus: float, *, pipe: bool = False, prandtl: float = PRANDTL) -> tuple[float, float]:
    """Of friction and Nusselt number, as shares, against the one-dimensional solution; solved from rest."""
    problem = module(reynolds, cells, plus, pipe=pipe, prandtl=prandtl)
    solution = solve_steady(problem)
    if not solution.converged:
        raise AssertionError("not converged")
    grid, state = problem.grid, solution.state
    evaluation = evaluate_state(problem, state, solution.interpolation)
    wall = grid.groups["fluid, top" if pipe else "fluid, bottom"]
    passing = state.velocity[:, 0] * grid.volume
    bulk = float((passing * evaluation.temperature).sum() / passing.sum())
    difference = float(evaluation.face_temperature[wall].mean()) - bulk
    conductivity = float(problem.materials[0].conductivity(300.0))
    nusselt = 100.0 * (2.0 if pipe else 4.0) / (difference * conductivity)
    friction = state.periodicity.pressure_gradient / (2.0 if pipe else 1.0)
    return friction - 1.0, nusselt / duct(reynolds, pipe).nusselt(prandtl) - 1.0


class WallLayer(unittest.TestCase):
    def test_next_to_the_wall(self) -> None:
        """ω falls as 6ν/(β y²), which makes g a straight line; speed is y⁺."""
        layer = constant_stress_layer()
        near = layer.distance < 1.0
        np.testing.assert_allclose(layer.frequency[near] * layer.distance[near] ** 2, 6.0 / 0.075, rtol=0.03)
        np.testing.assert_allclose(layer.speed[near], layer.distance[near], rtol=1e-3)
        np.testing.assert_allclose(wall_layer().length[0], np.sqrt(0.075 / (6.0 * 0.09)), rtol=1e-4)

    def test_logarithmic_range(self) -> None:
        """The model's own Kármán number: κ² = √β* (β₁/β* - α₁)/σ_ω1; k is u²/√β*."""
        layer = constant_stress_layer()
        far = (layer.distance > 1e4) & (layer.distance < 1e6)
        slope = np.polyfit(np.log(layer.distance[far]), layer.speed[far], 1)[0]
        karman = np.sqrt(0.3 * (0.075 / 0.09 - 5.0 / 9.0) / 0.5)
        self.assertAlmostEqual(1.0 / slope, karman, delta=1e-3)
        np.testing.assert_allclose(layer.energy[far], 1.0 / 0.3, rtol=2e-3)

    def test_law_of_the_wall(self) -> None:
        """Speed between viscous layer and logarithm, Coles (1968; from memory): ln(y⁺)/0.41 + 5.0 within 6 %."""
        layer = constant_stress_layer()
        for plus in (50.0, 100.0, 300.0, 1000.0):
            speed = float(np.interp(np.log(plus), np.log(layer.distance), layer.speed))
            self.assertAlmostEqual(speed / (np.log(plus) / 0.41 + 5.0), 1.0, delta=0.06)

    def test_looked_up(self) -> None:
        layer, table = constant_stress_layer(), wall_layer()
        for index in (100, 500, 900, 1300):
            plus, speed = float(layer.distance[index]), float(layer.speed[index])
            self.assertAlmostEqual(wall_distance_plus(table, plus * speed) / plus, 1.0, delta=1e-3)
        self.assertAlmostEqual(wall_distance_plus(table, 1e-8), 1e-4, delta=1e-9)
        self.assertEqual(wall_distance_plus(table, 0.0), 0.0)

    def test_temperature_near_and_far(self) -> None:
        """Kader (1981): Pr y⁺ at the wall; 2.12 ln(1 + y⁺) + β(Pr) far off."""
        for prandtl in (0.7, 5.0, 50.0):
            self.assertAlmostEqual(kader_temperature(0.05, prandtl) / (0.05 * prandtl), 1.0, delta=1e-3)
            level = (3.85 * prandtl ** (1.0 / 3.0) - 1.3) ** 2 + 2.12 * np.log(prandtl)
            self.assertAlmostEqual(kader_temperature(1e4, prandtl) / (2.12 * np.log(1e4) + level), 1.0, delta=1e-3)


class OneDimension(unittest.TestCase):
    """The program on modules of a few columns against the test's own solution."""

    def test_channel(self) -> None:
        """Issue's bands: friction 0.8 %, Nusselt number 0.6 %, on 100 cells over the half width."""
        for reynolds, plus in ((395.0, 0.5), (1000.0, 0.5)):
            friction, nusselt = errors(reynolds, 100, plus)
            self.assertLess(abs(friction), 8e-3)
            self.assertLess(abs(nusselt), 6e-3)

    def test_pipe(self) -> None:
        for prandtl in (0.71, 5.0):
            friction, nusselt = errors(300.0, 100, 0.5, pipe=True, prandtl=prandtl)
            self.assertLess(abs(friction), 8e-3)
            self.assertLess(abs(nusselt), 6e-3)

    def test_second_order(self) -> None:
        """Three times less error on grids of half the spacing; extrapolated within 0.1 %."""
        coarse, fine = errors(590.0, 50, 0.8), errors(590.0, 100, 0.4)
        for one, other in zip(coarse, fine, strict=True):
            self.assertLess(abs(other), 0.34 * abs(one))
            self.assertLess(abs(other + (other - one) / 3.0), 1e-3)

    def test_any_first_cell(self) -> None:
        """From resolved layers to the logarithmic range without a switch: friction within 3 %, Nusselt number within 4 %."""
        for plus, cells in ((1.0, 50), (3.0, 50), (10.0, 40), (50.0, 40)):
            friction, nusselt = errors(20000.0, cells, plus)
            self.assertLess(abs(friction), 0.03, plus)
            self.assertLess(abs(nusselt), 0.04, plus)

    def test_friction_heat(self) -> None:
        """What pressure puts into a developed flow becomes heat, most of it through the eddies."""
        problem = module(1000.0, 100, 0.5)
        state = solve_steady(problem).state
        point = point_of(problem, state)
        found = Evaluation.empty(problem.unknowns, state.stretched, problem.faces.owner.size)
        FrictionHeat(np.zeros(2), np.zeros(problem.grid.n_cells)).add_residual(point, np.zeros(problem.grid.n_cells), found)
        put_in = state.periodicity.pressure_gradient * float((state.velocity[:, 0] * problem.grid.volume).sum())
        self.assertAlmostEqual(float(found.dissipation.sum()) / put_in, 1.0, delta=0.02)


class OuterConstants(unittest.TestCase):
    """What a channel cannot see, far from any wall."""

    def decay(self, cells: int) -> tuple[float, float]:
        """Errors of k and ω, as shares, where turbulence that entered an even stream has decayed.

        Exact: ω = ω₀/(1 + β₂ω₀ t), k = k₀ (1 + β₂ω₀ t)^(-β*/β₂), with t the time since it entered; what diffuses along the
        stream is below 1e-5 of that.
        """
        grid = quads(np.linspace(0.0, 1.0, cells + 1), np.array([0.0, 0.05]))
        table = constant_table("fluid", density=1.0, specific_heat=1000.0, viscosity=1e-6, conductivity=1e-3)
        even = FaceCondition("symmetry")
        problem = build_problem(
            grid,
            [table],
            {
                "fluid, left": FaceCondition("inlet", mean_velocity=1.0, temperature=300.0, intensity=0.01, eddies=0.002),
                "fluid, right": FaceCondition("outlet"),
                "fluid, top": even,
                "fluid, bottom": even,
            },
            physics=FlowPhysics(turbulence=TurbulenceModel((0,))),
        )
        solution = solve_steady(problem)
        self.assertTrue(solution.converged)
        k, g = solution.state.scalars.T
        energy, length = problem.given.turbulence[grid.groups["fluid, left"][0]]
        omega = 1.0 / (0.09 * length**2)
        age = 1.0 + 0.0828 * omega * grid.centre[:, 0]
        # The last cell has the value that leaves, half a cell further on.
        last = (grid.centre[:, 0] > 0.5) & (grid.centre[:, 0] < 0.95)
        exact_k, exact_omega = energy * age ** (-0.09 / 0.0828), omega / age
        return (
            float(np.abs(k / exact_k - 1.0)[last].max()),
            float(np.abs(1.0 / (0.09 * g**2) / exact_omega - 1.0)[last].max()),
        )

    def test_decaying_turbulence(self) -> None:
        coarse, fine = self.decay(50), self.decay(100)
        for one, other in zip(coarse, fine, strict=True):
            self.assertLess(other, 2e-4)
            self.assertLess(other, 0.3 * one)


class Nature(unittest.TestCase):
    """The model as the one-dimensional solution has it, with which the program agrees, against nature."""

    def test_channel_simulations(self) -> None:
        """Mean speed in wall units: 17.55 at Re_τ 395 and 18.65 at 590 (Moser, Kim and Mansour 1999), 20.0 at 1000 (Lee and Moser
        2015); all from memory. Friction is its inverse square, within 5 %."""
        for reynolds, speed in ((395.0, 17.55), (590.0, 18.65), (1000.0, 20.0)):
            self.assertAlmostEqual((duct(reynolds).mean_speed / speed) ** -2, 1.0, delta=0.05)

    def test_pipes(self) -> None:
        """Friction by Petukhov (1970) for smooth pipes, 5 % (8 % at Re 1e4); Nusselt number by Gnielinski (1976), 8 %, 12 % at
        Prandtl 50, where Kays' turbulent Prandtl number falls short."""
        for reynolds in (300.0, 1000.0, 5000.0, 20000.0):
            pipe = duct(reynolds, True)
            smooth = (0.79 * np.log(pipe.reynolds) - 1.64) ** -2
            self.assertAlmostEqual(pipe.friction_factor / smooth, 1.0, delta=0.08 if pipe.reynolds < 1.2e4 else 0.05)
            for prandtl, within in ((0.71, 0.08), (5.0, 0.08), (50.0, 0.12)):
                above = (smooth / 8.0) * (pipe.reynolds - 1000.0) * prandtl
                gnielinski = above / (1.0 + 12.7 * np.sqrt(smooth / 8.0) * (prandtl ** (2.0 / 3.0) - 1.0))
                self.assertAlmostEqual(pipe.nusselt(prandtl) / gnielinski, 1.0, delta=within)


class FlatPlate(unittest.TestCase):
    """A layer that grows along a plate: it sees the blending of constants and cross-diffusion."""

    def test_friction_and_heat(self) -> None:
        """Schultz-Grunow (1940; from memory): c_f = 0.370 (lg Re_x)^-2.584 within 5 % from Re_x 5e5 to 4e6.

        Kays and Crawford (1993; from memory): St Pr^0.4 = c_f/2 within 5 % from 2e6 on. Before that Kays' turbulent Prandtl number
        holds heat back more.
        """
        nu, height = 2e-7, 0.1
        x = np.concatenate([[0.0], np.cumsum(1.08 ** np.arange(44))])
        grid = quads(x / x[-1], height * lines(44, 0.6, 0.04 * height / nu))
        table = constant_table("fluid", density=1.0, specific_heat=1000.0, viscosity=nu, conductivity=1000.0 * nu / PRANDTL)
        problem = build_problem(
            grid,
            [table],
            {
                "fluid, left": FaceCondition("inlet", mean_velocity=1.0, temperature=300.0, intensity=0.01, eddies=0.002),
                "fluid, right": FaceCondition("outlet"),
                "fluid, top": FaceCondition("outlet"),
                "fluid, bottom": FaceCondition("wall", temperature=310.0),
            },
            physics=FlowPhysics(turbulence=TurbulenceModel((0,))),
        )
        solution = solve_steady(problem)
        self.assertTrue(solution.converged)
        evaluation, point = evaluate_state(problem, solution.state, solution.interpolation), point_of(problem, solution.state)
        wall = grid.groups["fluid, bottom"]
        reynolds = grid.face_centre[wall][:, 0] / nu
        viscosity = nu + point.turbulence.stir_owner[wall]
        friction = 2.0 * viscosity * solution.state.velocity[grid.owner[wall], 0] / problem.faces.near[wall]
        stanton = -evaluation.heat[wall] / np.linalg.norm(grid.area[wall], axis=1) / 1e4
        grown = (reynolds > 5e5) & (reynolds < 4e6)
        np.testing.assert_allclose(friction[grown], 0.370 * np.log10(reynolds[grown]) ** -2.584, rtol=0.05)
        far = grown & (reynolds > 2e6)
        np.testing.assert_allclose(stanton[far] * PRANDTL**0.4, 0.5 * friction[far], rtol=0.05)


class Stagnation(unittest.TestCase):
    def produced(self, gradient: list[list[float]], energy: float, *, turning: bool) -> tuple[float, float]:
        """Production of k and how it answers to S², over μ_t S² and μ_t, in a fluid with this gradient of velocity everywhere."""
        grid = quads(np.linspace(0.0, 1.0, 8), np.linspace(0.0, 1.0, 8))
        table = constant_table("fluid", density=1.0, specific_heat=1000.0, viscosity=1e-6, conductivity=1e-3)
        sides = {
            "fluid, left": FaceCondition("inlet", mean_velocity=1.0, temperature=300.0),
            "fluid, right": FaceCondition("outlet"),
        }
        sides |= {f"fluid, {side}": FaceCondition("symmetry") for side in ("top", "bottom")}
        model = TurbulenceModel((0,), turning=turning)
        problem = build_problem(grid, [table], sides, physics=FlowPhysics(turbulence=model))
        zero = np.zeros(grid.n_cells)
        # ω is 30 to the strain of 4: stress is not limited.
        scalars = np.column_stack([zero + energy, zero + 1.0 / np.sqrt(0.09 * 30.0)])
        velocity = grid.centre @ np.array(gradient).T
        found = point_of(problem, State(velocity, zero, zero + 300.0, zero, scalars)).turbulence
        cell = int(np.argmin(np.hypot(*(grid.centre - 0.5).T)))
        self.assertEqual(found.held[cell], 0.0)
        whole = found.eddy_viscosity[cell] * found.strain[cell] ** 2
        return float(found.production[cell] / whole), float(found.made_share[cell])

    def test_strain_that_does_not_turn_makes_nothing(self) -> None:
        strained, sheared, both = [[2.0, 0.0], [0.0, -2.0]], [[0.0, 4.0], [0.0, 0.0]], [[1.0, 2.0], [0.0, -1.0]]
        for gradient, share in ((strained, 0.0), (sheared, 1.0), (both, np.sqrt(0.5))):
            self.assertEqual(self.produced(gradient, 0.01, turning=False), (1.0, 1.0))
            for found in self.produced(gradient, 0.01, turning=True):
                self.assertAlmostEqual(found, share, places=9)

    def test_no_more_than_by_strain(self) -> None:
        """Where a fluid turns faster than it is strained, as in a swirl, nothing is added."""
        self.assertEqual(self.produced([[0.0, 4.0], [-2.0, 0.0]], 0.01, turning=True), (1.0, 1.0))


class Balances(unittest.TestCase):
    def test_compact_jacobian(self) -> None:
        """Rows of k and g by k, g and the speed along the wall, against differences of the residual."""
        problem = module(395.0, 24, 1.0)
        unknowns, y = problem.unknowns, problem.grid.centre[:, 1]
        found = duct(395.0)
        k, g = np.interp(y, found.y, found.k), np.interp(np.log(y), found.t, 1.0 / np.sqrt(0.09 * found.omega))
        zero = 0.0 * y
        state = State(
            np.column_stack([np.interp(y, found.y, found.speed), zero]), zero, zero + 300.0, zero, np.column_stack([k, g])
        )
        interpolation = np.full(y.size, 1e-3)
        before = evaluate_state(problem, state, interpolation)
        blocks = compact_blocks(point_of(problem, state), interpolation, before.flow)
        # Fromm's gradients are left out of the compact matrix: along the module nothing changes, and they carry nothing.
        cell = 3 * 12 + 1
        for column, i in ((unknowns.transported[0], 0), (unknowns.transported[1], 1)):
            for row in unknowns.transported:
                step = 1e-6 * state.scalars[cell, i]
                moved = state.scalars.copy()
                moved[:, i] += np.where(np.abs(y - y[cell]) < 1e-12, step, 0.0)
                after = evaluate_state(problem, replace(state, scalars=moved), interpolation)
                slope = (after.residual[cell, row] - before.residual[cell, row]) / step
                own = blocks.diagonal[cell, row, column]
                beside = [
                    blocks.off[f, 0 if problem.faces.owner[f] == cell else 1, row, column]
                    for f in np.nonzero((problem.faces.owner == cell) | (problem.faces.neighbour == cell))[0]
                    if abs(y[problem.faces.owner[f]] - y[problem.faces.neighbour[f]]) < 1e-12
                ]
                scale = abs(blocks.diagonal[cell, row, row]) * (
                    state.scalars[cell, unknowns.transported.index(row)] / state.scalars[cell, i]
                )
                self.assertAlmostEqual((own + sum(beside) - slope) / scale, 0.0, delta=0.12)
