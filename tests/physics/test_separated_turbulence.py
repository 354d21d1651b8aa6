"""Turbulent flows that separate, from rest: a bar in fast air, and a backward step."""

from __future__ import annotations

import copy
import math
import unittest
from typing import Any

import numpy as np
from django.test import tag

from wattikos_core.case import read_case, resolve
from wattikos_core.case.starters.building import given, inlet, length, outlet, rectangle, symmetry, temperature, wall
from wattikos_core.case.starters.turbulent import TURBULENT_RIBS
from wattikos_core.estimate.ribs import ribbed_film
from wattikos_core.ledger import Key
from wattikos_core.studies import Result, solve_case

STEP = 12.7e-3


def half_bar(fineness: float) -> Result:
    """Half a heated bar of 3 mm in air of 85 m/s."""
    corners = [(1.5 * math.cos(math.pi * k / 40), 1.5 * math.sin(math.pi * k / 40)) for k in range(41)]
    document: dict[str, Any] = {
        "version": 6,
        "title": "half a bar",
        "inputs": {"velocity": given("velocity", "85 m/s", "ahead"), "inlet": temperature("60 °C", "of the air")},
        "section": {
            "extent": "flat",
            "depth": "1 m",
            "parts": [
                rectangle("stream", "air", "-24 mm", "0 mm", "69 mm", "24 mm"),
                {
                    "name": "bar",
                    "material": "stainless_304",
                    "shape": {
                        "type": "polygon",
                        "x": "0 m",
                        "y": "0 m",
                        "points": [[f"{x:.6f} mm", f"{max(y, 0.0):.6f} mm"] for x, y in corners],
                    },
                    "heat": "300 W",
                },
            ],
        },
        "conditions": [
            inlet("stream, left", "inlet", velocity="velocity") | {"turbulence_intensity": "0.02"},
            outlet("stream, right"),
            symmetry("stream, top", "stream, bottom"),
        ],
        "physics": {"flow": "automatic"},
        "grid": {"fineness": fineness},
    }
    return solve_case(read_case(document))


class Bar(unittest.TestCase):
    """h of 684 W/m²/K after Zukauskas (1972), about 670 after Churchill and Bernstein (1977), either within 15 to 20 %."""

    def check(self, fineness: float, within: float) -> None:
        run = half_bar(fineness)
        self.assertTrue(run.solution.converged)
        self.assertLess(run.value("heat balance"), 1e-7)
        self.assertAlmostEqual(run.value("mean h of stream | bar") / 670.0, 1.0, delta=within)

    def test_on_a_coarse_grid(self) -> None:
        """First cells at y⁺ 1.4 on the mean."""
        self.check(0.5, 0.15)

    @tag("slow")
    def test_on_finer_ones(self) -> None:
        """First cells at y⁺ 0.5 and 0.3: 688 and 658 turbulent all along, 675 on the first with layers followed."""
        self.check(1.0, 0.10)
        self.check(1.5, 0.10)


class Ribs(unittest.TestCase):
    """Ribs of square section on both walls of a flat duct, ten heights apart, 2 and 4 % of the hydraulic diameter high."""

    def ratios(self, half_height: str, cells: int, stress: str) -> tuple[float, float]:
        """Friction and heat of the whole wall over those of Webb, Eckert and Goldstein (1971)."""
        document = copy.deepcopy(TURBULENT_RIBS.document)
        document["grid"], document["estimates"] = {"cells": cells}, []
        document["physics"]["turbulent_stress"] = stress
        document["inputs"]["velocity"]["value"], document["inputs"]["height"]["value"] = "8 m/s", half_height
        document["conditions"][2] = symmetry("air, top")
        case = read_case(document)
        run = solve_case(case)
        self.assertTrue(run.solution.converged)
        half, speed, rib = resolve(case).values["height"], 8.0, 4e-3
        diameter = 4.0 * half
        table = run.problem.materials[0]
        film = 293.15 + 10.0
        k, rho = float(table.conductivity(film)), float(table.density(film))
        prandtl, reynolds = float(table.prandtl(film)), speed * diameter * rho / float(table.viscosity(film))
        by_hand = ribbed_film(reynolds, prandtl, rib / diameter, 10.0, None)
        self.assertTrue(by_hand.inside)
        friction = run.value(Key("pressure_drop", "air")) / 40e-3 * diameter / (0.5 * rho * speed**2)
        # h is on all that is wetted, ribs included.
        nusselt = run.value(Key("h", "air")) * 48.0 / 40.0 * diameter / k
        return friction / by_hand.friction, nusselt / by_hand.nusselt

    def test_friction_and_heat_where_stress_is_free(self) -> None:
        """Webb, Eckert and Goldstein (1971, from memory), within 20 and 15 % (their scatter 15 %), on two grids and of two heights.

        Found: 1.17 and 0.92 of 4 %, 1.05 and 0.92 of 2 %; where stress is limited 0.69 and 0.68, 0.64 and 0.69.
        """
        for half_height, cells in (("25 mm", 4000), ("25 mm", 8000), ("50 mm", 8000)):
            with self.subTest(half_height=half_height, cells=cells):
                friction, nusselt = self.ratios(half_height, cells, "free")
                self.assertAlmostEqual(friction, 1.0, delta=0.20)
                self.assertAlmostEqual(nusselt, 1.0, delta=0.15)

    def test_what_the_limit_does(self) -> None:
        friction, nusselt = self.ratios("25 mm", 4000, "limited")
        self.assertLess(friction, 0.8)
        self.assertLess(nusselt, 0.8)


@tag("slow")
class BackwardStep(unittest.TestCase):
    def test_where_the_stream_comes_back(self) -> None:
        """Driver and Seegmiller (1985, AIAA J. 23, 163; from memory): 6.26 heights behind a step of an eighth of the duct, 8 %."""
        document: dict[str, Any] = {
            "version": 6,
            "title": "backward step",
            "inputs": {
                "step": length("12.7 mm", "height of the step"),
                "velocity": given("velocity", "44.2 m/s", "ahead"),
                "inlet": temperature("20 °C", "of the air"),
            },
            "section": {
                "extent": "flat",
                "depth": "1 m",
                "parts": [
                    rectangle("air", "air", "-84*step", "0 m", "134*step", "9*step"),
                    rectangle("block", "void", "-84*step", "0 m", "84*step", "step"),
                ],
            },
            "conditions": [
                inlet("air, left", "inlet", velocity="velocity"),
                outlet("air, right"),
                wall("air, bottom", "air, block top", "air, block right", "air, top"),
            ],
            "physics": {"flow": "turbulent"},
            "grid": {"fineness": 0.5},
        }
        run = solve_case(read_case(document))
        self.assertTrue(run.solution.converged)
        assert run.field is not None
        grid = run.field.problem.grid
        group = grid.groups["air, bottom"]
        order = np.argsort(grid.face_centre[group][:, 0])
        place = grid.face_centre[group][order, 0] / STEP
        speed = run.solution.state.velocity[grid.owner[group][order], 0]
        last = int(np.nonzero((speed[:-1] < 0.0) & (speed[1:] > 0.0))[0][-1])
        back = place[last] - speed[last] * (place[last + 1] - place[last]) / (speed[last + 1] - speed[last])
        self.assertAlmostEqual(float(back) / 6.26, 1.0, delta=0.08)
