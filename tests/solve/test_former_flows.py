"""Solves that begin with a former flow: of a case whose temperatures alone have changed, and of one at another speed."""

from __future__ import annotations

import unittest

from wattikos_core.case import Case, starter_case
from wattikos_core.case.series import Varied
from wattikos_core.studies import solve_case
from wattikos_core.studies.result import Result
from wattikos_core.studies.series import case_at


class FormerFlows(unittest.TestCase):
    former: Result

    @classmethod
    def setUpClass(cls) -> None:
        cls.former = solve_case(cls.bundle("65 °C", "1 mm/s"))

    @classmethod
    def bundle(cls, heating: str, velocity: str) -> Case:
        case = starter_case("bundle_staggered")
        coarse = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.5})})
        return case_at(coarse, [Varied(input="heating"), Varied(input="velocity")], [heating, velocity])

    def solved(self, heating: str, velocity: str, most: int) -> None:
        """From the former solution within so many steps, to what is found from scratch."""
        case = self.bundle(heating, velocity)
        warm, cold = solve_case(case, start=self.former.solution.checkpoint()), solve_case(case)
        self.assertTrue(warm.solution.converged)
        self.assertLessEqual(len(warm.solution.history), most)
        for key in (wanted.key for wanted in case.wanted):
            self.assertAlmostEqual(warm.value(key) / cold.value(key), 1.0, places=6, msg=key.label)

    def test_warmer_the_flow_does_not_hold_which_is_found_out_at_once(self) -> None:
        """Viscosity follows the temperatures: heat alone is solved in a few steps, then all of it."""
        self.solved("75 °C", "1 mm/s", 20)

    def test_faster(self) -> None:
        self.solved("65 °C", "1.3 mm/s", 15)
