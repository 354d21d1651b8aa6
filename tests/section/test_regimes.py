"""Which streams are turbulent: by the Reynolds number of their inlets, of bodies in them, or the Rayleigh number."""

from __future__ import annotations

import unittest
from typing import Any

from wattikos_core.case import ResolvedCase, read_case, resolve, starter_case
from wattikos_core.section import PaintedSection, paint
from wattikos_core.section.regimes import follows_layers, regimes, turbulent_parts


def drawn(starter: str, flow: str = "automatic", **inputs: str) -> tuple[ResolvedCase, PaintedSection]:
    document: dict[str, Any] = starter_case(starter).model_dump(mode="json")
    document["physics"]["flow"] = flow
    for name, value in inputs.items():
        document["inputs"][name]["value"] = value
    resolved = resolve(read_case(document))
    return resolved, paint(resolved)


class Ducts(unittest.TestCase):
    def test_a_pipe_and_an_annulus(self) -> None:
        """Four times the flow over wetted rim and viscosity, whatever the shape."""
        found = {r.parts[0]: r for r in regimes(*drawn("double_pipe", hot_flow="200 g/s", cold_flow="8 g/s"))}
        self.assertAlmostEqual(found["hot"].length, 0.010, delta=1e-9)
        self.assertAlmostEqual(found["cold"].length, 0.008, delta=1e-9)
        self.assertTrue(found["hot"].turbulent)
        self.assertFalse(found["cold"].turbulent)

    def test_half_a_passage_has_one_wall(self) -> None:
        """Its other side is a plane of symmetry: the hydraulic diameter is four times the height."""
        for regime in regimes(*drawn("turbulent_passage")):
            self.assertAlmostEqual(regime.length, 0.016, delta=1e-9)

    def test_wishes_come_before_numbers(self) -> None:
        self.assertEqual(turbulent_parts(*drawn("double_pipe", "laminar", hot_flow="200 g/s")), {})
        self.assertEqual(set(turbulent_parts(*drawn("double_pipe", "turbulent"))), {"hot", "cold"})
        self.assertEqual(turbulent_parts(*drawn("double_pipe")), {})


class Bodies(unittest.TestCase):
    def test_a_bar_in_an_open_stream(self) -> None:
        """No wall stands at the rim of its inlet: the size of the bar counts."""
        (regime,) = regimes(*drawn("cross_flow", velocity="1 m/s"))
        self.assertEqual(regime.of, "size of 'bar'")
        self.assertAlmostEqual(regime.length, 0.004, delta=4e-5)
        self.assertTrue(regime.turbulent)


class Layers(unittest.TestCase):
    def test_they_are_laminar_at_first_on_bodies_that_nothing_stands_before(self) -> None:
        """On a bar in a fast stream; not where fans stir, nor in ducts, nor where layers are coarse."""
        for starter, followed in (("fast_bar", True), ("core_with_fans", False), ("turbulent_passage", False)):
            resolved, section = drawn(starter)
            self.assertEqual(follows_layers(resolved, regimes(resolved, section)), followed, starter)
        document = starter_case("fast_bar").model_dump(mode="json")
        document["grid"]["layers"] = "coarse"
        coarse = resolve(read_case(document))
        self.assertFalse(follows_layers(coarse, regimes(coarse, paint(coarse))))


class Weight(unittest.TestCase):
    def test_a_closed_cavity_has_a_rayleigh_number(self) -> None:
        (regime,) = regimes(*drawn("cavity"))
        self.assertTrue(regime.weight)
        self.assertFalse(regime.turbulent)
        self.assertGreater(regime.number, 1e3)

    def test_closed_rooms_come_to_no_rest_before_others(self) -> None:
        """From 1.8e8 on where they are closed (Le Quéré and Behnia 1998, from memory), 1e9 where they are open."""
        resolved, section = drawn("cavity")
        (closed,), side = regimes(resolved, section), "air, top"
        self.assertEqual(closed.critical, 1.8e8)
        document = resolved.case.model_dump(mode="json")
        for condition in document["conditions"]:
            condition["boundaries"] = [name for name in condition["boundaries"] if name != side]
        document["conditions"] = [condition for condition in document["conditions"] if condition["boundaries"]]
        document["conditions"].append({"type": "opening", "boundaries": [side], "temperature": "20 °C"})
        opened = resolve(read_case(document))
        self.assertEqual([regime.critical for regime in regimes(opened, paint(opened)) if regime.weight], [1e9])
