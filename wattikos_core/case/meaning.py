"""What a solution depends on: two documents of one meaning have the same solution, however they are written.

Titles, notes, labels, units of display, targets and hand calculations do not matter; an expression is what it comes to.
"""

from __future__ import annotations

import ast
import json
import operator
from collections.abc import Callable, Mapping
from hashlib import sha256
from importlib.metadata import PackageNotFoundError, version
from typing import Any

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from wattikos_core.case.document import Case
from wattikos_core.case.resolve import evaluate_inputs
from wattikos_core.documents import is_evaluated
from wattikos_core.quantities import QuantityError, Value, evaluate
from wattikos_core.quantities.syntax import parse
from wattikos_core.quantities.units import dimension_and_factor, is_unit
from wattikos_core.quantities.values import as_value, literal

# What is solved; `time` besides, where the case runs in time.
_PARTS = ("section", "materials", "tables", "physics", "conditions", "contacts", "grid")
_OPERATIONS: dict[type, Callable[..., Value]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.Pow: operator.pow,
    ast.USub: operator.neg,
    ast.UAdd: operator.pos,
}
_NAMED = {"section": "drawing", "time": "times"}


def changed_between(then: Case, now: Case) -> list[str]:
    """The names of what differs in meaning: inputs by name where they explain all of it, else the parts of the document.

    Example:
        >>> from wattikos_core.case.starters import starter_case
        >>> case = starter_case("plate_passage")
        >>> changed_between(case, case.model_copy(update={"title": "another"}))
        []
    """
    before, after = evaluate_inputs(then)[0], evaluate_inputs(now)[0]
    parts = [part for part in _PARTS if _meaning(getattr(then, part), before) != _meaning(getattr(now, part), after)]
    if now.physics.regime == "time" and _meaning(then.time, before) != _meaning(now.time, after):
        parts.append("time")
    if not parts:
        return []
    inputs = [name for name in now.inputs if name in then.inputs and _differ(before.get(name), after.get(name))]
    written = [part for part in parts if _meaning(getattr(then, part), {}) != _meaning(getattr(now, part), {})]
    return inputs + [_NAMED.get(part, part) for part in written] or [_NAMED.get(part, part) for part in parts]


def fingerprint(case: Case) -> str:
    """The same for cases whose solutions are the same, to be told apart by what they are solved with too; empty where a grid comes
    from a file, whose content the document does not hold.

    Example:
        >>> from wattikos_core.case.starters import starter_case
        >>> case = starter_case("plate_passage")
        >>> fingerprint(case) == fingerprint(case.model_copy(update={"title": "another"}))
        True
    """
    if case.grid.file:
        return ""
    values = evaluate_inputs(case)[0]
    parts = [*_PARTS, *(["time"] if case.physics.regime == "time" else [])]
    meant = {part: _meaning(getattr(case, part), values) for part in parts}
    # What the ledger of a solution holds besides, and how well it is known.
    meant["solve"] = _meaning(case.solve, values)
    meant["watches"] = [key.label for key in case.watches]
    meant["read"] = [_meaning(items, values) for items in (case.reading.lines, case.reading.probes, case.reading.comfort)]
    meant["estimates"] = [_meaning(estimate, values) for estimate in case.estimates]
    meant["wanted"] = [_meaning(wanted.target, values) for wanted in case.wanted] + [wanted.key.label for wanted in case.wanted]
    meant["inputs"] = {name: _plain(value) for name, value in values.items()}
    meant["program"] = _program()
    return sha256(json.dumps(meant, sort_keys=True, default=str).encode()).hexdigest()


def _program() -> str:
    """Another version of the program may come to other numbers."""
    try:
        return version("wattikos")
    except PackageNotFoundError:
        return ""


def _differ(then: Value | None, now: Value | None) -> bool:
    return (None if then is None else _plain(then)) != (None if now is None else _plain(now))


def _meaning(item: Any, values: Mapping[str, Value]) -> Any:
    """A document with each expression replaced by what it comes to; what varies from place to place keeps its words."""
    if isinstance(item, BaseModel):
        fields = type(item).model_fields
        return {name: _of_field(getattr(item, name), fields[name], values) for name in fields}
    if isinstance(item, dict):
        return {key: _meaning(value, values) for key, value in item.items()}
    return [_meaning(value, values) for value in item] if isinstance(item, list) else item


def _of_field(value: Any, field: FieldInfo, values: Mapping[str, Value]) -> Any:
    return _reckoned(value, values) if is_evaluated(field) else _meaning(value, values)


def _reckoned(item: Any, values: Mapping[str, Value]) -> Any:
    if isinstance(item, list):
        return [_reckoned(value, values) for value in item]
    if isinstance(item, dict):
        return {key: _reckoned(value, values) for key, value in item.items()}
    if not isinstance(item, str):
        return _meaning(item, values)
    try:
        return _plain(evaluate(item, values))
    except QuantityError:
        return _form(item, values)


def _form(text: str, values: Mapping[str, Value]) -> Any:
    """What varies from place to place or in time: its parsed form, with all that stands still as what it comes to."""
    try:
        parsed = parse(text, frozenset(values), frozenset())
    except QuantityError:
        return " ".join(text.split())
    known = {**values, **parsed.quantities}

    def form(node: ast.AST) -> Any:
        if isinstance(node, ast.Name):
            unit = node.id not in known and is_unit(node.id)
            return literal(1.0, node.id, *dimension_and_factor(node.id)) if unit else known.get(node.id, node.id)
        if isinstance(node, ast.Constant):
            return as_value(node.value)
        parts = [form(part) for part in ast.iter_child_nodes(node) if not isinstance(part, ast.operator | ast.unaryop)]
        operation = getattr(node, "op", None)
        if type(operation) in _OPERATIONS and all(isinstance(part, Value) for part in parts):
            return _OPERATIONS[type(operation)](*parts)
        return [type(operation or node).__name__, *parts]

    def plain(part: Any) -> Any:
        return [plain(one) for one in part] if isinstance(part, list) else _plain(part) if isinstance(part, Value) else part

    try:
        return plain(form(parsed.tree))
    except QuantityError:
        return " ".join(text.split())


def _plain(value: Value) -> tuple[str, tuple[float, ...]]:
    """To twelve digits: 600 mm and 0.6 m differ in the last."""
    return f"{value.magnitude:.12g}", value.dimension
