"""Conduction and flow on body-fitted polygons: exact solutions, orders, handbook shape factors."""

from __future__ import annotations

import math
import unittest

import numpy as np

from tests.sections import PLAIN, circle, held, part, polygon, rectangle, section_case, wall
from tests.support import LIQUID
from wattikos_core.case import Case
from wattikos_core.estimate.fins import annular_fin_efficiency, pin_fin_efficiency, straight_fin_efficiency
from wattikos_core.studies import Result, solve_case


def observed_order(errors: list[float], cells: list[int]) -> float:
    return math.log(errors[0] / errors[-1]) / math.log(math.sqrt(cells[-1] / cells[0]))


class Orders(unittest.TestCase):
    def test_conduction_is_of_second_order(self) -> None:
        """A harmonic temperature given all along the edge, through a circle of the same material that makes polygons."""
        edge = "20 °C + 20 K*exp(x/(10 mm))*cos(y/(10 mm))"
        errors, cells = [], []
        for fineness in (0.7, 1.4, 2.8):
            run = solve_case(
                section_case(
                    rectangle("block", "plain", "0 m", "0 m", "20 mm", "20 mm"),
                    circle("core", "plain", "11 mm", "9 mm", "9 mm"),
                    conditions=[held("block, left", "block, right", "block, top", "block, bottom", at=edge)],
                    materials={"plain": PLAIN},
                    fineness=fineness,
                )
            )
            x, y = run.problem.grid.centre.T
            exact = 293.15 + 20.0 * np.exp(x / 0.01) * np.cos(y / 0.01)
            errors.append(math.sqrt(np.average((run.solution.state.stretched - exact) ** 2, weights=run.problem.grid.volume)))
            cells.append(run.problem.grid.n_cells)
        self.assertGreater(observed_order(errors, cells), 1.8)
        self.assertLess(errors[-1], 3e-3)

    def test_flow_is_of_second_order(self) -> None:
        """Developed flow between plates (exact), in a duct that lies aslant and has six corners, so that cells are polygons."""
        errors, cells, drops = [], [], []
        c, s = math.cos(0.5), math.sin(0.5)
        height, length, mean = 0.01, 0.04, 0.003
        corners = [(0.0, 0.0), (0.013, 0.0), (length, 0.0), (length, height), (0.022, height), (0.0, height)]
        for fineness in (1.0, 2.0, 4.0):
            run = solve_case(
                section_case(
                    polygon("duct", "liquid", *((c * x - s * y, s * x + c * y) for x, y in corners)),
                    conditions=[
                        {
                            "type": "inlet",
                            "boundaries": ["duct, side 6"],
                            "velocity": f"{mean} m/s",
                            "temperature": "20 °C",
                            "profile": "developed",
                        },
                        {"type": "outlet", "boundaries": ["duct, side 3"]},
                        wall("duct, side 1", "duct, side 2", "duct, side 4", "duct, side 5"),
                    ],
                    materials={"liquid": LIQUID},
                    fineness=fineness,
                )
            )
            grid, state = run.problem.grid, run.solution.state
            across = (c * grid.centre[:, 1] - s * grid.centre[:, 0]) / height
            speed = 6.0 * mean * across * (1.0 - across)
            off = (state.velocity[:, 0] - speed * c) ** 2 + (state.velocity[:, 1] - speed * s) ** 2
            errors.append(math.sqrt(np.average(off, weights=grid.volume)) / mean)
            cells.append(grid.n_cells)
            drops.append(run.value("duct pressure drop") / (12.0 * 0.0015 * mean * length / height**2) - 1.0)
        self.assertGreater(observed_order(errors, cells), 1.8)
        self.assertLess(errors[-1], 2e-4)
        self.assertGreater(observed_order([abs(d) for d in drops], cells), 1.8)


