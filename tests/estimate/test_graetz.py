"""Laminar films of pipes, plates and annuli: against series, a march of finite volumes, published tables and the field."""

from __future__ import annotations

import itertools
import json
import math
import unittest

import ht
import numpy as np
from scipy.linalg import solve_banded

from tests.by_name import hand_of
from tests.physics.test_ducts import graetz
from tests.sections import held, rectangle, section_case, wall
from tests.support import LIQUID
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.case.starters.building import quantity
from wattikos_core.errors import CaseError
from wattikos_core.estimate.ducts import flux_share_behind, mean_nusselt_entry, pipe_nusselt
from wattikos_core.estimate.graetz import Walls, developed_nusselt, friction_reynolds, mean_nusselt, velocity
from wattikos_core.physics import Problem
from wattikos_core.read.streams import exchange_with, streams_of
from wattikos_core.studies import solve_case

# Ratio of diameters, developed Nu at the inner wall with one flux and with one temperature, the outer one insulated: Shah and
# London (1978), chapter XII (from memory).
TABLE = ((0.02, 32.705, 32.337), (0.05, 17.811, 17.460), (0.10, 11.906, 11.560), (0.25, 7.7535, 7.3708), (0.50, 6.1810, 5.7382))


def marched(ratio: float, places: np.ndarray, walls: Walls, *, flux: bool) -> np.ndarray:
    """Mean Nu by small implicit Euler steps on 500 rings clustered at both walls."""
    shares = 0.5 * (1.0 - np.cos(np.linspace(0.0, np.pi, 501)))
    nodes = ratio ** (1.0 - shares)
    middle, area = np.sqrt(nodes[1:] * nodes[:-1]), 0.5 * np.diff(nodes**2)
    carried = velocity(ratio, middle) * area
    carried *= area.sum() / carried.sum()
    between = 1.0 / np.log(middle[1:] / middle[:-1])
    to_inner, to_outer = 1.0 / math.log(middle[0] / nodes[0]), 1.0 / math.log(nodes[-1] / middle[-1])
    inner, outer = {"inner": (ratio, 0.0), "outer": (0.0, 1.0), "both": (ratio, 1.0)}[walls]
    width, perimeter = 2.0 * (1.0 - ratio), inner + outer
    at_inner, at_outer = (0.0, 0.0) if flux else (to_inner * bool(inner), to_outer * bool(outer))
    diagonal = np.concatenate([[at_inner], between]) + np.concatenate([between, [at_outer]])
    along = np.concatenate([[0.0], np.geomspace(1e-7, places[-1], 4000)]) * width**2
    t = np.zeros(middle.size) if flux else np.ones(middle.size)
    source = np.zeros(middle.size)
    source[0], source[-1] = (inner, outer) if flux else (0.0, 0.0)
    excess, numbers = 0.0, []
    for start, end in itertools.pairwise(along):
        banded = np.zeros((3, middle.size))
        banded[0, 1:] = banded[2, :-1] = -between
        banded[1] = diagonal + carried / (end - start)
        t = solve_banded((1, 1), banded, carried / (end - start) * t + source)
        bulk = (carried * t).sum() / area.sum()
        if flux:
            surfaces = (t[0] + inner / to_inner, t[-1] + outer / to_outer)
            excess += (end - start) * (inner * (surfaces[0] - bulk) + outer * (surfaces[1] - bulk))
            numbers.append(width * perimeter * end / excess)
        else:
            numbers.append(-math.log(bulk) * area.sum() / (perimeter * end) * width)
    return np.interp(places, along[1:] / width**2, numbers)


