"""Nothing that one run, a deletion, a full disk or a lock does ends the worker or the server, and nothing is lost by it."""

from __future__ import annotations

import subprocess
import sys
import time
from datetime import timedelta
from typing import Any
from unittest import mock

from django.db import OperationalError, connection
from django.test import Client, SimpleTestCase, TestCase, TransactionTestCase, override_settings
from django.utils import timezone

from tests.web.test_api import ApiCase
from tests.web.working import WorkerTestCase
from wattikos_core.case import starter_case
from wattikos_web.api.projects import create_case
from wattikos_web.demo import demo_user
from wattikos_web.management.commands.serve import Kept
from wattikos_web.models import CaseRecord, Frame, Run, WorkerState
from wattikos_web.trouble import trouble_of


class OneRunIsOneRun(WorkerTestCase):
    def running(self) -> Run:
        run = self.queued(3.0, method="segregated", max_steps=500)
        self.addCleanup(self.engine.ask_to_stop, run.pk)
        self.until(lambda: self.state(run) == "running" and bool(run.progress.get("residuals")))
        return run

    def test_a_case_may_be_deleted_while_it_runs(self) -> None:
        run = self.running()
        Run.objects.filter(pk=run.pk).delete()
        after = self.queued(0.3)
        self.until(self.over(after))
        self.assertEqual(self.state(after), "done")
        self.assertNotIn(run.pk, self.loop.active)

    def test_a_frame_of_a_deleted_run_is_dropped(self) -> None:
        run = self.running()
        active = self.loop.active[run.pk]
        Run.objects.filter(pk=run.pk).delete()
        active.frames.append({"time": 1.0, "data": b"", "checkpoint": None})
        self.loop._store_frames(run.pk, active)
        self.assertEqual((active.frames, Frame.objects.count()), ([], 0))

    def test_an_error_with_one_run_leaves_the_others(self) -> None:
        bad = self.running()
        with (
            mock.patch.object(self.loop, "_listen", side_effect=RuntimeError("of its own")),
            self.assertLogs("wattikos_web", "ERROR"),
        ):
            self.loop.tick()
        self.assertEqual(self.state(bad), "failed")
        after = self.queued(0.3)
        self.until(self.over(after))
        self.assertEqual(self.state(after), "done")

    def test_what_a_full_disk_refuses_is_written_when_there_is_room(self) -> None:
        run = self.queued(0.3)
        self.until(lambda: run.pk in self.loop.active)
        active = self.loop.active[run.pk]
        while not active.future.done():
            time.sleep(0.05)
        full = OperationalError("database or disk is full")
        with mock.patch.object(self.loop, "_store_result", side_effect=full), self.assertLogs("wattikos_web", "WARNING"):
            for _ in range(3):
                self.loop.tick()
        self.assertEqual(self.state(run), "running")
        self.assertGreater(self.loop._pause, 0.5)
        self.until(self.over(run))
        self.assertEqual(self.state(run), "done")
        self.assertTrue(run.checkpoint)

    def test_what_was_deleted_goes_for_good_when_nobody_is_offered_it(self) -> None:
        ago = {31: create_case(self.record.project, starter_case("empty")), 29: self.record}
        for days, record in ago.items():
            CaseRecord.objects.filter(pk=record.pk).update(deleted=timezone.now() - timedelta(days=days))
        self.loop.tick()
        self.assertEqual(list(CaseRecord.objects.values_list("pk", flat=True)), [self.record.pk])

    def test_what_nobody_waits_for_gives_way(self) -> None:
        background = self.running()
        Run.objects.filter(pk=background.pk).update(background=True)
        self.loop.active[background.pk].background = True
        asked_for = self.queued(0.3)
        self.until(self.over(asked_for))
        self.assertEqual(self.state(asked_for), "done")
        self.assertIn(self.state(background), ("queued", "running"))
        self.loop.give_back()

    def test_what_a_person_asks_for_is_claimed_first(self) -> None:
        demo = self.queued(0.3)
        Run.objects.filter(pk=demo.pk).update(background=True)
        asked_for = self.queued(0.3)
        self.loop._claim()
        self.assertEqual(list(self.loop.active), [asked_for.pk])
        self.until(self.over(demo))

    def test_a_worker_says_that_it_lives(self) -> None:
        self.loop.tick()
        self.assertEqual(WorkerState.objects.get().name, self.loop.name)


