"""Surroundings, sources and contacts against exact solutions."""

from __future__ import annotations

import json
import math
import unittest
from typing import Any

from scipy.optimize import brentq

from tests.by_name import hand_of
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.ledger import Key
from wattikos_core.radiation import STEFAN_BOLTZMANN
from wattikos_core.studies import prepare, solve_case


def part(name: str, material: str, x: str, y: str, width: str, height: str, heat: str = "") -> dict[str, Any]:
    shape = {"type": "rectangle", "x": x, "y": y, "width": width, "height": height}
    return {"name": name, "material": material, "shape": shape, "heat": heat}


def wall(boundary: str, thermal: str, **values: str) -> dict[str, Any]:
    return {"type": "wall", "boundaries": [boundary], "thermal": thermal, **values}


def case_of(
    parts: list[dict[str, Any]], conditions: list[dict[str, Any]], extent: str = "flat", fineness: float = 1.0, **more: Any
) -> Any:
    section = {"extent": extent, "depth": "1 m", "parts": parts}
    return read_case(
        {"title": "t", "inputs": {}, "section": section, "conditions": conditions, "grid": {"fineness": fineness}, **more}
    )


class Cylinder(unittest.TestCase):
    def test_layers_with_a_contact_and_convection(self) -> None:
        """Q = ΔT / (ln(r2/r1)/2πk1L + R/2πr2L + ln(r3/r2)/2πk2L + 1/2πr3hL), exact."""
        parts = [
            part("pipe", "pvc", "0 m", "20 mm", "1 m", "5 mm"),
            part("lagging", "foam", "0 m", "25 mm", "1 m", "30 mm"),
        ]
        conditions = [
            wall("pipe, bottom", "temperature", temperature="60 °C"),
            wall("lagging, top", "convection", heat_transfer_coefficient="12 W/m^2/K", ambient_temperature="20 °C"),
        ]
        contacts = [{"between": ["lagging", "pipe"], "resistance": "0.02 m^2*K/W"}]
        materials = {"foam": {"base": "cellular_glass", "conductivity": "0.045 W/m/K"}}
        run = solve_case(case_of(parts, conditions, "axisymmetric", 6.0, contacts=contacts, materials=materials))
        two_pi = 2.0 * math.pi
        resistances = [
            math.log(25 / 20) / (two_pi * 0.17),
            0.02 / (two_pi * 0.025),
            math.log(55 / 25) / (two_pi * 0.045),
            1 / (two_pi * 0.055 * 12),
        ]
        exact = 40.0 / sum(resistances)
        self.assertAlmostEqual(run.value("heat out through lagging, top") / exact, 1.0, delta=3e-4)
        self.assertAlmostEqual(run.value("heat from pipe to lagging") / run.value("heat out through lagging, top"), 1.0, places=8)
        surface = 293.15 + exact / (two_pi * 0.055 * 12)
        self.assertAlmostEqual(run.value("mean temperature of lagging, top"), surface, delta=0.01)

    def test_a_filled_gap_is_a_contact(self) -> None:
        parts = [part("a", "copper", "0 m", "0 m", "10 mm", "10 mm"), part("b", "copper", "10 mm", "0 m", "10 mm", "10 mm")]
        conditions = [wall("a, left", "temperature", temperature="60 °C"), wall("b, right", "temperature", temperature="20 °C")]
        contacts = [{"between": ["a", "b"], "thickness": "0.2 mm", "material": "silicone"}]
        case = case_of(parts, conditions, contacts=contacts)
        self.assertAlmostEqual(resolve(case).contacts["a | b"], 0.0002 / 0.35, places=9)
        copper = 0.02 / 400.3
        self.assertAlmostEqual(
            solve_case(case).value("heat out through b, right") / (0.01 * 40.0 / (copper + 0.0002 / 0.35)), 1.0, delta=1e-3
        )