class ExactSolids(unittest.TestCase):
    def solve(self, *parts: dict[str, object], **more: object) -> Result:
        materials = {"plain": PLAIN, **more.pop("materials", {})}  # type: ignore[dict-item]
        return solve_case(section_case(*parts, materials=materials, **more))  # type: ignore[arg-type]

    def test_composite_cylinder_with_contact_and_convection(self) -> None:
        run = self.solve(
            circle("outer", "dull", "0 m", "0 m", "60 mm"),
            circle("inner", "plain", "0 m", "0 m", "40 mm"),
            circle("bore", "void", "0 m", "0 m", "20 mm"),
            conditions=[
                held("inner, bore outside", at="100 °C"),
                wall("outer, outside", thermal="convection", heat_transfer_coefficient="50 W/m^2/K", ambient_temperature="20 °C"),
            ],
            materials={"dull": {"base": "pvc", "conductivity": "0.5 W/m/K"}},
            contacts=[{"between": ["inner", "outer"], "resistance": "1e-3 m^2*K/W"}],
        )
        turn = 2.0 * math.pi
        resistance = (
            math.log(2.0) / (turn * 10.0) + 1e-3 / (turn * 0.02) + math.log(1.5) / (turn * 0.5) + 1.0 / (50.0 * turn * 0.03)
        )
        self.assertAlmostEqual(run.value("heat out through outer, outside") * resistance / 80.0, 1.0, delta=1e-3)

    def test_orthotropic_conduction(self) -> None:
        """T = x²/k_x - y²/k_y carries no source; on polygons, with the conductivity differing fourfold."""
        errors, cells = [], []
        for fineness in (0.7, 1.4):
            run = self.solve(
                rectangle("block", "wood", "0 m", "0 m", "20 mm", "20 mm"),
                circle("core", "wood", "11 mm", "9 mm", "9 mm"),
                conditions=[
                    held(
                        *(f"block, {side}" for side in ("left", "right", "top", "bottom")),
                        at="20 °C + 20 K*((x/(10 mm))^2/4 - (y/(10 mm))^2)",
                    )
                ],
                materials={"wood": {"base": "aluminium", "conductivity": "8 W/m/K", "conductivity_y": "2 W/m/K"}},
                fineness=fineness,
            )
            x, y = run.problem.grid.centre.T
            exact = 293.15 + 20.0 * ((x / 0.01) ** 2 / 4.0 - (y / 0.01) ** 2)
            errors.append(float(np.abs(run.solution.state.stretched - exact).max()))
            cells.append(run.problem.grid.n_cells)
        self.assertLess(errors[-1], 0.01)
        self.assertGreater(observed_order(errors, cells), 1.8)

    def test_a_coating_outside_the_section(self) -> None:
        run = self.solve(
            rectangle("slab", "plain", "0 m", "0 m", "10 mm", "10 mm"),
            conditions=[
                held("slab, left", at="100 °C"),
                wall(
                    "slab, right",
                    thermal="convection",
                    heat_transfer_coefficient="50 W/m^2/K",
                    ambient_temperature="20 °C",
                    coating_thickness="2 mm",
                    coating_material="felt",
                ),
                wall("slab, top", "slab, bottom"),
            ],
            materials={"felt": {"base": "mineral_wool", "conductivity": "0.1 W/m/K"}},
        )
        exact = 80.0 / (0.01 / 10.0 + 0.002 / 0.1 + 1.0 / 50.0) * 0.01
        self.assertAlmostEqual(run.value("heat out through slab, right") / exact, 1.0, delta=1e-9)

    def test_shape_factor_of_a_tube_in_a_square(self) -> None:
        """S = 2π/ln(1.08 w/D), Incropera and DeWitt (2002), table 4.1; the constant is rounded to 0.1 %."""
        run = self.solve(
            rectangle("block", "plain", "-20 mm", "-20 mm", "40 mm", "40 mm"),
            circle("bore", "void", "0 m", "0 m", "16 mm"),
            conditions=[
                held("block, bore outside", at="100 °C"),
                held("block, left", "block, right", "block, top", "block, bottom", at="0 °C"),
            ],
            fineness=2.0,
        )
        factor = -run.value("heat out through block, bore outside") / (10.0 * 100.0)
        self.assertAlmostEqual(factor / (2.0 * math.pi / math.log(1.08 * 40.0 / 16.0)), 1.0, delta=3e-3)

    def test_shape_factor_of_eccentric_tubes(self) -> None:
        """S = 2π/acosh((D² + d² - 4z²)/(2 D d)), Incropera and DeWitt (2002), table 4.1; exact."""
        run = self.solve(
            circle("body", "plain", "0 m", "0 m", "40 mm"),
            circle("bore", "void", "8 mm", "0 m", "16 mm"),
            conditions=[held("body, bore outside", at="100 °C"), held("body, outside", at="0 °C")],
            fineness=2.0,
        )
        factor = -run.value("heat out through body, bore outside") / (10.0 * 100.0)
        exact = 2.0 * math.pi / math.acosh((0.04**2 + 0.016**2 - 4.0 * 0.008**2) / (2.0 * 0.04 * 0.016))
        self.assertAlmostEqual(factor / exact, 1.0, delta=1.5e-3)


