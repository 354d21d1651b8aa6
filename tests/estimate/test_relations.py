"""The relations behind the starters' hand calculations, against an independent library, tables and limits."""

from __future__ import annotations

import json
import math
import unittest

import ht
import numpy as np
from scipy.linalg import solve_banded

from tests.by_name import hand_of
from tests.sections import circle, held, rectangle, section_case
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.estimate.bundles import (
    Bundle,
    bundle_nusselt,
    cylinder_drag,
    cylinder_nusselt,
    holds,
    sphere_drag,
    sphere_nusselt,
)
from wattikos_core.estimate.fins import (
    annular_fin_efficiency,
    hyperbolic_annular_fin_efficiency,
    pin_fin_efficiency,
    straight_fin_efficiency,
)


class CrossFlow(unittest.TestCase):
    def test_a_cylinder_against_the_ht_library(self) -> None:
        """Zukauskas for a single cylinder as in ht (Caleb Bell), and Churchill and Bernstein within their scatter."""
        for reynolds in (5.0, 30.0, 300.0, 5e3, 5e4):
            for prandtl in (0.71, 6.0):
                ours = cylinder_nusselt(reynolds, prandtl, prandtl)
                self.assertAlmostEqual(ours / ht.conv_external.Nu_cylinder_Zukauskas(reynolds, prandtl), 1.0, delta=0.02)
                other = ht.conv_external.Nu_cylinder_Churchill_Bernstein(reynolds, prandtl)
                self.assertAlmostEqual(ours / other, 1.0, delta=0.25)

    def test_drag_of_a_cylinder(self) -> None:
        """2.045 at Re 20 and from 1.5 (computed) to 1.8 (measured) at Re 40: Dennis and Chang (1970) and sources there."""
        self.assertAlmostEqual(cylinder_drag(20.0) / 2.045, 1.0, delta=0.05)
        self.assertTrue(1.45 < cylinder_drag(40.0) < 1.8)

    def test_bundles_agree_with_single_tubes_in_size(self) -> None:
        for arrangement in ("in_line", "staggered"):
            bundle = Bundle(arrangement, 0.02, 0.03, 0.03, 6.0)
            self.assertTrue(0.7 < bundle_nusselt(bundle, 60.0, 7.0, 7.0) / cylinder_nusselt(60.0, 7.0, 7.0) < 1.3)

    def test_fast_bundles_against_the_ht_library(self) -> None:
        """Zukauskas as in ht; both within a few percent of each other, far from a single tube."""
        for reynolds in (2e3, 1.5e4, 1e5, 6e5):
            # The library takes bundles of equal pitches as in line.
            for bundle in (
                Bundle("staggered", 0.0164, 0.0313, 0.0343, 7),
                Bundle("staggered", 0.0164, 0.04, 0.03, 4),
                Bundle("in_line", 0.0164, 0.04, 0.04, 20),
            ):
                ours, across, along, rows = bundle_nusselt(bundle, reynolds, 0.7, 0.7), bundle.across, bundle.along, bundle.rows
                other = ht.Nu_Zukauskas_Bejan(reynolds, 0.7, rows, pitch_parallel=along, pitch_normal=across)
                self.assertAlmostEqual(ours / other, 1.0, delta=0.06, msg=f"{bundle.arrangement} {reynolds}")
                self.assertGreater(ours / cylinder_nusselt(reynolds, 0.7, 0.7), 1.1)

    def test_range_of_bundles(self) -> None:
        self.assertFalse(holds(Bundle("staggered", 0.02), 5e3))
        self.assertTrue(holds(Bundle("staggered", 0.02), 500.0))
        self.assertFalse(holds(Bundle("in_line", 0.02, 0.03, 0.06, 5.0), 5e3))
        self.assertTrue(holds(Bundle("in_line", 0.02, 0.05, 0.05, 5.0), 5e3))
        self.assertFalse(holds(Bundle("single", 0.02), 3e6))

    def test_a_bundle_of_a_textbook(self) -> None:
        """Incropera and DeWitt, 5th ed. (2002), example 7.6 (from memory): staggered, S_T 31.3, S_L 34.3, D 16.4 mm, seven rows of
        eight tubes, air at 6 m/s and 15 °C, walls at 70 °C: h 135.6 W/(m²·K), 19.4 kW/m, about 250 Pa by the chart."""
        case = section_case(
            rectangle("air", "air", "0 m", "0 m", "400 mm", "8*31.3 mm"),
            circle("tube", "copper", "200 mm", "100 mm", "16.4 mm"),
            conditions=[
                {"type": "inlet", "boundaries": ["air, left"], "velocity": "6 m/s", "temperature": "15 °C"},
                {"type": "outlet", "boundaries": ["air, right"]},
                held("tube, left", at="70 °C"),
            ],
            estimates=[
                {
                    "relation": "cross_flow",
                    "fluid": "air",
                    "body": "tube",
                    "diameter": "16.4 mm",
                    "velocity": "12.6 m/s",
                    "count": "56",
                    "arrangement": "staggered",
                    "wall": "70 °C",
                    "pitch_across": "31.3 mm",
                    "pitch_along": "34.3 mm",
                    "rows": "7",
                }
            ],
        )
        hand = hand_of(resolve(case))
        self.assertAlmostEqual(hand["air heat gained"].value / 19.4e3, 1.0, delta=0.03)
        self.assertTrue(hand["air heat gained"].inside)
        nusselt = bundle_nusselt(Bundle("staggered", 0.0164, 0.0313, 0.0343, 7.0), 13943.0, 0.71, 0.701)
        self.assertAlmostEqual(nusselt * 0.0253 / 0.0164 / 135.6, 1.0, delta=0.01)
        self.assertAlmostEqual(hand["air pressure drop"].value / 250.0, 1.0, delta=0.15)

    def test_a_sphere_is_no_cylinder(self) -> None:
        """Incropera and DeWitt, example 7.5 (from memory): 10 mm of copper at 75 °C in air of 23 °C at 10 m/s, h 122 W/(m²·K)."""
        nusselt = sphere_nusselt(6510.0, 0.708, 181.6 / 197.8)
        self.assertAlmostEqual(nusselt * 0.0258 / 0.010 / 122.0, 1.0, delta=0.01)
        # Ranz and Marshall (1952) at low numbers, from memory.
        self.assertAlmostEqual(sphere_nusselt(50.0, 0.7, 1.0) / (2.0 + 0.6 * math.sqrt(50.0) * 0.7 ** (1.0 / 3.0)), 1.0, delta=0.15)
        self.assertAlmostEqual(sphere_drag(100.0), 1.09, delta=0.02)
        case = section_case(
            rectangle("air", "air", "-50 mm", "0 m", "150 mm", "50 mm"),
            circle("ball", "copper", "0 m", "0 m", "10 mm", heat="2 W"),
            axisymmetric=True,
            conditions=[
                {"type": "inlet", "boundaries": ["air, left"], "velocity": "0.5 m/s", "temperature": "20 °C"},
                {"type": "outlet", "boundaries": ["air, right"]},
            ],
            estimates=[{"relation": "cross_flow", "fluid": "air", "body": "ball", "diameter": "10 mm", "velocity": "0.5 m/s"}],
        )
        hand = hand_of(resolve(case))
        self.assertIn("sphere", hand["mean h of air | ball"].source)
        surface = hand["mean temperature of air | ball"].value
        h = hand["mean h of air | ball"].value
        warmed = 0.5 * (hand["air outlet temperature"].value + 293.15)
        self.assertAlmostEqual(h * math.pi * 0.01**2 * (surface - warmed), 2.0, delta=1e-6)

    def test_a_body_without_heat_is_refused_in_words(self) -> None:
        document = json.loads(starter_case("cross_flow").model_dump_json())
        document["section"]["parts"][1]["heat"] = ""
        with self.assertRaises(CaseError) as caught:
            hand_of(resolve(read_case(document)))
        self.assertIn("'bar' has no heat source", str(caught.exception))


