"""What stands in a case and a hand calculation has not read is named beside its values, whatever the relation."""

from __future__ import annotations

import json
import unittest
from collections.abc import Callable
from typing import Any

from tests.by_name import hand_of
from tests.support import with_entry
from wattikos_core.case import STARTERS, read_case, resolve, starter_case
from wattikos_core.case.starters.building import quantity
from wattikos_core.estimate import HandValue
from wattikos_core.studies import solve_case

Change = Callable[[dict[str, Any]], None]


def changed(key: str, change: Change, fineness: float = 0.0) -> dict[str, Any]:
    """A starter's document with a change."""
    document: dict[str, Any] = json.loads(starter_case(key).model_dump_json())
    change(document)
    if fineness:
        document["grid"]["fineness"] = fineness
    return document


def by_hand(document: dict[str, Any]) -> dict[str, HandValue]:
    return hand_of(resolve(read_case(document)))


def shell(**values: str) -> Change:
    """A wall on the outer edges of the plate passage."""

    def change(document: dict[str, Any]) -> None:
        document["conditions"] = [c for c in document["conditions"] if "hot, top" not in c["boundaries"]]
        document["conditions"].append({"type": "wall", "boundaries": ["hot, top"], **values})

    return change


class LeftOut(unittest.TestCase):
    def test_starters_account_for_all_they_hold_or_say_what_they_leave_out(self) -> None:
        expected = {
            "vane": "the variation along",
            "cone_gap": "the heat of friction",
            "melting_box": "the weight that stirs fluids",
        }
        for key in STARTERS:
            case = starter_case(key)
            if not case.estimates:
                continue
            left_out = {thing for value in hand_of(resolve(case)).values() for thing in value.leaves_out}
            with self.subTest(starter=key):
                if key in expected:
                    self.assertTrue(any(expected[key] in thing for thing in left_out), left_out)
                else:
                    self.assertEqual(left_out, set())

    def test_whatever_is_added_is_told(self) -> None:
        def source(document: dict[str, Any]) -> None:
            document["section"]["parts"][1]["heat"] = "100 W"

        def anisotropic(document: dict[str, Any]) -> None:
            document["materials"]["mica"] = {"base": "ptfe", "conductivity": "5 W/m/K", "conductivity_y": "0.5 W/m/K"}
            document["section"]["parts"][0]["material"] = "mica"

        def varying(document: dict[str, Any]) -> None:
            outside = next(c for c in document["conditions"] if c.get("ambient_temperature"))
            outside["ambient_temperature"] = "15 °C + x*1 K/m"

        convection = {"thermal": "convection", "heat_transfer_coefficient": "20 W/m^2/K", "ambient_temperature": "10 °C"}
        for key, change, words in (
            ("plate_passage", shell(**convection), "the convection outside 'hot, top'"),
            ("plate_passage", shell(thermal="temperature", temperature="20 °C"), "the temperature held at 'hot, top'"),
            ("plate_passage", shell(thermal="heat_flux", heat_flux="2 kW/m^2"), "the heat flux at 'hot, top'"),
            ("plate_passage", lambda d: d["physics"].update(friction_heat=True), "the heat of friction"),
            ("feed_line", varying, "the variation along"),
            ("double_pipe", source, "the heat source in"),
            ("fin_channel", lambda d: d["physics"].update(gravity_x="-9.81 m/s^2"), "the weight that stirs fluids"),
            ("power_module", lambda d: d["contacts"].append({"between": ["chip", "cooler"], "resistance": "1e-4 m^2*K/W"}), "chip"),
        ):
            with self.subTest(starter=key, words=words):
                values = by_hand(changed(key, change))
                self.assertTrue(all(any(words in t for t in v.leaves_out) for n, v in values.items() if "Reynolds" not in n))

    def test_what_the_hand_says_and_the_case_does_not(self) -> None:
        """The 60 W taken out of the base of a heat sink."""
        document = changed("plate_sink", lambda d: None)
        place = next(i for i, c in enumerate(document["conditions"]) if c.get("thermal") in ("heat_rate", "heat_flux"))
        document = with_entry(document, ["conditions", place, "thermal"], "adiabatic")
        (value,) = by_hand(document).values()
        self.assertIn("its own heat 'power', which nothing in the case gives", value.leaves_out)

    def test_contacts_and_orthotropic_plates_are_reckoned_with(self) -> None:
        """A resistance of 0.002 m²K/W in the plate passage, and a plate that conducts little across: by hand as by the field."""

        def contact(document: dict[str, Any]) -> None:
            document["contacts"] = [{"between": ["hot", "plate"], "resistance": "0.002 m^2*K/W"}]

        def across(document: dict[str, Any]) -> None:
            document["materials"]["mica"] = {"base": "ptfe", "conductivity": "5 W/m/K", "conductivity_y": "0.25 W/m/K"}
            next(p for p in document["section"]["parts"] if p["name"] == "plate")["material"] = "mica"

        plain = by_hand(changed("plate_passage", lambda d: None))["duty"].value
        for change in (contact, across):
            document = changed("plate_passage", change, 0.8)
            hand = by_hand(document)["duty"]
            self.assertEqual(hand.leaves_out, ())
            self.assertLess(hand.value, 0.93 * plain)
            run = solve_case(read_case(document))
            self.assertAlmostEqual(run.value("duty") / hand.value, 1.0, delta=0.05)
            self.assertFalse([f.text for f in run.findings if f.text.startswith("duty")])


class Disagreement(unittest.TestCase):
    def test_every_wanted_row_that_disagrees_is_a_finding_that_begins_with_what_is_left_out(self) -> None:
        def change(document: dict[str, Any]) -> None:
            shell(thermal="temperature", temperature="20 °C")(document)
            document["wanted"] = [{"key": quantity("outlet_temperature", "hot")}, {"key": quantity("heat_gained", "cold")}]

        run = solve_case(read_case(changed("plate_passage", change, 0.6)))
        for name in ("hot outlet temperature", "cold heat gained"):
            (finding,) = [f for f in run.findings if f.text.startswith(f"{name}: ")]
            self.assertIn("leaves out the temperature held at 'hot, top'", finding.text)
            self.assertIn("judge what it leaves out first", finding.remedy)
            self.assertRegex(finding.text, r"\d%")
        row = next(r for r in run.ledger if r.name == "hot outlet temperature")
        self.assertRegex(row.verdict, r" K \([\d.]+% of its difference to what enters\) below")

    def test_before_anything_is_solved_the_row_says_it(self) -> None:
        from wattikos_core.studies import estimate_ledger

        rows = estimate_ledger(read_case(changed("plate_passage", shell(thermal="temperature", temperature="20 °C"))))
        duty = next(row for row in rows if row.name == "duty")
        self.assertEqual(duty.verdict, "leaves out the temperature held at 'hot, top'")
