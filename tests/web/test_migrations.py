"""What older programs stored is brought up to date."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from django.apps import apps

from tests.web.test_api import ApiCase
from wattikos_core.case import read_case
from wattikos_web.models import Run


def migration(name: str) -> Any:
    """A migration by its name."""
    return import_module(f"wattikos_web.migrations.{name}").Migration


class Severities(ApiCase):
    """Findings weighed `fault` and `doubt`; an answer stood beside its finding with that word in front."""

    ANSWERS = {"doubt duct the flow is fast": "meant", "note why": "so", "check valve it leaks": "seen"}
    TODAY = {"duct the flow is fast": "meant", "why": "so", "check valve it leaks": "seen"}

    def test_stored_findings_and_answers(self) -> None:
        findings = [{"severity": word, "place": "duct", "text": "", "remedy": ""} for word in ("fault", "doubt", "note", "stop")]
        ledger, document = {"quantities": [], "findings": findings}, {**self.document, "answers": self.ANSWERS}
        run = Run.objects.create(case=self.case, kind="solve", document=document, revision=1, ledger=ledger)
        for step in migration("0008_severities").operations:
            step.code(apps, None)
        run.refresh_from_db()
        assert run.ledger is not None
        self.assertEqual([finding["severity"] for finding in run.ledger["findings"]], ["stop", "check", "note", "stop"])
        self.assertEqual(run.document["answers"], self.TODAY)

    def test_a_file_with_answers(self) -> None:
        self.assertEqual(read_case({**self.document, "answers": self.ANSWERS}).answers, self.TODAY)
