"""Ventilated rooms by hand, fully mixed: balances in closed form, ages, what stands in them, and what they refuse."""

from __future__ import annotations

import math
import unittest
from typing import Any

from tests.sections import rectangle, wall
from wattikos_core.case import Case, read_case, resolve
from wattikos_core.estimate.hand import ByHand, estimate_case
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

MATERIALS = {
    "gas": {"base": "air", "density": "1.2 kg/m^3", "specific_heat": "1000 J/kg/K", "conductivity": "0.03 W/m/K"},
    "foam": {"base": "copper", "conductivity": "0.1 W/m/K"},
}
DEPTH, SUPPLY, OUTSIDE = 0.5, 285.0, 300.0
# A slot of 0.2 m at 1 m/s, W/K.
CAPACITY = 1.2 * 0.2 * DEPTH * 1000.0


def supply(boundary: str = "room, left 2", velocity: str = "1 m/s", temperature: str = f"{SUPPLY} K") -> dict[str, Any]:
    return {"type": "inlet", "boundaries": [boundary], "velocity": velocity, "temperature": temperature}


def convection(*boundaries: str, **more: str) -> dict[str, Any]:
    film = {"thermal": "convection", "heat_transfer_coefficient": "2 W/m²/K", "ambient_temperature": f"{OUTSIDE} K"}
    return wall(*boundaries, **film, **more)


def room(*conditions: dict[str, Any], parts: tuple[dict[str, Any], ...] = (), film: str = "", **document: Any) -> Case:
    """Four metres by two, half a metre deep; a slot of 0.2 m under its ceiling, a grille of 0.3 m above its floor."""
    own = rectangle("room", "gas", "0 m", "0 m", "4 m", "2 m", heat="100 W")
    own["shape"]["divided"] = {"left": ["0.3 m", "1.8 m"]}
    inlet = [] if any(one["type"] == "inlet" for one in conditions) else [supply("room, left 3")]
    return read_case(
        {
            "title": "room",
            "inputs": {},
            "materials": MATERIALS,
            "section": {"extent": "flat", "depth": f"{DEPTH} m", "parts": [own, *parts]},
            "conditions": [*inlet, {"type": "outlet", "boundaries": ["room, left 1"]}, *conditions],
            "estimates": [{"relation": "mixed_room", "room": "room", "film": film}],
            "physics": {"age": True},
            **document,
        }
    )


def by_hand(case: Case) -> ByHand:
    return estimate_case(resolve(case))[0]


def found(case: Case, quantity: str = "outlet_temperature", place: str = "room") -> HandValue:
    calculation = by_hand(case)
    assert not calculation.problems, calculation.problems
    return calculation.values[Key(quantity, place)]


class Temperatures(unittest.TestCase):
    def test_heat_over_capacity(self) -> None:
        for more, heat in (
            ((), 100.0),
            ((wall("room, top", thermal="heat_flux", heat_flux="20 W/m²"),), 100.0 + 20.0 * 4.0 * DEPTH),
            ((wall("room, right", thermal="heat_rate", heat_rate="-60 W"),), 40.0),
        ):
            value = found(room(*more))
            self.assertAlmostEqual(value.value, SUPPLY + heat / CAPACITY, places=6)
            # Nothing depends on how well it mixes.
            self.assertAlmostEqual(value.high - value.low, 0.0, places=9)
            self.assertAlmostEqual(found(room(*more), "heat_gained").value, heat, places=6)

    def test_walls_that_let_heat_through(self) -> None:
        """m cp (T - T_in) = Q + U A (T_a - T), with the resistances of films and a coating in series."""
        for film, coating, resistance in (("", "", 0.5), ("5 W/m²/K", "", 0.7), ("5 W/m²/K", "30 mm", 1.0)):
            more = {"coating_thickness": coating, "coating_material": "foam"} if coating else {}
            through = 6.0 * DEPTH / resistance
            mixed = (CAPACITY * SUPPLY + 100.0 + through * OUTSIDE) / (CAPACITY + through)
            value = found(room(convection("room, top", "room, right", **more), film=film))
            self.assertAlmostEqual(value.value, mixed, places=6)
            # Where its walls see colder air more comes in, up to that of a plug.
            rise = mixed - SUPPLY
            most = SUPPLY + (100.0 + through * (OUTSIDE - SUPPLY - 0.5 * rise)) / CAPACITY
            self.assertGreaterEqual(value.high, most - 1e-9)
            if not film:
                self.assertAlmostEqual(value.high, most, places=6)

    def test_a_wall_held_at_a_temperature_needs_a_film(self) -> None:
        held = wall("room, top", thermal="temperature", temperature=f"{OUTSIDE} K")
        (problem,) = by_hand(room(held)).problems
        self.assertIn("no h from the room to its walls", problem.problem)
        through = 5.0 * 4.0 * DEPTH
        mixed = (CAPACITY * SUPPLY + 100.0 + through * OUTSIDE) / (CAPACITY + through)
        self.assertAlmostEqual(found(room(held, film="5 W/m²/K")).value, mixed, places=6)

    def test_supplies_mix_by_their_mass_flow(self) -> None:
        second = {"type": "inlet", "boundaries": ["room, right"], "mass_flow": "0.06 kg/s", "temperature": "315 K"}
        value = found(room(supply("room, left 3"), second))
        self.assertAlmostEqual(value.value, (CAPACITY * SUPPLY + 60.0 * 315.0 + 100.0) / (CAPACITY + 60.0), places=6)

    def test_round_an_axis(self) -> None:
        drum = rectangle("room", "gas", "0 m", "0 m", "2 m", "0.5 m")
        ends = [
            {"type": "inlet", "boundaries": ["room, left"], "velocity": "0.1 m/s", "temperature": f"{SUPPLY} K"},
            {"type": "outlet", "boundaries": ["room, right"]},
            convection("room, top"),
        ]
        case = room(*ends[:1])
        document = {**case.model_dump(mode="json"), "section": {"extent": "axisymmetric", "parts": [drum]}, "conditions": ends}
        through, capacity = 2.0 * math.pi * 0.5 * 2.0 * 2.0, 1.2 * math.pi * 0.25 * 0.1 * 1000.0
        value = found(read_case(document))
        self.assertAlmostEqual(value.value, (capacity * SUPPLY + through * OUTSIDE) / (capacity + through), places=5)
        self.assertAlmostEqual(found(read_case(document), "mean_age_at_outlet").value, 20.0, delta=1e-4)


