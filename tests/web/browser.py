"""A live server with a worker, and headless Chromium on it."""

from __future__ import annotations

import threading
import time
from typing import Any

from django.contrib.auth.models import User
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.db import connections
from playwright.sync_api import Browser, Page, Playwright, sync_playwright

from wattikos_core.case import Case, starter_case
from wattikos_web.api.projects import create_case
from wattikos_web.models import CaseRecord, Project
from wattikos_web.signin import new_link
from wattikos_web.worker.engine import Engine
from wattikos_web.worker.loop import WorkerLoop

CHROMIUM = "/usr/bin/chromium"
_ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-sync",
]


class BrowserTestCase(StaticLiveServerTestCase):
    """Signed in as a fresh user with the demo project; a worker thread executes what is queued."""

    engine: Engine
    playwright: Playwright
    browser: Browser

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.engine = Engine(processes=1)
        cls.engine.warm_up()
        cls.addClassCleanup(cls.engine.close)
        cls.playwright = sync_playwright().start()
        cls.addClassCleanup(cls.playwright.stop)
        cls.browser = cls.playwright.chromium.launch(executable_path=CHROMIUM, args=_ARGUMENTS)
        cls.addClassCleanup(cls.browser.close)

    def setUp(self) -> None:
        self.user = User.objects.create_user("anna")
        self.project = Project.objects.create(owner=self.user, name="Ferrow Dairy")
        self.record = self.new_case(starter_case("plate_passage"), fineness=0.7)
        self.loop = WorkerLoop(self.engine, at_once=1)
        thread = threading.Thread(target=self._work, daemon=True)
        thread.start()

        def end() -> None:
            self.loop.ending = True
            thread.join(20)

        self.addCleanup(end)
        context = self.browser.new_context(
            viewport={"width": 1280, "height": 800}, permissions=["clipboard-read", "clipboard-write"]
        )
        self.addCleanup(context.close)
        self.page = context.new_page()
        self.errors: list[str] = []
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))
        self.page.on("console", lambda m: self.errors.append(m.text) if m.type == "error" and "status of 4" not in m.text else None)
        self.page.goto(self.live_server_url + new_link(self.user))

    def tearDown(self) -> None:
        self.assertEqual(self.errors, [], "the browser reported errors")

    def _work(self) -> None:
        try:
            self.loop.run_forever()
        finally:
            connections.close_all()

    def new_case(self, case: Case, fineness: float) -> CaseRecord:
        return create_case(self.project, case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": fineness})}))

    def open(self, stage: str, page: Page | None = None) -> None:
        """Go to a stage of the case and wait for its hand calculation."""
        page = page or self.page
        page.goto(f"{self.live_server_url}/cases/{self.record.pk}/{stage}")
        page.wait_for_selector("[data-row=duty]")

    def choose(self, where: str, title: str, page: Page | None = None) -> None:
        """Open a list or a menu, and choose what is called so."""
        page = page or self.page
        page.click(f".v-input:has({where})" if where.startswith("#") else where)
        page.locator(".pad-menu").get_by_role("option", name=title, exact=True).or_(
            page.locator(".pad-menu").get_by_role("menuitem", name=title, exact=True)
        ).click()

    def number(self, quantity: str, column: str) -> float:
        """A number of the ledger as shown."""
        text = self.page.inner_text(f"[data-row='{quantity}'] .{column}")
        return float(text) if text else float("nan")

    def until(self, condition: Any, seconds: float = 180.0) -> None:
        """Wait until `condition()` holds."""
        end = time.monotonic() + seconds
        while not condition():
            self.assertLess(time.monotonic(), end, "the page did not get there in time")
            self.page.wait_for_timeout(50)
