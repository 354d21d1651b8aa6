"""Vary, in the browser: two inputs in all combinations, a map, solved points, one of them taken into the case; a pasted table."""

from __future__ import annotations

from PIL import Image

from tests.web.browser import BrowserTestCase
from wattikos_web.models import Series

_PATIENCE = 120_000


class VaryDesk(BrowserTestCase):
    def vary(self, i: int, what: str, values: str) -> None:
        self.page.click("[data-test=vary-more]")
        self.choose(f"[data-test=varied-{i}]", what)
        self.page.fill(f"[data-test=values-{i}] input", values)

    def count(self) -> str:
        return self.page.inner_text("[data-test=series-count]")

    def test_two_inputs_from_entry_to_the_size_that_is_taken(self) -> None:
        self.open("vary")
        self.vary(0, "plate length", "400..600 mm : 3")
        self.vary(1, "hot inlet temperature", "60, 80 °C")
        self.until(lambda: self.count().startswith("6 points"))
        # By hand at once, as curves and as a map.
        self.page.wait_for_selector("[data-test=series-panel] [data-test=plot] path", state="attached")
        self.page.click("[data-show=map]")
        self.until(lambda: self.page.locator("[data-test=series-map] circle").count() == 6)
        self.page.click("[data-show=answers]")
        self.page.wait_for_selector("[data-test=answers] tbody tr")
        # Solved, and read in the table.
        self.page.click("[data-test=solve-series]")
        self.page.wait_for_selector("text=6 of 6 solved", timeout=_PATIENCE)
        self.page.click("[data-show=table]")
        self.until(lambda: self.page.locator("[data-test=series-table] tbody tr:has-text('solved')").count() == 6)
        row = self.page.locator("[data-test=series-table] tbody tr:has-text('600 mm')").filter(has_text="80 °C")
        cells = row.locator("td").all_inner_texts()
        hand, solved = (float(text) for text in cells[4:6])
        self.assertAlmostEqual(solved / hand, 1.0, delta=0.05)
        # Looked through as a film along the length, and handed on.
        self.page.click("[data-show=film]")
        self.until(lambda: "400 mm" in self.page.inner_text("[data-test=film-title]"))
        self.page.click("[data-test=film-slider] [role=slider]")
        self.page.keyboard.press("End")
        self.until(lambda: "600 mm" in self.page.inner_text("[data-test=film-title]"))
        with self.page.expect_download() as coming:
            self.page.click("[data-test=film-menu]")
            self.page.click(".v-overlay--active .v-list-item:has-text('GIF')")
        with Image.open(coming.value.path()) as film:
            self.assertEqual(getattr(film, "n_frames", 1), 3)
        self.page.click("[data-show=table]")
        # Two pictures side by side can be asked for; a point is taken into Given in one step, and back.
        for number in (1, 6):
            self.page.get_by_label(f"compare point {number}", exact=True).click()
        self.page.wait_for_selector("[data-test=compare-points]")
        row.click()
        self.page.click("[data-test=take-point]")
        self.until(lambda: self.page.input_value("[data-input=length] input") == "600 mm")
        self.assertEqual(self.page.input_value("[data-input=hot_inlet] input"), "80 °C")
        self.page.click("text=undo")
        self.until(lambda: self.page.input_value("[data-input=hot_inlet] input") == "72 °C")
        # Solving one of its points again is a stored run.
        self.page.click("text=redo")
        self.page.click("[data-stage=solve]")
        self.page.click("[data-test=solve]")
        self.page.wait_for_selector("[data-stage=solve] .good", timeout=_PATIENCE)
        run = self.record.runs.filter(kind="solve").latest("id")
        self.until(lambda: "stored" in (self.record.runs.get(pk=run.pk).summary or {}))

    def test_a_table_that_is_pasted_and_what_is_wrong_with_one(self) -> None:
        self.open("vary")
        self.page.click("[data-test=paste]")
        self.page.fill("[data-test=pasted] textarea >> nth=0", "lenght\n1 m\n")
        self.page.click("[data-test=take-pasted]")
        self.page.wait_for_selector("text=there is no input 'lenght'")
        self.page.fill("[data-test=pasted] textarea >> nth=0", "length (mm)\thot_inlet (°C)\n400\t60\n500\t70\n600\t80\n")
        self.page.click("[data-test=take-pasted]")
        self.until(lambda: self.count().startswith("3 points"))
        self.page.fill("[data-test=values-0] input", "400..600 mm")
        self.page.wait_for_selector("text=it is not said how many values there are")
        self.page.fill("[data-test=values-0] input", "400 mm, 500 mm")
        self.page.wait_for_selector("text=row by row needs as many values of each")

    def test_held_and_gone_on_with(self) -> None:
        self.open("vary")
        self.vary(0, "plate length", "400..600 mm : 8")
        self.until(lambda: self.count().startswith("8 points"))
        self.page.click("[data-test=solve-series]")
        self.page.get_by_role("button", name="hold", exact=True).click()
        self.page.wait_for_selector("[data-test=series-state]:has-text('held')", timeout=_PATIENCE)
        self.page.get_by_role("button", name="go on", exact=True).click()
        self.page.wait_for_selector("text=8 of 8 solved", timeout=_PATIENCE)
        self.assertEqual(Series.objects.get().points.filter(run__state="done").count(), 8)
