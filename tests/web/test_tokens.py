"""Tokens: a program with one is let in as its person, without cookies; revoked, or for tokens and passwords, it is not."""

from __future__ import annotations

import json
from datetime import timedelta

from django.contrib.auth.models import User
from django.test import Client
from django.utils import timezone

from tests.web.test_api import ApiCase
from tests.web.working import WorkerTestCase
from wattikos_core import scripting
from wattikos_web.models import ApiToken, Run


class Tokens(ApiCase):
    def made(self, name: str = "nightly") -> str:
        answer = self.post("/api/tokens", {"name": name})
        self.assertEqual(answer.status_code, 201, answer.content)
        return str(answer.json()["secret"])

    def test_let_in_and_out(self) -> None:
        secret = self.made()
        self.assertFalse(ApiToken.objects.filter(digest__contains=secret).exists())
        program = Client(enforce_csrf_checks=True, headers={"Authorization": f"Bearer {secret}"})
        self.assertEqual(program.get(f"/api/cases/{self.case.pk}").status_code, 200)
        # It writes without a cookie.
        body = {"document": self.document, "revision": 1}
        answer = program.put(f"/api/cases/{self.case.pk}", json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        listed = self.client.get("/api/tokens").json()
        self.assertEqual([one["name"] for one in listed], ["nightly"])
        self.assertIsNotNone(listed[0]["used"])
        self.assertNotIn("secret", listed[0])
        # No hold of tokens, sessions and passwords.
        for path in ("/api/tokens", "/api/sessions"):
            self.assertEqual(program.get(path).status_code, 401)
        password = json.dumps({"current": "", "new": "a long new password"})
        self.assertIn(program.put("/api/session/password", password, content_type="application/json").status_code, (401, 403))
        # Revoked, it is let in no more.
        self.client.delete(f"/api/tokens/{listed[0]['id']}")
        self.assertEqual(program.get(f"/api/cases/{self.case.pk}").status_code, 401)

    def test_one_s_own_cases_alone(self) -> None:
        other = User.objects.create_user("carla")
        client = Client()
        client.force_login(other)
        secret = client.post("/api/tokens", json.dumps({"name": "x"}), content_type="application/json").json()["secret"]
        program = Client(headers={"Authorization": f"Bearer {secret}"})
        self.assertEqual(program.get(f"/api/cases/{self.case.pk}").status_code, 404)
        # Nobody revokes another one's.
        own = ApiToken.objects.get(user=other)
        self.assertEqual(self.client.delete(f"/api/tokens/{own.pk}").status_code, 404)
        other.is_active = False
        other.save()
        self.assertEqual(program.get("/api/projects").status_code, 401)

    def test_what_is_no_token(self) -> None:
        for secret in ("", "wattikos_nonsense", "a" * 5000):
            program = Client(headers={"Authorization": f"Bearer {secret}"})
            self.assertEqual(program.get("/api/projects").status_code, 401)
        self.assertEqual(self.post("/api/tokens", {"name": "  "}).status_code, 422)
        for i in range(20):
            self.made(f"number {i}")
        answer = self.post("/api/tokens", {"name": "one more"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("revoke", answer.json()["problems"][0]["remedy"])

    def test_when_it_was_used_is_noted_now_and_then(self) -> None:
        secret = self.made()
        program = Client(headers={"Authorization": f"Bearer {secret}"})
        early = timezone.now() - timedelta(hours=1)
        ApiToken.objects.update(used=early)
        program.get("/api/projects")
        noted = ApiToken.objects.get().used
        assert noted is not None
        self.assertGreater(noted, early)
        program.get("/api/projects")
        self.assertEqual(ApiToken.objects.get().used, noted)

    def test_the_page_that_describes_the_api_ships_with_it(self) -> None:
        page = self.client.get("/api/docs")
        self.assertEqual(page.status_code, 200)
        self.assertNotIn(b"https://", page.content)
        self.assertEqual(Client().get("/api/docs").status_code, 401)


class EqualNumbers(WorkerTestCase):
    def test_worker_and_python_give_the_same(self) -> None:
        run = self.queued(0.3)
        self.until(self.over(run))
        ledger = Run.objects.get(pk=run.pk).ledger
        assert ledger is not None
        solved = scripting.open_case(run.document).solve()
        for row in ledger["quantities"]:
            if row["solved"] is not None and row["wanted"]:
                self.assertAlmostEqual(row["solved"] / solved.value(row["name"]), 1.0, delta=1e-9)
