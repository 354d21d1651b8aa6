"""The ledger: verdicts of solved against calculated by hand, targets, and what was asked for but did not come about."""

from __future__ import annotations

import json
import unittest
from dataclasses import asdict

from wattikos_core.case import ResolvedCase, read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.estimate import HandValue
from wattikos_core.evidence import GridUncertainty, LedgerRow, build_ledger
from wattikos_core.ledger import Key


def hand(key: Key, value: float, low: float, high: float, inside: bool = True) -> HandValue:
    return HandValue(key, value, low, high, "a relation", "where it holds", inside)


def wanting(*wanted: tuple[Key, str, str]) -> ResolvedCase:
    """The plate passage with other wishes: key, target and sense."""
    document = json.loads(starter_case("plate_passage").model_dump_json())
    document["wanted"] = [{"key": asdict(key), "target": target, "sense": sense} for key, target, sense in wanted]
    return resolve(read_case(document))


class Verdicts(unittest.TestCase):
    def verdict(self, by_hand: HandValue, solved: float, plus_minus: float = 0.0) -> LedgerRow:
        spread = {by_hand.key: GridUncertainty(plus_minus, 2.0, solved)}
        rows = build_ledger(wanting(), {by_hand.key: by_hand}, {by_hand.key: solved}, spread)
        return next(row for row in rows if row.key == by_hand.key)

    def test_within_the_scatter_it_agrees(self) -> None:
        for solved in (90.0, 100.0, 110.0):
            row = self.verdict(hand(Key("duty"), 100.0, 90.0, 110.0), solved)
            self.assertIs(row.agrees, True)
            self.assertIn("agrees", row.verdict)

    def test_beyond_it_says_on_which_side_and_by_how_much(self) -> None:
        row = self.verdict(hand(Key("duty"), 100.0, 90.0, 110.0), 130.0)
        self.assertIs(row.agrees, False)
        self.assertEqual(row.verdict, "30.0% above the hand calculation")
        row = self.verdict(hand(Key("duty"), 100.0, 90.0, 110.0), 75.0)
        self.assertEqual(row.verdict, "25.0% below the hand calculation")

    def test_what_the_grid_leaves_open_counts_too(self) -> None:
        self.assertIs(self.verdict(hand(Key("duty"), 100.0, 90.0, 110.0), 112.0).agrees, False)
        self.assertIs(self.verdict(hand(Key("duty"), 100.0, 90.0, 110.0), 112.0, plus_minus=3.0).agrees, True)

    def test_outside_its_range_a_relation_neither_agrees_nor_disagrees(self) -> None:
        row = self.verdict(hand(Key("duty"), 100.0, 90.0, 110.0, inside=False), 200.0)
        self.assertIsNone(row.agrees)
        self.assertIn("outside its range", row.verdict)

    def test_a_thousandth_is_nobodys_disagreement_but_kelvins_are(self) -> None:
        self.assertIs(self.verdict(hand(Key("duty"), 100.0, 100.0, 100.0), 100.05).agrees, True)
        self.assertIs(self.verdict(hand(Key("outlet_temperature", "hot"), 300.0, 299.0, 301.0), 301.2).agrees, False)


class Wishes(unittest.TestCase):
    def test_what_did_not_come_about_is_said(self) -> None:
        """A time that was not reached, and a quantity that nobody solved; before a run there is nothing to say."""
        resolved = wanting((Key("melting_time", "hot"), "2 h", "at_most"), (Key("torque", "hot, left"), "", "at_least"))
        rows = {row.name: row for row in build_ledger(resolved, {}, {Key("duty"): 1.0})}
        self.assertEqual(rows["melting time of hot"].verdict, "not reached in this run")
        self.assertIsNone(rows["melting time of hot"].meets)
        self.assertEqual(rows["torque on hot, left"].verdict, "not among what was solved")
        self.assertEqual({row.verdict for row in build_ledger(resolved, {}, {})}, {""})

    def test_before_a_run_the_hand_calculation_meets_targets(self) -> None:
        resolved = wanting((Key("duty"), "100 W", "at_least"), (Key("pressure_drop", "hot"), "20 Pa", "at_most"))
        duty, drop = hand(Key("duty"), 120.0, 110.0, 130.0), hand(Key("pressure_drop", "hot"), 30.0, 25.0, 35.0)
        by_hand = {duty.key: duty, drop.key: drop}
        rows = {row.name: row for row in build_ledger(resolved, by_hand, {})}
        self.assertIs(rows["duty"].meets, True)
        self.assertIs(rows["hot pressure drop"].meets, False)
        # What was solved decides once it is there.
        rows = {row.name: row for row in build_ledger(resolved, by_hand, {duty.key: 90.0, drop.key: 15.0})}
        self.assertIs(rows["duty"].meets, False)
        self.assertIs(rows["hot pressure drop"].meets, True)

    def test_a_limit_is_a_limit_and_equal_is_to_a_thousandth(self) -> None:
        """690.2 is not at most 690."""
        for sense, solved, meets in (
            ("at_least", 99.95, False),
            ("at_least", 100.0, True),
            ("at_most", 100.02, False),
            ("at_most", 100.0, True),
            ("equal", 99.95, True),
            ("equal", 100.05, True),
            ("equal", 99.8, False),
        ):
            row = build_ledger(wanting((Key("duty"), "100 W", sense)), {}, {Key("duty"): solved})[0]
            self.assertIs(row.meets, meets, f"{sense} {solved}")

    def test_wanted_rows_stand_first_in_their_order(self) -> None:
        resolved = wanting((Key("outlet_temperature", "hot"), "", "at_least"), (Key("duty"), "", "at_least"))
        hot, cold = (Key("outlet_temperature", side) for side in ("hot", "cold"))
        solved = {Key("duty"): 1.0, Key("effectiveness"): 0.5, hot: 300.0, cold: 310.0}
        names = [row.name for row in build_ledger(resolved, {}, solved)]
        self.assertEqual(names, ["hot outlet temperature", "duty", "effectiveness", "cold outlet temperature"])

    def test_a_wrong_wish_is_named(self) -> None:
        with self.assertRaises(CaseError) as caught:
            build_ledger(wanting((Key("duty"), "", "at_least"), (Key("ntu"), "3 kg", "at_least")), {}, {})
        self.assertEqual([p.field for p in caught.exception.problems], ["wanted[1].target"])
        self.assertIn("3 kg", str(caught.exception))
