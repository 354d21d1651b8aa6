"""The ledger: each quantity with what is wanted, what the hand says, what was solved, and how far to believe it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from wattikos_core.case import Case, ResolvedCase
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate import HandValue
from wattikos_core.evidence.grid_uncertainty import GridUncertainty
from wattikos_core.evidence.targets import slack
from wattikos_core.ledger import Key
from wattikos_core.quantities import KINDS, QuantityError, Value, evaluate_in
from wattikos_core.quantities.values import show

# What an engineer looks at first, in this order; everything else follows by name.
_FIRST = (
    Key("duty"),
    Key("effectiveness"),
    Key("outlet_temperature", "hot"),
    Key("outlet_temperature", "cold"),
    Key("ntu"),
    Key("overall_u"),
    Key("h", "hot"),
    Key("h", "cold"),
    Key("nusselt_number", "hot"),
    Key("nusselt_number", "cold"),
    Key("pressure_drop", "hot"),
    Key("pressure_drop", "cold"),
    Key("hottest_metal"),
    Key("coldest_metal"),
)


_ROUND_OFF = 1e-9
# Of what a hand calculation leaves out, named in a verdict.
_MOST_LISTED = 3


@dataclass(frozen=True)
class LedgerRow:
    """One quantity; values in the SI unit of its kind.

    Attributes:
        key: what the values are of, in the sense in which they are not negative.
        agrees: whether solved and hand-calculated values lie within their combined band; None when not both are known.
        sense: `at_least`, `at_most`, `equal` or, with `upper`, `between`, for the target.
        margin: how far the best value known lies within its limits, negative outside; None without a limit.
        meets: whether the best value known reaches the target; None without a target.
        slack: how far beside a target that it is to equal a value may be.
    """

    key: Key
    wanted: bool
    target: float | None
    sense: str
    hand: HandValue | None
    solved: float | None
    plus_minus: float | None
    order: float | None
    agrees: bool | None
    meets: bool | None
    verdict: str
    slack: float = 0.0
    upper: float | None = None
    margin: float | None = None

    @property
    def name(self) -> str:
        """How the quantity is written."""
        return self.key.label

    @property
    def kind(self) -> str:
        """Kind of the quantity, see `quantities.KINDS`."""
        return self.key.kind

    @property
    def unit(self) -> str:
        """SI unit of its values."""
        return KINDS[self.key.kind].si


def targets_of(case: Case, values: Mapping[str, Value]) -> dict[Key, float | None]:
    """The wanted quantities and their targets in SI.

    Raises:
        CaseError: a target cannot be read.
    """
    return {key: target for key, (target, _) in limits_of(case, values).items()}


def limits_of(case: Case, values: Mapping[str, Value]) -> dict[Key, tuple[float | None, float | None]]:
    """The wanted quantities with their targets, and the upper ends of those that are to lie between two values, in SI.

    Raises:
        CaseError: a target cannot be read, or its ends are the wrong way round.
    """
    limits: dict[Key, tuple[float | None, float | None]] = {}
    problems = []
    for i, wanted in enumerate(case.wanted):
        key, found = wanted.key, []
        for field in ("target", "upper") if wanted.sense == "between" else ("target",):
            text = getattr(wanted, field)
            try:
                found.append(evaluate_in(key.kind, text, values) if text.strip() else None)
            except QuantityError as error:
                problems.append(InputProblem(f"wanted[{i}].{field}", error.problem, error.remedy))
                found.append(None)
        low, high = found[0], found[1] if len(found) > 1 else None
        if low is not None and high is not None and low > high:
            remedy = "give the lower end first"
            problems.append(InputProblem(f"wanted[{i}].upper", f"{show(high, key.kind)} is below {show(low, key.kind)}", remedy))
        limits[key] = low, high
    if problems:
        raise CaseError(problems)
    return limits


def build_ledger(
    resolved: ResolvedCase,
    hand: Mapping[Key, HandValue],
    solved: Mapping[Key, float],
    uncertainty: Mapping[Key, GridUncertainty] | None = None,
) -> list[LedgerRow]:
    """All rows, wanted ones first.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.ledger import Key
        >>> rows = build_ledger(resolve(starter_case("plate_passage")), {}, {Key("effectiveness"): 0.7})
        >>> rows[0].name, rows[0].solved
        ('effectiveness', 0.7)
    """
    from wattikos_core.case import evaluate_inputs

    limits = limits_of(resolved.case, evaluate_inputs(resolved.case)[0])
    targets = {key: target for key, (target, _) in limits.items()}
    senses = {wanted.key: wanted.sense for wanted in resolved.case.wanted}
    facing = _facing(targets, hand, solved)
    targets = {facing.get(key, key): target for key, target in targets.items()}
    hand = {facing.get(key, key): turned(value, facing.get(key, key)) for key, value in hand.items()}
    solved = {facing.get(key, key): -value if key in facing else value for key, value in solved.items()}
    uncertainty = {facing.get(key, key): band for key, band in (uncertainty or {}).items()}
    first = [key for key in _FIRST if key in hand or key in solved]
    keys = list(dict.fromkeys([*targets, *first, *sorted({*hand, *solved}, key=lambda key: key.label)]))
    rows = []
    for key in keys:
        by_hand, value = hand.get(key), solved.get(key)
        band = uncertainty.get(key)
        plus_minus = band.plus_minus if band else None
        agrees, verdict = _compare(by_hand, value, plus_minus or 0.0, key, resolved)
        if solved and value is None and key in targets:
            verdict = "not reached in this run" if key.kind == "time" else "not among what was solved"
        best = value if value is not None else (by_hand.value if by_hand else None)
        target = targets.get(key)
        sense = senses.get(key, "at_least")
        beside = 0.0 if target is None else slack(target, key.kind, resolved)
        upper = limits[key][1] if key in limits else None
        sense = "at_least" if sense == "between" and upper is None else sense
        margin = None if target is None or best is None or sense == "equal" else _margin(best, target, sense, upper)
        meets = None if target is None or best is None else _meets(best, target, sense, beside, margin)
        rows.append(
            LedgerRow(
                key=key,
                wanted=key in targets,
                target=target,
                sense=sense,
                hand=by_hand,
                solved=value,
                plus_minus=plus_minus,
                order=band.order if band and math.isfinite(band.order) else None,
                agrees=agrees,
                meets=meets,
                verdict=verdict,
                slack=beside,
                upper=upper,
                margin=margin,
            )
        )
    return rows


def _facing(targets: Mapping[Key, float | None], hand: Mapping[Key, HandValue], solved: Mapping[Key, float]) -> dict[Key, Key]:
    """Keys that are told in the other sense: what is wanted at a target stays as it is asked for, all else is not negative."""
    facing: dict[Key, Key] = {}
    for key in {*targets, *hand, *solved}:
        other = key.opposite
        if other is None or targets.get(key) is not None:
            continue
        value = solved.get(key, hand[key].value if key in hand else 0.0)
        if targets.get(other) is not None or (value < 0.0 and other not in solved and other not in hand):
            facing[key] = other
        elif key in targets and key not in solved and key not in hand:
            # Wanted in one sense, there in the other: it is told as that one is.
            there = solved.get(other, hand[other].value if other in hand else 0.0)
            if there >= 0.0 and (other in solved or other in hand):
                facing[key] = other
    return facing


def turned(value: HandValue, key: Key) -> HandValue:
    """A hand value under a key: itself, or its negative under the key of the other sense."""
    if key == value.key:
        return value
    also = tuple(turned(other, key) for other in value.also)
    return replace(value, key=key, value=-value.value, low=-value.high, high=-value.low, also=also)


def solved_in(rows: Sequence[LedgerRow], key: Key | str) -> float | None:
    """The solved value of a quantity in a ledger, in either sense; None where it was not solved."""
    return next((sign * row.solved for row, sign in _in_both_senses(rows, key) if row.solved is not None), None)


def hand_in(rows: Sequence[LedgerRow], key: Key | str) -> HandValue | None:
    """The hand value of a quantity in a ledger, in either sense; None where it has none."""
    found = ((row.hand, row.key if sign > 0.0 else row.key.opposite) for row, sign in _in_both_senses(rows, key))
    return next((turned(hand, as_asked) for hand, as_asked in found if hand is not None and as_asked is not None), None)


def _in_both_senses(rows: Sequence[LedgerRow], key: Key | str) -> Iterator[tuple[LedgerRow, float]]:
    """Rows of a quantity, given by its key or as it is written, each with the sign that turns it into the sense asked for."""
    for row in rows:
        other = row.key.opposite
        if key in (row.key, row.name):
            yield row, 1.0
        elif other is not None and key in (other, other.label):
            yield row, -1.0


def _margin(value: float, target: float, sense: str, upper: float | None) -> float:
    """How far a value lies within its limits; negative outside."""
    if sense == "between" and upper is not None:
        return min(value - target, upper - value)
    return target - value if sense == "at_most" else value - target


def _meets(value: float, target: float, sense: str, beside: float, margin: float | None) -> bool:
    """Whether a value meets a target: hardly beside it counts for one that is to be equal, round-off alone for a limit."""
    if sense == "equal" or margin is None:
        return abs(value - target) <= beside
    return margin >= -_ROUND_OFF * abs(target)


def _compare(
    hand: HandValue | None, solved: float | None, plus_minus: float, key: Key, resolved: ResolvedCase
) -> tuple[bool | None, str]:
    kind = key.kind
    if hand is None or solved is None:
        return None, f"leaves out {_listed(hand.leaves_out)}" if hand is not None and hand.leaves_out else ""
    left_out = f"; that leaves out {_listed(hand.leaves_out)}" if hand.leaves_out else ""
    apart = _apart(hand.value, solved, key, resolved)
    if not hand.inside:
        return None, f"solved lies {apart} a hand calculation that is outside its range{left_out}"
    if hand.low - plus_minus <= solved <= hand.high + plus_minus:
        return True, _agreement(hand, kind) + left_out
    nearest = hand.high if solved > hand.high else hand.low
    size = abs(hand.high - hand.low) or abs(hand.value)
    # A thousandth is nobody's disagreement, except in kelvin, where zero is far away.
    least = 0.0 if kind == "temperature" else 1e-3 * abs(hand.value)
    if abs(solved - nearest) > max(0.005 * size, least) and hand.value:
        return False, f"{apart} the hand calculation{left_out}"
    return True, _agreement(hand, kind) + left_out


def _apart(hand: float, solved: float, key: Key, resolved: ResolvedCase) -> str:
    """How far solved lies from the hand's value: of temperatures in kelvins, and as a share of the rise that they are about."""
    where = "above" if solved > hand else "below"
    if key.kind != "temperature":
        return f"{abs(solved - hand) / abs(hand):.1%} {where}" if hand else where
    reference, words = _reference(key, hand, resolved)
    share = f" ({abs(solved - hand) / abs(hand - reference):.1%} of its difference to {words})" if hand != reference else ""
    return f"{abs(solved - hand):.3g} K{share} {where}"


def _reference(key: Key, hand: float, resolved: ResolvedCase) -> tuple[float, str]:
    """What a temperature is a difference from: of a stream what enters it, else what surrounds it, or what is given furthest."""
    entering = [
        c.temperature for c in resolved.conditions if c.kind in ("inlet", "opening") and c.boundary.startswith(f"{key.place}, ")
    ]
    if key.place and entering:
        return entering[0], "what enters"
    outside = [c.ambient for c in resolved.conditions if c.type == "surroundings" and c.amount > 0.0]
    if outside:
        return min(outside, key=lambda t: abs(hand - t)), "the ambient"
    given = resolved.temperatures_given
    return (max(given, key=lambda t: abs(hand - t)), "what is given") if given else (hand, "")


def _listed(things: Sequence[str]) -> str:
    return ", ".join(things[:_MOST_LISTED]) + (f" and {len(things) - _MOST_LISTED} more" if len(things) > _MOST_LISTED else "")


def _agreement(hand: HandValue, kind: str) -> str:
    """What agreement means, with the band that was wide enough for it."""
    return f"agrees within the usual scatter ({show(hand.low, kind)} to {show(hand.high, kind)})"
