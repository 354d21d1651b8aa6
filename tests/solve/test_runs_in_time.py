"""Runs in time at default settings against exact solutions: the error a user gets, on several grids, and the order in fixed steps.

Series of Fourier and Bessel functions: Carslaw and Jaeger (1959), sections 3.11 and 7.7; melting: section 11.2 (Neumann).
"""

from __future__ import annotations

import unittest
from dataclasses import replace
from typing import Any

import numpy as np
from django.test import tag
from numpy.typing import NDArray
from scipy.optimize import brentq
from scipy.special import erf, j0, j1

from tests.states import plane_state
from tests.support import quads
from wattikos_core.case import read_case
from wattikos_core.materials import constant_melting_table, constant_table
from wattikos_core.physics import Condition, FlowPhysics, beginning_at, build_problem, properties_of
from wattikos_core.physics.faces import STATIC_PRESSURE
from wattikos_core.physics.properties import liquid_fractions
from wattikos_core.solve import TimeSettings, solve_in_time
from wattikos_core.solve.start import initial_state, stretched
from wattikos_core.studies import Result, solve_case

Array = NDArray[np.float64]
LENGTH, CONDUCTIVITY, HEAT, FILM = 0.02, 10.0, 1e6, 1000.0
DIFFUSIVITY = CONDUCTIVITY / HEAT
METAL = {"base": "aluminium", "density": "2000 kg/m^3", "specific_heat": "500 J/kg/K", "conductivity": "10 W/m/K"}


def roots_of(function: Any, count: int = 400, upto: float = 400.0) -> Array:
    """Zeros of a function between 0 and a limit."""
    places = np.linspace(1e-6, upto, 40 * count)
    values = np.array([function(x) for x in places])
    signs = np.nonzero(np.diff(np.sign(values)) != 0)[0]
    return np.array([brentq(function, places[i], places[i + 1], xtol=1e-14) for i in signs])


def part(name: str, x: float, width: float, height: float) -> dict[str, Any]:
    shape = {"type": "rectangle", "x": f"{x} m", "y": "0 m", "width": f"{width} m", "height": f"{height} m"}
    return {"name": name, "material": "s", "shape": shape}


def in_time(document: dict[str, Any], fineness: float, end: float, **wishes: Any) -> Result:
    given = {"end": f"{end} s", "temperature": "400 K", "every": f"{end} s", **wishes}
    whole = {
        "title": "run",
        "inputs": {},
        "materials": {"s": METAL},
        "physics": {"regime": "time"},
        "grid": {"fineness": fineness},
        "time": given,
        **document,
    }
    return solve_case(read_case(whole))


def slab(height: float = 0.002) -> dict[str, Any]:
    """A plate that is adiabatic on its left and cooled on its right: 400 K at first, a film of 1000 W/(m2 K) to 300 K."""
    cooled = {
        "type": "wall",
        "boundaries": ["s, right"],
        "thermal": "convection",
        "heat_transfer_coefficient": "1000 W/m^2/K",
        "ambient_temperature": "300 K",
    }
    still = {"type": "symmetry", "boundaries": ["s, top", "s, bottom"]}
    return {"section": {"extent": "flat", "parts": [part("s", 0.0, LENGTH, height)]}, "conditions": [cooled, still]}


def slab_exactly(x: Array, time: float) -> Array:
    """Biot number 2."""
    biot = FILM * LENGTH / CONDUCTIVITY
    z = roots_of(lambda z: z * np.sin(z) - biot * np.cos(z))
    weight = 4.0 * np.sin(z) / (2.0 * z + np.sin(2.0 * z)) * np.exp(-(z**2) * DIFFUSIVITY * time / LENGTH**2)
    return 300.0 + 100.0 * weight @ np.cos(np.outer(z, x / LENGTH))


