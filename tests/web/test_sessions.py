"""Passwords, sessions, and attempts that fail."""

from __future__ import annotations

import json
from typing import Any

from django.contrib.auth.models import User
from django.test import Client, TestCase

from wattikos_web.demo import demo_user
from wattikos_web.signin import new_link


class Sessions(TestCase):
    def setUp(self) -> None:
        self.user = User.objects.create_user("anna", password="a long password")

    def sign_in(self, client: Client, password: str, name: str = "anna") -> Any:
        return client.post("/api/session", json.dumps({"username": name, "password": password}), content_type="application/json")

    def set_password(self, client: Client, current: str, new: str) -> Any:
        body = json.dumps({"current": current, "new": new})
        return client.put("/api/session/password", body, content_type="application/json")

    def test_attempts_are_throttled_for_that_name_alone(self) -> None:
        User.objects.create_user("bert", password="another password")
        client = Client()
        codes = [self.sign_in(client, "wrong").status_code for _ in range(12)]
        self.assertEqual(codes[0], 403)
        self.assertEqual(codes[-1], 429)
        self.assertEqual(self.sign_in(client, "a long password").status_code, 429)
        self.assertEqual(self.sign_in(Client(), "another password", "bert").status_code, 200)

    def test_a_password_can_be_set_and_changed(self) -> None:
        client = Client()
        client.get(new_link(demo_user()))
        self.assertEqual(client.get("/api/session").json(), {"user": "ferrow", "password": False})
        for weak in ("short", "ferrow1234", "password1234"):
            answer = self.set_password(client, "", weak)
            self.assertEqual((answer.status_code, answer.json()["problems"][0]["field"]), (422, "new"), weak)
        self.assertEqual(self.set_password(client, "", "whey and curds").status_code, 200)
        self.assertEqual(client.get("/api/session").json()["user"], "ferrow")
        self.assertEqual(self.sign_in(Client(), "whey and curds", "ferrow").status_code, 200)
        self.assertEqual(self.set_password(client, "wrong", "curds and whey").json()["problems"][0]["field"], "current")

    def test_sessions_are_listed_and_ended(self) -> None:
        here, there = Client(headers={"User-Agent": "here"}), Client(headers={"User-Agent": "there"})
        self.sign_in(here, "a long password")
        self.sign_in(there, "a long password")
        lines = here.get("/api/sessions").json()
        self.assertEqual({line["device"]: line["own"] for line in lines}, {"here": True, "there": False})
        other = next(line["id"] for line in lines if not line["own"])
        self.assertEqual(here.delete(f"/api/sessions/{other}").status_code, 204)
        self.assertIsNone(there.get("/api/session").json()["user"])
        self.assertEqual(here.get("/api/session").json()["user"], "anna")
        self.assertEqual(len(here.get("/api/sessions").json()), 1)

    def test_others_sessions_are_not_mine(self) -> None:
        User.objects.create_user("bert", password="another password")
        anna, bert = Client(), Client()
        self.sign_in(anna, "a long password")
        self.sign_in(bert, "another password", "bert")
        his = bert.get("/api/sessions").json()[0]["id"]
        self.assertEqual(anna.delete(f"/api/sessions/{his}").status_code, 404)

    def test_a_new_password_ends_all_other_sessions(self) -> None:
        here, there = Client(), Client()
        self.sign_in(here, "a long password")
        self.sign_in(there, "a long password")
        self.set_password(here, "a long password", "another long one")
        self.assertIsNone(there.get("/api/session").json()["user"])
        self.assertEqual(here.get("/api/session").json()["user"], "anna")
        self.assertEqual([line["own"] for line in here.get("/api/sessions").json()], [True])

    def test_signing_out_takes_the_session_from_the_list(self) -> None:
        client = Client()
        self.sign_in(client, "a long password")
        client.delete("/api/session")
        self.assertEqual(self.user.signed_in.count(), 0)

    def test_the_description_of_the_api_is_for_those_who_are_signed_in(self) -> None:
        client = Client()
        self.assertEqual(client.get("/api/openapi.json").status_code, 401)
        self.sign_in(client, "a long password")
        self.assertIn("paths", client.get("/api/openapi.json").json())
