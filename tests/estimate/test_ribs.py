"""Ribs by hand: the relation by itself, and where it enters the hand calculation of a heated duct."""

from __future__ import annotations

import math
import unittest

from wattikos_core.case import read_case, starter_case
from wattikos_core.estimate.ribs import ribbed_film
from wattikos_core.studies import estimate_ledger


class ByItself(unittest.TestCase):
    def test_friction_and_heat_of_repeated_ribs(self) -> None:
        """Webb, Eckert and Goldstein (1971; from memory): B = 3.22 at a pitch of ten heights; heat by their g - B."""
        film = ribbed_film(5e4, 0.71, 0.02, 10.0, None)
        half = film.friction / 8.0
        self.assertAlmostEqual(math.sqrt(1.0 / half) + 2.5 * math.log(0.04) + 3.75, 3.22, delta=0.01)
        plus = 0.02 * 5e4 * math.sqrt(half)
        resistance = (half / (film.nusselt / 5e4 / 0.71) - 1.0) / math.sqrt(half)
        self.assertAlmostEqual(resistance + 3.22, 4.5 * plus**0.28 * 0.71**0.57, delta=0.01)

    def test_where_it_was_measured(self) -> None:
        self.assertTrue(ribbed_film(5e4, 0.71, 0.02, 10.0, None).inside)
        for reynolds, prandtl, height, pitch in ((5e4, 0.71, 0.1, 10.0), (5e4, 0.71, 0.02, 5.0), (5e4, 50.0, 0.02, 10.0)):
            self.assertFalse(ribbed_film(reynolds, prandtl, height, pitch, None).inside)

    def test_one_wall_of_two(self) -> None:
        """Friction is the mean of both walls; the heat of the ribbed one does not change."""
        both, one = ribbed_film(5e4, 0.71, 0.02, 10.0, None), ribbed_film(5e4, 0.71, 0.02, 10.0, 0.02)
        self.assertAlmostEqual(one.friction, 0.5 * (both.friction + 0.02))
        self.assertEqual(one.nusselt, both.nusselt)


class InADuct(unittest.TestCase):
    def test_the_ribbed_duct(self) -> None:
        """In range it is told with its source, on the area of wall and ribs; in a slow stream only the heat balance is."""
        document = starter_case("turbulent_ribs").model_dump(mode="json")
        document["inputs"]["height"]["value"] = "60 mm"
        document["inputs"]["velocity"]["value"] = "8 m/s"
        rows = {row.name: row.hand for row in estimate_ledger(read_case(document)) if row.hand}
        assert rows["air h"] is not None
        self.assertIn("Webb", rows["air h"].source)
        self.assertTrue(rows["air h"].inside)
        film = ribbed_film(rows["air Reynolds number"].value, 0.71, 4.0 / 120.0, 10.0, None)
        self.assertAlmostEqual(rows["air Nusselt number"].value / (film.nusselt * 40.0 / 48.0), 1.0, delta=0.03)
        document["inputs"]["velocity"]["value"] = "0.1 m/s"
        self.assertNotIn("air h", [row.name for row in estimate_ledger(read_case(document)) if row.hand])
