"""Make docs/screenshots/ afresh from a running demo.

make demo            prints a sign-in link
.venv/bin/python scripts/screenshots.py LINK
"""

from __future__ import annotations

import sys
from pathlib import Path
from urllib.parse import urlsplit

from playwright.sync_api import Page, sync_playwright

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
# Views of further demo cases: their place after the first one, stage and name.
OTHERS = (
    (2, "grid", "bundle-grid"),
    (2, "read", "bundle-read"),
    (3, "read", "module-read"),
    (5, "read", "vane"),
    (17, "read", "fan-channel"),
    (9, "solve", "tank-solve"),
    (2, "read", "lines"),
    (0, "grid", "grid-study"),
)
# The sinks of the demo, which are compared.
SINKS = "Sink of the pump drive"
STAGES = ("draw", "conditions", "grid", "solve", "read", "vary", "size")


def main(link: str) -> None:
    """Photograph every main view at 1280x800."""
    parts = urlsplit(link)
    base = f"{parts.scheme}://{parts.netloc}"
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        page = browser.new_context(viewport={"width": 1280, "height": 800}, color_scheme="light").new_page()
        page.goto(link)
        page.wait_for_selector("article")
        page.wait_for_timeout(500)
        page.wait_for_selector("[data-starter=plate_passage] svg path")
        page.screenshot(path=FOLDER / "home.png")
        page.click("article [data-open]")
        page.wait_for_selector("[data-row=duty]")
        case = urlsplit(page.url).path.split("/")[2]
        for stage in STAGES:
            visit(page, f"{base}/cases/{case}/{stage}", stage)
        for offset, stage, name in OTHERS:
            visit(page, f"{base}/cases/{int(case) + offset}/{stage}", name)
        page.goto(base)
        page.wait_for_selector(f"[data-compare^='{SINKS}']")
        for box in page.locator(f"[data-compare^='{SINKS}'] input").all():
            box.click()
        page.click("[data-test=compare]")
        page.wait_for_selector("[data-test=compared-ledgers] td")
        page.wait_for_timeout(2000)
        page.screenshot(path=FOLDER / "compare.png")
        page.goto(f"{base}/cases/{case}/read")
        page.wait_for_selector("[data-test=ledger] tbody tr")
        page.click("header >> text=dark")
        visit(page, f"{base}/cases/{case}/read", "read-dark")
        page.set_viewport_size({"width": 900, "height": 1200})
        page.goto(f"{base}/api/report.html?case={case}")
        page.wait_for_selector("text=Sources")
        page.screenshot(path=FOLDER / "report.png")


def visit(page: Page, address: str, name: str) -> None:
    """Open a stage and photograph it."""
    page.goto(address)
    page.wait_for_selector("[data-test=ledger] tbody tr")
    page.wait_for_timeout(1500)
    if name == "vary":
        page.wait_for_timeout(3000)
    if name == "size":
        page.click("[data-show=map]")
        page.wait_for_selector("[data-test=sizing-map] svg.axes")
        page.wait_for_timeout(2000)
    if name == "conditions":
        page.click("[data-boundary='hot, left']")
        page.wait_for_timeout(300)
    if name == "fan-channel":
        page.click("[data-test=read-fans]")
        page.wait_for_timeout(1500)
    if name == "module-read":
        page.click("[data-test=repeats]")
        page.get_by_role("option", name="3 modules").click()
        page.check("[data-test=mirror-0] input")
        page.wait_for_timeout(800)
    if name == "bundle-read":
        page.click("[data-test=view]")
        page.get_by_role("option", name="wakes").click()
        page.wait_for_timeout(1500)
    if name == "lines":
        page.click("[data-test=view]")
        page.get_by_role("option", name="around the first tube").click()
        page.wait_for_selector("[data-test=line-statistics] td")
        page.click("[data-test=read-lines]")
        page.wait_for_timeout(1500)
    if name == "grid-study":
        page.click("[data-test=open-study]")
        page.click("[data-test=start-study]")
        page.wait_for_selector("[data-test=good-enough]", timeout=180_000)
        page.wait_for_timeout(1000)
    if name == "bundle-grid":
        page.wait_for_selector(".worst circle")
    page.screenshot(path=FOLDER / f"{name}.png")


if __name__ == "__main__":
    main(sys.argv[1])
