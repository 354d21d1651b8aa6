"""A former flow that still holds is kept and heat alone is solved; said in a note, and never at the price of the answer."""

from __future__ import annotations

import unittest

from tests.support import INSULATED, WALL_AT_60, duct
from wattikos_core.case import Case
from wattikos_core.studies import Result, solve_case


def heated(wall: str, reynolds: float = 300.0, **solve: str) -> Case:
    case = duct(
        length=0.3,
        height=0.01,
        reynolds=reynolds,
        bottom={**WALL_AT_60, "temperature": wall},
        top=INSULATED,
        diameter=0.02,
        fineness=0.8,
    )
    return case.model_copy(update={"solve": case.solve.model_copy(update=solve)})


def checkpoint(run: Result) -> bytes:
    return run.solution.checkpoint()


class KeptFlow(unittest.TestCase):
    former: bytes

    @classmethod
    def setUpClass(cls) -> None:
        cls.former = checkpoint(solve_case(heated("60 °C")))

    def test_a_changed_wall_temperature_needs_heat_alone(self) -> None:
        kept = solve_case(heated("90 °C"), start=self.former)
        fresh = solve_case(heated("90 °C"))
        self.assertTrue(any("heat alone was solved" in note for note in kept.solution.notes))
        self.assertLessEqual(len(kept.solution.history), 3)
        self.assertAlmostEqual(kept.value("duct heat gained") / fresh.value("duct heat gained"), 1.0, delta=1e-9)

    def test_other_flow_conditions_are_solved_anew(self) -> None:
        changed = solve_case(heated("60 °C", reynolds=200.0), start=self.former)
        self.assertFalse(changed.solution.notes)
        fresh = solve_case(heated("60 °C", reynolds=200.0))
        self.assertAlmostEqual(changed.value("duct pressure drop") / fresh.value("duct pressure drop"), 1.0, delta=1e-6)

    def test_a_wish_that_cannot_be_granted_is_told(self) -> None:
        changed = solve_case(heated("60 °C", reynolds=200.0, flow="kept"), start=self.former)
        self.assertTrue(any("could not be kept" in note for note in changed.solution.notes))
        self.assertTrue(changed.solution.converged)

    def test_solved_anew_when_that_is_wished(self) -> None:
        self.assertFalse(solve_case(heated("90 °C", flow="solved"), start=self.former).solution.notes)
