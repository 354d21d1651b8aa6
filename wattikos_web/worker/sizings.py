"""A sizing as data: what was tried, what was found, how each goal is kept."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict
from math import isfinite
from typing import Any

from wattikos_core.ledger import Key
from wattikos_core.studies import Optimum, SizingResult, Tried
from wattikos_core.studies.optimising import Margin, in_words
from wattikos_core.studies.search_space import Aim, Search, SearchSpace
from wattikos_core.studies.size import tried, tried_on_line


def trial_data(trial: Tried) -> dict[str, Any]:
    """A trial; its quantities by key."""
    return {**asdict(trial), "keys": [asdict(key) for key in trial.keys]}


def trials_of(data: Iterable[Mapping[str, Any]]) -> list[Tried]:
    """The inverse of `trial_data`."""
    return [
        Tried(
            tuple(one["values"]),
            tuple(one["place"]),
            tuple(Key(**key) for key in one["keys"]),
            tuple(one["hand"]),
            tuple(one["solved"]),
        )
        for one in data
    ]


def sizing_data(result: SizingResult | Optimum) -> dict[str, Any]:
    """What a sizing came to."""
    shared = {"outcome": result.outcome, "text": result.text, "suggestions": result.suggestions}
    if isinstance(result, SizingResult):
        task = result.task
        return shared | {
            "chosen": [{"varied": [{"input": task.input, "material_of": ""}], "kind": task.kind, "unit": task.unit}],
            "values": [result.case.inputs[task.input].value],
            "quantities": [quantity_data(task.key)],
            "trials": [trial_data(tried_on_line(task, trial)) for trial in result.trials],
            "margins": [],
            "aim": None,
            "led": bool(result.curve),
            "curve": result.curve,
            "target": task.target,
        }
    search, space = result.search, SearchSpace(result.case, result.search)
    return shared | {
        "chosen": chosen_data(search),
        "values": list(result.values),
        "quantities": [quantity_data(key) for key in space.keys],
        "trials": [trial_data(tried(space, trial)) for trial in result.trials],
        "margins": [_margin_data(margin, search.aims[0], result.aim) for margin in result.margins],
        "aim": aim_data(space, 0, result.aim),
        "led": result.led,
        "curve": [],
        "target": None,
    }


def chosen_data(search: Search) -> list[dict[str, Any]]:
    """What is chosen: a kind and unit where it is a number between bounds, none where it is a row."""
    return [
        {
            "varied": [{"input": varied.input, "material_of": varied.material_of} for varied in one.varied],
            "kind": "" if one.rows else one.kind,
            "unit": "" if one.rows else one.unit,
        }
        for one in search.chosen
    ]


def aim_data(space: SearchSpace, number: int, value: float) -> dict[str, Any] | None:
    """An aim with its value; None where the inputs are to change as little as can be."""
    aim = space.aims[number]
    if aim.key is None and not aim.expression:
        return None
    kind = aim.key.kind if aim.key is not None else ""
    one = next((c for c in space.chosen if not c.rows and c.name == aim.expression), None)
    told = {"kind": one.kind, "unit": one.unit} if one is not None else {"kind": kind, "unit": ""}
    return {"label": aim.label, "most": aim.most, **told, "value": value if isfinite(value) else None}


def quantity_data(key: Key) -> dict[str, Any]:
    """A quantity, with how it is written."""
    return {"key": asdict(key), "name": key.label, "kind": key.kind}


def _margin_data(margin: Margin, aim: Aim, reached: float) -> dict[str, Any]:
    goal = margin.goal
    return {
        **quantity_data(goal.key),
        "lower": goal.lower if isfinite(goal.lower) else None,
        "upper": goal.upper if isfinite(goal.upper) else None,
        "value": margin.value,
        "plus_minus": margin.plus_minus,
        "kept_by": margin.kept_by,
        "saves": margin.saves,
        "text": in_words(margin, aim, reached),
    }
