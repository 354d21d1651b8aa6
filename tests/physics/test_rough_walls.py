"""Rough walls: their logarithmic law, and pipes against Colebrook and Dipprey and Sabersky, whatever the first cell."""

from __future__ import annotations

import unittest

import fluids
import numpy as np

from tests.physics.test_turbulence import lines
from tests.support import quads
from wattikos_core.boundaries.on_faces import FaceCondition
from wattikos_core.grid import join_ends
from wattikos_core.materials import constant_table
from wattikos_core.physics import FlowPhysics, Module, build_problem
from wattikos_core.physics.flow_physics import TurbulenceModel
from wattikos_core.physics.turbulence.rough_walls import moved_by, rough_cell, rough_distance_plus, rough_layer
from wattikos_core.physics.turbulence.wall_layer import constant_stress_layer, kader_temperature, wall_distance_plus, wall_layer
from wattikos_core.solve.iterate import evaluate_state
from wattikos_core.solve.steady import solve_steady

PRANDTL = 0.71


def rough_pipe(reynolds: float, relative: float, plus: float, cells: int) -> tuple[float, float]:
    """Darcy friction factor over that of Colebrook, and Nusselt number, of developed flow in a pipe of radius 1.

    Args:
        reynolds: on the diameter.
        relative: equivalent sand roughness over diameter.
        plus: y⁺ of the first cell, as Colebrook has it.
        cells: over the radius.
    """
    known = fluids.friction_factor(Re=reynolds, eD=relative, Method="Colebrook")
    speed = float(np.sqrt(8.0 / known))
    nu = 2.0 * speed / reynolds
    y = lines(cells, plus, 1.0 / nu)
    grid = join_ends(quads(np.linspace(0.0, 0.05, 4), 1.0 - y[::-1], axisymmetric=True), ["fluid, left"], ["fluid, right"])
    conductivity = 1000.0 * nu / PRANDTL
    table = constant_table("fluid", density=1.0, specific_heat=1000.0, viscosity=nu, conductivity=conductivity)
    area = float(np.linalg.norm(grid.area[grid.joined], axis=1).sum())
    wall = FaceCondition("wall", heat_flux=100.0, roughness=2.0 * relative)
    problem = build_problem(
        grid,
        [table],
        {"fluid, top": wall, "fluid, bottom": FaceCondition("symmetry")},
        physics=FlowPhysics(repeating=True, turbulence=TurbulenceModel((0,))),
        module=Module(0.05, np.array([1.0, 0.0]), grid.joined, area, 0, speed * area, None, 300.0, None),
    )
    done = solve_steady(problem)
    assert done.converged
    friction = 4.0 * abs(done.state.periodicity.pressure_gradient) / speed**2
    evaluation = evaluate_state(problem, done.state, done.interpolation)
    flow = grid.volume * done.state.velocity[:, 0]
    mean = float(evaluation.temperature @ flow / flow.sum())
    surface = float(evaluation.face_temperature[grid.groups["fluid, top"]].mean())
    return friction / known, 200.0 / ((surface - mean) * conductivity)


class Layer(unittest.TestCase):
    def test_fully_rough_law(self) -> None:
        """Nikuradse (1933): u⁺ = 1/0.41 ln(y/k_s) + 8.5."""
        layer, profile = rough_layer(), constant_stress_layer()
        for roughness, away in ((500.0, 20.0), (5000.0, 5.0)):
            y = away * roughness
            plus = rough_distance_plus(layer, y * (np.log(away) / 0.41 + 8.5), 1.0 / away)
            self.assertAlmostEqual(plus / y, 1.0, delta=0.01)
            moved = moved_by(layer, roughness)
            speeds = np.interp(np.log([y + moved, moved]), np.log(profile.distance), profile.speed)
            self.assertAlmostEqual((speeds[0] - speeds[1]) / (np.log(away) / 0.41 + 8.5), 1.0, delta=0.01)

    def test_the_moved_layer_is_what_was_looked_up(self) -> None:
        """y⁺ from u y/ν and back, at any roughness."""
        layer, profile = rough_layer(), constant_stress_layer()
        for reynolds in (1.0, 1e2, 1e4, 1e6):
            for ratio in (1e-3, 0.1, 1.0, 30.0, 1e3):
                plus = rough_distance_plus(layer, reynolds, ratio)
                moved = moved_by(layer, ratio * plus)
                at = np.interp(np.log([plus + moved, moved]), np.log(profile.distance), profile.speed)
                speeds = np.where(np.array([plus + moved, moved]) < profile.distance[0], [plus + moved, moved], at)
                self.assertAlmostEqual(plus * (speeds[0] - speeds[1]) / reynolds, 1.0, delta=2e-3)

    def test_hardly_rough_is_smooth(self) -> None:
        for reynolds in (1.0, 100.0, 1e5):
            smooth = wall_distance_plus(wall_layer(), reynolds)
            plus = rough_distance_plus(rough_layer(), reynolds, 1e-7)
            self.assertAlmostEqual(plus / smooth, 1.0, delta=1e-3)
            temperature = rough_cell(rough_layer(), plus, 1e-7, 5.0).temperature
            self.assertAlmostEqual(temperature / kader_temperature(smooth, 5.0), 1.0, delta=2e-3)

    def test_rougher_is_never_slower_to_exchange(self) -> None:
        layer, found = rough_layer(), []
        for ratio in np.logspace(-4, 1, 26):
            plus = rough_distance_plus(layer, 1e5, ratio)
            found.append((plus, plus / rough_cell(layer, plus, ratio, PRANDTL).temperature))
        self.assertTrue((np.diff([plus for plus, _ in found]) > 0.0).all())
        self.assertTrue((np.diff([heat for _, heat in found]) > -1e-9).all())


class Pipes(unittest.TestCase):
    def test_friction_is_that_of_colebrook(self) -> None:
        """10 % from smooth to fully rough, and hardly a matter of the first cell; Colebrook as in the fluids library."""
        for reynolds, relative, firsts in (
            (1e5, 1e-3, ((0.5, 100), (5.0, 70))),
            (1e5, 1e-2, ((0.5, 100), (5.0, 70))),
            (1e6, 1e-3, ((5.0, 75), (50.0, 50))),
            (1e6, 1e-2, ((5.0, 75), (50.0, 50))),
            (1e6, 5e-2, ((50.0, 50),)),
        ):
            with self.subTest(reynolds=reynolds, relative=relative):
                ratios = [rough_pipe(reynolds, relative, plus, cells)[0] for plus, cells in firsts]
                self.assertLess(max(abs(ratio - 1.0) for ratio in ratios), 0.10)
                self.assertLess(max(ratios) - min(ratios), 0.03)

    def test_heat_is_that_of_rough_pipes(self) -> None:
        """Dipprey and Sabersky (1963): St = (f/8)/(1 + √(f/8) (5.19 k_s⁺^0.2 Pr^0.44 - 8.48)), fully rough, from memory; 10 %."""
        for reynolds, relative in ((1e5, 1e-2), (1e6, 1e-2), (1e6, 5e-2)):
            friction = fluids.friction_factor(Re=reynolds, eD=relative, Method="Colebrook")
            roughness = relative * reynolds * np.sqrt(friction / 8.0)
            level = 5.19 * roughness**0.2 * PRANDTL**0.44 - 8.48
            stanton = friction / 8.0 / (1.0 + np.sqrt(friction / 8.0) * level)
            _, nusselt = rough_pipe(reynolds, relative, 5.0, 70)
            self.assertAlmostEqual(nusselt / (stanton * reynolds * PRANDTL), 1.0, delta=0.10)
