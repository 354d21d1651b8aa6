"""Sections: painting, names that survive, bad geometry in words, conditions that fit."""

from __future__ import annotations

import json
import unittest
from typing import Any

import numpy as np

from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.section import check_conditions, open_boundaries, paint
from wattikos_core.section.sketch import sketch_of


def starter(**inputs: str) -> dict[str, Any]:
    data = json.loads(starter_case("plate_passage").model_dump_json())
    for name, value in inputs.items():
        data["inputs"][name]["value"] = value
    return data


def rectangle(name: str, x: str, y: str, w: str, h: str, material: str = "copper") -> dict[str, Any]:
    return {"name": name, "material": material, "shape": {"type": "rectangle", "x": x, "y": y, "width": w, "height": h}}


def section_of(*parts: dict[str, Any]) -> Any:
    return paint(resolve(read_case({"title": "t", "inputs": {}, "section": {"parts": list(parts)}})))


class Painting(unittest.TestCase):
    def test_names_and_lengths(self) -> None:
        section = paint(resolve(read_case(starter())))
        self.assertEqual({b.name for b in section.boundaries.values() if b.interface}, {"cold | plate", "plate | hot"})
        self.assertAlmostEqual(section.boundaries["hot, top"].length, 0.6)
        self.assertAlmostEqual(section.boundaries["plate, left"].length, 0.0006)

    def test_names_survive_a_change_of_inputs(self) -> None:
        before = paint(resolve(read_case(starter())))
        after = paint(resolve(read_case(starter(length="2 m", plate="3 mm", hot_height="0.2 in"))))
        self.assertEqual(set(before.boundaries), set(after.boundaries))

    def test_end_walls_turn_edges_into_interfaces(self) -> None:
        section = paint(resolve(read_case(starter(end_walls="1"))))
        self.assertIn("hot | hot end wall", section.boundaries)
        self.assertNotIn("hot, top", section.boundaries)

    def test_later_parts_cover_earlier_ones(self) -> None:
        section = section_of(
            rectangle("block", "0 m", "0 m", "4 mm", "4 mm"), rectangle("core", "1 mm", "1 mm", "2 mm", "2 mm", "pvc")
        )
        areas = np.outer(np.diff(section.tensor.y), np.diff(section.tensor.x))
        self.assertAlmostEqual(float(areas[section.tensor.label == 0].sum()), 12e-6)
        self.assertAlmostEqual(section.boundaries["block | core"].length, 8e-3)
        self.assertEqual(len(section.outlines()["block"]), 2)

    def test_bad_geometry_is_told_in_words(self) -> None:
        with self.assertRaises(CaseError) as caught:
            section_of(rectangle("a", "0 m", "0 m", "1 mm", "1 mm"), rectangle("b", "-1 mm", "-1 mm", "9 mm", "9 mm"))
        self.assertIn("nothing of 'a' is left", str(caught.exception))
        with self.assertRaises(CaseError) as caught:
            section_of(rectangle("a", "0 m", "0 m", "1 m", "1 m"), rectangle("b", "1.000001 m", "0 m", "1 m", "1 m"))
        self.assertIn("apart", str(caught.exception))

    def test_two_fluids_must_not_touch(self) -> None:
        with self.assertRaises(CaseError) as caught:
            section_of(rectangle("a", "0 m", "0 m", "1 m", "1 m", "water"), rectangle("b", "1 m", "0 m", "1 m", "1 m", "air"))
        self.assertIn("a | b", str(caught.exception))


class Conditions(unittest.TestCase):
    def problems(self, data: dict[str, Any]) -> str:
        resolved = resolve(read_case(data))
        with self.assertRaises(CaseError) as caught:
            check_conditions(resolved, paint(resolved))
        return str(caught.exception)

    def test_the_starter_fits_with_and_without_end_walls(self) -> None:
        for switch in ("0", "1"):
            resolved = resolve(read_case(starter(end_walls=switch)))
            section = paint(resolved)
            check_conditions(resolved, section)
            self.assertEqual(open_boundaries(resolved, section), [])

    def test_an_unknown_boundary_gets_a_suggestion(self) -> None:
        data = starter()
        data["conditions"][0]["boundaries"] = ["hot, lfet"]
        self.assertIn("did you mean 'hot, left'", self.problems(data))

    def test_flow_needs_a_way_out(self) -> None:
        data = starter()
        del data["conditions"][1]
        self.assertIn("cannot leave", self.problems(data))

    def test_no_inlet_on_a_solid_and_nothing_between_parts(self) -> None:
        data = starter()
        data["conditions"][0]["boundaries"] = ["plate, left"]
        self.assertIn("two conditions", self.problems(data))
        data["conditions"][5]["boundaries"] = ["plate, right"]
        self.assertIn("solid", self.problems(data))
        data["conditions"][0]["boundaries"] = ["plate | hot"]
        self.assertIn("between two parts", self.problems(data))

    def test_open_boundaries_are_listed(self) -> None:
        data = starter()
        data["conditions"] = data["conditions"][:4]
        resolved = resolve(read_case(data))
        self.assertEqual(
            set(open_boundaries(resolved, paint(resolved))), {"hot, top", "cold, bottom", "plate, left", "plate, right"}
        )


class Flags(unittest.TestCase):
    """What stands on the boundaries of the drawing."""

    @staticmethod
    def flag(boundary: str, **changes: str) -> str:
        case = starter_case("cross_flow")
        for name, value in changes.items():
            case.inputs[name].value = value
        resolved = resolve(case)
        boundaries = sketch_of(resolved, paint(resolved))["boundaries"]
        return next(str(b["flag"]) for b in boundaries if b["name"] == boundary)

    def test_a_value_reads_in_a_unit_that_suits_it(self) -> None:
        """The input is shown in mm/s, and was typed in m/s."""
        self.assertEqual(self.flag("stream, left", velocity="9 mm/s"), "9 mm/s · 18 °C")
        self.assertEqual(self.flag("stream, left", velocity="100 m/s"), "100 m/s · 18 °C")
        self.assertEqual(self.flag("stream, left", velocity="2000*diameter/(1 s) + 92 m/s"), "100 m/s · 18 °C")

    def test_what_varies_shows_its_range(self) -> None:
        """0 in the corners, 12 mm/s in the middle; and in time 18 to 38 °C."""
        case = starter_case("cross_flow")
        case.conditions[0] = case.conditions[0].model_copy(
            update={"velocity": "12 mm/s*(1 - (2*y/breadth)**2)", "temperature": "18 degC + 20 K*time/(10 s)"}
        )
        case.physics.regime = "time"
        case.time.end = "10 s"
        resolved = resolve(case)
        boundaries = sketch_of(resolved, paint(resolved))["boundaries"]
        flag = next(b["flag"] for b in boundaries if b["name"] == "stream, left")
        self.assertRegex(flag, r"^0 to 0\.01[12]\d* m/s · 18 to 38 °C$")
