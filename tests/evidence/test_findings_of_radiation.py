"""Radiation that is forgotten, and surfaces that are not there."""

from __future__ import annotations

import unittest

from wattikos_core.case import Case, starter_case
from wattikos_core.case.radiation import RadiatingSurface, SurfaceRadiation
from wattikos_core.evidence.finding import Finding
from wattikos_core.studies import solve_case


def findings(case: Case, words: str) -> list[Finding]:
    small = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.5})})
    return [finding for finding in solve_case(small).findings if words in finding.text]


class Radiation(unittest.TestCase):
    def test_across_a_gap_of_air_it_is_no_detail(self) -> None:
        (found,) = findings(starter_case("cavity"), "would radiate")
        self.assertEqual((found.severity, found.place), ("check", "air"))
        assert found.fix is not None
        self.assertEqual((found.fix.path, found.fix.value), ("section.parts[1].radiation.emissivity", "0.85"))

    def test_once_it_is_there_nothing_is_said(self) -> None:
        case = starter_case("cavity")
        case.section.parts[1].radiation = SurfaceRadiation(emissivity="0.85")
        self.assertFalse(findings(case, "radiate"))

    def test_in_water_nothing_is_said(self) -> None:
        self.assertFalse(findings(starter_case("plate_passage"), "would radiate"))

    def test_a_surface_that_is_not_there(self) -> None:
        case = starter_case("cavity")
        rows = [RadiatingSurface(surface=name, emissivity="0.1") for name in ("air | warm plate", "air, left", "air, top")]
        case.section.parts[1].radiation = SurfaceRadiation(surfaces=rows)
        (found,) = findings(case, "does not have")
        self.assertIn("'air, left'", found.text)
