"""Evidence: grid uncertainty on a published example, findings, the ledger's verdicts."""

from __future__ import annotations

import json
import unittest
from typing import Any

from wattikos_core.case import read_case, starter_case
from wattikos_core.case.starters.building import quantity
from wattikos_core.errors import CaseError
from wattikos_core.evidence import build_ledger, grid_uncertainty
from wattikos_core.studies import prepare, solve_case


def starter(**inputs: str) -> dict[str, Any]:
    data = json.loads(starter_case("plate_passage").model_dump_json())
    data["grid"]["fineness"] = 0.5
    for name, value in inputs.items():
        data["inputs"][name]["value"] = value
    return data


class GridUncertaintyTest(unittest.TestCase):
    def test_the_example_of_the_procedure(self) -> None:
        """Celik et al. (2008), table 1, first column (from memory): p = 1.53, extrapolated 6.1685, GCI 2.2 %."""
        result = grid_uncertainty((6.063, 5.972, 5.863), (18000, 8000, 4500))
        self.assertAlmostEqual(result.order, 1.53, delta=0.01)
        self.assertAlmostEqual(result.extrapolated, 6.1685, delta=0.001)
        self.assertAlmostEqual(result.plus_minus / 6.063, 0.022, delta=0.0005)

    def test_second_order_data(self) -> None:
        values = tuple(1.0 + 0.1 * h**2 for h in (1.0, 2.0, 4.0))
        result = grid_uncertainty(values, (1600, 400, 100))  # type: ignore[arg-type]
        self.assertAlmostEqual(result.order, 2.0, places=6)
        self.assertAlmostEqual(result.extrapolated, 1.0, places=9)

    def test_equal_values_have_no_spread(self) -> None:
        self.assertEqual(grid_uncertainty((2.0, 2.0, 2.0), (400, 200, 100)).plus_minus, 0.0)

    def test_a_run_with_three_grids_reports_it(self) -> None:
        data = starter()
        data["solve"]["grid_check"] = True
        data["grid"]["fineness"] = 1.0
        rows = {row.name: row for row in solve_case(read_case(data)).ledger}
        spread = rows["duty"].plus_minus
        solved = rows["duty"].solved
        assert spread is not None
        assert solved is not None
        self.assertTrue(0.0 < spread < 0.02 * solved)


class Findings(unittest.TestCase):
    def texts(self, data: dict[str, Any]) -> str:
        return "\n".join(f"{f.severity}: {f.text}" for f in prepare(read_case(data)).findings)

    def test_a_clean_case_has_none(self) -> None:
        self.assertEqual(self.texts(starter()), "")

    def test_turbulent_flow_in_a_laminar_model(self) -> None:
        self.assertIn("stop: Reynolds number", self.texts(starter(hot_flow="200 g/s")))

    def test_streams_the_wrong_way_round(self) -> None:
        self.assertIn("enters colder", self.texts(starter(hot_inlet="5 °C", cold_inlet="60 °C")))

    def test_open_boundaries(self) -> None:
        data = starter()
        data["conditions"] = data["conditions"][:4]
        self.assertIn("note: 'hot, top' has no condition", self.texts(data))

    def test_water_that_would_boil_or_freeze_is_refused(self) -> None:
        for value in ("130 °C", "-5 °C"):
            with self.assertRaises(CaseError) as caught:
                prepare(read_case(starter(hot_inlet=value)))
            self.assertIn("outside the range of Water", str(caught.exception))

    def test_celsius_given_as_kelvin(self) -> None:
        data = starter()
        data["conditions"][5] = {
            "type": "wall",
            "boundaries": ["plate, left", "plate, right"],
            "thermal": "temperature",
            "temperature": "40 K",
        }
        self.assertIn("absolute zero", self.texts(data))


class Ledger(unittest.TestCase):
    def test_targets_are_met_or_not(self) -> None:
        rows = {row.name: row for row in solve_case(read_case(starter())).ledger}
        self.assertIs(rows["effectiveness"].meets, False)
        self.assertEqual(rows["effectiveness"].target, 0.85)
        self.assertTrue(rows["duty"].wanted and rows["duty"].meets is None)
        rows = {row.name: row for row in solve_case(read_case(starter(length="1100 mm"))).ledger}
        self.assertIs(rows["effectiveness"].meets, True)

    def test_a_target_can_be_a_ceiling(self) -> None:
        data = starter()
        for target, meets in (("25 Pa", True), ("15 Pa", False)):
            data["wanted"] = [{"key": quantity("pressure_drop", "hot"), "target": target, "sense": "at_most"}]
            prepared = prepare(read_case(data))
            rows = build_ledger(prepared.resolved, prepared.hand, {})
            self.assertIs(next(row for row in rows if row.wanted).meets, meets)

    def test_wanted_quantities_must_exist(self) -> None:
        data = starter()
        data["wanted"] = [{"key": {"quantity": "happiness"}}]
        with self.assertRaises(CaseError) as caught:
            solve_case(read_case(data))
        self.assertIn("happiness", str(caught.exception))
