"""The entry of the room: the hand-calculated column of a case's ledger."""

from __future__ import annotations

from dataclasses import dataclass

from wattikos_core.case import ResolvedCase


@dataclass(frozen=True)
class HandValue:
    """One hand-calculated quantity.

    Attributes:
        value: SI.
        low, high: the band of usual scatter around it.
        source: relation and publication.
        range: where the relation holds, in words; `inside` says whether this case is there.
    """

    name: str
    value: float
    low: float
    high: float
    source: str
    range: str
    inside: bool


def estimate_case(resolved: ResolvedCase) -> dict[str, HandValue]:
    """Hand calculations bound to the case, by ledger name; empty when none is bound.

    Raises:
        CaseError: the section is not what the bound relation describes; says what is missing.
    """
    from wattikos_core.estimate.plates import counterflow_plates

    if resolved.case.estimate is None:
        return {}
    return counterflow_plates(resolved, resolved.case.estimate)
