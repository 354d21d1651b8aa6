"""What enters: profiles by expression and table, a side that is part inlet and part wall, flow alone; and the flow that follows."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from django.test import tag

from tests.sections import held, rectangle, section_case, wall
from wattikos_core.errors import CaseError
from wattikos_core.studies import Result, prepare, solve_case

PLAIN = {"base": "water", "density": "1 kg/m^3", "specific_heat": "1000 J/kg/K", "conductivity": "1 W/m/K"}
PARABOLA = "6 m/s * y/(1 m) * (1 - y/(1 m))"


def duct(inlet: dict[str, Any], *walls: dict[str, Any], divided: dict[str, list[str]] | None = None, **more: Any) -> Result:
    """A duct 4 m long and 1 m high at a Reynolds number of 20 on its height."""
    part = rectangle("duct", "plain", "0 m", "0 m", "4 m", "1 m", divided=divided or {})
    conditions = [{"type": "inlet", **inlet}, {"type": "outlet", "boundaries": ["duct, right"]}, *walls]
    return solve_case(section_case(part, conditions=conditions, materials={"plain": {**PLAIN, "viscosity": "0.05 Pa*s"}}, **more))


class Profiles(unittest.TestCase):
    def test_a_parabola_is_developed(self) -> None:
        """By expression and by a table: developed from the first cell on, so that pressure falls evenly (12 μ u / h²)."""
        rows = [[float(y), float(6.0 * y * (1.0 - y))] for y in np.linspace(0.0, 1.0, 201)]
        table = {"entering": {"unit": "m", "value_unit": "m/s", "rows": rows}}
        for velocity in (PARABOLA, "entering(y)"):
            run = duct({"boundaries": ["duct, left"], "velocity": velocity}, wall("duct, bottom", "duct, top"), tables=table)
            self.assertAlmostEqual(run.value("duct pressure drop") / (12.0 * 0.05 * 4.0), 1.0, delta=0.01)
            self.assertAlmostEqual(run.value("mean shear on duct, top") / (6.0 * 0.05), 1.0, delta=0.01)

    def test_temperatures_too(self) -> None:
        """Two layers that enter side by side keep their mixed mean."""
        warm = "20 °C + 10 K * y/(1 m)"
        run = duct({"boundaries": ["duct, left"], "velocity": PARABOLA, "temperature": warm}, wall("duct, bottom", "duct, top"))
        self.assertAlmostEqual(run.value("duct outlet temperature"), 298.15, delta=0.02)
        self.assertLess(run.value("heat balance"), 1e-9)

    def test_what_would_leave_is_refused(self) -> None:
        with self.assertRaises(CaseError) as caught:
            duct({"boundaries": ["duct, left"], "velocity": "1 m/s * (y/(1 m) - 0.5)"}, wall("duct, bottom", "duct, top"))
        self.assertIn("conditions[0].velocity", str(caught.exception))
        self.assertIn("divide the side", str(caught.exception))


class AtRest(unittest.TestCase):
    """A total temperature is that of the fluid at rest: v²/(2 cp) above the static one, 2 K at 1 m/s and 0.25 J/kg/K."""

    def entering(self, more: dict[str, Any], temperature: str) -> Result:
        part = rectangle("duct", "plain", "0 m", "0 m", "4 m", "1 m")
        inlet = {"type": "inlet", "boundaries": ["duct, left"], "temperature": temperature, "temperature_is": "total", **more}
        plain = {**PLAIN, "viscosity": "0.05 Pa*s", "specific_heat": "0.25 J/kg/K", "conductivity": "1e-5 W/m/K"}
        conditions = [inlet, {"type": "outlet", "boundaries": ["duct, right"]}, wall("duct, bottom", "duct, top")]
        return solve_case(section_case(part, conditions=conditions, materials={"plain": plain}))

    def test_static_temperatures_follow_from_the_speed(self) -> None:
        for given in ({"velocity": "1 m/s"}, {"mass_flow": "1 kg/s"}):
            self.assertAlmostEqual(self.entering(given, "30 °C").value("duct outlet temperature"), 301.15, delta=1e-6)
        # Along a parabola each place has its own: the mixed mean of v²/2 is 27/35 of the square of the mean speed.
        mixed = self.entering({"velocity": PARABOLA}, "30 °C").value("duct outlet temperature")
        self.assertAlmostEqual(mixed, 303.15 - 27.0 / 35.0 / 0.25, delta=0.02)

    def test_not_with_a_pressure(self) -> None:
        with self.assertRaises(CaseError) as caught:
            self.entering({"pressure": "1 Pa"}, "30 °C")
        self.assertIn("conditions[0].temperature_is", str(caught.exception))


class FlowAlone(unittest.TestCase):
    def test_needs_no_temperature(self) -> None:
        run = duct({"boundaries": ["duct, left"], "velocity": "1 m/s"}, wall("duct, bottom", "duct, top"))
        self.assertTrue(run.solution.converged)
        self.assertAlmostEqual(run.value("duct outlet temperature"), 293.15, delta=1e-6)

    def test_but_heat_does(self) -> None:
        with self.assertRaises(CaseError) as caught:
            duct({"boundaries": ["duct, left"], "velocity": "1 m/s"}, held("duct, bottom", "duct, top", at="40 °C"))
        self.assertIn("conditions[0].temperature", str(caught.exception))


class DividedSides(unittest.TestCase):
    def test_pieces_are_boundaries_of_their_own(self) -> None:
        """On upright rectangles, and where another shape makes the section one of outlines; counted from the lower or left end."""
        divided = {"left": ["10 mm", "25 mm"], "top": ["5 mm"]}
        box = rectangle("box", "water", "0 m", "0 m", "40 mm", "30 mm", divided=divided)
        rod = {"name": "rod", "material": "copper", "shape": {"type": "circle", "x": "20 mm", "y": "15 mm", "diameter": "5 mm"}}
        conditions = [held("box, left 1", at="20 °C"), held("box, top 2", at="30 °C")]
        for parts in ([box], [box, rod]):
            boundaries = prepare(section_case(*parts, conditions=conditions)).section.boundaries
            lengths = {f"left {k + 1}": length for k, length in enumerate((0.010, 0.015, 0.005))} | {"top 1": 0.005, "top 2": 0.035}
            for side, length in lengths.items():
                self.assertAlmostEqual(boundaries[f"box, {side}"].length, length, places=9)
            self.assertNotIn("box, left", boundaries)
            lowest = boundaries["box, left 1"].segments[:, [1, 3]]
            self.assertAlmostEqual(float(lowest.max()), 0.010)

    def test_a_division_off_its_side_is_refused(self) -> None:
        box = rectangle("box", "water", "0 m", "0 m", "40 mm", "30 mm", divided={"left": ["10 mm", "5 mm"]})
        with self.assertRaises(CaseError) as caught:
            prepare(section_case(box, conditions=[held("box, left 1", at="20 °C")]))
        self.assertIn("section.parts[0].shape.divided.left", str(caught.exception))
        self.assertIn("ascending", str(caught.exception))

    @tag("slow")
    def test_a_backward_step(self) -> None:
        """Gartling (1990, Int. J. Numer. Methods Fluids 11, 953), Re 800: eddies to 6.10, and from 4.85 to 10.48 (from memory).

        The step is a wall below the inlet on one side of a rectangle. The first eddy ends earlier on coarse grids.
        """
        part = rectangle("duct", "thin", "0 m", "-0.5 m", "20 m", "1 m", divided={"left": ["0.5 m"]})
        run = solve_case(
            section_case(
                part,
                conditions=[
                    {"type": "inlet", "boundaries": ["duct, left 2"], "velocity": "24 m/s*(y/(1 m))*(0.5 - y/(1 m))"},
                    {"type": "outlet", "boundaries": ["duct, right"]},
                    wall("duct, left 1", "duct, bottom", "duct, top"),
                ],
                materials={"thin": {**PLAIN, "viscosity": "1.25 mPa*s"}},
                fineness=2.0,
            )
        )
        self.assertAlmostEqual(run.value("reattachment on duct, bottom"), 6.10, delta=0.05)
        self.assertAlmostEqual(run.value("separation on duct, top"), 4.85, delta=0.05)
        self.assertAlmostEqual(run.value("reattachment on duct, top"), 10.48, delta=0.10)
