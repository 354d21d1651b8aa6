"""Frames are kept as codes: to the stated precision, and with what is not there."""

from __future__ import annotations

import unittest

import numpy as np

from wattikos_core.read.frames import pack_frame, unpack_frame


class Frames(unittest.TestCase):
    def test_precision(self) -> None:
        """Half a code of 65,534 of each field's own range; its ends are kept exactly."""
        random = np.random.default_rng(3)
        fields = {"temperature": random.uniform(280.0, 350.0, 5_000), "pressure": random.normal(0.0, 1e5, 5_000)}
        again = unpack_frame(pack_frame(fields))
        self.assertEqual(set(again), set(fields))
        for name, values in fields.items():
            span = float(np.ptp(values))
            self.assertLessEqual(float(np.abs(again[name] - values).max()), 0.5001 * span / 65_534)
            self.assertAlmostEqual(float(again[name].min()), float(values.min()), delta=1e-12 * span)
            self.assertAlmostEqual(float(again[name].max()), float(values.max()), delta=1e-12 * span)

    def test_fields_without_a_range_or_without_values(self) -> None:
        fields = {
            "even": np.full(7, 293.15),
            "holes": np.array([1.0, np.nan, 3.0, np.nan]),
            "nothing": np.full(3, np.nan),
            "tiny": np.array([0.0, 1e-300]),
        }
        again = unpack_frame(pack_frame(fields))
        np.testing.assert_array_equal(again["even"], fields["even"])
        np.testing.assert_array_equal(np.isnan(again["holes"]), np.isnan(fields["holes"]))
        np.testing.assert_allclose(again["holes"][[0, 2]], [1.0, 3.0], rtol=1e-12)
        self.assertTrue(np.isnan(again["nothing"]).all())
        np.testing.assert_allclose(again["tiny"], fields["tiny"], rtol=1e-9)

    def test_a_frame_is_small(self) -> None:
        """Two bytes a value before compression, instead of eight."""
        smooth = np.sin(np.linspace(0.0, 3.0, 40_000))
        self.assertLess(len(pack_frame({"smooth": smooth})), 2 * smooth.size)
