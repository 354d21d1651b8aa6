"""Findings about solved flows and grids: each in a case that has it, and not in one that does not."""

from __future__ import annotations

import unittest
from typing import Any

from tests.sections import Document, circle, held, rectangle, section_case, wall
from wattikos_core.case import Case
from wattikos_core.evidence import Finding
from wattikos_core.evidence.findings import still_moving
from wattikos_core.evidence.findings_of_grids import findings_of_grids
from wattikos_core.evidence.settling import time_to_settle
from wattikos_core.grid import Family, grid_section
from wattikos_core.physics import problem_of
from wattikos_core.solve import SolveSettings, solve_steady
from wattikos_core.solve.iterate import evaluate_state
from wattikos_core.studies import solve_case
from wattikos_core.studies.preparation import prepare


def told(case: Case, words: str) -> list[Finding]:
    return [finding for finding in solve_case(case).findings if words in finding.text]


def inlet(boundary: str, velocity: str, temperature: str = "20 °C") -> Document:
    return {"type": "inlet", "boundaries": [boundary], "velocity": velocity, "temperature": temperature}


def outlet(boundary: str) -> Document:
    return {"type": "outlet", "boundaries": [boundary]}


def channel(length: str, *further: Document, velocity: str = "20 mm/s", hot: str = "21 °C", **more: Any) -> Case:
    """Water between two plates 10 mm apart, the lower one warm; further parts stand in it."""
    parts = [rectangle("duct", "water", "0 m", "0 m", length, "10 mm"), *further]
    conditions = [inlet("duct, left", velocity), outlet("duct, right"), held("duct, bottom", at=hot)]
    return section_case(*parts, conditions=conditions, fineness=more.pop("fineness", 0.5), **more)


class Ends(unittest.TestCase):
    def step(self, behind: float) -> Case:
        """Water over a step of half the height, with so much room behind it, in mm; its eddy is about 40 mm long."""
        part = rectangle("step", "stainless_304", "0 m", "0 m", "20 mm", "5 mm")
        return channel(f"{20 + behind} mm", part, velocity="15 mm/s")

    def test_an_outlet_in_an_eddy(self) -> None:
        """The flow behind a step turns back just ahead of the outlet, or well ahead of it."""
        near = [f for words in ("turns back", "comes back in") for f in told(self.step(12.0), words)]
        self.assertTrue(near)
        far = [f for words in ("turns back", "comes back in") for f in told(self.step(120.0), words)]
        self.assertEqual(far, [])

    def test_how_far_the_eddy_is_from_the_outlet(self) -> None:
        """Told with the boundary, and how much further it has to be."""
        found = [f for room in (20.0, 25.0, 30.0) for f in told(self.step(room), "turns back up to")]
        self.assertTrue(found)
        self.assertEqual(found[0].place, "duct, right")
        self.assertIn("mm or more", found[0].remedy)

    def test_a_block_at_the_inlet(self) -> None:
        """It stands in the middle of the stream, 1 mm behind the inlet, or 60 mm."""
        near, far = (
            channel("140 mm", rectangle("block", "stainless_304", f"{x} mm", "4 mm", "4 mm", "2 mm"), velocity="30 mm/s")
            for x in (1, 60)
        )
        (finding,) = told(near, "something stands too near")
        self.assertEqual(finding.place, "duct, left")
        self.assertEqual(told(far, "something stands too near"), [])

    def test_heat_through_the_inlet(self) -> None:
        """Mercury-slow water conducts much of its heat back to the inlet; fast water does not."""
        self.assertEqual(told(channel("30 mm", velocity="0.01 mm/s"), "conducted through the inlet")[0].place, "duct, left")
        self.assertEqual(told(channel("30 mm", velocity="20 mm/s"), "conducted through the inlet"), [])

    def test_still_developing(self) -> None:
        """At a Reynolds number of 400 on 20 mm: heat needs 2.8 m (0.05 Re Pr D); a profile that is developed is not told of."""
        (finding,) = told(channel("100 mm"), "still develop")
        self.assertIn("(heat), it is 100 mm long", finding.text)
        self.assertEqual(told(channel("4 m", velocity="2 mm/s"), "still develop"), [])

    def test_nothing_develops_in_a_room(self) -> None:
        """What blows into a chamber over a third of its height is no stream in a duct; over half of it, it is."""
        for height, count in (("3 mm", 0), ("5 mm", 1)):
            case = channel("100 mm")
            case.section.parts[0].shape.divided = {"left": [height]}  # type: ignore[union-attr]
            case.conditions[0].boundaries = ["duct, left 1"]
            self.assertEqual(len(told(case, "still develop")), count, height)


