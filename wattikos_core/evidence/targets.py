"""When a quantity meets its target, and which targets nothing can meet."""

from __future__ import annotations

from collections.abc import Sequence

from wattikos_core.case import ResolvedCase
from wattikos_core.ledger import Key
from wattikos_core.quantities.values import show

# A target that is to be equal counts as met this near to it, as a share of the target itself or, for temperatures, of a difference.
_NEAR = 1e-3


def slack(target: float, kind: str, resolved: ResolvedCase) -> float:
    """How far beside a target (SI) that it is to equal a value may be and still meet it.

    A thousandth of the target; of a temperature, a thousandth of its largest difference from one that is given, since kelvins
    have a zero that is far from everything.
    """
    if kind != "temperature":
        return _NEAR * abs(target) + 1e-12
    given = resolved.temperatures_given
    return _NEAR * max((abs(target - t) for t in given), default=1.0)


def impossible(key: Key, target: float, cases: Sequence[ResolvedCase]) -> str:
    """Why no case can have a quantity at a target (SI); empty when one may.

    Args:
        key: the quantity.
        target: value asked for, SI.
        cases: the case at the values of its inputs that bound what they can make of it.
    """
    kind = key.kind
    if key.definition.share:
        return f"{target:g} is no share: '{key.label}' lies between 0 and 1" if not 0.0 <= target <= 1.0 else ""
    if kind != "temperature":
        return ""
    lowest, highest = float("inf"), float("-inf")
    for case in cases:
        given = case.temperatures_given
        module = case.module
        varies = any(c.along for c in case.conditions) or case.time is not None or module is not None
        flows = [c.amount for c in case.conditions if c.type in ("heat_flux", "heat_rate")]
        sources = [part.heat + part.heat_density for part in case.bodies]
        if not given or varies or any(part.heat_along for part in case.bodies):
            return ""
        cold, hot = min(given), max(given)
        lowest = min(lowest, float("-inf") if any(x < 0.0 for x in flows + sources) else cold)
        warmed = any(x > 0.0 for x in flows + sources) or case.case.physics.friction_heat
        highest = max(highest, float("inf") if warmed else hot)
    if target < lowest:
        return f"{show(target, kind)} is colder than anything that enters or is held ({show(lowest, kind)})"
    if target > highest:
        return f"{show(target, kind)} is hotter than anything that enters or is held ({show(highest, kind)})"
    return ""
