"""Worked examples of Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), all from memory.

Further ones stand beside their relations: bundle 7.6 and sphere 7.5 (`test_relations`), annular fins 3.9 (there), turbulent pipe
8.6 and free convection 9.2 and 9.4 (`test_films`), and an oil line of another book (`test_pipes`).
"""

from __future__ import annotations

import json
import unittest

from tests.by_name import hand_of
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.estimate.bundles import cylinder_nusselt
from wattikos_core.estimate.fins import pin_fin_efficiency
from wattikos_core.materials import table_of


class Examples(unittest.TestCase):
    def test_long_pin_fins(self) -> None:
        """Example 3.8: a rod of 5 mm at 100 °C in air of 25 °C, h 100 W/(m²·K): 8.3 W of copper, 5.6 W of aluminium, 1.6 W of
        steel."""
        for conductivity, heat in ((398.0, 8.3), (180.0, 5.6), (14.0, 1.6)):
            area = 3.14159 * 0.005 * (1.0 + 0.25 * 0.005)
            self.assertAlmostEqual(100.0 * area * 75.0 * pin_fin_efficiency(100.0, conductivity, 0.005, 1.0), heat, delta=0.05)

    def test_a_cylinder_in_air(self) -> None:
        """Example 7.4: 12.7 mm, air at 26.2 °C and 10 m/s, wall at 128.4 °C: 105 W/(m²·K) by Zukauskas (Nu 50.5), Reynolds number
        7,992."""
        air = table_of("air")
        t, wall = 299.35, 401.55
        reynolds = 10.0 * 0.0127 * float(air.density(t)) / float(air.viscosity(t))
        self.assertAlmostEqual(reynolds / 7992.0, 1.0, delta=0.02)
        nusselt = cylinder_nusselt(reynolds, float(air.prandtl(t)), float(air.prandtl(wall)))
        self.assertAlmostEqual(nusselt / 50.5, 1.0, delta=0.03)
        self.assertAlmostEqual(nusselt * float(air.conductivity(t)) / 0.0127 / 105.0, 1.0, delta=0.03)

    def test_an_oil_cooler(self) -> None:
        """Example 11.1: oil at 0.1 kg/s and 100 °C in the annulus of 25 to 45 mm, water at 0.2 kg/s and 30 °C inside, in
        counterflow: with 66 m of pipe 8,524 W pass at 38.4 W/(m²·K) in the oil, 2,250 in the water.

        The book takes the oil's properties at 80 °C everywhere; with those of its cold wall 13 % less pass.
        """
        document = json.loads(starter_case("double_pipe").model_dump_json())
        for name, value in {"length": "65.9 m", "bore": "25 mm", "wall": "0.01 mm", "gap": "10 mm"}.items():
            document["inputs"][name]["value"] = value
        fixed = {"density": "852 kg/m^3", "specific_heat": "2131 J/kg/K", "viscosity": "0.0325 Pa*s", "conductivity": "0.138 W/m/K"}
        document["materials"]["oil"] = {"base": "engine_oil", **fixed}
        for part in document["section"]["parts"]:
            part["material"] = {"hot": "water", "cold": "oil"}.get(part["name"], "copper")
        for condition in document["conditions"]:
            if condition["type"] == "inlet":
                oil = condition["boundaries"][0].startswith("cold")
                condition |= (
                    {"mass_flow": "0.1 kg/s", "temperature": "100 °C"} if oil else {"mass_flow": "0.2 kg/s", "temperature": "30 °C"}
                )
        document["estimates"][0] |= {"hot": "cold", "cold": "hot"}
        hand = hand_of(resolve(read_case(document)))
        self.assertTrue(hand["duty"].inside)
        self.assertEqual(hand["duty"].leaves_out, ())
        self.assertAlmostEqual(hand["duty"].value / 8524.0, 1.0, delta=0.06)
        self.assertAlmostEqual(hand["cold h"].value / 38.4, 1.0, delta=0.12)
        self.assertAlmostEqual(hand["hot h"].value / 2250.0, 1.0, delta=0.12)
