"""Steady flows found cold, without help: driven by pressures, stirred by weight; what cannot be found says why."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from django.test import tag

from tests.sections import circle, held, rectangle, section_case
from wattikos_core.case import read_case, starter_case
from wattikos_core.errors import SolveError
from wattikos_core.solve.turbulent_start import stands
from wattikos_core.studies import Result, solve_case

# Of the ripening room a metre deep: its stack leaves 40 % of itself to the air, m3.
_AIR = 4.0 * 2.5 - 0.6 * 2.0 * 1.6


def driven(starter: str, pressures: dict[str, float], kind: str, fineness: float = 0.6) -> Any:
    """A starter whose streams enter by a pressure (Pa), by part."""
    document = starter_case(starter).model_dump(mode="json")
    for condition in document["conditions"]:
        if condition["type"] == "inlet":
            pressure = pressures[condition["boundaries"][0].split(",")[0]]
            condition |= {
                "mass_flow": "",
                "velocity": "",
                "pressure": f"{pressure:.9g} Pa",
                "pressure_is": kind,
                "profile": "uniform",
            }
    document["grid"]["fineness"] *= fineness
    return read_case(document)


def room(ends: dict[str, dict[str, list[str]]], warm_first: bool) -> Any:
    """A room of 120 mm with two inlets of 20 mm, 0.05 m/s of air at 18 and 22 °C, and an outlet (Rayleigh number 7e5)."""
    document = starter_case("empty").model_dump(mode="json")
    shape = {"type": "rectangle", "width": "120 mm", "height": "120 mm", "divided": {k: v["at"] for k, v in ends.items()}}
    document["section"]["parts"] = [{"name": "room", "material": "air", "shape": shape}]
    names = [f"room, {name}" for side in ends.values() for name in side["names"]]
    temperatures = ("22 degC", "18 degC") if warm_first else ("18 degC", "22 degC")
    document["conditions"] = [
        {"type": "inlet", "boundaries": [name], "velocity": "0.05 m/s", "temperature": at}
        for name, at in zip(names[:2], temperatures, strict=True)
    ] + [{"type": "outlet", "boundaries": names[2:]}]
    document["physics"]["gravity_y"] = "-9.81 m/s^2"
    return read_case(document)


class ByPressure(unittest.TestCase):
    def drops(self, run: Result) -> dict[str, float]:
        return {row.key.place: row.solved for row in run.ledger if row.key.quantity == "pressure_drop" and row.solved is not None}

    def test_there_and_back(self) -> None:
        """The drop that a flow makes, given as a static pressure, makes that flow again: within what the profile at the inlet,
        free then, changes in the entry."""
        for starter in ("plate_passage", "feed_line", "pin_channel"):
            with self.subTest(starter):
                case = starter_case(starter)
                given = solve_case(
                    case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.6 * case.grid.fineness})})
                )
                back = solve_case(driven(starter, self.drops(given), "static"))
                self.assertTrue(back.solution.converged)
                for row in given.ledger:
                    if row.key.quantity == "reynolds_number" and row.solved is not None:
                        self.assertAlmostEqual(back.value(row.key) / row.solved, 1.0, delta=0.03, msg=row.key.label)

    @tag("slow")
    def test_every_starter_with_a_stream_by_total_pressure(self) -> None:
        """Pressures of the size its own flow needs."""
        pressures = {
            "double_pipe": {"hot": 31.0, "cold": 64.0},
            "bundle_staggered": {"whey": 0.0164},
            "rinse_heater": {"stream": 0.205},
            "holding_tube": {"product": 19.0},
            "fin_channel": {"air": 10.0},
            "cone_gap": {"oil": 286.0},
        }
        for starter, given in pressures.items():
            with self.subTest(starter):
                run = solve_case(driven(starter, given, "total"))
                self.assertTrue(run.solution.converged)
                for part, drop in self.drops(run).items():
                    # What is not spent on friction is the head of the velocity.
                    self.assertTrue(0.3 * given[part] < drop <= 1.001 * given[part], f"{part}: {drop}")

    def test_static_pressure_at_an_inlet(self) -> None:
        """Once an index beyond all tables: fins and a passage at 10 Pa."""
        for starter, parts in (("fin_channel", ("air",)), ("plate_passage", ("hot", "cold"))):
            run = solve_case(driven(starter, dict.fromkeys(parts, 10.0), "static", 1.0))
            self.assertTrue(run.solution.converged, starter)
            for drop in self.drops(run).values():
                self.assertAlmostEqual(drop, 10.0, places=6)

    @tag("slow")
    def test_what_cannot_be_steady_says_so(self) -> None:
        """200 Pa through a channel of pins makes a Reynolds number of thousands."""
        case = driven("bundle_staggered", {"whey": 200.0}, "total", 0.4)
        try:
            run = solve_case(case)
        except SolveError as error:
            self.assertIn("Reynolds number", error.reason)
            self.assertIn("lower what drives it", error.remedy)
        else:
            self.assertFalse(run.solution.converged)
            self.assertTrue(any(finding.severity == "stop" for finding in run.findings))
            self.assertTrue(np.isfinite(run.solution.state.velocity).all())


class ByWeight(unittest.TestCase):
    @tag("slow")
    def test_a_turbulent_room_with_a_jet_goods_and_warm_walls(self) -> None:
        """The starter, Rayleigh number 7e9: what leaves is as old as the room is large, as warm as heat makes it."""
        run = solve_case(starter_case("ripening_room"))
        self.assertTrue(run.solution.converged)
        self.assertAlmostEqual(run.value("room mean age at the outlet"), _AIR / (1.5 * 0.1), delta=1e-3)
        carried = 1.5 * 0.1 * 1.2354 * 1006.0
        self.assertAlmostEqual(
            (run.value("room outlet temperature") - 284.15) * carried / run.value("room heat gained"), 1.0, delta=0.01
        )
        self.assertFalse(any(finding.severity == "stop" for finding in run.findings))

    @tag("slow")
    def test_the_same_room_on_other_grids(self) -> None:
        for cells in (837, 1254, 2016):
            with self.subTest(cells=cells):
                case = starter_case("ripening_room")
                run = solve_case(case.model_copy(update={"grid": case.grid.model_copy(update={"cells": cells})}))
                self.assertTrue(run.solution.converged)
                self.assertAlmostEqual(run.value("room mean age at the outlet"), _AIR / (1.5 * 0.1), delta=1e-3)

    def test_a_warm_bar_in_a_box(self) -> None:
        """Ordinary pseudo-time goes astray here: it is found as time goes."""
        box = rectangle("box", "air", "0 m", "0 m", "100 mm", "100 mm")
        bar = circle("bar", "aluminium", "50 mm", "33.3 mm", "20 mm", heat="1 W")
        walls = held(*(f"box, {side}" for side in ("left", "right", "top", "bottom")), at="20 degC")
        run = solve_case(section_case(box, bar, conditions=[walls], physics={"gravity_y": "-9.81 m/s^2"}))
        self.assertTrue(run.solution.converged)
        self.assertLess(run.value("heat balance"), 1e-7)

    @tag("slow")
    def test_closed_rooms_at_all_rayleigh_numbers(self) -> None:
        """Between a warm and a cold side, and with a heater in the floor and a cold window, 10 K apart."""
        for rayleigh in (1e6, 1e7, 1e8, 1e9, 1e10):
            side = (rayleigh * 1.51e-5 * 2.12e-5 / (9.81 * 10.0 / 293.15)) ** (1.0 / 3.0)
            whole = (rectangle("room", "air", "0 m", "0 m", f"{side} m", f"{side} m"), "room, left", "room, right")
            cut = {"bottom": [f"{0.2 * side} m", f"{0.4 * side} m"], "right": [f"{0.4 * side} m", f"{0.8 * side} m"]}
            parted = rectangle("room", "air", "0 m", "0 m", f"{1.5 * side} m", f"{side} m", divided=cut)
            for section, warm, cold in (whole, (parted, "room, bottom 2", "room, right 2")):
                if rayleigh > 1e8 and section is parted:
                    # Its plume swings: none is steady on all grids.
                    continue
                with self.subTest(rayleigh=rayleigh, warm=warm):
                    conditions = [held(warm, at="25 degC"), held(cold, at="15 degC")]
                    physics = {"gravity_y": "-9.81 m/s^2", "flow": "automatic"}
                    run = solve_case(section_case(section, conditions=conditions, physics=physics))
                    self.assertTrue(run.solution.converged)

    @tag("slow")
    def test_rooms_with_two_inlets(self) -> None:
        left_right = {
            "left": {"at": ["20 mm", "100 mm"], "names": ["left 1", "left 3"]},
            "right": {"at": ["50 mm", "70 mm"], "names": ["right 2"]},
        }
        from_below = {
            "bottom": {"at": ["20 mm", "100 mm"], "names": ["bottom 1", "bottom 3"]},
            "top": {"at": ["50 mm", "70 mm"], "names": ["top 2"]},
        }
        face_to_face = {
            "left": {"at": ["20 mm"], "names": ["left 1"]},
            "right": {"at": ["100 mm"], "names": ["right 2"]},
            "top": {"at": ["50 mm", "70 mm"], "names": ["top 2"]},
        }
        for name, ends, warm_first in (
            ("one above the other", left_right, False),
            ("warm below", left_right, True),
            ("from below", from_below, False),
            ("face to face", face_to_face, True),
        ):
            with self.subTest(name):
                run = solve_case(room(ends, warm_first))
                self.assertTrue(run.solution.converged)
                # Both bring the same volume: what leaves is in the middle, by the balance of heat.
                self.assertAlmostEqual(run.value("room outlet temperature") - 273.15, 19.98, delta=0.05)


# How many times a starter's own flows make its streams turbulent.
TURBULENT = {
    "plate_passage": 30,
    "double_pipe": 10,
    "bundle_staggered": 30,
    "bundle_module": 300,
    "feed_line": 10,
    "rinse_heater": 30,
    "holding_tube": 10,
    "ribbed_duct": 30,
    "fin_channel": 10,
    "pin_channel": 100,
    "cross_flow": 100,
    "cone_gap": 1000,
}


def faster(starter: str, times: float, fineness: float) -> Any:
    """A starter whose streams flow so many times as fast, turbulent where their Reynolds numbers say so."""
    document = starter_case(starter).model_dump(mode="json")
    for item in document["inputs"].values():
        number, _, unit = str(item["value"]).partition(" ")
        if unit.rstrip().endswith(("/s", "/h", "/min")):
            item["value"] = f"{float(number) * times:.9g} {unit}"
    document["physics"]["flow"] = "automatic"
    document["grid"]["fineness"] *= fineness
    document["sizing"] = {}
    return read_case(document)


class Turbulent(unittest.TestCase):
    def check(self, starter: str, times: float, fineness: float) -> None:
        run = solve_case(faster(starter, times, fineness))
        assert run.field is not None
        self.assertTrue(run.field.problem.turbulent.any())
        self.assertTrue(run.solution.converged)
        self.assertLess(abs(run.value("heat balance")), 1e-6)

    @tag("slow")
    def test_a_whole_bundle(self) -> None:
        """Six tubes in line at a Reynolds number of 1,300 on their diameter: wakes meet wakes."""
        self.check("bundle_in_line", 30, 0.25)

    @tag("slow")
    def test_every_starter_bent_to_turbulent_inputs(self) -> None:
        for starter, times in TURBULENT.items():
            with self.subTest(starter):
                self.check(starter, times, 0.6)

    def test_when_an_attempt_is_given_up(self) -> None:
        """Residuals may rise at first; what goes on no lower than before is over."""
        rising = [0.2, 0.24, 0.21, 0.17, 0.13, 0.12]
        self.assertFalse(stands(rising, 6))
        self.assertFalse(stands([*rising, 0.11, 0.1, 0.09, 0.08, 0.06], 5))
        self.assertTrue(stands([0.3, 0.2, 0.25, 0.2, 0.19, 0.2, 0.21, 0.18], 4))
