"""Solves that begin with a former flow: of a case whose temperatures alone have changed, and of one at another speed."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from wattikos_core.case import Case, starter_case
from wattikos_core.case.series import Varied
from wattikos_core.physics import Unknowns
from wattikos_core.solve.checkpoint import mixed
from wattikos_core.solve.start import at_given_flows
from wattikos_core.studies import solve_case
from wattikos_core.studies.result import Result
from wattikos_core.studies.series import case_at
from wattikos_core.studies.series_solving import led_on


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

    def test_streams_are_as_fast_as_they_enter(self) -> None:
        """At another speed the former flow is scaled; at the same one, and where little differs, it is left as it is."""
        state, problem = self.former.solution.state, self.former.field.problem
        self.assertTrue(np.array_equal(at_given_flows(problem, state).velocity, state.velocity))
        faster = replace(problem, given=problem.given._replace(velocity=1.6 * problem.given.velocity))
        scaled = at_given_flows(faster, state)
        moving = state.speed > 0.0
        ratio = scaled.speed[moving] / state.speed[moving]
        self.assertAlmostEqual(float(ratio.max() - ratio.min()), 0.0, places=9)
        self.assertAlmostEqual(float(ratio.mean()), 1.6, delta=0.05)
        self.assertAlmostEqual(float(np.ptp(scaled.pressure) / np.ptp(state.pressure)), float(ratio.mean()), places=6)

    def test_led_on_from_two_others(self) -> None:
        """What is linear between two solutions is there from the beginning: fewer steps than from the nearer one."""
        two = [self.former, solve_case(self.bundle("68 °C", "1 mm/s"))]
        case = self.bundle("71 °C", "1 mm/s")
        led = led_on([(two[1].solution.begins(), 2.0), (two[0].solution.begins(), -1.0)])
        warm, near, cold = (solve_case(case, start=start) for start in (led, two[1].solution.begins(), None))
        self.assertLess(len(warm.solution.history), len(near.solution.history))
        self.assertLess(warm.solution.history[0]["energy"], 0.3 * near.solution.history[0]["energy"])
        for key in (wanted.key for wanted in case.wanted):
            self.assertAlmostEqual(warm.value(key) / cold.value(key), 1.0, places=6, msg=key.label)

    def test_what_others_have_that_is_no_sum(self) -> None:
        """Coefficients, scalars and unknowns of their own: those of the first alone."""
        one = self.former.solution.begins()
        unlike = replace(one, unknowns=Unknowns(2, True), state=replace(one.state, velocity=one.state.velocity + 1.0))
        self.assertTrue(np.array_equal(mixed([one, unlike], [0.5, 0.5]).state.velocity, one.state.velocity))
        other = replace(one, interpolation=2.0 * one.interpolation, state=replace(one.state, velocity=one.state.velocity + 1.0))
        found = mixed([one, other], [0.5, 0.5])
        self.assertTrue(np.allclose(found.state.velocity, one.state.velocity + 0.5))
        self.assertTrue(np.array_equal(found.interpolation, one.interpolation))
