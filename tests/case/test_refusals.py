"""What a user can enter wrongly: every refusal names the field, what was entered, and a remedy."""

from __future__ import annotations

import copy
import unittest
from typing import Any

from tests.sections import circle, held, part, rectangle, wall
from tests.support import with_entry
from wattikos_core.case import read_case, resolve
from wattikos_core.errors import CaseError, InputProblem

BASE: dict[str, Any] = {
    "title": "refusals",
    "inputs": {"width": {"value": "40 mm"}},
    "section": {
        "extent": "flat",
        "depth": "1 m",
        "parts": [
            rectangle("water", "own", "0 m", "0 m", "width", "10 mm"),
            rectangle("plate", "iron", "0 m", "10 mm", "width", "5 mm"),
            circle("rod", "copper", "20 mm", "5 mm", "2 mm"),
        ],
    },
    "materials": {"own": {"base": "water"}},
    "tables": {"course": {"unit": "s", "value_unit": "degC", "rows": [[0.0, 20.0], [60.0, 30.0]]}},
    "conditions": [
        {"type": "inlet", "boundaries": ["water, left"], "velocity": "1 mm/s", "temperature": "20 °C"},
        {"type": "outlet", "boundaries": ["water, right"]},
        wall("water, bottom"),
        held("plate, top", at="40 °C"),
    ],
}

# Where in the document, what is put there, the field that is named, and what the text must say.
WRONG: tuple[tuple[tuple[Any, ...], Any, str, str], ...] = (
    (("inputs", "width", "value"), "40 kg", "inputs.width", "'40 kg'"),
    (("inputs", "width", "value"), "40", "inputs.width", "40 has no unit"),
    (("section", "parts", 0, "shape", "width"), "0 mm", "section.parts[0].shape.width", "'0 mm'"),
    (("section", "parts", 0, "shape", "width"), "widht", "section.parts[0].shape.width", "widht"),
    (("section", "parts", 0, "name"), "water, cold", "section.parts[0].name", "'water, cold'"),
    (("section", "parts", 1, "name"), "water", "section.parts[1].name", "'water' is used twice"),
    (("section", "parts", 1, "material"), "unobtainium", "section.parts[1].material", "'unobtainium'"),
    (("section", "parts", 0, "angular_velocity"), "10 rad/s", "section.parts[0].angular_velocity", "'water' is no solid"),
    (("section", "parts", 1, "angle"), "90", "section.parts[1].angle", "'90' is more than a full turn"),
    (("section", "parts", 1, "angle"), "30 rad", "section.parts[1].angle", "'30 rad' is more than a full turn"),
    (("section", "parts", 1, "heat"), "5 kg", "section.parts[1].heat", "'5 kg'"),
    (
        ("section", "parts", 1, "repeat"),
        {"pattern": "line", "count": "2.5", "dy": "20 mm"},
        "section.parts[1].repeat.count",
        "'2.5'",
    ),
    (
        ("section", "parts", 1, "repeat"),
        {"pattern": "line", "count": "900", "dy": "20 mm"},
        "section.parts[1].repeat.count",
        "'900'",
    ),
    (
        ("section", "parts", 2, "shape"),
        {"type": "ring", "x": "20 mm", "y": "5 mm", "outer_diameter": "2 mm", "inner_diameter": "3 mm"},
        "section.parts[2].shape.inner_diameter",
        "'3 mm'",
    ),
    (
        ("section", "parts", 2, "shape"),
        {"type": "blade", "x": "9 mm", "y": "5 mm", "chord": "9 mm", "thickness": "0.9"},
        "section.parts[2].shape.thickness",
        "'0.9'",
    ),
    (("materials", "own", "density"), "-1 kg/m^3", "materials.own.density", "'-1 kg/m^3'"),
    (("materials", "own", "pressure"), "1 m", "materials.own.pressure", "'1 m' is a length"),
    (("materials", "own", "conductivity_y"), "1 W/m/K", "materials.own.conductivity_y", "fluid conducts alike"),
    (("materials", "own", "latent_heat"), "200 kJ/kg", "materials.own.melts_from", "does not melt"),
    (("materials", "own"), {"base": "iron", "viscosity": "1 Pa*s"}, "materials.own.viscosity", "solid has no viscosity"),
    (("materials", "own"), {"base": "lauric_acid", "melts_to": "40 degC"}, "materials.own.melts_to", "'40 degC'"),
    (("conditions", 0, "velocity"), "-1 mm/s", "conditions[0].velocity", "'-1 mm/s'"),
    (("conditions", 0, "mass_flow"), "1 g/s", "conditions[0].velocity", "both a mass flow and a velocity ('1 mm/s')"),
    (("conditions", 0, "temperature"), "20 s", "conditions[0].temperature", "'20 s'"),
    (("conditions", 0, "temperature"), "-300 degC", "conditions[0].temperature", "below absolute zero"),
    (("conditions", 0, "mass_flow"), "1 g/s * x/width", "conditions[0].mass_flow", "depends on the place"),
    (("conditions", 0, "temperature"), "", "conditions[0].temperature", "nothing is entered"),
    (("conditions", 1, "pressure"), "2 K", "conditions[1].pressure", "'2 K'"),
    (("conditions", 3, "temperature"), "20 degC + time * 1 K/s", "conditions[3].temperature", "depends on the time"),
    (("conditions", 3, "temperature"), "course(2 m)", "conditions[3].temperature", "a value of another kind"),
    (
        ("conditions", 3),
        wall("plate, top", thermal="convection", heat_transfer_coefficient="-5 W/m^2/K", ambient_temperature="20 °C"),
        "conditions[3].heat_transfer_coefficient",
        "'-5 W/m^2/K'",
    ),
    (
        ("conditions", 3),
        wall("plate, top", thermal="radiation", emissivity="1.2", surroundings_temperature="20 °C"),
        "conditions[3].emissivity",
        "'1.2'",
    ),
    (("conditions", 3), wall("plate, top", centre=["1 mm"]), "conditions[3].centre", "1 number"),
    (("conditions", 3), wall("plate, top", thermal="heat_rate", heat_rate="5 W/m^2"), "conditions[3].heat_rate", "'5 W/m^2'"),
    (("contacts",), [{"between": ["water", "steel"], "resistance": "1e-4 m^2*K/W"}], "contacts[0].between", "'steel'"),
    (("contacts",), [{"between": ["water", "plate"], "resistance": "-1 m^2*K/W"}], "contacts[0].resistance", "'-1 m^2*K/W'"),
    (("grid",), {"local": [{"box": ["0 m", "1 mm"], "fineness": 2.0}]}, "grid.local[0]", "four numbers"),
    (("physics",), {"gravity_x": "9.81 m"}, "physics.gravity_x", "'9.81 m'"),
    (("physics",), {"mush_constant": "0 kg/m^3/s"}, "physics.mush_constant", "'0 kg/m^3/s'"),
)


