"""The relations behind the starters' hand calculations, against an independent library, tables and limits."""

from __future__ import annotations

import json
import math
import unittest

import ht

from tests.sections import held, rectangle, section_case, wall
from tests.support import LIQUID
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.estimate import estimate_case
from wattikos_core.estimate.crossflow import cylinder_drag, cylinder_nusselt
from wattikos_core.estimate.ducts import NUSSELT_FLUX, pipe_nusselt
from wattikos_core.estimate.fins import annular_fin_efficiency, pin_fin_efficiency, straight_fin_efficiency
from wattikos_core.estimate.heated import ANNULUS_RATIO, ANNULUS_TEMPERATURE, annulus_nusselt
from wattikos_core.physics import Problem
from wattikos_core.read.streams import exchange_with, streams_of
from wattikos_core.runs import solve_case


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
            ratio = cylinder_nusselt(60.0, 7.0, 7.0, arrangement) / cylinder_nusselt(60.0, 7.0, 7.0)
            self.assertTrue(0.7 < ratio < 1.3)

    def test_a_body_without_heat_is_refused_in_words(self) -> None:
        document = json.loads(starter_case("cross_flow").model_dump_json())
        document["section"]["parts"][1]["heat"] = ""
        with self.assertRaises(CaseError) as caught:
            estimate_case(resolve(read_case(document)))
        self.assertIn("'bar' has no heat source", str(caught.exception))


class Ducts(unittest.TestCase):
    def test_hausen_and_the_developed_values_against_the_ht_library(self) -> None:
        for graetz in (0.5, 5.0, 80.0, 900.0):
            other = ht.conv_internal.laminar_entry_thermal_Hausen(Re=graetz * 20.0, Pr=5.0, L=1.0, Di=0.01)
            self.assertAlmostEqual(pipe_nusselt(graetz) / other, 1.0, places=9)
        # Shah and London's polynomial for rectangles, at none of their height.
        self.assertAlmostEqual(ht.conv_internal.Nu_laminar_rectangular_Shan_London(1e-9), NUSSELT_FLUX, delta=1e-3)


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


class Annuli(unittest.TestCase):
    def test_table_and_limit(self) -> None:
        self.assertAlmostEqual(annulus_nusselt(0.5, flux=False), 5.7382, places=4)
        self.assertAlmostEqual(annulus_nusselt(1.0, flux=True), 5.3846, places=4)

    def test_developed_annulus_by_the_field(self) -> None:
        """Inner wall at one temperature, outer one insulated: Shah and London (1978), chapter XII (from memory)."""
        for ratio, published in list(zip(ANNULUS_RATIO, ANNULUS_TEMPERATURE, strict=True))[3:5]:
            with self.subTest(ratio=ratio):
                inner = 5.0 * ratio / (1.0 - ratio)
                case = section_case(
                    rectangle("gap", "liquid", "0 m", f"{inner} mm", "1 m", "5 mm"),
                    axisymmetric=True,
                    conditions=[
                        {
                            "type": "inlet",
                            "boundaries": ["gap, left"],
                            "velocity": "3 mm/s",
                            "temperature": "20 °C",
                            "profile": "developed",
                        },
                        {"type": "outlet", "boundaries": ["gap, right"]},
                        held("gap, bottom", at="60 °C"),
                        wall("gap, top"),
                    ],
                    materials={"liquid": LIQUID},
                )
                run = solve_case(case)
                problem: Problem = run.problem
                exchange = exchange_with(problem, run.evaluation, streams_of(problem, run.evaluation)["gap"])
                assert exchange is not None
                local = exchange.heat / exchange.area / (exchange.wall - exchange.bulk) * 0.01 / 0.6
                developed = local[(exchange.position > 0.6) & (exchange.position < 0.9)].mean()
                self.assertAlmostEqual(float(developed) / published, 1.0, delta=0.01)


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
                document["estimate"][field] = text
                with self.assertRaises(CaseError) as caught:
                    estimate_case(resolve(read_case(document)))
                self.assertIn(f"estimate.{field}", str(caught.exception))
                self.assertIn(words, str(caught.exception))

    def test_layers_lie_between_no_and_full_spreading(self) -> None:
        hand = estimate_case(resolve(starter_case("power_module")))["mean temperature of chip"]
        self.assertLess(hand.low, hand.value)
        self.assertGreater(hand.high, hand.value)
        self.assertIn("45°", hand.range)
