"""View factors against closed forms, and sums and reciprocity to round-off."""

from __future__ import annotations

import unittest

import numpy as np

from wattikos_core.radiation import Mirror, Pieces, pieces_of, view_factors
from wattikos_core.radiation.closing import closed
from wattikos_core.radiation.outline import Array, joined_faces, whole_pieces


def chain(*points: tuple[float, float], pieces: int, around: bool = True) -> tuple[Array, Array]:
    """Starts and ends of pieces along straight runs between points."""
    corners = np.array(points)
    share = np.linspace(0.0, 1.0, pieces + 1)[:, None]
    runs = [(a, b) for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True)][: None if around else -1]
    lines = [a + share * (b - a) for a, b in runs]
    return np.concatenate([line[:-1] for line in lines]), np.concatenate([line[1:] for line in lines])


def circle(radius: float, pieces: int, inside: bool) -> tuple[Array, Array]:
    angle = np.linspace(0.0, 2.0 * np.pi, pieces + 1) * (1.0 if inside else -1.0)
    points = radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    return points[:-1], points[1:]


def outline(*chains: tuple[Array, Array], **more: object) -> Pieces:
    return pieces_of(np.concatenate([c[0] for c in chains]), np.concatenate([c[1] for c in chains]), **more)  # type: ignore[arg-type]


def between(pieces: Pieces, factors: Array, one: slice, other: slice) -> float:
    """The view factor of some pieces together to others."""
    area = pieces.area[one]
    return float((area[:, None] * factors[one, other]).sum() / area.sum())


class Flat(unittest.TestCase):
    """Closed forms from Howell, Mengüç, Daun and Siegel 2021, Thermal Radiation Heat Transfer, appendix C (C-1, C-3, C-63)."""

    def test_a_square_room(self) -> None:
        pieces = outline(chain((0, 0), (1, 0), (1, 1), (0, 1), pieces=20))
        factors = view_factors(pieces, whole=False)
        self.assertAlmostEqual(between(pieces, factors, slice(0, 20), slice(40, 60)), np.sqrt(2.0) - 1.0, delta=1e-12)
        self.assertAlmostEqual(between(pieces, factors, slice(0, 20), slice(20, 40)), 1.0 - np.sqrt(0.5), delta=1e-12)
        self.assertLess(np.abs(factors.sum(axis=1) - 1.0).max(), 1e-12)

    def test_plates_at_any_angle(self) -> None:
        for angle in (0.3, 1.0, 2.5):
            far = (float(np.cos(angle)), float(np.sin(angle)))
            pieces = outline(chain((0, 0), (1, 0), pieces=7, around=False), chain(far, (0, 0), pieces=9, around=False))
            factors = view_factors(pieces, whole=False)
            self.assertAlmostEqual(between(pieces, factors, slice(0, 7), slice(7, 16)), 1.0 - np.sin(0.5 * angle), delta=1e-10)

    def test_a_cylinder_in_a_cylinder(self) -> None:
        pieces = outline(circle(1.0, 120, True), circle(0.4, 120, False))
        factors = view_factors(pieces, whole=False)
        self.assertAlmostEqual(between(pieces, factors, slice(120, 240), slice(0, 120)), 1.0, delta=1e-6)
        self.assertLess(np.abs(factors.sum(axis=1) - 1.0).max(), 1e-5)

    def test_a_screen_between_two_plates(self) -> None:
        """What passes beside a screen midway between two plates of width 2 at 2 apart, half as wide as they are."""
        pieces = outline(
            chain((-1, 0), (1, 0), pieces=1, around=False),
            chain((1, 2), (-1, 2), pieces=1, around=False),
            chain((-0.5, 1.0), (-0.5, 1.0 + 1e-9), (0.5, 1.0 + 1e-9), (0.5, 1.0), pieces=1),
        )
        factors = view_factors(pieces, whole=False)
        # By integration over the plate of the free sines, with many points.
        at = (np.arange(200_000) + 0.5) / 100_000 - 1.0

        def sine(x: float, y: float) -> Array:
            return np.asarray((x - at) / np.hypot(x - at, y))

        low, high, one, two = sine(-1.0, 2.0), sine(1.0, 2.0), sine(-0.5, 1.0), sine(0.5, 1.0)
        free = np.clip(one - low, 0.0, high - low) + np.clip(high - two, 0.0, high - low)
        self.assertAlmostEqual(between(pieces, factors, slice(0, 1), slice(1, 2)), float(0.5 * free.mean()), delta=1e-6)

    def test_what_mirrors_show(self) -> None:
        whole = outline(chain((-1, 0), (1, 0), (1, 1), (-1, 1), pieces=10))
        all_of_it = view_factors(whole)
        half = outline(
            chain((0, 0), (1, 0), (1, 1), (0, 1), pieces=5, around=False), mirrors=(Mirror(np.zeros(2), np.array([-1.0, 0.0])),)
        )
        seen = view_factors(half)
        # The right side, and the floor, of half the room.
        expected = between(whole, all_of_it, slice(10, 20), slice(0, 10))
        self.assertAlmostEqual(between(half, seen, slice(5, 10), slice(0, 5)), expected, delta=1e-12)
        self.assertLess(np.abs(seen.sum(axis=1) - 1.0).max(), 1e-13)


