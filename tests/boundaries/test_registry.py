"""Every kind of boundary is whole: what its form on the desk writes can be read, and stands on the drawing as it was written."""

from __future__ import annotations

import json
import unittest
from collections.abc import Iterator
from typing import Any

from pydantic import TypeAdapter

from tests.sections import held, rectangle, section_case
from wattikos_core.boundaries import BOUNDARY_KINDS
from wattikos_core.boundaries.forms import Form, Option
from wattikos_core.boundaries.registry import Condition, kind_of
from wattikos_core.case import read_case
from wattikos_core.section.sketch import sketch_of
from wattikos_core.studies import draft


def fresh(form: Form, option: Option) -> dict[str, Any]:
    """What the desk writes when a condition is chosen."""
    ends = {"boundaries": ["water, left"], "downstream": ["water, right"]}
    stands = ends if form.stands_on == "ends" else {"boundaries": ["water, left"]}
    return {"type": form.type} | stands | dict(option.gives)


def holds(condition: dict[str, Any], when: dict[str, list[str]]) -> bool:
    return all((condition[name] != "") if "*" in values else str(condition[name]) in values for name, values in when.items())


def duct_on_a_plate() -> dict[str, Any]:
    """Water over a plate; the ends of both are open."""
    document: dict[str, Any] = section_case(
        rectangle("plate", "copper", "0 m", "0 m", "40 mm", "5 mm"),
        rectangle("water", "water", "0 m", "5 mm", "40 mm", "10 mm"),
        conditions=[held("water, top", at="50 °C")],
    ).model_dump(mode="json")
    return document


class Registry(unittest.TestCase):
    def options(self) -> Iterator[tuple[str, Form, Option]]:
        for name, kind in BOUNDARY_KINDS.items():
            for option in kind.form().options:
                yield name, kind.form(), option

    def test_forms_speak_of_fields_that_exist(self) -> None:
        for name, kind in BOUNDARY_KINDS.items():
            known = set(kind.model.model_fields)
            form = kind.form()
            self.assertEqual((form.type, kind.type), (name, name))
            for field in form.fields:
                named = {*field.shown, field.material} - {""}
                named |= {field.field} if field.control not in ("choice", "hint") else set()
                for option in field.options:
                    named |= {*option.when, *option.gives}
                self.assertLessEqual(named, known, f"{name}: {field.label}")
            for option in form.options:
                self.assertLessEqual({*option.when, *option.gives}, known, f"{name}: {option.label}")

    def test_what_is_chosen_is_read_as_what_was_chosen(self) -> None:
        for name, form, option in self.options():
            with self.subTest(kind=name, option=option.value):
                condition = TypeAdapter(Condition).validate_python(fresh(form, option))
                self.assertIs(kind_of(condition), BOUNDARY_KINDS[name])
                held = json.loads(condition.model_dump_json())
                of_all = [o.value for _, _, o in self.options() if holds_of(held, o)]
                self.assertEqual(of_all, [option.value])

    def test_what_is_chosen_stands_on_the_drawing(self) -> None:
        base = duct_on_a_plate()
        for name, form, option in self.options():
            with self.subTest(kind=name, option=option.value):
                found = draft(read_case(base | {"conditions": [*base["conditions"], fresh(form, option)]}))
                assert found.resolved is not None
                assert found.section is not None
                flags = {b["name"]: b["flag"] for b in sketch_of(found.resolved, found.section)["boundaries"]}
                self.assertTrue(flags["water, left"], found.problems)

    def test_streams_on_solids_are_refused(self) -> None:
        base = duct_on_a_plate()
        for name in ("inlet", "outlet"):
            option = BOUNDARY_KINDS[name].form().options[0]
            condition = {"type": name, "boundaries": ["plate, bottom"]} | dict(option.gives)
            problems = draft(read_case(base | {"conditions": [condition]})).problems
            self.assertIn("'plate, bottom' belongs to a solid", [problem.problem for problem in problems])


def holds_of(held: dict[str, Any], option: Option) -> bool:
    """Whether an option is the one that a condition counts as; fields it does not have speak of another kind."""
    return bool(option.when) and set(option.when) <= set(held) and holds(held, option.when)


if __name__ == "__main__":
    unittest.main()
