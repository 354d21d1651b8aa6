"""The desk in headless Chromium: the whole path from the demo project to the printed report, and its corners."""

from __future__ import annotations

import io
from pathlib import Path
from unittest import skipUnless

from pypdf import PdfReader

from tests.web.browser import CHROMIUM, BrowserTestCase
from wattikos_core.case import Case, starter_case
from wattikos_web.models import CaseRevision, Run


@skipUnless(Path(CHROMIUM).exists(), "Chromium is not installed")
class WholePath(BrowserTestCase):
    def test_from_the_demo_project_to_a_sized_length_and_a_printed_report(self) -> None:
        page = self.page
        # The home page shows the case with its key answers by hand.
        page.wait_for_selector("text=Plate regenerator passage")
        self.assertIn("by hand", page.inner_text("article"))
        page.click("button[data-open='Plate regenerator passage']")
        page.wait_for_selector("[data-row=duty]")

        # A dimension is changed on the drawing; the hand calculation moves while typing, nothing is solved yet.
        before = self.number("effectiveness", "hand")
        page.click("[data-dimension=length]")
        page.fill("[data-dimension-edit=length]", "700")
        self.until(lambda: self.number("effectiveness", "hand") > before + 0.01)
        page.keyboard.press("Enter")
        self.assertEqual(page.input_value("[data-input=length] input"), "700 mm")
        self.until(lambda: page.inner_text("[data-test=save-state]") == "saved")

        # Solve, with residuals on the way.
        page.keyboard.press("4")
        page.click("[data-test=solve]")
        page.wait_for_selector("[data-form=solve] svg")
        self.until(lambda: "converged" in page.inner_text("[data-stage=solve]"))
        self.assertAlmostEqual(self.number("duty", "solved") / self.number("duty", "hand"), 1.0, delta=0.03)
        self.assertIn("agrees", page.inner_text("[data-row=duty] .verdict"))
        self.assertIn("heat balance", page.inner_text("[data-test=evidence]"))

        # Temperature and speed on the drawing, value under the cursor.
        page.keyboard.press("5")
        page.wait_for_selector("[data-test=colour-scale]")
        box = page.locator("[data-test=sketch]").bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.until(lambda: "temperature" in page.inner_text("[data-test=readout]"))
        self.assertIn("in plate", page.inner_text("[data-test=readout]"))
        self.choose("[data-test=field]", "speed")
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] * 0.3)
        self.until(lambda: "speed" in page.inner_text("[data-test=readout]") and "in hot" in page.inner_text("[data-test=readout]"))

        # A change makes the solution stale and says what has changed.
        page.fill("[data-input=plate] input", "0.8 mm")
        page.wait_for_selector("[data-test=stale]")
        self.assertIn("plate", page.inner_text("[data-test=stale]"))
        page.keyboard.press("Escape")
        page.fill("[data-input=plate] input", "0.6 mm")
        self.until(lambda: page.locator("[data-test=stale]").count() == 0)

        # Size the length, take it over, and the report is one page.
        page.click("[data-stage=size]")
        page.fill("[data-test=goal-target-0] input", "0.85")
        page.click("[data-test=size]")
        page.wait_for_selector("[data-test=sizing-answer]", timeout=60_000)
        self.assertIn("effectiveness 0.85", page.inner_text("[data-test=sizing-answer]"))
        page.click("[data-test=apply-size]")
        self.until(lambda: abs(self.number("effectiveness", "solved") - 0.85) < 1e-3)
        self.assertEqual(page.locator("[data-test=stale]").count(), 0)
        self.until(lambda: page.inner_text("[data-test=save-state]") == "saved")
        page.click("[data-stage=report]")
        page.click("[data-test=open-report]")
        page.wait_for_selector("[data-test=report][data-ready]")
        page.wait_for_timeout(300)
        pdf = PdfReader(io.BytesIO(page.pdf(prefer_css_page_size=True, print_background=True)))
        self.assertEqual(len(pdf.pages), 1)
        # Kerning leaves gaps in extracted text.
        text = "".join(pdf.pages[0].extract_text().split())
        for word in ("Plate regenerator passage", "effectiveness", "Given", "Ledger", "Evidence", "Kays and London"):
            self.assertIn(word.replace(" ", ""), text)


