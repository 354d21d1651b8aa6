"""Second relations beside the first: by their formulas, and where both agree as they should."""

from __future__ import annotations

import math
import unittest

from ht.conv_external import Nu_cylinder_Churchill_Bernstein

from wattikos_core.case import Case, starter_case
from wattikos_core.estimate import HandValue
from wattikos_core.estimate.bundles import churchill_bernstein, ranz_marshall
from wattikos_core.evidence import Finding
from wattikos_core.evidence.disagreements import ORDER_OF_FLOW, likely_reasons
from wattikos_core.evidence.ledger import LedgerRow
from wattikos_core.studies import estimate_ledger, solve_case


def hand_of(case: Case, quantity: str) -> HandValue:
    return next(row.hand for row in estimate_ledger(case) if row.hand is not None and row.key.quantity == quantity)


class Relations(unittest.TestCase):
    def test_churchill_and_bernstein(self) -> None:
        """The formula as printed by Incropera et al. (2007), eq. 7.54, against the ht library's."""
        for reynolds, prandtl in ((10.0, 0.7), (7992.0, 0.69), (2e5, 5.0)):
            turbulent = (1.0 + (reynolds / 282_000.0) ** 0.625) ** 0.8
            laminar = 0.62 * math.sqrt(reynolds) * prandtl ** (1 / 3) / (1.0 + (0.4 / prandtl) ** (2 / 3)) ** 0.25
            self.assertAlmostEqual(churchill_bernstein(reynolds, prandtl) / (0.3 + laminar * turbulent), 1.0, places=9)
            self.assertEqual(churchill_bernstein(reynolds, prandtl), Nu_cylinder_Churchill_Bernstein(Re=reynolds, Pr=prandtl))

    def test_ranz_and_marshall(self) -> None:
        """A drop at rest has 2; at Re 100 and Pr 1 it has 8."""
        self.assertEqual((ranz_marshall(0.0, 0.7), ranz_marshall(100.0, 1.0)), (2.0, 8.0))

    def test_both_stand_on_a_bar(self) -> None:
        """A bar in a stream has both, within their bands of each other; where a quantity follows from a balance it has one."""
        first = hand_of(starter_case("cross_flow"), "surface_nusselt_number")
        (other,) = first.also
        self.assertIn("Churchill", other.source)
        self.assertGreater(first.high, other.low)
        self.assertTrue(other.low < other.value < other.high)
        self.assertEqual(hand_of(starter_case("cross_flow"), "heat_gained").also, ())

    def test_a_bundle_has_one(self) -> None:
        for row in estimate_ledger(starter_case("bundle_staggered")):
            self.assertEqual(row.hand.also if row.hand else (), ())


class Reasons(unittest.TestCase):
    def row(self, **more: object) -> LedgerRow:
        case = starter_case("plate_passage")
        run = solve_case(case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.25})}))
        self.run_ = run
        row = next(row for row in run.ledger if row.hand is not None and row.solved is not None and row.key.quantity == "h")
        from dataclasses import replace

        return replace(row, **more)  # type: ignore[arg-type]

    def reasons(self, row: LedgerRow, found: list[Finding]) -> list[str]:
        return likely_reasons(row, self.run_.problem, self.run_.evaluation.temperature, {}, found)

    def test_in_their_order(self) -> None:
        """Regime before entry length before grid; each only where it may be one."""
        row = self.row(plus_minus=None)
        doubts = [Finding("stop", "", "", "", ORDER_OF_FLOW), Finding("note", "", "", "", "entry length")]
        words = [reason.split(":")[0] for reason in self.reasons(row, doubts)]
        self.assertEqual(words[-3:], ["the regime", "the entry length", "the grid"])
        assert row.hand is not None
        assert row.solved is not None
        known = self.row(plus_minus=1e-6)
        self.assertFalse([reason for reason in self.reasons(known, []) if reason.startswith("the ")])
        wide = self.row(plus_minus=abs(row.solved - row.hand.value))
        self.assertIn("the grid: its ± is a good part of the difference", self.reasons(wide, []))
