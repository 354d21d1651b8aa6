"""The ledger: each quantity with what is wanted, what the hand says, what was solved, and how far to believe it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from wattikos_core.case import Case, ResolvedCase
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate import HandValue
from wattikos_core.evidence.grid_uncertainty import GridUncertainty
from wattikos_core.evidence.targets import slack
from wattikos_core.quantities import KINDS, QuantityError, Value, evaluate_in
from wattikos_core.quantities.values import show
from wattikos_core.read import definition_of
from wattikos_core.read.senses import in_sense, opposite

# What an engineer looks at first, in this order; everything else follows by name.
_FIRST = (
    "duty",
    "effectiveness",
    "hot outlet temperature",
    "cold outlet temperature",
    "NTU",
    "overall U",
    "hot h",
    "cold h",
    "hot Nusselt number",
    "cold Nusselt number",
    "hot pressure drop",
    "cold pressure drop",
    "hottest metal",
    "coldest metal",
)


# Of what a hand calculation leaves out, named in a verdict.
_MOST_LISTED = 3


@dataclass(frozen=True)
class LedgerRow:
    """One quantity; values in the SI unit of its kind.

    Attributes:
        opposite: what the quantity is called in the other sense, where it has one; rows are named so that values are not negative.
        agrees: whether solved and hand-calculated values lie within their combined band; None when not both are known.
        sense: `at_least` or `at_most`, for the target.
        meets: whether the best value known reaches the target; None without a target.
    """

    name: str
    opposite: str
    kind: str
    unit: str
    definition: str
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


def targets_of(case: Case, values: Mapping[str, Value]) -> dict[str, float | None]:
    """The wanted quantities and their targets in SI.

    Raises:
        CaseError: a wanted quantity does not exist or its target cannot be read.
    """
    targets: dict[str, float | None] = {}
    problems = []
    for i, wanted in enumerate(case.wanted):
        try:
            kind = definition_of(wanted.quantity).kind
            targets[wanted.quantity] = evaluate_in(kind, wanted.target, values) if wanted.target.strip() else None
        except KeyError:
            remedy = "choose one from the ledger"
            problems.append(InputProblem(f"wanted[{i}].quantity", f"there is no quantity '{wanted.quantity}'", remedy))
        except QuantityError as error:
            problems.append(InputProblem(f"wanted[{i}].target", error.problem, error.remedy))
    if problems:
        raise CaseError(problems)
    return targets


def build_ledger(
    resolved: ResolvedCase,
    hand: Mapping[str, HandValue],
    solved: Mapping[str, float],
    uncertainty: Mapping[str, GridUncertainty] | None = None,
) -> list[LedgerRow]:
    """All rows, wanted ones first.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> rows = build_ledger(resolve(starter_case("plate_passage")), {}, {"effectiveness": 0.7})
        >>> rows[0].name, rows[0].solved
        ('effectiveness', 0.7)
    """
    from wattikos_core.case import evaluate_inputs

    targets = targets_of(resolved.case, evaluate_inputs(resolved.case)[0])
    senses = {wanted.quantity: wanted.sense for wanted in resolved.case.wanted}
    facing = _facing(targets, hand, solved)
    targets = {facing.get(name, name): target for name, target in targets.items()}
    hand = {facing.get(name, name): turned(value, facing.get(name, name)) for name, value in hand.items()}
    solved = {facing.get(name, name): -value if name in facing else value for name, value in solved.items()}
    uncertainty = {facing.get(name, name): band for name, band in (uncertainty or {}).items()}
    names = list(dict.fromkeys([*targets, *(n for n in _FIRST if n in hand or n in solved), *sorted({*hand, *solved})]))
    rows = []
    for name in names:
        definition = definition_of(name)
        by_hand, value = hand.get(name), solved.get(name)
        band = uncertainty.get(name)
        plus_minus = band.plus_minus if band else None
        agrees, verdict = _compare(by_hand, value, plus_minus or 0.0, definition.kind, resolved)
        if solved and value is None and name in targets:
            verdict = "not reached in this run" if definition.kind == "time" else "not among what was solved"
        best = value if value is not None else (by_hand.value if by_hand else None)
        target = targets.get(name)
        sense = senses.get(name, "at_least")
        meets = None if target is None or best is None else _meets(best, target, sense, slack(target, definition.kind, resolved))
        rows.append(
            LedgerRow(
                name=name,
                opposite=opposite(name),
                kind=definition.kind,
                unit=KINDS[definition.kind].si,
                definition=definition.text,
                wanted=name in targets,
                target=target,
                sense=sense,
                hand=by_hand,
                solved=value,
                plus_minus=plus_minus,
                order=band.order if band and math.isfinite(band.order) else None,
                agrees=agrees,
                meets=meets,
                verdict=verdict,
            )
        )
    return rows


def _facing(targets: Mapping[str, float | None], hand: Mapping[str, HandValue], solved: Mapping[str, float]) -> dict[str, str]:
    """Names that are told in the other sense: what is wanted at a target stays as it is asked for, all else is not negative."""
    facing: dict[str, str] = {}
    for name in {*targets, *hand, *solved}:
        other = opposite(name)
        if not other or targets.get(name) is not None:
            continue
        value = solved.get(name, hand[name].value if name in hand else 0.0)
        if targets.get(other) is not None or (value < 0.0 and other not in solved and other not in hand):
            facing[name] = other
        elif name in targets and name not in solved and name not in hand:
            # Wanted in one sense, there in the other: it is told as that one is.
            there = solved.get(other, hand[other].value if other in hand else 0.0)
            if there >= 0.0 and (other in solved or other in hand):
                facing[name] = other
    return facing


def turned(value: HandValue, name: str) -> HandValue:
    """A hand value under a name: itself, or its negative under the name of the other sense."""
    return value if name == value.name else replace(value, name=name, value=-value.value, low=-value.high, high=-value.low)


def solved_in(rows: Sequence[LedgerRow], name: str) -> float | None:
    """The solved value of a quantity in a ledger, by either of its names; None where it was not solved."""
    return in_sense({row.name: row.solved for row in rows if row.solved is not None}, name)


def hand_in(rows: Sequence[LedgerRow], name: str) -> HandValue | None:
    """The hand value of a quantity in a ledger, by either of its names; None where it has none."""
    return next((turned(row.hand, name) for row in rows if row.hand is not None and name in (row.name, row.opposite)), None)


def _meets(value: float, target: float, sense: str, beside: float) -> bool:
    """Whether a value reaches a target, or is hardly beside it: sizing stops that near to it."""
    return value <= target + beside if sense == "at_most" else value >= target - beside


def _compare(
    hand: HandValue | None, solved: float | None, plus_minus: float, kind: str, resolved: ResolvedCase
) -> tuple[bool | None, str]:
    if hand is None or solved is None:
        return None, f"leaves out {_listed(hand.leaves_out)}" if hand is not None and hand.leaves_out else ""
    left_out = f"; that leaves out {_listed(hand.leaves_out)}" if hand.leaves_out else ""
    apart = _apart(hand.value, solved, kind, resolved)
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


def _apart(hand: float, solved: float, kind: str, resolved: ResolvedCase) -> str:
    """How far solved lies from the hand's value: of temperatures in kelvins and as a share of the differences in the case."""
    where = "above" if solved > hand else "below"
    if kind != "temperature":
        return f"{abs(solved - hand) / abs(hand):.1%} {where}" if hand else where
    span = max((abs(hand - t) for t in resolved.temperatures_given), default=0.0)
    share = f" ({abs(solved - hand) / span:.1%} of its difference to what is given)" if span > 0.0 else ""
    return f"{abs(solved - hand):.3g} K{share} {where}"


def _listed(things: Sequence[str]) -> str:
    return ", ".join(things[:_MOST_LISTED]) + (f" and {len(things) - _MOST_LISTED} more" if len(things) > _MOST_LISTED else "")


def _agreement(hand: HandValue, kind: str) -> str:
    """What agreement means, with the band that was wide enough for it."""
    return f"agrees within the usual scatter ({show(hand.low, kind)} to {show(hand.high, kind)})"