@skipUnless(Path(CHROMIUM).exists(), "Chromium is not installed")
class Corners(BrowserTestCase):
    def test_bad_input_stays_and_says_its_remedy(self) -> None:
        self.open("draw")
        self.page.fill("[data-input=hot_inlet] input", "-12 K")
        self.page.wait_for_selector("text=did you mean -12 °C?")
        self.page.keyboard.press("Tab")
        self.assertEqual(self.page.input_value("[data-input=hot_inlet] input"), "-12 K")
        # The drawing stays; solving is refused.
        self.assertEqual(self.page.locator("[data-flag='hot, left']").count(), 1)
        self.page.click("[data-stage=solve]")
        self.assertTrue(self.page.locator("[data-test=solve]").is_disabled())
        self.until(lambda: self.page.inner_text("[data-test=save-state]") == "saved")
        self.page.reload()
        self.page.wait_for_selector("[data-input=hot_inlet] input")
        self.assertEqual(self.page.input_value("[data-input=hot_inlet] input"), "-12 K")

    def test_numbers_are_typed_key_by_key(self) -> None:
        """A unit that is added to a bare number must not get between its digits."""
        self.open("draw")
        self.page.click("[data-input=length] input", click_count=3)
        self.page.keyboard.type("725")
        self.assertEqual(self.page.input_value("[data-input=length] input"), "725")
        self.page.keyboard.press("Enter")
        self.assertEqual(self.page.input_value("[data-input=length] input"), "725 mm")

    def test_undo_and_redo(self) -> None:
        self.open("draw")
        self.page.fill("[data-input=length] input", "900 mm")
        self.page.keyboard.press("Enter")
        self.page.keyboard.press("Control+z")
        self.assertEqual(self.page.input_value("[data-input=length] input"), "600 mm")
        self.page.keyboard.press("Control+Shift+z")
        self.assertEqual(self.page.input_value("[data-input=length] input"), "900 mm")

    def test_two_tabs_editing_one_case(self) -> None:
        self.open("draw")
        second = self.page.context.new_page()
        self.open("draw", second)
        second.fill("[data-input=length] input", "800 mm")
        self.until(lambda: second.inner_text("[data-test=save-state]") == "saved")
        self.page.fill("[data-input=plate] input", "1 mm")
        self.page.wait_for_selector("[data-test=conflict]")
        self.page.click("text=Keep mine as a copy")
        self.page.wait_for_url(lambda url: f"/cases/{self.record.pk}/" not in url)
        self.page.wait_for_selector("[data-input=plate] input")
        self.until(lambda: self.page.input_value("[data-input=plate] input") == "1 mm")
        kept = {
            (r.document["inputs"]["length"]["value"], r.document["inputs"]["plate"]["value"]) for r in CaseRevision.objects.all()
        }
        self.assertTrue({("800 mm", "0.6 mm"), ("600 mm", "1 mm")} <= kept)

    def test_earlier_saves_are_taken_back(self) -> None:
        self.open("draw")
        self.page.fill("[data-input=length] input", "900 mm")
        self.until(lambda: self.page.inner_text("[data-test=save-state]") == "saved")
        self.page.click("text=earlier saves")
        self.page.click("[data-test=revisions] >> text=take back")
        self.until(lambda: self.page.input_value("[data-input=length] input") == "600 mm")
        self.page.click("header >> text=undo")
        self.until(lambda: self.page.input_value("[data-input=length] input") == "900 mm")

    def test_one_condition_on_two_boundaries_at_once(self) -> None:
        self.open("conditions")
        self.page.click("[data-flag='hot, top']")
        self.page.click("[data-boundary='cold, bottom']", modifiers=["Shift"])
        self.choose("#kind", "wall, adiabatic")
        self.until(lambda: self.page.inner_text("[data-boundary='hot, top']").endswith("adiabatic"))
        self.assertTrue(self.page.inner_text("[data-boundary='cold, bottom']").endswith("adiabatic"))

    def test_the_keyboard_reaches_everything(self) -> None:
        self.open("draw")
        for number, stage in enumerate(("draw", "conditions", "grid", "solve", "read", "vary", "size", "report"), 1):
            self.page.keyboard.press(str(number))
            self.page.wait_for_selector(f"[data-form={stage}]")
        self.page.keyboard.press("Control+k")
        self.page.wait_for_selector("[data-test=palette] input")
        self.page.wait_for_timeout(150)
        self.page.keyboard.type("solve the case")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("[data-form=solve]")
        self.until(lambda: Run.objects.filter(state="done").exists())

    def test_the_grid_is_shown_and_follows_its_one_number(self) -> None:
        self.open("grid")
        first = self.page.inner_text("[data-test=cell-count]")
        self.page.fill("[data-test=fineness] input", "1.4")
        self.page.keyboard.press("Enter")
        self.until(lambda: self.page.inner_text("[data-test=cell-count]") != first)
        self.page.wait_for_selector("[data-form=grid] >> text=growth")

    def test_a_running_solve_can_be_stopped(self) -> None:
        document = {**self.record.document, "grid": {"fineness": 3.0}}
        document["solve"] = {**document["solve"], "method": "segregated", "max_steps": 500}
        self.record.document = Case.model_validate(document).model_dump(mode="json")
        self.record.save()
        self.open("solve")
        self.page.click("[data-test=solve]")
        self.page.wait_for_selector("[data-test=stop]")
        self.until(lambda: Run.objects.filter(state="running", progress__step__gt=0).exists())
        self.page.click("[data-test=stop]")
        self.page.wait_for_selector("text=Stopped. Solve again to go on.")

    def test_a_target_is_typed_into_the_ledger(self) -> None:
        self.open("draw")
        self.page.click("[data-target='hot pressure drop']")
        self.page.fill("[data-target-edit='hot pressure drop'] input", "<= 15")
        self.page.keyboard.press("Enter")
        cell = "[data-row='hot pressure drop'] .target"
        self.until(lambda: self.page.inner_text(cell).strip() == "≤ 15.00")
        self.until(lambda: "doubt" in (self.page.get_attribute(cell, "class") or ""))
        self.page.click("header >> text=undo")
        self.until(lambda: self.page.inner_text(cell).strip() == "–")

    def test_a_hand_value_is_marked_with_what_it_leaves_out(self) -> None:
        record = self.new_case(starter_case("vane"), fineness=0.5)
        self.page.goto(f"{self.live_server_url}/cases/{record.pk}/solve")
        cell = self.page.wait_for_selector("[data-row='mean temperature of vane'] .hand:has(.left-out)")
        assert cell is not None
        self.assertIn("leaves out: the variation along 'vane,", cell.get_attribute("aria-description") or "")
        self.assertEqual(self.page.inner_text("[data-row='mean temperature of vane'] .verdict"), "leaves out 3 things")

    def test_dark_and_units(self) -> None:
        self.open("read")
        self.page.click("header >> text=dark")
        self.assertEqual(self.page.evaluate("document.documentElement.dataset.theme"), "dark")
        watts = self.number("duty", "hand")
        self.page.click("[data-row=duty] .unit button")
        self.assertAlmostEqual(self.number("duty", "hand") * 1000.0 / watts, 1.0, delta=1e-3)
