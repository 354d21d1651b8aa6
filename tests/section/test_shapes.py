"""Shapes of every kind: outlines, names, repeats, voids, and bad geometry told with its place."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np

from tests.sections import circle, part, polygon, rectangle, section_case, wall
from wattikos_core.case import resolve
from wattikos_core.errors import CaseError
from wattikos_core.section import PaintedSection, check_conditions, paint


def painted(*parts: dict[str, Any], **more: Any) -> PaintedSection:
    return paint(resolve(section_case(*parts, conditions=[], **more)))


def area(section: PaintedSection, name: str) -> float:
    total = 0.0
    for ring in section.rings[name]:
        x, y = np.asarray(ring).T
        total += 0.5 * float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))
    return abs(total)


class Outlines(unittest.TestCase):
    def test_areas_of_all_shapes(self) -> None:
        section = painted(
            circle("disc", "copper", "0 m", "0 m", "20 mm"),
            part("ring", "iron", "ring", "50 mm", "0 m", outer_diameter="20 mm", inner_diameter="10 mm"),
            polygon("corner", "pvc", (0.1, 0.0), (0.12, 0.0), (0.1, 0.02)),
            rectangle("bar", "brass", "150 mm", "0 m", "20 mm", "10 mm", angle="30 deg"),
        )
        # Chords of 192 pieces lie within 2e-4 of the circle's area.
        self.assertAlmostEqual(area(section, "disc") / (math.pi * 0.01**2), 1.0, delta=3e-4)
        self.assertAlmostEqual(area(section, "ring") / (math.pi * (0.01**2 - 0.005**2)), 1.0, delta=3e-4)
        self.assertAlmostEqual(area(section, "corner"), 2e-4, delta=1e-9)
        self.assertAlmostEqual(area(section, "bar"), 2e-4, delta=1e-9)

    def test_sides_have_the_names_of_their_shapes(self) -> None:
        section = painted(
            part("vane", "titanium", "blade", chord="60 mm", camber="0.08", thickness="0.2", edge_radius="0.8 mm"),
            part("ring", "iron", "ring", "120 mm", "0 m", outer_diameter="20 mm", inner_diameter="10 mm"),
            polygon("wedge", "pvc", (0.2, 0.0), (0.22, 0.0), (0.2, 0.02)),
        )
        names = set(section.boundaries)
        for name in ("vane, suction side", "vane, pressure side", "vane, trailing edge", "ring, outside", "ring, inside"):
            self.assertIn(name, names)
        self.assertTrue({"wedge, side 1", "wedge, side 2", "wedge, side 3"} <= names)

    def test_a_mirrored_and_turned_part(self) -> None:
        def corners(**fields: str) -> set[tuple[float, float]]:
            section = painted(polygon("p", "iron", (0.0, 0.0), (0.02, 0.0), (0.0, 0.01), **fields))
            return {(round(x, 6), round(y, 6)) for x, y in np.concatenate(section.rings["p"])}

        self.assertEqual(corners(mirror="left_right"), {(0.0, 0.0), (-0.02, 0.0), (0.0, 0.01)})
        self.assertEqual(corners(angle="90 deg"), {(0.0, 0.0), (0.0, 0.02), (-0.01, 0.0)})

    def test_four_digit_camber_and_thickness(self) -> None:
        """Thickness of the NACA 4-digit section at 30 % chord is its largest (Jacobs, Ward and Pinkerton 1933)."""
        section = painted(part("vane", "titanium", "blade", chord="100 mm", camber="0", thickness="0.2"))
        points = np.concatenate(section.rings["vane"])
        at_30 = points[np.abs(points[:, 0] - 0.03) < 2e-3]
        self.assertAlmostEqual(float(np.ptp(at_30[:, 1])), 0.02, delta=2e-4)


class Repeats(unittest.TestCase):
    def test_places_of_the_copies(self) -> None:
        base = rectangle("water", "water", "-50 mm", "-50 mm", "150 mm", "150 mm")

        def centres(**repeat: str) -> list[tuple[float, float]]:
            section = painted(base, circle("rod", "iron", "10 mm", "0 m", "4 mm", repeat=repeat))
            names = [name for name in section.names if name.startswith("rod")]
            self.assertEqual(names, [f"rod {k + 1}" for k in range(len(names))])
            rings = (np.asarray(section.rings[name][0]) for name in names)
            return [tuple(np.round(0.5 * (r.min(axis=0) + r.max(axis=0)), 5)) for r in rings]

        line = centres(pattern="line", count="3", dx="20 mm", dy="5 mm")
        self.assertEqual(line, [(0.01, 0.0), (0.03, 0.005), (0.05, 0.01)])
        grid = centres(pattern="grid", columns="2", rows="2", dx="20 mm", dy="10 mm")
        self.assertEqual(grid, [(0.01, 0.0), (0.01, 0.01), (0.03, 0.0), (0.03, 0.01)])
        staggered = centres(pattern="staggered", columns="2", rows="2", dx="20 mm", dy="10 mm")
        self.assertEqual(staggered[2:], [(0.03, 0.005), (0.03, 0.015)])
        around = centres(pattern="around", count="4", centre_x="0 m", centre_y="0 m")
        self.assertEqual(around, [(0.01, 0.0), (0.0, 0.01), (-0.01, 0.0), (0.0, -0.01)])

    def test_one_condition_holds_for_all_copies_and_one_copy_can_have_its_own(self) -> None:
        case = section_case(
            rectangle("block", "iron", "0 m", "0 m", "60 mm", "20 mm"),
            circle("bore", "void", "10 mm", "10 mm", "6 mm", repeat={"pattern": "line", "count": "3", "dx": "20 mm", "dy": "0 m"}),
            part(
                "tube",
                "copper",
                "ring",
                "10 mm",
                "10 mm",
                outer_diameter="8 mm",
                inner_diameter="6 mm",
                repeat={"pattern": "line", "count": "3", "dx": "20 mm", "dy": "0 m"},
            ),
            conditions=[
                wall("tube, inside", thermal="temperature", temperature="20 °C"),
                wall("tube 2, inside", thermal="temperature", temperature="50 °C"),
            ],
        )
        resolved = resolve(case)
        section = paint(resolved)
        check_conditions(resolved, section)
        found = {f"tube {k}, inside": resolved.condition(f"tube {k}, inside") for k in (1, 2, 3)}
        self.assertEqual([round(c.amount - 273.15) for c in found.values() if c], [20, 50, 20])
        self.assertTrue(set(found) <= set(section.boundaries))


class Voids(unittest.TestCase):
    def test_a_void_cuts_and_what_comes_later_fills(self) -> None:
        section = painted(
            rectangle("plate", "iron", "0 m", "0 m", "40 mm", "20 mm"),
            circle("hole", "void", "20 mm", "10 mm", "10 mm"),
            circle("plug", "copper", "20 mm", "10 mm", "6 mm"),
        )
        self.assertNotIn("hole", section.names)
        self.assertIn("plate, hole outside", section.boundaries)
        self.assertAlmostEqual(area(section, "plug") / (math.pi * 9e-6), 1.0, delta=3e-4)
        self.assertNotIn("plate | plug", section.boundaries)

    def test_a_condition_cannot_be_put_on_a_void(self) -> None:
        case = section_case(
            rectangle("plate", "iron", "0 m", "0 m", "40 mm", "20 mm"),
            circle("hole", "void", "20 mm", "10 mm", "10 mm"),
            conditions=[wall("hole, outside")],
        )
        resolved = resolve(case)
        with self.assertRaises(CaseError) as caught:
            check_conditions(resolved, paint(resolved))
        self.assertIn("did you mean 'plate, hole outside'?", str(caught.exception))


class BadGeometry(unittest.TestCase):
    def refused(self, *parts: dict[str, Any]) -> Any:
        with self.assertRaises(CaseError) as caught:
            painted(*parts)
        return caught.exception.problems[0]

    def test_an_outline_that_crosses_itself_is_refused_at_the_crossing(self) -> None:
        problem = self.refused(polygon("bow", "iron", (0.0, 0.0), (0.02, 0.02), (0.02, 0.0), (0.0, 0.02)))
        self.assertIsNotNone(problem.at)
        self.assertAlmostEqual(problem.at[0], 0.01, delta=1e-3)

    def test_a_part_that_is_painted_over_is_told_where_it_would_be(self) -> None:
        problem = self.refused(
            circle("core", "copper", "10 mm", "10 mm", "4 mm"), rectangle("block", "iron", "0 m", "0 m", "40 mm", "20 mm")
        )
        self.assertIn("nothing of 'core' is left", problem.problem)
        self.assertAlmostEqual(problem.at[0], 0.01, delta=1e-5)

    def test_zero_size(self) -> None:
        self.assertIn("diameter", self.refused(circle("rod", "iron", "0 m", "0 m", "0 mm")).field)
