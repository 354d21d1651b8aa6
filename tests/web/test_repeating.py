"""A stored run is solved again: the same numbers to the last printed digit, also from where another run ended."""

from __future__ import annotations

import io
from typing import Any

from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.test import TestCase

from tests.web.test_api import finished_run, quick_case
from wattikos_core.case import starter_case
from wattikos_web.api.projects import create_case
from wattikos_web.models import Project, Run
from wattikos_web.repeating import repeat
from wattikos_web.worker.tasks import perform


class Repeating(TestCase):
    def setUp(self) -> None:
        self.user = User.objects.create_user("anna")
        self.project = Project.objects.create(owner=self.user, name="Ferrow Dairy")
        self.client.force_login(self.user)

    def stored(self, case: Any) -> Run:
        return finished_run(create_case(self.project, case))

    def test_the_same_numbers(self) -> None:
        for case in (quick_case(), starter_case("plate_sink")):
            run = self.stored(case)
            rows = repeat(run)
            self.assertGreater(len(rows), 5)
            self.assertEqual([row.name for row in rows if not row.same], [])

    def test_from_where_another_ended(self) -> None:
        first = self.stored(quick_case())
        result = perform("solve", first.document, bytes(first.checkpoint or b""), False, None, [], lambda told: None, lambda: False)
        second = Run.objects.create(
            case=first.case,
            kind="solve",
            state="done",
            document=first.document,
            revision=1,
            ledger=result["ledger"],
            warm_start=first,
        )
        self.assertTrue(all(row.same for row in repeat(second)))

    def test_what_has_changed_is_told(self) -> None:
        """A number that was kept wrongly is found out, and the command says so."""
        run = self.stored(starter_case("plate_sink"))
        assert run.ledger is not None
        run.ledger["quantities"][0]["solved"] *= 1.00001
        run.save()
        out = io.StringIO()
        with self.assertRaises(SystemExit) as ended:
            call_command("repeat_run", run.pk, stdout=out)
        self.assertEqual(ended.exception.code, 2)
        self.assertIn(run.ledger["quantities"][0]["name"], out.getvalue())
        with self.assertRaises(CommandError):
            call_command("repeat_run", 10**6)

    def test_the_record_is_handed_on(self) -> None:
        run = self.stored(starter_case("plate_sink"))
        record = self.client.get(f"/api/runs/{run.pk}/record.json").json()
        self.assertEqual(record["case"]["title"], "Plate-fin sink")
        self.assertIn("versions", record)
        balance = run.summary["balances"][0]
        self.assertAlmostEqual(sum(share["value"] for share in balance["shares"]), balance["remainder"], places=6)
