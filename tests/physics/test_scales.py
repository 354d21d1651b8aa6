"""What residuals and errors are measured against: nothing may depend on what stands somewhere else."""

from __future__ import annotations

import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from wattikos_core.case import read_case
from wattikos_core.solve.convergence import imbalances
from wattikos_core.studies import Result, solve_case


def box(name: str, material: str, x: float, y: float, width: float, height: float, **more: str) -> dict[str, Any]:
    """A rectangle by its corner and its sides in mm."""
    shape = {"type": "rectangle", "x": f"{x} mm", "y": f"{y} mm", "width": f"{width} mm", "height": f"{height} mm"}
    return {"name": name, "material": material, "shape": shape, **more}


def solid(conductivity: float, density: float = 1000.0, heat: float = 1000.0) -> dict[str, str]:
    return {
        "base": "aluminium",
        "conductivity": f"{conductivity} W/m/K",
        "density": f"{density} kg/m^3",
        "specific_heat": f"{heat} J/kg/K",
    }


def held(boundary: str, temperature: str = "20 degC") -> dict[str, Any]:
    return {"type": "wall", "boundaries": [boundary], "thermal": "temperature", "temperature": temperature}


def solve(parts: list[dict[str, Any]], materials: dict[str, Any], conditions: list[dict[str, Any]], **more: Any) -> Result:
    document = {
        "title": "scales",
        "inputs": {},
        "section": {"extent": "flat", "parts": parts},
        "materials": materials,
        "conditions": conditions,
        **more,
    }
    return solve_case(read_case(document))


class LocalSources(unittest.TestCase):
    def strip(self, height: float, fineness: float, *more: dict[str, Any]) -> Result:
        """A strip of 2 mm with 5 MW/m3 on a slab of 50 mm that is held at 20 °C on its other side; after 300 s."""
        parts = [box("slab", "s", 0, 0, 50, height), box("strip", "s", 50, 0, 2, height, heat="5e6 W/m^3"), *more]
        time = {"end": "300 s", "temperature": "20 degC", "every": "300 s"}
        given = {"s": solid(10.0, 2000.0, 500.0), "f": solid(0.03, 50.0)}
        physics = {"regime": "time"}
        return solve(parts, given, [held("slab, left")], time=time, physics=physics, grid={"fineness": fineness})

    def test_height_and_grid_do_not_matter(self) -> None:
        """Once 296.8, 295.0 and 294.0 K at a height of 50 mm, 331.1 K at 2 mm; by its exact series it is 331.0 K."""
        k = (np.arange(200) + 0.5) * np.pi / 0.052
        # Sources between 50 and 52 mm, 0 at the left, no flux at the right: sines.
        source = 5e6 * (np.cos(k * 0.05) - np.cos(k * 0.052)) / k * 2.0 / 0.052
        rise = source / (10.0 * k**2) * (1.0 - np.exp(-10.0 / 1e6 * k**2 * 300.0)) @ np.sin(k * 0.051)
        for height, fineness in ((2.0, 1.0), (50.0, 0.5), (50.0, 2.0)):
            mean = self.strip(height, fineness).value("mean temperature of strip") - 293.15
            self.assertAlmostEqual(mean / rise, 1.0, delta=2e-3)

    def test_an_insulation_elsewhere_does_not_matter(self) -> None:
        """Foam somewhere else: the smallest conductivity of all once made the scale 208,000 K."""
        alone = self.strip(10.0, 1.0).value("mean temperature of strip")
        beside = self.strip(10.0, 1.0, box("foam", "f", 100, 0, 10, 10)).value("mean temperature of strip")
        self.assertAlmostEqual(beside, alone, delta=1e-3 * (alone - 293.15))

    def test_a_chip_in_air_warms_up(self) -> None:
        """In steady state from a start at one temperature: it once passed untouched, 'converged', at 293.15 K."""
        parts = [box("air", "air", 0, 0, 40, 40), box("chip", "c", 0, 15, 2, 10, heat="3 W")]
        physics = {"gravity_y": "-9.81 m/s^2"}
        run = solve(parts, {"c": solid(400.0, 8900.0, 385.0)}, [held("air, top")], physics=physics, grid={"fineness": 0.5})
        self.assertTrue(run.solution.converged)
        self.assertAlmostEqual(run.value("heat out through air, top"), 3.0, delta=1e-6)
        self.assertGreater(run.value("highest temperature of chip"), 293.15 + 20.0)


