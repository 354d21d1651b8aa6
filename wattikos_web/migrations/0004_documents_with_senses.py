"""Documents kept in version 1 of the case become those of version 2, so that cases and their runs stay alike."""

from __future__ import annotations

from typing import Any

from django.db import migrations

from wattikos_core.case.migrations import MIGRATIONS


def to_version_2(apps: Any, schema_editor: Any) -> None:
    for name in ("CaseRecord", "CaseRevision", "Run"):
        for record in apps.get_model("wattikos_web", name).objects.all().iterator():
            if isinstance(record.document, dict) and record.document.get("version", 1) == 1:
                record.document = MIGRATIONS[1](record.document)
                record.save(update_fields=["document"])


class Migration(migrations.Migration):
    dependencies = [("wattikos_web", "0003_frames")]
    operations = [migrations.RunPython(to_version_2, migrations.RunPython.noop)]
