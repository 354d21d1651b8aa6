"""Every starter is a whole case: it solves as it stands, and its hand calculation agrees with the field where it says it holds."""

from __future__ import annotations

import unittest

from django.test import tag

from wattikos_core.case import STARTERS, starter_case
from wattikos_core.section.sketch import bare_sketch
from wattikos_core.studies import Result, draft, estimate_ledger, prepare, solve_case

# What the hand calculation of each starter is asked about, beside the wanted quantities.
_ASKED = {
    "bundle_staggered": "whey heat gained",
    "bundle_in_line": "whey heat gained",
    "bundle_module": "whey total heat gained",
    "cavity": "heat from warm plate to air",
    "cone_gap": "oil outlet temperature",
    "cross_flow": "mean h of stream | bar",
    "double_pipe": "effectiveness",
    "feed_line": "stream outlet temperature",
    "holding_tube": "product shortest age at the outlet",
    "fan_channel": "volume flow through fan",
    "finned_tube": "mean temperature of tube, bottom",
    "fin_channel": "air outlet temperature",
    "oven_wall": "heat from outer gap to cladding",
    "packed_bed": "loss of pressure in grains",
    "pin_channel": "air outlet temperature",
    "pin_sink": "mean temperature of base, left",
    "plate_passage": "effectiveness",
    "plate_sink": "mean temperature of base, bottom",
    "power_module": "mean temperature of chip",
    "power_module_round": "mean temperature of chip",
    "ribbed_duct": "air last outlet temperature",
    "rinse_heater": "stream outlet temperature",
    "turbulent_passage": "hot h",
    "vane": "mean temperature of vane",
}

# The same of those that take a minute or more.
_SLOWLY = {
    "core_with_fans": "heat from the tubes of condenser",
    "fast_bar": "mean h of stream | bar",
    "ripening_room": "temperature at middle shelf",
    "turbulent_bundle": "whey h",
    "turbulent_double_pipe": "hot Nusselt number",
    "turbulent_ribs": "air last outlet temperature",
}

# Starters that run in time: a short run on a coarse grid.
_IN_TIME = {
    "silo": ("3 min", 0.25),
    "tank": ("10 s", 0.15),
    "ice_bank": ("5 min", 0.5),
    "melting_box": ("1 min", 0.5),
    "capsule": ("20 min", 0.5),
    "duct_start": ("20 s", 0.5),
}


def solved(key: str) -> Result:
    case = starter_case(key)
    return solve_case(case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.6 * case.grid.fineness})}))


class Starters(unittest.TestCase):
    def test_all_are_known_here(self) -> None:
        self.assertEqual(set(_ASKED) | set(_SLOWLY) | set(_IN_TIME) | {"empty"}, set(STARTERS))

    def test_the_empty_one_waits_for_a_part_on_a_sheet(self) -> None:
        case = starter_case("empty")
        found = draft(case)
        self.assertEqual([(p.problem, p.remedy) for p in found.problems], [("there is no part yet", "draw one")])
        sheet = bare_sketch(case, found.problems)
        assert sheet is not None
        self.assertEqual((sheet["parts"], sheet["bounds"]), ([], [0.0, 0.0, 0.1, 0.05]))

    def test_each_solves_and_agrees_with_its_hand_calculation(self) -> None:
        for key, asked in _ASKED.items():
            with self.subTest(starter=key):
                self.check(solved(key), asked)

    @tag("slow")
    def test_those_that_take_long_too(self) -> None:
        for key, asked in _SLOWLY.items():
            with self.subTest(starter=key):
                self.check(solve_case(starter_case(key)), asked)

    def check(self, run: Result, asked: str) -> None:
        self.assertTrue(run.solution.converged)
        self.assertLess(run.value("heat balance"), 1e-7)
        self.assertFalse([f for f in run.findings if f.severity == "stop"])
        row = next(row for row in run.ledger if row.name == asked)
        assert row.hand is not None
        self.assertTrue(row.hand.inside, f"{asked}: {row.hand.range}")
        self.assertTrue(row.agrees, f"{asked}: {row.solved} by field, {row.hand.low} to {row.hand.high} by hand")

    def test_each_film_runs_to_its_end(self) -> None:
        for key, (duration, fineness) in _IN_TIME.items():
            with self.subTest(starter=key):
                case = starter_case(key)
                shorter = case.inputs["duration"].model_copy(update={"value": duration})
                grid = case.grid.model_copy(update={"fineness": max(fineness * case.grid.fineness, 0.25)})
                frames: list[float] = []
                run = solve_case(
                    case.model_copy(update={"inputs": {**case.inputs, "duration": shorter}, "grid": grid}),
                    on_frame=lambda frame, kept=frames: kept.append(frame.time),  # type: ignore[misc]
                )
                self.assertTrue(run.solution.converged)
                self.assertLess(run.value("heat balance"), 1e-7)
                self.assertGreater(len(frames), 50)
                keys = {row.key for row in run.ledger if row.solved is not None}
                ended = {wish.key for wish in case.wanted if wish.key.kind != "time"}
                self.assertTrue(ended <= keys, ended - keys)

    def test_everything_wanted_and_watched_is_a_result(self) -> None:
        for key in ("bundle_staggered", "vane", "double_pipe", "rinse_heater", "power_module", "cross_flow"):
            with self.subTest(starter=key):
                run = solved(key)
                keys = {row.key for row in run.ledger if row.solved is not None}
                case = run.case
                self.assertTrue({wish.key for wish in case.wanted} <= keys)
                self.assertTrue(set(case.watches) <= keys)

    def test_hand_values_move_with_every_input_that_has_a_range(self) -> None:
        """An input that sizing may use must reach the hand calculation it steers by."""
        for key in _ASKED | _SLOWLY:
            case = starter_case(key)
            if not case.estimates:
                # Nobody calculates a room by hand.
                self.assertEqual(key, "ripening_room")
                continue
            name = case.sizing.chosen[0].varied[0].input
            with self.subTest(starter=key):
                item = case.inputs[name]
                before = {row.name: row.hand.value for row in estimate_ledger(case) if row.hand}
                moved = case.model_copy(
                    update={"inputs": {**case.inputs, name: item.model_copy(update={"value": f"1.05*({item.value})"})}}
                )
                after = {row.name: row.hand.value for row in estimate_ledger(moved) if row.hand}
                self.assertTrue(any(abs(after[name] - before[name]) > 1e-9 * abs(before[name]) for name in before))


class Switches(unittest.TestCase):
    def test_a_double_pipe_is_turned_from_counterflow_to_parallel_flow(self) -> None:
        case = starter_case("double_pipe")
        item = case.inputs["counterflow"].model_copy(update={"value": "0"})
        parallel = case.model_copy(update={"inputs": {**case.inputs, "counterflow": item}})
        by_hand = [
            next(row.hand.value for row in estimate_ledger(c) if row.name == "effectiveness" and row.hand) for c in (case, parallel)
        ]
        self.assertGreater(by_hand[0], by_hand[1])
        resolved = prepare(parallel).resolved
        inlet = resolved.condition("cold, left")
        assert inlet is not None
        self.assertEqual(inlet.type, "inlet_mass")

    def test_the_number_of_fins_is_an_input(self) -> None:
        case = starter_case("plate_sink")
        more = case.inputs["fins"].model_copy(update={"value": "12"})
        section = prepare(case.model_copy(update={"inputs": {**case.inputs, "fins": more}})).section
        self.assertEqual(sum(name.startswith("fin ") or name == "fin" for name in section.names), 12)