class Slab(unittest.TestCase):
    def error(self, fineness: float, **wishes: Any) -> float:
        """Largest error of the profile after 20 s, as a share of the 100 K there were at first."""
        run = in_time(slab(), fineness, 20.0, **wishes)
        self.assertLess(run.value("heat balance"), 1e-8)
        return float(np.abs(run.evaluation.temperature - slab_exactly(run.problem.grid.centre[:, 0], 20.0)).max()) / 100.0

    def test_at_default_settings(self) -> None:
        """It was 0.2, 0.7, 3.2, 4.4 and 9.7 % once, growing with the grid, with a closed balance."""
        for fineness in (0.5, 1.0, 2.0, 4.0, 8.0):
            self.assertLess(self.error(fineness), 1e-4, fineness)

    def test_second_order_in_fixed_steps_on_every_grid(self) -> None:
        for fineness in (2.0, 4.0, 8.0):
            a, b, c = (self.temperatures(fineness, steps) for steps in (10, 20, 40))
            # Differences between runs of one grid leave the grid's own error out.
            self.assertAlmostEqual(float(np.log2(np.abs(a - b).max() / np.abs(b - c).max())), 2.0, delta=0.1)

    def temperatures(self, fineness: float, steps: int) -> Array:
        return in_time(slab(), fineness, 20.0, first_step=f"{20.0 / steps} s", fixed=True).evaluation.temperature

    def test_error_falls_with_the_grid_where_steps_are_short(self) -> None:
        a, b, c = (self.error(fineness, first_step="0.25 s", fixed=True) for fineness in (0.5, 1.0, 2.0))
        self.assertLess(b, 0.5 * a)
        self.assertLess(c, 0.6 * b)


class Cylinder(unittest.TestCase):
    def test_at_default_settings(self) -> None:
        """Biot number 2 again; roots of ζ J1(ζ) = Bi J0(ζ)."""
        cooled = {
            "type": "wall",
            "boundaries": ["s, top"],
            "thermal": "convection",
            "heat_transfer_coefficient": "1000 W/m^2/K",
            "ambient_temperature": "300 K",
        }
        document = {
            "section": {"extent": "axisymmetric", "parts": [part("s", 0.0, 0.002, LENGTH)]},
            "conditions": [cooled, {"type": "symmetry", "boundaries": ["s, left", "s, right"]}],
        }
        z = roots_of(lambda z: z * j1(z) - 2.0 * j0(z))
        weight = 2.0 / z * j1(z) / (j0(z) ** 2 + j1(z) ** 2) * np.exp(-(z**2) * DIFFUSIVITY * 10.0 / LENGTH**2)
        for fineness in (1.0, 2.0):
            run = in_time(document, fineness, 10.0)
            exact = 300.0 + 100.0 * weight @ j0(np.outer(z, run.problem.grid.centre[:, 1] / LENGTH))
            self.assertLess(float(np.abs(run.evaluation.temperature - exact).max()) / 100.0, 1e-4)


class Contact(unittest.TestCase):
    def test_at_default_settings(self) -> None:
        """Two plates with a resistance between them, one side adiabatic, the other held: cos βx and C sin β(L - x)."""
        resistance, a, b = 1e-3, 0.012, 0.008
        document = {
            "section": {"extent": "flat", "parts": [part("one", 0.0, a, 0.002), part("two", a, b, 0.002)]},
            "conditions": [{"type": "wall", "boundaries": ["two, right"], "thermal": "temperature", "temperature": "300 K"}],
            "contacts": [{"between": ["one", "two"], "resistance": f"{resistance} m^2*K/W"}],
        }
        end = 20.0

        def mismatch(beta: float) -> float:
            inner = np.cos(beta * a) - resistance * CONDUCTIVITY * beta * np.sin(beta * a)
            return float(inner * np.cos(beta * b) - np.sin(beta * a) * np.sin(beta * b))

        beta = roots_of(mismatch, upto=4e4)
        factor = np.sin(beta * a) / np.cos(beta * b)
        whole = np.sin(beta * a) / beta + factor * (1.0 - np.cos(beta * b)) / beta
        square = 0.5 * a + np.sin(2.0 * beta * a) / (4.0 * beta)
        square += factor**2 * (0.5 * b - np.sin(2.0 * beta * b) / (4.0 * beta))
        weight = whole / square * np.exp(-(beta**2) * DIFFUSIVITY * end)
        for fineness in (1.0, 2.0):
            run = in_time(document, fineness, end)
            x = run.problem.grid.centre[:, 0]
            shapes = np.where(x < a, np.cos(np.outer(beta, x)), factor[:, None] * np.sin(np.outer(beta, a + b - x)))
            error = run.evaluation.temperature - (300.0 + 100.0 * weight @ shapes)
            self.assertLess(float(np.abs(error).max()) / 100.0, 1e-4)


