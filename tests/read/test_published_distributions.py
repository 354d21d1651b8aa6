"""Distributions along walls and lines against what is published, or exact, for them."""

from __future__ import annotations

import math
import unittest

import numpy as np

from tests.read.instants import instant_of
from tests.sections import circle, held, rectangle, section_case, wall
from wattikos_core.case.places import PlacedLine
from wattikos_core.read.lines import read_line
from wattikos_core.read.walls import wall_profiles
from wattikos_core.studies import solve_case

# A fluid with a Prandtl number of 0.7 (density 1 kg/m3, diffusivity 1e-5 m2/s).
FLUID = {
    "base": "water",
    "density": "1 kg/m^3",
    "specific_heat": "1000 J/kg/K",
    "conductivity": "0.01 W/m/K",
    "viscosity": "7e-6 Pa*s",
    "expansion": "1e-3 1/K",
}


class BetweenCylinders(unittest.TestCase):
    """Natural convection between concentric cylinders, outer over inner diameter 2.6: Kuehn and Goldstein (1976), J. Fluid Mech.
    74, 695: their equivalent conductivities at a Rayleigh number of 1e4 on the gap (values from memory)."""

    MEAN = 2.01

    def test_equivalent_conductivity_round_both(self) -> None:
        """The mean of both cylinders is theirs within 2 %; the inner one gives most below, the outer one takes most above."""
        gravity = 1e4 * 7e-6 * 1e-5 / (1e-3 * 10.0 * 0.1**3)
        parts = [circle("ring", "fluid", "0 m", "0 m", "325 mm"), circle("rod", "void", "0 m", "0 m", "125 mm")]
        conditions = [held("ring, outside", at="20 °C"), held("ring, rod outside", at="30 °C")]
        case = section_case(
            *parts,
            conditions=conditions,
            materials={"fluid": FLUID},
            physics={"gravity_y": f"-{gravity} m/s^2"},
            fineness=0.7,
        )
        instant = instant_of(solve_case(case))
        conducted = 0.01 * 10.0 / math.log(2.6)
        for name, radius, warm_above in (("ring, rod outside", 0.0625, False), ("ring, outside", 0.1625, True)):
            (profile,) = wall_profiles(instant, [name])
            equivalent = np.abs(profile.fields["heat flux into it"]) * radius / conducted
            length = np.gradient(profile.path.along)
            mean = float(np.average(equivalent, weights=length))
            self.assertAlmostEqual(mean / self.MEAN, 1.0, delta=0.02, msg=name)
            height = profile.path.points[:, 1] / radius
            above, below = equivalent[height > 0.9].mean(), equivalent[height < -0.9].mean()
            self.assertEqual(above > below, warm_above)
            self.assertGreater(max(above, below), 1.5 * min(above, below))


class BehindTwoTubes(unittest.TestCase):
    def test_the_outlet_profile(self) -> None:
        """Two hot tubes beside each other: what leaves is even about the middle, has two peaks behind them, and its mixed-mean is
        the outlet temperature of the ledger and that of the balance of heat."""
        duct = rectangle("duct", "water", "0 m", "0 m", "100 mm", "40 mm")
        tubes = [circle(f"tube {letter}", "void", "25 mm", y, "8 mm") for letter, y in (("a", "10 mm"), ("b", "30 mm"))]
        conditions = [
            {"type": "inlet", "boundaries": ["duct, left"], "velocity": "4 mm/s", "temperature": "20 °C"},
            {"type": "outlet", "boundaries": ["duct, right"]},
            held("duct, tube a outside", "duct, tube b outside", at="40 °C"),
            wall("duct, top", "duct, bottom"),
        ]
        run = solve_case(section_case(duct, *tubes, conditions=conditions, fineness=0.7))
        line = PlacedLine("outlet", np.array([[0.0999, 0.0], [0.0999, 0.04]]))
        (profile,) = read_line(instant_of(run), line)
        y, t = profile.path.points[:, 1], profile.fields["temperature"]
        inside = (y > 0.002) & (y < 0.038)
        mirrored = np.interp(0.04 - y, y, t)
        self.assertLess(np.abs(t - mirrored)[inside].max(), 0.02 * np.ptp(t))
        peaks = [float(y[band][np.argmax(t[band])]) for band in (y < 0.02, y > 0.02)]
        np.testing.assert_allclose(peaks, [0.01, 0.03], atol=0.003)
        mixed = profile.statistics["temperature"].flow_mean
        assert mixed is not None
        rise = run.value("duct outlet temperature") - 293.15
        self.assertAlmostEqual((mixed - 293.15) / rise, 1.0, delta=0.01)
        given = sum(run.value(f"heat in through duct, tube {letter} outside") for letter in "ab")
        rate = 0.004 * 0.04 * float(run.problem.materials[0].density(293.15)) * 4180.0
        self.assertAlmostEqual(rise / (given / rate), 1.0, delta=0.02)
