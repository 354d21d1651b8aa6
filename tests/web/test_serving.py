"""Serving: built files, the page, the demo, ports, one-time links."""

from __future__ import annotations

import socket
from datetime import timedelta

from django.conf import settings
from django.core.management import call_command
from django.test import Client, SimpleTestCase, TestCase
from django.utils import timezone

from wattikos_core.case import STARTERS
from wattikos_web.demo import DEMO_CASES, demo_user, load_demo
from wattikos_web.management.commands.serve import HOST, free_port
from wattikos_web.models import CaseRecord, Project, Run, SignInLink
from wattikos_web.signin import new_link

# One sink with three numbers of fins, to be compared.
SINKS = [f"Sink of the pump drive, {fins} fins" for fins in (5, 8, 12)]


class Page(TestCase):
    def test_every_address_of_the_desk_is_the_one_page(self) -> None:
        for path in ("/", "/sign-in", "/cases/3/draw", "/cases/3/print"):
            answer = self.client.get(path)
            self.assertEqual(answer.status_code, 200)
            self.assertIn(b'id="app"', answer.content)
            self.assertEqual(answer.headers["Cache-Control"], "no-cache")
        self.assertIn("csrftoken", self.client.cookies)

    def test_nothing_is_fetched_from_elsewhere(self) -> None:
        """The page and its styles name no other host; fonts, scripts and styles ship with the application."""
        dist = settings.DIST_DIR
        page = (dist / "index.html").read_text()
        self.assertNotIn("//", page.replace("<!doctype", ""))
        for style in (dist / "assets").glob("*.css"):
            text = style.read_text()
            self.assertNotIn("url(http", text)
            self.assertNotIn("@import", text)
        self.assertTrue(list((dist / "assets").glob("*.woff2")))


class BuiltFiles(SimpleTestCase):
    def test_whitenoise_serves_compressed_files_for_good(self) -> None:
        """The test client goes through the middleware alone, as in production."""
        script = next((settings.STATIC_ROOT / "assets").glob("index-*.js"))
        answer = Client(headers={"Accept-Encoding": "gzip"}).get(f"/static/assets/{script.name}")
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(answer.headers["Content-Encoding"], "gzip")
        self.assertIn("immutable", answer.headers["Cache-Control"])
        self.assertEqual(self.client.get("/static/assets/none.js").status_code, 404)


class Ports(SimpleTestCase):
    def test_the_next_port_when_one_is_taken(self) -> None:
        with socket.socket() as taken:
            taken.bind((HOST, 0))
            taken.listen()
            port = taken.getsockname()[1]
            self.assertNotEqual(free_port(port), port)


class Demo(TestCase):
    def test_it_is_loaded_once_with_its_runs_queued(self) -> None:
        self.assertTrue(load_demo())
        self.assertFalse(load_demo())
        self.assertEqual(Project.objects.get().name, "Ferrow Dairy")
        titles = [STARTERS[key].document["title"] for key in DEMO_CASES] + SINKS
        self.assertEqual(list(CaseRecord.objects.values_list("title", flat=True)), titles)
        self.assertEqual(Run.objects.filter(kind="solve").count(), len(DEMO_CASES) + len(SINKS))
        self.assertEqual(Run.objects.filter(kind="sizing").count(), 5)
        call_command("load_demo", verbosity=0)
        self.assertEqual(Project.objects.count(), 1)

    def test_the_demo_user_has_no_password(self) -> None:
        self.assertFalse(demo_user().has_usable_password())


class Links(TestCase):
    def test_an_old_link_is_no_good(self) -> None:
        link = new_link(demo_user())
        SignInLink.objects.update(created=timezone.now() - timedelta(days=2))
        self.assertIn("used", self.client.get(link).headers["Location"])

    def test_the_token_itself_is_not_stored(self) -> None:
        token = new_link(demo_user()).rsplit("/", 1)[1]
        self.assertNotIn(token, SignInLink.objects.get().digest)

    def test_an_invented_link_is_no_good(self) -> None:
        self.assertIn("used", self.client.get("/sign-in/abc").headers["Location"])
