"""Fans on their systems by hand, one behind the other and side by side, against a search of its own."""

from __future__ import annotations

import unittest
from typing import Any

from scipy.optimize import brentq

from tests.sections import Document, rectangle, section_case
from wattikos_core.case import resolve
from wattikos_core.estimate import estimate_case, first_values
from wattikos_core.ledger import Key

WEAK = {"type": "fan", "points": [["0 m^3/s", "10 Pa"], ["0.02 m^3/s", "0 Pa"]]}
STRONG = {"type": "fan", "points": [["0 m^3/s", "16 Pa"], ["0.03 m^3/s", "0 Pa"]]}
AREA = 0.02


def found(*inside: Document) -> dict[Key, Any]:
    parts = [rectangle("duct", "air", "0 m", "0 m", "300 mm", "20 mm"), *inside]
    conditions = [{"type": "opening", "boundaries": ["duct, left", "duct, right"], "temperature": "20 °C"}]
    estimates = [{"relation": "on_the_way", "fluid": "duct", "area": "0.02 m^2", "losses": "1.5"}]
    calculations = estimate_case(resolve(section_case(*parts, conditions=conditions, estimates=estimates)))
    assert not calculations[0].problems, calculations[0].problems
    return first_values(calculations)


def fan(name: str, x: str, y: str, height: str, internal: Document) -> Document:
    return rectangle(name, "air", x, y, "10 mm", height, internal=internal)


def meets(rise: Any, loss: float) -> float:
    from wattikos_core.materials import table_of

    density = float(table_of("air").density(293.15))
    return float(brentq(lambda q: rise(q) - 0.5 * density * (q / AREA) ** 2 * (1.0 + 1.5 + loss), 1e-6, 0.1))


class Blown(unittest.TestCase):
    def test_one_with_a_screen(self) -> None:
        screen = rectangle("screen", "air", "50 mm", "0 m", "5 mm", "20 mm", internal={"type": "resistance", "loss": "4"})
        values = found(fan("fan", "200 mm", "0 m", "20 mm", WEAK), screen)
        flow = meets(lambda q: 10.0 * (1.0 - q / 0.02), 4.0)
        self.assertAlmostEqual(values[Key("flow_through", "fan")].value / flow, 1.0, delta=1e-5)
        self.assertAlmostEqual(values[Key("rise_in", "fan")].value / (10.0 * (1.0 - flow / 0.02)), 1.0, delta=1e-5)
        self.assertFalse(values[Key("flow_through", "fan")].leaves_out)
        self.assertNotIn(Key("pressure_drop", "duct"), values)

    def test_one_behind_the_other(self) -> None:
        values = found(fan("weak", "150 mm", "0 m", "20 mm", WEAK), fan("strong", "200 mm", "0 m", "20 mm", STRONG))
        flow = meets(lambda q: 10.0 * (1.0 - q / 0.02) + 16.0 * (1.0 - q / 0.03), 0.0)
        self.assertAlmostEqual(values[Key("flow_through", "weak")].value / flow, 1.0, delta=1e-5)

    def test_side_by_side_they_share_the_flow_at_one_rise(self) -> None:
        values = found(fan("weak", "200 mm", "0 m", "10 mm", WEAK), fan("strong", "200 mm", "10 mm", "10 mm", STRONG))
        weak, strong = (values[Key("flow_through", name)].value for name in ("weak", "strong"))
        self.assertAlmostEqual(10.0 * (1.0 - weak / 0.02), 16.0 * (1.0 - strong / 0.03), delta=1e-4)
        whole = weak + strong
        # Straight lines: Q = 0.02 (1 - p/10) + 0.03 (1 - p/16).
        self.assertAlmostEqual(meets(lambda q: (0.05 - q) / (0.002 + 0.03 / 16.0), 0.0) / whole, 1.0, delta=1e-4)
