"""Accessibility of every main view, judged by axe (Deque's open rules for WCAG 2), light and dark, and reflow at twice the size."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.test import tag
from playwright.sync_api import Page

from tests.web.browser import BrowserTestCase
from tests.web.test_api import finished_run
from wattikos_core.case import starter_case

_AXE = settings.BASE_DIR / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
_STAGES = ("draw", "conditions", "grid", "solve", "read", "vary", "size", "report")


class EveryView(BrowserTestCase):
    def violations(self, page: Page) -> list[str]:
        """What axe finds: rule, and the places it breaks at."""
        page.evaluate(_AXE.read_text())
        options = "{ resultTypes: ['violations'], rules: { 'target-size': { enabled: true } } }"
        found: list[Any] = page.evaluate(f"axe.run(document, {options}).then((r) => r.violations)")
        return [f"{v['id']}: {n['html'][:300]} {n['failureSummary'][:200]}" for v in found for n in v["nodes"][:3]]

    def visit(self, scheme: Any) -> list[str]:
        page, found = self.page, list[str]()
        page.emulate_media(color_scheme=scheme)
        root = self.live_server_url
        page.goto(root)
        page.wait_for_selector("[data-starter=plate_passage] svg path")
        page.wait_for_selector("article")
        found += [f"home {v}" for v in self.violations(page)]
        page.goto(f"{root}/help")
        page.wait_for_selector("text=mass flow")
        found += [f"help {v}" for v in self.violations(page)]
        for stage in _STAGES:
            self.open(stage)
            page.wait_for_selector(f"[data-form={stage}] h2")
            if stage == "conditions":
                page.click("[data-boundary='hot, left']")
                page.wait_for_selector("#kind")
            page.wait_for_timeout(200)
            found += [f"{stage} {v}" for v in self.violations(page)]
        bundle = self.new_case(starter_case("bundle_staggered"), fineness=0.4)
        page.goto(f"{root}/cases/{bundle.pk}/conditions")
        page.click("[data-boundary='tube, inside'] .copies")
        page.wait_for_selector("[data-boundary='tube 1, inside']")
        # Away from what was clicked, lest its tooltip comes up.
        page.mouse.move(1, 1)
        self.until(lambda: page.locator(".pad-tip").count() == 0)
        found += [f"copies {v}" for v in self.violations(page)]
        page.keyboard.press("Control+k")
        page.wait_for_selector("[data-test=palette] input")
        page.wait_for_timeout(200)
        found += [f"palette {v}" for v in self.violations(page)]
        found += self.reading()
        page.goto(f"{root}/cases/{self.record.pk}/print")
        page.wait_for_selector("[data-ready]")
        return found + [f"print {v}" for v in self.violations(page)]

    def reading(self) -> list[str]:
        """Every part of Read with a plot beside the drawing, a grid study, and two runs compared."""
        page, root = self.page, self.live_server_url
        first, second = finished_run(self.record), finished_run(self.record)
        page.goto(f"{root}/cases/{self.record.pk}/read")
        page.wait_for_selector("[data-test=colour-scale]")
        found = []
        for tab in ("field", "flow", "lines", "probes", "places", "files"):
            page.click(f"[data-test=read-{tab}]")
            if tab == "flow":
                self.choose("[data-test=streamlines]", "evenly spaced")
            if tab == "lines":
                page.click("[data-line-row='across the middle'] .v-checkbox")
                page.wait_for_selector("[data-test=line-statistics] td")
                page.click("[data-line-row='across the middle'] button")
                page.wait_for_selector("[data-test=line-form]")
            page.mouse.move(1, 1)
            self.until(lambda: page.locator(".pad-tip").count() == 0)
            found += [f"{tab} {v}" for v in self.violations(page)]
        page.click("[data-test=evidence] button")
        page.wait_for_selector("[data-test=balances]")
        found += [f"balances {v}" for v in self.violations(page)]
        page.goto(f"{root}/cases/{self.record.pk}/grid")
        page.click("[data-test=open-study]")
        page.wait_for_selector("[data-test=start-study]")
        found += [f"study {v}" for v in self.violations(page)]
        page.goto(f"{root}/compare?runs={first.pk},{second.pk}")
        page.wait_for_selector("[data-test=compared-ledgers] td")
        found += [f"compare {v}" for v in self.violations(page)]
        return found

    def test_axe_finds_nothing_on_paper(self) -> None:
        found = self.visit("light")
        self.assertEqual(found, [], "\n".join(found))

    @tag("slow")
    def test_axe_finds_nothing_in_the_dark(self) -> None:
        found = self.visit("dark")
        self.assertEqual(found, [], "\n".join(found))

    @tag("slow")
    def test_nothing_is_cut_off_at_twice_the_size(self) -> None:
        """640 by 400 points are what is left of 1280 by 800 at 200 %: the page is scrolled down, never aside."""
        page = self.page
        page.set_viewport_size({"width": 640, "height": 400})
        runs = ",".join(str(finished_run(self.record).pk) for _ in range(2))
        addresses = [self.live_server_url, f"{self.live_server_url}/help", f"{self.live_server_url}/compare?runs={runs}"]
        for address in [*addresses, *(f"{self.live_server_url}/cases/{self.record.pk}/{stage}" for stage in _STAGES)]:
            page.goto(address)
            page.wait_for_selector("main h1", state="attached")
            page.wait_for_timeout(700)
            aside = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
            self.assertEqual(aside, 0, address)
