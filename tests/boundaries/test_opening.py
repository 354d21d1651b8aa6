"""Openings to surroundings: what is given there, what is refused, and which way a stream is told to go."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from tests.sections import Document, rectangle, section_case
from wattikos_core.case import Case, resolve
from wattikos_core.errors import CaseError
from wattikos_core.grid import grid_section
from wattikos_core.physics import problem_of
from wattikos_core.section import paint
from wattikos_core.section.sketch import sketch_of
from wattikos_core.studies import prepare, solve_case


def duct(*, turned: bool = False, material: str = "air", **more: Any) -> Case:
    fan: Document = {"type": "fan", "rise": "0.2 Pa", "turned": turned}
    parts = [
        rectangle("duct", material, "0 m", "0 m", "100 mm", "20 mm"),
        rectangle("fan", "air", "50 mm", "0 m", "8 mm", "20 mm", internal=fan),
    ]
    around = [f"{name}, {side}" for name in ("duct", "fan") for side in ("top", "bottom")]
    conditions: list[Document] = [
        {"type": "opening", "boundaries": ["duct, left"], "temperature": "20 °C", **more},
        {"type": "opening", "boundaries": ["duct, right"], "temperature": "30 °C"},
        {"type": "symmetry", "boundaries": around},
    ]
    return section_case(*parts, conditions=conditions, fineness=0.5)


class Openings(unittest.TestCase):
    def test_a_stream_has_the_temperature_of_the_side_it_comes_from(self) -> None:
        for turned, temperature in ((False, 293.15), (True, 303.15)):
            with self.subTest(turned=turned):
                run = solve_case(duct(turned=turned))
                self.assertTrue(run.solution.converged)
                self.assertAlmostEqual(float(run.solution.state.stretched.mean()), temperature, delta=0.05)
                self.assertAlmostEqual(run.value("duct outlet temperature"), temperature, delta=0.05)

    def test_still_surroundings_feed_what_stirs_a_little(self) -> None:
        """By a tenth of the speed that enters elsewhere: k = 1.5 (0.04 · 0.1 · 5 m/s)² at an intensity of 4 %, ω by its eddies."""
        space = rectangle("space", "air", "0 m", "0 m", "0.4 m", "0.2 m")
        conditions = [
            {"type": "inlet", "boundaries": ["space, left"], "velocity": "5 m/s", "temperature": "20 °C"},
            {"type": "outlet", "boundaries": ["space, right"]},
            {
                "type": "opening",
                "boundaries": ["space, top"],
                "temperature": "20 °C",
                "turbulence_intensity": "0.04",
                "eddy_size": "10 mm",
            },
        ]
        resolved = resolve(section_case(space, conditions=conditions, physics={"flow": "turbulent"}, fineness=0.5))
        problem = problem_of(resolved, grid_section(resolved, paint(resolved), 0.5))
        entering = problem.given.turbulence[problem.grid.groups["space, top"]]
        energy = 1.5 * (0.04 * 0.1 * 5.0) ** 2
        np.testing.assert_allclose(entering[:, 0], energy, rtol=1e-6)
        np.testing.assert_allclose(1.0 / (0.09 * entering[:, 1] ** 2), np.sqrt(energy) / (0.09**0.25 * 0.01), rtol=1e-6)

    def test_its_flag(self) -> None:
        resolved = resolve(duct(pressure="3 Pa"))
        flags = {b["name"]: (b["kind"], b["flag"]) for b in sketch_of(resolved, paint(resolved))["boundaries"]}
        self.assertEqual(flags["duct, left"], ("opening", "open · 20 °C · 3 Pa"))
        self.assertEqual(flags["duct, right"], ("opening", "open · 30 °C"))

    def test_what_is_refused(self) -> None:
        for case, words in (
            (duct(material="copper"), "belongs to a solid"),
            (duct(turbulence_intensity="0"), "'0' is 0"),
            (duct(temperature="20 K"), "is outside the range of Air"),
        ):
            with self.subTest(words), self.assertRaises(CaseError) as caught:
                prepare(case)
            self.assertIn(words, " ".join(p.problem for p in caught.exception.problems))
