"""What enters as out of a long duct: as in developed pipes, and hardly anything develops behind the inlet."""

from __future__ import annotations

import unittest

import fluids
import numpy as np

from tests.physics.test_turbulence import lines
from tests.support import quads
from wattikos_core.boundaries.on_faces import FaceCondition
from wattikos_core.boundaries.profiles import Across
from wattikos_core.materials import constant_table
from wattikos_core.physics import FlowPhysics, build_problem
from wattikos_core.physics.flow_physics import TurbulenceModel
from wattikos_core.physics.turbulence.developed import developed_profile, entering_between
from wattikos_core.solve.steady import solve_steady


class ByItself(unittest.TestCase):
    def test_friction_of_pipes(self) -> None:
        """Colebrook, smooth, as in the fluids library; 2 %, 9 % at Re 1e4, where the model itself is 6 % off."""
        for reynolds, within in ((1e4, 0.09), (1e5, 0.02), (1e6, 0.02)):
            profile = developed_profile(0.5, 1.0, 1.0 / reynolds, wide=False)
            friction = 8.0 * profile.speed[1] / profile.distance[1] / reynolds
            self.assertAlmostEqual(friction / fluids.friction_factor(Re=reynolds), 1.0, delta=within)

    def test_means_over_faces(self) -> None:
        """Pipes, plates, half of them and annuli: the mean speed is the one given, and nothing moves at walls."""
        edges = 0.01 + 0.02 * np.concatenate([[0.0], np.cumsum(np.tile([1.0, 2.0, 3.0, 2.0, 1.0], 20))]) / 180.0
        for walls, round_axis in (((True, True), False), ((True, False), False), ((False, True), False), ((True, True), True)):
            with self.subTest(walls=walls, round_axis=round_axis):
                profile = entering_between(Across(edges[:-1], edges[1:], walls, round_axis), 2.0, 1e-6)
                area = np.diff(edges) * ((edges[1:] + edges[:-1]) if round_axis else 1.0)
                self.assertAlmostEqual(float(profile.speed @ area / area.sum()) / 2.0, 1.0, delta=0.03)
                self.assertEqual(bool(profile.speed[0] < 0.6 * profile.speed.max()), walls[0])
                self.assertEqual(bool(profile.speed[-1] < 0.6 * profile.speed.max()), walls[1])
                self.assertTrue((profile.energy > 0.0).all() and (profile.length > 0.0).all())


class Pipe(unittest.TestCase):
    def friction_along(self, developed: bool) -> np.ndarray:
        """Wall shear along ten diameters over that of the end; Reynolds number 2e4."""
        nu, y = 1.0 / 2e4, lines(30, 1.0, 560.0)
        grid = quads(np.linspace(0.0, 10.0, 41), 0.5 * (1.0 - y[::-1]), axisymmetric=True)
        table = constant_table("fluid", density=1.0, specific_heat=1000.0, viscosity=nu, conductivity=1000.0 * nu)
        conditions = {
            "fluid, left": FaceCondition("inlet", mean_velocity=1.0, temperature=300.0, developed=developed),
            "fluid, right": FaceCondition("outlet"),
            "fluid, top": FaceCondition("wall"),
            "fluid, bottom": FaceCondition("symmetry"),
        }
        problem = build_problem(grid, [table], conditions, physics=FlowPhysics(turbulence=TurbulenceModel((0,))))
        done = solve_steady(problem)
        self.assertTrue(done.converged)
        beside = grid.owner[grid.groups["fluid, top"]]
        speeds = done.state.velocity[beside, 0][np.argsort(grid.centre[beside, 0])]
        return np.asarray(speeds / speeds[-2])

    def test_hardly_anything_develops(self) -> None:
        along = self.friction_along(True)
        self.assertLess(float(np.abs(along[2:] - 1.0).max()), 0.06)
        self.assertGreater(float(self.friction_along(False)[2:10].max()), 1.2)