class Ages(unittest.TestCase):
    def test_volume_of_air_over_flow(self) -> None:
        """Four cubic metres at 0.1 m³/s; a stack of two of them leaves 40 % of its volume to the air."""
        grains = {"type": "porous", "porosity": "0.4", "viscous": "1e5 1/m^2", "inertial": "0 1/m"}
        stack = rectangle("stack", "gas", "1 m", "0.1 m", "2 m", "1 m", internal=grains)
        for parts, volume in (((), 4.0), ((stack,), 4.0 - 0.6 * 1.0)):
            case = room(parts=parts)
            age = found(case, "mean_age_at_outlet").value
            self.assertAlmostEqual(age, volume / 0.1, places=3)
            inside = found(case, "mean_age_inside")
            self.assertAlmostEqual(inside.value, age)
            self.assertAlmostEqual(inside.low, 0.5 * age)
            self.assertEqual(by_hand(case).values[Key("mean_age_inside", "room")].leaves_out, ())
        change, removal = found(room(), "air_change_efficiency"), found(room(), "heat_removal_effectiveness")
        self.assertEqual((change.value, change.high, removal.value, removal.high), (0.5, 1.0, 1.0, 2.0))

    def test_none_where_they_are_not_wanted(self) -> None:
        self.assertNotIn("mean_age_inside", {key.quantity for key in by_hand(room(physics={})).values})


class What(unittest.TestCase):
    def test_probes_that_stand_in_it(self) -> None:
        box = {"type": "box", "x0": "0 m", "y0": "1 m", "x1": "1 m", "y1": "2 m"}
        block = rectangle("block", "copper", "2 m", "0.5 m", "0.5 m", "0.5 m")
        probes = [
            {"name": "free", "at": {"type": "point", "x": "1 m", "y": "1 m"}},
            {"name": "metal", "at": {"type": "point", "x": "2.2 m", "y": "0.7 m"}},
            {"name": "corner", "at": box},
            {"name": "all", "at": {"type": "part", "part": "room"}},
        ]
        values = by_hand(room(parts=(block,), reading={"probes": probes})).values
        self.assertEqual({key.place for key in values if key.quantity == "probe_temperature"}, {"free", "corner", "all"})
        at = values[Key("probe_temperature", "free")]
        self.assertAlmostEqual((at.high - SUPPLY) / (at.value - SUPPLY), 1.25, places=6)
        self.assertAlmostEqual((at.low - SUPPLY) / (at.value - SUPPLY), 0.5, places=6)

    def test_heat_of_what_stands_in_it(self) -> None:
        """A machine in it, and one in the machine; what heats another room too is left out, and said."""
        machine = rectangle("machine", "copper", "1 m", "0.5 m", "1 m", "1 m", heat="40 W")
        core = rectangle("core", "aluminium", "1.2 m", "0.7 m", "0.2 m", "0.2 m", heat="20 W")
        value = found(room(parts=(machine, core)))
        self.assertAlmostEqual(value.value, SUPPLY + 160.0 / CAPACITY, places=6)
        self.assertEqual(value.leaves_out, ())
        between = rectangle("between", "copper", "4 m", "0 m", "0.1 m", "2 m", heat="40 W")
        beyond = rectangle("beyond", "gas", "4.1 m", "0 m", "1 m", "2 m")
        value = found(room(parts=(between, beyond)))
        self.assertAlmostEqual(value.value, SUPPLY + 100.0 / CAPACITY, places=6)
        self.assertEqual(value.leaves_out, ("the heat source in between",))

    def test_a_jet_that_falls_leaves_its_range(self) -> None:
        warm = read_case({**room().model_dump(mode="json"), "materials": {}, "physics": {"gravity_y": "-9.81 m/s²"}})
        warm.section.parts[0].material = "air"
        self.assertTrue(found(warm).inside)
        warm.section.parts[0].heat = "2 kW"
        self.assertFalse(found(warm).inside)

    def test_what_a_pressure_drives_is_refused(self) -> None:
        for end in (
            {"type": "inlet", "boundaries": ["room, left 3"], "pressure": "1 Pa", "temperature": "20 °C"},
            {"type": "opening", "boundaries": ["room, left 3"], "temperature": "20 °C"},
        ):
            (problem,) = by_hand(room(end, supply("room, right"))).problems
            self.assertIn("give a mass flow or a velocity", problem.remedy)


if __name__ == "__main__":
    unittest.main()
