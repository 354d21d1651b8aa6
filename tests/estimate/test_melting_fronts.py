"""Melting and freezing by hand: against the equations themselves, a quasi-steady sum, and the field."""

from __future__ import annotations

import math
import unittest

from scipy.special import erf, erfc

from tests.by_name import hand_of
from tests.sections import held, rectangle, section_case, wall
from wattikos_core.case import resolve
from wattikos_core.errors import CaseError
from wattikos_core.estimate.melting_fronts import Phases, neumann_root, tube_time
from wattikos_core.studies import solve_case

WAX = Phases(300.0, 2e5, 800.0, (0.15, 0.30), (2000.0, 1900.0))


def slab(start: str, **estimate: str) -> object:
    return section_case(
        rectangle("wax", "n_octadecane", "0 m", "0 m", "40 mm", "2 mm"),
        conditions=[held("wax, left", at="40 °C"), wall("wax, right", "wax, top", "wax, bottom")],
        physics={"regime": "time"},
        time={"end": "20 min", "temperature": start},
        estimates=[
            {
                "relation": "melting_front",
                "part": "wax",
                "wall": "40 °C",
                "start": start,
                "time": "20 min",
                "depth": "40 mm",
                "area": "2 mm * 1 m",
                **estimate,
            }
        ],
    )


class Neumann(unittest.TestCase):
    def test_the_root_closes_the_balance_of_the_front(self) -> None:
        for wall_at, start in ((320.0, 300.0), (320.0, 290.0), (350.0, 250.0)):
            root = neumann_root(WAX, wall_at, start)
            (a, b), (k, q) = WAX.diffusivity, WAX.conductivity
            # Heat to the front less heat from it, times √(π α t), against what melts.
            to = k * (wall_at - 300.0) * math.exp(-(root**2)) / (math.sqrt(a) * float(erf(root)))
            nu = math.sqrt(a / b)
            away = q * (300.0 - start) * math.exp(-((nu * root) ** 2)) / (math.sqrt(b) * float(erfc(nu * root)))
            melts = math.sqrt(math.pi) * WAX.density * WAX.latent * root * math.sqrt(a)
            self.assertAlmostEqual((to - away) / melts, 1.0, places=9)

    def test_small_stefan_numbers_are_quasi_steady(self) -> None:
        root = neumann_root(WAX, 300.5, 300.0)
        self.assertAlmostEqual(root / math.sqrt(0.5 * 2000.0 * 0.5 / 2e5), 1.0, delta=2e-3)

    def test_by_hand_and_by_field(self) -> None:
        for start in ("27.9 °C", "20 °C"):
            case = slab(start)
            hand = hand_of(resolve(case))  # type: ignore[arg-type]
            run = solve_case(case)  # type: ignore[arg-type]
            for name in ("front in wax", "heat stored in wax"):
                self.assertEqual(hand[name].leaves_out, ())
                self.assertAlmostEqual(run.value(name) / hand[name].value, 1.0, delta=0.03, msg=f"{name} from {start}")

    def test_what_does_not_melt_is_refused(self) -> None:
        with self.assertRaises(CaseError) as caught:
            hand_of(resolve(slab("20 °C", wall="28.1 °C")))  # type: ignore[arg-type]
        self.assertIn("estimates[0].wall", str(caught.exception))


class Tubes(unittest.TestCase):
    def test_a_flat_wall_is_a_tube_of_large_radius(self) -> None:
        """Thick layers take s² ρ L / (2 k ΔT), and thin ones s ρ L / (U ΔT)."""
        stored = WAX.latent + 0.5 * 2000.0 * 10.0
        thick = tube_time(WAX, 50.0, 50.02, 1e12, 10.0)
        self.assertAlmostEqual(thick / (0.02**2 * 800.0 * stored / (2.0 * 0.15 * 10.0)), 1.0, delta=1e-3)
        thin = tube_time(WAX, 50.0, 50.02, 1e-3, 10.0)
        self.assertAlmostEqual(thin / (0.02 * 800.0 * stored / (1e-3 * 10.0)), 1.0, delta=1e-3)

    def test_ice_around_a_tube_by_hand_and_by_field(self) -> None:
        """A tube of 12 mm at -10 °C in water at its freezing point: thickness of the ice after half an hour."""
        case = section_case(
            rectangle("water", "ice_water", "0 m", "6 mm", "20 mm", "24 mm"),
            axisymmetric=True,
            conditions=[held("water, bottom", at="-10 °C"), wall("water, left", "water, right", "water, top")],
            physics={"regime": "time"},
            time={"end": "30 min", "temperature": "0.1 °C"},
            estimates=[
                {
                    "relation": "melting_front",
                    "part": "water",
                    "wall": "-10 °C",
                    "start": "0.1 °C",
                    "time": "30 min",
                    "depth": "24 mm",
                    "area": "pi*12 mm*20 mm",
                    "radius": "6 mm",
                }
            ],
        )
        hand = hand_of(resolve(case))["front in water"]
        self.assertTrue(hand.inside)
        self.assertAlmostEqual(solve_case(case).value("front in water") / hand.value, 1.0, delta=0.05)
