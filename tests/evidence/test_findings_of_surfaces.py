"""Findings about surfaces: each in a case that has it, and not in one that does not."""

from __future__ import annotations

import unittest
from typing import Any

from tests.sections import held, rectangle, section_case
from wattikos_core.case import Case
from wattikos_core.evidence import Finding
from wattikos_core.studies import solve_case


def told(case: Case, words: str) -> list[Finding]:
    return [finding for finding in solve_case(case).findings if words in finding.text]


def duct(cells: int) -> Case:
    """Cold water along a hot plate: the layer is thin."""
    conditions = [
        {"type": "inlet", "boundaries": ["duct, left"], "velocity": "20 mm/s", "temperature": "20 °C"},
        {"type": "outlet", "boundaries": ["duct, right"]},
        held("duct, bottom", at="60 °C"),
    ]
    part = rectangle("duct", "water", "0 m", "0 m", "30 mm", "10 mm")
    return section_case(part, conditions=conditions, grid={"cells": cells})


def stack(**more: Any) -> Case:
    """Copper on steel, with 100 kW/m² through both."""
    parts = [
        rectangle("chip", "copper", "0 m", "0 m", "10 mm", "5 mm"),
        rectangle("cooler", "stainless_304", "0 m", "5 mm", "10 mm", "5 mm"),
    ]
    return section_case(
        *parts, conditions=[held("chip, bottom", at="80 °C"), held("cooler, top", at="20 °C")], fineness=0.5, **more
    )


class Surfaces(unittest.TestCase):
    def test_a_layer_that_is_gridded_too_coarsely(self) -> None:
        """Told on 60 cells with its place and a remedy in one step; not on 6,000."""
        (finding,) = told(duct(60), "first cells on")
        self.assertEqual((finding.severity, finding.place), ("check", "duct, bottom"))
        assert finding.fix is not None
        self.assertEqual(finding.fix.refine, ("duct, bottom",))
        self.assertEqual(told(duct(6000), "first cells on"), [])

    def test_the_remedy_helps(self) -> None:
        """Twice as fine there, a few times over, and the finding is gone."""
        case = duct(60)
        for _ in range(3):
            case = case.model_copy(
                update={"grid": case.grid.model_copy(update={"cells": None, "local": [*case.grid.local, *_finer()]})}
            )
        self.assertEqual(told(case, "first cells on"), [])

    def test_a_contact_that_was_forgotten(self) -> None:
        (finding,) = told(stack(), "as if they were one")
        self.assertEqual(finding.place, "chip | cooler")
        contact = [{"between": ["chip", "cooler"], "resistance": "1e-4 m^2*K/W"}]
        self.assertEqual(told(stack(contacts=contact), "as if they were one"), [])

    def test_one_material_needs_no_contact(self) -> None:
        parts = [rectangle("a", "copper", "0 m", "0 m", "10 mm", "5 mm"), rectangle("b", "copper", "0 m", "5 mm", "10 mm", "5 mm")]
        case = section_case(*parts, conditions=[held("a, bottom", at="80 °C"), held("b, top", at="20 °C")], fineness=0.5)
        self.assertEqual(told(case, "as if they were one"), [])


def _finer() -> list[object]:
    from wattikos_core.case.document import LocalFineness

    return [LocalFineness(at=["duct, bottom"], fineness=2.0)]


class Steps(unittest.TestCase):
    def test_more_steps_in_one_step(self) -> None:
        """A solve that is given one step does not converge, and offers two."""
        case = duct(600)
        short = case.model_copy(
            update={"solve": case.solve.model_copy(update={"max_steps": 1, "tolerance": 1e-12, "method": "coupled"})}
        )
        finding = next(f for f in solve_case(short).findings if f.text.startswith("not converged"))
        assert finding.fix is not None
        self.assertEqual((finding.fix.path, finding.fix.value), ("solve.max_steps", 2))