class Radiation(unittest.TestCase):
    def test_wall_with_convection_and_radiation(self) -> None:
        """The surface temperature is the root of k(Th - Ts)/L + q = h(Ts - Ta) + εσ(Ts⁴ - Tr⁴), exact; q shines on it."""
        for shines in (0.0, 600.0):
            with self.subTest(shines=shines):
                self.check(shines)

    def check(self, shines: float) -> None:
        parts = [part("wall", "wool", "0 m", "0 m", "50 mm", "10 mm")]
        materials = {"wool": {"base": "mineral_wool", "conductivity": "0.04 W/m/K"}}
        given = {
            "heat_transfer_coefficient": "6 W/m^2/K",
            "ambient_temperature": "15 °C",
            "emissivity": "0.85",
            "surroundings_temperature": "-10 °C",
            "absorbed": f"{shines} W/m^2",
        }
        conditions = [wall("wall, left", "temperature", temperature="180 °C"), wall("wall, right", "convection_radiation", **given)]

        def open_balance(surface: float) -> float:
            inside = 0.040 / 0.05 * (453.15 - surface)
            return inside + shines - 6.0 * (surface - 288.15) - 0.85 * STEFAN_BOLTZMANN * (surface**4 - 263.15**4)

        surface = brentq(open_balance, 200.0, 453.0, xtol=1e-12)
        run = solve_case(case_of(parts, conditions, materials=materials))
        self.assertAlmostEqual(run.value("mean temperature of wall, right"), surface, places=6)
        self.assertAlmostEqual(run.value("heat out through wall, right"), 0.010 * 0.8 * (453.15 - surface), places=7)
        self.assertLess(run.value("heat balance"), 1e-9)

    def test_radiation_alone(self) -> None:
        parts = [part("plate", "copper", "0 m", "0 m", "2 mm", "10 mm", heat="10 W")]
        run = solve_case(case_of(parts, [wall("plate, right", "radiation", emissivity="0.5", surroundings_temperature="20 °C")]))
        exact = (10.0 / (0.010 * 0.5 * STEFAN_BOLTZMANN) + 293.15**4) ** 0.25
        self.assertAlmostEqual(run.value("mean temperature of plate, right"), exact, delta=1e-4)


class Sources(unittest.TestCase):
    def slab(self, heat: str) -> Any:
        return case_of(
            [part("slab", "pvc", "0 m", "0 m", "20 mm", "10 mm", heat=heat)],
            [wall("slab, right", "convection", heat_transfer_coefficient="50 W/m^2/K", ambient_temperature="20 °C")],
            fineness=4.0,
        )

    def test_uniform_source_between_insulation_and_convection(self) -> None:
        """T(0) = Ta + qL/h + qL²/2k, exact; the source in watts and per volume are the same."""
        q, length = 50_000.0, 0.02
        exact = 293.15 + q * length / 50.0 + q * length**2 / (2.0 * 0.17)
        for heat in ("50 kW/m^3", "10 W"):
            run = solve_case(self.slab(heat))
            self.assertAlmostEqual(run.value("heat out through slab, right"), 10.0, places=7)
            self.assertAlmostEqual(run.value("mean temperature of slab, left"), exact, delta=0.02)
            self.assertLess(run.value("heat balance"), 1e-9)

    def test_heat_rate_over_a_boundary(self) -> None:
        case = case_of(
            [part("bar", "copper", "0 m", "0 m", "20 mm", "10 mm")],
            [wall("bar, left", "heat_rate", heat_rate="25 W"), wall("bar, right", "temperature", temperature="20 °C")],
        )
        self.assertAlmostEqual(solve_case(case).value("heat out through bar, right") / 25.0, 1.0, delta=1e-9)


