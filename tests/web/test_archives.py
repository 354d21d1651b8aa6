"""A case as one archive and back: every number of it, its fields, series and saves; what is no archive is refused in words."""

from __future__ import annotations

import io
import json
import tempfile
import zipfile
from typing import Any
from xml.etree import ElementTree

import meshio
import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.forms.models import model_to_dict
from django.test import Client

from tests.web.test_api import ApiCase
from tests.web.working import WorkerTestCase
from wattikos_core.case import read_case
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.read import unpack_frame
from wattikos_core.studies.series import points_of
from wattikos_web import series as stored
from wattikos_web.archives import read_archive, write_archive
from wattikos_web.models import CaseRecord, GridFile, Run

_OWN = {"id", "case", "warm_start", "led_from", "background", "attempts", "heartbeat", "stop_wanted"}


def told(run: Run) -> dict[str, Any]:
    """All that a run says, but for where it is kept."""
    plain = {name: value for name, value in model_to_dict(run).items() if name not in _OWN}
    frames = [(frame.number, frame.time, bytes(frame.data)) for frame in run.frames.all()]
    return {**plain, "checkpoint": bytes(run.checkpoint or b""), "frames": frames, "times": (run.queued, run.started, run.finished)}


def starts(runs: list[Run], run: Run) -> int | None:
    """Which of some runs one was begun from."""
    return next((i for i, other in enumerate(runs) if other.pk == run.warm_start_id), None)


class ThereAndBack(WorkerTestCase):
    def test_nothing_is_lost(self) -> None:
        first, sizing = self.queued(0.3), self.queued(0.3, "sizing")
        self.until(self.over(first))
        self.until(self.over(sizing))
        Run.objects.filter(pk=sizing.pk).update(warm_start=first)
        case = read_case(self.record.document)
        coarse = case.grid.model_copy(update={"fineness": 0.3})
        wish = SeriesWish(varied=[Varied(input="length", values="400, 500 mm")])
        case = case.model_copy(update={"grid": coarse, "series": wish})
        hand: dict[str, Any] = {"quantities": [], "values": []}
        series = stored.begin(self.record, "two", points_of(case, wish), hand, case)
        self.until(lambda: series.points.filter(run__state="done").count() == 2)
        GridFile.objects.create(case=self.record, name="own.vtu", content=b"<VTKFile/>")
        content = write_archive(self.record)
        again = read_archive(self.record.project, content)
        self.assertEqual(again.document, self.record.document)
        self.assertEqual(again.revision, self.record.revision)
        saves = [list(record.revisions.values("number", "document", "saved", "what")) for record in (self.record, again)]
        self.assertEqual(*saves)
        runs = [list(record.runs.order_by("id")) for record in (self.record, again)]
        self.assertEqual(len(runs[0]), 4)
        for one, other in zip(*runs, strict=True):
            self.assertEqual(told(one), told(other))
        places = [
            [None if run.warm_start_id is None else [r.pk for r in many].index(run.warm_start_id) for run in many] for many in runs
        ]
        self.assertEqual(*places)
        self.assertEqual(places[0][1], 0)
        points = [
            list(record.series.get().points.values("number", "values", "place", "problem")) for record in (self.record, again)
        ]
        self.assertEqual(*points)
        back = again.series.get().points.select_related("run").first()
        assert back is not None
        assert back.run is not None
        self.assertEqual(back.run.case, again)
        self.assertEqual(bytes(again.grid_files.get().content), b"<VTKFile/>")
        # Written again it is the same, but for when it was written.
        self.assertEqual(self.entries(write_archive(again)), self.entries(content))
        # What stands in it for others: the fields, the ledger, the drawing.
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            self.assertIn("effectiveness", archive.read("runs/0/ledger.csv").decode())
            self.assertIn("step", archive.read("runs/0/history.csv").decode())
            root = ElementTree.fromstring(archive.read("sketch.svg"))
            self.assertIn("plate", [element.text for element in root.iter("{http://www.w3.org/2000/svg}text")])
            path = archive.extract("runs/0/fields.vtu", self.folder())
        mesh = meshio.read(path)
        temperatures = np.concatenate([np.ravel(block) for block in mesh.cell_data["temperature"]])
        frame = first.frames.first()
        assert frame is not None
        np.testing.assert_allclose(np.sort(temperatures), np.sort(unpack_frame(bytes(frame.data))["temperature"]), rtol=1e-6)
        # Its runs are read as the first ones are.
        client = Client()
        client.force_login(self.record.project.owner)
        answers = [client.get(f"/api/runs/{many[0].pk}/fields").json() for many in runs]
        self.assertEqual(answers[0]["fields"], answers[1]["fields"])

    def folder(self) -> str:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        return folder.name

    def entries(self, content: bytes) -> dict[str, bytes]:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            return {name: archive.read(name) for name in archive.namelist() if name != "about.json"}


