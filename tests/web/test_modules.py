"""A module that repeats, through the worker and on the desk: its ends, its repeats and its mirror images."""

from __future__ import annotations

import json
from unittest import skipUnless

from tests.sections import held, rectangle, section_case
from tests.web.browser import CHROMIUM, BrowserTestCase
from tests.web.working import WorkerTestCase
from wattikos_core.case import Case, starter_case
from wattikos_web.models import Run


def plates() -> Case:
    """A piece of a duct with a warm upper wall, not periodic yet."""
    return section_case(
        rectangle("water", "water", "0 m", "0 m", "40 mm", "10 mm"),
        conditions=[held("water, top", at="50 °C"), {"type": "symmetry", "boundaries": ["water, bottom"]}],
        fineness=0.5,
    )


class Modules(WorkerTestCase):
    def test_how_a_module_goes_on_is_kept_with_its_run(self) -> None:
        self.record.document = starter_case("ribbed_duct").model_dump(mode="json")
        self.record.save()
        self.client.force_login(self.record.project.owner)
        body = {"kind": "solve", "revision": self.record.revision, "warm": True, "go_on": False}
        answer = self.client.post(f"/api/cases/{self.record.pk}/runs", json.dumps(body), content_type="application/json")
        run = Run.objects.get(pk=answer.json()["id"])
        self.until(self.over(run))
        self.assertEqual(self.state(run), "done", run.failure)
        out = self.client.get(f"/api/runs/{run.pk}").json()
        module, ledger = out["summary"]["module"], {row["name"]: row["solved"] for row in out["ledger"]}
        self.assertEqual([round(x, 9) for x in module["period"]], [0.04, 0.0])
        self.assertEqual(module["ratio"], 1.0)
        self.assertAlmostEqual(module["jump"], ledger["air rise per module"], places=9)
        self.assertAlmostEqual(module["pressure_drop"], ledger["air pressure drop"], places=9)
        self.assertAlmostEqual(ledger["air total heat gained"] / ledger["air heat gained"], 30.0, places=6)
        self.assertEqual(self.client.get(f"/api/runs/{run.pk}/fields").status_code, 200)

    def test_the_desk_is_told_of_ends_before_anything_is_solved(self) -> None:
        self.client.force_login(self.record.project.owner)
        document = starter_case("bundle_module").model_dump(mode="json")
        view = self.client.post("/api/evaluate", json.dumps({"document": document}), content_type="application/json").json()
        kinds = {b["name"]: (b["kind"], b["flag"]) for b in view["sketch"]["boundaries"] if not b["interface"]}
        self.assertEqual(kinds["whey, left"], ("upstream", "2 mm/s · 20 °C"))
        self.assertEqual(kinds["whey, right"], ("downstream", "repeats · 12 modules"))

    def test_a_condition_that_cannot_be_read_is_corrected_on_the_drawing(self) -> None:
        self.client.force_login(self.record.project.owner)
        document = starter_case("bundle_module").model_dump(mode="json")
        document["conditions"][0]["velocity"] = "-1 mm/s"
        view = self.client.post("/api/evaluate", json.dumps({"document": document}), content_type="application/json").json()
        self.assertEqual([p["field"] for p in view["problems"]], ["conditions[0].velocity"])
        self.assertTrue(view["sketch"]["bare"])
        flags = {b["name"]: (b["condition"], b["flag"]) for b in view["sketch"]["boundaries"]}
        self.assertEqual((flags["whey, left"], flags["whey, right"]), ((0, "cannot be read"), (0, "cannot be read")))
        self.assertEqual(flags["whey, top"], (1, "symmetry"))


@skipUnless(CHROMIUM, "Debian's Chromium is not installed")
class OnTheDesk(BrowserTestCase):
    def test_ends_are_chosen_and_the_module_is_read_again_and_again(self) -> None:
        self.record = self.new_case(plates(), fineness=0.5)
        page = self.page
        page.goto(f"{self.live_server_url}/cases/{self.record.pk}/conditions")
        page.click("[data-boundary='water, left']")
        page.click(".v-input:has(#kind)")
        self.assertEqual(page.locator(".pad-menu").get_by_role("option", name="periodic: ends of a module").count(), 0)
        page.keyboard.press("Escape")
        page.click("[data-boundary='water, right']", modifiers=["Shift"])
        self.choose("#kind", "periodic: ends of a module")
        page.fill("#condition-velocity", "5 mm/s")
        page.press("#condition-velocity", "Tab")
        page.fill("#condition-modules", "20")
        page.press("#condition-modules", "Tab")
        page.wait_for_selector("[data-flag='water, right']:has-text('20 modules')")
        page.click("[data-test=turn-stream]")
        page.wait_for_selector("[data-flag='water, left']:has-text('20 modules')")
        page.keyboard.press("Control+z")
        page.wait_for_selector("[data-flag='water, right']:has-text('20 modules')")
        page.click("[data-stage=solve]")
        page.click("[data-test=solve]")
        page.wait_for_selector("[data-row='water total heat gained'] .solved:not(:empty)")
        page.click("[data-stage=read]")
        page.wait_for_selector("[data-test=repeats]")
        whole = page.locator("svg .edge.upstream").count()
        self.choose("[data-test=repeats]", "3 modules")
        page.check("[data-test=mirror-0] input")
        # Three modules and their mirror images: six upstream ends.
        page.wait_for_function("document.querySelectorAll('svg .edge.upstream').length === 6")
        self.assertEqual(whole, 1)
        # Another condition on one end, and it is no module any more.
        page.click("[data-stage=conditions]")
        page.click("[data-boundary='water, right']")
        self.choose("#kind", "wall, adiabatic")
        page.wait_for_selector("[data-boundary='water, left'] >> text=no condition")
