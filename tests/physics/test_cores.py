"""Cores on a grid: heat and outlet temperatures against effectiveness and NTU, on several grids at default settings."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from tests.sections import Document, rectangle, section_case
from wattikos_core.case import Case, resolve
from wattikos_core.errors import CaseError
from wattikos_core.internals.even_core import even_conductance
from wattikos_core.ledger import Key
from wattikos_core.physics import evaluate, point_of, problem_of
from wattikos_core.studies import solve_case

# The same at all temperatures, so that effectiveness and NTU are exact.
MATERIALS = {
    "gas": {"base": "air", "density": "1.2 kg/m^3", "specific_heat": "1000 J/kg/K", "conductivity": "1e-6 W/m/K"},
    "oil": {"base": "water", "specific_heat": "2000 J/kg/K"},
}
UA = 200.0


def duct(fineness: float, *, upright: bool = True, backwards: bool = False, **core: Any) -> Case:
    """A core of 40 mm across a duct of 0.2 m that 0.24 kg/s of gas passes evenly at 20 °C."""
    filled = {"type": "core", "loss": "20", "liquid": "oil", "mass_flow": "0.1 kg/s", "temperature": "60 °C"}
    filled |= {"conductance": f"{UA} W/K"} | core
    ends = ["left", "right"][:: -1 if backwards else 1]
    if upright:
        parts = [rectangle("duct", "gas", "0 m", "0 m", "0.2 m", "0.2 m")]
        parts.append(rectangle("core", "gas", "0.08 m", "0 m", "40 mm", "0.2 m", internal=filled))
        sides = ["top", "bottom"]
    else:
        parts = [rectangle("duct", "gas", "0 m", "0 m", "0.2 m", "0.2 m")]
        parts.append(rectangle("core", "gas", "0 m", "0.08 m", "0.2 m", "40 mm", internal=filled))
        ends, sides = ["bottom", "top"], ["left", "right"]
    conditions: list[Document] = [
        {"type": "inlet", "boundaries": [f"duct, {ends[0]}"], "velocity": "1 m/s", "temperature": "20 °C", "profile": "uniform"},
        {"type": "outlet", "boundaries": [f"duct, {ends[1]}"], "pressure": "0 Pa"},
        {"type": "symmetry", "boundaries": [f"{name}, {side}" for name in ("duct", "core") for side in sides]},
    ]
    return section_case(*parts, conditions=conditions, materials=MATERIALS, fineness=fineness)


class Crossflow(unittest.TestCase):
    def check(self, case: Case, passes: int = 1, counter: bool = True) -> None:
        result = solve_case(case)
        self.assertTrue(result.solution.converged)
        expected = even_conductance(UA, 240.0, 200.0, passes, counter) * 40.0
        self.assertAlmostEqual(result.value(Key("core_heat", "core")), expected, delta=2e-3 * expected)
        leaves = result.value(Key("tube_outlet_temperature", "core"))
        self.assertAlmostEqual(leaves, 333.15 - result.value(Key("core_heat", "core")) / 200.0, delta=1e-3)
        self.assertAlmostEqual(result.value(Key("core_effectiveness", "core")), expected / (200.0 * 40.0), delta=3e-3)
        self.assertAlmostEqual(result.value(Key("uneven_loss", "core")), 0.0, delta=3e-3)
        self.assertAlmostEqual(result.value(Key("heat_gained", "duct")), expected, delta=2e-3 * expected)
        self.assertLess(result.value(Key("heat_balance")), 1e-8)

    def test_one_pass_on_several_grids(self) -> None:
        for fineness in (0.7, 1.0, 2.0):
            self.check(duct(fineness))

    def test_passes_either_way(self) -> None:
        self.check(duct(1.0, passes="4"), 4)
        self.check(duct(1.0, passes="3", order="parallel", begins="end"), 3, False)

    def test_against_its_axis_and_across_the_other(self) -> None:
        self.check(duct(1.0, passes="2", backwards=True), 2)
        self.check(duct(1.0, passes="2", upright=False), 2)

    def test_a_condenser(self) -> None:
        result = solve_case(duct(1.0, liquid="", mass_flow=""))
        expected = 240.0 * (1.0 - np.exp(-UA / 240.0)) * 40.0
        self.assertAlmostEqual(result.value(Key("core_heat", "core")), expected, delta=1e-3 * expected)

    def test_of_cells_of_any_shape(self) -> None:
        """A bar in the duct makes the grid body-fitted; the core behind it still closes its balance."""
        case = duct(0.7, passes="2")
        bar = rectangle("bar", "aluminium", "30 mm", "0.09 m", "20 mm", "20 mm")
        bar["angle"] = "20 deg"
        document = case.model_dump(mode="json")
        document["section"]["parts"].insert(1, bar)
        result = solve_case(Case.model_validate(document))
        self.assertTrue(result.solution.converged)
        expected = even_conductance(UA, 240.0, 200.0, 2, True) * 40.0
        self.assertLess(result.value(Key("heat_balance")), 1e-7)
        self.assertAlmostEqual(result.value(Key("core_heat", "core")), expected, delta=0.03 * expected)


class ByATable(unittest.TestCase):
    def test_it_takes_the_pressure_told_and_lets_nothing_along_its_tubes(self) -> None:
        """A jet onto a core whose drop is a table: across, the table's force; along the tubes, far more than across."""
        document = duct(0.7, loss="", table="sheet").model_dump(mode="json")
        document["tables"] = {"sheet": {"unit": "m/s", "value_unit": "Pa", "rows": [[0.5, 4.0], [1.0, 12.0], [2.0, 40.0]]}}
        result = solve_case(Case.model_validate(document))
        drag = result.problem.tubes[0].drag
        assert drag.given.curve is not None
        # Its gas follows the pressure: 12 Pa make it thinner, and the speed another, by 1e-4.
        speed = result.value(Key("face_speed", "core"))
        self.assertAlmostEqual(speed, 1.0, delta=2e-4)
        self.assertAlmostEqual(result.value(Key("loss_in", "core")), float(drag.given.curve(speed)), delta=1e-6)
        velocity = np.zeros_like(result.solution.state.velocity)
        velocity[:, 1] = 0.5
        n = len(velocity)
        force = drag.force(velocity, np.full(n, 1.2), np.full(n, 2e-5))
        self.assertGreater(float(-force[:, 1].max()) * 0.04, 100.0 * 4.0)
        step = 1e-6
        moved = drag.force(velocity + np.array([0.0, step]), np.full(n, 1.2), np.full(n, 2e-5))
        slopes = drag.slopes(velocity, np.full(n, 1.2), np.full(n, 2e-5))
        np.testing.assert_allclose((moved - force)[:, 1] / step, slopes[:, 1, 1], rtol=1e-5)


class Pieces(unittest.TestCase):
    def test_the_liquid_cools_along_its_way(self) -> None:
        result = solve_case(duct(1.0, passes="2"))
        solution = result.solution
        problem = problem_of(resolve(duct(1.0, passes="2")), solution.grid)
        evaluation = evaluate(point_of(problem, solution.state), solution.interpolation)
        tubes = problem.tubes[0]
        heat, inside, leaves = tubes.exchange(solution.state.velocity, evaluation.temperature)
        self.assertAlmostEqual(float(heat.sum()), 200.0 * (333.15 - leaves), delta=1e-9 * float(heat.sum()))
        x, y = solution.grid.centre[tubes.drag.cells].T
        # Counter: the first pass stands where the gas leaves, and begins at its lower end.
        first = x > 0.1
        self.assertGreater(inside[first & (y < 0.05)].min(), inside[first & (y > 0.15)].max())
        self.assertLess(inside[~first & (y < 0.05)].max(), inside[~first & (y > 0.15)].min())

    def test_more_passes_than_cells_across(self) -> None:
        with self.assertRaises(CaseError) as caught:
            solve_case(duct(0.25, passes="12"))
        self.assertIn("passes", str(caught.exception))