class Refusals(unittest.TestCase):
    bar = part("bar", "copper", "0 m", "0 m", "20 mm", "10 mm")

    def refused(self, conditions: list[dict[str, Any]], word: str, **more: Any) -> None:
        with self.assertRaises(CaseError) as caught:
            prepare(case_of([self.bar], conditions, **more))
        self.assertIn(word, str(caught.exception))

    def test_heat_needs_somewhere_to_go(self) -> None:
        self.refused([wall("bar, left", "heat_flux", heat_flux="5 kW/m^2")], "nowhere to go")
        self.refused(
            [wall("bar, left", "convection", heat_transfer_coefficient="0 W/m^2/K", ambient_temperature="20 °C")], "nowhere to go"
        )

    def test_values_that_cannot_be(self) -> None:
        self.refused([wall("bar, left", "radiation", emissivity="1.2", surroundings_temperature="20 °C")], "between 0 and 1")
        self.refused(
            [wall("bar, left", "convection", heat_transfer_coefficient="-5 W/m^2/K", ambient_temperature="20 °C")],
            "must not be below",
        )
        self.refused([wall("bar, left", "convection", heat_transfer_coefficient="5 W/m^2/K")], "nothing is entered")
        hold = [wall("bar, left", "temperature", temperature="20 °C")]
        self.refused(hold, "no part 'foil'", contacts=[{"between": ["bar", "foil"], "resistance": "1e-4 m^2*K/W"}])

    def test_a_cold_ambient_is_doubted(self) -> None:
        given = {"heat_transfer_coefficient": "5 W/m^2/K", "ambient_temperature": "20 K"}
        findings = prepare(case_of([self.bar], [wall("bar, left", "convection", **given)])).findings
        self.assertTrue(any(f.severity == "stop" and "did you mean 20 °C" in f.remedy for f in findings))


class FeedLine(unittest.TestCase):
    def line(self, **inputs: str) -> Any:
        data = json.loads(starter_case("feed_line").model_dump_json())
        data["grid"]["fineness"] = 0.7
        for name, value in inputs.items():
            data["inputs"][name]["value"] = value
        return read_case(data)

    def test_solved_and_hand_calculated_loss_agree(self) -> None:
        for inputs in ({}, {"insulation": "10 mm", "length": "5 m"}):
            run = solve_case(self.line(**inputs))
            self.assertTrue(run.solution.converged)
            rows = {row.name: row for row in run.ledger}
            for name in (
                "stream outlet temperature",
                "stream heat given off",
                "mean temperature of insulation, top",
                "stream pressure drop",
            ):
                self.assertTrue(rows[name].agrees, f"{name} with {inputs}: {rows[name].verdict}")
            self.assertLess(run.value("heat balance"), 1e-9)

    def test_more_insulation_loses_less(self) -> None:
        thin, thick = (prepare(self.line(insulation=f"{t} mm")).hand[Key("heat_gained", "stream")].value for t in (10, 40))
        self.assertLess(thin, thick)
        self.assertLess(thick, 0.0)

    def test_what_the_relation_cannot_describe_is_refused(self) -> None:
        for change, word in (
            (lambda d: d["section"].update(extent="flat"), "axisymmetric"),
            (lambda d: d["conditions"].pop(3), "meets no surroundings"),
            (lambda d: d["estimates"][0].update(fluid="milk"), "no part 'milk'"),
        ):
            data = json.loads(self.line().model_dump_json())
            change(data)
            with self.assertRaises(CaseError) as caught:
                hand_of(resolve(read_case(data)))
            self.assertIn(word, str(caught.exception))


class Radiating(unittest.TestCase):
    def test_a_source_that_radiates_all_it_has(self) -> None:
        """q = ε σ (T⁴ - T_s⁴), exact; iterations overshoot by far on their way, and the surface closes its balance on all of it."""
        for heat in (1e4, 1e6, 1e8):
            slab = part("slab", "copper", "0 mm", "0 mm", "10 mm", "10 mm", heat=f"{heat} W/m^3")
            run = solve_case(
                case_of([slab], [wall("slab, right", "radiation", emissivity="0.5", surroundings_temperature="300 K")])
            )
            self.assertTrue(run.solution.converged)
            exact = (300.0**4 + heat * 0.01 / (0.5 * STEFAN_BOLTZMANN)) ** 0.25
            self.assertAlmostEqual(run.value("mean temperature of slab, right"), exact, delta=1e-6 * exact)
            self.assertLess(run.value("heat balance"), 1e-9)