class StartedDuct(unittest.TestCase):
    """u/u_max = 1 - y² - Σ 32 (-1)^n/((2n+1)π)³ cos(…) exp(…): for example White (2006), Viscous Fluid Flow, section 3-5."""

    def velocity(self, cells: int, **settings: Any) -> tuple[Array, Array]:
        grid = quads(np.linspace(0.0, 4.0, 3), np.linspace(0.0, 1.0, cells + 1))
        fluid = constant_table("fluid", density=1.0, specific_heat=1.0, viscosity=1.0, conductivity=1.0)
        conditions = {
            "fluid, left": Condition("outlet", pressure=8.0, fed=STATIC_PRESSURE, temperature=300.0),
            "fluid, right": Condition("outlet"),
            "fluid, bottom": Condition("symmetry"),
            "fluid, top": Condition("wall", temperature=300.0),
        }
        problem = build_problem(grid, [fluid], conditions, physics=FlowPhysics(in_time=True))
        zero = np.zeros(grid.n_cells)
        start = plane_state(zero, zero, zero, zero + 300.0, zero)
        wishes = TimeSettings(end=0.3, **{"tolerance": 2e-5, **settings})
        done = solve_in_time(lambda time: problem, wishes, (start, zero))
        return grid.centre[:, 1], done.last.iterate.state.velocity[:, 0]

    def test_at_default_settings(self) -> None:
        n = np.arange(60)
        k = (2 * n + 1) * np.pi / 2.0
        weight = 4.0 * (-1.0) ** n / k**3 * np.exp(-(k**2) * 0.3)
        errors = []
        for cells in (16, 32, 64):
            y, u = self.velocity(cells)
            errors.append(float(np.abs(u - (1.0 - y**2 - weight @ np.cos(np.outer(k, y)))).max()))
        self.assertLess(errors[2], 2e-4)
        self.assertLess(errors[1], 0.4 * errors[0])

    @tag("slow")
    def test_second_order_in_fixed_steps(self) -> None:
        a, b, c = (self.velocity(16, step=0.3 / steps, fixed=True)[1] for steps in (10, 20, 40))
        self.assertAlmostEqual(float(np.log2(np.abs(a - b).max() / np.abs(b - c).max())), 2.0, delta=0.1)


class ConvectingTank(unittest.TestCase):
    """A tank that its sides stir, against the same tank in 200 fixed steps: there is no exact solution."""

    END = 10.0
    reference: Result

    @classmethod
    def setUpClass(cls) -> None:
        cls.reference = cls.tank(first_step="0.05 s", fixed=True)

    @classmethod
    def tank(cls, **time: Any) -> Result:
        shape = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "80 mm", "height": "40 mm"}
        sides = (("left", "34 °C"), ("right", "20 °C"))
        held = [
            {"type": "wall", "boundaries": [f"water, {side}"], "thermal": "temperature", "temperature": value}
            for side, value in sides
        ]
        return solve_case(
            read_case(
                {
                    "title": "tank",
                    "inputs": {},
                    "section": {"extent": "flat", "parts": [{"name": "water", "material": "water", "shape": shape}]},
                    "conditions": [*held, {"type": "wall", "boundaries": ["water, top", "water, bottom"]}],
                    "physics": {"regime": "time", "gravity_y": "-9.81 m/s^2"},
                    # 696 cells: at fineness 1 a run in time is gridded for its layers.
                    "grid": {"fineness": 0.35},
                    "time": {"end": f"{cls.END} s", "every": f"{cls.END} s", "temperature": "30 °C", **time},
                }
            )
        )

    def error(self, run: Result) -> float:
        """Root mean square over the cells, as a share of what the sides differ by."""
        return float(np.sqrt(np.mean((run.evaluation.temperature - self.reference.evaluation.temperature) ** 2))) / 14.0

    def test_it_flows(self) -> None:
        self.assertGreater(float(self.reference.solution.state.speed.max()), 5e-3)

    def test_at_default_settings(self) -> None:
        self.assertLess(self.error(self.tank()), 5e-4)

    def test_second_order_in_fixed_steps(self) -> None:
        coarse, fine = (self.error(self.tank(first_step=f"{step} s", fixed=True)) for step in (0.4, 0.2))
        self.assertLess(coarse, 5e-4)
        self.assertGreater(np.log2(coarse / fine), 1.8)


