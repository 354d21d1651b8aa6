"""What is taken out of a document takes along what refers to it; every starter survives the loss of any of its parts and inputs."""

from __future__ import annotations

import json
import unittest

from wattikos_core.case import STARTERS, changed_between, edited, read_case, starter_case
from wattikos_core.case.document import CaseMaterial, Contact, Table
from wattikos_core.errors import CaseError
from wattikos_core.internals import Fan, Porous
from wattikos_core.section.sketch import bare_sketch
from wattikos_core.studies import draft


class Parts(unittest.TestCase):
    def test_a_part_takes_its_conditions_contacts_and_wishes_along(self) -> None:
        case = starter_case("plate_passage")
        case.contacts = [Contact(between=["hot", "plate"], resistance="1e-4 m^2*K/W")]
        new, also = edited(case, "remove_part", "hot")
        text = json.dumps(new.model_dump(mode="json")["conditions"] + new.model_dump(mode="json")["contacts"])
        self.assertNotIn('"hot,', text)
        self.assertEqual(new.contacts, [])
        self.assertIn("the contact of hot and plate", also)
        self.assertTrue(any(word.startswith("the condition on hot, left") for word in also))
        # What stood on two parts stays on the other.
        self.assertIn("cold, bottom", text)
        self.assertEqual(len(case.contacts), 1)

    def test_every_part_of_every_starter_can_go(self) -> None:
        """No condition or contact is left that stands on nothing."""
        for starter in STARTERS:
            case = starter_case(starter)
            for part in case.section.parts:
                with self.subTest(starter=starter, part=part.name):
                    new, _ = edited(case, "remove_part", part.name)
                    found = draft(read_case(json.loads(new.model_dump_json())))
                    told = [p for p in found.problems if "no boundary" in p.problem or "no part" in p.problem]
                    self.assertEqual([p for p in told if part.name in p.problem], [])
                    if new.section.parts:
                        self.assertTrue(found.section is not None or bare_sketch(new, found.problems) is not None or found.problems)

    def test_names_that_begin_alike_are_told_apart(self) -> None:
        case = starter_case("plate_passage")
        case.section.parts[0].name = "plate 2"
        case.conditions[0].boundaries = ["plate 2, left"]
        new, _ = edited(case, "remove_part", "plate")
        self.assertEqual(new.conditions[0].boundaries, ["plate 2, left"])

    def test_there_must_be_one(self) -> None:
        with self.assertRaises(CaseError):
            edited(starter_case("plate_passage"), "remove_part", "none")


class Inputs(unittest.TestCase):
    def test_the_value_stands_in_the_place_of_any_input(self) -> None:
        """The case means what it meant."""
        for starter in STARTERS:
            case = starter_case(starter)
            for name in case.inputs:
                with self.subTest(starter=starter, input=name):
                    new, _ = edited(case, "remove_input", name)
                    self.assertNotIn(name, new.inputs)
                    self.assertEqual(changed_between(case, new), [])
                    self.assertEqual(draft(new).problems, [])

    def test_what_uses_an_input_follows_its_new_name(self) -> None:
        for starter in STARTERS:
            case = starter_case(starter)
            for name in case.inputs:
                new, _ = edited(case, "rename_input", name, "another_name")
                self.assertEqual((changed_between(case, new), draft(new).problems), ([], []), (starter, name))
        with self.assertRaises(CaseError):
            edited(starter_case("plate_passage"), "rename_input", "length", "plate")

    def test_a_part_of_the_same_name_stays(self) -> None:
        case = starter_case("plate_passage")
        self.assertIn("plate", case.inputs)
        new, _ = edited(case, "rename_input", "plate", "thickness")
        self.assertEqual([p.name for p in new.section.parts], [p.name for p in case.section.parts])


class Others(unittest.TestCase):
    def test_a_material_becomes_what_it_was_made_from(self) -> None:
        case = starter_case("plate_passage")
        case.materials["mine"] = CaseMaterial(base="copper", conductivity="300 W/m/K")
        plate = next(part for part in case.section.parts if part.name == "plate")
        plate.material = "mine"
        new, also = edited(case, "remove_material", "mine")
        self.assertEqual(next(part.material for part in new.section.parts if part.name == "plate"), "copper")
        self.assertEqual(also, ["plate is of copper now"])

    def test_what_stands_in_a_stream_goes_along(self) -> None:
        case = starter_case("packed_bed")
        case.materials["mine"] = CaseMaterial(base="glass", conductivity="2 W/m/K")
        case.tables["sheet"] = Table(unit="m/s", value_unit="Pa", rows=[[1.0, 2.0], [2.0, 5.0]])
        bed = next(part for part in case.section.parts if part.name == "grains").internal
        assert isinstance(bed, Porous)
        bed.matrix, bed.table = "mine", "sheet"
        without, also = edited(case, "remove_material", "mine")
        self.assertEqual(also, ["the matrix in grains is of glass now"])
        without, also = edited(without, "remove_table", "sheet")
        self.assertEqual(also, ["what stands in grains has no table now"])
        renamed, _ = edited(starter_case("fan_channel"), "rename_input", "shut_off", "dead_head")
        fan = next(part for part in renamed.section.parts if part.name == "fan").internal
        assert isinstance(fan, Fan)
        self.assertEqual(fan.points[0], ["0 m³/h", "dead_head"])
