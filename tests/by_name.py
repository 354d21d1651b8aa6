"""Values by how their keys are written, for tests that read better so."""

from __future__ import annotations

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import CaseError
from wattikos_core.estimate import HandValue, estimate_case, first_values
from wattikos_core.ledger import labelled


def hand_of(resolved: ResolvedCase) -> dict[str, HandValue]:
    """The hand-calculated column of a case; CaseError where a hand calculation cannot be evaluated."""
    found = estimate_case(resolved)
    problems = [problem for calculation in found for problem in calculation.problems]
    if problems:
        raise CaseError(problems)
    return labelled(first_values(found))