class Rings(unittest.TestCase):
    def test_two_discs_and_what_is_around_them(self) -> None:
        pieces = outline(chain((1, 0), (1, 0.5), (0, 0.5), (0, 0), pieces=30, around=False), axisymmetric=True)
        factors = view_factors(pieces)
        x = 1.0 + (1.0 + 0.25) / 0.25
        self.assertAlmostEqual(between(pieces, factors, slice(0, 30), slice(60, 90)), 0.5 * (x - np.sqrt(x * x - 4.0)), delta=1e-12)
        self.assertLess(np.abs(factors.sum(axis=1) - 1.0).max(), 1e-13)
        exchange = factors * pieces.area[:, None]
        self.assertLess(np.abs(exchange - exchange.T).max(), 1e-15)

    def test_concentric_cylinders_of_one_length(self) -> None:
        """From the outer one to the inner one, and to itself (C-91, C-92 of the same appendix)."""
        inner, outer, length, m = 0.3, 0.6, 1.0, 40
        pieces = outline(chain((length, inner), (length, outer), (0, outer), (0, inner), pieces=m), axisymmetric=True)
        factors = view_factors(pieces, whole=False)
        r, h = outer / inner, length / inner
        a, b = h * h + r * r - 1.0, h * h - r * r + 1.0
        root = np.sqrt((a + 2.0) ** 2 - 4.0 * r * r)
        bracket = root * np.arccos(b / (r * a)) + b * np.arcsin(1.0 / r) - 0.5 * np.pi * a
        expected = (1.0 - (np.arccos(b / a) - bracket / (2.0 * h)) / np.pi) / r
        self.assertAlmostEqual(between(pieces, factors, slice(m, 2 * m), slice(3 * m, 4 * m)), expected, delta=1e-6)
        whole = view_factors(pieces)
        self.assertLess(np.abs(whole.sum(axis=1) - 1.0).max(), 1e-13)
        wide = np.sqrt(4.0 * r * r + h * h)
        turned = np.arcsin((4.0 * (r * r - 1.0) + h * h / r**2 * (r * r - 2.0)) / (h * h + 4.0 * (r * r - 1.0)))
        itself = 1.0 - 1.0 / r + 2.0 / (np.pi * r) * np.arctan(2.0 * np.sqrt(r * r - 1.0) / h)
        itself -= h / (2.0 * np.pi * r) * (wide / h * turned - np.arcsin((r * r - 2.0) / r**2) + 0.5 * np.pi * (wide / h - 1.0))
        self.assertAlmostEqual(between(pieces, whole, slice(m, 2 * m), slice(m, 2 * m)), itself, delta=2e-5)

    def test_a_baffle_hides(self) -> None:
        """Two discs with an opening half as wide midway between them: what passes is the exchange over the opening by parts."""
        radius, hole = 1.0, 0.5

        def seen(opening: float) -> float:
            walls = chain((2, 0), (2, radius), (0, radius), (0, 0), pieces=24, around=False)
            baffle = chain((1.0, radius), (1.0, opening), (0.999999, opening), (0.999999, radius), pieces=8, around=False)
            pieces = outline(walls, baffle, axisymmetric=True)
            return between(pieces, view_factors(pieces, whole=False), slice(0, 24), slice(48, 72))

        # Lines between the discs that pass the plane in the middle within a radius: by Monte Carlo with a fixed seed.
        random = np.random.default_rng(1)
        n = 400_000
        start = np.sqrt(random.random(n)) * radius
        way, rise = 2.0 * np.pi * random.random(n), np.arcsin(np.sqrt(random.random(n)))
        out = np.tan(rise)
        at = [np.hypot(start + s * out * np.cos(way), s * out * np.sin(way)) for s in (1.0, 2.0)]
        expected = float(np.mean((at[0] < hole) & (at[1] < radius)))
        self.assertAlmostEqual(seen(hole), expected, delta=4e-3)
        x = 1.0 + (1.0 + 0.25) / 0.25
        self.assertAlmostEqual(seen(0.999), 0.5 * (x - np.sqrt(x * x - 4.0)), delta=2e-3)


class Whole(unittest.TestCase):
    def test_rows_sum_and_halves_agree(self) -> None:
        random = np.random.default_rng(3)
        exchange = random.random((12, 12))
        area = 0.5 * (exchange + exchange.T).sum(axis=1) * (1.0 + 0.05 * random.random(12))
        found = closed(exchange, area)
        self.assertLess(np.abs(found.sum(axis=1) - area).max(), 1e-13)
        self.assertLess(np.abs(found - found.T).max(), 1e-15)

    def test_faces_become_pieces(self) -> None:
        start, end = chain((0, 0), (1, 0), (1, 1), (0, 1), pieces=10)
        shuffled = np.random.default_rng(0).permutation(40)
        start, end = start[shuffled], end[shuffled]
        surface = np.where(start[:, 1] == 0.0, 0, 1)
        piece = whole_pieces(start, end, surface, 0.5)
        # A closed outline begins anywhere: one piece more.
        self.assertIn(piece.max() + 1, (8, 9))
        begins, ends = joined_faces(start, end, piece)
        self.assertAlmostEqual(float(np.hypot(*(ends - begins).T).sum()), 4.0, delta=1e-12)
        self.assertLess(float(np.hypot(*(ends - begins).T).max()), 0.5 + 1e-12)
