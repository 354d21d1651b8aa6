"""A fan put on the end of a stream: where it stands, which way it blows, and what it moves."""

from __future__ import annotations

import math
import unittest
from typing import Any

from tests.sections import rectangle, section_case
from wattikos_core.case import Case, edited, read_case
from wattikos_core.errors import CaseError
from wattikos_core.internals import Fan
from wattikos_core.ledger import Key
from wattikos_core.studies import draft, solve_case

AIR = {"gas": {"base": "air", "density": "1.2 kg/m^3", "specific_heat": "1000 J/kg/K", "conductivity": "0.03 W/m/K"}}


def room(*conditions: dict[str, Any]) -> Case:
    """A room with two ends on its left and one on its right."""
    part = rectangle("room", "gas", "1 m", "0 m", "3 m", "2 m")
    part["shape"]["divided"] = {"left": ["0.5 m", "1.5 m"]}
    return section_case(part, conditions=list(conditions), materials=AIR)


def opening(*boundaries: str, kind: str = "opening", **values: str) -> dict[str, Any]:
    return {"type": kind, "boundaries": list(boundaries), "temperature": "20 °C", **values}


class Put(unittest.TestCase):
    def test_on_a_piece_of_a_side(self) -> None:
        """Outside of it, over all of it, three tenths as thick; the condition and what asks for the place follow."""
        case = room(opening("room, left 2", "room, right"))
        case = read_case({**case.model_dump(mode="json"), "watches": [{"quantity": "heat_out", "place": "room, left 2"}]})
        new, also = edited(case, "put_fan", "room, left 2")
        found = draft(new)
        self.assertEqual(found.problems, [])
        assert found.resolved is not None
        fan = found.resolved.part("fan")
        self.assertAlmostEqual(fan.width, 0.3)
        self.assertAlmostEqual(fan.height, 1.0)
        assert found.section is not None
        (ring,) = found.section.rings["fan"]
        self.assertEqual([round(float(x), 9) for x in (*ring.min(axis=0), *ring.max(axis=0))], [0.7, 0.5, 1.0, 1.5])
        self.assertEqual([c.boundaries for c in new.conditions], [["fan, left"], ["room, right"], ["fan, bottom", "fan, top"]])
        self.assertEqual(new.watches, [Key("heat_out", "fan, left")])
        self.assertEqual(also, ["what stood on 'room, left 2' stands on 'fan, left'"])
        self.assertEqual(case.conditions[0].boundaries, ["room, left 2", "room, right"])

    def test_which_way_it_blows(self) -> None:
        """In at inlets, out at outlets; at openings along x and y, as fans do."""
        for kind, left, right in (("opening", False, False), ("inlet", False, True), ("outlet", True, False)):
            for side, turned in (("room, left 1", left), ("room, right", right)):
                end = opening(side, kind=kind, **({"mass_flow": "1 kg/s"} if kind == "inlet" else {}))
                end |= {"temperature": "20 °C"} if kind != "outlet" else {}
                if kind == "outlet":
                    end.pop("temperature")
                new, also = edited(room(end), "put_fan", side)
                internal = new.section.parts[1].internal
                assert isinstance(internal, Fan)
                self.assertEqual(internal.turned, turned, (kind, side))
                # A mass flow beside a fan would be one too many.
                self.assertEqual(new.conditions[0].type, "opening" if kind == "inlet" else kind)
                self.assertEqual(any("the fan decides" in line for line in also), kind == "inlet")

    def test_what_it_does_not_stand_on(self) -> None:
        walls = {"type": "wall", "boundaries": ["room, right"]}
        for case, place in ((room(walls), "room, right"), (room(opening("room, right")), "room, top")):
            with self.assertRaises(CaseError) as refused:
                edited(case, "put_fan", place)
            self.assertIn("give it an opening", str(refused.exception))
        aslant = room(opening("room, right"))
        aslant.section.parts[0].angle = "10 deg"
        with self.assertRaises(CaseError) as refused:
            edited(aslant, "put_fan", "room, right")
        self.assertIn("a thin rectangle across the stream", str(refused.exception))

    def test_about_an_axis_it_has_one_rim(self) -> None:
        for inner, rims in (("0 m", ["fan, top"]), ("10 mm", ["fan, bottom", "fan, top"])):
            duct = rectangle("duct", "gas", "0 m", inner, "200 mm", "50 mm")
            case = section_case(duct, conditions=[opening("duct, right")], materials=AIR, axisymmetric=True)
            new, _ = edited(case, "put_fan", "duct, right")
            self.assertEqual(new.conditions[-1].boundaries, rims)
            self.assertFalse([one for one in draft(new).problems if "'fan" in one.problem])

    def test_what_entered_turning_turns_behind_the_fan(self) -> None:
        duct = rectangle("duct", "gas", "0 m", "0 m", "200 mm", "50 mm")
        turning = opening("duct, left", kind="inlet", velocity="2 m/s", angular_velocity="300 rpm")
        out = {"type": "outlet", "boundaries": ["duct, right"]}
        case = section_case(duct, conditions=[turning, out], materials=AIR, axisymmetric=True)
        new, _ = edited(case, "put_fan", "duct, left")
        found = draft(new)
        self.assertEqual(found.problems, [])
        assert found.resolved is not None
        internal = new.section.parts[1].internal
        assert isinstance(internal, Fan)
        self.assertEqual((internal.swirl, internal.turned), ("300 rpm", False))

    def test_it_stands_before_the_condition_that_holds(self) -> None:
        """The last one given, as with paint."""
        case = room(opening("room, right", "room, left 1", kind="inlet", velocity="1 m/s"), opening("room, right"))
        new, also = edited(case, "put_fan", "room, right")
        self.assertEqual([c.type for c in new.conditions if "fan, right" in c.boundaries], ["opening"])
        self.assertFalse(any("the fan decides" in line for line in also))

    def test_two_fans_have_two_names(self) -> None:
        case, _ = edited(room(opening("room, left 1"), opening("room, right")), "put_fan", "room, right")
        case, _ = edited(case, "put_fan", "room, left 1")
        self.assertEqual([part.name for part in case.section.parts], ["room", "fan", "fan 2"])


class Solved(unittest.TestCase):
    def test_air_from_rest_leaves_as_fast_as_the_rise_drives_it(self) -> None:
        """√(2Δp/ρ) between sides that slide, drawn in or blown in; the stream keeps the name of its duct."""
        for side in ("left", "right"):
            duct = rectangle("duct", "gas", "0 m", "0 m", "200 mm", "50 mm")
            slip = {"type": "symmetry", "boundaries": ["duct, top", "duct, bottom"]}
            case = section_case(duct, conditions=[opening("duct, left", "duct, right"), slip], materials=AIR)
            run = solve_case(edited(case, "put_fan", f"duct, {side}")[0])
            self.assertTrue(run.solution.converged)
            flow = run.value(Key("flow_through", "fan"))
            self.assertAlmostEqual(flow / (0.05 * math.sqrt(2.0 * 50.0 / 1.2)), 1.0, delta=2e-3)
            self.assertAlmostEqual(run.value("duct outlet temperature"), 293.15, places=6)


if __name__ == "__main__":
    unittest.main()
