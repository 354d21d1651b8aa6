"""Histories as tables, and how quantities swing."""

from __future__ import annotations

import csv
import tempfile
import unittest
from pathlib import Path

import numpy as np

from wattikos_core.formats import swing, swings, write_history


class Swings(unittest.TestCase):
    def test_a_sine_at_uneven_times(self) -> None:
        time = np.sort(np.concatenate([np.linspace(0.0, 5.0, 700), np.linspace(1.0, 2.0, 300)[1:-1]]))
        found = swing(time, 3.0 + 0.5 * np.sin(2.0 * np.pi * 1.7 * time + 0.4))
        self.assertAlmostEqual(found.mean, 3.0, delta=1e-3)
        self.assertAlmostEqual(found.amplitude, 0.5, delta=1e-3)
        self.assertAlmostEqual(found.frequency, 1.7, delta=1e-3)

    def test_what_only_rises_has_no_frequency(self) -> None:
        time = np.linspace(0.0, 1.0, 20)
        self.assertTrue(np.isnan(swing(time, time).frequency))

    def test_of_a_run(self) -> None:
        history = [{"time": t, "step": 0.1, "energy": 0.0, "lift": float(np.sin(20.0 * t))} for t in np.linspace(0.0, 4.0, 400)]
        self.assertEqual(list(swings(history)), ["lift"])
        self.assertAlmostEqual(swings(history)["lift"].frequency, 20.0 / (2.0 * np.pi), delta=0.01)
        self.assertEqual(swings([{"energy": 1.0}]), {})


class Tables(unittest.TestCase):
    def test_a_quantity_that_comes_later_has_a_column(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "history.csv"
            write_history(path, [{"time": 0.0}, {"time": 0.5, "drag on rod": 1.25}], {"drag on rod": "N"})
            rows = list(csv.DictReader(path.open()))
        self.assertEqual(rows[0], {"time (s)": "0", "drag on rod (N)": ""})
        self.assertEqual(float(rows[1]["drag on rod (N)"]), 1.25)
