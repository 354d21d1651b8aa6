"""What ledger quantities say: pressure work, log-mean coefficients, lids and casings, lengths of Rayleigh numbers, lift."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from tests.support import WALL_AT_60, duct, quads
from wattikos_core.case import read_case
from wattikos_core.grid import Polygons, build_grid
from wattikos_core.ledger import labelled
from wattikos_core.materials import constant_table
from wattikos_core.physics import Condition, FlowPhysics, build_problem, point_of
from wattikos_core.read.motion import motion_quantities
from wattikos_core.solve import SolveSettings, solve_steady
from wattikos_core.solve.iterate import evaluate_state
from wattikos_core.studies import Result, prepare, solve_case


def throttled(material: str, velocity: str, fineness: float) -> Result:
    """An adiabatic gap of 0.2 mm with friction heat, developed where it enters."""
    shape = {"type": "rectangle", "x": "0 mm", "y": "0 mm", "width": "50 mm", "height": "0.2 mm"}
    inlet = {"type": "inlet", "boundaries": ["duct, left"], "temperature": "20 degC", "velocity": velocity, "profile": "developed"}
    return solve_case(
        read_case(
            {
                "title": "throttled",
                "inputs": {},
                "section": {"extent": "flat", "parts": [{"name": "duct", "material": material, "shape": shape}]},
                "conditions": [inlet, {"type": "outlet", "boundaries": ["duct, right"]}],
                "physics": {"friction_heat": True},
                "grid": {"fineness": fineness},
            }
        )
    )


class PressureWork(unittest.TestCase):
    """Enthalpy stays: an ideal gas keeps its temperature, a liquid warms by (1 - βT) Δp / (ρ c_p)."""

    def test_an_ideal_gas_keeps_its_temperature(self) -> None:
        """Friction alone would warm it by 0.45 K; what is left is how much less friction the grid sees, and falls with it."""
        left = []
        for fineness in (1.0, 2.0):
            run = throttled("air", "2 m/s", fineness)
            table = run.problem.materials[0]
            alone = run.value("duct pressure drop") / float(table.density(293.15) * table.specific_heat(293.15))
            left.append(abs(run.value("duct outlet temperature") - 293.15) / alone)
        self.assertLess(left[0], 0.02)
        self.assertLess(left[1], 0.5 * left[0])

    def test_a_liquid(self) -> None:
        run = throttled("water", "0.5 m/s", 2.0)
        table = run.problem.materials[0]
        density, step = float(table.density(293.15)), 0.5
        expansion = float(table.density(293.15 - step) - table.density(293.15 + step)) / (2.0 * step * density)
        rise = (1.0 - expansion * 293.15) * run.value("duct pressure drop") / (density * float(table.specific_heat(293.15)))
        self.assertAlmostEqual((run.value("duct outlet temperature") - 293.15) / rise, 1.0, delta=0.01)
        self.assertLess(run.value("heat balance"), 1e-9)


class LogMean(unittest.TestCase):
    def test_both_coefficients(self) -> None:
        """Between plates at one temperature, x* = 0.06: the log-mean Nusselt number of Shah and London (1978), table 30."""
        length = 0.06 * 0.02 * 100.0 * 10.0
        run = solve_case(duct(length=length, height=0.01, reynolds=100.0, bottom=WALL_AT_60, top=WALL_AT_60, diameter=0.02))
        share = (run.value("duct outlet temperature") - 293.15) / 40.0
        rate = 1000.0 * 100.0 * 0.0015 / (1000.0 * 0.02) * 0.01 * 4000.0
        exact = -np.log(1.0 - share) * rate / (2.0 * length)
        # What is conducted through the inlet itself is left out of one of the two.
        self.assertAlmostEqual(run.value("duct log-mean h") / exact, 1.0, delta=3e-3)
        self.assertAlmostEqual(run.value("duct log-mean Nusselt number"), 7.5407 + 0.0235 / 0.06, delta=0.1)

    def test_a_hand_calculation_of_a_wall_temperature_is_compared_with_its_own_kind(self) -> None:
        document = duct(length=1.0, height=0.01, reynolds=100.0, bottom=WALL_AT_60, top=WALL_AT_60, diameter=0.02).model_dump(
            mode="json"
        )
        plates = {"gap": "height", "length": "length", "breadth": "1 m", "sides": "both", "wall": "60 °C"}
        document["estimates"] = [{"relation": "heated_duct", "fluid": "duct", **plates}]
        hand = labelled(prepare(read_case(document)).hand)
        self.assertIn("duct log-mean h", hand)
        self.assertNotIn("duct h", hand)


class Walls(unittest.TestCase):
    fluid = constant_table("oil", density=900.0, specific_heat=2000.0, viscosity=0.1, conductivity=0.15)

    def quantities(self, grid: Any, conditions: dict[str, Condition]) -> dict[str, float]:
        problem = build_problem(grid, [self.fluid], conditions, physics=FlowPhysics())
        solution = solve_steady(problem, SolveSettings(tolerance=1e-8))
        self.assertTrue(solution.converged)
        evaluation = evaluate_state(problem, solution.state, solution.interpolation)
        return labelled(motion_quantities(point_of(problem, solution.state), evaluation))

    def test_a_lid_slides(self) -> None:
        """Where its faces lie beside its middle by round-off it was once said to turn."""
        side = np.linspace(0.0, 0.1, 13) + 0.3
        values = self.quantities(quads(side, side), {"fluid, top": Condition("wall", velocity=(0.1, 0.0))})
        self.assertGreater(values["power to slide fluid, top"], 0.0)
        self.assertFalse([name for name in values if "turn" in name or "torque" in name])

    def test_a_casing_at_rest_bears_the_moment_of_what_turns_in_it(self) -> None:
        """Cylinders of 10 and 20 mm: T = 4 π μ Ω r1² r2² / (r2² - r1²) a metre (exact), of second order on both."""
        inner, outer, rate = 0.01, 0.02, 2.0
        exact = 4.0 * np.pi * 0.1 * rate * inner**2 * outer**2 / (outer**2 - inner**2)
        errors = []
        for n in (24, 48):
            grid = ring(inner, outer, 2 * n, n // 3)
            around = grid.groups["fluid, bottom"]
            normal = grid.area[around] / np.hypot(*grid.area[around].T)[:, None]
            velocity = rate * np.cos(np.pi / (2 * n)) * inner * np.stack([normal[:, 1], -normal[:, 0]], axis=1)
            values = self.quantities(grid, {"fluid, bottom": Condition("wall", velocity=velocity)})
            onto = [values["torque to turn fluid, bottom"], values["torque on fluid, top"]]
            self.assertAlmostEqual(onto[0] / onto[1], 1.0, delta=0.01)
            errors.append(max(abs(abs(torque) / exact - 1.0) for torque in onto))
        self.assertGreater(float(np.log2(errors[0] / errors[1])), 1.8)
        self.assertLess(errors[1], 0.002)


def ring(inner: float, outer: float, around: int, across: int) -> Any:
    """A ring of quadrilaterals; its edges are called bottom (inside) and top (outside)."""
    angle = 2.0 * np.pi * np.arange(around) / around
    radius = np.linspace(inner, outer, across + 1)
    nodes = np.stack([np.outer(radius, np.cos(angle)), np.outer(radius, np.sin(angle))], axis=-1).reshape(-1, 2)
    row, column = np.divmod(np.arange(around * across), around)
    after = (column + 1) % around
    corners = [row * around + column, row * around + after, (row + 1) * around + after, (row + 1) * around + column]
    cell_nodes = np.stack([corners[0], corners[3], corners[2], corners[1]], axis=1).ravel()
    sides = np.tile(np.array(["right", "top", "left", "bottom"]), around * across)
    start = np.arange(0, cell_nodes.size + 1, 4)
    regions = np.zeros(around * across, dtype=np.int64)
    return build_grid(Polygons(nodes, start, cell_nodes), regions, ["fluid"], sides, axisymmetric=False, depth=1.0)


class Rayleigh(unittest.TestCase):
    def cavity(self, hot: str, cold: str, length: str = "gap") -> Result:
        shape = {"type": "rectangle", "x": "0 mm", "y": "0 mm", "width": "20 mm", "height": "60 mm"}
        walls = [
            {"type": "wall", "boundaries": [f"air, {side}"], "thermal": "temperature", "temperature": value}
            for side, value in ((hot, "40 degC"), (cold, "20 degC"))
        ]
        return solve_case(
            read_case(
                {
                    "title": "cavity",
                    "inputs": {},
                    "section": {"extent": "flat", "parts": [{"name": "air", "material": "air", "shape": shape}]},
                    "conditions": walls,
                    "physics": {"gravity_y": "-9.81 m/s^2", "rayleigh_length": length},
                    "grid": {"fineness": 0.5},
                }
            )
        )

    def test_on_the_gap_or_the_height(self) -> None:
        on_gap = self.cavity("left", "right").value("Rayleigh number of air")
        on_height = self.cavity("left", "right", "height").value("Rayleigh number of air")
        self.assertAlmostEqual(on_height / on_gap, 27.0, delta=1e-6)

    def test_the_gap_of_a_layer_is_its_height(self) -> None:
        below = self.cavity("top", "bottom").value("Rayleigh number of air")
        self.assertAlmostEqual(below / self.cavity("left", "right", "height").value("Rayleigh number of air"), 1.0, delta=1e-6)
