"""Quantities told by their sense: no row of a ledger is negative for the way it is looked at, and both names are understood."""

from __future__ import annotations

import unittest
from typing import Any

from tests.sections import held, rectangle, section_case, wall
from wattikos_core.case import read_case
from wattikos_core.case.starters.building import quantity
from wattikos_core.evidence.ledger import build_ledger, hand_in, solved_in
from wattikos_core.ledger import QUANTITIES, Key, in_sense, keys_at
from wattikos_core.quantities import KINDS
from wattikos_core.studies import prepare, solve_case


def slab(**more: Any) -> Any:
    """Two plates, the left one at 80 °C, the right one at 20 °C."""
    parts = [rectangle(name, "copper", x, "0 m", "10 mm", "10 mm") for name, x in (("warm", "0 m"), ("cold", "10 mm"))]
    conditions = [held("warm, left", at="80 °C"), held("cold, right", at="20 °C"), wall("warm, top", "warm, bottom")]
    return section_case(*parts, conditions=[*conditions, wall("cold, top", "cold, bottom")], **more)


class Keys(unittest.TestCase):
    def test_each_is_the_opposite_of_its_opposite(self) -> None:
        turned = 0
        for key in keys_at(["tube 1", "whey"]):
            other = key.opposite
            if other is not None:
                turned += 1
                self.assertNotEqual(other, key)
                self.assertEqual(other.opposite, key)
                self.assertEqual(other.kind, key.kind)
                self.assertEqual(in_sense({key: 3.0}, other), -3.0)
        self.assertEqual(turned, 2 * 8 * 2)
        self.assertIsNone(Key("duty").opposite)

    def test_no_two_are_written_alike(self) -> None:
        keys = list(keys_at(["tube 1", "whey", "tube 1, top"]))
        self.assertEqual(len({key.label for key in keys}), len(keys))

    def test_every_quantity_has_a_kind_and_says_what_it_means(self) -> None:
        for name, entry in QUANTITIES.items():
            self.assertIn(entry.kind, KINDS, name)
            self.assertGreater(len(entry.text), 15, name)

    def test_a_surface_with_a_fluid_on_both_sides_tells_which(self) -> None:
        self.assertEqual(Key("surface_h", "a | b", "b").label, "mean h of a | b in b")
        self.assertIn("heat from a | b in b into", Key("surface_h", "a | b", "b").text)

    def test_what_is_no_quantity_is_refused(self) -> None:
        with self.assertRaisesRegex(ValueError, "there is no quantity 'luck'"):
            Key("luck")


class Ledger(unittest.TestCase):
    def test_heat_goes_from_the_warm_part_to_the_cold_one(self) -> None:
        run = solve_case(slab())
        rows = {row.name: row.solved for row in run.ledger}
        turned = {row.name: row.key.opposite.label for row in run.ledger if row.key.opposite is not None}
        for name in ("heat from warm to cold", "heat in through warm, left", "heat out through cold, right"):
            self.assertGreater(rows[name] or 0.0, 0.0, name)
            self.assertNotIn(turned[name], rows)
        self.assertAlmostEqual(run.value("heat from cold to warm"), -(rows["heat from warm to cold"] or 0.0))

    def test_what_is_wanted_is_told_as_it_comes_out_or_as_its_target_asks(self) -> None:
        rows = {row.name: row for row in solve_case(slab(wanted=[{"key": quantity("heat_between", "cold", "warm")}])).ledger}
        self.assertTrue(rows["heat from warm to cold"].wanted)
        asked = [{"key": quantity("heat_between", "cold", "warm"), "target": "-2 kW", "sense": "at_most"}]
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
        document["wanted"] = [
            {"quantity": "happiness"},
            {"quantity": "time to 95 % of heat through cold, right", "target": "", "sense": "at_least"},
        ]
        document["sizing"] = {"input": "", "quantity": "torque on rod, outside"}
        document["conditions"].append({"type": "wall", "boundaries": ["rod, outside"], "turning": "30 rpm"})
        case = read_case(document)
        self.assertEqual(case.watches, [Key("heat_between", "warm", "cold"), Key("heat_out", "warm, left")])
        self.assertEqual([wish.key for wish in case.wanted], [Key("time_to_95", of=Key("heat_out", "cold, right"))])
        self.assertIn("happiness", case.note)
        self.assertEqual([goal.key for goal in case.sizing.goals], [Key("torque_to_turn", "rod, outside")])
        self.assertEqual(document["watches"][0], "heat through warm | cold")
