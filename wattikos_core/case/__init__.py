"""The case document, its inputs and their evaluation, and the starters."""

from wattikos_core.boundaries import ResolvedCondition
from wattikos_core.case.differences import differences
from wattikos_core.case.document import Case, case_from_json, json_schema, read_case
from wattikos_core.case.editing import edited
from wattikos_core.case.meaning import changed_between, fingerprint
from wattikos_core.case.parts import ResolvedPart
from wattikos_core.case.repeating import ResolvedModule
from wattikos_core.case.resolve import (
    LocalSize,
    ResolvedCase,
    evaluate_inputs,
    input_order,
    resolve,
    resolve_values,
)
from wattikos_core.case.starters import STARTERS, Starter, starter_case

__all__ = [
    "STARTERS",
    "Case",
    "LocalSize",
    "ResolvedCase",
    "ResolvedCondition",
    "ResolvedModule",
    "ResolvedPart",
    "Starter",
    "case_from_json",
    "changed_between",
    "differences",
    "edited",
    "evaluate_inputs",
    "fingerprint",
    "input_order",
    "json_schema",
    "read_case",
    "resolve",
    "resolve_values",
    "starter_case",
]
