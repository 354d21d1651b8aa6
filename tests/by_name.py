"""Values by how their keys are written, for tests that read better so."""

from __future__ import annotations

from wattikos_core.case import ResolvedCase
from wattikos_core.estimate import HandValue, estimate_case
from wattikos_core.ledger import labelled


def hand_of(resolved: ResolvedCase) -> dict[str, HandValue]:
    """The hand-calculated column of a case."""
    return labelled(estimate_case(resolved))
