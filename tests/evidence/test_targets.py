"""When targets are met, which are impossible, and what a ± and a verdict stand for."""

from __future__ import annotations

import unittest
from typing import Any

from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.case.starters.building import quantity
from wattikos_core.errors import CaseError
from wattikos_core.estimate import HandValue
from wattikos_core.evidence import build_ledger
from wattikos_core.evidence.targets import impossible, slack
from wattikos_core.ledger import Key
from wattikos_core.studies import Result, key_written, read_task, size_case, solve_case


def duct(**changes: Any) -> dict[str, Any]:
    """Water at 20 °C between walls at 60 °C."""
    document = {
        "title": "duct",
        "inputs": {"speed": {"value": "20 mm/s", "kind": "velocity"}},
        "section": {
            "extent": "flat",
            "parts": [
                {
                    "name": "w",
                    "material": "water",
                    "shape": {"type": "rectangle", "x": "0 mm", "y": "0 mm", "width": "100 mm", "height": "4 mm"},
                }
            ],
        },
        "conditions": [
            {"type": "inlet", "boundaries": ["w, left"], "temperature": "20 degC", "velocity": "speed"},
            {"type": "outlet", "boundaries": ["w, right"]},
            {"type": "wall", "boundaries": ["w, bottom", "w, top"], "thermal": "temperature", "temperature": "60 degC"},
        ],
        "grid": {"fineness": 0.5},
    }
    return document | changes


class Met(unittest.TestCase):
    def test_a_temperature_by_its_difference(self) -> None:
        """35 °C is 15 K below the walls and 15 K above what enters... 25 K at most: 25 mK, not 0.3 K of 308 K."""
        resolved = resolve(read_case(duct()))
        self.assertAlmostEqual(slack(308.15, "temperature", resolved), 0.025, places=9)
        self.assertAlmostEqual(slack(2.0, "ratio", resolved), 0.002, places=9)

    def test_at_most_35_is_not_met_by_more(self) -> None:
        wanted = [{"key": quantity("outlet_temperature", "w"), "target": "t", "sense": "at_most"}]
        solved = solve_case(read_case(duct())).value("w outlet temperature") - 273.15
        for beside, met in ((-0.2, False), (0.2, True)):
            document = duct(wanted=[{**wanted[0], "target": f"{solved + beside} degC"}])
            row = next(row for row in solve_case(read_case(document)).ledger if row.name == "w outlet temperature")
            self.assertEqual(row.meets, met)

    def test_sizing_without_a_hand_calculation_is_as_exact_as_with_one(self) -> None:
        case = read_case(duct())
        outlet = Key("outlet_temperature", "w")
        task = read_task(case, input="speed", key=outlet, target="40 degC", lower="5 mm/s", upper="60 mm/s")
        result = size_case(case, task)
        self.assertEqual(result.outcome, "met")
        span = max(t.found for t in result.trials) - min(t.found for t in result.trials)
        self.assertLess(abs(result.run.value("w outlet temperature") - 313.15), 5e-4 * span + 1e-9)

    def test_a_trial_that_did_not_converge_is_not_used(self) -> None:
        case = read_case(duct(solve={"max_steps": 2, "method": "coupled"}))
        outlet = Key("outlet_temperature", "w")
        task = read_task(case, input="speed", key=outlet, target="40 degC", lower="5 mm/s", upper="60 mm/s")
        result = size_case(case, task)
        self.assertEqual(result.outcome, "unsolved")
        self.assertIn("did not converge", result.text)


class Impossible(unittest.TestCase):
    def test_targets_that_nothing_can_meet(self) -> None:
        resolved = [resolve(read_case(duct()))]
        self.assertIn("colder than anything", impossible(Key("outlet_temperature", "w"), 283.15, resolved))
        self.assertIn("hotter than anything", impossible(Key("outlet_temperature", "w"), 343.15, resolved))
        self.assertIn("no share", impossible(Key("effectiveness"), 1.3, resolved))
        self.assertEqual(impossible(Key("outlet_temperature", "w"), 310.0, resolved), "")

    def test_they_are_refused_before_any_solve(self) -> None:
        case = read_case(duct())
        with self.assertRaises(CaseError) as caught:
            read_task(case, input="speed", key=Key("outlet_temperature", "w"), target="10 degC")
        self.assertEqual(caught.exception.problems[0].field, "sizing.target")
        case = starter_case("plate_passage")
        with self.assertRaisesRegex(CaseError, "between 0 and 1"):
            read_task(case, input="length", key=Key("effectiveness"), target="1.3")

    def test_a_heat_source_may_make_it_hotter(self) -> None:
        document = duct()
        document["section"]["parts"][0]["heat"] = "100 W"
        resolved = [resolve(read_case(document))]
        self.assertEqual(impossible(Key("outlet_temperature", "w"), 343.15, resolved), "")

    def test_a_misspelt_quantity_gets_the_nearest(self) -> None:
        case = starter_case("plate_passage")
        with self.assertRaises(CaseError) as caught:
            key_written(case, "effectivness")
        self.assertIn("'effectiveness'", caught.exception.problems[0].remedy)

    def test_a_quantity_is_found_as_it_is_written(self) -> None:
        case = starter_case("plate_passage")
        self.assertEqual(key_written(case, "hot outlet temperature"), Key("outlet_temperature", "hot"))
        self.assertEqual(key_written(case, "heat from hot to plate"), Key("heat_between", "hot", "plate"))
        self.assertEqual(key_written(case, "highest temperature of hot, left"), Key("highest_temperature", "hot, left"))

    def test_outlets_alone_are_refused(self) -> None:
        document = duct(physics={"gravity_y": "-9.81 m/s^2"})
        document["conditions"][0] = {"type": "outlet", "boundaries": ["w, left"]}
        with self.assertRaisesRegex(CaseError, "outlets alone"):
            solve_case(read_case(document))


