"""Measure what a user waits for, in headless Chromium against a running demo.

make demo                                prints a sign-in link
python -m benchmarks.desk LINK
"""

from __future__ import annotations

import statistics
import sys
import time
from urllib.parse import urlsplit

from playwright.sync_api import sync_playwright

PASSAGE_OF_10_000 = "1.58"


def main(link: str) -> None:
    """Print first page, hand calculation round trip, and click to picture."""
    parts = urlsplit(link)
    base = f"{parts.scheme}://{parts.netloc}"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        begun = time.perf_counter()
        page.goto(link)
        page.wait_for_selector("article")
        print(f"first page, nothing cached: {time.perf_counter() - begun:.2f} s")

        page.click("article >> text=copy")
        page.wait_for_selector("[data-row=duty]")
        page.goto(page.url.replace("/draw", "/grid"))
        page.wait_for_selector("[data-test=fineness]")
        times: list[float] = []
        page.on("requestfinished", lambda r: times.append(r.timing["responseEnd"]) if r.url == f"{base}/api/evaluate" else None)
        for length in range(610, 710, 5):
            page.fill("[data-input=length]", f"{length} mm")
            page.wait_for_timeout(250)
        print(f"hand calculation round trip, median of {len(times)}: {statistics.median(times):.0f} ms")

        page.fill("[data-test=fineness]", PASSAGE_OF_10_000)
        page.keyboard.press("Enter")
        page.wait_for_timeout(1500)
        page.click("[data-stage=solve]")
        if page.locator("#check").is_checked():
            page.click("#check")
            page.wait_for_timeout(1200)
        begun = time.perf_counter()
        page.click("[data-test=solve]")
        page.wait_for_selector("[data-test=colour-scale]", timeout=60_000)
        print(f"click to picture on {page.inner_text('[data-stage=grid] .words')}, cold start: {time.perf_counter() - begun:.1f} s")


if __name__ == "__main__":
    main(sys.argv[1])
