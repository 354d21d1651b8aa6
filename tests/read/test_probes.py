"""Probes and areas against fields that are known."""

from __future__ import annotations

import unittest

import numpy as np

from tests.support import quads
from wattikos_core.case.places import PlacedProbe
from wattikos_core.errors import CaseError
from wattikos_core.read import Instant, interpolant_of, probe_values


def sloping(axisymmetric: bool = False) -> Instant:
    """v = x on a rectangle of 1 m by 0.5 m; the speed is half of it."""
    grid = quads(np.linspace(0.0, 1.0, 41), np.linspace(0.0, 0.5, 21), axisymmetric=axisymmetric, depth=0.1)
    x = grid.centre[:, 0]
    return Instant(interpolant_of(grid), {"temperature": 300.0 + x, "pressure": x, "speed": 0.5 * x})


class Probes(unittest.TestCase):
    def test_at_a_point(self) -> None:
        found = probe_values(sloping(), PlacedProbe("p", (0.3333, 0.1)))
        self.assertAlmostEqual(found["temperature"].mean, 300.3333, places=9)
        self.assertIsNone(found["pressure"].uniformity)

    def test_in_a_box_that_cuts_cells(self) -> None:
        """Between x = 0.11 and 0.73: mean 0.42, deviation of what rises evenly 0.62/√12, uniformity 1 - (0.62/4)/(2·0.42)."""
        found = probe_values(sloping(), PlacedProbe("box", (0.11, 0.07, 0.73, 0.36)))["pressure"]
        self.assertAlmostEqual(found.mean, 0.42, delta=1e-3)
        self.assertAlmostEqual(found.deviation, 0.62 / np.sqrt(12.0), delta=1e-3)
        assert found.uniformity is not None
        self.assertAlmostEqual(found.uniformity, 1.0 - 0.62 / 4.0 / (2.0 * 0.42), delta=1e-3)

    def test_weighted_by_volume_about_an_axis(self) -> None:
        """The mean of what falls on a part about an axis counts its outer half more, but not along the axis."""
        whole = probe_values(sloping(axisymmetric=True), PlacedProbe("all", part="fluid"))["pressure"]
        self.assertAlmostEqual(whole.mean, 0.5, places=9)
        self.assertAlmostEqual(whole.lowest, 1.0 / 80.0, places=9)

    def test_outside_and_unknown(self) -> None:
        for probe in (PlacedProbe("p", (2.0, 0.1)), PlacedProbe("b", (2.0, 0.0, 3.0, 1.0)), PlacedProbe("q", part="nothing")):
            with self.assertRaises(CaseError):
                probe_values(sloping(), probe)
