"""The API: whose is whose, saving, bad input, runs, headers. The server never answers 500 to bad input."""

from __future__ import annotations

import json
from typing import Any

from django.contrib.auth.models import User
from django.test import Client, TestCase

from wattikos_core.case import starter_case
from wattikos_web.api.projects import create_case
from wattikos_web.models import CaseRecord, CaseRevision, Frame, Project, Run
from wattikos_web.signin import new_link
from wattikos_web.worker.tasks import perform


def quick_case() -> Any:
    case = starter_case("plate_passage")
    return case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.3})})


def finished_run(record: CaseRecord, kind: str = "solve") -> Run:
    """A run of a case, carried out here and stored as the worker would."""
    result = perform(kind, record.document, None, False, None, [], lambda message: None, lambda: False)
    run = Run.objects.create(
        case=record,
        kind=kind,
        state="done",
        document=result.get("document", record.document),
        revision=1,
        ledger=result["ledger"],
        summary=result["summary"],
        checkpoint=result["checkpoint"],
        history=[{"step": 1, "momentum": 1.0}, {"step": 2, "momentum": 0.5}],
    )
    if result["frame"] is not None:
        Frame.objects.create(run=run, number=0, time=None, data=result["frame"])
    return run


class ApiCase(TestCase):
    user: User
    other: User
    project: Project
    case: CaseRecord

    @classmethod
    def setUpTestData(cls) -> None:
        cls.user = User.objects.create_user("anna", password="a long password")
        cls.other = User.objects.create_user("bert", password="another password")
        cls.project = Project.objects.create(owner=cls.user, name="Ferrow Dairy")
        cls.case = create_case(cls.project, quick_case())

    def setUp(self) -> None:
        self.client.force_login(self.user)
        self.document = json.loads(quick_case().model_dump_json())

    def post(self, path: str, body: Any, client: Client | None = None) -> Any:
        return (client or self.client).post(path, json.dumps(body), content_type="application/json")

    def save(self, document: Any, revision: int) -> Any:
        body = json.dumps({"revision": revision, "document": document})
        return self.client.put(f"/api/cases/{self.case.pk}", body, content_type="application/json")