class Deleting(ApiCase):
    def test_a_deleted_case_can_be_brought_back(self) -> None:
        queued = Run.objects.create(case=self.case, kind="solve", document=self.document, revision=1)
        going = Run.objects.create(case=self.case, kind="solve", document=self.document, revision=1, state="running")
        self.assertEqual(self.client.delete(f"/api/cases/{self.case.pk}").status_code, 204)
        queued.refresh_from_db()
        going.refresh_from_db()
        self.assertEqual((queued.state, going.stop_wanted), ("stopped", True))
        self.assertEqual(self.client.get(f"/api/cases/{self.case.pk}").status_code, 404)
        self.assertEqual(self.client.get(f"/api/runs/{going.pk}").status_code, 404)
        self.assertEqual(self.client.get(f"/api/projects/{self.project.pk}/cases").json(), [])
        gone = self.client.get(f"/api/projects/{self.project.pk}/deleted").json()
        self.assertEqual([line["id"] for line in gone], [self.case.pk])
        other = Client()
        other.force_login(self.other)
        self.assertEqual(other.post(f"/api/cases/{self.case.pk}/bring-back").status_code, 404)
        self.assertEqual(self.client.post(f"/api/cases/{self.case.pk}/bring-back").status_code, 200)
        self.assertEqual(len(self.client.get(f"/api/projects/{self.project.pk}/cases").json()), 1)


class OneBadCase(ApiCase):
    def test_it_is_one_bad_card(self) -> None:
        """An unknown unit, one of another kind, a newer version, a broken table, no document at all: all others are there."""
        unknown, of_mass = (json_of(self.document) for _ in range(2))
        unknown["inputs"]["length"]["unit"] = "furlong_x"
        of_mass["inputs"]["length"] |= {"value": "0.004 kg", "unit": "kg"}
        broken = {**json_of(self.document), "tables": {"day": {"unit": "nonsense", "rows": [[0, 1], [1, 2]]}}}
        documents: tuple[Any, ...] = (unknown, of_mass, broken, {**self.document, "version": 99}, {"x": 1}, [], "text")
        for document in documents:
            with self.subTest(str(document)[:40]):
                bad = CaseRecord.objects.create(project=self.project, title="bad", document=document)
                answer = self.client.get(f"/api/projects/{self.project.pk}/cases")
                self.assertEqual(answer.status_code, 200)
                cards = {card["id"]: card for card in answer.json()}
                self.assertGreater(cards[bad.pk]["problems"], 0)
                self.assertEqual(cards[self.case.pk]["problems"], 0)
                self.assertIn(self.client.get(f"/api/cases/{bad.pk}").status_code, (200, 422))
                self.assertEqual(self.client.get(f"/api/cases/{bad.pk}/case.json").json(), document)
                bad.delete()

    def test_a_unit_of_another_kind_is_told_at_its_field(self) -> None:
        self.document["inputs"]["length"]["unit"] = "kg"
        view = self.post("/api/evaluate", {"document": self.document}).json()
        self.assertEqual([p["field"] for p in view["problems"]], ["inputs.length.unit"])
        self.assertIn("mm", view["problems"][0]["remedy"])

    def test_cards_are_kept_with_the_revision(self) -> None:
        path = f"/api/projects/{self.project.pk}/cases"
        first = self.client.get(path).json()
        with mock.patch("wattikos_web.cards.aside", side_effect=AssertionError("computed again")):
            self.assertEqual(self.client.get(path).json(), first)
        self.document["inputs"]["length"]["value"] = "700 mm"
        self.save(self.document, 1)
        self.assertNotEqual(self.client.get(path).json()[0]["ledger"], first[0]["ledger"])


