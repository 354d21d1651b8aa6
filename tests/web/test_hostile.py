"""Hostile requests are refused with the reason, within their limits; no answer ever holds a number that is none."""

from __future__ import annotations

import json
import os
import signal
import time
from concurrent.futures import Future
from typing import Any
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase

from tests.web.test_api import ApiCase
from wattikos_core.case import starter_case
from wattikos_core.errors import CaseError
from wattikos_web.aside import Superseded, aside, pool

_SVG = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink">'


class Files(ApiCase):
    def refused(self, path: str, name: str, content: bytes, **fields: str) -> dict[str, str]:
        answer = self.client.post(path, {"file": SimpleUploadedFile(name, content), **fields})
        self.assertIn(answer.status_code, (400, 413, 422), f"{name}: {answer.content[:200]!r}")
        self.assertNotIn(b"NaN", answer.content)
        problem: dict[str, str] = answer.json()["problems"][0]
        self.assertTrue(problem["remedy"])
        return problem

    def test_outlines(self) -> None:
        entities = (
            b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>'
            + _SVG.encode()
            + b"<text>&b;</text></svg>"
        )
        of_itself = f'{_SVG}<g id="a"><use xlink:href="#a"/><use xlink:href="#a"/></g></svg>'
        doubling = "".join(f'<g id="g{k}"><use xlink:href="#g{k + 1}"/><use xlink:href="#g{k + 1}"/></g>' for k in range(40))
        for name, content in (
            ("self.svg", of_itself.encode()),
            ("doubling.svg", f'{_SVG}{doubling}<path id="g40" d="M0 0L1 0L1 1Z"/></svg>'.encode()),
            ("nested.svg", (_SVG + "<g>" * 200_000 + "</g>" * 200_000 + "</svg>").encode()),
            ("entities.svg", entities),
            ("radius.svg", f'{_SVG}<circle cx="0" cy="0" r="1e300"/></svg>'.encode()),
            ("nan.svg", f'{_SVG}<path d="M nan 0 L 1 nan L 1 1 Z"/></svg>'.encode()),
            ("nan.csv", b"0,0\n1,0\nnan,1\n0,0\n"),
            ("far.csv", b"0,0\n1e300,0\n1e300,1e300\n0,0\n"),
            ("large.csv", b"0.123456789,0.123456789\n" * 2_500_000),
            ("long.csv", b"x" * 20_000_000),
            ("binary.dxf", bytes(range(256)) * 1000),
            ("bad.svg", b"<svg><path d='M"),
            ("none.exe", b"MZ"),
        ):
            with self.subTest(name):
                self.refused("/api/import/outline", name, content, unit="mm")
        self.refused("/api/import/outline", "points.csv", b"0,0\n1,0\n1,1\n", unit="m**9**9**9")

    def test_tables(self) -> None:
        for content in (b"0,nan\n1,2\n", b"inf,1\n1,2\n", b"0,1\n", b"\xff\xfe\x00", b"1e400,1\n2,2\n"):
            self.refused("/api/import/table", "t.csv", content, unit="m", value_unit="")

    def test_a_file_that_points_elsewhere_is_no_grid(self) -> None:
        path = f"/api/cases/{self.case.pk}/grid-file"
        self.refused(
            path, "grid.xdmf", b"<Xdmf><Domain><Grid><DataItem Format='HDF'>/etc/passwd:/x</DataItem></Grid></Domain></Xdmf>"
        )
        self.refused(path, "grid.vtu", b"<VTKFile type='UnstructuredGrid'/>")

    def test_a_request_that_is_too_large(self) -> None:
        answer = self.client.post("/api/evaluate", b"x" * 5_000_000, content_type="application/json")
        self.assertIn(answer.status_code, (400, 413))
        self.assertIn("remedy", answer.json()["problems"][0])


