"""Ways through the desk as a user goes them: from an empty section to an answer, out of shape and back, and as fast as can be."""

from __future__ import annotations

from pathlib import Path
from unittest import skipUnless

from tests.web.browser import CHROMIUM, BrowserTestCase
from wattikos_web.models import CaseRecord, Run


class DeskTestCase(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.open("draw")

    def saved(self) -> None:
        self.until(lambda: self.page.inner_text("[data-test=save-state]") == "saved")


@skipUnless(Path(CHROMIUM).exists(), "Chromium is not installed")
class FromNothing(DeskTestCase):
    def test_an_empty_section_becomes_a_solved_answer(self) -> None:
        """A bar heated at one end and held at the other, without a file."""
        page = self.page
        page.goto(f"{self.live_server_url}/")
        page.click("[data-starter=empty]")
        page.wait_for_selector("[data-form=draw]")
        record = CaseRecord.objects.order_by("-id").first()
        assert record is not None
        page.click("[data-test=add-input]")
        for field, text in (("name", "length"), ("value", "80")):
            page.fill(f"#input-{field}", text)
        page.click("[data-test=keep-input]")
        page.wait_for_selector("[data-input=length]")
        page.click("[data-test=add-part]")
        page.click("[data-item=rectangle]")
        page.wait_for_selector("text=Enter puts one in the middle")
        self.until(lambda: page.locator(".pad-menu").count() == 0)
        page.keyboard.press("Enter")
        page.wait_for_selector("[data-part]")
        page.fill("[data-path='section.parts[0].shape.width'] input", "length")
        page.fill("[data-path='section.parts[0].shape.height'] input", "10 mm")
        self.until(lambda: "80 mm" in page.inner_text("section[aria-label=Sketch]"))
        page.keyboard.press("Escape")
        page.keyboard.press("2")
        page.wait_for_selector("[data-boundary$=', left']")
        page.click("[data-boundary$=', left']")
        self.choose("#kind", "wall with a heat rate")
        page.fill("#condition-heat_rate", "12")
        page.click("[data-boundary$=', right']")
        self.choose("#kind", "wall at a temperature")
        page.fill("#condition-temperature", "20")
        page.keyboard.press("Enter")
        page.keyboard.press("Control+Enter")
        self.until(lambda: Run.objects.filter(case=record, state="done").exists())
        page.wait_for_selector("text=hottest metal")
        run = Run.objects.get(case=record)
        assert run.ledger is not None
        self.assertTrue(any(row["solved"] for row in run.ledger["quantities"]))


@skipUnless(Path(CHROMIUM).exists(), "Chromium is not installed")
class OutOfShape(DeskTestCase):
    def test_a_part_goes_with_what_stands_on_it_and_comes_back(self) -> None:
        page = self.page
        page.click("[data-part=hot]")
        page.click("[data-test=remove-part]")
        page.wait_for_selector("[data-test=notice] >> text=with it the condition on hot, left")
        self.until(lambda: page.locator("[data-part=hot]").count() == 0)
        page.click("[data-test=notice-undo]")
        page.wait_for_selector("[data-part=hot]")
        self.saved()
        self.record.refresh_from_db()
        self.assertIn("hot, left", str(self.record.document["conditions"]))

    def test_a_hand_calculation_that_does_not_fit_never_blocks(self) -> None:
        """Two streams of which one has no inlet any more: the row says why, Solve stays open, another one is added."""
        page = self.page
        page.click("[data-test=by-hand]")
        page.wait_for_selector("[data-hand='0'] >> text=duty")
        page.click("[data-test=add-hand]")
        page.click("[data-item=layers]")
        page.wait_for_selector("[data-hand='1'] >> text=is chosen")
        page.click("[data-hand='0'] input[type=checkbox]")
        page.wait_for_selector("[data-hand='0'] >> text=switched off")
        page.click("text=close")
        self.until(lambda: page.inner_text("[data-row=duty] .hand").strip() == "")
        page.keyboard.press("4")
        page.wait_for_selector("[data-test=solve]:not([disabled])")
        page.click("[data-test=by-hand]")
        page.click("[data-hand='1'] .name")
        page.click("[data-test=remove-hand]")
        page.click("[data-hand='0'] input[type=checkbox]")
        page.wait_for_selector("[data-hand='0'] >> text=duty")

    def test_an_input_is_renamed_and_taken_out(self) -> None:
        page = self.page
        page.hover("[data-input=length]")
        page.locator("[data-edit-input=length]").click(force=True)
        page.fill("#input-name", "long_side")
        page.click("[data-test=keep-input]")
        page.wait_for_selector("[data-input=long_side]")
        page.locator("[data-edit-input=long_side]").click(force=True)
        page.click("[data-test=remove-input]")
        self.until(lambda: page.locator("[data-input=long_side]").count() == 0)
        self.saved()
        self.record.refresh_from_db()
        self.assertEqual(self.record.document["section"]["parts"][0]["shape"]["width"], "600 mm")
        self.assertGreater(self.number("effectiveness", "hand"), 0.5)


@skipUnless(Path(CHROMIUM).exists(), "Chromium is not installed")
class Fast(DeskTestCase):
    def test_edits_saves_and_solves_as_fast_as_a_script_can_type(self) -> None:
        """Nothing conflicts with itself, and one click more does not queue a run more."""
        page = self.page
        field = page.locator("[data-input=length] input")
        for step in range(10):
            field.fill(f"{600 + step} mm")
            page.keyboard.press("Control+s")
            if step % 3 == 0:
                page.keyboard.press("Control+Enter")
        page.keyboard.press("Control+Enter")
        page.keyboard.press("Control+Enter")
        self.until(lambda: Run.objects.filter(state="done", document__inputs__length__value="609 mm").exists())
        self.saved()
        self.assertEqual(page.locator("text=saved elsewhere").count(), 0)
        self.record.refresh_from_db()
        self.assertEqual(self.record.document["inputs"]["length"]["value"], "609 mm")
        last = Run.objects.filter(document__inputs__length__value="609 mm")
        self.assertEqual(last.count(), 1)

    def test_another_tab_is_told_when_it_happens(self) -> None:
        other = self.page.context.new_page()
        other.goto(self.page.url)
        other.wait_for_selector("[data-input=length] input")
        self.page.fill("[data-input=length] input", "444 mm")
        self.saved()
        other.wait_for_selector("[data-test=newer]")
        other.click("[data-test=take-newer]")
        self.until(lambda: other.input_value("[data-input=length] input") == "444 mm")
        other.close()

    def test_undo_works_in_a_field_and_over_a_reload(self) -> None:
        page = self.page
        field = page.locator("[data-input=length] input")
        field.fill("700 mm")
        page.keyboard.press("Enter")
        self.assertEqual(page.evaluate("document.activeElement.closest('[data-input]')?.dataset.input"), "hot_height")
        page.keyboard.press("Control+z")
        self.until(lambda: field.input_value() == "600 mm")
        field.fill("710 mm")
        self.saved()
        page.reload()
        page.wait_for_selector("[data-row=duty]")
        page.click("text=undo")
        self.until(lambda: field.input_value() == "600 mm")
