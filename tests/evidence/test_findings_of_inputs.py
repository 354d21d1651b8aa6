"""Findings about what was entered: each in a case that has it, and not in one that does not."""

from __future__ import annotations

import unittest
from typing import Any

from tests.sections import held, rectangle, section_case, wall
from wattikos_core.case import Case
from wattikos_core.evidence import Finding
from wattikos_core.studies import draft


def told(case: Case, words: str) -> list[Finding]:
    return [finding for finding in draft(case).findings if words in finding.text]


def slab(low: str = "20 °C", high: str = "60 °C", **more: Any) -> Case:
    """A steel slab between two temperatures."""
    part = rectangle("slab", "stainless_304", "0 m", "0 m", "10 mm", "5 mm")
    conditions = [held("slab, bottom", at=low), held("slab, top", at=high), *more.pop("further", [])]
    return section_case(part, conditions=conditions, fineness=0.5, **more)


class Temperatures(unittest.TestCase):
    def test_an_ambient_near_absolute_zero(self) -> None:
        """20 K where 20 °C is meant; 200 K is cold, but not that cold."""
        (finding,) = told(slab("20 K"), "absolute zero")
        self.assertEqual((finding.severity, finding.place), ("stop", "slab, bottom"))
        self.assertIn("20 °C", finding.remedy)
        self.assertEqual(told(slab("200 K"), "absolute zero"), [])

    def test_the_other_unit(self) -> None:
        """293 °C beside 40 °C is 293 K; 293 °C beside 600 °C is not; 80 K beside 80 °C is told as well."""
        (finding,) = told(slab("293 °C", "40 °C"), "far from all other")
        self.assertIn("19.85 °C", finding.remedy)
        self.assertEqual(told(slab("293 °C", "600 °C"), "far from all other"), [])
        self.assertEqual(len(told(slab("80 K", "95 °C"), "far from all other")), 1)


class Targets(unittest.TestCase):
    def wanted(self, target: str, sense: str, **more: Any) -> list[Finding]:
        wish = {"key": {"quantity": "hottest_metal"}, "target": target, "sense": sense}
        return told(slab(wanted=[wish], **more), "than anything given")

    def test_hotter_than_anything_given(self) -> None:
        """Nothing in a slab between 20 and 60 °C reaches 70 °C, or 10 °C; 50 °C is a matter of place."""
        (finding,) = self.wanted("70 °C", "at_least")
        self.assertEqual(finding.severity, "stop")
        self.assertIn("hotter", finding.text)
        self.assertIn("colder", self.wanted("10 °C", "at_most")[0].text)
        self.assertEqual(self.wanted("70 °C", "at_most"), [])
        self.assertEqual(self.wanted("50 °C", "at_least"), [])

    def test_sources_may_heat_beyond(self) -> None:
        """With heat given to a side there is no such bound."""
        flux = wall("slab, left", thermal="heat_flux", heat_flux="1 kW/m^2")
        self.assertEqual(self.wanted("70 °C", "at_least", further=[flux]), [])

    def test_a_share_above_one(self) -> None:
        wish = {"key": {"quantity": "effectiveness"}, "target": "1.2", "sense": "at_least"}
        self.assertEqual(told(slab(wanted=[wish]), "cannot be above 1")[0].severity, "stop")
        self.assertEqual(told(slab(wanted=[wish | {"target": "0.9"}]), "cannot be above 1"), [])


class Names(unittest.TestCase):
    def test_two_conditions_on_one_boundary(self) -> None:
        """The one that does not hold is told, once, by the name it was given."""
        (finding,) = told(slab(further=[wall("slab, bottom")]), "two conditions")
        self.assertEqual(finding.place, "slab, bottom")
        self.assertEqual(told(slab(further=[wall("slab, left")]), "two conditions"), [])

    def test_by_the_name_of_all_copies(self) -> None:
        part = rectangle(
            "fin", "copper", "0 m", "0 m", "2 mm", "9 mm", repeat={"pattern": "line", "count": "2", "dx": "5 mm", "dy": "0 m"}
        )
        base = rectangle("base", "copper", "0 m", "-2 mm", "9 mm", "2 mm")
        conditions = [held("fin, top", at="20 °C"), held("fin 2, top", at="30 °C"), held("base, bottom", at="60 °C")]
        (finding,) = told(section_case(base, part, conditions=conditions), "two conditions")
        self.assertIn("as 'fin, top'", finding.text)
        self.assertEqual(finding.place, "fin 2, top")

    def test_a_part_that_is_covered(self) -> None:
        small = rectangle("small", "copper", "2 mm", "1 mm", "2 mm", "2 mm")
        large = rectangle("large", "iron", "0 m", "0 m", "10 mm", "5 mm")
        conditions = [held("large, bottom", at="20 °C"), held("large, top", at="60 °C")]
        self.assertIn("nothing of 'small' is left", draft(section_case(small, large, conditions=conditions)).problems[0].problem)
        self.assertEqual(draft(section_case(large, small, conditions=conditions)).problems, [])


class WaysOut(unittest.TestCase):
    def heated(self, *further: dict[str, Any], **more: Any) -> list[str]:
        parts = [
            rectangle("held", "copper", "0 m", "0 m", "10 mm", "5 mm"),
            rectangle("alone", "copper", "20 mm", "0 m", "10 mm", "5 mm", heat="1e6 W/m^3"),
        ]
        case = section_case(*parts, conditions=[held("held, bottom", at="80 °C"), *further], fineness=0.5, **more)
        return [problem.problem for problem in draft(case).problems if "nowhere to go" in problem.problem]

    def test_heat_with_no_way_out(self) -> None:
        """One body is held, the other is heated and touches nothing: it has no steady state (it came out at -7e28 K)."""
        self.assertIn("'alone'", self.heated()[0])

    def test_a_way_out(self) -> None:
        """Convection lets heat out; in time it may grow hotter."""
        air = {"heat_transfer_coefficient": "20 W/m²/K", "ambient_temperature": "20 °C"}
        self.assertEqual(self.heated(wall("alone, top", thermal="convection", **air)), [])
        self.assertEqual(self.heated(physics={"regime": "time"}, time={"end": "10 s", "temperature": "20 °C"}), [])
