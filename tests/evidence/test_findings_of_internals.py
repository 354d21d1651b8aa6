"""Findings of fans, resistances and openings: each fires where it should, and not elsewhere."""

from __future__ import annotations

import unittest
from typing import Any

from tests.sections import Document, rectangle, section_case
from wattikos_core.studies import solve_case
from wattikos_core.studies.result import Result

POINTS = [["0 m^3/s", "4 Pa"], ["0.02 m^3/s", "2 Pa"], ["0.03 m^3/s", "0 Pa"]]


def fan_at(name: str, x: str, **fields: Any) -> Document:
    return rectangle(name, "air", x, "0 m", "10 mm", "20 mm", internal={"type": "fan", "points": POINTS, **fields})


def texts(run: Result) -> list[str]:
    return [finding.text for finding in run.findings]


def duct(*inside: Document, inlet: Document | None = None, **more: Any) -> Result:
    parts = [rectangle("duct", "air", "0 m", "0 m", "200 mm", "20 mm"), *inside]
    ends: list[Document] = [{"type": "opening", "boundaries": ["duct, left", "duct, right"], "temperature": "20 °C"}]
    if inlet is not None:
        ends = [{"type": "inlet", "boundaries": ["duct, left"], "temperature": "20 °C", **inlet}]
        ends.append({"type": "outlet", "boundaries": ["duct, right"]})
    around = [f"{part['name']}, {side}" for part in parts for side in ("top", "bottom")]
    return solve_case(section_case(*parts, conditions=[*ends, {"type": "symmetry", "boundaries": around}], fineness=0.5, **more))


class Fans(unittest.TestCase):
    def test_within_its_curve_nothing_is_said(self) -> None:
        found = " ".join(texts(duct(fan_at("fan", "120 mm"))))
        for words in ("backwards", "its curve ends", "holds the stream back", "comes back", "surge"):
            self.assertNotIn(words, found)
        self.assertIn("all that passes 'duct, left' flows in", found)

    def test_driven_backwards_it_offers_to_be_turned(self) -> None:
        run = duct(fan_at("fan", "120 mm", turned=True), inlet={"velocity": "0.5 m/s"})
        finding = next(f for f in run.findings if "backwards" in f.text)
        self.assertEqual((finding.severity, finding.place), ("check", "fan"))
        assert finding.fix is not None
        self.assertEqual((finding.fix.path, finding.fix.value), ("section.parts[1].internal.turned", False))

    def test_beyond_the_end_of_its_curve(self) -> None:
        found = " ".join(texts(duct(fan_at("fan", "120 mm"), inlet={"velocity": "2 m/s"})))
        self.assertIn("its curve ends at", found)
        self.assertIn("holds the stream back", found)

    def test_where_it_may_surge(self) -> None:
        points = [["0 m^3/s", "3 Pa"], ["0.02 m^3/s", "5 Pa"], ["0.03 m^3/s", "0 Pa"]]
        found = " ".join(texts(duct(fan_at("fan", "120 mm", points=points), inlet={"velocity": "0.5 m/s"})))
        self.assertIn("it may surge there", found)


class Tables(unittest.TestCase):
    def test_a_filter_beyond_its_data_sheet(self) -> None:
        tables = {"mat": {"unit": "m/s", "value_unit": "Pa", "rows": [[0.5, 5.0], [1.0, 15.0]]}}
        mat = rectangle("mat", "air", "60 mm", "0 m", "5 mm", "20 mm", internal={"type": "resistance", "table": "mat"})
        slow = duct(mat, inlet={"velocity": "0.5 m/s"}, tables=tables)
        fast = duct(mat, inlet={"velocity": "1.5 m/s"}, tables=tables)
        self.assertNotIn("its table ends at", " ".join(texts(slow)))
        self.assertIn("its table ends at", " ".join(texts(fast)))
        # The density of air follows its pressure.
        self.assertAlmostEqual(slow.value("loss of pressure in mat"), 5.0, delta=1e-3)
