"""Points of a series from tables."""

from __future__ import annotations

import io
import unittest

import openpyxl

from wattikos_core.case import starter_case
from wattikos_core.case.series import SeriesWish
from wattikos_core.errors import CaseError
from wattikos_core.formats import read_points
from wattikos_core.studies.series import points_of

CASE = starter_case("plate_passage")
EXPECTED = [("400 mm", "60 °C"), ("600 mm", "70 °C")]


class Tables(unittest.TestCase):
    def points(self, content: str | bytes, name: str = "points.csv") -> list[tuple[str, ...]]:
        varied = read_points(name, content if isinstance(content, bytes) else content.encode(), CASE)
        return points_of(CASE, SeriesWish(varied=varied, how="paired"))

    def test_names_labels_and_units_however_they_are_parted(self) -> None:
        for text in (
            "length (mm),hot_inlet (°C)\n400,60\n600,70\n",
            "length;hot_inlet\n400 mm;60 °C\n600 mm;70 °C\n",
            "plate length [mm]\thot inlet temperature [°C]\r\n400\t60\r\n600\t70\r\n",
            "length (mm),hot_inlet\r400,60 °C\r600,70 °C",
            "\ufefflength (mm), hot_inlet\n400, 60 °C\n\n600, 70 °C",
        ):
            with self.subTest(text):
                self.assertEqual(self.points(text), EXPECTED)

    def test_a_workbook(self) -> None:
        book = openpyxl.Workbook()
        assert book.active is not None
        for row in (["length (mm)", "hot_inlet (°C)"], [400, 60.0], [600, 70]):
            book.active.append(row)
        file = io.BytesIO()
        book.save(file)
        self.assertEqual(self.points(file.getvalue(), "points.xlsx"), EXPECTED)

    def test_materials(self) -> None:
        self.assertEqual(self.points("material of plate\ncopper\naluminium\n"), [("copper",), ("aluminium",)])

    def test_what_is_wrong_is_named(self) -> None:
        for name, content, words in (
            ("a.csv", b"lenght\n1 m\n", "no input 'lenght'"),
            ("a.csv", b"length\n", "1 rows"),
            ("a.csv", b"length,width\n1 m,\n", "'width' has no value in row 2"),
            ("a.csv", b"a,b,c,d,e,f,g\n1,2,3,4,5,6,7\n", "7 columns"),
            ("a.xlsx", b"not a workbook", "no workbook"),
            ("a.csv", b"length\n" + b"x" * 200_000, "is no table"),
            ("a.png", b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR", "no input"),
        ):
            with self.subTest(words), self.assertRaisesRegex(CaseError, words):
                read_points(name, content, CASE)
