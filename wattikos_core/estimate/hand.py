"""The entry of the room: the hand-calculated column of a case's ledger."""

from __future__ import annotations

from wattikos_core.case import ResolvedCase
from wattikos_core.case.document import InsulatedPipe
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.estimate.pipes import insulated_pipe
from wattikos_core.estimate.plates import counterflow_plates


def estimate_case(resolved: ResolvedCase) -> dict[str, HandValue]:
    """Hand calculations bound to the case, by ledger name; empty when none is bound.

    Raises:
        CaseError: the section is not what the bound relation describes; says what is missing.
    """
    if resolved.case.estimate is None:
        return {}
    if isinstance(resolved.case.estimate, InsulatedPipe):
        return insulated_pipe(resolved, resolved.case.estimate)
    return counterflow_plates(resolved, resolved.case.estimate)
