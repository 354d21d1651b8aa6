"""Reports: every section says what the case does, in HTML and DOCX that other programs read; what is not there is left out."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
import unittest
from dataclasses import replace
from functools import cache
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

import docx
import numpy as np
from PIL import Image

from wattikos_core import scripting
from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.case.reading import View
from wattikos_core.case.reporting import STANDARD, ReportSection, ReportWish
from wattikos_core.cli import main
from wattikos_core.ledger import Key
from wattikos_core.read import Instant
from wattikos_core.report import (
    SECTION_TITLES,
    Document,
    Paragraph,
    Picture,
    ReportData,
    SeriesData,
    SolvedData,
    TableBlock,
    comparison_of,
    docx_of,
    html_of,
    report_of,
    solved_data,
    together,
)
from wattikos_core.report.colours import colours
from wattikos_core.report.pictures import Curve, curve_picture, field_picture
from wattikos_core.section import paint
from wattikos_core.section.sketch import sketch_of
from wattikos_core.studies import GridStudy, StudiedGrid, solve_case
from wattikos_core.studies.grid_study import StudiedQuantity
from wattikos_web.worker.tasks import _packed_study


def passage(**changes: Any) -> Case:
    case = starter_case("plate_passage")
    return case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.3}), **changes})


@cache
def solved() -> SolvedData:
    return solved_data(solve_case(passage()))


def pixels(png: bytes) -> np.ndarray:
    with Image.open(io.BytesIO(png)) as image:
        return np.asarray(image.convert("RGB"), dtype=float)


class Words(HTMLParser):
    """The text of a page, and how many pictures it has."""

    def __init__(self) -> None:
        super().__init__()
        self.words: list[str] = []
        self.pictures = 0
        self.links: list[str] = []

    def handle_data(self, data: str) -> None:
        self.words.append(data)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.pictures += tag == "img"
        if tag in ("a", "img", "script", "link"):
            self.links += [value or "" for name, value in attrs if name in ("href", "src")]


def read(page: str) -> Words:
    words = Words()
    words.feed(page)
    return words


SERIES = SeriesData(
    "length",
    [{"label": "plate length", "kind": "length", "unit": "mm", "name": "length"}],
    [{"key": {}, "name": "effectiveness", "kind": "ratio"}],
    [
        {"number": 0, "values": ["400 mm"], "place": [0.4], "hand": [0.68], "solved": [0.67]},
        {"number": 1, "values": ["600 mm"], "place": [0.6], "hand": [0.77], "solved": [None]},
    ],
)
SIZING = {
    "text": "length = 760 mm: length is least there",
    "margins": [{"text": "effectiveness 0.8, kept by 0.0002"}],
    "suggestions": [],
    "chosen": [{"varied": [{"input": "length", "material_of": ""}]}],
    "quantities": [{"name": "effectiveness", "kind": "ratio"}],
    "trials": [{"values": ["760 mm"], "hand": [0.79], "solved": [0.8]}],
}


class Whole(unittest.TestCase):
    def test_every_section_says_what_there_is(self) -> None:
        data = ReportData(passage(), solved(), (SERIES,), SIZING, company="Ferrow Dairy", date="2026-11-28")
        document = report_of(data)
        self.assertEqual(document.contents, [SECTION_TITLES[name] for name in STANDARD])
        page = read(html_of(document))
        text = " ".join(page.words)
        duty = next(row["solved"] for row in solved().ledger["quantities"] if row["name"] == "duty")
        for words in (
            "Plate regenerator passage",
            "Ferrow Dairy · Wattikos · 2026-11-28",
            "600 mm",
            "Stainless steel 304",
            "4.6 g/s · 72 °C",
            f"{duty:.4g} W",
            "Wagner and Pruss",
            "Shah and London",
            "converged",
            "length = 760 mm",
            "0.67",
            "0.77 (by hand)",
            "Celik et al.",
        ):
            self.assertIn(words, text)
        self.assertEqual(page.pictures, 3)
        # It needs nothing else.
        self.assertTrue(all(link.startswith(("#", "data:")) for link in page.links), page.links)

    def test_docx_is_read_by_another_program(self) -> None:
        wish = ReportWish(paper="letter")
        logo = io.BytesIO()
        Image.new("RGB", (40, 20), "navy").save(logo, "PNG")
        data = ReportData(passage(report=wish), solved(), (SERIES,), SIZING, company="Ferrow Dairy", logo=logo.getvalue())
        word = docx.Document(io.BytesIO(docx_of(report_of(data))))
        headings = [p.text for p in word.paragraphs if p.style is not None and p.style.name == "Heading 1"]
        self.assertEqual(headings, [SECTION_TITLES[name] for name in STANDARD])
        cells = {cell.text for table in word.tables for row in table.rows for cell in row.cells}
        self.assertIn("effectiveness", cells)
        self.assertIn("600 mm", cells)
        self.assertEqual(len(word.inline_shapes), 4)
        width = word.sections[0].page_width
        assert width is not None
        self.assertAlmostEqual(width.mm, 215.9, delta=0.1)

    def test_chosen_ordered_and_with_words_of_one_s_own(self) -> None:
        sections = [
            ReportSection(name="text", title="Why", text="Because <it> pays & lasts."),
            ReportSection(name="ledger", text="As measured in May."),
            ReportSection(name="answer"),
            ReportSection(name="series"),
        ]
        document = report_of(ReportData(passage(report=ReportWish(sections=sections)), solved()))
        # There is no series: nothing is said of it.
        self.assertEqual(document.contents, ["Why", "Ledger", "Task and answer"])
        page = html_of(document)
        self.assertIn("Because &lt;it&gt; pays &amp; lasts.", page)
        self.assertIn("As measured in May.", " ".join(read(page).words))

    def test_a_grid_study(self) -> None:
        """As the worker packs one."""
        study = GridStudy(
            tuple(StudiedGrid(f, None, cells, 1.0, True, {}) for f, cells in ((0.5, 1000), (0.7, 2000), (1.0, 4000))),
            (
                StudiedQuantity(Key("effectiveness"), (0.78, 0.775, 0.772), 0.77, (0.02, 0.01, 0.004), 1.9, 1),
                StudiedQuantity(Key("outlet_temperature", "hot"), (300.0, 299.0, 298.5), 298.0, (2.0, 1.0, 0.5), None, None),
            ),
            stopped=False,
        )
        packed = _packed_study(study)["summary"]["grid_study"]
        tables = [b for b in report_of(ReportData(passage(), solved(), study=packed)).blocks if isinstance(b, TableBlock)]
        rows = next(table.rows for table in tables if table.columns[-1] == "good enough at")
        self.assertEqual(rows[0], ("effectiveness", "0.78", "0.775", "0.772", "0.77", "0.004", "1.90", "2,000 cells"))
        # A ± of temperatures is a difference.
        self.assertEqual(rows[1][4:], ("24.85 °C", "0.5", "", ""))

    def test_what_a_view_plots_along_lines(self) -> None:
        reading = starter_case("plate_passage").reading
        line = next(one for one in reading.lines if one.along.type in ("straight", "stations"))
        views = [View(name="lines", field="temperature", lines=[line.name, "none"], printed=True)]
        case = passage(reading=reading.model_copy(update={"views": views}))
        document = report_of(ReportData(case, solved()))
        captions = [block.caption for block in document.blocks if isinstance(block, Picture)]
        self.assertIn(f"lines: temperature along {line.name}, none", captions)

    def test_intermittency_is_among_the_assumptions_where_it_is_followed(self) -> None:
        for flow, transition in (("automatic", "followed"), ("automatic", "by_number"), ("laminar", "followed")):
            case = passage()
            case = case.model_copy(update={"physics": case.physics.model_copy(update={"flow": flow, "transition": transition})})
            text = " ".join(read(html_of(report_of(ReportData(case)))).words)
            self.assertEqual("turn turbulent on their way" in text, (flow, transition) == ("automatic", "followed"))
        bar = " ".join(read(html_of(report_of(ReportData(starter_case("fast_bar"))))).words)
        self.assertIn("turn turbulent on their way", bar)

    def test_radiation_is_linear_in_modules(self) -> None:
        for starter, repeats in (("ribbed_duct", True), ("oven_wall", False)):
            document = starter_case(starter).model_dump(mode="json")
            part = next(part for part in document["section"]["parts"] if part["material"] in ("air", "air_dry"))
            part["radiation"] = {"emissivity": "0.9"}
            text = " ".join(read(html_of(report_of(ReportData(read_case(document))))).words)
            self.assertIn("grey and diffuse", text)
            self.assertEqual("is linear about their mean" in text, repeats)

    def test_without_a_solution_and_after_a_change(self) -> None:
        text = " ".join(read(html_of(report_of(ReportData(passage())))).words)
        self.assertIn("Nothing is solved yet", text)
        self.assertNotIn("converged", text)
        stale = SolvedData(solved().ledger, solved().summary, solved().instant, "", ("length",))
        page = read(html_of(report_of(ReportData(passage(), stale))))
        text = " ".join(page.words)
        self.assertIn("has changed since it was solved (length)", text)
        self.assertEqual(page.pictures, 1)
        broken = passage().model_copy(deep=True)
        broken.inputs["length"].value = "nonsense"
        self.assertIn("nonsense", " ".join(read(html_of(report_of(ReportData(broken)))).words))

    def test_answers_to_findings_stand_beside_them(self) -> None:
        findings = [{"severity": "check", "place": "hot", "text": "the flow is fast", "remedy": "look"}]
        told = SolvedData({**solved().ledger, "findings": findings}, {})
        case = passage(answers={"hot the flow is fast": "meant so"})
        text = " ".join(read(html_of(report_of(ReportData(case, told)))).words)
        self.assertIn("meant so", text)

    def test_several_cases_in_one(self) -> None:
        other = passage(title="Longer passage").model_copy(deep=True)
        other.inputs["length"].value = "900 mm"
        data = [ReportData(passage(), solved()), ReportData(other)]
        whole = together("Both", [report_of(one) for one in data])
        self.assertEqual(whole.contents, ["Plate regenerator passage", "Longer passage"])
        document = Document("Both", (*comparison_of(data), *whole.blocks))
        text = " ".join(read(html_of(document)).words)
        self.assertIn("Given differently", text)
        self.assertIn("900 mm", text)
        tables = [block for block in document.blocks if isinstance(block, TableBlock)]
        self.assertEqual(tables[0].columns, ("quantity", "Plate regenerator passage", "Longer passage"))
        self.assertIn("(by hand)", tables[0].rows[0][2])
        self.assertFalse([block for block in comparison_of(data) if isinstance(block, Picture)])

    def test_fields_of_solved_cases_stand_beside_each_other_and_are_subtracted(self) -> None:
        twin = passage(title="Twin")
        blocks = comparison_of([ReportData(passage(), solved()), ReportData(twin, solved()), ReportData(passage())])
        first, apart = (block for block in blocks if isinstance(block, Picture))
        self.assertIn("temperature in one range", first.caption)
        self.assertIn("temperature less that of Plate regenerator passage", apart.caption)
        # Both halves of the first picture are of one solution, and its difference from itself has the colour of nothing.
        drawn = pixels(apart.png)
        for end in (0, 255):
            above_the_scale = drawn[: int(0.6 * len(drawn))]
            self.assertGreater(np.abs(above_the_scale - 255.0 * colours("heather")[end]).max(axis=2).min(), 20.0)
        self.assertLess(np.abs(drawn - 255.0 * colours("heather")[128]).max(axis=2).min(), 6.0)

    def test_a_difference_is_what_the_other_has_more(self) -> None:
        instant = solved().instant
        assert instant is not None
        warmer = Instant(instant.between, {**instant.fields, "temperature": instant.fields["temperature"] + 5.0})
        data = [ReportData(passage(), solved()), ReportData(passage(title="Warmer"), replace(solved(), instant=warmer))]
        _, apart = (block for block in comparison_of(data) if isinstance(block, Picture))
        drawn = pixels(apart.png)[: int(0.6 * len(pixels(apart.png)))]
        self.assertLess(np.abs(drawn - 255.0 * colours("heather")[255]).max(axis=2).min(), 6.0)


class Pictures(unittest.TestCase):
    def test_a_field_has_the_colours_of_its_values(self) -> None:
        """The hottest and coldest cells are drawn in the last and first colours of the map."""
        from wattikos_core.case import resolve

        resolved = resolve(passage())
        sketch = sketch_of(resolved, paint(resolved))
        instant = solved().instant
        assert instant is not None
        drawn = pixels(field_picture(instant, sketch, View(name="t", arrows=False)))
        for end in (0, 255):
            away = np.abs(drawn - 255.0 * colours("ember")[end]).max(axis=2)
            self.assertLess(away.min(), 6.0)
        # What lies outside the band of interest is grey.
        band = pixels(field_picture(instant, sketch, View(name="t", arrows=False, band=[300.0, 310.0])))
        saturation = lambda rgb: (rgb.max(axis=2) - rgb.min(axis=2) > 40.0).mean()  # noqa: E731
        self.assertLess(saturation(band), 0.6 * saturation(drawn))
        for view in (
            View(name="s", field="speed", look="bands", levels=5),
            View(name="z", zoom=[0.0, 0.0, 0.1, 0.003], streamlines="even", spacing=0.05),
            View(name="f", shown="solids", low=290.0, high=330.0, colours="slate"),
        ):
            self.assertGreater(pixels(field_picture(instant, sketch, view)).std(), 5.0)

    def test_maps_grow_lighter_evenly(self) -> None:
        for name in ("ember", "brook", "slate"):
            light = colours(name) @ np.array([0.2126, 0.7152, 0.0722])
            self.assertTrue((np.diff(light) > 0.0).all(), name)

    def test_curves(self) -> None:
        first = Curve("a", [0.0, 1.0], [1.0, 2.0], marks=True, spread=[0.1, 0.2])
        png = curve_picture([first, Curve("b", [0.0, 1.0], [2.0, 1.0])], "x", "y")
        self.assertTrue(png.startswith(b"\x89PNG"))


class FromTheCommandLine(unittest.TestCase):
    def test_html_docx_and_what_cannot_be_written(self) -> None:
        with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stderr(io.StringIO()) as said:
            path = Path(folder) / "case.json"
            path.write_text(passage().model_dump_json())
            out = Path(folder) / "report.html"
            self.assertEqual(main(["report", str(path), "-o", str(out), "--quiet", "--company", "Ferrow Dairy"]), 0)
            self.assertIn("Ferrow Dairy", out.read_text())
            self.assertEqual(main(["report", str(path), "-o", str(out.with_suffix(".docx")), "--by-hand"]), 0)
            docx.Document(str(out.with_suffix(".docx")))
            self.assertEqual(main(["report", str(path), "-o", str(out.with_suffix(".txt"))]), 1)
            self.assertIn("name a .html, .docx or .pdf file", said.getvalue())
            self.assertEqual(main(["report", str(path), "-o", str(out), "--logo", "nowhere.png"]), 1)
            scripting.open_case(path).solve().write_report(Path(folder) / "own.html")
            self.assertIn("effectiveness", (Path(folder) / "own.html").read_text())


class Documents(unittest.TestCase):
    def test_titles_with_quotes_do_not_break_the_page(self) -> None:
        page = html_of(Document('A "b" \\ </style><script>', (Paragraph("x"), Picture(b"\x89PNG", "y"))))
        self.assertNotIn("<script>", page)
        self.assertEqual(page.count("</style>"), 1)

    def test_the_wish_is_kept_in_the_document(self) -> None:
        wish = {"sections": [{"name": "ledger", "text": "x"}], "paper": "letter"}
        case = read_case({**json.loads(passage().model_dump_json()), "report": wish})
        self.assertEqual(case.report.chosen[0].name, "ledger")
        self.assertEqual(len(passage().report.chosen), len(STANDARD))
