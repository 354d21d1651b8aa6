"""Streams that a pressure drives: by hand the flow follows from it, friction and velocity head included, as in the field."""

from __future__ import annotations

import math
import unittest
from typing import Any

from tests.by_name import hand_of
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.estimate import estimate_case
from wattikos_core.studies import draft, solve_case


def driven(starter: str, pressure: str, kind: str = "total", **changes: Any) -> Any:
    document = starter_case(starter).model_dump(mode="json")
    for condition in document["conditions"]:
        if condition["type"] == "inlet":
            condition |= {"mass_flow": "", "velocity": "", "pressure": pressure, "pressure_is": kind, "profile": "uniform"}
    return read_case(document | changes)


class ByHandAndByField(unittest.TestCase):
    def test_passages_pipes_and_ducts(self) -> None:
        """Reynolds numbers by hand within 5 % of the field; pascals taken for kg/s made 6e6 of them."""
        for starter, kind, streams in (
            ("plate_passage", "total", ("hot", "cold")),
            ("plate_passage", "static", ("hot", "cold")),
            ("feed_line", "total", ("stream",)),
            ("holding_tube", "total", ("product",)),
            ("fin_channel", "total", ("air",)),
        ):
            with self.subTest(starter=starter, kind=kind):
                case = driven(starter, "10 Pa", kind)
                case = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.7 * case.grid.fineness})})
                hand, run = hand_of(resolve(case)), solve_case(case)
                self.assertTrue(run.solution.converged)
                for stream in streams:
                    name = f"{stream} Reynolds number"
                    self.assertAlmostEqual(hand[name].value / run.value(name), 1.0, delta=0.05, msg=name)
                    drop = run.value(f"{stream} pressure drop")
                    self.assertAlmostEqual(hand[f"{stream} pressure drop"].value / drop, 1.0, delta=0.06)

    def test_hagen_and_poiseuille(self) -> None:
        """A static pressure over a long isothermal pipe: Δp = 8 μ L Q/(π R⁴) within the head of its entry."""
        case = driven("feed_line", "0.05 Pa", "static")
        for condition in case.conditions:
            if condition.type == "inlet":
                condition.temperature = "60 degC"
            elif condition.type == "wall":
                # As warm outside as within: nothing changes along the pipe.
                condition.ambient_temperature = condition.surroundings_temperature = "60 degC"
        resolved = resolve(case)
        stream = next(part for part in resolved.parts if part.name == "stream")
        reynolds = hand_of(resolved)["stream Reynolds number"].value
        table = stream.material
        at = 333.15
        density, viscosity = float(table.density(at)), float(table.viscosity(at))
        radius, length = stream.height, stream.width
        flow = math.pi * radius**4 * 0.05 / (8.0 * viscosity * length)
        exact = 2.0 * density * flow / (math.pi * radius * viscosity)
        self.assertAlmostEqual(reynolds / exact, 1.0, delta=0.02)

    def test_where_it_does_not_apply_it_says_so_and_leaves_the_case_alone(self) -> None:
        for starter in ("bundle_staggered", "cross_flow", "double_pipe", "pin_channel"):
            with self.subTest(starter):
                case = driven(starter, "10 Pa")
                found = estimate_case(resolve(case))[0]
                self.assertEqual((found.values, len(found.problems)), ({}, 1))
                self.assertIn("give a mass flow or a velocity", found.problems[0].remedy)
                self.assertEqual(draft(case).problems, [])

    def test_a_pressure_that_drives_nothing_is_told(self) -> None:
        with self.assertRaises(CaseError) as caught:
            hand_of(resolve(driven("feed_line", "0 Pa")))
        self.assertIn("is not above that at", caught.exception.problems[0].problem)
