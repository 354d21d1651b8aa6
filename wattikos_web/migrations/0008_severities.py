"""Findings of stored runs get the words of today for how much they weigh; answers in documents are known without them."""

from __future__ import annotations

import re
from typing import Any

from django.db import migrations

_WORDS = {"fault": "stop", "doubt": "check"}


def words_of_findings(apps: Any, schema_editor: Any) -> None:
    for run in apps.get_model("wattikos_web", "Run").objects.exclude(ledger=None).iterator():
        found = [{**one, "severity": _WORDS.get(one["severity"], one["severity"])} for one in run.ledger.get("findings", [])]
        run.ledger = {**run.ledger, "findings": found}
        run.save(update_fields=["ledger"])


def names_of_answers(apps: Any, schema_editor: Any) -> None:
    for name in ("CaseRecord", "CaseRevision", "Run"):
        for record in apps.get_model("wattikos_web", name).objects.all().iterator():
            if isinstance(record.document, dict) and record.document.get("answers"):
                answers = {re.sub(r"^(fault|doubt|note) ", "", key): text for key, text in record.document["answers"].items()}
                record.document = {**record.document, "answers": answers}
                record.save(update_fields=["document"])


class Migration(migrations.Migration):
    dependencies = [("wattikos_web", "0007_grid_studies")]
    operations = [
        migrations.RunPython(words_of_findings, migrations.RunPython.noop),
        migrations.RunPython(names_of_answers, migrations.RunPython.noop),
    ]
