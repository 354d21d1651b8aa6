"""What stands in streams, in SI: curves, coefficients by published relations, and what is refused."""

from __future__ import annotations

import unittest
from typing import Any

import fluids
import numpy as np

from tests.sections import rectangle, section_case
from wattikos_core.case import resolve
from wattikos_core.errors import CaseError
from wattikos_core.internals import Curve, ResolvedDrag, ResolvedFan
from wattikos_core.internals.porous import ergun, fitted
from wattikos_core.internals.resistance import perforated_plate_loss, wire_screen_loss


def internal_of(internal: dict[str, Any], material: str = "air", **shape: str) -> Any:
    """What one comes to in a part 10 mm thick."""
    part = rectangle("it", material, "0 m", "0 m", shape.pop("width", "10 mm"), "50 mm", internal=internal, **shape)
    tables = {"sheet": {"unit": "m/s", "value_unit": "Pa", "rows": [[1.0, 30.0], [2.0, 100.0]]}}
    return resolve(section_case(part, conditions=[], tables=tables)).parts[0].internal


class Curves(unittest.TestCase):
    def test_through_its_points_without_overshoot(self) -> None:
        curve = Curve((0.0, 1.0, 2.0), (10.0, 9.0, 0.0), falls=True)
        np.testing.assert_allclose(curve(np.array([0.0, 1.0, 2.0])), [10.0, 9.0, 0.0], atol=1e-12)
        between = curve(np.linspace(0.0, 2.0, 101))
        self.assertTrue((np.diff(between) <= 1e-12).all())

    def test_straight_on_beyond_its_ends(self) -> None:
        curve = Curve((0.0, 1.0), (10.0, 4.0))
        np.testing.assert_allclose(curve(np.array([-1.0, 3.0])), [16.0, -8.0])
        np.testing.assert_allclose(curve.slope(np.array([-1.0, 0.5, 3.0])), -6.0)

    def test_a_fan_that_begins_by_rising_does_not_fall_towards_its_backside(self) -> None:
        curve = Curve((0.0, 1.0, 2.0), (5.0, 8.0, 0.0), falls=True)
        self.assertEqual(float(curve(-3.0)), 5.0)


class Coefficients(unittest.TestCase):
    def test_ergun_as_a_reference_library_has_it(self) -> None:
        """fluids.packed_bed.Ergun (general-purpose library), at three speeds."""
        viscous, inertial = ergun(0.004, 0.4)
        for speed in (0.01, 0.2, 2.0):
            with self.subTest(speed=speed):
                known = fluids.packed_bed.Ergun(dp=0.004, voidage=0.4, vs=speed, rho=1.2, mu=1.8e-5, L=1.0)
                self.assertAlmostEqual((1.8e-5 * viscous * speed + 0.6 * inertial * speed**2) / known, 1.0, delta=1e-12)

    def test_screens_and_plates_lie_near_the_tables_of_another_handbook(self) -> None:
        """Blevins's tables in fluids.filters (general-purpose library), within 15 % as handbooks differ."""
        for share in (0.3, 0.5, 0.7):
            with self.subTest(share=share):
                self.assertAlmostEqual(perforated_plate_loss(share) / fluids.filters.square_edge_screen(share), 1.0, delta=0.15)
        for share in (0.5, 0.7):
            self.assertAlmostEqual(wire_screen_loss(share) / fluids.filters.round_edge_screen(share, 1e5), 1.0, delta=0.15)

    def test_all_open_loses_nothing(self) -> None:
        self.assertEqual((perforated_plate_loss(1.0), wire_screen_loss(1.0)), (0.0, 0.0))

    def test_a_data_sheet_is_fitted(self) -> None:
        speed = np.array([0.5, 1.0, 2.0, 3.0])
        found = fitted(speed, 2e-5 * 4e5 * speed + 0.6 * 70.0 * speed**2, 2e-5, 1.2)
        np.testing.assert_allclose(found, (4e5, 70.0), rtol=1e-9)

    def test_loss_over_the_thickness(self) -> None:
        found = internal_of({"type": "resistance", "loss": "3"})
        self.assertIsInstance(found, ResolvedDrag)
        self.assertAlmostEqual(found.inertial[0] * 0.010, 3.0)
        self.assertEqual(found.inertial[1], 0.0)


class Directions(unittest.TestCase):
    def test_across_the_thinner_side_turned_with_the_part(self) -> None:
        fan = {"type": "fan", "rise": "10 Pa"}
        for fields, way in (
            ({}, (1.0, 0.0)),
            ({"width": "200 mm"}, (0.0, 1.0)),
            ({"angle": "90 deg"}, (0.0, 1.0)),
            ({"mirror": "left_right"}, (-1.0, 0.0)),
        ):
            with self.subTest(fields):
                found = internal_of(fan, **fields)
                self.assertIsInstance(found, ResolvedFan)
                np.testing.assert_allclose(found.direction, way, atol=1e-12)
        np.testing.assert_allclose(internal_of({**fan, "turned": True}).direction, (-1.0, 0.0))


class Refused(unittest.TestCase):
    def refused(self, internal: dict[str, Any], field: str, words: str, **fields: str) -> None:
        with self.assertRaises(CaseError) as caught:
            internal_of(internal, **fields)
        self.assertTrue(
            any(p.field.endswith(field) and words in p.problem for p in caught.exception.problems), caught.exception.problems
        )

    def test_what_makes_no_sense(self) -> None:
        self.refused({"type": "fan", "rise": "10 Pa"}, "internal", "is no fluid", material="copper")
        self.refused({"type": "fan", "rise": "10 Pa"}, "internal", "melts", material="n_octadecane")
        self.refused({"type": "fan"}, "internal", "nothing is given")
        self.refused({"type": "fan", "rise": "9 Pa", "points": [["0 m^3/h", "1 Pa"]]}, "points", "both rise and points")
        self.refused({"type": "fan", "points": [["0 m^3/h", "1 Pa"]]}, "points", "one point makes no curve")
        self.refused({"type": "fan", "points": [["1 m^3/h", "1 Pa"], ["1 m^3/h", "2 Pa"]]}, "points", "same flow")
        self.refused({"type": "fan", "rise": "9 Pa", "efficiency": "130 percent"}, "efficiency", "more than the shaft gives")
        self.refused({"type": "fan", "rise": "9 Pa", "swirl": "10 rpm"}, "swirl", "no axis")
        self.refused({"type": "fan", "table": "none"}, "table", "there is no table 'none'")
        self.refused({"type": "fan", "table": "sheet"}, "tables.sheet.unit", "is no unit of a volume flow")
        self.refused({"type": "resistance", "open_area": "1.2"}, "open_area", "more than the whole")
        self.refused({"type": "porous", "porosity": "0.4"}, "internal", "nothing is given")