class Means(unittest.TestCase):
    def test_pipes_and_plates_follow_the_graetz_series(self) -> None:
        x_star = np.geomspace(0.0005, 0.5, 12)
        kinds: tuple[tuple[bool, float, Walls], ...] = ((True, 0.0, "outer"), (False, 1.0, "both"))
        for pipe, ratio, walls in kinds:
            series = -np.log(graetz(x_star, pipe=pipe)) / (4.0 * x_star)
            found = np.array([mean_nusselt(ratio, float(x), walls, flux=False) for x in x_star])
            np.testing.assert_allclose(found, series, rtol=5e-3)

    def test_hausen_and_the_developed_values_against_the_ht_library(self) -> None:
        """Hausen (1943) lies within 6 % of the Graetz problem up to a Graetz number of 250, and 11 % above it at 2,000."""
        for number, most in ((0.5, 0.01), (5.0, 0.03), (80.0, 0.06), (250.0, 0.06), (2000.0, 0.12)):
            other = ht.conv_internal.laminar_entry_thermal_Hausen(Re=number * 20.0, Pr=5.0, L=1.0, Di=0.01)
            self.assertAlmostEqual(pipe_nusselt(1.0 / number) / other, 1.0, delta=most)
        self.assertAlmostEqual(ht.conv_internal.laminar_Q_const(), developed_nusselt(0.0, "outer", flux=True), delta=0.01)
        self.assertAlmostEqual(ht.conv_internal.laminar_T_const(), developed_nusselt(0.0, "outer", flux=False), delta=0.01)
        # Shah and London's polynomial for rectangles, at none of their height.
        flat = ht.conv_internal.Nu_laminar_rectangular_Shan_London(1e-9)
        self.assertAlmostEqual(flat, developed_nusselt(1.0, "both", flux=True), delta=1e-3)

    def test_plates_against_published_pieces(self) -> None:
        """Shah and London (1978), chapter VI (from memory): pieces that lie within 3.5 % of the series."""
        for x in np.geomspace(0.001, 0.3, 9):
            piece = 1.849 * x ** (-1.0 / 3.0) + (0.6 if x > 0.0005 else 0.0) if x <= 0.006 else 7.541 + 0.0235 / x
            self.assertAlmostEqual(mean_nusselt(1.0, x, "both", flux=False) / piece, 1.0, delta=0.035)

    def test_annuli_from_the_entry_on(self) -> None:
        places = np.geomspace(2e-4, 0.3, 8)
        for ratio in (0.003, 0.05, 0.4):
            for walls in ("inner", "both"):
                for flux in (True, False):
                    ours = [mean_nusselt(ratio, x, walls, flux=flux) for x in places]
                    np.testing.assert_allclose(ours, marched(ratio, places, walls, flux=flux), rtol=0.02)

    def test_developed_annuli_against_the_table(self) -> None:
        for ratio, flux, temperature in TABLE:
            self.assertAlmostEqual(developed_nusselt(ratio, "inner", flux=True) / flux, 1.0, delta=2e-3)
            self.assertAlmostEqual(developed_nusselt(ratio, "inner", flux=False) / temperature, 1.0, delta=2e-3)
        # Shah and London (1978), table 86 (from memory): f Re (Fanning) 23.813 at 0.5.
        self.assertAlmostEqual(friction_reynolds(0.5) / 4.0, 23.813, delta=0.01)

    def test_between_temperature_and_flux_behind_a_resistance(self) -> None:
        """Hickman (1974), as in Shah and London (1978): (48/11 + Bi) / (1 + 59/220 Bi), itself 2 % off where nothing resists."""
        at_flux, at_temperature = (developed_nusselt(0.0, "outer", flux=f) for f in (True, False))
        for biot in (0.0, 0.5, 2.0, 5.0, 20.0):
            share = flux_share_behind(biot)
            ours = share * at_flux + (1.0 - share) * at_temperature
            self.assertAlmostEqual(ours / ((48.0 / 11.0 + biot) / (1.0 + 59.0 / 220.0 * biot)), 1.0, delta=0.02)

    def test_entry_of_both(self) -> None:
        self.assertGreater(mean_nusselt_entry(0.01, 0.7), mean_nusselt_entry(0.01, 100.0))

    def test_a_developed_annulus_by_the_field(self) -> None:
        for ratio, _, published in TABLE[3:]:
            with self.subTest(ratio=ratio):
                inner = 5.0 * ratio / (1.0 - ratio)
                entering = {"velocity": "3 mm/s", "temperature": "20 °C", "profile": "developed"}
                case = section_case(
                    rectangle("gap", "liquid", "0 m", f"{inner} mm", "1 m", "5 mm"),
                    axisymmetric=True,
                    conditions=[
                        {"type": "inlet", "boundaries": ["gap, left"], **entering},
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


class AnnularDucts(unittest.TestCase):
    def test_both_walls_of_an_annulus_count_with_their_own_areas(self) -> None:
        """Water in an annulus of 10 to 40 mm, both walls at 60 °C: by hand as by the field, within its scatter."""
        entering = {"velocity": "4 mm/s", "temperature": "20 °C", "profile": "developed"}
        case = section_case(
            rectangle("gap", "liquid", "0 m", "5 mm", "600 mm", "15 mm"),
            axisymmetric=True,
            conditions=[
                {"type": "inlet", "boundaries": ["gap, left"], **entering},
                {"type": "outlet", "boundaries": ["gap, right"]},
                held("gap, bottom", at="60 °C"),
                held("gap, top", at="60 °C"),
            ],
            materials={"liquid": LIQUID},
            wanted=[{"key": quantity("heat_gained", "gap")}],
            estimates=[
                {
                    "relation": "heated_duct",
                    "fluid": "gap",
                    "gap": "15 mm",
                    "length": "600 mm",
                    "breadth": "pi*10 mm",
                    "sides": "both",
                    "ratio": "0.25",
                    "wall": "60 °C",
                }
            ],
        )
        run = solve_case(case)
        hand = hand_of(resolve(case))["gap heat gained"]
        self.assertEqual(hand.leaves_out, ())
        self.assertAlmostEqual(run.value("gap heat gained") / hand.value, 1.0, delta=0.03)

    def test_a_wire_is_refused(self) -> None:
        document = json.loads(starter_case("rinse_heater").model_dump_json())
        document["estimates"][0]["ratio"] = "0.0001"
        with self.assertRaises(CaseError) as caught:
            hand_of(resolve(read_case(document)))
        self.assertIn("estimates[0].ratio", str(caught.exception))
