"""Cases from Python: what is given is taken, tables and fields hold what was solved, mistakes name their remedy."""

from __future__ import annotations

import math
import tempfile
import unittest
from pathlib import Path

import numpy as np

import wattikos_core
from wattikos_core.errors import CaseError
from wattikos_core.scripting import OpenCase, key_of
from wattikos_core.studies import solve_case


def passage() -> OpenCase:
    return wattikos_core.open("plate_passage").fineness(0.3)


class Scripting(unittest.TestCase):
    def test_given_values_and_files(self) -> None:
        case = passage().given(length=0.9e3, hot_inlet="80 °C").made_of(plate="copper")
        self.assertEqual(case.inputs.loc[["length", "hot_inlet"], "value"].tolist(), ["900 mm", "80 °C"])
        self.assertEqual(passage().inputs.loc["length", "value"], "600 mm")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "case.json"
            case.save(path)
            self.assertEqual(wattikos_core.open(path), case)
            self.assertEqual(wattikos_core.open(case.case.model_dump(mode="json")), case)

    def test_solved(self) -> None:
        solved = passage().solve()
        own = solve_case(passage().case)
        self.assertEqual(solved.value("effectiveness"), own.value("effectiveness"))
        self.assertTrue(solved.converged)
        self.assertAlmostEqual(solved.value("hot outlet temperature", "degC"), own.value("hot outlet temperature") - 273.15)
        ledger = solved.ledger
        self.assertAlmostEqual(
            ledger.loc["hot outlet temperature", "solved"], solved.value("hot outlet temperature", "degC"), places=9
        )
        self.assertEqual(ledger.loc["hot outlet temperature", "unit"], "°C")
        self.assertTrue(math.isnan(ledger.loc["effectiveness", "grid ±"]))
        fields = solved.fields
        hot = fields.where(fields.part == "hot", drop=True)
        mean = float((hot.temperature * hot.volume).sum() / hot.volume.sum())
        self.assertAlmostEqual(mean, own.value("mean temperature of hot"), places=6)
        # Begun from a neighbour it comes to the same.
        longer = passage().given(length=650)
        self.assertAlmostEqual(longer.solve(start=solved).value("duty") / longer.solve().value("duty"), 1.0, delta=1e-6)

    def test_series(self) -> None:
        by_hand = passage().vary({"length": "400, 600 mm"}, materials={"plate": "stainless_304, copper"})
        self.assertEqual(len(by_hand), 4)
        self.assertTrue((by_hand["problem"] == "").all())
        np.testing.assert_allclose(
            by_hand.loc[3, "effectiveness"], passage().estimate().loc["effectiveness", "by hand"], rtol=1e-12
        )
        solved = passage().vary({"length": "600 mm"}, solve=True)
        self.assertAlmostEqual(solved.loc[1, "effectiveness"] / passage().solve().value("effectiveness"), 1.0, delta=1e-9)

    def test_mistakes(self) -> None:
        for words, act in (
            ("no input 'lenght'", lambda: passage().given(lenght=1)),
            ("no part 'plat'", lambda: passage().made_of(plat="copper")),
            ("cannot be read", lambda: wattikos_core.open("nowhere.json")),
            ("no quantity 'dutty'", lambda: key_of(passage(), "dutty")),
            ("is no goal", lambda: passage().size({"length": ""}, ["effectiveness"])),
        ):
            with self.subTest(words), self.assertRaisesRegex(CaseError, words):
                act()
        with self.assertRaises(KeyError):
            passage().solve().value("dutty")
        with self.assertRaises(AttributeError):
            _ = wattikos_core.opened