class WordsForTrouble(TestCase):
    def test_the_machine_in_words(self) -> None:
        for said, words in (
            ("database or disk is full", "disk of the server is full"),
            ("attempt to write a readonly database", "cannot be written"),
            ("database is locked", "busy"),
            ("unable to open database file", "cannot be opened"),
            ("database disk image is malformed", "damaged"),
        ):
            known = trouble_of(OperationalError(said))
            assert known is not None
            self.assertIn(words, known.problem)
        self.assertIsNone(trouble_of(ValueError("full")))

    def test_an_error_has_a_number_that_is_in_the_log(self) -> None:
        client = Client(raise_request_exception=False)
        with (
            mock.patch("wattikos_web.api.session.get_token", side_effect=KeyError("x")),
            self.assertLogs("wattikos_web", "ERROR") as log,
        ):
            answer = client.get("/api/session")
        self.assertEqual(answer.status_code, 500)
        problem = answer.json()["problems"][0]["problem"]
        number = problem.split("number ")[1].rstrip(")")
        self.assertIn(number, log.output[0])
        self.assertNotIn("KeyError", problem)

    def test_a_full_disk_is_said(self) -> None:
        client = Client(raise_request_exception=False)
        full = OperationalError("database or disk is full")
        with mock.patch("wattikos_web.api.session.get_token", side_effect=full), self.assertLogs("wattikos_web", "ERROR"):
            answer = client.get("/api/session")
        self.assertEqual(answer.status_code, 503)
        self.assertIn("disk of the server is full", answer.json()["problems"][0]["problem"])

    def test_pages_in_words(self) -> None:
        client = Client(raise_request_exception=False)
        self.assertIn(b"nothing at this address", client.get("/api/nowhere").content)
        strict = Client(enforce_csrf_checks=True)
        strict.force_login(demo_user())
        self.assertIn("refused", strict.post("/api/projects", {}).json()["problems"][0]["problem"])


class Health(TransactionTestCase):
    def test_it_says_what_works_and_what_does_not(self) -> None:
        answer = self.client.get("/health")
        self.assertEqual(answer.status_code, 503)
        self.assertIn("no worker", answer.json()["wrong"][0])
        WorkerState.objects.create(name="a", beat=timezone.now())
        answer = self.client.get("/health")
        self.assertEqual((answer.status_code, answer.json()["well"]), (200, True))
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA query_only = 1")
            try:
                answer = self.client.get("/health")
            finally:
                cursor.execute("PRAGMA query_only = 0")
        self.assertEqual(answer.status_code, 503)
        self.assertIn("cannot be written", answer.json()["wrong"][0])


class Supervising(SimpleTestCase):
    def test_a_process_that_ends_is_started_again_after_growing_pauses(self) -> None:
        made: list[subprocess.Popen[bytes]] = []

        def make() -> subprocess.Popen[bytes]:
            made.append(subprocess.Popen([sys.executable, "-c", "raise SystemExit(3)"]))
            return made[-1]

        kept, told = Kept("worker", make, pause=0.01), list[str]()
        kept.start()
        end = time.monotonic() + 60
        while len(made) < 4:
            self.assertLess(time.monotonic(), end)
            kept.look_after(told.append)
            time.sleep(0.01)
        self.assertIn("the worker has ended (3)", told[0])
        self.assertEqual(kept.pause, 0.08)
        made[-1].wait(30)


class OverTls(SimpleTestCase):
    def test_cookies_are_for_tls_alone(self) -> None:
        code = (
            "from wattikos_web import settings as s; "
            "print(s.SESSION_COOKIE_SECURE, s.CSRF_COOKIE_SECURE, s.SECURE_HSTS_SECONDS > 0)"
        )
        import os

        said = subprocess.run(
            [sys.executable, "-c", code], env=os.environ | {"WATTIKOS_TLS": "1"}, capture_output=True, text=True, check=True
        )
        self.assertEqual(said.stdout.split(), ["True", "True", "True"])

    @override_settings(SECURE_HSTS_SECONDS=100, SECURE_PROXY_SSL_HEADER=("HTTP_X_FORWARDED_PROTO", "https"))
    def test_the_browser_is_told_to_keep_to_it(self) -> None:
        answer = self.client.get("/api/nowhere", headers={"X-Forwarded-Proto": "https"})
        self.assertIn("max-age=100", answer.headers["Strict-Transport-Security"])


def json_of(document: dict[str, object]) -> dict[str, dict[str, dict[str, object]]]:
    import json

    return json.loads(json.dumps(document))