class OnePhaseStefan(unittest.TestCase):
    """A solid at its melting point, heated from its left: 2 λ √t, λ exp(λ²) erf(λ) = Ste/√π."""

    def melted(self, cells: int, stefan: float) -> tuple[float, int, float]:
        """Melted share of the bar over the exact one, steps taken, and Krylov iterations a step."""
        wax = constant_melting_table(
            "wax",
            melts=(299.9995, 300.0005),
            latent_heat=10.0 / stefan,
            density=1.0,
            specific_heat=(1.0, 1.0),
            conductivity=(1.0, 1.0),
        )
        grid = quads(np.linspace(0.0, 1.0, cells + 1), np.linspace(0.0, 0.1, 2))
        held = {"fluid, left": Condition("wall", temperature=310.0)}
        problem = build_problem(grid, [wax], held, physics=FlowPhysics(in_time=True))
        start = initial_state(problem)
        start = replace(start, stretched=stretched(problem, np.full(grid.n_cells, 299.9995)))
        problem = beginning_at(problem, properties_of(problem, start).temperature)
        root = brentq(lambda x: x * np.exp(x**2) * erf(x) - stefan / np.sqrt(np.pi), 0.01, 2.0)
        end = (0.7 / (2.0 * root)) ** 2
        done = solve_in_time(lambda time: problem, TimeSettings(end=end, tolerance=2e-5), (start, np.zeros(grid.n_cells)))
        self.assertLess(done.history[-1]["heat balance"], 1e-8)
        liquid = float(liquid_fractions(problem.cells, problem.tables, done.last.iterate.state.stretched).mean())
        effort = float(np.mean([row["inner iterations"] for row in done.history[1:]]))
        return liquid / 0.7, len(done.history) - 1, effort

    def test_front_and_cost(self) -> None:
        for stefan in (0.1, 0.5):
            coarse, few, _ = self.melted(22, stefan)
            fine, many, effort = self.melted(85, stefan)
            self.assertAlmostEqual(fine, 1.0, delta=1e-3)
            self.assertLess(abs(fine - 1.0), 0.5 * abs(coarse - 1.0))
            # Once a grid four times as fine took thirty times as many steps.
            self.assertLess(many, 2 * few)
            self.assertLess(effort, 8.0)


class ShortSteps(unittest.TestCase):
    def test_a_stream_of_one_temperature_past_a_cylinder(self) -> None:
        """Steps far shorter than a cell takes to be crossed: pressure answers slowly; and no temperature differs anywhere."""
        fluid = {"base": "water", "density": "1 kg/m^3", "specific_heat": "1000 J/kg/K", "viscosity": "0.001 Pa*s"}
        channel = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "1 m", "height": "0.41 m"}
        bar = {"type": "circle", "x": "0.2 m", "y": "0.2 m", "diameter": "0.1 m"}
        inlet = {"type": "inlet", "boundaries": ["f, left"], "velocity": "1 m/s", "temperature": "20 degC", "profile": "developed"}
        document = {
            "title": "cylinder",
            "inputs": {},
            "materials": {"f": fluid | {"conductivity": "1 W/m/K"}},
            "section": {
                "extent": "flat",
                "parts": [
                    {"name": "f", "material": "f", "shape": channel},
                    {"name": "bar", "material": "aluminium", "shape": bar},
                ],
            },
            "conditions": [inlet, {"type": "outlet", "boundaries": ["f, right"]}],
            "grid": {"fineness": 0.5},
            "physics": {"regime": "time"},
            "time": {"end": "0.02 s", "first_step": "1 ms", "fixed": True, "every": "0.02 s"},
        }
        run = solve_case(read_case(document))
        self.assertTrue(run.solution.converged)
        self.assertLessEqual(len(run.solution.history), 26)
        self.assertLess(run.value("mass balance"), 1e-6)
