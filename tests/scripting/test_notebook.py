"""The worked notebook runs, and its numbers are those of the command line."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

import nbformat
from nbclient import NotebookClient

from wattikos_core import scripting
from wattikos_core.cli import main

NOTEBOOK = Path(__file__).parents[2] / "docs" / "notebooks" / "regenerator.ipynb"


class Notebook(unittest.TestCase):
    def test_it_runs_and_gives_the_numbers_of_the_command_line(self) -> None:
        sheet = nbformat.read(NOTEBOOK, as_version=4)
        self.assertTrue(all(not cell.get("outputs") for cell in sheet.cells), "the notebook is kept without outputs")
        NotebookClient(sheet, timeout=300, kernel_name="python3", resources={"metadata": {"path": str(NOTEBOOK.parent)}}).execute()
        told = json.loads(sheet.cells[-1].outputs[0].text)
        with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stdout(io.StringIO()):
            case, ledger, sized = (Path(folder) / name for name in ("case.json", "ledger.json", "sized.json"))
            scripting.open_case("plate_passage").fineness(0.4).save(case)
            self.assertEqual(main(["solve", str(case), "--ledger", str(ledger), "--quiet"]), 0)
            rows = json.loads(ledger.read_text())["quantities"]
            solved = next(row["solved"] for row in rows if row["name"] == "effectiveness")
            self.assertAlmostEqual(told["effectiveness"] / solved, 1.0, delta=1e-12)
            wish = ["--input", "length=300..2000 mm", "--input", "hot_height=0.8..3 mm", "--minimise", "length"]
            wish += ["--want", "effectiveness >= 0.8", "--want", "hot pressure drop <= 15 Pa"]
            self.assertEqual(main(["size", str(case), *wish, "--quiet", "--case-out", str(sized)]), 0)
            self.assertEqual(json.loads(sized.read_text())["inputs"]["length"]["value"], told["length"])