class ThinLayers(unittest.TestCase):
    """A foil of 0.5 mm with a source between thick plates, by its exact parabola."""

    def run_at(self, fineness: float, wide: bool = True) -> Result:
        def layer(name: str, y: float, height: float, **more: str) -> dict[str, Any]:
            shape = {"type": "rectangle", "x": "0 mm", "y": f"{y} mm", "width": "10 mm", "height": f"{height} mm"}
            return {"name": name, "material": "p" if more else "s", "shape": shape, **more}

        def solid(conductivity: float) -> dict[str, str]:
            return {"base": "aluminium", "conductivity": f"{conductivity} W/m/K"}

        edges = [
            {"type": "wall", "boundaries": [b], "thermal": "temperature", "temperature": "20 degC"} for b in ("a, bottom", "b, top")
        ]
        # A side that is held makes it a section of two dimensions, if only by a little.
        if wide:
            edges.append(
                {
                    "type": "wall",
                    "boundaries": ["a, left"],
                    "thermal": "convection",
                    "heat_transfer_coefficient": "1e-6 W/m^2/K",
                    "ambient_temperature": "20 degC",
                }
            )
        document = {
            "title": "foil",
            "inputs": {},
            "section": {"extent": "flat", "parts": [layer("a", 0, 5), layer("foil", 5, 0.5, heat="2e8 W/m^3"), layer("b", 5.5, 5)]},
            "materials": {"s": solid(15.0), "p": solid(0.2)},
            "conditions": edges,
            "grid": {"fineness": fineness},
            "solve": {"grid_check": True},
        }
        return solve_case(read_case(document))

    def test_plus_minus_holds_the_error(self) -> None:
        """It was ± 0.0 at 3.4 K off once, since the foil had the same four cells on all three grids."""
        source, thickness, k = 2e8, 0.5e-3, 0.2
        surface = 0.5 * source * thickness * 0.005 / 15.0
        mean = 293.15 + surface + source * thickness**2 / (12.0 * k)
        for fineness, wide in ((0.5, True), (1.0, True), (0.5, False)):
            run = self.run_at(fineness, wide)
            row = next(row for row in run.ledger if row.name == "mean temperature of foil")
            assert row.solved is not None
            assert row.plus_minus is not None
            self.assertGreater(row.plus_minus, abs(row.solved - mean))


class Verdicts(unittest.TestCase):
    def test_temperatures_are_compared_by_the_rise_they_are_about(self) -> None:
        """An outlet 27 % further from what enters, by hand 47.3 °C and solved 42.4: not half a percent of kelvins."""
        resolved = resolve(starter_case("fin_channel"))
        key = Key("outlet_temperature", "air")
        inlet = next(c.temperature for c in resolved.conditions if c.kind == "inlet")
        hand = HandValue(key, inlet + 20.0, inlet + 19.0, inlet + 21.0, "a source", "a range", True)
        row = next(row for row in build_ledger(resolved, {key: hand}, {key: inlet + 25.4}) if row.key == key)
        self.assertIs(row.agrees, False)
        self.assertTrue(row.verdict.startswith("5.4 K (27.0% of its difference to what enters) above"), row.verdict)

    def test_agreement_shows_its_band(self) -> None:
        run = solve_case(starter_case("pin_sink"))
        verdicts = [row.verdict for row in run.ledger if row.agrees]
        self.assertTrue(verdicts)
        self.assertTrue(all(" to " in verdict and verdict.startswith("agrees") for verdict in verdicts), verdicts)