class Access(ApiCase):
    def test_signed_out_means_401(self) -> None:
        self.client.logout()
        for path in ("/api/projects", f"/api/cases/{self.case.pk}", "/api/catalogue"):
            self.assertEqual(self.client.get(path).status_code, 401)

    def test_others_get_404_everywhere(self) -> None:
        run = Run.objects.create(case=self.case, kind="solve", document=self.document, revision=1)
        self.client.force_login(self.other)
        gets = [f"/api/projects/{self.project.pk}/cases", f"/api/cases/{self.case.pk}", f"/api/cases/{self.case.pk}/runs"]
        gets += [f"/api/runs/{run.pk}{end}" for end in ("", "/fields", "/fields.vtu", "/ledger.json", "/ledger.csv", "/case.json")]
        gets += [f"/api/cases/{self.case.pk}/revisions", f"/api/cases/{self.case.pk}/revisions/1"]
        for path in gets:
            self.assertEqual(self.client.get(path).status_code, 404, path)
        self.assertEqual(self.save(self.document, 1).status_code, 404)
        self.assertEqual(self.client.delete(f"/api/cases/{self.case.pk}").status_code, 404)
        self.assertEqual(self.post(f"/api/runs/{run.pk}/stop", {}).status_code, 404)
        self.assertEqual(self.post(f"/api/cases/{self.case.pk}/runs", {"revision": 1}).status_code, 404)
        self.assertEqual(self.post(f"/api/projects/{self.project.pk}/cases", {"starter": "plate_passage"}).status_code, 404)
        own = Project.objects.create(owner=self.other, name="mine")
        self.assertEqual(self.post(f"/api/projects/{own.pk}/cases", {"copy_of": self.case.pk}).status_code, 404)

    def test_writing_needs_the_csrf_token(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        strict.force_login(self.user)
        self.assertEqual(self.post("/api/projects", {"name": "x"}, strict).status_code, 403)
        strict.get("/api/session")
        token = strict.cookies["csrftoken"].value
        answer = strict.post(
            "/api/projects", json.dumps({"name": "x"}), content_type="application/json", headers={"X-CSRFToken": token}
        )
        self.assertEqual(answer.status_code, 201)

    def test_security_headers(self) -> None:
        answer = self.client.get("/api/session")
        self.assertIn("default-src 'self'", answer.headers["Content-Security-Policy"])
        self.assertEqual(answer.headers["X-Frame-Options"], "DENY")
        self.assertEqual(answer.headers["X-Content-Type-Options"], "nosniff")

    def test_sign_in_with_password_and_out(self) -> None:
        client = Client()
        self.assertEqual(self.post("/api/session", {"username": "anna", "password": "wrong"}, client).status_code, 403)
        self.assertEqual(
            self.post("/api/session", {"username": "anna", "password": "a long password"}, client).json()["user"], "anna"
        )
        client.delete("/api/session")
        self.assertIsNone(client.get("/api/session").json()["user"])

    def test_a_sign_in_link_works_once(self) -> None:
        link = new_link(self.user)
        first, second = Client(), Client()
        self.assertEqual(first.get(link).headers["Location"], "/")
        self.assertEqual(first.get("/api/session").json()["user"], "anna")
        self.assertIn("used", second.get(link).headers["Location"])
        self.assertIsNone(second.get("/api/session").json()["user"])


class Saving(ApiCase):
    def test_a_save_raises_the_revision_and_keeps_the_former_one(self) -> None:
        self.document["title"] = "renamed"
        self.assertEqual(self.save(self.document, 1).json(), {"revision": 2})
        stored = self.client.get(f"/api/cases/{self.case.pk}").json()
        self.assertEqual((stored["title"], stored["revision"]), ("renamed", 2))
        former = self.client.get(f"/api/cases/{self.case.pk}/revisions/1").json()
        self.assertEqual(former["title"], "Plate regenerator passage")
        self.assertEqual([r["number"] for r in self.client.get(f"/api/cases/{self.case.pk}/revisions").json()], [2, 1])

    def test_two_tabs_are_told_and_neither_loses(self) -> None:
        mine, theirs = json.loads(json.dumps(self.document)), json.loads(json.dumps(self.document))
        theirs["title"], mine["title"] = "theirs", "mine"
        self.assertEqual(self.save(theirs, 1).status_code, 200)
        answer = self.save(mine, 1)
        self.assertEqual(answer.status_code, 409)
        self.assertEqual(answer.json()["document"]["title"], "theirs")
        self.assertIn("saved elsewhere", answer.json()["problems"][0]["problem"])
        self.assertEqual(self.save(mine, answer.json()["revision"]).status_code, 200)
        titles = {r.document["title"] for r in CaseRevision.objects.filter(case=self.case)}
        self.assertTrue({"mine", "theirs"} <= titles)

    def test_half_typed_values_are_saved_as_they_are(self) -> None:
        self.document["inputs"]["length"]["value"] = "60"
        self.assertEqual(self.save(self.document, 1).status_code, 200)
        self.assertEqual(self.client.get(f"/api/cases/{self.case.pk}").json()["document"]["inputs"]["length"]["value"], "60")

    def test_saving_the_same_changes_nothing(self) -> None:
        self.assertEqual(self.save(self.document, 1).json(), {"revision": 1})


class Looking(ApiCase):
    def test_the_view_of_the_starter(self) -> None:
        view = self.post("/api/evaluate", {"document": self.document}).json()
        self.assertEqual(view["problems"], [])
        flags = {b["name"]: b["flag"] for b in view["sketch"]["boundaries"]}
        self.assertEqual(flags["hot, left"], "4.6 g/s · 72 °C")
        self.assertEqual({d["input"] for d in view["sketch"]["dimensions"]}, {"length", "cold_height", "plate", "hot_height"})
        self.assertEqual(next(r for r in view["ledger"] if r["name"] == "duty")["solved"], None)
        self.assertGreater(view["grid"]["cells"], 300)

    def test_problems_leave_what_can_be_computed(self) -> None:
        self.document["inputs"]["length"]["value"] = "60"
        view = self.post("/api/evaluate", {"document": self.document}).json()
        problem = next(p for p in view["problems"] if p["field"] == "inputs.length")
        self.assertIn("60 mm", problem["remedy"])
        self.assertIsNone(view["sketch"])
        self.assertEqual(next(i for i in view["inputs"] if i["name"] == "plate")["text"], "0.6 mm")

    def test_a_bad_condition_still_shows_the_drawing(self) -> None:
        self.document["conditions"][0]["boundaries"] = ["hot, lfet"]
        view = self.post("/api/evaluate", {"document": self.document}).json()
        self.assertIsNotNone(view["sketch"])
        self.assertIn("hot, left", view["problems"][0]["remedy"])

    def test_grid(self) -> None:
        self.assertGreater(self.post("/api/grid", {"document": self.document}).json()["cells"], 300)

    def test_home_page_cards(self) -> None:
        card = self.client.get(f"/api/projects/{self.project.pk}/cases").json()[0]
        self.assertEqual([row["name"] for row in card["ledger"]][:2], ["effectiveness", "duty"])
        self.assertIsNotNone(card["sketch"])

    def test_catalogue_converts_temperatures(self) -> None:
        kinds = {k["name"]: k for k in self.client.get("/api/catalogue").json()["kinds"]}
        celsius = next(u for u in kinds["temperature"]["units"] if u["unit"] == "degC")
        self.assertAlmostEqual(300.0 / celsius["factor"] - celsius["offset"], 26.85)


class NewCases(ApiCase):
    def test_from_starter_copy_and_document(self) -> None:
        path = f"/api/projects/{self.project.pk}/cases"
        self.assertEqual(self.post(path, {"starter": "plate_passage", "title": "second"}).json()["title"], "second")
        self.assertIn("copy", self.post(path, {"copy_of": self.case.pk}).json()["title"])
        self.assertEqual(self.post(path, {"document": self.document}).status_code, 201)
        self.assertEqual(self.post(path, {"starter": "boat"}).status_code, 422)
        self.assertEqual(self.post(path, {"document": {"title": "x"}}).status_code, 422)
        self.assertEqual(self.post("/api/projects", {"name": "  "}).status_code, 422)


class BadInput(ApiCase):
    def test_nothing_makes_the_server_answer_500(self) -> None:
        def broken(path: str, value: Any) -> dict[str, Any]:
            data = json.loads(json.dumps(self.document))
            place: Any = data
            *steps, last = path.split("/")
            for step in steps:
                place = place[int(step)] if isinstance(place, list) else place[step]
            place[int(last) if isinstance(place, list) else last] = value
            return data

        values = [
            "",
            "1/0",
            "9**9**9",
            "-1 mm",
            "nan",
            "1e999 mm",
            "0 mm",
            "x" * 399,
            "\u0000",
            "🔥",
            "length",
            "1 mm 2 mm",
            "(((",
            "1e-30 m",
            "1e30 m",
        ]
        paths = [
            "inputs/length/value",
            "inputs/hot_inlet/value",
            "section/depth",
            "section/parts/0/shape/x",
            "conditions/0/mass_flow",
        ]
        paths += ["section/parts/1/material", "section/parts/0/present", "section/parts/0/name", "wanted/0/target", "sizing/target"]
        paths += ["conditions/0/boundaries/0", "estimates/0/hot", "wanted/0/key", "wanted/0/key/quantity", "wanted/0/key/of"]
        paths += ["inputs/length/kind", "inputs/length/lower"]
        for path in paths:
            entries: list[Any] = [*values, 5, None, [], {}]
            for value in entries:
                data = broken(path, value)
                for target in ("/api/evaluate", "/api/grid"):
                    answer = self.post(target, {"document": data})
                    self.assertIn(answer.status_code, (200, 422), f"{target} {path} {value!r}")

    def test_rubbish_bodies(self) -> None:
        bodies: list[Any] = [[], "x", 3, None, {"inputs": 4}, {"version": "two"}]
        for body in bodies:
            for path in ("/api/evaluate", "/api/grid", "/api/series/by-hand"):
                self.assertEqual(self.post(path, body).status_code, 422, f"{path} {body!r}")
        answer = self.client.post("/api/evaluate", "{not json", content_type="application/json")
        self.assertIn(answer.status_code, (400, 422))

    def test_unknown_addresses(self) -> None:
        self.assertEqual(self.client.get("/api/cases/999999").status_code, 404)
        self.assertEqual(self.client.get("/api/runs/999999/fields").status_code, 404)


class Runs(ApiCase):
    def finished(self, kind: str = "solve") -> Run:
        return finished_run(self.case, kind)

    def test_a_run_that_nobody_can_read_any_more_leaves_the_rest(self) -> None:
        old = self.finished()
        Run.objects.filter(pk=old.pk).update(document={"version": 99, "title": "of tomorrow"})
        answer = self.post("/api/evaluate", {"document": self.document, "runs": [old.pk]})
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(answer.json()["changed"][str(old.pk)], ["a document that cannot be read any more"])
        self.assertTrue(answer.json()["ledger"])

    def test_a_run_is_queued_with_the_case_as_it_stands(self) -> None:
        answer = self.post(f"/api/cases/{self.case.pk}/runs", {"revision": 1})
        self.assertEqual((answer.status_code, answer.json()["state"]), (201, "queued"))
        self.document["title"] = "changed later"
        self.save(self.document, 1)
        run = self.client.get(f"/api/runs/{answer.json()['id']}").json()
        self.assertEqual(run["document"]["title"], "Plate regenerator passage")

    def test_an_old_revision_is_not_run(self) -> None:
        self.assertEqual(self.post(f"/api/cases/{self.case.pk}/runs", {"revision": 7}).status_code, 409)

    def test_what_cannot_be_solved_is_refused_at_once(self) -> None:
        self.document["inputs"]["length"]["value"] = "-3 mm"
        self.save(self.document, 1)
        answer = self.post(f"/api/cases/{self.case.pk}/runs", {"revision": 2})
        self.assertEqual(answer.status_code, 422)
        self.assertTrue(answer.json()["problems"])
        CaseRecord.objects.filter(pk=self.case.pk).update(document={**json.loads(quick_case().model_dump_json()), "sizing": {}})
        answer = self.post(f"/api/cases/{self.case.pk}/runs", {"revision": 2, "kind": "sizing"})
        self.assertEqual(answer.status_code, 422)

    def test_reading_a_finished_run(self) -> None:
        run = self.finished()
        data = self.client.get(f"/api/runs/{run.pk}?since=1").json()
        self.assertEqual((len(data["history"]), data["steps"]), (1, 2))
        fields = self.client.get(f"/api/runs/{run.pk}/fields").json()
        names = {f["name"] for f in fields["fields"]}
        self.assertTrue({"temperature", "speed", "pressure"} <= names)
        temperature = next(f for f in fields["fields"] if f["name"] == "temperature")
        self.assertTrue(278.0 < temperature["low"] < temperature["high"] < 346.0)
        self.assertIn(b"VTKFile", self.client.get(f"/api/runs/{run.pk}/fields.vtu").content)
        self.assertIn("duty", self.client.get(f"/api/runs/{run.pk}/ledger.csv").content.decode())
        self.assertEqual(json.loads(self.client.get(f"/api/runs/{run.pk}/case.json").content)["starter"], "plate_passage")

    def test_a_run_without_fields_has_none(self) -> None:
        run = Run.objects.create(case=self.case, kind="solve", document=self.document, revision=1)
        self.assertEqual(self.client.get(f"/api/runs/{run.pk}/fields").status_code, 404)
        self.assertEqual(self.client.get(f"/api/runs/{run.pk}/ledger.csv").status_code, 404)

    def test_stopping_what_waits_and_what_runs(self) -> None:
        waiting = Run.objects.create(case=self.case, kind="solve", document=self.document, revision=1)
        running = Run.objects.create(case=self.case, kind="solve", document=self.document, revision=1, state="running")
        self.assertEqual(self.post(f"/api/runs/{waiting.pk}/stop", {}).json()["state"], "stopped")
        self.post(f"/api/runs/{running.pk}/stop", {})
        running.refresh_from_db()
        self.assertTrue(running.stop_wanted)

    def test_errors_of_the_core_come_back_as_data(self) -> None:
        self.document["inputs"]["length"]["value"] = "no"
        self.assertIn("failure", perform("solve", self.document, None, False, None, [], lambda message: None, lambda: False))
