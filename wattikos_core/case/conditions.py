"""Conditions in SI: what stands on each boundary, one by one."""

from __future__ import annotations

from functools import partial

from wattikos_core.boundaries import Condition, ResolvedCondition, kind_of
from wattikos_core.case.document import Case
from wattikos_core.case.reader import Reader


def resolve_conditions(case: Case, reader: Reader) -> list[ResolvedCondition]:
    """The conditions that hold, one for each boundary they name; notes in `reader` what cannot be read."""
    resolved: list[ResolvedCondition] = []
    for i, condition in enumerate(case.conditions):
        field = f"conditions[{i}]"
        resolved += reader.item(field, condition, partial(_resolved, condition, field, reader))
    # One expression on several boundaries is one mistake: say it once.
    reader.problems = list(dict.fromkeys(reader.problems))
    return resolved


def _resolved(condition: Condition, field: str, reader: Reader) -> list[ResolvedCondition]:
    if reader.read(condition.present, "number", f"{field}.present") == 0.0:
        return []
    kind = kind_of(condition)
    return [kind.resolve(condition, boundary, reader, field) for boundary in kind.boundaries(condition)]
