"""Quantities told by their sense: no row of a ledger is negative for the way it is looked at, and both names are understood."""

from __future__ import annotations

import unittest
from typing import Any

from tests.sections import held, rectangle, section_case, wall
from wattikos_core.case import read_case
from wattikos_core.evidence.ledger import build_ledger, hand_in, solved_in
from wattikos_core.read import definition_of
from wattikos_core.read.senses import opposite
from wattikos_core.studies import prepare, solve_case


def slab(**more: Any) -> Any:
    """Two plates, the left one at 80 °C, the right one at 20 °C."""
    parts = [rectangle(name, "copper", x, "0 m", "10 mm", "10 mm") for name, x in (("warm", "0 m"), ("cold", "10 mm"))]
    conditions = [held("warm, left", at="80 °C"), held("cold, right", at="20 °C"), wall("warm, top", "warm, bottom")]
    return section_case(*parts, conditions=[*conditions, wall("cold, top", "cold, bottom")], **more)


class Names(unittest.TestCase):
    def test_each_is_the_opposite_of_its_opposite_and_both_are_defined(self) -> None:
        names = (
            "heat from tube 1 to whey",
            "heat out through plate, top",
            "whey heat gained",
            "whey total heat gained",
            "oil pressure drop",
            "heat stored in wax",
            "heat stored",
            "heat of compression in air",
        )
        for name in names:
            other = opposite(name)
            self.assertNotEqual(other, name)
            self.assertEqual(opposite(other), name)
            self.assertEqual(definition_of(other).kind, definition_of(name).kind)
        for name in ("duty", "mean temperature of wax", "lift on tube"):
            self.assertEqual(opposite(name), "")


class Ledger(unittest.TestCase):
    def test_heat_goes_from_the_warm_part_to_the_cold_one(self) -> None:
        run = solve_case(slab())
        rows = {row.name: row.solved for row in run.ledger}
        for name in ("heat from warm to cold", "heat in through warm, left", "heat out through cold, right"):
            self.assertGreater(rows[name] or 0.0, 0.0, name)
            self.assertNotIn(opposite(name), rows)
        self.assertAlmostEqual(run.value("heat from cold to warm"), -(rows["heat from warm to cold"] or 0.0))

    def test_what_is_wanted_is_told_as_it_comes_out_or_as_its_target_asks(self) -> None:
        rows = {row.name: row for row in solve_case(slab(wanted=[{"quantity": "heat from cold to warm"}])).ledger}
        self.assertTrue(rows["heat from warm to cold"].wanted)
        asked = [{"quantity": "heat from cold to warm", "target": "-2 kW", "sense": "at_most"}]
        rows = {row.name: row for row in solve_case(slab(wanted=asked)).ledger}
        self.assertLess(rows["heat from cold to warm"].solved or 0.0, 0.0)
        self.assertTrue(rows["heat from cold to warm"].meets)

    def test_hand_values_turn_with_their_names(self) -> None:
        from wattikos_core.case import starter_case

        prepared = prepare(starter_case("plate_passage"))
        rows = build_ledger(prepared.resolved, prepared.hand, {})
        given, gained = hand_in(rows, "hot heat given off"), hand_in(rows, "hot heat gained")
        assert given is not None
        assert gained is not None
        self.assertIn("hot heat given off", [row.name for row in rows])
        self.assertGreater(given.low, 0.0)
        self.assertEqual((given.value, given.low, given.high), (-gained.value, -gained.high, -gained.low))
        self.assertIsNone(solved_in(rows, "hot heat given off"))


class OldDocuments(unittest.TestCase):
    def test_names_without_a_sense_are_read(self) -> None:
        document = slab().model_dump(mode="json") | {"version": 1}
        document["watches"] = ["heat through warm | cold", "heat through warm, left"]
        document["wanted"] = [{"quantity": "time to 95 % of heat through cold, right", "target": "", "sense": "at_least"}]
        document["sizing"] = {"input": "", "quantity": "torque on rod, outside"}
        document["conditions"].append({"type": "wall", "boundaries": ["rod, outside"], "turning": "30 rpm"})
        case = read_case(document)
        self.assertEqual(case.watches, ["heat from warm to cold", "heat out through warm, left"])
        self.assertEqual(case.wanted[0].quantity, "time to 95 % of heat out through cold, right")
        self.assertEqual(case.sizing.quantity, "torque to turn rod, outside")
        self.assertEqual(document["watches"][0], "heat through warm | cold")
