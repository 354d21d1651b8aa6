"""Has it settled? Against an exponential whose times are known."""

from __future__ import annotations

import unittest

import numpy as np

from wattikos_core.evidence.settling import first_time, settling


class Settling(unittest.TestCase):
    def test_exponential(self) -> None:
        """1 - exp(-t) is within 5 % from ln 20 on, and within 1 % from ln 100 on."""
        t = np.linspace(0.0, 20.0, 2001)
        found = settling(t.tolist(), (1.0 - np.exp(-t)).tolist())
        assert found is not None
        self.assertTrue(found.settled)
        self.assertAlmostEqual(found.at_95 or 0.0, np.log(20.0), places=3)
        self.assertAlmostEqual(found.at_99 or 0.0, np.log(100.0), places=3)

    def test_what_still_moves_has_no_times(self) -> None:
        t = np.linspace(0.0, 1.0, 50)
        found = settling(t.tolist(), t.tolist())
        assert found is not None
        self.assertFalse(found.settled)
        self.assertIsNone(found.at_95)

    def test_what_swings_on_has_not_settled(self) -> None:
        t = np.linspace(0.0, 50.0, 2000)
        found = settling(t.tolist(), (1.0 - np.exp(-t) + 0.05 * np.sin(5.0 * t)).tolist())
        assert found is not None
        self.assertFalse(found.settled)

    def test_what_never_moved_is_left_out(self) -> None:
        self.assertIsNone(settling([0.0, 1.0, 2.0], [5.0, 5.0, 5.0]))

    def test_by_values_however_few_steps_are_left(self) -> None:
        """Constant to seven digits over the last steps, of which one lies in the last tenth."""
        found = settling([0.0, 1.0, 2.0, 5.0, 60.0, 100.0], [0.0, 0.9, 0.99, 1.0, 1.0 + 1e-7, 1.0])
        assert found is not None
        self.assertTrue(found.settled)
        self.assertAlmostEqual(found.at_95 or 0.0, 1.0 + 0.05 / 0.09, places=6)
        # Half of what moved lies in a last long step: that is still moving.
        moving = settling([0.0, 1.0, 2.0, 50.0, 100.0], [0.0, 0.2, 0.4, 0.5, 1.0])
        assert moving is not None
        self.assertFalse(moving.settled)

    def test_what_begins_without_bound(self) -> None:
        """A heat rate that doubles late, after a first step that is a thousand times as large, has not settled by then."""
        t = np.linspace(0.0, 100.0, 4001)
        rate = 10.0 + 10.0 / (1.0 + np.exp(-(t - 50.0))) + 1e5 * np.exp(-t / 0.05)
        plain, singular = settling(t.tolist(), rate.tolist()), settling(t.tolist(), rate.tolist(), singular=True)
        assert plain is not None
        assert singular is not None
        self.assertLess(plain.at_95 or 0.0, 1.0)
        self.assertAlmostEqual(singular.at_95 or 0.0, 50.0 + np.log(19.0), delta=0.1)

    def test_first_time(self) -> None:
        self.assertAlmostEqual(first_time([0.0, 1.0, 2.0], [0.0, 0.4, 0.8], 0.6) or 0.0, 1.5)
        self.assertAlmostEqual(first_time([0.0, 1.0, 2.0], [1.0, 0.5, 0.0], 0.25) or 0.0, 1.5)
        self.assertIsNone(first_time([0.0, 1.0], [0.0, 0.5], 0.9))
