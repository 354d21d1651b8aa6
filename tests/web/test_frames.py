"""Runs in time through the worker, the API and the desk: frames while it runs, stop, go on, and its frames in Read."""

from __future__ import annotations

import base64
import json
from pathlib import Path
from typing import Any
from unittest import skipUnless

import numpy as np

from tests.sections import held, rectangle, section_case, wall
from tests.web.browser import CHROMIUM, BrowserTestCase
from tests.web.working import WorkerTestCase
from wattikos_core.case import Case, read_case
from wattikos_core.read import pack_frame, unpack_frame
from wattikos_web.api.projects import create_case
from wattikos_web.models import Run


def cooling(end: str, every: str = "2 s", **time: Any) -> Case:
    """A bar of copper at 80 °C in water at 20 °C."""
    return section_case(
        rectangle("bar", "copper", "0 m", "0 m", "20 mm", "10 mm"),
        conditions=[
            wall("bar, top", thermal="convection", heat_transfer_coefficient="2000 W/m^2/K", ambient_temperature="20 °C"),
            wall("bar, left", "bar, right", "bar, bottom"),
        ],
        physics={"regime": "time"},
        time={"end": end, "every": every, "temperature": "80 °C", **time},
    )


class Frames(WorkerTestCase):
    """What a worker keeps of a run in time, and what the API gives of it."""

    def start(self, case: Case, go_on: bool = False) -> Run:
        self.record.document = case.model_dump(mode="json")
        self.record.save()
        self.client.force_login(self.record.project.owner)
        body = {"kind": "solve", "revision": self.record.revision, "warm": True, "go_on": go_on}
        answer = self.client.post(f"/api/cases/{self.record.pk}/runs", json.dumps(body), content_type="application/json")
        self.answer = answer
        return Run.objects.get(pk=answer.json()["id"]) if answer.status_code == 201 else Run()

    def temperature(self, run: Run, frame: int) -> float:
        fields = self.client.get(f"/api/runs/{run.pk}/frames/{frame}").json()
        packed = next(field["values"] for field in fields if field["name"] == "temperature")
        return float(np.frombuffer(base64.b64decode(packed), dtype="<f4").mean())

    def test_a_run_is_kept_and_read_frame_by_frame(self) -> None:
        run = self.start(cooling("10 s"))
        self.until(self.over(run))
        self.assertEqual(self.state(run), "done", run.failure)
        out = self.client.get(f"/api/runs/{run.pk}").json()
        self.assertEqual([round(f["time"], 9) for f in out["frames"]], [0.0, 2.0, 4.0, 6.0, 8.0, 10.0])
        self.assertAlmostEqual(self.temperature(run, 0), 353.15, places=2)
        # A lump would cool by h A / ρ V c; at a Biot number of 0.05 the bar is some 1.5 % slower.
        lump = np.exp(-10.0 * 2000.0 / (8933.0 * 0.01 * 385.0))
        self.assertAlmostEqual(self.temperature(run, 5), 293.15 + 60.0 * lump, delta=0.9)
        self.assertEqual(out["history"][-1]["time"], 10.0)
        self.assertIn("mean temperature of bar", out["history"][-1]["watches"])
        given_up = next(row for row in out["ledger"] if row["name"] == "heat given up by bar")
        self.assertGreater(given_up["solved"], 0.0)
        table = self.client.get(f"/api/runs/{run.pk}/history.csv").content.decode().splitlines()
        self.assertEqual(len(table), len(out["history"]) + 1)
        self.assertTrue(table[0].startswith("step,time (s),"))
        for frame in ("", "?frame=2"):
            self.assertIn(b"UnstructuredGrid", self.client.get(f"/api/runs/{run.pk}/fields.vtu{frame}").content)
        self.assertEqual(self.client.get(f"/api/runs/{run.pk}/frames/99").status_code, 404)

    def test_a_run_goes_on_to_a_later_end(self) -> None:
        first = self.start(cooling("4 s"))
        self.until(self.over(first))
        second = self.start(cooling("10 s"), go_on=True)
        self.until(self.over(second))
        self.assertEqual(self.state(second), "done", second.failure)
        out = self.client.get(f"/api/runs/{second.pk}").json()
        self.assertEqual([round(f["time"], 9) for f in out["frames"]], [0.0, 2.0, 4.0, 6.0, 8.0, 10.0])
        self.assertEqual([f["number"] for f in out["frames"]], list(range(6)))
        self.assertEqual(out["history"][0]["time"], 0.0)
        self.start(cooling("10 s"), go_on=True)
        self.assertEqual(self.answer.status_code, 422)
        self.assertIn("has reached 10 s already", self.answer.json()["problems"][0]["problem"])
        steady = section_case(rectangle("bar", "copper", "0 m", "0 m", "20 mm", "10 mm"), conditions=[held("bar, top", at="20 °C")])
        self.start(steady, go_on=True)
        self.assertIn("steady", self.answer.json()["problems"][0]["problem"])
        whole = self.start(cooling("10 s"))
        self.until(self.over(whole))
        self.assertAlmostEqual(self.temperature(second, 5), self.temperature(whole, 5), delta=0.05)

    def test_a_stopped_run_keeps_what_it_has(self) -> None:
        run = self.start(cooling("400 s", every="1 s", first_step="0.02 s", fixed=True))
        self.until(lambda: self.state(run) == "running" and run.frames.count() > 2)
        self.assertTrue(run.checkpoint, "the grid is there while it runs")
        Run.objects.filter(pk=run.pk).update(stop_wanted=True)
        self.until(self.over(run))
        self.assertEqual(self.state(run), "stopped")
        self.assertGreater(run.summary["time"], 2.0)
        self.assertLess(run.summary["time"], 400.0)
        assert run.ledger is not None
        self.assertTrue(run.ledger["quantities"])

    def test_nothing_to_go_on_from_is_said(self) -> None:
        self.start(cooling("4 s"), go_on=True)
        self.assertEqual(self.answer.status_code, 422)
        self.assertEqual(self.answer.json()["problems"][0]["field"], "go_on")
        self.start(cooling("4 s", begin="former_run"))
        self.assertEqual(self.answer.json()["problems"][0]["field"], "time.begin")

    def test_frames_are_kept_to_their_stated_precision(self) -> None:
        values = np.random.default_rng(1).normal(300.0, 20.0, 1000)
        values[::7] = np.nan
        back = unpack_frame(pack_frame({"temperature": values, "speed": np.zeros(1000)}))
        span = float(np.nanmax(values) - np.nanmin(values))
        self.assertLess(float(np.nanmax(np.abs(back["temperature"] - values))), 8e-6 * span)
        np.testing.assert_array_equal(np.isnan(back["temperature"]), np.isnan(values))
        np.testing.assert_array_equal(back["speed"], 0.0)