class Fins(unittest.TestCase):
    def test_limits(self) -> None:
        for efficiency in (
            straight_fin_efficiency(1e-6, 200.0, 0.002, 0.03),
            pin_fin_efficiency(1e-6, 200.0, 0.002, 0.03),
            annular_fin_efficiency(1e-3, 200.0, 0.002, 0.01, 0.03),
        ):
            self.assertAlmostEqual(efficiency, 1.0, delta=1e-4)
        # A long fin takes in its first length √(k t/2h) only.
        self.assertAlmostEqual(
            straight_fin_efficiency(50.0, 20.0, 0.002, 1.0) * 1.001 / math.sqrt(20.0 * 0.002 / 100.0), 1.0, delta=1e-3
        )

    def test_annular_fins_become_straight_ones_on_large_tubes(self) -> None:
        straight = straight_fin_efficiency(60.0, 40.0, 0.001, 0.02)
        self.assertAlmostEqual(annular_fin_efficiency(60.0, 40.0, 0.001, 10.0, 10.02) / straight, 1.0, delta=2e-3)

    def test_annular_fins_against_the_ht_library(self) -> None:
        """Kern and Kraus as in ht, which leaves the tip out: the thinner the fin, the nearer."""
        for thickness in (0.0001, 0.0002):
            other = ht.fin_efficiency_Kern_Kraus(Do=0.02, D_fin=0.06, t_fin=thickness, k_fin=400.0, h=60.0)
            self.assertAlmostEqual(annular_fin_efficiency(60.0, 400.0, thickness, 0.01, 0.03) / other, 1.0, delta=5e-3)

    def test_annular_fins_by_finite_volumes(self) -> None:
        """(r y T')' = h/k r T on 4,000 rings, tip insulated: uniform thickness (longer by half of it) and one that falls as 1/r."""
        h, k, inner, outer, thickness = 80.0, 30.0, 0.01, 0.03, 0.001
        for law, ours in (
            (lambda r: 1.0 + 0.0 * r, annular_fin_efficiency(h, k, thickness, inner, outer - 0.5 * thickness)),
            (lambda r: inner / r, hyperbolic_annular_fin_efficiency(h, k, thickness, inner, outer)),
        ):
            nodes = np.linspace(inner, outer, 4001)
            middle, step = 0.5 * (nodes[1:] + nodes[:-1]), nodes[1] - nodes[0]
            between = k * nodes * thickness * law(nodes) / step
            between[0] *= 2.0
            between[-1] = 0.0
            rings = h * 2.0 * middle * step
            banded = np.zeros((3, middle.size))
            banded[0, 1:] = banded[2, :-1] = -between[1:-1]
            banded[1] = between[:-1] + between[1:] + rings
            entering = np.zeros(middle.size)
            entering[0] = between[0]
            t = solve_banded((1, 1), banded, entering)
            self.assertAlmostEqual(ours / float((rings * t).sum() / rings.sum()), 1.0, delta=1e-4)

    def test_annular_fins_are_reachable_as_a_case(self) -> None:
        """Incropera and DeWitt, example 3.9 (from memory): five fins of 6 x 20 mm on a cylinder of 50 mm, 150 mm long, k 186
        W/(m·K), h 50 W/(m²·K), 500 K in 300 K give 690 W with an efficiency read as 0.95; it is 0.98, which makes 4 K.
        """
        bare = math.pi * 0.05 * (0.15 - 5 * 0.006)
        document = json.loads(starter_case("pin_sink").model_dump_json())
        document["estimates"][0] |= {
            "kind": "annular",
            "inner_diameter": "50 mm",
            "thickness": "6 mm",
            "height": "20 mm",
            "count": "5",
        }
        document["estimates"][0] |= {"bare": f"{bare} m^2", "under": "1 m^2", "base_thickness": "0.01 mm", "heat": "690 W"}
        document["estimates"][0] |= {"h": "50 W/m^2/K", "ambient": "300 K"}
        document["materials"]["alloy"] = {"base": "aluminium_2024", "conductivity": "186 W/m/K"}
        for each in document["section"]["parts"]:
            each["material"] = "alloy"
        hand = hand_of(resolve(read_case(document)))["mean temperature of base, left"]
        self.assertAlmostEqual(hand.value, 496.0, delta=1.0)
        document["estimates"][0]["bare"] = "-1 cm^2"
        with self.assertRaises(CaseError) as caught:
            hand_of(resolve(read_case(document)))
        self.assertIn("estimates[0].bare", str(caught.exception))


class FromInputs(unittest.TestCase):
    def test_every_error_names_the_field_of_the_relation(self) -> None:
        for key, field, text, words in (
            ("plate_sink", "height", "0 mm", "greater than zero"),
            ("plate_sink", "fin", "finn", "there is no part 'finn'"),
            ("fin_channel", "gap", "20 °C", "gap"),
            ("vane", "outer_h", "nothing", "neither an input nor a unit"),
            ("rinse_heater", "ratio", "2", "at most 1"),
            ("double_pipe", "hot", "warm", "there is no part 'warm'"),
        ):
            with self.subTest(starter=key, field=field):
                document = json.loads(starter_case(key).model_dump_json())
                document["estimates"][0][field] = text
                with self.assertRaises(CaseError) as caught:
                    hand_of(resolve(read_case(document)))
                self.assertIn(f"estimates[0].{field}", str(caught.exception))
                self.assertIn(words, str(caught.exception))

    def test_layers_lie_between_no_and_full_spreading(self) -> None:
        hand = hand_of(resolve(starter_case("power_module")))["mean temperature of chip"]
        self.assertLess(hand.low, hand.value)
        self.assertGreater(hand.high, hand.value)
        self.assertIn("45°", hand.range)
