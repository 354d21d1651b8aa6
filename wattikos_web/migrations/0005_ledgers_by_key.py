"""Documents become those of the current version, and rows of stored ledgers get their keys."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.db import migrations
from wattikos_core.case.migrations import MIGRATIONS
from wattikos_core.case.names_of_version_3 import key_of_name
from wattikos_core.ledger import Key


def to_version_4(apps: Any, schema_editor: Any) -> None:
    for name in ("CaseRecord", "CaseRevision", "Run"):
        for record in apps.get_model("wattikos_web", name).objects.all().iterator():
            document = record.document
            while isinstance(document, dict) and document.get("version", 1) in (1, 2, 3):
                document = MIGRATIONS[document.get("version", 1)](document)
            record.document = document
            record.save(update_fields=["document"])


def keys_of_rows(apps: Any, schema_editor: Any) -> None:
    for run in apps.get_model("wattikos_web", "Run").objects.exclude(ledger=None).iterator():
        run.ledger = {**run.ledger, "quantities": [row for old in run.ledger["quantities"] if (row := _with_key(old)) is not None]}
        run.save(update_fields=["ledger"])


def _with_key(row: dict[str, Any]) -> dict[str, Any] | None:
    if isinstance(row.get("key"), dict):
        return row
    # Heat and torque of the first version were called without their sense.
    names = MIGRATIONS[1]({"watches": [row["name"]]})["watches"]
    found = key_of_name(names[0])
    if found is None:
        return None
    key = _read(found)
    other = key.opposite
    return {
        **row,
        "key": asdict(key),
        "opposite": asdict(other) if other is not None else None,
        "opposite_name": other.label if other is not None else "",
        "name": key.label,
    }


def _read(found: dict[str, Any]) -> Key:
    return Key(**{**found, "of": _read(found["of"]) if found.get("of") else None})


class Migration(migrations.Migration):
    dependencies = [("wattikos_web", "0004_documents_with_senses")]
    operations = [
        migrations.RunPython(to_version_4, migrations.RunPython.noop),
        migrations.RunPython(keys_of_rows, migrations.RunPython.noop),
    ]
