"""Turbulent and transitional ducts, what a wall's temperature does to gases and liquids, free convection outside."""

from __future__ import annotations

import json
import unittest
from typing import Any

import fluids
import ht
import numpy as np

from tests.by_name import hand_of
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.estimate import HandValue
from wattikos_core.estimate.films import TURBULENT_REYNOLDS, by_wall, duct_film
from wattikos_core.estimate.free_convection import free_convection
from wattikos_core.materials import constant_table, table_of


def by_hand(document: dict[str, Any]) -> dict[str, HandValue]:
    return hand_of(resolve(read_case(document)))


def film(reynolds: float, prandtl: float = 6.0, roughness: float = 0.0, slenderness: float = 0.0) -> Any:
    return duct_film(
        lambda number: (3.66, 64.0 / number),
        reynolds,
        prandtl,
        slenderness=slenderness,
        roughness=roughness,
        laminar_scatter=0.06,
    )


class Turbulent(unittest.TestCase):
    def test_against_the_ht_and_fluids_libraries_over_random_entries(self) -> None:
        """Gnielinski against Petukhov, Kirillov and Popov within 12 %, friction as Colebrook's."""
        random = np.random.default_rng(4)
        for _ in range(40):
            reynolds, prandtl = 10.0 ** random.uniform(4.0, 6.0), 10.0 ** random.uniform(-0.1, 2.0)
            roughness = 10.0 ** random.uniform(-6.0, -2.0)
            got = film(reynolds, prandtl, roughness)
            self.assertAlmostEqual(got.friction / fluids.friction.Colebrook(reynolds, roughness), 1.0, delta=1e-3)
            smooth = film(reynolds, prandtl)
            other = ht.conv_internal.turbulent_Petukhov_Kirillov_Popov(Re=reynolds, Pr=prandtl, fd=smooth.friction)
            self.assertAlmostEqual(smooth.nusselt / other, 1.0, delta=0.12)
            self.assertTrue(got.inside)

    def test_a_worked_example(self) -> None:
        """Incropera and DeWitt, example 8.6 (from memory): water at 1 kg/s through 60 mm (Re 59,000 or so, Pr 2.6) by Dittus and
        Boelter; Gnielinski within 15 % of it."""
        self.assertAlmostEqual(film(59_000.0, 2.6).nusselt / (0.023 * 59_000.0**0.8 * 2.6**0.4), 1.0, delta=0.15)

    def test_transition_is_steady_and_marked_by_its_scatter(self) -> None:
        numbers = [film(re).nusselt for re in np.linspace(2000.0, 4500.0, 200)]
        self.assertLess(np.abs(np.diff(numbers)).max(), 0.6)
        self.assertAlmostEqual(film(2299.9).nusselt, film(2300.1).nusselt, delta=0.01)
        self.assertAlmostEqual(film(TURBULENT_REYNOLDS - 0.1).nusselt, film(TURBULENT_REYNOLDS + 0.1).nusselt, delta=0.01)
        self.assertGreater(film(3000.0).scatter, 2.0 * film(1e4).scatter)
        self.assertFalse(film(1e5, prandtl=0.02).inside)
        self.assertGreater(film(1e4, slenderness=0.05).nusselt, 1.1 * film(1e4).nusselt)

    def test_pipes_plates_and_annuli_of_the_starters_have_turbulent_values(self) -> None:
        for key, flow, row in (
            ("feed_line", "flow", "stream Nusselt number"),
            ("plate_passage", "hot_flow", "hot Nusselt number"),
            ("double_pipe", "cold_flow", "cold Nusselt number"),
        ):
            document = json.loads(starter_case(key).model_dump_json())
            document["inputs"][flow]["value"] = "1 kg/s"
            hand = by_hand(document)
            part = row.split(" ")[0]
            reynolds = hand[f"{part} Reynolds number"].value
            self.assertGreater(reynolds, TURBULENT_REYNOLDS)
            self.assertTrue(hand[row].inside, hand[row].range)
            self.assertIn("Gnielinski", hand[row].source)
            self.assertGreater(hand[row].value, 20.0)
            smooth = hand.get(f"{part} pressure drop")
            document["estimates"][0]["roughness"] = "0.2 mm"
            if smooth is not None:
                self.assertGreater(by_hand(document)[f"{part} pressure drop"].value, 1.1 * smooth.value)


class Walls(unittest.TestCase):
    def test_gases_liquids_and_metals(self) -> None:
        """Kays and Crawford (1993), table 15-1 (from memory): laminar gases keep Nu and raise f as T_w/T_m, turbulent ones lose
        half a power of Nu when heated and none when cooled; liquids follow their viscosity; metals neither."""
        air, water = table_of("air"), table_of("water")
        self.assertEqual(by_wall(air, 300.0, 450.0, turbulent=False), (1.0, 1.5))
        nusselt, friction = by_wall(air, 300.0, 450.0, turbulent=True)
        self.assertAlmostEqual(nusselt, 1.5**-0.5)
        self.assertAlmostEqual(friction, 1.5**-0.1)
        self.assertEqual(by_wall(air, 450.0, 300.0, turbulent=True)[0], 1.0)
        ratio = float(water.viscosity(340.0) / water.viscosity(300.0))
        nusselt, friction = by_wall(water, 300.0, 340.0, turbulent=False)
        self.assertAlmostEqual(nusselt, ratio**-0.14)
        self.assertAlmostEqual(friction, ratio**0.58)
        metal = constant_table("metal", density=900.0, specific_heat=1300.0, viscosity=3e-4, conductivity=70.0)
        self.assertEqual(by_wall(metal, 500.0, 600.0, turbulent=False), (1.0, 1.0))


class Outside(unittest.TestCase):
    def test_free_convection_of_worked_examples(self) -> None:
        """Incropera and DeWitt (from memory): example 9.2, a screen of 0.71 m at 232 °C in air of 23 °C, h 6.8 to 7.0 W/(m²·K) with
        9.27; example 9.4, a pipe of 0.1 m at 165 °C in 23 °C, h 7.29 W/(m²·K)."""
        air = table_of("air")
        plate, inside = free_convection("upright_plate", 0.71, 505.15, 296.15, air)
        self.assertTrue(inside)
        self.assertAlmostEqual(plate, 6.9, delta=0.4)
        pipe, _ = free_convection("lying_cylinder", 0.1, 438.15, 296.15, air)
        self.assertAlmostEqual(pipe / 7.29, 1.0, delta=0.03)
        ball, _ = free_convection("sphere", 0.1, 320.0, 300.0, air)
        self.assertAlmostEqual(ball / pipe, 0.7, delta=0.3)
        up, _ = free_convection("plate_facing_up", 0.1, 330.0, 300.0, air)
        down, _ = free_convection("plate_facing_down", 0.1, 330.0, 300.0, air)
        self.assertGreater(up, 1.5 * down)

    def test_layers_find_the_film_outside_by_themselves(self) -> None:
        document = json.loads(starter_case("power_module").model_dump_json())
        document["estimates"][0] |= {"h": "", "outside": "upright_plate", "outside_size": "0.1 m"}
        (hand,) = by_hand(document).values()
        self.assertIn("Churchill", hand.source)
        self.assertGreater(hand.value, 320.0)
