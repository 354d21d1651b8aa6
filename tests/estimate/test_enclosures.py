"""Radiating enclosures by hand: their network against its closed form, films, floating and heated surfaces, and the field."""

from __future__ import annotations

import math
import unittest
from typing import Any

from wattikos_core.case import Case, read_case, resolve
from wattikos_core.estimate.hand import ByHand, estimate_case
from wattikos_core.ledger import Key
from wattikos_core.radiation import STEFAN_BOLTZMANN

# A room of one metre by one, half a metre deep: floor and ceiling seen from each other (crossed strings).
SEEN, DEPTH = math.sqrt(2.0) - 1.0, 0.5


def wall(*boundaries: str, **given: str) -> dict[str, Any]:
    return {"type": "wall", "boundaries": list(boundaries), **given}


def held(boundary: str, at: str) -> dict[str, Any]:
    return wall(boundary, thermal="temperature", temperature=at)


def room(conditions: list[dict[str, Any]], parts: tuple[dict[str, Any], ...] = (), width: str = "1 m", **radiation: Any) -> Case:
    """Air between surfaces of an emissivity of 0.6, the ceiling's 0.3."""
    told = {"emissivity": "0.6", "surfaces": [{"surface": "air, top", "emissivity": "0.3"}]} | radiation
    shape = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": width, "height": "1 m"}
    return read_case(
        {
            "title": "room",
            "inputs": {},
            "section": {
                "extent": "flat",
                "depth": f"{DEPTH} m",
                "parts": [{"name": "air", "material": "air", "shape": shape, "radiation": told}, *parts],
            },
            "conditions": conditions,
            "estimates": [{"relation": "radiating_enclosure", "gas": "air"}],
        }
    )


def by_hand(case: Case) -> ByHand:
    return estimate_case(resolve(case))[0]


def found(case: Case, quantity: str, place: str) -> float:
    calculation = by_hand(case)
    assert not calculation.problems, calculation.problems
    return calculation.values[Key(quantity, place)].value


def between(warm: float, cold: float) -> float:
    """Floor to ceiling with sides that re-radiate, W: the network in closed form."""
    through = SEEN + 1.0 / (2.0 / (1.0 - SEEN))
    return DEPTH * STEFAN_BOLTZMANN * (warm**4 - cold**4) / (0.4 / 0.6 + 1.0 / through + 0.7 / 0.3)


class Enclosures(unittest.TestCase):
    FLOOR_AND_CEILING = (held("air, bottom", "500 K"), held("air, top", "300 K"))

    def test_three_surfaces_one_of_which_re_radiates(self) -> None:
        case = room([*self.FLOOR_AND_CEILING])
        self.assertAlmostEqual(found(case, "radiated", "air, bottom") / between(500.0, 300.0), 1.0, places=9)
        self.assertAlmostEqual(found(case, "radiated", "air, top") / between(500.0, 300.0), -1.0, places=9)
        self.assertEqual(found(case, "radiated", "air, left"), 0.0)
        self.assertNotIn(Key("mean_temperature", "air, top"), by_hand(case).values)
        self.assertTrue(300.0 < found(case, "mean_temperature", "air, left") < 500.0)

    def test_a_mirror_shows_the_other_half(self) -> None:
        half = room([*self.FLOOR_AND_CEILING, {"type": "symmetry", "boundaries": ["air, right"]}], width="0.5 m")
        self.assertAlmostEqual(2.0 * found(half, "radiated", "air, bottom") / between(500.0, 300.0), 1.0, places=6)

    def test_a_film_gives_what_it_lets_through(self) -> None:
        film = wall("air, bottom", thermal="convection", heat_transfer_coefficient="12 W/m^2/K", ambient_temperature="600 K")
        case = room([film, self.FLOOR_AND_CEILING[1]])
        at = found(case, "mean_temperature", "air, bottom")
        self.assertAlmostEqual(found(case, "radiated", "air, bottom"), 12.0 * DEPTH * (600.0 - at), places=6)
        self.assertAlmostEqual(between(at, 300.0) / (12.0 * DEPTH * (600.0 - at)), 1.0, places=9)

    def test_heat_that_is_given_is_given_off(self) -> None:
        """By a wall, by a bar that stands in the room, and what shines on a surface from elsewhere."""
        heated = room([wall("air, bottom", thermal="heat_rate", heat_rate="100 W"), self.FLOOR_AND_CEILING[1]])
        at = found(heated, "mean_temperature", "air, bottom")
        self.assertAlmostEqual(between(at, 300.0), 100.0, places=6)
        flux = room([wall("air, bottom", thermal="heat_flux", heat_flux="200 W/m^2"), self.FLOOR_AND_CEILING[1]])
        self.assertAlmostEqual(found(flux, "mean_temperature", "air, bottom"), at, places=6)
        bar = {
            "name": "bar",
            "material": "copper",
            "heat": "80 W",
            "shape": {"type": "circle", "x": "0.5 m", "y": "0.5 m", "diameter": "0.2 m"},
        }
        inside = room([held("air, bottom", "300 K"), held("air, top", "300 K")], (bar,))
        self.assertAlmostEqual(found(inside, "radiated", "air | bar"), 80.0, places=6)
        self.assertAlmostEqual(found(inside, "radiated", "air, bottom") + found(inside, "radiated", "air, top"), -80.0, places=6)
        sun = room(
            [*self.FLOOR_AND_CEILING],
            surfaces=[{"surface": "air, top", "emissivity": "0.3"}, {"surface": "air, left", "absorbed": "50 W/m^2"}],
        )
        self.assertAlmostEqual(found(sun, "radiated", "air, left"), 0.0, places=9)
        self.assertGreater(found(sun, "mean_temperature", "air, left"), found(sun, "mean_temperature", "air, right"))

    def test_what_it_cannot_know_is_said(self) -> None:
        plain = room([*self.FLOOR_AND_CEILING])
        parts = [part.model_copy(update={"radiation": None}) for part in plain.section.parts]
        without = plain.model_copy(update={"section": plain.section.model_copy(update={"parts": parts})})
        self.assertIn("do not radiate", by_hand(without).problems[0].problem)
        self.assertIn("no surface", by_hand(room([])).problems[0].problem)
        bar = {
            "name": "bar",
            "material": "copper",
            "heat": "80 kW/m^3",
            "shape": {"type": "circle", "x": "0.5 m", "y": "0.5 m", "diameter": "0.2 m"},
        }
        self.assertIn("per volume", by_hand(room([*self.FLOOR_AND_CEILING], (bar,))).problems[0].problem)
        plate = {
            "name": "plate",
            "material": "copper",
            "shape": {"type": "rectangle", "x": "-0.1 m", "y": "0 m", "width": "0.1 m", "height": "1 m"},
        }
        beside = by_hand(room([*self.FLOOR_AND_CEILING], (plate,)))
        self.assertIn("conducts to elsewhere", beside.problems[0].problem)
        self.assertEqual(beside.problems[0].field, "estimates[0].gas")


if __name__ == "__main__":
    unittest.main()