class Refusals(ApiCase):
    def sent(self, content: bytes) -> Any:
        file = SimpleUploadedFile("case.zip", content, content_type="application/zip")
        return self.client.post(f"/api/projects/{self.case.project.pk}/archive", {"file": file})

    def changed(self, **entries: Any) -> bytes:
        """The case's archive with some entries others, or without them."""
        target = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(write_archive(self.case))) as old, zipfile.ZipFile(target, "w") as new:
            for name in old.namelist():
                if name not in entries:
                    new.writestr(name, old.read(name))
            for name, content in entries.items():
                if content is not None:
                    new.writestr(name, content if isinstance(content, bytes | str) else json.dumps(content))
        return target.getvalue()

    def test_over_the_api(self) -> None:
        content = self.client.get(f"/api/cases/{self.case.pk}/archive.zip")
        self.assertEqual(content["Content-Type"], "application/zip")
        answer = self.sent(content.content)
        self.assertEqual(answer.status_code, 201, answer.content)
        self.assertEqual(answer.json()["document"], self.client.get(f"/api/cases/{self.case.pk}").json()["document"])

    def test_what_is_no_archive(self) -> None:
        run = {"kind": "solve", "state": "done", "document": self.document, "begun_from": None}
        plain = {"document": self.document, "revision": 1, "go_on": False, "before": [], "meaning": "", "progress": {}}
        whole = {**run, **plain, "history": [], "ledger": None, "trials": [], "summary": {}, "failure": None}
        whole |= {"queued": None, "started": None, "finished": None, "begun_from": 99}
        save = {"number": 1, "document": self.document, "saved": None, "what": ""}
        before = CaseRecord.objects.count()
        for words, content in (
            ("no archive", b"nonsense"),
            ("no archive", b""),
            ("another format", self.changed(**{"about.json": {"format": 99, "revision": 1}})),
            ("has no case.json", self.changed(**{"case.json": None})),
            ("is no JSON", self.changed(**{"case.json": "{"})),
            ("missing or of another kind", self.changed(**{"saves.json": [{"number": 1}]})),
            ("missing or of another kind", self.changed(**{"runs/0/run.json": run})),
            ("missing or of another kind", self.changed(**{"runs/0/run.json": whole})),
            ("missing or of another kind", self.changed(**{"saves.json": [save, save]})),
            ("missing or of another kind", self.changed(**{"about.json": {"format": 1, "revision": 10**30}})),
            ("missing or of another kind", self.changed(**{"runs/0/run.json": {**run, "state": "running"}})),
            ("missing or of another kind", self.changed(**{"series/0.json": {"document": self.document, "name": "x"}})),
        ):
            with self.subTest(words):
                answer = self.sent(content)
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertIn(words, answer.json()["problems"][0]["problem"])
        self.assertEqual(CaseRecord.objects.count(), before)

    def test_fields_that_cannot_be_read(self) -> None:
        Run.objects.filter(case=self.case).delete()
        plain = {
            "document": self.document,
            "revision": 1,
            "go_on": False,
            "before": [],
            "meaning": "",
            "progress": {},
            "history": [],
        }
        run = {**plain, "kind": "solve", "state": "done", "ledger": None, "trials": [], "summary": {}, "failure": None}
        run |= {"queued": None, "started": None, "finished": None, "begun_from": None}
        content = self.changed(**{"runs/0/run.json": run, "runs/0/checkpoint.npz": b"PK nothing"})
        self.assertIn("checkpoint.npz cannot be read", self.sent(content).json()["problems"][0]["problem"])
        self.assertEqual(self.sent(self.changed(**{"runs/0/run.json": run})).status_code, 201)

    def test_another_one_s_case(self) -> None:
        self.client.logout()
        self.assertEqual(self.client.get(f"/api/cases/{self.case.pk}/archive.zip").status_code, 401)
