"""A journey by keyboard alone, from sign-in to a solved, sized and printed case; and drawing, lists and panes without a mouse."""

from __future__ import annotations

from tests.web.browser import BrowserTestCase
from wattikos_core.case import starter_case
from wattikos_web.models import CaseRecord, Run

_MOST_TABS = 150


class ByKeyboard(BrowserTestCase):
    def tab_to(self, selector: str, key: str = "Tab") -> None:
        """Go on with the tab key until what is in focus is, or stands in, what is looked for."""
        for _ in range(_MOST_TABS):
            self.page.keyboard.press(key)
            if self.page.evaluate("s => document.activeElement?.closest(s) !== null", selector):
                return
        self.fail(f"{selector} is not reached by {key}")

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def test_from_sign_in_to_a_printed_case(self) -> None:
        page = self.page
        self.user.set_password("a pass phrase")
        self.user.save()
        page.context.clear_cookies()
        page.goto(f"{self.live_server_url}/sign-in")
        self.tab_to("#name")
        page.keyboard.type("anna")
        self.tab_to("#password")
        page.keyboard.type("a pass phrase")
        self.press("Enter")
        # A starter by a word of it, from the list by arrow keys.
        page.wait_for_selector("[data-starter=plate_passage]")
        self.tab_to("[data-test=find-starter]")
        page.keyboard.type("plate passage")
        self.until(lambda: page.locator("[data-starter]").count() == 2)
        self.tab_to("[data-starter=plate_passage]")
        self.press("Enter")
        page.wait_for_selector("[data-row=duty]")
        record = CaseRecord.objects.exclude(pk=self.record.pk).get()
        # A dimension is typed, and the hand calculation follows.
        before = self.number("effectiveness", "hand")
        self.tab_to("[data-input=length]")
        self.press("Control+a")
        page.keyboard.type("650 mm")
        self.until(lambda: self.number("effectiveness", "hand") > before)
        self.press("Enter", "Control+Enter")
        self.until(lambda: Run.objects.filter(case=record, kind="solve", state="done").exists())
        page.wait_for_selector("[data-row=duty] .solved:not(:empty)")
        self.press("Escape", "7")
        page.wait_for_selector("[data-form=size]")
        self.tab_to("[data-test=size]")
        self.press("Enter")
        page.wait_for_selector("[data-test=sizing-answer]", timeout=90_000)
        self.tab_to("[data-test=apply-size]")
        self.press("Enter")
        self.until(lambda: page.locator("[data-test=apply-size]").count() == 0)
        self.press("8")
        page.wait_for_selector("[data-form=report]")
        self.tab_to("[data-test=open-report]")
        self.press("Enter")
        page.wait_for_selector("[data-ready]")
        page.evaluate("window.print = () => (window.printed = true)")
        self.tab_to("[data-test=print]")
        self.press("Enter")
        self.assertTrue(page.evaluate("window.printed"))

    def test_copies_are_opened_and_a_flag_is_chosen(self) -> None:
        page = self.page
        self.record = self.new_case(starter_case("bundle_staggered"), fineness=0.4)
        page.goto(f"{self.live_server_url}/cases/{self.record.pk}/conditions")
        page.wait_for_selector("[data-boundary='tube, inside']")
        self.tab_to("[data-boundary]")
        for _ in range(4):
            self.press("ArrowDown")
        self.assertEqual(page.evaluate("document.activeElement.dataset.boundary"), "tube, inside")
        self.press("ArrowRight")
        page.wait_for_selector("[data-boundary='tube 3, inside']")
        self.press("ArrowDown", "Enter")
        self.until(lambda: page.get_attribute("[data-boundary='tube 1, inside']", "aria-selected") == "true")
        self.tab_to("[data-flag='whey, left']", "Shift+Tab")
        self.press("Enter")
        self.until(lambda: page.get_attribute("[data-boundary='whey, left']", "aria-selected") == "true")

    def test_parts_are_added_and_moved(self) -> None:
        page = self.page
        self.open("draw")
        for shape in ("rectangle", "polygon"):
            before = page.locator("[data-part]").count()
            self.tab_to("[data-test=add-part]")
            self.press("Enter")
            page.locator(".pad-menu").get_by_role("menuitem", name=f"draw a {shape}").wait_for()
            for _ in range(8):
                self.press("ArrowDown")
                if page.evaluate("document.activeElement.dataset.item") == shape:
                    break
            self.press("Enter")
            page.wait_for_selector("[data-test=drawing-surface]")
            self.press("Enter")
            self.until(lambda count=before: page.locator("[data-part]").count() == count + 1)
            # Its first size waits to be typed.
            self.until(lambda: page.evaluate("document.activeElement.tagName") == "INPUT")
        self.until(lambda: page.inner_text("[data-test=save-state]") == "saved")
        self.record.refresh_from_db()
        shapes = [part["shape"]["type"] for part in self.record.document["section"]["parts"]]
        self.assertEqual(shapes[-2:], ["rectangle", "polygon"])

    def test_panes_are_moved_and_folded(self) -> None:
        page = self.page
        self.open("draw")
        width = "document.querySelector('[data-test=given]').getBoundingClientRect().width"
        before = page.evaluate(width)
        self.tab_to("[data-panel-resize-handle-id=desk-edge-given], #desk-edge-given")
        self.press("ArrowRight", "ArrowRight")
        self.until(lambda: page.evaluate(width) > before)
        wider = page.evaluate(width)
        self.tab_to("[data-test=fold-ledger]")
        self.press("Enter")
        page.wait_for_selector("[data-test=unfold-ledger]")
        # Kept a moment after: with the size that the Ledger is to have again.
        kept = "Object.entries(localStorage).find(([key]) => key.includes('desk.columns'))?.[1] ?? ''"
        self.until(lambda: '"desk-ledger":' in page.evaluate(kept))
        # It is remembered.
        page.reload()
        page.wait_for_selector("[data-test=unfold-ledger]")
        self.assertAlmostEqual(page.evaluate(width), wider, delta=3.0)
        self.tab_to("[data-test=unfold-ledger]")
        self.press("Enter")
        page.wait_for_selector("[data-row=duty]")

    def test_what_stands_behind_a_number(self) -> None:
        """Definition, source, range and scatter of a row, without a mouse; closing it leads back to the row."""
        page = self.page
        self.open("draw")
        self.tab_to("[data-explain=duty]")
        self.press("Enter")
        page.wait_for_selector("[data-test=quantity]")
        told = page.inner_text("[data-test=quantity]")
        for words in ("heat passing from the hot stream to the cold one", "Kays and London", "Usual scatter", "Holds for"):
            self.assertIn(words, told)
        # Once it has come up, what closes it has the focus.
        self.until(lambda: page.evaluate("!!document.activeElement?.closest('.v-overlay__content')"))
        self.press("Enter")
        self.until(lambda: page.locator("[data-test=quantity]").count() == 0)
        self.until(lambda: page.evaluate("document.activeElement?.dataset.explain === 'duty'"))

    def test_a_small_window_keeps_the_whole_form(self) -> None:
        page = self.page
        page.set_viewport_size({"width": 900, "height": 700})
        self.open("conditions")
        page.click("[data-boundary='hot, left']")
        page.wait_for_selector("#condition-present")
        bottom = page.evaluate("document.querySelector('#condition-present').getBoundingClientRect().bottom")
        self.assertLessEqual(bottom, 700)
        # Further down the drawing stays in view.
        page.locator("[data-row=duty]").scroll_into_view_if_needed()
        self.assertGreaterEqual(page.evaluate("document.querySelector('[data-test=sketch]').getBoundingClientRect().top"), 0)
