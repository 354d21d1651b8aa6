"""The entry of the room: the hand-calculated column of a case's ledger."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.cooled_body import cooled_body
from wattikos_core.estimate.crossflow import cross_flow
from wattikos_core.estimate.double_pipe import double_pipe
from wattikos_core.estimate.fins import finned_base
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.estimate.heated import heated_duct
from wattikos_core.estimate.holding import holding_tube
from wattikos_core.estimate.layers import layers
from wattikos_core.estimate.melting_fronts import melting_front
from wattikos_core.estimate.pipes import insulated_pipe
from wattikos_core.estimate.plates import counterflow_plates
from wattikos_core.ledger import Key

_RELATIONS: dict[str, Callable[[Bound, Any], dict[Key, HandValue]]] = {
    "counterflow_plates": counterflow_plates,
    "insulated_pipe": insulated_pipe,
    "double_pipe": double_pipe,
    "cross_flow": cross_flow,
    "heated_duct": heated_duct,
    "fins": finned_base,
    "layers": layers,
    "cooled_body": cooled_body,
    "melting_front": melting_front,
    "holding_tube": holding_tube,
}


def estimate_case(resolved: ResolvedCase) -> dict[Key, HandValue]:
    """Hand calculations bound to the case, by key; empty when none is bound.

    Raises:
        CaseError: the section is not what the bound relation describes; says what is missing.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.ledger import Key
        >>> 0.0 < estimate_case(resolve(starter_case("plate_passage")))[Key("effectiveness")].value < 1.0
        True
    """
    if resolved.case.estimate is None:
        return {}
    for condition in resolved.conditions:
        if condition.profile_given:
            remedy = "give one velocity and temperature, or take the hand calculation out"
            problem = f"what enters at '{condition.boundary}' varies from place to place, which no hand calculation knows"
            raise CaseError(InputProblem(f"{condition.field}.velocity", problem, remedy))
    bound = Bound(resolved)
    found = _RELATIONS[resolved.case.estimate.relation](bound, resolved.case.estimate)
    leaves_out = bound.account.left_out()
    # A Reynolds number is what it is, whatever else stands there.
    return {
        key: value if key.quantity == "reynolds_number" else replace(value, leaves_out=leaves_out) for key, value in found.items()
    }
