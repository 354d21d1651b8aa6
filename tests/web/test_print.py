"""Reports on paper: nothing is cut off, nothing overruns, nothing covers anything."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any
from unittest import skipUnless

from django.test import tag
from pypdf import PdfReader

from tests.web.browser import CHROMIUM, BrowserTestCase
from wattikos_core.case import starter_case

# Places of everything with words on the page, and the page's edges inside its margins, in pixels.
PLACES = """() => {
  const page = document.querySelector('[data-test=report]')
  const style = getComputedStyle(page)
  const box = page.getBoundingClientRect()
  const inside = [box.left + parseFloat(style.paddingLeft), box.right - parseFloat(style.paddingRight)]
  const of = (selector) => [...page.querySelectorAll(selector)].map((e) => {
    const b = e.getBoundingClientRect()
    return [b.left, b.top, b.right, b.bottom, e.innerText]
  })
  return { inside, cells: of('td'), flags: of('.flag') }
}"""


@skipUnless(Path(CHROMIUM).exists(), "Chromium is not installed")
class OnPaper(BrowserTestCase):
    def printed(self) -> dict[str, list[Any]]:
        # As wide as paper.
        self.page.set_viewport_size({"width": 794, "height": 1123})
        self.page.goto(f"{self.live_server_url}/cases/{self.record.pk}/print")
        self.page.wait_for_selector("[data-test=report][data-ready]")
        self.page.wait_for_selector(".flag")
        self.page.emulate_media(media="print")
        found: dict[str, list[Any]] = self.page.evaluate(PLACES)
        return found

    def assert_all_on_the_page(self, found: dict[str, list[Any]]) -> None:
        left, right = found["inside"]
        for x0, _, x1, _, text in [*found["cells"], *found["flags"]]:
            self.assertGreaterEqual(x0, left - 2.0, text)
            self.assertLessEqual(x1, right + 2.0, text)

    def test_end_flags_stand_on_the_page_and_apart(self) -> None:
        self.record = self.new_case(starter_case("bundle_staggered"), fineness=0.5)
        found = self.printed()
        self.assert_all_on_the_page(found)
        flags = found["flags"]
        self.assertIn("0 Pa", " ".join(str(flag[4]) for flag in flags))
        for i, (a0, b0, a1, b1, one) in enumerate(flags):
            for c0, d0, c1, d1, other in flags[i + 1 :]:
                self.assertFalse(a0 < c1 - 4 and c0 < a1 - 4 and b0 < d1 - 4 and d0 < b1 - 4, f"{one} on {other}")

    @tag("slow")
    def test_a_long_verdict_stays_within_the_margins(self) -> None:
        """A hand calculation that leaves much out is told at length; the page keeps its size."""
        self.record = self.new_case(starter_case("cone_gap"), fineness=0.5)
        self.page.goto(f"{self.live_server_url}/cases/{self.record.pk}/solve")
        self.page.click("[data-test=solve]")
        self.until(lambda: "converged" in self.page.inner_text("[data-stage=solve]"))
        found = self.printed()
        self.assertTrue([cell for cell in found["cells"] if len(str(cell[4])) > 80], "no verdict is long")
        self.assert_all_on_the_page(found)
        pdf = PdfReader(io.BytesIO(self.page.pdf(prefer_css_page_size=True, print_background=True)))
        # Shrunk to fit, letters would be smaller: 11.5 pixels are 8.6 points.
        sizes: list[float] = []
        pdf.pages[0].extract_text(visitor_text=lambda text, cm, tm, font, size: sizes.append(size * abs(cm[0] * tm[0])))
        self.assertGreater(max(sizes), 13.0)
