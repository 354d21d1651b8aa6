"""Cores: effectiveness and NTU when passed evenly, what they come to in SI, and what is refused."""

from __future__ import annotations

import math
import unittest

import ht

from tests.internals.test_internals import internal_of
from wattikos_core.errors import CaseError
from wattikos_core.internals import ResolvedDrag
from wattikos_core.internals.even_core import even_conductance

CORE = {"type": "core", "loss": "20", "mass_flow": "0.1 kg/s", "temperature": "60 °C", "conductance": "100 W/K"}


class Even(unittest.TestCase):
    def test_one_pass_is_crossflow_of_two_unmixed_streams(self) -> None:
        """Against the series in the library ht, subtype crossflow."""
        for ntu in (0.3, 1.0, 3.0, 6.0):
            for ratio in (0.1, 0.5, 1.0):
                expected = ht.effectiveness_from_NTU(ntu, ratio, subtype="crossflow")
                # Whichever of both streams has the smaller rate.
                self.assertAlmostEqual(even_conductance(ntu, 1.0, 1.0 / ratio, 1, True), expected, delta=3e-4)
                self.assertAlmostEqual(even_conductance(ntu, 1.0 / ratio, 1.0, 1, True), expected, delta=3e-4)

    def test_many_passes_come_near_counterflow_and_parallel_flow(self) -> None:
        for ntu, ratio in ((1.0, 0.5), (3.0, 1.0)):
            against = ht.effectiveness_from_NTU(ntu, ratio, subtype="counterflow")
            along = ht.effectiveness_from_NTU(ntu, ratio, subtype="parallel")
            self.assertAlmostEqual(even_conductance(ntu, 1.0, 1.0 / ratio, 12, True), against, delta=0.004)
            self.assertAlmostEqual(even_conductance(ntu, 1.0, 1.0 / ratio, 12, False), along, delta=0.004)

    def test_what_condenses_stays_as_warm_as_it_is(self) -> None:
        self.assertAlmostEqual(even_conductance(50.0, 30.0, math.inf, 3, True), 30.0 * (1.0 - math.exp(-50.0 / 30.0)), delta=1e-12)
        self.assertEqual(even_conductance(0.0, 30.0, 20.0, 1, True), 0.0)


class Resolved(unittest.TestCase):
    def test_in_si(self) -> None:
        core = internal_of({**CORE, "passes": "3", "order": "parallel", "begins": "end"})
        assert isinstance(core, ResolvedDrag)
        assert core.liquid is not None
        self.assertEqual(core.direction, (1.0, 0.0))
        self.assertAlmostEqual(core.inertial[0], 20.0 / 0.01)
        self.assertGreater(core.inertial[1], 100.0 * core.inertial[0])
        self.assertEqual((core.liquid.passes, core.liquid.counter, core.liquid.from_start), (3, False, False))
        self.assertAlmostEqual(core.liquid.capacity_rate, 0.1 * 4185.0, delta=1.0)
        self.assertIn("100 g/s at 60 °C", core.in_words)

    def test_what_condenses_needs_no_flow(self) -> None:
        core = internal_of({**CORE, "liquid": "", "mass_flow": ""})
        self.assertTrue(math.isinf(core.liquid.capacity_rate))

    def test_refused(self) -> None:
        for change, words in (
            ({"conductance": ""}, "nothing is given"),
            ({"conductance_table": "sheet"}, "both conductance and conductance table"),
            ({"liquid": "copper"}, "is a solid"),
            ({"mass_flow": "0 kg/s"}, "mass_flow"),
            ({"passes": "40"}, "up to 12"),
            ({"loss": ""}, "nothing is given"),
        ):
            with self.assertRaises(CaseError) as caught:
                internal_of({**CORE, **change})
            self.assertIn(words, str(caught.exception))