class Documents(ApiCase):
    def looked_at(self, document: Any) -> Any:
        begun = time.monotonic()
        answer = self.post("/api/evaluate", {"document": document})
        self.assertIn(answer.status_code, (200, 422))
        self.assertNotIn(b"NaN", answer.content)
        # Generous: what is refused from its counts takes milliseconds, what is not takes memory and minutes.
        self.assertLess(time.monotonic() - begun, 20.0)
        return answer.json()["problems"]

    def test_counts_are_refused_before_anything_is_made(self) -> None:
        copies = json.loads(json.dumps(self.document))
        copies["section"]["parts"][0]["repeat"] = {"pattern": "grid", "columns": "400", "rows": "400", "dx": "1 mm", "dy": "1 mm"}
        self.assertIn("160,000 copies", self.looked_at(copies)[0]["problem"])
        chain = json.loads(json.dumps(self.document))
        chain["inputs"] |= {f"a{k}": {"value": f"a{k + 1}", "kind": "length"} for k in range(5000)}
        self.assertIn("200", self.looked_at(chain)[0]["problem"])
        points = json.loads(json.dumps(self.document))
        points["section"]["parts"][0]["shape"] = {"type": "polygon", "points": [["1 mm", "1 mm"]] * 100_000}
        self.assertTrue(self.looked_at(points))

    def test_cells_are_refused_before_they_are_made(self) -> None:
        """A thousand thin stripes each way, with all finenesses at their most, asked for 112 million cells."""
        document = starter_case("plate_passage").model_dump(mode="json")
        document["grid"] |= {
            "fineness": 8.0,
            "local": [{"at": [p["name"] for p in document["section"]["parts"]], "fineness": 10.0}],
        }
        document["section"]["parts"] = [
            {
                "name": f"stripe {k}",
                "material": "copper" if k % 2 else "stainless_304",
                "shape": {"type": "rectangle", "x": f"{k} mm", "y": "0 m", "width": "1 mm", "height": f"{k + 1} mm"},
            }
            for k in range(60)
        ]
        wall = {"type": "wall", "boundaries": ["stripe 1, bottom"], "thermal": "temperature", "temperature": "20 degC"}
        document |= {"conditions": [wall], "contacts": [], "wanted": [], "watches": [], "estimates": []}
        document["grid"]["local"][0]["at"] = [f"stripe {k}" for k in range(60)]
        answer = self.post("/api/grid", {"document": document})
        self.assertEqual(answer.status_code, 422)
        self.assertTrue(any("the limit is 400,000" in p["problem"] + p["remedy"] for p in answer.json()["problems"]), answer.json())

    def test_numbers_that_are_none(self) -> None:
        for text in ("NaN", "Infinity", "-Infinity", "1e999"):
            body = json.dumps({"document": self.document}).replace('"fineness": 0.3', f'"fineness": {text}')
            answer = self.client.post("/api/evaluate", body, content_type="application/json")
            self.assertEqual(answer.status_code, 422, text)
            self.assertNotIn(b"NaN", answer.content)


class Aside(SimpleTestCase):
    def test_time_and_memory_have_limits(self) -> None:
        with self.assertRaises(CaseError) as caught:
            aside(time.sleep, (0.5, 500), "", 60)
        self.assertIn("0.5 s", caught.exception.problems[0].problem)
        with self.assertRaises(CaseError) as caught:
            aside(bytes, (20.0, 200), "", 1_000_000_000)
        self.assertIn("0.2 GB", caught.exception.problems[0].problem)
        self.assertEqual(aside(len, (20.0, 200), "", "four"), 4)

    def test_a_newer_question_takes_the_place_of_an_older_one(self) -> None:
        import threading

        ended: list[str] = []

        def ask() -> None:
            try:
                aside(time.sleep, (30.0, 200), "anna", 20)
            except Superseded:
                ended.append("dropped")

        thread = threading.Thread(target=ask)
        thread.start()
        time.sleep(1.0)
        self.assertIsNone(aside(time.sleep, (30.0, 200), "anna", 0))
        thread.join(10)
        self.assertEqual(ended, ["dropped"])

    def test_a_task_that_went_with_a_process_is_asked_for_again(self) -> None:
        """What a process had taken when it was killed, and never told of, was waited for without end."""
        scheduled, lost = pool._scheduled, Future[Any]()
        with (
            mock.patch.object(pool, "_LOST_AFTER", 1.0),
            mock.patch.object(pool, "_scheduled", side_effect=[lost, scheduled(20.0, os.getpid, 200, (), {})]),
        ):
            self.assertNotEqual(aside(os.getpid, (20.0, 200), ""), os.getpid())
        self.assertTrue(lost.cancelled())

    def test_processes_that_are_killed_are_replaced(self) -> None:
        for _ in range(4):
            victim = aside(os.getpid, (20.0, 200), "")
            os.kill(victim, signal.SIGKILL)
            end = time.monotonic() + 120
            while True:
                try:
                    self.assertNotEqual(aside(os.getpid, (20.0, 200), ""), victim)
                    break
                except CaseError:
                    self.assertLess(time.monotonic(), end)
