"""The examples in the docstrings of the rooms' entry points do what they say."""

from __future__ import annotations

import doctest
import importlib
import unittest

# One entry point of every room, and other functions with examples.
MODULES = (
    "quantities.expressions",
    "materials.tables",
    "case.resolve",
    "section.paint",
    "grid.gridder",
    "physics.balances",
    "solve.steady",
    "read.solved",
    "ledger.key",
    "estimate.hand",
    "evidence.ledger",
    "formats.ledger",
    "search.corrected_model",
    "studies.preparation",
    "studies.solving",
)


class Examples(unittest.TestCase):
    def test_every_room(self) -> None:
        for name in MODULES:
            with self.subTest(module=name):
                found = doctest.testmod(importlib.import_module(f"wattikos_core.{name}"))
                self.assertGreater(found.attempted, 0)
                self.assertEqual(found.failed, 0)
