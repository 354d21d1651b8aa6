"""Conduction: exact solutions, on orthogonal and skewed polygons, second order, conservative to round-off."""

from __future__ import annotations

import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from tests.support import quads, triangles
from wattikos_core.case import read_case
from wattikos_core.grid import Grid
from wattikos_core.materials import constant_table
from wattikos_core.physics import Condition, Problem, build_problem
from wattikos_core.solve import SolveSettings, solve_steady
from wattikos_core.studies import solve_case

SOLID = constant_table("solid", density=1.0, specific_heat=1.0, viscosity=0.0, conductivity=2.0)


def solved(problem: Problem) -> np.ndarray:
    solution = solve_steady(problem, SolveSettings(tolerance=1e-11))
    assert solution.converged
    return solution.state.stretched


class CompositeWall(unittest.TestCase):
    def test_layers_in_series_are_exact(self) -> None:
        """Three layers between two temperatures: q = ΔT / Σ(L/k), exact."""
        layers = (("pvc", 0.17, 2.0), ("polyethylene_hd", 0.50, 5.0), ("mineral_wool", 0.040, 40.0))
        parts: list[dict[str, Any]] = []
        x = 0.0
        for name, _, thickness in layers:
            shape = {"type": "rectangle", "x": f"{x} mm", "y": "0 m", "width": f"{thickness} mm", "height": "10 mm"}
            parts.append({"name": name, "material": name, "shape": shape})
            x += thickness
        walls = [("pvc, left", "60 °C"), ("mineral_wool, right", "20 °C")]
        conditions = [
            {"type": "wall", "boundaries": [name], "thermal": "temperature", "temperature": value} for name, value in walls
        ]
        # Wool that conducts the same at all temperatures.
        parts[-1]["material"] = "wool"
        materials = {"wool": {"base": "mineral_wool", "conductivity": "0.04 W/m/K"}}
        document = {"title": "wall", "inputs": {}, "materials": materials, "section": {"parts": parts}, "conditions": conditions}
        run = solve_case(read_case(document))
        flux = 40.0 / sum(1e-3 * thickness / k for _, k, thickness in layers)
        self.assertAlmostEqual(run.value("heat out through mineral_wool, right") / (flux * 0.010), 1.0, places=9)
        self.assertAlmostEqual(run.value("heat from pvc to polyethylene_hd") / (flux * 0.010), 1.0, places=9)
        self.assertLess(run.value("heat balance"), 1e-9)

    def test_hollow_cylinder(self) -> None:
        """Radial conduction: Q = 2πkL ΔT / ln(r2/r1), exact; second-order error on a radial grid."""
        errors = []
        for n in (10, 20):
            grid = quads(np.linspace(0.0, 1.0, 3), np.linspace(1.0, 3.0, n + 1), axisymmetric=True)
            inside, outside = Condition("wall", temperature=400.0), Condition("wall", temperature=300.0)
            problem = build_problem(grid, [SOLID], {"fluid, bottom": inside, "fluid, top": outside})
            exact = 300.0 + 100.0 * np.log(3.0 / grid.centre[:, 1]) / np.log(3.0)
            errors.append(float(np.abs(solved(problem) - exact).max()))
        self.assertLess(errors[1], 0.2)
        self.assertGreater(np.log2(errors[0] / errors[1]), 1.8)


class Skewed(unittest.TestCase):
    walls = ("left", "right", "bottom", "top")

    def linear(self, grid: Grid) -> float:
        """Largest error for the field T = 300 + 10x + 4y, which the corrections must reproduce."""
        exact = 300.0 + 10.0 * grid.centre[:, 0] + 4.0 * grid.centre[:, 1]
        problem = build_problem(grid, [SOLID], {f"fluid, {side}": Condition("wall", temperature=300.0) for side in self.walls})
        temperature = problem.given.temperature.copy()
        outer = grid.neighbour < 0
        temperature[outer] = 300.0 + 10.0 * grid.face_centre[outer, 0] + 4.0 * grid.face_centre[outer, 1]
        problem = replace(problem, given=problem.given._replace(temperature=temperature))
        return float(np.abs(solved(problem) - exact).max())

    def test_linear_fields_are_exact_on_any_polygons(self) -> None:
        lines = np.linspace(0.0, 1.0, 9)
        self.assertLess(self.linear(quads(lines, lines, shake=0.3)), 1e-8)
        self.assertLess(self.linear(triangles(6)), 1e-8)

    def manufactured(self, grid: Grid) -> float:
        """Root-mean-square error for T = 300 + sin(πx) sin(πy), driven by its source 2π²k sin sin."""
        shape = np.sin(np.pi * grid.centre[:, 0]) * np.sin(np.pi * grid.centre[:, 1])
        source = 2.0 * np.pi**2 * 2.0 * shape
        conditions = {f"fluid, {side}": Condition("wall", temperature=300.0) for side in self.walls}
        t = solved(build_problem(grid, [SOLID], conditions, source=source))
        return float(np.sqrt(np.average((t - 300.0 - shape) ** 2, weights=grid.volume)))

    def test_second_order_with_a_source(self) -> None:
        for make in (lambda n: quads(np.linspace(0, 1, n + 1), np.linspace(0, 1, n + 1), shake=0.25), triangles):
            errors = [self.manufactured(make(n)) for n in (8, 16, 32)]
            self.assertGreater(np.log2(errors[1] / errors[2]), 1.8)

    def test_balance_closes_on_skewed_cells(self) -> None:
        grid = triangles(8)
        conditions = {"fluid, left": Condition("wall", temperature=350.0), "fluid, right": Condition("wall", heat_flux=-100.0)}
        solution = solve_steady(build_problem(grid, [SOLID], conditions), SolveSettings(tolerance=1e-11))
        self.assertLess(solution.history[-1]["heat balance"], 1e-9)


class TemperatureDependence(unittest.TestCase):
    def test_conductivity_that_varies(self) -> None:
        """With k(T) linear, the flux through a slab is k at the mean temperature times ΔT/L (Kirchhoff), exact."""
        shape = {"type": "rectangle", "width": "50 mm", "height": "10 mm"}
        data: dict[str, Any] = {
            "title": "slab",
            "inputs": {},
            "section": {"parts": [{"name": "slab", "material": "stainless_304", "shape": shape}]},
            "conditions": [
                {"type": "wall", "boundaries": ["slab, left"], "thermal": "temperature", "temperature": "390 K"},
                {"type": "wall", "boundaries": ["slab, right"], "thermal": "temperature", "temperature": "310 K"},
            ],
            "grid": {"fineness": 4.0},
        }
        heat = solve_case(read_case(data)).value("heat out through slab, right")
        k_mean = 14.9 + (16.6 - 14.9) * 0.5
        self.assertAlmostEqual(heat / (k_mean * 80.0 / 0.05 * 0.01), 1.0, delta=2e-4)
