"""A reading session on the desk: lines with their plot, bands, streamlines, probes, views, pictures, films, and runs compared."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path
from typing import Any
from unittest import skipUnless
from xml.etree import ElementTree

import openpyxl
from PIL import Image
from pypdf import PdfReader

from tests.web.browser import CHROMIUM, BrowserTestCase
from tests.web.test_api import finished_run
from wattikos_core.case import Case, starter_case
from wattikos_web.models import CaseRecord, Frame, Run


def sink(fins: int) -> Case:
    """A sink with some fins, on a coarse grid."""
    case = starter_case("plate_sink")
    inputs = case.inputs | {"fins": case.inputs["fins"].model_copy(update={"value": str(fins)})}
    return case.model_copy(update={"title": f"Sink, {fins} fins", "inputs": inputs})


@skipUnless(CHROMIUM, "Debian's Chromium is not installed")
class Reading(BrowserTestCase):
    def read(self, record: CaseRecord, tab: str = "field") -> None:
        self.page.goto(f"{self.live_server_url}/cases/{record.pk}/read")
        self.page.wait_for_selector("[data-test=colour-scale]")
        self.page.click(f"[data-test=read-{tab}]")

    def download(self, action: Any) -> bytes:
        with self.page.expect_download(timeout=120_000) as waiting:
            action()
        return Path(waiting.value.path()).read_bytes()

    def drag(self, x0: float, y0: float, x1: float, y1: float) -> None:
        """Across the drawing, in shares of it."""
        box = self.page.locator("[data-test=line-surface]").bounding_box()
        assert box is not None
        mouse = self.page.mouse
        mouse.move(box["x"] + x0 * box["width"], box["y"] + y0 * box["height"])
        mouse.down()
        mouse.move(box["x"] + 0.5 * (x0 + x1) * box["width"], box["y"] + 0.5 * (y0 + y1) * box["height"])
        mouse.move(box["x"] + x1 * box["width"], box["y"] + y1 * box["height"])
        mouse.up()

    def stored(self) -> dict[str, Any]:
        self.until(lambda: self.page.inner_text("[data-test=save-state]") == "saved")
        self.record.refresh_from_db()
        reading: dict[str, Any] = self.record.document["reading"]
        return reading

    def test_values_on_walls_and_a_report_with_the_view(self) -> None:
        """Heat flux is drawn on the walls and kept as a view; the report has the view, a plot and the balances on further pages."""
        finished_run(self.record)
        self.read(self.record)
        page = self.page
        self.choose("[data-test=on-walls]", "heat flux into it")
        page.wait_for_selector("[data-test=walls] path.wall-values", state="attached")
        self.assertRegex(page.text_content("[data-test=walls]") or "", r"W/m²")
        page.click("[data-test=keep-view]")
        page.fill("[data-test=view-name] input", "hot walls")
        page.press("[data-test=view-name] input", "Enter")
        self.assertEqual(next(v for v in self.stored()["views"] if v["name"] == "hot walls")["walls"], "heat flux into it")
        page.click("button:has-text('effectiveness')")
        page.wait_for_selector("[data-test=quantity] [data-test=bands]")
        page.click("[data-test=close-quantity]")
        page.click("[data-stage=report]")
        for label in ("hot walls", "profile across"):
            page.locator("[data-test=print-view]", has_text=label).locator("input").click()
        page.locator("[data-test=print-balances] input").click()
        self.assertEqual(len([v for v in self.stored()["views"] if v["printed"]]), 2)
        page.click("[data-test=open-report]")
        page.wait_for_selector("[data-test=report][data-ready]", timeout=60_000)
        self.assertEqual(page.locator("[data-test=printed-view]").count(), 2)
        self.assertEqual(page.locator("[data-test=printed-view] img[alt*='along']").count(), 1)
        loaded = "images => images.every((image) => image.complete && image.naturalWidth > 300)"
        self.until(lambda: page.eval_on_selector_all("[data-test=printed-view] img", loaded))
        self.assertGreaterEqual(page.locator("[data-test=balances] section").count(), 2)
        pdf = PdfReader(io.BytesIO(page.pdf(prefer_css_page_size=True, print_background=True)))
        self.assertGreaterEqual(len(pdf.pages), 2)

    def test_solved_until_it_is_good_enough(self) -> None:
        """The solve finds its own grid; what is asked for is checked, and the answer says that it is met."""
        record = self.new_case(sink(4), fineness=0.5)
        page = self.page
        page.goto(f"{self.live_server_url}/cases/{record.pk}/solve")
        page.click("#enough")
        page.fill("#within", "200")
        page.press("#within", "Enter")
        page.wait_for_selector("text=give a number between")
        page.fill("#within", "0.5")
        page.press("#within", "Enter")
        page.click("[data-test=solve]")
        page.wait_for_selector("text=All that is wanted is within what was asked", timeout=120_000)
        run = Run.objects.get(case=record)
        self.assertTrue(run.summary["good_enough"])
        assert run.ledger is not None
        self.assertAlmostEqual(run.document["solve"]["good_enough"]["within"], 0.005)
        rows = [row for row in run.ledger["quantities"] if row["wanted"]]
        self.assertTrue(rows and all(row["grid_plus_minus"] is not None for row in rows))

    def test_lines_bands_and_a_view_that_later_visits_find(self) -> None:
        finished_run(self.record)
        self.read(self.record, "lines")
        page = self.page
        page.click("[data-test=new-line]")
        page.click(".v-list-item[data-item=straight]")
        self.drag(0.5, 0.12, 0.5, 0.88)
        page.wait_for_selector("[data-line-row=line]")
        page.wait_for_selector("[data-test=plot] svg path", state="attached")
        page.wait_for_selector("[data-test=line-statistics] td")
        drawn = next(line for line in self.stored()["lines"] if line["name"] == "line")
        self.assertEqual(drawn["along"]["type"], "straight")
        # Snapped to the middle of the length: it follows when the plate is made longer.
        self.assertEqual(drawn["along"]["x0"], "length/2")
        page.click("[data-line-row=line] .v-checkbox")
        page.click("[data-line-row='plate, hot side'] .v-checkbox")
        page.click(".v-input[data-test=plotted-field], [data-test=plotted-field]")
        page.keyboard.press("End")
        page.keyboard.press("Enter")
        page.wait_for_selector("[data-test=line-statistics] >> text=plate, hot side")
        rows = openpyxl.load_workbook(
            io.BytesIO(self.download(lambda: self.choose("[data-test=plot-hand-on]", "values (XLSX)")))
        ).worksheets[0]
        self.assertGreater(rows.max_row, 50)
        page.click("[data-test=close-plot]")
        page.wait_for_selector("[data-test=plot-panel]", state="detached")
        page.click("[data-test=read-field]")
        self.choose("[data-test=look]", "bands")
        page.fill("[data-test=band-low] input", "40 °C")
        page.keyboard.press("Enter")
        share = float(page.inner_text("[data-test=band-share]").split()[0])
        self.assertTrue(20.0 < share < 80.0, share)
        page.click("[data-test=keep-view]")
        page.fill("[data-test=view-name] input", "above forty")
        page.keyboard.press("Enter")
        view = next(view for view in self.stored()["views"] if view["name"] == "above forty")
        self.assertEqual((view["look"], round(view["band"][0], 2)), ("bands", 313.15))
        self.read(self.record)
        self.choose("[data-test=view]", "above forty")
        page.wait_for_selector("[data-test=band-share]")
        self.assertEqual(float(page.inner_text("[data-test=band-share]").split()[0]), share)

    def test_streamlines_and_probes(self) -> None:
        finished_run(self.record)
        self.read(self.record, "flow")
        page = self.page
        with page.expect_response(re.compile("/streamlines$")) as answer:
            self.choose("[data-test=streamlines]", "evenly spaced")
        self.assertGreater(len(answer.value.json()["closed"]), 3)
        with page.expect_response(re.compile("/streamlines$")) as answer:
            self.choose("[data-test=streamlines]", "from a boundary or line")
        self.assertTrue(answer.value.ok)
        page.click("[data-test=particles] input")
        page.click("[data-test=read-probes]")
        page.wait_for_selector("[data-probe-row='middle of the plate'] b")
        page.click("[data-test=new-probe]")
        page.click(".v-list-item[data-item=box]")
        self.drag(0.3, 0.3, 0.6, 0.7)
        page.wait_for_selector("[data-probe-row=box] b")
        self.assertEqual(len(self.stored()["probes"]), 2)
        page.click("[data-probe-row=box] button")
        page.wait_for_selector("[data-probe-row=box]", state="detached")

    def test_pictures_and_films(self) -> None:
        run = finished_run(self.record)
        data = bytes(run.frames.get().data)
        run.frames.all().delete()
        for number, time in enumerate((0.0, 1.0, 2.0)):
            Frame.objects.create(run=run, number=number, time=time, data=data)
        Run.objects.filter(pk=run.pk).update(summary=run.summary | {"time": 2.0})
        self.read(self.record, "files")
        page = self.page
        picture = Image.open(io.BytesIO(self.download(lambda: page.click("[data-test=picture-png]"))))
        self.assertGreater(picture.width, 1000)
        self.assertGreater(len(set(picture.convert("RGB").resize((200, 100)).getdata())), 300)
        svg = ElementTree.fromstring(self.download(lambda: page.click("[data-test=picture-svg]")))
        words = " ".join(text for text in svg.itertext() if text.strip())
        for word in (self.record.title, "temperature, °C", "600 mm", "2.000 s"):
            self.assertIn(word, words)
        self.choose("[data-test=film-kind]", "GIF")
        film = Image.open(io.BytesIO(self.download(lambda: page.click("[data-test=film]"))))
        self.assertEqual((film.format, getattr(film, "n_frames", 0)), ("GIF", 3))
        self.choose("[data-test=film-kind]", "pictures (PNG)")
        with zipfile.ZipFile(io.BytesIO(self.download(lambda: page.click("[data-test=film]")))) as packed:
            self.assertEqual(packed.namelist(), [f"picture-{k:04}.png" for k in range(3)])
        self.choose("[data-test=film-kind]", "video (WebM)")
        video = self.download(lambda: page.click("[data-test=film]"))
        # The first bytes of every Matroska and WebM file.
        self.assertEqual(video[:4], bytes.fromhex("1a45dfa3"))
        page.click("[data-test=picture-copy]")
        page.wait_for_selector("text=The picture is in the clipboard.")
        kept = "navigator.clipboard.read().then(items => items[0].types)"
        self.assertIn("image/png", page.evaluate(kept))

    def test_three_sinks_side_by_side(self) -> None:
        records = [self.new_case(sink(fins), fineness=0.5) for fins in (5, 8, 12)]
        for record in records:
            finished_run(record)
        page = self.page
        page.goto(self.live_server_url)
        for record in records:
            page.click(f"[data-compare='{record.title}'] input")
        page.click("[data-test=compare]")
        page.wait_for_selector("[data-test=given-differently] >> text=number of fins")
        self.assertEqual(page.locator("[data-tile]").count(), 3)
        ledger = page.inner_text("[data-test=compared-ledgers]")
        self.assertIn("hottest metal", ledger)
        self.assertRegex(ledger, r"-\d+(\.\d+)? K")
        page.wait_for_selector("[data-test=plot] svg path", state="attached")
        with page.expect_response(re.compile("/difference/")) as answer:
            page.click("[data-test=differences] input")
        self.assertLess(answer.value.json()["low"], -5.0)
        page.wait_for_selector("[data-test=colour-scale] >> text=difference")
