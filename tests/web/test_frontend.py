"""The desk's own unit tests (Vitest), run as part of the one test command."""

from __future__ import annotations

import subprocess
import unittest

from django.conf import settings


class FrontendUnits(unittest.TestCase):
    def test_vitest_passes(self) -> None:
        done = subprocess.run(
            ["npm", "run", "--silent", "test"], cwd=settings.BASE_DIR / "frontend", capture_output=True, text=True, timeout=300
        )
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
