"""Rules by which a solve ends, limits with margins, and the probes and lines of a case in its ledger."""

from __future__ import annotations

import unittest
from typing import Any

from tests.sections import PLAIN, held, rectangle, section_case
from wattikos_core.case import Case, resolve
from wattikos_core.errors import CaseError
from wattikos_core.evidence import build_ledger
from wattikos_core.ledger import Key
from wattikos_core.studies import solve_case

MEAN = {"quantity": "mean_temperature", "place": "slab"}


def cooling(**solve: Any) -> Case:
    """A slab of 20 °C whose one side is held at 60 °C; its slowest time constant is 4 L² / (π² α)."""
    slab = rectangle("slab", "own", "0 m", "0 m", "20 mm", "5 mm")
    return section_case(
        slab,
        conditions=[held("slab, left", at="60 °C")],
        materials={"own": {**PLAIN, "density": "1000 kg/m^3", "specific_heat": "1000 J/kg/K"}},
        physics={"regime": "time"},
        time={"end": "600 s", "temperature": "20 °C"},
        solve=solve,
        fineness=0.5,
    )


class Stopping(unittest.TestCase):
    def test_ends_when_a_quantity_has_stood_still_for_a_time(self) -> None:
        """θ = 40 K (8/π²) exp(-t/τ) with τ = 16.2 s: the mean moves less than 0.1 K within 30 s from t = 110 s on (exact)."""
        rule = {"key": MEAN, "change": "0.1 K", "over": "30 s"}
        run = solve_case(cooling(stops=[rule]))
        self.assertFalse(run.solution.stopped)
        self.assertIn("moved less than 0.1 K over 30 s", run.solution.ended_by)
        assert run.solution.time is not None
        # 32.4 exp(-t/16.2) (exp(30/16.2) - 1) = 0.1 at t = 123 s; steps are long by then.
        self.assertGreater(run.solution.time, 118.0)
        self.assertLess(run.solution.time, 160.0)
        self.assertTrue(any("ended by its rule" in f.text for f in run.findings))

    def test_all_rules_must_hold(self) -> None:
        never = {"key": MEAN, "change": "1e-12 K", "over": "30 s"}
        run = solve_case(cooling(stops=[{"key": MEAN, "change": "0.1 K", "over": "30 s"}, never]))
        self.assertEqual(run.solution.ended_by, "")
        self.assertAlmostEqual(run.solution.time or 0.0, 600.0)

    def test_over_steps(self) -> None:
        run = solve_case(cooling(stops=[{"key": MEAN, "change": "1 K", "over": "4"}]))
        self.assertIn("over 4 steps", run.solution.ended_by)
        values = [row["mean temperature of slab"] for row in run.solution.history[-5:]]
        self.assertLess(max(values) - min(values), 1.0)

    def test_rules_that_cannot_be(self) -> None:
        for change, over, field in (
            ("0 K", "50", "change"),
            ("1 mm", "50", "change"),
            ("0.1 K", "1", "over"),
            ("0.1 K", "-3 s", "over"),
        ):
            with self.assertRaises(CaseError) as caught:
                resolve(cooling(stops=[{"key": MEAN, "change": change, "over": over}]))
            self.assertEqual(caught.exception.problems[0].field, f"solve.stops[0].{field}")


class Limits(unittest.TestCase):
    def row(self, value: float, **wanted: str) -> Any:
        case = cooling().model_copy(update={"wanted": []})
        document = case.model_dump(mode="json") | {"wanted": [{"key": MEAN, **wanted}]}
        rows = build_ledger(resolve(Case.model_validate(document)), {}, {Key("mean_temperature", "slab"): value})
        return rows[0]

    def test_between_two_values(self) -> None:
        """11 to 13 °C: 12.5 °C meets it by 0.5 K, 13.2 °C misses it by 0.2 K."""
        limits = {"target": "11 °C", "upper": "13 °C", "sense": "between"}
        for celsius, margin in ((12.5, 0.5), (13.2, -0.2), (10.0, -1.0), (11.0, 0.0)):
            row = self.row(273.15 + celsius, **limits)
            self.assertAlmostEqual(row.margin, margin, places=9)
            self.assertEqual(row.meets, margin >= 0.0)

    def test_margins_of_other_limits(self) -> None:
        self.assertAlmostEqual(self.row(333.15, target="65 °C", sense="at_most").margin, 5.0, places=9)
        self.assertAlmostEqual(self.row(333.15, target="65 °C", sense="at_least").margin, -5.0, places=9)
        self.assertIsNone(self.row(333.15, target="65 °C", sense="equal").margin)

    def test_ends_the_wrong_way_round(self) -> None:
        with self.assertRaises(CaseError) as caught:
            self.row(300.0, target="13 °C", upper="11 °C", sense="between")
        self.assertEqual(caught.exception.problems[0].field, "wanted[0].upper")


class Readings(unittest.TestCase):
    def test_probes_and_lines_are_in_the_ledger(self) -> None:
        """A slab between 60 °C and 20 °C: linear, so that a point, a box and a line are known."""
        slab = rectangle("slab", "own", "0 m", "0 m", "20 mm", "5 mm")
        reading = {
            "probes": [
                {"name": "quarter", "at": {"type": "point", "x": "5 mm", "y": "2 mm"}},
                {"name": "right half", "at": {"type": "box", "x0": "10 mm", "y0": "0 m", "x1": "20 mm", "y1": "5 mm"}},
                {"name": "lost", "at": {"type": "point", "x": "1 m", "y": "1 m"}},
            ],
            "lines": [{"name": "middle", "along": {"type": "centre", "part": "slab"}}],
        }
        conditions = [held("slab, left", at="60 °C"), held("slab, right", at="20 °C")]
        wanted = [
            {"key": {"quantity": "probe_temperature", "place": "quarter"}, "target": "49 °C", "upper": "51 °C", "sense": "between"}
        ]
        case = section_case(slab, conditions=conditions, materials={"own": PLAIN}, reading=reading, wanted=wanted, fineness=0.5)
        run = solve_case(case)
        self.assertAlmostEqual(run.value("temperature at quarter"), 323.15, delta=1e-6)
        self.assertAlmostEqual(run.value("temperature at right half"), 303.15, delta=1e-6)
        self.assertAlmostEqual(run.value("mean temperature along middle"), 313.15, delta=1e-6)
        self.assertAlmostEqual(run.value("highest temperature along middle"), 333.15, delta=1e-3)
        row = next(row for row in run.ledger if row.wanted)
        self.assertEqual((row.name, row.meets), ("temperature at quarter", True))
        self.assertAlmostEqual(row.margin or 0.0, 1.0, places=6)
        with self.assertRaises(KeyError):
            run.value("temperature at lost")
