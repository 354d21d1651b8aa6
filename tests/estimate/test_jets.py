"""Jets onto a wall by hand: the relation by itself, and what a case says of one."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from wattikos_core.case import Case, read_case, resolve
from wattikos_core.case.starters.building import given, inlet, outlet, rectangle, symmetry, temperature
from wattikos_core.estimate.hand import estimate_case
from wattikos_core.estimate.jets import jet_nusselt, measured
from wattikos_core.studies import estimate_ledger


def jet(**hand: str) -> Case:
    """Air of 20 °C and 60 m/s from a pipe of 6 mm onto a wall of 36 mm, 36 mm below; half a section about the axis."""
    document: dict[str, Any] = {
        "version": 6,
        "title": "a jet onto a wall",
        "inputs": {"velocity": given("velocity", "60 m/s", "of the jet"), "inlet": temperature("20 °C", "of the air")},
        "section": {"extent": "axisymmetric", "parts": [rectangle("air", "air", "0 mm", "0 mm", "36 mm", "18 mm")]},
        "conditions": [
            inlet("air, left", "inlet", velocity="velocity"),
            outlet("air, top"),
            {"type": "wall", "boundaries": ["air, right"], "thermal": "temperature", "temperature": "60 °C"},
            symmetry("air, bottom"),
        ],
        "estimates": [
            {
                "relation": "impinging_jet",
                "fluid": "air",
                "surface": "air, right",
                "size": "6 mm",
                "velocity": "velocity",
                "distance": "36 mm",
                "reach": "18 mm",
                "area": "pi*(18 mm)^2",
                "wall": "60 °C",
            }
            | hand
        ],
    }
    return read_case(document)


class ByItself(unittest.TestCase):
    def test_a_round_jet(self) -> None:
        """Baughn and Shimizu (1989, J. Heat Transfer 111, 1096; from memory), Re 23,750, H/D 6.

        Nu of 150, 110, 75 and 55 where the jet strikes and one, two and three diameters from there.
        """
        at, nusselt = np.arange(4.0), np.array([150.0, 110.0, 75.0, 55.0])
        fine = np.linspace(0.0, 3.0, 301)
        mean = 2.0 / 9.0 * np.trapezoid(fine * np.interp(fine, at, nusselt), fine)
        self.assertAlmostEqual(jet_nusselt("round", 23_750.0, 0.71, 6.0, 3.0) / float(mean), 1.0, delta=0.10)

    def test_a_slot(self) -> None:
        """Martin's own form on S, the hydraulic diameter: 1.53 Re^m Pr^0.42 / (x/S + H/S + 1.39)."""
        across, away = 10.0 / 2.0, 6.0 / 2.0
        power = 0.695 - 1.0 / (across + away**1.33 + 3.06)
        expected = 1.53 * 2e4**power * 0.71**0.42 / (across + away + 1.39)
        self.assertAlmostEqual(jet_nusselt("slot", 2e4, 0.71, 6.0, 10.0), expected, delta=1e-9 * expected)

    def test_where_it_was_measured(self) -> None:
        self.assertTrue(measured("round", 23_750.0, 6.0, 3.0))
        for reynolds, distance, reach in ((1e3, 6.0, 3.0), (2e4, 1.0, 3.0), (2e4, 6.0, 9.0)):
            self.assertFalse(measured("round", reynolds, distance, reach))


class InACase(unittest.TestCase):
    def test_a_wall_at_a_temperature(self) -> None:
        rows = {row.name: row.hand for row in estimate_ledger(jet()) if row.hand}
        h, heat = rows["mean h of air, right"], rows["air heat gained"]
        assert h is not None
        assert heat is not None
        self.assertTrue(h.inside)
        self.assertIn("Martin", h.source)
        self.assertAlmostEqual(heat.value, h.value * np.pi * 0.018**2 * 40.0, delta=1e-6 * heat.value)
        # Properties at 40 °C: ν 1.70e-5 m²/s, k 0.0271 W/m/K, Pr 0.71 (Incropera and DeWitt, table A.4; from memory).
        self.assertAlmostEqual(h.value, jet_nusselt("round", 60.0 * 0.006 / 1.70e-5, 0.71, 6.0, 3.0) * 0.0271 / 0.006, delta=4.0)

    def test_a_heated_wall(self) -> None:
        """Its temperature follows from the heat rate."""
        rows = {row.name: row.hand for row in estimate_ledger(jet(wall="", heat="10 W")) if row.hand}
        h, wall = rows["mean h of air, right"], rows["mean temperature of air, right"]
        assert h is not None
        assert wall is not None
        self.assertAlmostEqual(wall.value, 293.15 + 10.0 / (h.value * np.pi * 0.018**2), delta=1e-3)

    def test_too_near_where_it_strikes(self) -> None:
        """The relation would give a negative film there."""
        found = estimate_case(resolve(jet(reach="6.5 mm")))[0]
        self.assertEqual((found.values, found.problems[0].field), ({}, "estimates[0].reach"))
        self.assertIn("larger part", found.problems[0].remedy)

    def test_heat_and_temperature_at_once(self) -> None:
        for hand in ({"heat": "10 W"}, {"wall": ""}):
            found = estimate_case(resolve(jet(**hand)))[0]
            self.assertEqual(found.values, {})
            self.assertEqual(found.problems[0].field, "estimates[0].heat")
            self.assertIn("leave the other empty", found.problems[0].remedy)
