"""Insulated pipes by hand: cold surroundings, hot insulation, contacts and coatings, walls at one temperature."""

from __future__ import annotations

import json
import math
import unittest
from typing import Any

import numpy as np

from tests.by_name import hand_of
from tests.physics.test_ducts import graetz
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.estimate import HandValue
from wattikos_core.materials import table_of
from wattikos_core.studies import solve_case


def line(fineness: float = 0.6, outside: dict[str, str] | None = None, **inputs: str) -> dict[str, Any]:
    """The feed line with other inputs, and something else outside its insulation."""
    document: dict[str, Any] = json.loads(starter_case("feed_line").model_dump_json())
    for name, value in inputs.items():
        document["inputs"][name]["value"] = value
    document["grid"]["fineness"] = fineness
    if outside is not None:
        place = next(i for i, c in enumerate(document["conditions"]) if "insulation, top" in c["boundaries"])
        document["conditions"][place] = {"type": "wall", "boundaries": ["insulation, top"], **outside}
    return document


def by_hand(document: dict[str, Any]) -> dict[str, HandValue]:
    return hand_of(resolve(read_case(document)))


class Outside(unittest.TestCase):
    def test_surroundings_colder_than_the_ambient(self) -> None:
        """A line at the temperature of its ambient that radiates to a cold sky loses heat by hand as in the field."""
        sky = {
            "thermal": "convection_radiation",
            "heat_transfer_coefficient": "5 W/m^2/K",
            "ambient_temperature": "20 °C",
            "emissivity": "0.9",
            "surroundings_temperature": "-40 °C",
        }
        for inlet in ("20 °C", "15 °C", "60 °C"):
            document = line(outside=sky)
            next(c for c in document["conditions"] if c["type"] == "inlet")["temperature"] = inlet
            hand = by_hand(document)["stream heat gained"]
            self.assertTrue(hand.inside)
            self.assertEqual(hand.leaves_out, ())
            solved = solve_case(read_case(document)).value("stream heat gained")
            self.assertLess(solved, -20.0)
            self.assertAlmostEqual(solved / hand.value, 1.0, delta=0.03)

    def test_coatings_contacts_and_held_surfaces(self) -> None:
        for outside, contact in (
            (
                {
                    "thermal": "convection",
                    "heat_transfer_coefficient": "8 W/m^2/K",
                    "ambient_temperature": "5 °C",
                    "coating_thickness": "3 mm",
                    "coating_material": "ptfe",
                },
                "",
            ),
            ({"thermal": "convection", "heat_transfer_coefficient": "8 W/m^2/K", "ambient_temperature": "5 °C"}, "0.02 m^2*K/W"),
            ({"thermal": "temperature", "temperature": "0 °C"}, ""),
        ):
            document = line(outside=outside)
            if contact:
                document["contacts"] = [{"between": ["pipe", "insulation"], "resistance": contact}]
            hand = by_hand(document)["stream heat gained"]
            self.assertEqual(hand.leaves_out, ())
            self.assertAlmostEqual(solve_case(read_case(document)).value("stream heat gained") / hand.value, 1.0, delta=0.02)

    def test_layers_conduct_at_their_own_temperatures(self) -> None:
        """Steam at 200 °C through mineral wool: by hand as in the field, and half as much again as at room temperature."""
        document = line()
        next(c for c in document["conditions"] if c["type"] == "inlet")["temperature"] = "95 °C"
        hand = by_hand(document)["stream heat gained"]
        self.assertAlmostEqual(solve_case(read_case(document)).value("stream heat gained") / hand.value, 1.0, delta=0.02)
        wool = table_of("mineral_wool")
        self.assertAlmostEqual(float(wool.conductivity(473.15)), 0.065, delta=0.003)
        self.assertAlmostEqual(float(wool.conductivity(283.15)), 0.037, delta=0.003)


class Film(unittest.TestCase):
    def test_an_oil_line_under_ice_water(self) -> None:
        """Unused oil at 20 °C, 2 m/s, 0.3 m bore, 200 m under a lake at 0 °C: as the Graetz series has it, and within a tenth of
        a book's 67.4 kW by Hausen (Çengel, Heat Transfer, example 8-3, from memory), whose film is 9 % thinner at that length."""
        document = line(outside={"thermal": "temperature", "temperature": "0 °C"})
        document["materials"] |= {
            "oil": {
                "base": "thermal_oil",
                "density": "888.1 kg/m^3",
                "specific_heat": "1880 J/kg/K",
                "viscosity": "0.8374 Pa*s",
                "conductivity": "0.145 W/m/K",
            }
        }
        parts = document["section"]["parts"]
        parts[0] |= {"material": "oil"}
        parts[0]["shape"] |= {"width": "200 m", "height": "150 mm"}
        parts[1]["shape"] |= {"y": "150 mm", "width": "200 m", "height": "0.1 mm"}
        parts[2]["shape"] |= {"y": "150.1 mm", "width": "200 m", "height": "0.1 mm"}
        for part in parts[1:]:
            part["material"] = "copper"
        inlet = next(c for c in document["conditions"] if c["type"] == "inlet")
        inlet.pop("mass_flow", None)
        inlet |= {"velocity": "2 m/s", "temperature": "20 °C", "profile": "developed"}
        hand = by_hand(document)
        rate = 2.0 * 888.1 * math.pi * 0.15**2 * 1880.0
        x_star = 0.145 / (2.0 * 888.1 * 1880.0) * 200.0 / 0.3**2
        series = rate * 20.0 * (1.0 - float(graetz(np.array([x_star]), pipe=True)[0]))
        self.assertAlmostEqual(hand["stream heat gained"].value / -series, 1.0, delta=0.01)
        self.assertAlmostEqual(hand["stream heat gained"].value / -67.4e3, 1.0, delta=0.1)
        self.assertTrue(hand["stream heat gained"].inside)

    def test_minor_losses_stand_beside_friction(self) -> None:
        document = line()
        plain = by_hand(document)
        document["estimates"][0]["losses"] = "1.5"
        more = by_hand(document)["stream pressure drop"].value - plain["stream pressure drop"].value
        area = math.pi * 0.25 * _bore(document) ** 2
        inlet = resolve(read_case(document)).condition("stream, left")
        assert inlet is not None
        density = 1000.0 if inlet.type == "inlet_mass" else 0.0
        self.assertAlmostEqual(more / (1.5 * inlet.amount**2 / (2.0 * density * area**2)), 1.0, delta=0.03)


def _bore(document: dict[str, Any]) -> float:
    return 2.0 * resolve(read_case(document)).part("stream").height
