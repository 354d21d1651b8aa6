"""Kinetic heating: what an insulated plate takes on in fast air."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from django.test import tag

from wattikos_core.case import read_case
from wattikos_core.case.starters.building import given, inlet, outlet, rectangle, symmetry, temperature, wall
from wattikos_core.studies import solve_case

SPEED, INLET, SPECIFIC_HEAT = 70.0, 293.15, 1006.0


class InsulatedPlate(unittest.TestCase):
    def recovery(self, plate: float, height: float, flow: str, fineness: float = 1.0) -> tuple[np.ndarray, np.ndarray]:
        """Places along a plate (m), over its length, and (T_wall - T) over v²/(2 cp) there; from 0.4 to 0.95 of it.

        The plate begins a tenth of its length behind the inlet of a stream.
        """
        air: dict[str, Any] = rectangle("air", "air", f"{-0.1 * plate} m", "0 m", f"{1.1 * plate} m", f"{height} m")
        air["shape"]["divided"] = {"bottom": [f"{0.1 * plate} m"]}
        document: dict[str, Any] = {
            "version": 6,
            "title": "insulated plate",
            "inputs": {"speed": given("velocity", f"{SPEED} m/s", "ahead"), "inlet": temperature("20 °C", "of the air")},
            "section": {"extent": "flat", "depth": "1 m", "parts": [air]},
            "conditions": [
                inlet("air, left", "inlet", velocity="speed") | {"turbulence_intensity": "0.01", "eddy_size": f"{0.02 * height} m"},
                outlet("air, right"),
                outlet("air, top"),
                symmetry("air, bottom 1"),
                wall("air, bottom 2"),
            ],
            "physics": {"flow": flow, "friction_heat": True},
            "grid": {"fineness": fineness},
        }
        run = solve_case(read_case(document))
        self.assertTrue(run.solution.converged)
        assert run.field is not None
        grid, evaluation = run.field.problem.grid, run.field.evaluation
        group = grid.groups["air, bottom 2"]
        along = grid.face_centre[group][:, 0]
        far = (along > 0.4 * plate) & (along < 0.95 * plate)
        return along[far] / plate, np.asarray(
            (evaluation.face_temperature[group][far] - INLET) / (SPEED**2 / (2.0 * SPECIFIC_HEAT))
        )

    @tag("slow")
    def test_turbulent(self) -> None:
        """The cube root of the Prandtl number (common practice; Kays and Crawford 1993, from memory): 0.891 for air, within 3 %."""
        np.testing.assert_allclose(self.recovery(1.0, 0.1, "turbulent")[1], 0.707 ** (1.0 / 3.0), rtol=0.03)

    def test_laminar(self) -> None:
        """Its square root (Pohlhausen 1921, from memory): 0.841.

        Where the plate begins the layer is thinner than a cell, and what friction makes there is lost. The layer carries that
        along: the wall is too cold by what falls as the layer grows, as x^-½. What is left of it far down is the square root on
        every grid, and the share that is lost falls with the cells, by more than the first order.
        """
        lost = []
        for fineness in (1.5, 3.0):
            place, found = self.recovery(0.05, 0.005, "laminar", fineness)
            slope, level = np.polyfit(place**-0.5, found, 1)
            self.assertAlmostEqual(float(level) / 0.707**0.5, 1.0, delta=0.02)
            lost.append(-float(slope))
        self.assertGreater(lost[0] / lost[1], 2.0)
