"""Home: starters found by a word, an empty section, what to do first, help, and nothing deleted without being asked."""

from __future__ import annotations

from tests.web.browser import BrowserTestCase
from wattikos_web.models import CaseRecord, CaseRevision, Run


class Home(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.page.wait_for_selector("[data-starter=plate_passage] svg path")

    def begun(self) -> CaseRecord:
        return CaseRecord.objects.exclude(pk=self.record.pk).get()

    def test_starters_are_found_by_any_word(self) -> None:
        page = self.page
        page.fill("[data-test=find-starter] input", "melting box")
        self.until(lambda: page.locator("[data-starter]").count() == 1)
        self.assertIn("Melting enclosure", page.inner_text("[data-starter]"))
        page.fill("[data-test=find-starter] input", "zeppelin")
        page.wait_for_selector("text=No starter has all these words")
        page.fill("[data-test=find-starter] input", "fins")
        self.until(lambda: page.locator("[data-starter]").count() >= 4)
        self.assertEqual(page.locator("section[aria-label='Fins and sinks'] [data-starter=pin_sink]").count(), 1)

    def test_an_empty_section_is_drawn_on(self) -> None:
        page = self.page
        page.click("[data-starter=empty]")
        page.wait_for_selector("text=there is no part yet")
        self.choose("[data-test=add-part]", "draw a rectangle")
        surface = page.locator("[data-test=drawing-surface]").bounding_box()
        assert surface is not None
        x, y = surface["x"] + surface["width"] / 2, surface["y"] + surface["height"] / 2
        page.mouse.move(x - 120, y + 50)
        page.mouse.down()
        page.mouse.move(x + 120, y - 50, steps=4)
        page.mouse.up()
        page.wait_for_selector("[data-part='part 1'], [data-part=part]")
        self.until(lambda: page.inner_text("[data-test=save-state]") == "saved")
        parts = self.begun().document["section"]["parts"]
        self.assertEqual([part["shape"]["type"] for part in parts], ["rectangle"])

    def test_a_first_case_is_shown_step_by_step(self) -> None:
        page = self.page
        page.click("[data-test=first-case]")
        page.wait_for_selector("[data-row=duty]")
        self.assertIn("1 of 5", page.inner_text("[data-test=tour]"))
        page.fill("[data-input=length] input", "650 mm")
        self.until(lambda: "2 of 5" in page.inner_text("[data-test=tour]"))
        page.click("[data-stage=solve]")
        page.click("[data-test=solve]")
        self.until(lambda: Run.objects.filter(state="done").exists())
        self.until(lambda: "3 of 5" in page.inner_text("[data-test=tour]"))
        page.click("[data-stage=read]")
        self.until(lambda: "4 of 5" in page.inner_text("[data-test=tour]"))
        page.click("[data-test=tour] >> text=skip this")
        self.until(lambda: "5 of 5" in page.inner_text("[data-test=tour]"))
        page.click("[data-test=tour] >> text=done")
        self.until(lambda: page.locator("[data-test=tour]").count() == 0)

    def test_what_to_do_first_is_dismissed_for_good(self) -> None:
        self.page.click("[data-test=first-steps] >> text=not again")
        self.until(lambda: self.page.locator("[data-test=first-steps]").count() == 0)
        self.page.reload()
        self.page.wait_for_selector("[data-starter=plate_passage]")
        self.assertEqual(self.page.locator("[data-test=first-steps]").count(), 0)

    def test_a_case_is_deleted_when_that_is_confirmed(self) -> None:
        page = self.page
        page.click("[aria-label='delete Plate regenerator passage'], article >> text=delete")
        page.wait_for_selector("[data-test=confirm]")
        page.click("[data-test=confirm] >> text=Keep it")
        self.until(lambda: page.locator("[data-test=confirm]").count() == 0)
        self.assertEqual(CaseRecord.objects.count(), 1)
        page.click("article >> text=delete")
        page.click("[data-test=confirm-yes]")
        page.wait_for_selector("text=is deleted")
        self.until(lambda: not CaseRecord.objects.filter(deleted=None).exists())
        page.wait_for_selector("text=No case in this project yet")
        # And taken back, from the notice or from the list below the cards.
        page.click("[data-test=notice-undo]")
        page.wait_for_selector("article")
        self.assertTrue(CaseRecord.objects.filter(deleted=None).exists())
        page.click("article >> text=delete")
        page.click("[data-test=confirm-yes]")
        page.click("[data-bring-back='Plate regenerator passage']")
        page.wait_for_selector("article")

    def test_one_bad_case_is_one_bad_card(self) -> None:
        CaseRecord.objects.create(project=self.record.project, title="from the future", document={"version": 99})
        self.page.reload()
        self.page.wait_for_selector("[data-test=unreadable]")
        self.page.wait_for_selector("[data-open='Plate regenerator passage'] b")
        self.assertIn("99 is not a version", self.page.inner_text("[data-test=unreadable]"))
        self.page.click("[data-open='from the future']")
        self.page.wait_for_selector("[role=alert] >> text=is not a version")
        # An earlier save takes its place.
        bad = CaseRecord.objects.get(title="from the future")
        CaseRevision.objects.create(case=bad, number=0, document=self.record.document)
        self.page.click("[data-test=take-earlier]")
        self.page.click("[data-test=revisions] >> text=take back")
        self.page.wait_for_selector("[data-row=duty]")

    def test_a_password_is_set_in_the_page(self) -> None:
        page = self.page
        page.click("[data-test=account]")
        page.click("[data-item=password]")
        page.fill("#fresh", "short")
        page.click("[data-test=set-password]")
        page.wait_for_selector("text=this password is too short")
        page.fill("#fresh", "whey and curds, quark and cream")
        page.click("[data-test=set-password]")
        page.wait_for_selector("text=the password is set")
        page.click("[data-test=account]")
        page.click("[data-item=sessions]")
        page.wait_for_selector("[data-session=own]")

    def test_help_has_keys_words_and_units(self) -> None:
        self.page.click("text=help")
        self.page.wait_for_selector("h1 >> text=Help")
        text = self.page.inner_text("main")
        for words in ("Ctrl Enter", "an expression in inputs", "what comes out: wanted", "heat transfer coefficient", "W/(m²·K)"):
            self.assertIn(words, text)
