"""The entry of the room: the hand-calculated column of a case's ledger."""

from __future__ import annotations

import logging
import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from typing import Any

from wattikos_core.case import ResolvedCase
from wattikos_core.case.asking import questions_of
from wattikos_core.case.estimates import (
    CooledBody,
    CounterflowPlates,
    CrossFlow,
    DoublePipe,
    Fins,
    HandCalculation,
    HeatedDuct,
    HoldingTube,
    ImpingingJet,
    InsulatedPipe,
    Layers,
    MeltingFront,
    MixedRoom,
    OnTheWay,
    RadiatingEnclosure,
)
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.cooled_body import cooled_body
from wattikos_core.estimate.crossflow import cross_flow
from wattikos_core.estimate.double_pipe import double_pipe
from wattikos_core.estimate.driven import with_flows
from wattikos_core.estimate.enclosures import radiating_enclosure
from wattikos_core.estimate.fins import finned_base
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.estimate.heated import heated_duct
from wattikos_core.estimate.holding import holding_tube
from wattikos_core.estimate.jets import impinging_jet
from wattikos_core.estimate.layers import layers
from wattikos_core.estimate.melting_fronts import melting_front
from wattikos_core.estimate.mixed_room import mixed_room
from wattikos_core.estimate.on_the_way import on_the_way
from wattikos_core.estimate.pipes import insulated_pipe
from wattikos_core.estimate.plates import counterflow_plates
from wattikos_core.ledger import Key

_RELATIONS: dict[type[HandCalculation], Callable[[Bound, Any], dict[Key, HandValue]]] = {
    CounterflowPlates: counterflow_plates,
    InsulatedPipe: insulated_pipe,
    DoublePipe: double_pipe,
    CrossFlow: cross_flow,
    ImpingingJet: impinging_jet,
    HeatedDuct: heated_duct,
    Fins: finned_base,
    Layers: layers,
    CooledBody: cooled_body,
    MeltingFront: melting_front,
    HoldingTube: holding_tube,
    OnTheWay: on_the_way,
    RadiatingEnclosure: radiating_enclosure,
    MixedRoom: mixed_room,
}
_log = logging.getLogger(__name__)


@dataclass(frozen=True)
class ByHand:
    """What a hand calculation of a case comes to.

    Attributes:
        index: its place in the case's list.
        values: by key; none where it is switched off or cannot be evaluated.
        problems: why it cannot be evaluated; fields are those of the document.
    """

    index: int
    values: dict[Key, HandValue] = field(default_factory=dict)
    problems: tuple[InputProblem, ...] = ()


def estimate_case(resolved: ResolvedCase, *, bands: bool = True) -> list[ByHand]:
    """The hand calculations bound to a case, one by one: what cannot be evaluated says why, and leaves the others alone.

    Without `bands` neither the ends of the usual scatter are reckoned, which most values have none of then, nor what is left out.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.ledger import Key
        >>> found = first_values(estimate_case(resolve(starter_case("plate_passage"))))
        >>> 0.0 < found[Key("effectiveness")].value < 1.0
        True
    """
    return [_carried_out(resolved, index, estimate, bands) for index, estimate in enumerate(resolved.case.estimates)]


def first_values(calculations: Iterable[ByHand]) -> dict[Key, HandValue]:
    """The value of each key by the first calculation of the list that gives it."""
    found: dict[Key, HandValue] = {}
    for calculation in calculations:
        found = calculation.values | found
    return found


def _carried_out(resolved: ResolvedCase, index: int, estimate: HandCalculation, bands: bool) -> ByHand:
    if not estimate.on:
        return ByHand(index)
    try:
        _refuse_unanswered(estimate)
        for condition in resolved.conditions:
            if condition.profile_given:
                remedy = "give one velocity and temperature, or switch this hand calculation off"
                problem = f"what enters at '{condition.boundary}' varies from place to place, which no hand calculation knows"
                raise CaseError(InputProblem(f"{condition.field}.velocity", problem, remedy))
        relation = _RELATIONS[type(estimate)]
        bound, values = with_flows(resolved, lambda reading: relation(reading, estimate), bands=bands)
    except CaseError as error:
        here = f"estimates[{index}]"
        told = (replace(p, field=re.sub(r"^estimate\b", here, p.field)) for p in error.problems)
        return ByHand(index, problems=tuple(told))
    except (ArithmeticError, ValueError, IndexError, KeyError, StopIteration) as error:
        # What a relation does not foresee must not take the case with it; it is told to who keeps the program.
        _log.exception("hand calculation %s", type(estimate).__name__)
        problem = "this relation cannot be evaluated with these values"
        return ByHand(index, problems=(InputProblem(f"estimates[{index}]", problem, f"look at its entries ({error})"),))
    if not bands:
        return ByHand(index, values)
    leaves_out = bound.account.left_out()
    # A Reynolds number is what it is, whatever else stands there.
    return ByHand(
        index,
        {
            key: value if key.quantity == "reynolds_number" else replace(value, leaves_out=leaves_out)
            for key, value in values.items()
        },
    )


def _refuse_unanswered(estimate: HandCalculation) -> None:
    """Raise CaseError for what must be chosen and is not."""
    missing = [
        InputProblem(f"estimate.{ask.field}", f"no {ask.label} is chosen", "choose it, or switch this hand calculation off")
        for ask in questions_of(type(estimate))
        if ask.empty is None and ask.control not in ("entry", "choice", "switch") and not getattr(estimate, ask.field)
    ]
    if missing:
        raise CaseError(missing)
