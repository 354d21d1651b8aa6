"""The case document: reading, schema, inputs and their order, problems with field, value and remedy."""

from __future__ import annotations

import json
import unittest
from typing import Any

from wattikos_core.case import STARTERS, case_from_json, evaluate_inputs, input_order, json_schema, read_case, resolve, starter_case
from wattikos_core.errors import CaseError


def document(**inputs: str) -> dict[str, Any]:
    data = json.loads(starter_case("plate_passage").model_dump_json())
    for name, value in inputs.items():
        data["inputs"][name] = (
            {"value": value, "kind": "length"} if name not in data["inputs"] else {**data["inputs"][name], "value": value}
        )
    return data


class Reading(unittest.TestCase):
    def test_there_and_back(self) -> None:
        case = starter_case("plate_passage")
        self.assertEqual(case_from_json(case.model_dump_json()), case)

    def test_every_starter_resolves(self) -> None:
        for key in set(STARTERS) - {"empty"}:
            self.assertTrue(resolve(starter_case(key)).parts)

    def test_schema_names_the_version(self) -> None:
        self.assertIn("version", json_schema()["properties"])

    def test_structure_errors_name_the_field(self) -> None:
        data = document()
        data["section"]["parts"][0]["shape"]["widht"] = "1 m"
        with self.assertRaises(CaseError) as caught:
            read_case(data)
        self.assertIn("widht", caught.exception.problems[0].field)

    def test_refuses_what_is_no_case(self) -> None:
        for text in ("[]", "{", '{"version": 99}', '{"version": []}', '{"version": {}}', '{"title": "x"}'):
            with self.subTest(text), self.assertRaises(CaseError):
                case_from_json(text)


class Inputs(unittest.TestCase):
    def test_dependency_order(self) -> None:
        data = document(length="2*half", half="quarter*2", quarter="3 mm")
        self.assertLess(input_order(read_case(data)).index("quarter"), input_order(read_case(data)).index("half"))
        values, problems = evaluate_inputs(read_case(data))
        self.assertEqual(problems, [])
        self.assertAlmostEqual(values["length"].magnitude, 0.012)

    def test_a_circle_is_named(self) -> None:
        with self.assertRaises(CaseError) as caught:
            input_order(read_case(document(length="one + 1 mm", one="2*other", other="length")))
        self.assertIn("length → one → other → length", str(caught.exception))

    def test_names_that_cannot_be(self) -> None:
        for name in ("mm", "2nd", "a b"):
            _, problems = evaluate_inputs(read_case(document(**{name: "1 mm"})))
            self.assertTrue(any(p.field == f"inputs.{name}" for p in problems), name)

    def test_a_follow_up_error_points_to_its_cause(self) -> None:
        _, problems = evaluate_inputs(read_case(document(length="2*half", half="oops")))
        self.assertEqual({p.field for p in problems}, {"inputs.length", "inputs.half"})
        self.assertIn("correct half first", next(p.remedy for p in problems if p.field == "inputs.length"))

    def test_negative_temperature_in_kelvin(self) -> None:
        data = document()
        data["inputs"]["cold_inlet"]["value"] = "-12 K"
        with self.assertRaises(CaseError) as caught:
            resolve(read_case(data))
        self.assertIn("did you mean -12 °C?", str(caught.exception))


class Resolving(unittest.TestCase):
    def test_all_problems_at_once(self) -> None:
        data = document(hot_height="-1 mm", plate="0 mm")
        data["section"]["parts"][1]["material"] = "unobtainium"
        with self.assertRaises(CaseError) as caught:
            resolve(read_case(data))
        fields = {p.field for p in caught.exception.problems}
        self.assertTrue({"inputs.plate", "inputs.hot_height", "section.parts[1].material"} <= fields)

    def test_parts_can_be_switched(self) -> None:
        off = resolve(read_case(document()))
        self.assertEqual(len(off.parts), 3)
        self.assertEqual(len(off.absent), 2)
        data = document()
        data["inputs"]["end_walls"]["value"] = "1"
        self.assertEqual(len(resolve(read_case(data)).parts), 5)

    def test_mass_flow_and_velocity_together_are_refused(self) -> None:
        data = document()
        data["conditions"][0]["velocity"] = "1 m/s"
        with self.assertRaises(CaseError):
            resolve(read_case(data))

    def test_names_must_differ(self) -> None:
        data = document()
        data["section"]["parts"][1]["name"] = "hot"
        with self.assertRaises(CaseError) as caught:
            resolve(read_case(data))
        self.assertIn("used twice", str(caught.exception))