@skipUnless(Path(CHROMIUM).exists(), "Chromium is not installed")
class OnTheDesk(BrowserTestCase):
    def test_beginnings_by_part_and_frames_at_times(self) -> None:
        case = cooling("10 s").model_dump(mode="json")
        case["section"]["parts"].append(rectangle("cap", "pvc", "0 m", "10 mm", "20 mm", "2 mm"))
        case["conditions"] = [
            wall("cap, top", thermal="convection", heat_transfer_coefficient="2000 W/m^2/K", ambient_temperature="20 °C")
        ]
        self.record = create_case(self.project, read_case(case))
        page = self.page
        page.goto(f"{self.live_server_url}/cases/{self.record.pk}/solve")
        page.fill("[data-part-begins=cap] input", "5")
        page.press("[data-part-begins=cap] input", "Tab")
        page.fill("[data-test=time-frames] input", "3; 1 s + 0.5 s")
        page.press("[data-test=time-frames] input", "Tab")
        page.click("[data-test=solve]")
        self.until(lambda: "ran to" in page.inner_text("[data-stage=solve]"))
        run = Run.objects.get(case=self.record)
        self.assertEqual(run.document["time"]["part_temperatures"], {"cap": "5 °C"})
        self.assertEqual([round(f.time or 0.0, 6) for f in run.frames.all()], [0.0, 1.5, 2.0, 3.0, 4.0, 6.0, 8.0, 10.0])
        first = unpack_frame(bytes(run.frames.get(number=0).data))["temperature"]
        self.assertAlmostEqual(float(first.min()), 278.15, places=2)

    def test_from_steady_to_frames(self) -> None:
        page = self.page
        self.record = create_case(self.project, cooling("10 s"))
        page.goto(f"{self.live_server_url}/cases/{self.record.pk}/solve")
        page.wait_for_selector("[data-test=regime]")
        self.assertEqual(page.inner_text("[data-test=regime]").strip(), "in time")
        page.click("[data-test=solve]")
        self.until(lambda: "ran to" in page.inner_text("[data-stage=solve]"))
        page.keyboard.press("5")
        page.wait_for_selector("[data-test=frames]")
        self.until(lambda: "6 of 6" in page.inner_text("[data-test=frames]"))
        page.press("[data-test=frame] [role=slider]", "Home")
        self.until(lambda: "1 of 6" in page.inner_text("[data-test=frames]"))
        self.assertEqual(page.input_value("[data-test=when] input"), "0 s")
        page.fill("[data-test=when] input", "5.9 s")
        page.keyboard.press("Enter")
        self.until(lambda: "4 of 6" in page.inner_text("[data-test=frames]"))
        page.click("[data-test=step-on]")
        self.until(lambda: "5 of 6" in page.inner_text("[data-test=frames]"))
        page.press("[data-test=frame] [role=slider]", "Home")
        self.until(lambda: "1 of 6" in page.inner_text("[data-test=frames]"))
        page.click("[data-test=play]")
        self.until(lambda: "1 of 6" not in page.inner_text("[data-test=frames]"))
        page.click("[data-test=play]")
        # A later end: the run can be carried on.
        page.keyboard.press("4")
        page.fill("#time-end", "14 s")
        page.click("[data-test=go-on]")
        self.until(lambda: "ran to 14" in page.inner_text("[data-stage=solve]"))
        page.keyboard.press("5")
        self.until(lambda: "of 8" in page.inner_text("[data-test=frames]"))

    def test_gravity_and_motion_are_given_by_forms(self) -> None:
        page = self.page
        box = section_case(rectangle("box", "water", "0 m", "0 m", "20 mm", "10 mm"), conditions=[wall("box, top", "box, bottom")])
        self.record = create_case(self.project, box)
        page.goto(f"{self.live_server_url}/cases/{self.record.pk}/solve")
        page.wait_for_selector("[data-test=down]")
        self.choose("[data-test=down]", "to the bottom")
        self.until(lambda: page.inner_text("[data-test=save-state]") == "saved")
        self.record.refresh_from_db()
        self.assertEqual(self.record.document["physics"]["gravity_y"], "-9.81 m/s^2")
        page.keyboard.press("2")
        page.click("[data-boundary='box, top']")
        self.choose("[data-test=motion]", "slides along itself")
        self.until(lambda: page.inner_text("[data-test=save-state]") == "saved")
        self.record.refresh_from_db()
        slides = [c for c in self.record.document["conditions"] if c.get("slide_x")]
        self.assertEqual([c["boundaries"] for c in slides], [["box, top"]])
        page.wait_for_selector("[data-flag='box, top'] >> text=m/s")