def problems_of(document: dict[str, Any]) -> list[InputProblem]:
    try:
        resolve(read_case(document))
    except CaseError as error:
        return list(error.problems)
    return []


class Refusals(unittest.TestCase):
    def test_the_case_itself_is_fine(self) -> None:
        self.assertEqual(problems_of(BASE), [])

    def test_each_names_the_field_what_was_entered_and_a_remedy(self) -> None:
        for where, value, field, text in WRONG:
            with self.subTest(field=field, value=value):
                found = problems_of(with_entry(BASE, where, value))
                mine = [problem for problem in found if problem.field == field]
                self.assertTrue(mine, [str(problem) for problem in found])
                self.assertIn(text, mine[0].problem)
                self.assertGreater(len(mine[0].remedy), 5)

    def test_across_the_axis_nothing_can_pull(self) -> None:
        document = with_entry(BASE, ("physics",), {"gravity_y": "-9.81 m/s^2"})
        document["section"]["extent"] = "axisymmetric"
        self.assertEqual([p.field for p in problems_of(document)], ["physics.gravity_y"])

    def test_below_the_axis_nothing_can_lie(self) -> None:
        document = with_entry(BASE, ("section", "parts", 0, "shape", "y"), "-1 mm")
        document["section"]["extent"] = "axisymmetric"
        self.assertIn("section.parts[0].shape.y", {p.field for p in problems_of(document)})

    def test_a_copy_must_not_be_called_like_another_part(self) -> None:
        document = copy.deepcopy(BASE)
        document["section"]["parts"][2]["repeat"] = {"pattern": "line", "count": "2", "dx": "5 mm"}
        document["section"]["parts"].append(part("rod 2", "copper", "circle", "30 mm", "5 mm", diameter="2 mm"))
        found = problems_of(document)
        self.assertIn("'rod 2'", " ".join(p.problem for p in found))

    def test_one_mistake_on_several_boundaries_is_said_once(self) -> None:
        document = with_entry(BASE, ("conditions", 3), held("plate, top", "plate, left", "plate, right", at="40 s"))
        self.assertEqual(len(problems_of(document)), 1)
