"""Balances share by share: they sum to nothing, and say what is known of each boundary."""

from __future__ import annotations

import unittest

from tests.sections import PLAIN, held, rectangle, section_case, wall
from wattikos_core.case import starter_case
from wattikos_core.evidence.balances import Balance, balances_of
from wattikos_core.evidence.record import record_of
from wattikos_core.studies import Result, solve_case


def balances(run: Result) -> dict[str, Balance]:
    return {b.name: b for b in balances_of(run.problem, run.evaluation, run.solution.state.periodicity)}


class Balances(unittest.TestCase):
    def closes(self, balance: Balance) -> None:
        passing = sum(abs(share.value) for share in balance.shares)
        self.assertAlmostEqual(sum(share.value for share in balance.shares), balance.remainder, delta=1e-9 * passing)
        self.assertLess(abs(balance.remainder), 1e-7 * passing)

    def test_a_slab_with_a_source(self) -> None:
        """8 W are released and 5 W enter on the left: 13 W leave on the right."""
        slab = rectangle("slab", "own", "0 m", "0 m", "20 mm", "10 mm", heat="8 W")
        conditions = [wall("slab, left", thermal="heat_rate", heat_rate="5 W"), held("slab, right", at="20 °C")]
        heat = balances(solve_case(section_case(slab, conditions=conditions, materials={"own": PLAIN}, fineness=0.4)))["heat"]
        told = {(share.place, share.what): share.value for share in heat.shares}
        self.assertAlmostEqual(told["slab, left", "conducted"], -5.0, places=6)
        self.assertAlmostEqual(told["slab", "released"], -8.0, places=9)
        self.assertAlmostEqual(told["slab, right", "conducted"], 13.0, places=6)
        self.closes(heat)

    def test_an_exchanger(self) -> None:
        """What one stream gives the other takes; each stream's heat is told where it leaves, its flow at both ends."""
        case = starter_case("plate_passage")
        run = solve_case(case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.4})}))
        found = balances(run)
        heat = {share.place: share.value for share in found["heat"].shares if share.what == "carried"}
        self.assertAlmostEqual(heat["hot, right"] / -run.value("duty"), 1.0, delta=1e-3)
        self.assertAlmostEqual(heat["cold, left"] / run.value("duty"), 1.0, delta=1e-3)
        flow = {share.place: share.value for share in found["mass"].shares}
        self.assertAlmostEqual(flow["hot, left"], -0.0046, places=9)
        self.assertAlmostEqual(flow["hot, right"], 0.0046, places=9)
        for balance in found.values():
            self.closes(balance)

    def test_what_is_stored(self) -> None:
        """A slab that warms: what enters is stored."""
        slab = rectangle("slab", "own", "0 m", "0 m", "20 mm", "10 mm")
        own = {**PLAIN, "density": "1000 kg/m^3", "specific_heat": "1000 J/kg/K"}
        case = section_case(
            slab,
            conditions=[wall("slab, left", thermal="heat_rate", heat_rate="5 W")],
            materials={"own": own},
            physics={"regime": "time"},
            time={"end": "20 s", "temperature": "20 °C"},
            fineness=0.4,
        )
        told = {(share.place, share.what): share.value for share in balances(solve_case(case))["heat"].shares}
        self.assertAlmostEqual(told["slab", "stored"], 5.0, delta=1e-3)

    def test_a_module(self) -> None:
        """What enters a module through its wall is carried on to the next one."""
        run = solve_case(starter_case("ribbed_duct"))
        heat = balances(run)["heat"]
        on = next(share.value for share in heat.shares if share.place == "next module")
        self.assertAlmostEqual(on / run.value("air heat gained"), 1.0, delta=1e-3)


class Records(unittest.TestCase):
    def test_what_numbers_depend_on(self) -> None:
        run = solve_case(starter_case("plate_sink"))
        record = record_of(run.case, run.problem, run.solution)
        self.assertEqual(record["grid"]["cells"], run.problem.grid.n_cells)
        self.assertIn("numpy", record["versions"])
        self.assertTrue(all(entry["source"] for entry in record["materials"].values()))
        self.assertEqual(record["schemes"]["residual limit"], run.case.solve.tolerance)
