"""Files through the API: outlines, tables and grids in, grids out; and what the desk is shown of shapes."""

from __future__ import annotations

import json
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from tests.formats.test_imports import dxf
from tests.web.test_api import ApiCase
from wattikos_core.case import read_case, starter_case
from wattikos_web.api.projects import create_case
from wattikos_web.models import GridFile
from wattikos_web.worker.tasks import perform


class Files(ApiCase):
    def upload(self, path: str, name: str, content: bytes, **fields: str) -> Any:
        return self.client.post(path, {"file": SimpleUploadedFile(name, content), **fields})

    def test_an_outline_becomes_a_shape(self) -> None:
        answer = self.upload("/api/import/outline", "plate.dxf", dxf())
        self.assertEqual(answer.status_code, 200)
        shape = answer.json()["shape"]
        self.assertEqual((shape["type"], shape["source"], len(shape["loops"])), ("outline", "plate.dxf", 2))
        self.assertAlmostEqual(answer.json()["width"], 0.04, places=6)
        document = {**self.document, "conditions": [], "estimates": [], "wanted": [], "watches": []}
        document["section"] = {"parts": [{"name": "plate", "material": "iron", "shape": shape}]}
        sketch = self.post("/api/evaluate", {"document": document}).json()["sketch"]
        self.assertEqual(len(sketch["parts"][0]["rings"]), 2)

    def test_a_file_that_is_none_is_told_in_words(self) -> None:
        answer = self.upload("/api/import/outline", "plate.dxf", b"no drawing")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("cannot be read as DXF", answer.json()["problems"][0]["problem"])
        self.assertEqual(self.upload("/api/import/table", "t.csv", b"1,2\n").status_code, 422)
        self.assertEqual(self.upload(f"/api/cases/{self.case.pk}/grid-file", "g.vtu", b"none").status_code, 422)
        self.assertEqual(self.upload("/api/import/outline", "a.csv", b"0,0\n1,0\n1,1\n", unit="degC").status_code, 422)

    def test_a_table(self) -> None:
        answer = self.upload("/api/import/table", "wall.csv", b"0,20\n10,30\n", unit="mm", value_unit="degC")
        self.assertEqual(answer.json()["rows"], [[0.0, 20.0], [10.0, 30.0]])

    def test_a_grid_goes_out_and_comes_back_and_is_solved_on(self) -> None:
        case = starter_case("vane")
        record = create_case(self.project, case)
        document = json.loads(case.model_dump_json())
        saved = self.post("/api/grid.vtu", {"document": document})
        self.assertEqual(saved.status_code, 200)
        answer = self.upload(f"/api/cases/{record.pk}/grid-file", "vane.vtu", saved.content)
        self.assertEqual(answer.status_code, 201)
        cells = self.post("/api/grid", {"document": document}).json()["cells"]
        self.assertEqual(answer.json(), {"name": "vane.vtu", "cells": cells})
        document["grid"]["file"] = "vane.vtu"
        # Without its case the file is not there; with it the same grid is shown.
        self.assertEqual(self.post("/api/grid", {"document": document}).status_code, 422)
        self.assertEqual(self.post("/api/grid", {"document": document, "case": record.pk}).json()["cells"], cells)
        content = bytes(GridFile.objects.get().content)
        result = perform("solve", document, None, False, content, [], lambda message: None, lambda: False)
        self.assertEqual(result["summary"]["cells"], cells)

    def test_the_grid_of_another_user_is_not_found(self) -> None:
        self.client.force_login(self.other)
        self.assertEqual(self.upload(f"/api/cases/{self.case.pk}/grid-file", "g.vtu", b"x").status_code, 404)
        self.assertEqual(self.post("/api/grid", {"document": self.document, "case": self.case.pk}).status_code, 404)


class Views(ApiCase):
    def view(self, key: str, **inputs: str) -> Any:
        document = json.loads(starter_case(key).model_dump_json())
        for name, value in inputs.items():
            document["inputs"][name]["value"] = value
        answer = self.post("/api/evaluate", {"document": document})
        self.assertEqual(answer.status_code, 200)
        return answer.json()

    def test_every_starter_can_be_looked_at(self) -> None:
        for starter in self.client.get("/api/catalogue").json()["starters"]:
            view = self.view(starter["key"])
            if starter["key"] == "empty":
                self.assertEqual((view["problems"][0]["remedy"], view["sketch"]["parts"]), ("draw one", []))
                continue
            self.assertEqual(view["problems"], [], starter["key"])
            self.assertTrue(view["sketch"]["outlines"])
        drawn = {one["key"] for one in self.client.get("/api/starters").json()}
        self.assertEqual(drawn | {"empty"}, {one["key"] for one in self.client.get("/api/catalogue").json()["starters"]})

    def test_copies_share_the_name_of_their_boundaries(self) -> None:
        sketch = self.view("bundle_staggered")["sketch"]
        inside = [b for b in sketch["boundaries"] if b["name"].endswith(", inside")]
        self.assertEqual(len(inside), 6)
        self.assertEqual({b["general"] for b in inside}, {"tube, inside"})
        self.assertEqual({o["origin"] for o in sketch["outlines"] if o["void"]}, {"bore"})

    def test_a_problem_has_its_place(self) -> None:
        document = {**self.document, "conditions": [], "estimates": [], "wanted": [], "watches": []}
        points = [["0 mm", "0 mm"], ["20 mm", "20 mm"], ["20 mm", "0 mm"], ["0 mm", "20 mm"]]
        document["section"] = {"parts": [{"name": "bow", "material": "iron", "shape": {"type": "polygon", "points": points}}]}
        problem = self.post("/api/evaluate", {"document": document}).json()["problems"][0]
        self.assertAlmostEqual(problem["at"][0], 0.01, places=3)

    def test_worst_cells_come_with_a_grid(self) -> None:
        document = json.loads(starter_case("vane").model_dump_json())
        worst = self.post("/api/grid", {"document": document}).json()["worst"]
        self.assertEqual({w["measure"] for w in worst}, {"non-orthogonality", "aspect ratio", "growth"})

    def test_a_run_on_a_hairline_gap_is_refused_with_its_place(self) -> None:
        document = json.loads(starter_case("bundle_staggered").model_dump_json())
        document["inputs"]["pitch_y"]["value"] = "24 mm"
        bars = []
        for name, y in (("lower", "5 mm"), ("upper", "9.00002 mm")):
            shape = {"type": "rectangle", "x": "110 mm", "y": y, "width": "20 mm", "height": "4 mm"}
            bars.append({"name": name, "material": "copper", "angle": "0.001 deg", "shape": shape})
        document["section"]["parts"] += bars
        record = create_case(self.project, read_case(document))
        answer = self.post(f"/api/cases/{record.pk}/runs", {"kind": "solve", "revision": 1})
        self.assertEqual(answer.status_code, 422)
        problem = answer.json()["problems"][0]
        self.assertIn("mm wide at", problem["problem"])
        self.assertAlmostEqual(problem["at"][1], 0.009, places=4)
