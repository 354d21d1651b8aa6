"""Series solved point by point, here and on other processes, and from the command line: the same numbers everywhere."""

from __future__ import annotations

import contextlib
import csv
import io
import tempfile
import unittest
from pathlib import Path

from wattikos_core.case import Case, starter_case
from wattikos_core.case.series import Varied
from wattikos_core.cli import main
from wattikos_core.ledger import Key
from wattikos_core.studies import solve_case
from wattikos_core.studies.series import case_at
from wattikos_core.studies.series_solving import solve_points

EFFECTIVENESS = Key("effectiveness")
VARIED = [Varied(input="length"), Varied(input="hot_inlet")]
POINTS = [("400 mm", "60 °C"), ("600 mm", "80 °C"), ("400 mm", "62 °C"), ("-1 m", "60 °C")]


class Solving(unittest.TestCase):
    case: Case

    @classmethod
    def setUpClass(cls) -> None:
        case = starter_case("plate_passage")
        cls.case = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.3})})

    def test_each_as_if_it_were_alone(self) -> None:
        here = {point.number: point for point in solve_points(self.case, VARIED, POINTS)}
        there = {point.number: point for point in solve_points(self.case, VARIED, POINTS, processes=2)}
        self.assertEqual(here[2].start, 0)
        self.assertIn("length", here[3].problem)
        for number in range(3):
            alone = solve_case(case_at(self.case, VARIED, POINTS[number])).value(EFFECTIVENESS)
            for found in (here[number], there[number]):
                self.assertTrue(found.converged)
                self.assertAlmostEqual(found.values[EFFECTIVENESS] / alone, 1.0, places=6)

    def test_from_the_command_line(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "case.json"
            path.write_text(self.case.model_dump_json())
            table = Path(folder) / "points.csv"
            table.write_text("length (mm),hot_inlet (°C)\n400,60\n600,80\n")
            out = io.StringIO()
            with contextlib.redirect_stdout(out):
                self.assertEqual(main(["vary", str(path), "--input", "length=400,600mm", "--input", "hot_inlet=60..80 °C : 2"]), 0)
            rows = list(csv.reader(io.StringIO(out.getvalue())))
            self.assertEqual(
                [row[1:3] for row in rows[1:]], [["400 mm", "60 °C"], ["400 mm", "80 °C"], ["600 mm", "60 °C"], ["600 mm", "80 °C"]]
            )
            self.assertEqual(rows[0][3], "effectiveness")
            solved = Path(folder) / "solved.csv"
            arguments = ["vary", str(path), "--table", str(table), "--solve", "--processes", "1", "--quiet", "-o", str(solved)]
            self.assertEqual(main(arguments), 0)
            found = list(csv.reader(solved.open()))
            alone = solve_case(case_at(self.case, VARIED, POINTS[1])).value(EFFECTIVENESS)
            self.assertAlmostEqual(float(found[2][found[0].index("effectiveness")]) / alone, 1.0, places=6)
            with contextlib.redirect_stderr(io.StringIO()) as said:
                self.assertEqual(main(["vary", str(path), "--input", "length"]), 1)
            self.assertIn("name=values", said.getvalue())
