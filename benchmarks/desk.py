"""Measure what a user waits for, in headless Chromium against a running demo.

make demo                                prints a sign-in link
python -m benchmarks.desk LINK
"""

from __future__ import annotations

import statistics
import sys
import time
from urllib.parse import urlsplit

from playwright.sync_api import Page, sync_playwright

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
            page.fill("[data-input=length] input", f"{length} mm")
            page.wait_for_timeout(250)
        print(f"hand calculation round trip, median of {len(times)}: {statistics.median(times):.0f} ms")

        typing(page, base)
        page.goto(page.url.replace("/draw", "/grid"))
        page.wait_for_selector("[data-test=fineness]")
        page.fill("[data-test=fineness] input", PASSAGE_OF_10_000)
        page.keyboard.press("Enter")
        page.wait_for_timeout(1500)
        page.click("[data-stage=solve]")
        if page.locator("#check").is_checked():
            page.uncheck("#check")
            page.wait_for_timeout(1200)
        begun = time.perf_counter()
        page.click("[data-test=solve]")
        page.wait_for_selector("[data-test=colour-scale]", timeout=60_000)
        print(f"click to picture on {page.inner_text('[data-stage=grid] .words')}, cold start: {time.perf_counter() - begun:.1f} s")
        change_of_field(page)


def change_of_field(page: Page) -> None:
    """From the choice of another field to its picture, on about 50,000 cells, as the page itself sees it."""
    page.click("[data-stage=grid]")
    page.fill("[data-test=about-cells] input", "50000")
    page.keyboard.press("Enter")
    page.wait_for_timeout(4000)
    page.click("[data-stage=solve]")
    page.click("[data-test=solve]")
    page.wait_for_selector("[data-stage=solve] .good", timeout=120_000)
    page.click("[data-stage=read]")
    page.wait_for_selector("[data-test=colour-scale]", timeout=60_000)
    page.wait_for_timeout(1500)
    times = []
    for name in ("speed", "pressure", "temperature") * 3:
        page.click("[data-test=field]")
        option = page.get_by_role("option", name=name, exact=True)
        option.wait_for()
        times.append(
            option.evaluate(
                """(option) => new Promise((done) => {
                    const begun = performance.now()
                    option.click()
                    requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - begun)))
                })"""
            )
        )
        page.wait_for_timeout(200)
    print(f"another field on {page.inner_text('[data-stage=grid] .words')}: median {statistics.median(times):.0f} ms")


def typing(page: Page, base: str) -> None:
    """From a key in a tube bundle's Given to the number in its Ledger, as the page itself sees it."""
    passage = page.url
    page.goto(base)
    page.click("[data-starter=bundle_staggered]")
    cell = "[data-row='whey outlet temperature'] .hand"
    page.wait_for_selector(f"{cell}:not(:empty)")
    page.evaluate(
        """(cell) => {
            window.waits = []
            let typed = 0
            addEventListener('input', () => (typed = performance.now()), true)
            new MutationObserver(() => typed && (window.waits.push(performance.now() - typed), (typed = 0)))
                .observe(document.querySelector(cell), { characterData: true, childList: true, subtree: true })
        }""",
        cell,
    )
    for temperature in range(60, 80):
        page.fill("[data-input=heating] input", f"{temperature} °C")
        page.wait_for_timeout(400)
    waits = page.evaluate("window.waits")
    print(f"key to number in a bundle, median of {len(waits)}: {statistics.median(waits):.0f} ms, longest {max(waits):.0f} ms")
    page.goto(passage)


if __name__ == "__main__":
    main(sys.argv[1])
