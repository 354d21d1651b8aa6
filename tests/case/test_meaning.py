"""A solution belongs to a case by its meaning; what was changed is told in words."""

from __future__ import annotations

import json
import unittest
from typing import Any

from wattikos_core.case import STARTERS, Case, changed_between, differences, read_case, starter_case
from wattikos_core.case.document import Input, Part
from wattikos_core.case.shapes import Rectangle


class Meaning(unittest.TestCase):
    case = starter_case("plate_passage")

    def changed(self, **inputs: str) -> list[str]:
        case = self.case.model_copy(deep=True)
        for name, value in inputs.items():
            case.inputs[name].value = value
        return changed_between(self.case, case)

    def test_how_it_is_written_does_not_matter(self) -> None:
        self.assertEqual(self.changed(length="0.6 m"), [])
        self.assertEqual(self.changed(length="2*300 mm"), [])
        self.assertEqual(self.changed(length="601 mm"), ["length"])

    def test_defaults_that_are_written_out_do_not_matter(self) -> None:
        """What a browser leaves out is what the server fills in."""
        for starter in STARTERS:
            case = starter_case(starter)
            short = case.model_dump(mode="json", exclude_defaults=True)
            for item, whole in zip(short.get("conditions", []), case.conditions, strict=True):
                item["type"] = whole.type
            for item, part in zip(short["section"]["parts"], case.section.parts, strict=True):
                item["shape"]["type"] = part.shape.type
                if part.internal is not None:
                    item["internal"]["type"] = part.internal.type
            short.pop("estimates", None)
            # What is read of a run has no share in its meaning.
            short.pop("reading", None)
            self.assertEqual(changed_between(read_case(short), case), [], starter)

    def test_titles_notes_targets_and_hand_calculations_do_not_matter(self) -> None:
        case = self.case.model_copy(update={"title": "another", "note": "a note", "wanted": [], "watches": []}, deep=True)
        case.inputs["length"].label = "length of the plates"
        case.inputs["length"].unit = "m"
        case.inputs["spare"] = Input(value="3 mm")
        self.assertEqual(changed_between(self.case, case), [])

    def test_names_of_parts_and_materials_do(self) -> None:
        """A part called as an input is a name, not a value."""
        case = self.case.model_copy(deep=True)
        case.inputs["same"] = Input(value=case.inputs["length"].value)
        for name in ("length", "same"):
            case.section.parts[0].name = name
            self.assertEqual(changed_between(self.case, case), ["drawing"])

    def test_a_part_that_was_drawn_by_hand(self) -> None:
        case = self.case.model_copy(deep=True)
        case.section.parts.append(Part(name="block", material="stainless_304", shape=Rectangle(width="1 mm", height="1 mm")))
        self.assertEqual(changed_between(self.case, case), ["drawing"])
        drawn = json.loads(case.model_dump_json())
        drawn["section"]["parts"][-1] = {
            "name": "block",
            "material": "stainless_304",
            "shape": {"type": "rectangle", "width": "1.0 mm", "height": "1 mm"},
        }
        self.assertEqual(changed_between(case, read_case(drawn)), [])

    def test_times_matter_in_time_alone(self) -> None:
        def later(case: Case) -> Case:
            return case.model_copy(update={"time": case.time.model_copy(update={"end": "5 h"})})

        self.assertEqual(changed_between(self.case, later(self.case)), [])
        tank = starter_case("tank")
        self.assertEqual(changed_between(tank, later(tank)), ["times"])

    def test_what_varies_from_place_to_place_keeps_its_words(self) -> None:
        case = self.case.model_copy(deep=True)
        case.section.parts[0].heat = "1 W/m^3 * x / length"
        other = case.model_copy(deep=True)
        self.assertEqual(changed_between(case, other), [])
        other.inputs["length"].value = "0.6 m"
        self.assertEqual(changed_between(case, other), [])
        other.section.parts[0].heat = "1 W/m^3 * y / length"
        self.assertEqual(changed_between(case, other), ["drawing"])


class Differences(unittest.TestCase):
    def told(self, change: Any) -> str:
        then = starter_case("plate_passage").model_dump(mode="json")
        now = json.loads(json.dumps(then))
        change(now)
        return differences(then, now)

    def test_in_words(self) -> None:
        self.assertEqual(self.told(lambda d: None), "")
        self.assertEqual(self.told(lambda d: d["inputs"]["length"].update(value="700 mm")), "length 600 mm → 700 mm")
        self.assertEqual(self.told(lambda d: d["inputs"].pop("length")), "length removed")
        self.assertEqual(self.told(lambda d: d["section"]["parts"].pop(0)).split()[-1], "removed")
        self.assertEqual(self.told(lambda d: d["physics"].update(friction_heat=True)), "physics")
        self.assertIn("condition on", self.told(lambda d: d["conditions"][0].update(mass_flow="9 g/s")))

    def test_anything_may_be_compared(self) -> None:
        self.assertEqual(differences([], {"a": 1}), "another document")
        self.assertIn("part None added", differences({"inputs": 3, "section": []}, {"section": {"parts": [1, {"name": None}]}}))
        self.assertLessEqual(len(differences({}, {"inputs": {f"i{k}" * 90: {"value": "x" * 400} for k in range(50)}})), 300)
