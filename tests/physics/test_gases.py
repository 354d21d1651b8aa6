"""Gases whose pressure falls by a large share of what it is: their density follows the local pressure."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from scipy.optimize import brentq

from wattikos_core.case import read_case
from wattikos_core.materials import table_of
from wattikos_core.studies import Result, solve_case

GAP, LENGTH, WARM = 0.05e-3, 0.02, 293.15


def gap(velocity: float, fineness: float, **physics: Any) -> Result:
    """Air through a narrow gap between walls at its own temperature, developed where it enters."""
    shape = {"type": "rectangle", "x": "0 mm", "y": "0 mm", "width": f"{LENGTH} m", "height": f"{GAP} m"}
    inlet = {"type": "inlet", "boundaries": ["duct, left"], "temperature": "20 °C", "velocity": f"{velocity} m/s"}
    walls = {"type": "wall", "boundaries": ["duct, bottom", "duct, top"], "thermal": "temperature", "temperature": "20 °C"}
    return solve_case(
        read_case(
            {
                "title": "gap",
                "inputs": {},
                "section": {"extent": "flat", "depth": "1 m", "parts": [{"name": "duct", "material": "air", "shape": shape}]},
                "conditions": [inlet | {"profile": "developed"}, {"type": "outlet", "boundaries": ["duct, right"]}, walls],
                "grid": {"fineness": fineness},
                "physics": physics,
            }
        )
    )


def isothermal_drop(velocity: float) -> float:
    """Pressure drop of a developed laminar ideal gas at one temperature in a gap, Pa: momentum integrated along it.

    (p₁² - p₂²)/2 = 12 μ G R T L / h² + 6/5 G² R T ln(p₁/p₂), with G the mass flow per area and 6/5 the momentum factor of the
    parabolic profile (White, Viscous fluid flow, from memory).
    """
    air, outside = table_of("air"), 101325.0
    density, viscosity = float(air.density(WARM)), float(air.viscosity(WARM))
    flux, specific = density * velocity, outside / density

    def open_by(ratio: float) -> float:
        inertia = 1.2 * flux**2 * specific * float(np.log(ratio))
        return 0.5 * (ratio**2 - 1.0) * outside**2 - 12.0 * viscosity * flux * specific * LENGTH / GAP**2 - inertia

    return (float(brentq(open_by, 1.0 + 1e-9, 10.0)) - 1.0) * outside


class LocalPressure(unittest.TestCase):
    def test_drops_of_a_large_share(self) -> None:
        """0.16 and 0.55 of the pressure at the outlet; at one density it would be 8 and 24 % more."""
        for velocity in (10.0, 40.0):
            exact = isothermal_drop(velocity)
            coarse, fine = (gap(velocity, fineness).value("duct pressure drop") / exact - 1.0 for fineness in (0.5, 1.0))
            self.assertLess(abs(fine), 0.006, velocity)
            self.assertLess(abs(fine), 0.3 * abs(coarse), velocity)

    def test_mass_and_heat_stay_balanced(self) -> None:
        run = gap(40.0, 1.0)
        self.assertTrue(run.solution.converged)
        self.assertLess(run.value("mass balance"), 1e-9)
        self.assertLess(run.value("heat balance"), 1e-9)

    def test_findings(self) -> None:
        """Nothing to doubt while density follows pressure; its one pressure where weight alone varies; speeds near sound."""
        self.assertEqual([f.text for f in gap(10.0, 0.5).findings], [])
        heavy = gap(40.0, 0.5, gravity_y="-9.81 m/s^2")
        self.assertTrue(any("at one pressure" in f.text and f.severity == "stop" for f in heavy.findings))
        fast = gap(200.0, 0.5)
        self.assertTrue(any("speed of sound" in f.text for f in fast.findings), fast.findings)

    def test_what_walls_recover(self) -> None:
        """With friction heat: the square root of the Prandtl number of what the gas warms by, 84 % for air."""
        slow, fast = gap(10.0, 0.5, friction_heat=True), gap(100.0, 0.5, friction_heat=True)
        self.assertFalse([f for f in slow.findings if "takes on" in f.text])
        self.assertTrue(any("takes on 84% of that" in f.text and f.severity == "note" for f in fast.findings), fast.findings)
