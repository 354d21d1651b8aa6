"""Sizing: the solved value meets the target, few field solves, honest when it cannot."""

from __future__ import annotations

import json
import unittest
from typing import Any

from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.ledger import Key
from wattikos_core.studies import read_task, size_case, solve_case
from wattikos_core.studies.sizing_wish import read_one


def passage(change: Any = None) -> Case:
    data = json.loads(starter_case("plate_passage").model_dump_json())
    data["grid"]["fineness"] = 0.4
    if change:
        change(data)
    return read_case(data)


def size(case: Case, **wish: Any) -> Any:
    return size_case(case, read_task(case, **wish))


class Meeting(unittest.TestCase):
    def test_length_for_effectiveness(self) -> None:
        result = size(passage(), input="length", key=Key("effectiveness"), target="0.85")
        self.assertEqual(result.outcome, "met")
        self.assertLessEqual(len(result.trials), 4)
        self.assertAlmostEqual(result.run.value("effectiveness"), 0.85, delta=5e-4)
        self.assertGreaterEqual(result.run.value("effectiveness"), 0.85)
        # The case handed back, solved afresh, gives what was promised.
        self.assertAlmostEqual(solve_case(result.case).value("effectiveness"), 0.85, delta=5e-4)

    def test_flow_for_an_outlet_temperature(self) -> None:
        result = size(passage(), input="cold_flow", key=Key("outlet_temperature", "hot"), target="25 °C")
        self.assertEqual(result.outcome, "met")
        self.assertAlmostEqual(result.run.value("hot outlet temperature"), 298.15, delta=0.05)

    def test_without_a_hand_calculation_it_brackets(self) -> None:
        case = passage(lambda d: d.update(estimates=[], wanted=[]))
        result = size(case, input="length", key=Key("outlet_temperature", "hot"), target="25 °C", lower="200 mm", upper="1 m")
        self.assertEqual(result.outcome, "met")
        self.assertEqual(result.curve, [])

    def test_a_limit_is_not_overstepped(self) -> None:
        for sense, side in (("at_least", 1.0), ("at_most", -1.0)):
            with self.subTest(sense):
                wish = {"key": {"quantity": "effectiveness", "place": "", "other": ""}, "target": "0.85", "sense": sense}
                case = passage(lambda d, wish=wish: d.update(wanted=[wish]))
                result = size(case, input="length", key=Key("effectiveness"), target="0.85", sense=sense)
                self.assertEqual(result.outcome, "met")
                self.assertGreaterEqual(side * (result.run.value("effectiveness") - 0.85), 0.0)
                self.assertAlmostEqual(result.run.value("effectiveness"), 0.85, delta=2e-3)
                self.assertTrue(next(row for row in result.run.ledger if row.wanted).meets)


class NotMeeting(unittest.TestCase):
    def test_an_asymptote_is_told_with_other_ways(self) -> None:
        def parallel(data: dict[str, Any]) -> None:
            data["conditions"][2]["boundaries"], data["conditions"][3]["boundaries"] = ["cold, left"], ["cold, right"]

        result = size(passage(parallel), input="length", key=Key("effectiveness"), target="0.8")
        self.assertEqual(result.outcome, "unreachable")
        self.assertIn("cannot be met", result.text)
        self.assertIn("tends to 0.52", result.text)
        self.assertTrue(any(s.startswith(("cold_flow", "hot_flow")) for s in result.suggestions), result.suggestions)
        # It ends on the best that was found.
        self.assertAlmostEqual(result.run.value("effectiveness"), max(t.found for t in result.trials), places=4)

    def test_stopping(self) -> None:
        case = passage()
        task = read_task(case, input="length", key=Key("effectiveness"), target="0.85")
        self.assertEqual(size_case(case, task, cancel=lambda: True).outcome, "stopped")


class Reading(unittest.TestCase):
    def refused(self, word: str, **wish: Any) -> None:
        with self.assertRaises(CaseError) as caught:
            read_task(passage(lambda d: d["inputs"]["plate"].update(value="hot_height/2")), **wish)
        self.assertIn(word, str(caught.exception))

    def test_wishes_that_make_no_sense(self) -> None:
        self.refused("no input 'lenght'", input="lenght", key=Key("duty"), target="1 kW")
        self.refused("not said which quantity", input="length", key=None, target="1")
        self.refused("is an expression", input="plate", key=Key("duty"), target="1 kW")
        self.refused("add one", input="length", key=Key("duty"), target="900")
        self.refused("bounds", input="length", key=Key("duty"), target="1 kW", lower="2 m", upper="1 m")


class WithoutHand(unittest.TestCase):
    def test_a_quantity_that_nobody_calculates_by_hand(self) -> None:
        """The hottest metal over h: steep at one end and flat at the other, found between the bounds all the same."""
        case = starter_case("power_module")
        coarse = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.4})})
        result = size_case(coarse, read_one(coarse, coarse.sizing))
        self.assertEqual(result.outcome, "met")
        self.assertAlmostEqual(result.run.value("hottest metal"), 353.15, delta=0.1)
        self.assertTrue(all(trial.cheap is None for trial in result.trials))