class SmallStreams(unittest.TestCase):
    """A gas stream of 1e-8 kg/s above 5 kg/s of oil, with a plate between them."""

    def streams(self, leak: str, start: bytes | None = None, viscosity: str = "1.8e-5 Pa*s") -> Result:
        def inlet(part: str, flow: str, temperature: str) -> list[dict[str, Any]]:
            return [
                {"type": "inlet", "boundaries": [f"{part}, left"], "mass_flow": flow, "temperature": temperature},
                {"type": "outlet", "boundaries": [f"{part}, right"]},
            ]

        oil = {"base": "water", "conductivity": "0.6 W/m/K", "density": "1000 kg/m^3", "specific_heat": "4000 J/kg/K"}
        gas = {"base": "water", "conductivity": "0.026 W/m/K", "density": "1.2 kg/m^3", "specific_heat": "1000 J/kg/K"}
        document = {
            "title": "streams",
            "inputs": {},
            "section": {
                "extent": "flat",
                "parts": [box("big", "w", 0, 0, 40, 10), box("plate", "s", 0, 10, 40, 1), box("small", "g", 0, 11, 40, 1)],
            },
            "materials": {"w": oil | {"viscosity": "1 Pa*s"}, "g": gas | {"viscosity": viscosity}, "s": solid(15.0)},
            "conditions": [*inlet("big", "5 kg/s", "20 degC"), *inlet("small", leak, "80 degC"), held("big, bottom", "60 degC")],
            "grid": {"fineness": 0.5},
        }
        return solve_case(read_case(document), start=start)

    def test_a_flow_that_has_changed_is_not_kept(self) -> None:
        first = self.streams("1e-8 kg/s")
        drop = first.value("small pressure drop")
        doubled = self.streams("2e-8 kg/s", first.solution.checkpoint())
        self.assertAlmostEqual(doubled.value("small pressure drop") / drop, 2.0, delta=0.01)
        thicker = self.streams("1e-8 kg/s", first.solution.checkpoint(), viscosity="3.6e-5 Pa*s")
        self.assertAlmostEqual(thicker.value("small pressure drop") / drop, 2.0, delta=0.01)

    def test_a_flow_that_still_holds_is(self) -> None:
        first = self.streams("1e-8 kg/s")
        again = self.streams("1e-8 kg/s", first.solution.checkpoint())
        self.assertTrue(any("still holds" in note for note in again.solution.notes))

    def test_a_tiny_stream_in_metal_converges(self) -> None:
        """Kilowatts pass the metal around it: heat is measured against them."""
        parts = [box("below", "m", 0, 0, 20, 5), box("cap", "water", 0, 5, 20, 0.2), box("above", "m", 0, 5.2, 20, 5)]
        stream = [
            {"type": "inlet", "boundaries": ["cap, left"], "mass_flow": "1e-9 kg/s", "temperature": "20 degC"},
            {"type": "outlet", "boundaries": ["cap, right"]},
        ]
        run = solve(
            parts,
            {"m": solid(200.0)},
            [*stream, held("below, bottom"), held("above, top", "80 degC")],
            grid={"fineness": 0.5},
        )
        self.assertTrue(run.solution.converged)


class Balances(unittest.TestCase):
    def test_a_stream_of_one_temperature_has_no_open_balance(self) -> None:
        conditions = [
            {"type": "inlet", "boundaries": ["duct, left"], "velocity": "10 mm/s", "temperature": "20 degC"},
            {"type": "outlet", "boundaries": ["duct, right"]},
        ]
        run = solve([box("duct", "water", 0, 0, 50, 5)], {}, conditions, grid={"fineness": 0.5})
        self.assertTrue(run.solution.converged)
        self.assertFalse([finding.text for finding in run.findings if finding.severity == "stop"])
        self.assertLess(run.value("heat balance"), 1e-9)

    def test_the_worst_body_counts(self) -> None:
        """A heat balance that is open in a small body is not closed by a large one beside it that has none to do with it."""
        parts = [box("one", "m", 0, 0, 10, 10), box("other", "m", 30, 0, 10, 10)]
        conditions = [held("one, left"), held("one, right", "21 degC"), held("other, left"), held("other, right", "900 degC")]
        run = solve(parts, {"m": solid(10.0)}, conditions, grid={"fineness": 0.5})
        np.testing.assert_allclose(run.problem.scales.span, [1.0, 880.0])
        edge = run.problem.grid.groups["one, left"]
        heat = run.evaluation.heat.copy()
        heat[edge] *= 1.1
        _, open_by = imbalances(run.problem, replace(run.evaluation, heat=heat), run.solution.state.periodicity)
        self.assertAlmostEqual(open_by, 0.1 / 2.1 * 2.0, delta=0.01)
