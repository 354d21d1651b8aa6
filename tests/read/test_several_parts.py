"""Streams of several parts, peaks on surfaces, and what counts as metal."""

from __future__ import annotations

import unittest

from tests.sections import PLAIN, Document, held, rectangle, section_case, wall
from wattikos_core.case import starter_case
from wattikos_core.ledger import Key
from wattikos_core.read import streams_of
from wattikos_core.studies import Result, draft, solve_case


def _flat_duct(*parts: Document, last: str, walls: list[str]) -> Result:
    """Water between two walls at 60 °C, 0.2 m long and 4 mm high, 0.02 kg/s of it entering at 20 °C."""
    conditions = [
        {"type": "inlet", "boundaries": ["first, left"], "mass_flow": "0.02 kg/s", "temperature": "20 °C"},
        {"type": "outlet", "boundaries": [f"{last}, right"]},
        held(*walls, at="60 °C"),
    ]
    # Marked at the middle in both cases, so that their grids are equal.
    return solve_case(section_case(*parts, conditions=conditions, fineness=0.5, depth="0.1 m"))


class SeveralParts(unittest.TestCase):
    def test_parts_that_open_into_one_another_are_one_stream(self) -> None:
        """The same duct drawn as one part and as two: what leaves it, its pressure drop and its heat are the same."""
        whole = _flat_duct(
            rectangle("first", "water", "0 m", "0 m", "200 mm", "4 mm"), last="first", walls=["first, top", "first, bottom"]
        )
        halves = [
            rectangle("first", "water", "0 m", "0 m", "100 mm", "4 mm"),
            rectangle("second", "water", "100 mm", "0 m", "100 mm", "4 mm"),
        ]
        two = _flat_duct(
            *halves, last="second", walls=[f"{name}, {side}" for name in ("first", "second") for side in ("top", "bottom")]
        )
        streams = streams_of(two.problem, two.evaluation)
        self.assertEqual(list(streams), ["first"])
        for quantity in ("outlet_temperature", "pressure_drop", "heat_gained", "reynolds_number", "log_mean_nusselt_number"):
            one, other = whole.value(Key(quantity, "first")), two.value(Key(quantity, "first"))
            # Grids differ a little where the parts meet.
            self.assertAlmostEqual(other / one, 1.0, delta=0.005, msg=quantity)
        self.assertAlmostEqual(streams["first"].hydraulic_diameter, 0.008, places=9)

    def test_a_hand_calculation_of_one_of_them_is_told(self) -> None:
        """The duct in two parts, calculated by hand for the first: half the length."""
        case = starter_case("plate_passage")
        hot = next(part for part in case.section.parts if part.name == "hot")
        self.assertFalse([f for f in draft(case).findings if "is one with" in f.text])
        more = hot.model_copy(deep=True, update={"name": "more"})
        more.shape = more.shape.model_copy(update={"x": "length"})
        case.section.parts.append(more)
        case.conditions = [c for c in case.conditions if "hot, right" not in getattr(c, "boundaries", [])]
        told = [f for f in draft(case).findings if "is one with" in f.text]
        self.assertEqual([(f.severity, f.place) for f in told], [("check", "hot")])

    def test_no_part_that_moves_is_taken_to_be_at_rest(self) -> None:
        """Three parts in a row: the middle one has neither inlet nor outlet, and its walls would stir it."""
        names = ("first", "second", "third")
        parts = [rectangle(n, "air", f"{50 * i} mm", "0 m", "50 mm", "40 mm") for i, n in enumerate(names)]
        conditions = [
            {"type": "inlet", "boundaries": ["first, left"], "velocity": "2 mm/s", "temperature": "20 °C"},
            {"type": "outlet", "boundaries": ["third, right"]},
            held("second, bottom", at="60 °C"),
            held("second, top", at="20 °C"),
        ]
        run = solve_case(section_case(*parts, conditions=conditions, fineness=0.4))
        self.assertFalse([f.text for f in run.findings if "at rest" in f.text])


class Peaks(unittest.TestCase):
    def test_the_extremes_of_a_part_lie_on_its_surface(self) -> None:
        """A slab with 5 kW/m² through it, 20 mm thick, k = 10 W/m/K: exactly 20 °C + 10 K where heat enters, on any grid."""
        slab = rectangle("slab", "own", "0 m", "0 m", "20 mm", "10 mm")
        conditions = [wall("slab, left", thermal="heat_flux", heat_flux="5 kW/m²"), held("slab, right", at="20 °C")]
        for fineness in (0.3, 0.8):
            run = solve_case(section_case(slab, conditions=conditions, materials={"own": PLAIN}, fineness=fineness))
            self.assertAlmostEqual(run.value(Key("highest_temperature", "slab")), 303.15, places=6)
            self.assertAlmostEqual(run.value(Key("lowest_temperature", "slab")), 293.15, places=6)
            self.assertAlmostEqual(run.value(Key("hottest_metal")), 303.15, places=6)

    def test_insulation_is_not_metal(self) -> None:
        parts = [
            rectangle("pipe", "carbon_steel", "0 m", "0 m", "10 mm", "5 mm"),
            rectangle("wool", "mineral_wool", "0 m", "5 mm", "10 mm", "40 mm"),
        ]
        conditions = [held("pipe, bottom", at="20 °C"), held("wool, top", at="120 °C")]
        run = solve_case(section_case(*parts, conditions=conditions))
        self.assertAlmostEqual(run.value(Key("highest_temperature", "wool")), 393.15, places=6)
        self.assertLess(run.value(Key("hottest_metal")), 294.15)
        plastic = section_case(rectangle("tube", "pvc", "0 m", "0 m", "10 mm", "5 mm"), conditions=[held("tube, top", at="40 °C")])
        with self.assertRaises(KeyError):
            solve_case(plastic).value(Key("hottest_metal"))
