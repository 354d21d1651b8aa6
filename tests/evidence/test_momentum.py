"""The balance of momentum: its shares are what is known exactly, and what remains is small and becomes smaller."""

from __future__ import annotations

import unittest

from tests.sections import held, rectangle, section_case
from wattikos_core.case import Case, starter_case
from wattikos_core.evidence.balances import Balance
from wattikos_core.evidence.momentum import momentum_balances
from wattikos_core.physics import point_of
from wattikos_core.studies import Result, solve_case


def momentum(case: Case, fineness: float) -> tuple[Result, dict[str, Balance]]:
    run = solve_case(case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": fineness})}))
    return run, {b.name: b for b in momentum_balances(point_of(run.problem, run.solution.state), run.evaluation)}


def remaining(balance: Balance) -> float:
    return abs(balance.remainder) / (0.5 * sum(abs(share.value) for share in balance.shares))


class Momentum(unittest.TestCase):
    def test_developed_flow_between_plates(self) -> None:
        """What drives a module of a plain duct is its friction, 12 μ u L/H on both plates together (Poiseuille)."""
        part = rectangle("duct", "water", "0 m", "0 m", "20 mm", "10 mm")
        ends = {"type": "periodic", "boundaries": ["duct, left"], "downstream": ["duct, right"]}
        conditions = [ends | {"velocity": "10 mm/s", "temperature": "30 °C"}, held("duct, bottom", "duct, top", at="20 °C")]
        errors = []
        for fineness in (0.5, 1.0):
            run, found = momentum(section_case(part, conditions=conditions), fineness)
            told = {(share.place, share.what): share.value for share in found["momentum along x"].shares}
            exact = 12.0 * float(run.problem.materials[0].viscosity(303.15)) * 0.01 * 0.02 / 0.01
            errors.append(abs(told["duct, bottom", "friction"] / (0.5 * exact) - 1.0))
            self.assertAlmostEqual(told["duct, top", "friction"], -0.5 * told["duct", "drive"], delta=1e-6 * exact)
            self.assertLess(remaining(found["momentum along x"]), 1e-6)
        self.assertLess(errors[1], 0.01)
        self.assertLess(errors[1], 0.35 * errors[0])

    def test_a_bar_bears_what_the_stream_loses(self) -> None:
        """Pressure and friction on a bar are its drag."""
        run, found = momentum(starter_case("cross_flow"), 0.5)
        told = {(share.place, share.what): share.value for share in found["momentum along x"].shares}
        drag = told["stream | bar", "pressure"] + told["stream | bar", "friction"]
        self.assertAlmostEqual(drag / run.value("drag on bar"), 1.0, delta=0.02)
        self.assertLess(remaining(found["momentum along x"]), 1e-3)

    def test_what_remains_becomes_smaller(self) -> None:
        """Among the tubes of a bundle: pressure comes from least-squares gradients, which are of second order."""
        case = starter_case("bundle_staggered")
        coarse, fine = (remaining(momentum(case, fineness)[1]["momentum along x"]) for fineness in (0.5, 1.0))
        self.assertLess(fine, 5e-3)
        self.assertLess(fine, coarse)

    def test_weight_is_borne(self) -> None:
        """Warm air in a box is pushed up by its weight and held by its walls."""
        _, found = momentum(starter_case("cavity"), 0.5)
        upright = found["momentum along y"]
        self.assertGreater(abs({s.what: s.value for s in upright.shares}["weight"]), 0.0)
        self.assertLess(remaining(upright), 1e-3)

    def test_nothing_flows(self) -> None:
        """A solid has none."""
        self.assertEqual(momentum(starter_case("plate_sink"), 0.25)[1], {})
