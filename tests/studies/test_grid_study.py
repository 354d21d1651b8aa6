"""A grid study of a case whose answer is known: flow between plates, and conduction from a plate through layers."""

from __future__ import annotations

import unittest

from django.test import tag

from tests.sections import rectangle, section_case
from wattikos_core.case import Case, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.ledger import Key
from wattikos_core.studies import StudiedGrid, study_grids


def duct(grids: int, good_enough: float = 0.01) -> Case:
    """Water that enters evenly between plates: pressure drop changes with the grid."""
    conditions = [
        {"type": "inlet", "boundaries": ["duct, left"], "velocity": "5 mm/s", "temperature": "20 °C", "profile": "developed"},
        {"type": "outlet", "boundaries": ["duct, right"]},
    ]
    part = rectangle("duct", "water", "0 m", "0 m", "20 mm", "4 mm")
    study = {"grids": grids, "good_enough": good_enough}
    return section_case(part, conditions=conditions, depth="0.1 m", solve={"study": study}, fineness=0.9)


class Study(unittest.TestCase):
    def test_pressure_drop_between_plates(self) -> None:
        """12 µ U L / H² (exact): all grids point to it, the ± of each covers its error, and they are of second order."""
        for grids in (3, 5):
            seen: list[StudiedGrid] = []
            study = study_grids(duct(grids), on_grid=seen.append)
            self.assertEqual(len(study.grids), grids)
            self.assertEqual([grid.cells for grid in seen], [grid.cells for grid in study.grids])
            self.assertEqual(study.grids[-2].fineness, 0.9)
            drop = next(one for one in study.quantities if one.key == Key("pressure_drop", "duct"))
            # Water at 20 °C has 1.0016 mPa s (IAPWS, from memory).
            exact = 12.0 * 1.0016e-3 * 0.005 * 0.02 / 0.004**2
            self.assertAlmostEqual(drop.extrapolated / exact, 1.0, delta=0.004)
            for value, width in zip(drop.values, drop.plus_minus, strict=True):
                self.assertLess(abs(value - drop.extrapolated), width * 1.001)
            self.assertGreater(drop.order or 0.0, 1.3)
            self.assertLess(drop.plus_minus[-1], drop.plus_minus[0])

    def test_good_enough(self) -> None:
        """The wider the tolerance, the coarser the grid that will do; none does for one that nothing meets."""
        study = study_grids(duct(4, good_enough=0.5))
        drop = next(one for one in study.quantities if one.key == Key("pressure_drop", "duct"))
        self.assertEqual(drop.good_enough, 0)
        strict = study_grids(duct(4, good_enough=1e-9))
        drop = next(one for one in strict.quantities if one.key == Key("pressure_drop", "duct"))
        self.assertIsNone(drop.good_enough)

    @tag("slow")
    def test_by_numbers_of_cells(self) -> None:
        case = starter_case("plate_sink")
        case = case.model_copy(update={"grid": case.grid.model_copy(update={"cells": 1500})})
        study = study_grids(case)
        self.assertEqual([grid.wished_cells for grid in study.grids], [390, 765, 1500, 2940])

    def test_stopped_and_refused(self) -> None:
        self.assertTrue(study_grids(duct(3), cancel=lambda: True).stopped)
        case = starter_case("plate_sink")
        with self.assertRaises(CaseError):
            study_grids(case.model_copy(update={"grid": case.grid.model_copy(update={"file": "own.vtu"})}))
