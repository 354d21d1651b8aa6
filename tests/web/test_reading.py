"""Questions to the fields of a run over the API, and files of it read back by other programs' libraries."""

from __future__ import annotations

import base64
import gzip
import io
import json
import tempfile
import zipfile
from itertools import pairwise
from pathlib import Path
from typing import Any
from unittest.mock import patch
from xml.etree import ElementTree

import meshio
import numpy as np
import openpyxl
from django.contrib.auth.models import User
from django.test import TestCase

from tests.web.test_api import finished_run, quick_case
from wattikos_core.case import starter_case
from wattikos_core.read import pack_frame, unpack_frame
from wattikos_web.api.projects import create_case
from wattikos_web.models import CaseRecord, Frame, Project, Run


def floats(text: str) -> np.ndarray:
    return np.frombuffer(base64.b64decode(text), dtype="<f4")


class Reading(TestCase):
    user: User
    record: CaseRecord
    run_: Run
    longer: Run

    @classmethod
    def setUpTestData(cls) -> None:
        cls.user = User.objects.create_user("anna")
        project = Project.objects.create(owner=cls.user, name="Ferrow Dairy")
        case = quick_case()
        cls.record = create_case(project, case)
        cls.run_ = finished_run(cls.record)
        inputs = case.inputs | {"length": case.inputs["length"].model_copy(update={"value": "900 mm"})}
        cls.longer = finished_run(create_case(project, case.model_copy(update={"inputs": inputs, "title": "longer"})))

    def setUp(self) -> None:
        self.client.force_login(self.user)

    def post(self, path: str, body: Any, expect: int = 200) -> Any:
        answer = self.client.post(f"/api{path}", json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, expect, answer.content[:500])
        return answer.json() if "json" in answer["Content-Type"] else answer.content

    def line(self, run: Run, name: str) -> Any:
        line = next(one for one in self.record.document["reading"]["lines"] if one["name"] == name)
        (answer,) = self.post(f"/runs/{run.pk}/lines", {"lines": [line]})
        self.assertEqual((answer["name"], answer["problem"]), (name, ""))
        return answer["at"][0]

    def test_lines_of_the_case_lie_where_each_runs_inputs_put_them(self) -> None:
        """`length/2` is 300 mm in one run and 450 mm in the other; the plate's temperature lies between the streams'."""
        for run, middle in ((self.run_, 0.3), (self.longer, 0.45)):
            profile = self.line(run, "across the middle")["profiles"][0]
            np.testing.assert_allclose(floats(profile["x"]), middle, rtol=1e-6)
            temperature = floats(next(f["values"] for f in profile["fields"] if f["name"] == "temperature"))
            # Frames are kept to a thousandth of a kelvin here.
            self.assertTrue((np.diff(temperature) > -3e-3).all())
            self.assertAlmostEqual(profile["length"], 0.003, places=9)

    def test_bulk_and_local_coefficients(self) -> None:
        """Along the plate the mean of h on the local bulk is near the ledger's h of the hot stream."""
        fields = {f["name"]: f for f in self.line(self.run_, "plate, hot side")["profiles"][0]["fields"]}
        ledger = {row["name"]: row["solved"] for row in self.run_.ledger["quantities"]}  # type: ignore[index]
        self.assertAlmostEqual(fields["local h"]["statistics"]["mean"] / ledger["hot h"], 1.0, delta=0.06)
        self.assertAlmostEqual(abs(fields["heat flux into it"]["statistics"]["integral"]) / ledger["duty"], 1.0, delta=1e-3)
        stations = self.line(self.run_, "along the hot stream")["profiles"]
        told = [next(f for f in one["fields"] if f["name"] == "temperature")["statistics"]["flow_mean"] for one in stations]
        self.assertEqual(sorted(told, reverse=True), told)
        self.assertEqual(len(told), 8)

    def test_a_frame_as_it_is_kept(self) -> None:
        """Heading and codes say what the fields of the frame are, to the precision of frames; compressed on the way."""
        answer = self.client.get(f"/api/runs/{self.run_.pk}/frames/0/packed")
        self.assertEqual(answer["Content-Encoding"], "gzip")
        data = gzip.decompress(answer.content)
        length = int.from_bytes(data[:4], "little")
        heading = json.loads(data[4 : 4 + length])
        codes = np.frombuffer(data[4 + length :], dtype="<u2").reshape(len(heading), -1)
        kept = unpack_frame(bytes(self.run_.frames.get().data))
        for field, own in zip(heading, codes, strict=True):
            values = field["low"] + own / 65_534 * (field["high"] - field["low"])
            there = np.isfinite(kept[field["name"]])
            np.testing.assert_allclose(values[there], kept[field["name"]][there], rtol=1e-12)
            self.assertTrue((own[~there] == 65_535).all())
        self.assertEqual(self.client.get(f"/api/runs/{self.run_.pk}/frames/7/packed").status_code, 404)
        self.assertEqual(self.client.get(f"/api/runs/{self.run_.pk}/fields").json()["mesh"]["cells"], codes.shape[1])

    def test_the_grid_in_bytes(self) -> None:
        """Counts and arrays are those that the fields come with."""
        data = gzip.decompress(self.client.get(f"/api/runs/{self.run_.pk}/mesh/packed").content)
        nodes, cells, corners = np.frombuffer(data, "<u4", 3)
        mesh = self.client.get(f"/api/runs/{self.run_.pk}/fields").json()["mesh"]
        at = 12
        for name, length in (
            ("nodes", 8 * nodes),
            ("cell_start", 4 * (cells + 1)),
            ("cell_nodes", 4 * corners),
            ("region", 2 * cells),
        ):
            self.assertEqual(data[at : at + length], base64.b64decode(mesh[name]), name)
            at += length
        self.assertEqual((cells, at), (mesh["cells"], len(data)))

    def test_a_line_that_is_none(self) -> None:
        line = {"name": "lost", "along": {"type": "straight", "x0": "nowhere", "y0": "0 m", "x1": "1 m", "y1": "0 m"}}
        whole = next(one for one in self.record.document["reading"]["lines"])
        lost, read = self.post(f"/runs/{self.run_.pk}/lines", {"lines": [line, whole]})
        self.assertIn("nowhere", lost["problem"])
        self.assertEqual((lost["at"], read["problem"], len(read["at"])), ([], "", 1))

    def test_on_the_walls(self) -> None:
        """Heat flux on all walls, none on what fluid passes; its mean over a wall is the heat of the ledger."""
        walls = {wall["name"]: wall for wall in self.post(f"/runs/{self.run_.pk}/walls", {"field": "heat flux into it"})}
        self.assertIn("plate | hot", walls)
        self.assertNotIn("hot, left", walls)
        flux, x, normal = (floats(walls["plate | hot"][name]) for name in ("values", "x", "normal_y"))
        self.assertEqual(flux.size, x.size)
        # The hot stream lies above the plate, and gives it heat.
        self.assertTrue((normal > 0.99).all())
        self.assertLess(flux.max(), 0.0)
        self.assertEqual(self.post(f"/runs/{self.run_.pk}/walls", {"field": "shine"}, 422)["problems"][0]["field"][-5:], "field")

    def test_probes_each_answer_for_themselves(self) -> None:
        probes = [
            {"name": "in", "at": {"type": "point", "x": "length/2", "y": "cold_height + plate/2"}},
            {"name": "out", "at": {"type": "point", "x": "2*length", "y": "0 m"}},
            {"name": "box", "at": {"type": "box", "x0": "0 m", "y0": "0 m", "x1": "length", "y1": "cold_height"}},
            {"name": "part", "at": {"type": "part", "part": "plate"}},
        ]
        found = self.post(f"/runs/{self.run_.pk}/probes", {"probes": probes})
        values = {one["name"]: {f["name"]: f for f in one["fields"]} for one in found}
        self.assertIn("outside", found[1]["problem"])
        np.testing.assert_allclose(found[0]["place"], [0.3, 0.0015])
        ledger = {row["name"]: row["solved"] for row in self.run_.ledger["quantities"]}  # type: ignore[index]
        for name, quantity in (("box", "mean temperature of cold"), ("part", "mean temperature of plate")):
            self.assertAlmostEqual(values[name]["temperature"]["mean"], ledger[quantity], delta=2e-3)
        self.assertLess(values["part"]["temperature"]["lowest"], values["in"]["temperature"]["mean"])

    def test_streamlines_begin_at_an_inlet_with_equal_flow(self) -> None:
        body = {"how": "line", "count": 6, "line": {"name": "inlet", "along": {"type": "surface", "boundaries": ["hot, left"]}}}
        lines = self.post(f"/runs/{self.run_.pk}/streamlines", body)
        start = np.frombuffer(base64.b64decode(lines["start"]), dtype="<u4")
        points = floats(lines["points"]).reshape(-1, 2)
        self.assertEqual(start.size, 7)
        for first, last in pairwise(start):
            self.assertAlmostEqual(float(points[last - 1, 0]), 0.6, delta=0.002)
            self.assertLess(float(points[first, 0]), 0.001)
        even = self.post(f"/runs/{self.run_.pk}/streamlines", {"how": "even", "distance": 0.02, "stretch": 50.0})
        self.assertGreater(len(even["closed"]), 4)
        self.post(f"/runs/{self.run_.pk}/streamlines", {"how": "line"}, 422)

    def test_two_runs_beside_each_other(self) -> None:
        answer = self.client.get(f"/api/compare?run={self.run_.pk}&run={self.longer.pk}")
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        compared = answer.json()
        self.assertEqual([run["run"] for run in compared["runs"]], [self.run_.pk, self.longer.pk])
        self.assertEqual(compared["given"], [{"name": "plate length", "values": ["600 mm", "900 mm"]}])
        duty = next(row for row in compared["ledger"] if row["name"] == "duty")
        self.assertTrue(duty["wanted"])
        self.assertGreater(duty["values"][1], duty["values"][0])
        self.assertEqual(self.client.get(f"/api/compare?run={self.run_.pk}").status_code, 422)

    def test_difference_of_a_run_from_itself_and_from_another(self) -> None:
        own = self.client.get(f"/api/runs/{self.run_.pk}/difference/{self.run_.pk}?field=temperature").json()
        self.assertEqual((own["low"], own["high"], own["kind"]), (0.0, 0.0, "temperature_difference"))
        other = self.client.get(f"/api/runs/{self.run_.pk}/difference/{self.longer.pk}?field=temperature").json()
        self.assertLess(other["low"], -1.0)
        wrong = self.client.get(f"/api/runs/{self.run_.pk}/difference/{self.longer.pk}?field=wind")
        self.assertEqual(wrong.json()["problems"][0]["field"], "field")

    def test_what_is_read_of_a_run_is_made_once(self) -> None:
        """Also of one in which nothing flows, which has no streams to tell of."""
        run = finished_run(create_case(self.record.project, starter_case("plate_sink")))
        body = {"probes": [{"name": "base", "at": {"type": "part", "part": "base"}}]}
        self.post(f"/runs/{run.pk}/probes", body)
        with patch("wattikos_web.reading.read_case", side_effect=AssertionError):
            self.post(f"/runs/{run.pk}/probes", body)

    def test_nobody_elses(self) -> None:
        self.client.force_login(User.objects.create_user("bert"))
        for path in (
            f"/compare?run={self.run_.pk}&run={self.longer.pk}",
            f"/runs/{self.run_.pk}/difference/{self.longer.pk}?field=speed",
        ):
            self.assertEqual(self.client.get(f"/api{path}").status_code, 404)
        self.post(f"/runs/{self.run_.pk}/probes", {"probes": []}, 404)

    def test_the_ledger_as_a_workbook(self) -> None:
        answer = self.client.get(f"/api/runs/{self.run_.pk}/ledger.xlsx")
        sheet = openpyxl.load_workbook(io.BytesIO(answer.content))["ledger"]
        rows = list(sheet.iter_rows(values_only=True))
        self.assertEqual(rows[0][:2], ("quantity", "unit"))
        duty = next(row for row in rows if row[0] == "duty")
        ledger = {row["name"]: row["solved"] for row in self.run_.ledger["quantities"]}  # type: ignore[index]
        self.assertAlmostEqual(duty[5], ledger["duty"], delta=1e-4 * ledger["duty"])

    def test_a_table_of_the_desk_as_a_workbook(self) -> None:
        """Numbers stay numbers, and nothing becomes a formula."""
        body = {"name": "a/b: c", "columns": ["what", "°C"], "rows": [["wall", 12.5], ["=1+1", None]]}
        sheet = openpyxl.load_workbook(io.BytesIO(self.post("/table.xlsx", body))).worksheets[0]
        self.assertEqual(list(sheet.iter_rows(values_only=True)), [("what", "°C"), ("wall", 12.5), ("'=1+1", None)])

    def test_all_frames_with_their_collection(self) -> None:
        """Three frames: three files that meshio reads, at the times the collection says."""
        data = bytes(self.run_.frames.get().data)
        fields = unpack_frame(data)
        run = Run.objects.get(pk=self.run_.pk)
        run.frames.all().delete()
        for number, time in enumerate((0.0, 1.5, 3.0)):
            warmer = fields | {"temperature": fields["temperature"] + time}
            Frame.objects.create(run=run, number=number, time=time, data=pack_frame(warmer))
        answer = self.client.get(f"/api/runs/{run.pk}/series.zip")
        with tempfile.TemporaryDirectory() as folder, zipfile.ZipFile(io.BytesIO(answer.content)) as packed:
            packed.extractall(folder)
            sets = ElementTree.parse(Path(folder) / "series.pvd").findall("Collection/DataSet")
            self.assertEqual([float(one.get("timestep", "")) for one in sets], [0.0, 1.5, 3.0])
            last = meshio.read(Path(folder) / sets[-1].get("file", ""))
            found = np.concatenate(last.cell_data["temperature"])
            self.assertAlmostEqual(float(found.mean()), float(fields["temperature"].mean()) + 3.0, places=3)