class Fins(unittest.TestCase):
    """Efficiencies by the field against the textbook's one-dimensional ones, at Biot numbers about 0.02."""

    FILM = {"thermal": "convection", "heat_transfer_coefficient": "100 W/m^2/K", "ambient_temperature": "0 °C"}

    def efficiency(self, case: Case, foot: str, surface: float) -> float:
        return -solve_case(case).value(f"heat out through {foot}") / (100.0 * surface * 100.0)

    def test_straight(self) -> None:
        case = section_case(
            rectangle("fin", "plain", "0 m", "0 m", "30 mm", "4 mm"),
            conditions=[held("fin, left", at="100 °C"), wall("fin, top", "fin, bottom", "fin, right", **self.FILM)],
            materials={"plain": PLAIN},
        )
        found = self.efficiency(case, "fin, left", 2.0 * 0.03 + 0.004)
        self.assertAlmostEqual(found / straight_fin_efficiency(100.0, 10.0, 0.004, 0.03), 1.0, delta=0.01)

    def test_pin(self) -> None:
        case = section_case(
            rectangle("fin", "plain", "0 m", "0 m", "30 mm", "2 mm"),
            axisymmetric=True,
            conditions=[
                held("fin, left", at="100 °C"),
                {"type": "symmetry", "boundaries": ["fin, bottom"]},
                wall("fin, top", "fin, right", **self.FILM),
            ],
            materials={"plain": PLAIN},
        )
        found = self.efficiency(case, "fin, left", math.pi * 0.004 * 0.03 + math.pi * 0.002**2)
        self.assertAlmostEqual(found / pin_fin_efficiency(100.0, 10.0, 0.004, 0.03), 1.0, delta=0.01)

    def test_annular(self) -> None:
        """Gardner (1945), Trans. ASME 67, 621."""
        case = section_case(
            rectangle("fin", "plain", "0 m", "10 mm", "1 mm", "20 mm"),
            axisymmetric=True,
            conditions=[held("fin, bottom", at="100 °C"), wall("fin, left", "fin, right", "fin, top", **self.FILM)],
            materials={"plain": PLAIN},
        )
        surface = 2.0 * math.pi * (0.03**2 - 0.01**2) + 2.0 * math.pi * 0.03 * 0.001
        found = self.efficiency(case, "fin, bottom", surface)
        self.assertAlmostEqual(found / annular_fin_efficiency(100.0, 10.0, 0.001, 0.01, 0.03), 1.0, delta=0.01)


class ThinWalls(unittest.TestCase):
    def test_a_thin_wall_between_fluids_against_the_same_wall_gridded(self) -> None:
        def outlet(thin: bool) -> float:
            parts = [rectangle("warm", "water", "0 m", "0 m", "200 mm", "4 mm")]
            if not thin:
                parts.append(rectangle("plate", "dull", "0 m", "4 mm", "200 mm", "1 mm"))
            parts.append(rectangle("cold", "water", "0 m", "4 mm" if thin else "5 mm", "200 mm", "4 mm"))
            conditions = [
                {"type": "inlet", "boundaries": ["warm, left"], "velocity": "10 mm/s", "temperature": "60 °C"},
                {"type": "outlet", "boundaries": ["warm, right"]},
                {"type": "inlet", "boundaries": ["cold, right"], "velocity": "10 mm/s", "temperature": "10 °C"},
                {"type": "outlet", "boundaries": ["cold, left"]},
                wall("warm, bottom", "cold, top"),
            ]
            if not thin:
                conditions.append(wall("plate, left", "plate, right"))
            contacts = [{"between": ["warm", "cold"], "thickness": "1 mm", "material": "dull"}] if thin else []
            materials = {"dull": {"base": "stainless_304", "conductivity": "0.5 W/m/K"}}
            return solve_case(section_case(*parts, conditions=conditions, contacts=contacts, materials=materials)).value(
                "warm heat gained"
            )

        # What is left out is conduction along the wall.
        self.assertAlmostEqual(outlet(True) / outlet(False), 1.0, delta=1e-4)

    def test_a_tube_wall_as_ring_and_as_coating_of_its_fluid(self) -> None:
        """The same heat through a gridded tube wall and through a layer between water and rod.

        The layer has the rod's area, the wall one of 2 % more outside, by which its rise is 1 % less.
        """
        water = rectangle("water", "water", "0 m", "0 m", "80 mm", "40 mm")
        flow = [
            {"type": "inlet", "boundaries": ["water, left"], "velocity": "1 mm/s", "temperature": "20 °C"},
            {"type": "outlet", "boundaries": ["water, right"]},
            wall("water, top", "water, bottom"),
        ]
        rod = circle("rod", "copper", "30 mm", "20 mm", "10 mm", heat="50 W")
        layer = [{"between": ["water", "rod"], "thickness": "0.1 mm", "material": "ptfe"}]
        ring = part("skin", "ptfe", "ring", "30 mm", "20 mm", outer_diameter="10.2 mm", inner_diameter="10 mm")
        thin = solve_case(section_case(water, rod, conditions=flow, contacts=layer))
        gridded = solve_case(section_case(water, ring, rod, conditions=flow))
        rise = [run.value("mean temperature of rod") - 293.15 for run in (thin, gridded)]
        self.assertAlmostEqual(rise[0] / rise[1], 1.01, delta=0.006)
