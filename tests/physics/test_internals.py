"""Fans, resistances and porous parts against exact solutions, on several grids."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from django.test import tag
from scipy.optimize import brentq

from tests.sections import Document, held, rectangle, section_case
from wattikos_core.case import resolve
from wattikos_core.grid import grid_section
from wattikos_core.internals.porous import ergun
from wattikos_core.physics import Problem, State, problem_of, properties_of
from wattikos_core.physics.faces import OUTLET
from wattikos_core.physics.internals import Fan
from wattikos_core.section import paint
from wattikos_core.solve import Solution, solve_steady
from wattikos_core.solve.iterate import evaluate_state
from wattikos_core.studies import solve_case

POINTS = [["0 m^3/s", "4 Pa"], ["0.02 m^3/s", "2 Pa"], ["0.03 m^3/s", "0 Pa"]]
FAN = {"type": "fan", "points": POINTS}
GAP = 0.02
# As air, but with a density that does not follow the pressure, which changes it by 1e-5 here: made of a liquid.
PLAIN = {
    "plain": {
        "base": "water",
        "density": "1.2 kg/m^3",
        "viscosity": "1.8e-5 Pa*s",
        "specific_heat": "1006 J/kg/K",
        "conductivity": "0.026 W/m/K",
    }
}


def fan_at(name: str, x: str, y: str = "0 m", height: str = "20 mm", **fields: Any) -> Document:
    return rectangle(name, "plain", x, y, "10 mm", height, internal={**FAN, **fields})


def screen_at(name: str, x: str, loss: str) -> Document:
    return rectangle(name, "plain", x, "0 m", "4 mm", "20 mm", internal={"type": "resistance", "loss": loss})


def solved(*inside: Document, fineness: float = 0.5, slip: bool = True, **more: Any) -> tuple[Problem, Solution]:
    """A duct 300 mm long and 20 mm high, open at both ends, with what stands in it; without friction on its walls."""
    parts = [rectangle("duct", "plain", "0 m", "0 m", "300 mm", "20 mm"), *inside]
    around = [f"{part['name']}, {side}" for part in parts for side in ("top", "bottom")]
    conditions: list[Document] = [{"type": "opening", "boundaries": ["duct, left", "duct, right"], "temperature": "20 °C"}]
    if slip:
        conditions.append({"type": "symmetry", "boundaries": around})
    resolved = resolve(section_case(*parts, conditions=conditions, fineness=fineness, materials=PLAIN, **more))
    problem = problem_of(resolved, grid_section(resolved, paint(resolved), fineness))
    return problem, solve_steady(problem)


def flows(problem: Problem, state: State) -> list[float]:
    return [fan.flow(state.velocity) for fan in problem.fans]


def exact_flow(problem: Problem, state: State, rise: Any, loss: float) -> float:
    """Where rises and losses meet without friction: what enters from rest has a velocity head to pay too."""
    density = float(properties_of(problem, state).density[0])
    return float(brentq(lambda q: float(rise(q)) - 0.5 * density * (q / GAP) ** 2 * (1.0 + loss), 1e-6, 0.1))


class OperatingPoint(unittest.TestCase):
    def test_where_curve_and_system_meet_on_every_grid(self) -> None:
        for fineness, loss in ((0.5, 5.0), (1.0, 5.0), (0.5, 500.0)):
            with self.subTest(fineness=fineness, loss=loss):
                problem, solution = solved(fan_at("fan", "200 mm"), screen_at("screen", "100 mm", f"{loss}"), fineness=fineness)
                self.assertTrue(solution.converged)
                exact = exact_flow(problem, solution.state, problem.fans[0].given.curve, loss)
                self.assertAlmostEqual(flows(problem, solution.state)[0] / exact, 1.0, delta=1e-7)

    def test_one_behind_the_other(self) -> None:
        problem, solution = solved(fan_at("first", "150 mm"), fan_at("second", "200 mm"), screen_at("screen", "100 mm", "5"))
        exact = exact_flow(problem, solution.state, lambda q: 2.0 * float(problem.fans[0].given.curve(q)), 5.0)
        np.testing.assert_allclose(flows(problem, solution.state), exact, rtol=1e-7)

    def test_side_by_side(self) -> None:
        """Two that fill the duct together: each passes half, since a curve is of one fan."""
        pair = fan_at("lower", "200 mm", "0 m", "10 mm"), fan_at("upper", "200 mm", "10 mm", "10 mm")
        parts = [rectangle("duct", "plain", "0 m", "0 m", "300 mm", "20 mm"), *pair]
        around = ["duct, top", "duct, bottom", "upper, top", "lower, bottom"]
        conditions = [
            {"type": "opening", "boundaries": ["duct, left", "duct, right"], "temperature": "20 °C"},
            {"type": "symmetry", "boundaries": around},
        ]
        resolved = resolve(section_case(*parts, conditions=conditions, materials=PLAIN))
        problem = problem_of(resolved, grid_section(resolved, paint(resolved), 0.5))
        solution = solve_steady(problem)
        exact = exact_flow(problem, solution.state, lambda q: float(problem.fans[0].given.curve(0.5 * q)), 0.0)
        np.testing.assert_allclose(flows(problem, solution.state), 0.5 * exact, rtol=1e-7)

    def test_turned_round_it_blows_the_other_way(self) -> None:
        problem, solution = solved(fan_at("fan", "200 mm", turned=True))
        one = flows(problem, solution.state)[0]
        self.assertAlmostEqual(one / exact_flow(problem, solution.state, problem.fans[0].given.curve, 0.0), 1.0, delta=1e-7)
        self.assertLess(float(solution.state.velocity[:, 0].max()), 0.0)

    def test_a_part_that_stands_for_three(self) -> None:
        problem, solution = solved(fan_at("fan", "200 mm", stands_for="3"))
        exact = exact_flow(problem, solution.state, lambda q: float(problem.fans[0].given.curve(q / 3.0)), 0.0)
        self.assertAlmostEqual(flows(problem, solution.state)[0] / exact, 1.0, delta=1e-7)

    def test_with_walls_from_rest(self) -> None:
        """A laminar channel at a Reynolds number of 1,600, from rest without help."""
        problem, solution = solved(fan_at("fan", "200 mm"), screen_at("screen", "100 mm", "5"), slip=False)
        self.assertTrue(solution.converged)
        self.assertLess(len(solution.history), 30)
        self.assertLess(flows(problem, solution.state)[0], exact_flow(problem, solution.state, problem.fans[0].given.curve, 5.0))

    def test_its_shaft_warms_the_stream(self) -> None:
        problem, solution = solved(fan_at("fan", "200 mm", efficiency="0.4"))
        fan = problem.fans[0]
        (flow,) = flows(problem, solution.state)
        power = flow * fan.rise(flow) / 0.4
        density = float(problem.materials[0].density(293.15))
        rise = power / (flow * density * float(problem.materials[0].specific_heat(293.15)))
        behind = problem.grid.centre[:, 0] > 0.25
        self.assertAlmostEqual(float(solution.state.stretched[behind].mean() - 293.15) / rise, 1.0, delta=2e-3)
        self.assertLess(solution.history[-1]["heat balance"], 1e-9)

    def test_the_swirl_it_leaves(self) -> None:
        """Angular momentum ρ Q ω r², exact without friction on walls."""
        fan = {"type": "fan", "rise": "0.05 Pa", "swirl": "0.1 rad/s"}
        parts = [
            rectangle("duct", "plain", "0 m", "10 mm", "200 mm", "40 mm"),
            rectangle("fan", "plain", "90 mm", "10 mm", "20 mm", "40 mm", internal=fan),
        ]
        around = [f"{name}, {side}" for name in ("duct", "fan") for side in ("top", "bottom")]
        conditions = [
            {"type": "opening", "boundaries": ["duct, left", "duct, right"], "temperature": "20 °C"},
            {"type": "symmetry", "boundaries": around},
        ]
        resolved = resolve(section_case(*parts, conditions=conditions, materials=PLAIN, axisymmetric=True))
        problem = problem_of(resolved, grid_section(resolved, paint(resolved), 0.5))
        solution = solve_steady(problem)
        self.assertTrue(solution.converged)
        self.assertIsInstance(problem.internals[0], Fan)
        ends = problem.faces.kind == OUTLET
        flow = evaluate_state(problem, solution.state, solution.interpolation).flow
        cells = problem.faces.owner
        out = ends & (flow > 0.0)
        torque = float((flow[out] * solution.state.angular_velocity[cells[out]] * problem.cells.radius[cells[out]] ** 2).sum())
        wanted = float((flow[out] * 0.1 * problem.cells.radius[cells[out]] ** 2).sum())
        self.assertAlmostEqual(torque / wanted, 1.0, delta=0.02)


class Beds(unittest.TestCase):
    def bed(self, internal: Document, *, slip: bool, fineness: float, speed: str = "0.05 m/s") -> tuple[Problem, Solution]:
        parts = [
            rectangle("duct", "water", "0 m", "0 m", "300 mm", "20 mm"),
            rectangle("bed", "water", "100 mm", "0 m", "100 mm", "20 mm", internal=internal),
        ]
        conditions: list[Document] = [
            {"type": "inlet", "boundaries": ["duct, left"], "velocity": speed, "temperature": "20 °C"},
            {"type": "outlet", "boundaries": ["duct, right"]},
        ]
        if slip:
            around = [f"{name}, {side}" for name in ("duct", "bed") for side in ("top", "bottom")]
            conditions.append({"type": "symmetry", "boundaries": around})
        resolved = resolve(section_case(*parts, conditions=conditions))
        problem = problem_of(resolved, grid_section(resolved, paint(resolved), fineness))
        return problem, solve_steady(problem)

    def test_ergun_in_even_flow_whatever_the_grid(self) -> None:
        viscous, inertial = ergun(0.002, 0.4)
        for fineness in (0.5, 1.0):
            with self.subTest(fineness=fineness):
                internal = {"type": "porous", "porosity": "0.4", "grain_size": "2 mm"}
                problem, solution = self.bed(internal, slip=True, fineness=fineness)
                water = problem.materials[0]
                viscosity, density = float(water.viscosity(293.15)), float(water.density(293.15))
                exact = 0.1 * (viscosity * viscous * 0.05 + 0.5 * density * inertial * 0.05**2)
                ahead = problem.grid.centre[:, 0] < 0.1
                self.assertAlmostEqual(float(solution.state.pressure[ahead].mean()) / exact, 1.0, delta=1e-7)
                self.assertLess(float(np.abs(solution.state.velocity - [0.05, 0.0]).max()), 1e-6)

    def test_a_darcy_brinkman_channel(self) -> None:
        """Between walls the speed is U (1 - cosh(y/√K)/cosh(h/√K)) with K = 1/D: exact; of second order."""
        errors = []
        for fineness in (1.0, 2.0):
            internal = {"type": "porous", "porosity": "0.9", "viscous": "1e6 1/m^2"}
            problem, solution = self.bed(internal, slip=False, fineness=fineness, speed="0.005 m/s")
            grid = problem.grid
            inside = np.nonzero(np.abs(grid.centre[:, 0] - 0.17) < 0.01)[0]
            y, layer = grid.centre[inside, 1] - 0.01, 1e-3
            shape = 1.0 - np.cosh(y / layer) / np.cosh(0.01 / layer)
            mean = 1.0 - layer / 0.01 * np.tanh(0.01 / layer)
            errors.append(float(np.abs(solution.state.velocity[inside, 0] / 0.005 - shape / mean).max()))
        self.assertLess(errors[0], 0.015)
        self.assertLess(errors[1], errors[0] / 3.0)

    def test_a_firm_bed_converges_as_fast_as_a_loose_one(self) -> None:
        for grain in ("20 mm", "0.5 mm"):
            with self.subTest(grain=grain):
                internal = {"type": "porous", "porosity": "0.4", "grain_size": grain}
                _, solution = self.bed(internal, slip=False, fineness=0.5)
                self.assertTrue(solution.converged)
                self.assertLess(len(solution.history), 20)


class Turbulent(unittest.TestCase):
    @tag("slow")
    def test_a_fan_drives_a_turbulent_channel_from_rest(self) -> None:
        problem, solution = solved(fan_at("fan", "200 mm"), slip=False, physics={"flow": "turbulent"})
        self.assertTrue(solution.converged and bool(problem.turbulent.any()))


class Matrix(unittest.TestCase):
    def test_a_warm_front_moves_with_the_heat_that_fluid_and_matrix_hold(self) -> None:
        """Its mean place is u ρ c t over ε ρ c + (1 - ε) ρ_s c_s: exact where all is conserved and as warm as each other."""
        solid = {"base": "glass", "density": "2500 kg/m^3", "specific_heat": "800 J/kg/K", "conductivity": "0.1 W/m/K"}
        internal = {"type": "porous", "porosity": "0.4", "grain_size": "4 mm", "matrix": "grains"}
        bed = rectangle("bed", "plain", "0 m", "0 m", "200 mm", "20 mm", internal=internal)
        conditions: list[Document] = [
            {"type": "inlet", "boundaries": ["bed, left"], "velocity": "0.5 m/s", "temperature": "60 °C"},
            {"type": "outlet", "boundaries": ["bed, right"]},
            {"type": "symmetry", "boundaries": ["bed, top", "bed, bottom"]},
        ]
        materials = {**PLAIN, "grains": solid}
        more: dict[str, Any] = {"physics": {"regime": "time"}, "time": {"end": "200 s", "temperature": "20 °C"}}
        run = solve_case(section_case(bed, conditions=conditions, materials=materials, fineness=1.0, **more))
        capacity = 0.4 * 1.2 * 1006.0 + 0.6 * 2500.0 * 800.0
        place = 0.5 * 1.2 * 1006.0 * 200.0 / capacity
        grid, temperature = run.problem.grid, run.solution.state.stretched
        warmed = float((grid.volume * (temperature - 293.15) / 40.0).sum()) / 0.02
        # What is conducted in through the inlet comes on top: as far as it reaches, once.
        reach = (0.4 * 0.026 + 0.6 * 0.1) / (0.5 * 1.2 * 1006.0)
        self.assertAlmostEqual(warmed / place, 1.0, delta=2.0 * reach / place)
        self.assertLess(2.0 * reach / place, 0.01)

    def test_it_conducts_as_told_along_and_across(self) -> None:
        """Beds at rest, warm at one side and cold at the other: exact both ways, and turned."""
        for ends, axis, others, expected in (
            (("left", "right"), 0.05, ("top", "bottom"), 3.0 * 0.02),
            (("bottom", "top"), 0.02, ("left", "right"), 0.5 * 0.05),
        ):
            for turned in ("", "90 deg"):
                internal = {"type": "porous", "grain_size": "4 mm", "conductivity": "3 W/m/K", "conductivity_across": "0.5 W/m/K"}
                if turned:
                    internal |= {"conductivity": "0.5 W/m/K", "conductivity_across": "3 W/m/K", "direction": turned}
                bed = rectangle("bed", "plain", "0 m", "0 m", "50 mm", "20 mm", internal=internal)
                conditions = [held(f"bed, {ends[0]}", at="40 °C"), held(f"bed, {ends[1]}", at="20 °C")]
                conditions.append({"type": "symmetry", "boundaries": [f"bed, {side}" for side in others]})
                run = solve_case(section_case(bed, conditions=conditions, materials=PLAIN, fineness=0.5))
                self.assertAlmostEqual(run.value(f"heat out through bed, {ends[1]}") / (expected * 20.0 / axis), 1.0, delta=1e-9)

    def test_it_conducts_beside_the_fluid(self) -> None:
        """A bed at rest between two temperatures passes ε k_f + (1 - ε) k_s over its length: exact."""
        solid = {"base": "glass", "conductivity": "2 W/m/K"}
        internal = {"type": "porous", "porosity": "0.25", "grain_size": "4 mm", "matrix": "grains"}
        bed = rectangle("bed", "plain", "0 m", "0 m", "50 mm", "20 mm", internal=internal)
        conditions = [held("bed, left", at="40 °C"), held("bed, right", at="20 °C")]
        run = solve_case(section_case(bed, conditions=conditions, materials={**PLAIN, "grains": solid}, fineness=0.5))
        exact = (0.25 * 0.026 + 0.75 * 2.0) * 20.0 / 0.05 * 0.02
        self.assertAlmostEqual(run.value("heat out through bed, right") / exact, 1.0, delta=1e-9)
