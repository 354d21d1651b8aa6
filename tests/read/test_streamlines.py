"""Streamlines: of an exact vortex they close; evenly spaced ones keep their distance; all flow lies between those of equal flow."""

from __future__ import annotations

import unittest

import numpy as np
from scipy.spatial import cKDTree

from tests.read.instants import instant_of
from tests.read.test_derived import HEIGHT, SPEED, developed
from tests.sections import circle, rectangle, section_case
from tests.support import quads
from wattikos_core.grid import Grid
from wattikos_core.physics.faces import Array
from wattikos_core.read import Instant, even_streamlines, interpolant_of, seeds_along, streamlines_from
from wattikos_core.read.profiles import path_along
from wattikos_core.studies import solve_case


def stream_function(points: Array) -> Array:
    return np.asarray(np.sin(np.pi * points[:, 0]) * np.sin(np.pi * points[:, 1]))


def vortex(grid: Grid) -> Instant:
    """ψ = sin πx sin πy on the unit square, one vortex (Taylor and Green)."""
    x, y = np.pi * grid.centre.T
    u, v = np.sin(x) * np.cos(y), -np.cos(x) * np.sin(y)
    return Instant(interpolant_of(grid), {"velocity x": u, "velocity y": v, "speed": np.hypot(u, v)})


class Vortex(unittest.TestCase):
    def test_closes_to_a_thousandth_after_ten_turns(self) -> None:
        """The line goes round without being told to close: after ten turns ψ has changed by less than 0.1 %."""
        for cells, shake in ((32, 0.0), (64, 0.0), (64, 0.2), (128, 0.2)):
            ends = np.linspace(0.0, 1.0, cells + 1)
            lines = streamlines_from(vortex(quads(ends, ends, shake=shake)), np.array([[0.5, 0.75]]), close=False)
            begun = int(np.argmin(np.abs(lines.time)))
            points = lines.points[begun:]
            turned = np.unwrap(np.arctan2(points[:, 1] - 0.5, points[:, 0] - 0.5))
            ten = points[: int(np.argmin(np.abs(np.abs(turned - turned[0]) - 20.0 * np.pi))) + 1]
            self.assertGreater(abs(float(turned[-1] - turned[0])), 20.0 * np.pi)
            drift = np.abs(stream_function(ten) / stream_function(ten[:1]) - 1.0)
            self.assertLess(float(drift[-1]), 1e-3, (cells, shake))

    def test_a_closed_one_ends_where_it_began(self) -> None:
        ends = np.linspace(0.0, 1.0, 33)
        lines = streamlines_from(vortex(quads(ends, ends)), np.array([[0.5, 0.75]]))
        self.assertEqual(lines.closed.tolist(), [1])
        np.testing.assert_array_equal(lines.points[0], lines.points[-1])

    def test_even_ones_keep_their_distance(self) -> None:
        """No line comes nearer to another than half the distance, and no place is farther than 1.5 of it from all of them; also
        where the drawing is stretched."""
        ends = np.linspace(0.0, 1.0, 65)
        instant = vortex(quads(ends, ends))
        for stretch in (1.0, 2.5):
            lines = even_streamlines(instant, 0.05, stretch)
            drawn = lines.points * (1.0, stretch)
            owner = np.repeat(np.arange(lines.start.size - 1), np.diff(lines.start))
            tree = cKDTree(drawn)
            for one, other in tree.query_pairs(0.5 * 0.05 - 1e-3):
                self.assertEqual(owner[one], owner[other])
            inner = np.random.default_rng(1).uniform(0.05, 0.95, (2000, 2)) * (1.0, stretch)
            self.assertLess(float(tree.query(inner)[0].max()), 1.5 * 0.05)
            self.assertGreater(int(lines.closed.sum()), 5)


class Duct(unittest.TestCase):
    def test_equal_flow_between_lines(self) -> None:
        """Ten lines from across the inlet: a tenth of the flow between each two, and they stay straight."""
        instant = instant_of(developed(False, 1.2))
        path = path_along("inlet", instant.between, np.array([[0.01, 0.0], [0.01, HEIGHT]]))
        seeds = seeds_along(instant, path, 10)
        eta = seeds[:, 1] / HEIGHT
        np.testing.assert_allclose(3.0 * eta**2 - 2.0 * eta**3, (np.arange(10) + 0.5) / 10, atol=0.003)
        lines = streamlines_from(instant, seeds)
        self.assertEqual(lines.start.size, 11)
        for first, last in zip(lines.start[:-1], lines.start[1:], strict=True):
            line = lines.points[first:last]
            self.assertLess(float(np.ptp(line[:, 1])), 0.01 * HEIGHT)
            self.assertAlmostEqual(float(np.ptp(line[:, 0])), 0.02, delta=2e-5)
            self.assertTrue((np.diff(lines.time[first:last]) > 0.0).all())

    def test_time_on_the_way(self) -> None:
        """Along the middle at 1.5 U."""
        lines = streamlines_from(instant_of(developed(False, 1.2)), np.array([[0.01, HEIGHT / 2.0]]))
        self.assertAlmostEqual(float(np.ptp(lines.time)) / (0.02 / (1.5 * SPEED)), 1.0, delta=0.02)

    def test_none_where_nothing_flows(self) -> None:
        """Lines do not enter a body in the stream, and a section without flow has none."""
        parts = [rectangle("duct", "water", "0 m", "0 m", "60 mm", "20 mm"), circle("bar", "iron", "20 mm", "10 mm", "8 mm")]
        conditions = [
            {"type": "inlet", "boundaries": ["duct, left"], "velocity": "2 mm/s"},
            {"type": "outlet", "boundaries": ["duct, right"]},
        ]
        instant = instant_of(solve_case(section_case(*parts, conditions=conditions, fineness=0.5)))
        lines = even_streamlines(instant, 0.002)
        away = np.hypot(lines.points[:, 0] - 0.02, lines.points[:, 1] - 0.01)
        self.assertGreater(float(away.min()), 0.00395)
        self.assertGreater(lines.start.size, 8)
        solid = Instant(instant.between, {"temperature": instant.fields["temperature"]})
        self.assertEqual(len(even_streamlines(solid, 0.002).points), 0)
