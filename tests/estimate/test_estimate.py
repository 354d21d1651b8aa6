"""Hand calculations: against the ht library (Caleb Bell), against tables, and against field solutions."""

from __future__ import annotations

import json
import unittest
from typing import Any

import ht

from tests.by_name import hand_of
from tests.support import INSULATED, SYMMETRIC, WALL_AT_60, duct
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.estimate.ducts import apparent_friction, mean_nusselt_entry, pipe_friction, plate_nusselt
from wattikos_core.estimate.exchangers import counterflow_effectiveness, parallel_effectiveness
from wattikos_core.studies import estimate_ledger, solve_case


def starter(**inputs: str) -> dict[str, Any]:
    data = json.loads(starter_case("plate_passage").model_dump_json())
    for name, value in inputs.items():
        data["inputs"][name]["value"] = value
    return data


class Effectiveness(unittest.TestCase):
    def test_against_an_independent_library(self) -> None:
        for ntu in (0.1, 0.7, 2.0, 6.0):
            for ratio in (1e-9, 0.3, 0.9, 1.0):
                reference = ht.effectiveness_from_NTU(ntu, ratio, subtype="counterflow")
                self.assertAlmostEqual(counterflow_effectiveness(ntu, ratio), reference, places=8)
                reference = ht.effectiveness_from_NTU(ntu, ratio, subtype="parallel")
                self.assertAlmostEqual(parallel_effectiveness(ntu, ratio), reference, places=8)


class Relations(unittest.TestCase):
    def test_long_ducts_end_at_the_developed_values(self) -> None:
        self.assertAlmostEqual(apparent_friction(500.0, developing=True), 96.0, delta=0.01)
        self.assertAlmostEqual(pipe_friction(100.0, developing=True), 64.0, delta=0.05)
        self.assertAlmostEqual(plate_nusselt(90.0, 5.0, 0.0, both_sides=False, developing=False), 4.861, delta=0.01)
        self.assertAlmostEqual(plate_nusselt(90.0, 5.0, 1.0, both_sides=False, developing=False), 5.385, delta=0.01)

    def test_entry_of_both_raises_heat_transfer(self) -> None:
        self.assertGreater(mean_nusselt_entry(0.01, 0.7), mean_nusselt_entry(0.01, 100.0))

    def test_field_solutions_confirm_the_relations(self) -> None:
        """Mean Nu with developed velocity and wall at one temperature: solved fields within the stated scatter."""
        for length, top, diameter in ((0.1, SYMMETRIC, 0.008), (0.4, SYMMETRIC, 0.008), (0.2, INSULATED, 0.004)):
            case = duct(length=length, height=0.002, reynolds=100.0, diameter=diameter, bottom=WALL_AT_60, top=top, fineness=1.2)
            run = solve_case(case)
            gained = run.value("duct outlet temperature") - 293.15
            x_star = length / (diameter * 1000.0)
            from math import log

            # Mean Nu against the logarithmic mean: θ = exp(-4 Nu x*) of the heated perimeter.
            share = 1.0 if top is SYMMETRIC else 0.5
            nusselt = -log(1.0 - gained / 40.0) / (4.0 * share * x_star)
            by_hand = plate_nusselt(x_star, 10.0, 0.0, both_sides=top is SYMMETRIC, developing=False)
            self.assertAlmostEqual(nusselt / by_hand, 1.0, delta=0.06)


class PlatePassage(unittest.TestCase):
    def hand(self, data: dict[str, Any]) -> dict[str, float]:
        return {name: v.value for name, v in hand_of(resolve(read_case(data))).items()}

    def test_heat_balances(self) -> None:
        values = self.hand(starter())
        self.assertAlmostEqual(values["hot heat gained"], -values["duty"])
        self.assertAlmostEqual(values["effectiveness"], counterflow_effectiveness(values["NTU"], 4.6 / 5.0), delta=2e-4)

    def test_numbers_move_the_right_way(self) -> None:
        base, longer, thinner = self.hand(starter()), self.hand(starter(length="900 mm")), self.hand(starter(plate="0.3 mm"))
        self.assertGreater(longer["effectiveness"], base["effectiveness"])
        self.assertGreater(longer["hot pressure drop"], base["hot pressure drop"])
        self.assertGreater(thinner["overall U"], base["overall U"])

    def test_parallel_flow_is_recognised(self) -> None:
        data = starter(length="3 m")
        data["conditions"][2]["boundaries"], data["conditions"][3]["boundaries"] = ["cold, left"], ["cold, right"]
        self.assertLess(self.hand(data)["effectiveness"], 0.55)

    def test_a_shape_of_another_kind_beside_it_changes_nothing(self) -> None:
        data = starter()
        before = self.hand(data)
        corners = [["10 mm", "0.2 mm"], ["20 mm", "0.2 mm"], ["20 mm", "0.8 mm"]]
        triangle = {"type": "polygon", "x": "0 m", "y": "0 m", "points": corners}
        data["section"]["parts"].append({"name": "flag", "material": "copper", "shape": triangle})
        self.assertEqual(self.hand(data), before)

    def test_a_stream_of_another_shape_is_refused_with_its_name(self) -> None:
        data = starter()
        disc = {"type": "circle", "x": "100 mm", "y": "10 mm", "diameter": "1 mm"}
        data["section"]["parts"].append({"name": "disc", "material": "water", "shape": disc})
        data["estimates"][0]["hot"] = "disc"
        with self.assertRaisesRegex(CaseError, "'disc' is a circle and has no width"):
            self.hand(data)

    def test_solved_values_lie_in_the_band(self) -> None:
        for inputs in ({}, {"length": "150 mm"}, {"end_walls": "1"}):
            data = starter(**inputs)
            data["grid"]["fineness"] = 0.8
            rows = {row.name: row for row in solve_case(read_case(data)).ledger}
            for name in ("duty", "effectiveness", "overall U", "hot h", "cold pressure drop", "cold outlet temperature"):
                self.assertTrue(rows[name].agrees, f"{name} with {inputs}: {rows[name].verdict}")

    def test_outside_its_range_it_says_so(self) -> None:
        rows = {row.name: row for row in estimate_ledger(read_case(starter(hot_flow="200 kg/s")))}
        hand = rows["duty"].hand
        assert hand is not None
        self.assertFalse(hand.inside)

    def test_what_it_cannot_describe_is_refused_with_a_remedy(self) -> None:
        for change, word in (
            (lambda d: d["inputs"]["cold_inlet"].update(value="72 °C"), "same temperature"),
            (lambda d: d["estimates"][0].update(hot="warm"), "no part 'warm'"),
            (lambda d: d["section"]["parts"][2]["shape"].update(width="length/2"), "not equally long"),
        ):
            data = starter()
            change(data)
            with self.assertRaises(CaseError) as caught:
                self.hand(data)
            self.assertIn(word, str(caught.exception))
