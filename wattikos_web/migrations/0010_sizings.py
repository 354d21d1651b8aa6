"""Sizings choose any number of inputs for any number of goals: what was tried and found stands in one way for all of them."""

from typing import Any

from django.db import migrations, models

from wattikos_core.case import read_case
from wattikos_core.errors import CaseError
from wattikos_core.ledger import Key


def _with_goals(apps: Any, schema_editor: Any) -> None:
    runs = apps.get_model("wattikos_web", "Run").objects
    for run in runs.filter(kind="sizing", summary__sizing__isnull=False).only("summary", "document", "progress"):
        old = run.summary["sizing"]
        if "task" not in old:
            continue
        task = old["task"]
        key = _key_of(run.document, task)
        quantity = {"key": key, "name": task["quantity"], "kind": task["quantity_kind"]}
        run.summary["sizing"] = {
            "outcome": old["outcome"],
            "text": old["text"],
            "suggestions": old["suggestions"],
            "chosen": [{"varied": [{"input": task["input"], "material_of": ""}], "kind": task["kind"], "unit": task["unit"]}],
            "values": [old["value"]],
            "quantities": [quantity],
            "trials": [_trial(one, task, key) for one in old["trials"]],
            "margins": [],
            "aim": None,
            "led": bool(old["curve"]),
            "curve": old["curve"],
            "target": task["target"],
        }
        run.trials = run.summary["sizing"]["trials"]
        run.save(update_fields=["summary", "trials"])


def _key_of(document: dict[str, Any], task: dict[str, Any]) -> dict[str, Any]:
    if isinstance(task.get("key"), dict):
        return dict(task["key"])
    try:
        goals = read_case(document).sizing.goals
    except CaseError:
        goals = []
    key = goals[0].key if goals else Key("duty")
    return {"quantity": key.quantity, "place": key.place, "other": key.other, "of": None}


def _trial(one: dict[str, Any], task: dict[str, Any], key: dict[str, Any]) -> dict[str, Any]:
    from wattikos_core.studies.sizing_task import written_input

    text = written_input(one["value"], task["unit"], task["kind"])
    return {"values": [text], "place": [one["value"]], "keys": [key], "hand": [one["hand"]], "solved": [one["solved"]]}


class Migration(migrations.Migration):
    dependencies = [("wattikos_web", "0009_series")]

    operations = [
        migrations.AddField(model_name="run", name="trials", field=models.JSONField(default=list)),
        migrations.RunPython(_with_goals, migrations.RunPython.noop),
    ]
