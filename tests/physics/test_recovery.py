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
    def recovery(self, plate: float, height: float) -> np.ndarray:
        """(T_wall - T) over v²/(2 cp) along a plate (m) that begins a tenth of its length behind the inlet of a stream."""
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
            "physics": {"flow": "turbulent", "friction_heat": True},
        }
        run = solve_case(read_case(document))
        self.assertTrue(run.solution.converged)
        assert run.field is not None
        grid, evaluation = run.field.problem.grid, run.field.evaluation
        group = grid.groups["air, bottom 2"]
        along = grid.face_centre[group][:, 0]
        far = (along > 0.4 * plate) & (along < 0.95 * plate)
        return np.asarray((evaluation.face_temperature[group][far] - INLET) / (SPEED**2 / (2.0 * SPECIFIC_HEAT)))

    @tag("slow")
    def test_turbulent(self) -> None:
        """The cube root of the Prandtl number (common practice; Kays and Crawford 1993, from memory): 0.891 for air, within 3 %."""
        np.testing.assert_allclose(self.recovery(1.0, 0.1), 0.707 ** (1.0 / 3.0), rtol=0.03)
