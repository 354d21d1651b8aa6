"""Derived fields against exact ones: flow between plates and in a pipe, heat in a slab, turning like a solid."""

from __future__ import annotations

import unittest
from functools import lru_cache

import numpy as np

from tests.sections import PLAIN, held, rectangle, section_case, wall
from wattikos_core.physics.faces import Array
from wattikos_core.read import cell_fields
from wattikos_core.studies import Result, solve_case

HEIGHT, SPEED, DEPTH = 0.004, 0.01, 0.1


@lru_cache(maxsize=4)
def developed(axisymmetric: bool, fineness: float) -> Result:
    """Water that enters developed and stays so, between plates 4 mm apart, or in a pipe of 4 mm radius."""
    conditions = [
        {
            "type": "inlet",
            "boundaries": ["duct, left"],
            "velocity": f"{SPEED} m/s",
            "temperature": "20 °C",
            "profile": "developed",
        },
        {"type": "outlet", "boundaries": ["duct, right"]},
    ]
    duct = rectangle("duct", "water", "0 m", "0 m", "20 mm", f"{HEIGHT} m")
    return solve_case(section_case(duct, conditions=conditions, fineness=fineness, depth=f"{DEPTH} m", axisymmetric=axisymmetric))


def fields_of(run: Result) -> dict[str, Array]:
    return cell_fields(run.problem, run.solution.state, run.evaluation)


class Flow(unittest.TestCase):
    def errors(self, axisymmetric: bool, fineness: float) -> tuple[float, float, float]:
        """Largest errors of stream function, vorticity and total pressure, as shares of their ranges."""
        run = developed(axisymmetric, fineness)
        fields, density = fields_of(run), float(run.problem.materials[0].density(293.15))
        eta = run.problem.grid.centre[:, 1] / HEIGHT
        if axisymmetric:
            # Hagen and Poiseuille: u = 2U(1 - η²), from the axis ψ = ρUπR²(2η² - η⁴).
            speed, turning = 2.0 * SPEED * (1.0 - eta**2), 4.0 * SPEED * eta / HEIGHT
            stream = density * SPEED * np.pi * HEIGHT**2 * (2.0 * eta**2 - eta**4)
        else:
            # u = 6Uη(1 - η), ψ = ρUHb(3η² - 2η³).
            speed, turning = 6.0 * SPEED * eta * (1.0 - eta), -6.0 * SPEED * (1.0 - 2.0 * eta) / HEIGHT
            stream = density * SPEED * HEIGHT * DEPTH * (3.0 * eta**2 - 2.0 * eta**3)
        found = fields["stream function"]
        # Zero may lie on either wall.
        offset = float(np.median(found - stream))
        head = fields["total pressure"] - fields["pressure"] - 0.5 * density * speed**2
        return (
            float(np.abs(found - stream - offset).max() / np.ptp(stream)),
            float(np.abs(fields["vorticity"] - turning).max() / np.ptp(turning)),
            float(np.abs(head).max() / (0.5 * density * speed.max() ** 2)),
        )

    def test_between_plates_and_in_a_pipe(self) -> None:
        for axisymmetric in (False, True):
            coarse, fine = self.errors(axisymmetric, 0.6), self.errors(axisymmetric, 1.2)
            for one, other, most in zip(coarse, fine, (0.01, 0.06, 0.02), strict=True):
                self.assertLess(other, most, (axisymmetric, coarse, fine))
                self.assertLess(other, 0.6 * one, (axisymmetric, coarse, fine))

    def test_all_of_the_flow_lies_between_the_walls(self) -> None:
        """The stream function differs by the mass flow from wall to wall, whatever the grid."""
        run = developed(False, 0.6)
        found = fields_of(run)["stream function"]
        density = float(run.problem.materials[0].density(293.15))
        self.assertAlmostEqual(float(np.ptp(found)) / (density * SPEED * HEIGHT * DEPTH), 1.0, delta=0.01)


class Heat(unittest.TestCase):
    def test_a_slab_passes_the_same_everywhere(self) -> None:
        """5 kW/m² enter, and pass every cell; a part without flow has no more fields than these."""
        slab = rectangle("slab", "own", "0 m", "0 m", "20 mm", "10 mm")
        conditions = [wall("slab, left", thermal="heat_flux", heat_flux="5 kW/m²"), held("slab, right", at="20 °C")]
        run = solve_case(section_case(slab, conditions=conditions, materials={"own": PLAIN}, fineness=0.4))
        fields = fields_of(run)
        np.testing.assert_allclose(fields["heat flux"], 5000.0, rtol=1e-6)
        self.assertEqual(set(fields), {"temperature", "heat flux", "conductivity", "cell size"})
        self.assertAlmostEqual(float((fields["cell size"] ** 2).sum()), 0.02 * 0.01, places=12)