class Grids(unittest.TestCase):
    """Our own grids have enough cells across everything; grids that are brought may not."""

    def on(self, case: Case, fineness: float, fewest: float) -> list[Finding]:
        """What is told of a grid with so many times fewer cells across than ours have at the least."""
        prepared = prepare(case)
        problem = problem_of(prepared.resolved, grid_section(prepared.resolved, prepared.section, fineness, Family(fewest)))
        solution = solve_steady(problem, SolveSettings(1e-6, 80, "automatic", "automatic", False))
        return findings_of_grids(problem, evaluate_state(problem, solution.state, solution.interpolation))

    def test_few_cells_across_a_gap(self) -> None:
        """Told with the part and a remedy in one step; not with more cells."""
        block = rectangle("block", "stainless_304", "40 mm", "0 m", "10 mm", "9.4 mm")
        case = channel("100 mm", block, velocity="1 mm/s")
        (finding,) = self.on(case, 0.1, 4.0)
        self.assertEqual((finding.severity, finding.place), ("check", "duct"))
        self.assertRegex(finding.text, r"only \d cells? lie across")
        assert finding.fix is not None
        self.assertEqual(finding.fix.refine, ("duct",))
        self.assertEqual(self.on(case, 0.5, 1.0), [])

    def test_between_walls_of_any_direction(self) -> None:
        """A ring of water between two pipes."""
        parts = [
            circle("outer", "copper", "0 m", "0 m", "44 mm"),
            circle("water", "water", "0 m", "0 m", "40 mm"),
            circle("inner", "copper", "0 m", "0 m", "36 mm"),
        ]
        case = section_case(*parts, conditions=[held("outer, outside", at="60 °C")])
        self.assertIn("'water'", self.on(case, 0.05, 4.0)[0].text)
        self.assertEqual(self.on(case, 0.5, 1.0), [])

    def test_a_layer_of_one_cell(self) -> None:
        """A thin layer that insulates, with one cell across, and with more."""
        parts = [
            rectangle("metal", "copper", "0 m", "0 m", "20 mm", "5 mm"),
            rectangle("layer", "pvc", "0 m", "5 mm", "20 mm", "0.2 mm"),
        ]
        conditions = [held("metal, bottom", at="80 °C"), held("layer, top", at="20 °C"), held("metal, left", at="70 °C")]
        case = section_case(*parts, conditions=conditions)
        (finding,) = self.on(case, 0.1, 4.0)
        self.assertIn("'layer' has no thickness in the grid", finding.text)
        self.assertEqual(self.on(case, 0.5, 1.0), [])


class InTime(unittest.TestCase):
    def cooling(self, material: str, end: str) -> list[Finding]:
        """A slab of 10 mm that cools in air."""
        part = rectangle("slab", material, "0 m", "0 m", "10 mm", "10 mm")
        air = {"heat_transfer_coefficient": "50 W/m²/K", "ambient_temperature": "20 °C"}
        conditions = [wall("slab, top", thermal="convection", **air)]
        time = {"end": end, "temperature": "80 °C"}
        case = section_case(part, conditions=conditions, fineness=0.5, physics={"regime": "time"}, time=time)
        return solve_case(case).findings

    def test_a_small_biot_number(self) -> None:
        """Copper: 50 W/(m2 K) times 10 mm over 400 W/(m K) is 0.00125; PVC has 0.16 W/(m K)."""
        (finding,) = [f for f in self.cooling("copper", "200 s") if "Biot number" in f.text]
        self.assertIn("Biot number 0.0013", finding.text)
        self.assertEqual([f for f in self.cooling("pvc", "200 s") if "Biot number" in f.text], [])

    def test_how_long_it_would_take(self) -> None:
        """Copper cools with ρ c L/h = 689 s: from 60 K to within 1 % it takes 4.6 of that, 3,170 s."""
        (finding,) = [f for f in self.cooling("copper", "900 s") if "not settled" in f.text]
        assert finding.fix is not None
        self.assertEqual(finding.fix.path, "time.end")
        self.assertAlmostEqual(float(str(finding.fix.value).split()[0]), 3170.0, delta=160.0)
        self.assertEqual([f for f in self.cooling("copper", "9000 s") if "not settled" in f.text], [])

    def test_what_does_not_die_away(self) -> None:
        """An exponential approach is exact; what grows steadily has no end."""
        time = [float(t) for t in range(101)]
        rest = time_to_settle(time, [1.0 - 2.718281828 ** (-t / 50.0) for t in time])
        assert rest is not None
        self.assertAlmostEqual(rest, 50.0 * 4.605 - 100.0, delta=0.5)
        self.assertIsNone(time_to_settle(time, time))


class Weight(unittest.TestCase):
    def test_boussinesq(self) -> None:
        """Air between 20 and 80 °C differs by 18 % in density, between 20 and 30 °C by 3 %."""

        def box(hot: str) -> list[Finding]:
            part = rectangle("air", "air", "0 m", "0 m", "10 mm", "10 mm")
            conditions = [held("air, left", at=hot), held("air, right", at="20 °C")]
            return told(
                section_case(part, conditions=conditions, fineness=0.5, physics={"gravity_y": "-9.81 m/s^2"}), "in its weight alone"
            )

        (finding,) = box("80 °C")
        assert finding.fix is not None
        self.assertEqual((finding.fix.path, finding.fix.value), ("physics.density", "varying"))
        self.assertEqual(box("30 °C"), [])


class Watches(unittest.TestCase):
    def test_residuals_met_and_still_moving(self) -> None:
        """The quantity that moves most is named; nothing where all stand still."""
        row = {"momentum": 1e-9, "mass": 1e-9, "energy": 1e-9, "duty": 100.0, "hottest metal": 350.0}
        found = still_moving([row, row | {"duty": 101.0, "hottest metal": 350.001, "mass": 1e-10}])
        assert found is not None
        self.assertEqual(found[0], "duty")
        self.assertAlmostEqual(found[1], 0.0099, places=4)
        self.assertIsNone(still_moving([row, row | {"mass": 1e-10}]))
