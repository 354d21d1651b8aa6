"""Reports over the API and in the browser: of the newest solution, with views, series and sizing; printed with page numbers."""

from __future__ import annotations

import io
import json
from typing import Any

import docx
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image
from pypdf import PdfReader

from tests.web.browser import BrowserTestCase
from tests.web.test_api import ApiCase, finished_run

_PATIENCE = 120_000


def logo(kind: str = "PNG") -> bytes:
    target = io.BytesIO()
    Image.new("RGB", (60, 20), "navy").save(target, kind)
    return target.getvalue()


class Api(ApiCase):
    def sent(self, content: bytes) -> Any:
        return self.client.post("/api/letterhead/logo", {"file": SimpleUploadedFile("logo", content)})

    def test_of_a_solved_case_and_of_several(self) -> None:
        finished_run(self.case)
        self.client.put("/api/letterhead", json.dumps({"company": "Ferrow Dairy"}), content_type="application/json")
        page = self.client.get("/api/report.html", {"case": self.case.pk})
        self.assertEqual(page.status_code, 200, page.content[:300])
        text = page.content.decode()
        self.assertIn("Ferrow Dairy", text)
        self.assertIn("<h2 id=", text)
        self.assertGreater(text.count("<img"), 1)
        word = self.client.get("/api/report.docx", {"case": self.case.pk})
        self.assertIn("Ledger", [p.text for p in docx.Document(io.BytesIO(word.content)).paragraphs])
        body = {"copy_of": self.case.pk}
        other = self.post(f"/api/projects/{self.case.project.pk}/cases", body).json()["id"]
        both = self.client.get("/api/report.html", {"case": [self.case.pk, other]}).content.decode()
        self.assertIn("Comparison", both)
        self.assertIn("Nothing is solved yet", both)

    def test_what_has_changed_is_said(self) -> None:
        finished_run(self.case)
        document = json.loads(json.dumps(self.document))
        document["inputs"]["length"]["value"] = "650 mm"
        self.save(document, 1)
        text = self.client.get("/api/report.html", {"case": self.case.pk}).content.decode()
        self.assertIn("changed since it was solved (length)", text)

    def test_letterhead(self) -> None:
        self.assertEqual(self.client.get("/api/letterhead").json(), {"company": "", "logo": False})
        for kind in ("PNG", "JPEG"):
            self.assertEqual(self.sent(logo(kind)).json()["logo"], True)
        self.assertIn("data:image/jpeg", self.client.get("/api/report.html", {"case": self.case.pk}).content.decode())
        for bad in (b"", b"nonsense", b"\x89PNG nonsense", b"<svg/>", logo() + b"x" * 600_000, logo("GIF")):
            self.assertEqual(self.sent(bad).status_code, 422)
        self.assertEqual(self.client.delete("/api/letterhead/logo").json()["logo"], False)
        # Another person has a letterhead of their own.
        other = Client()
        other.force_login(User.objects.create_user("dora"))
        self.assertEqual(other.get("/api/letterhead").json()["company"], "")
        self.assertEqual(other.get("/api/report.html", {"case": self.case.pk}).status_code, 404)

    def test_sections(self) -> None:
        names = [one["name"] for one in self.client.get("/api/report-sections").json()]
        self.assertEqual(names[0], "answer")
        self.assertIn("text", names)


class InTheBrowser(BrowserTestCase):
    def test_three_views_ordered_sections_and_the_page_that_is_printed(self) -> None:
        document = json.loads(json.dumps(self.record.document))
        document["reading"]["views"] = [
            {"name": name, "field": field, "printed": True}
            for name, field in (("how warm", "temperature"), ("how fast", "speed"), ("how pressed", "pressure"))
        ]
        self.record.document = document
        self.record.save()
        page = self.page
        self.open("solve")
        page.click("[data-test=solve]")
        page.wait_for_selector("[data-stage=solve] .good", timeout=_PATIENCE)
        page.click("[data-stage=report]")
        page.wait_for_selector("[data-test=section-answer]")
        page.get_by_label("leave out Given").click()
        self.until(lambda: page.locator("[data-test=section-given]").count() == 0)
        page.get_by_label("Ledger earlier").click()
        page.get_by_label("words before Task and answer").click()
        page.fill("[data-test=own-words] textarea >> nth=0", "For the meeting in May.")
        page.fill("[data-test=company] input", "Ferrow Dairy")
        page.keyboard.press("Tab")
        self.until(lambda: page.inner_text("[data-test=save-state]") == "saved")
        with page.expect_popup() as coming:
            page.click("[data-test=report-html]")
        report = coming.value
        report.wait_for_selector("text=Sources", timeout=_PATIENCE)
        titles = report.locator("h2").all_inner_texts()
        self.assertNotIn("Given", titles)
        self.assertLess(titles.index("Ledger"), titles.index("Run"))
        self.assertIn("For the meeting in May.", report.inner_text("body"))
        self.assertIn("Ferrow Dairy", report.inner_text("header"))
        captions = report.locator("figcaption").all_inner_texts()
        self.assertEqual(
            [c for c in captions if c.startswith("how ")],
            ["how warm: temperature, solved", "how fast: speed, solved", "how pressed: pressure, solved"],
        )
        widths = report.evaluate("() => [...document.images].map((i) => i.naturalWidth)")
        self.assertTrue(all(width > 0 for width in widths), widths)
        pdf = PdfReader(io.BytesIO(report.pdf(prefer_css_page_size=True, print_background=True)))
        self.assertGreater(len(pdf.pages), 1)
        box = pdf.pages[0].mediabox
        self.assertAlmostEqual(float(box.height) / float(box.width), 297.0 / 210.0, delta=0.01)
        last = pdf.pages[-1].extract_text()
        self.assertIn(f"{len(pdf.pages)} / {len(pdf.pages)}", last)
        self.assertIn("hot outlet temperature", pdf.pages[0].extract_text())
