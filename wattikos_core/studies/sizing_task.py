"""What a sizing is to find: read from text as entered, and refused where it makes no sense."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from difflib import get_close_matches

from wattikos_core.case import Case, evaluate_inputs, resolve
from wattikos_core.case.wanted import Sense
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence.targets import impossible
from wattikos_core.ledger import Key, keys_at
from wattikos_core.quantities import KINDS, QuantityError, evaluate_in, from_si, parse_literal, unit_label
from wattikos_core.quantities.values import show
from wattikos_core.studies.preparation import draft

# Significant digits an input is written with.
DIGITS = 6


@dataclass(frozen=True)
class SizingTask:
    """What to find; values in SI.

    Attributes:
        input: name of the input that is varied, between `lower` and `upper`.
        key: the quantity that is to reach `target`.
        kind, unit: of the input, as it is written.
        sense: whether the target is a lower or an upper limit, which is not overstepped, or a value to be met.
    """

    input: str
    key: Key
    target: float
    lower: float
    upper: float
    kind: str
    unit: str
    sense: Sense = "equal"

    @property
    def side(self) -> float:
        """On which side of its target the quantity is to lie: 1 above, -1 below, 0 on it."""
        return {"at_least": 1.0, "at_most": -1.0, "equal": 0.0, "between": 1.0}[self.sense]


def read_task(
    case: Case, *, input: str, key: Key | None, target: str, lower: str = "", upper: str = "", sense: Sense = "equal"
) -> SizingTask:
    """Read a sizing from text as entered.

    Raises:
        CaseError: unknown input, no quantity, an input that is an expression, bounds that make no sense.
    """
    problems: list[InputProblem] = []
    if input not in case.inputs:
        names = ", ".join(case.inputs)
        raise CaseError(InputProblem("sizing.input", f"there is no input '{input}'", f"choose one of {names}"))
    item = case.inputs[input]
    if parse_literal(item.value, item.kind) is None:
        remedy = "size one of the inputs it depends on, or give it a number"
        raise CaseError(InputProblem("sizing.input", f"'{input}' is an expression ({item.value})", remedy))
    if key is None:
        raise CaseError(
            InputProblem("sizing.key", "it is not said which quantity is to meet a target", "choose one from the ledger")
        )
    values, bad = evaluate_inputs(case)
    if bad:
        raise CaseError(bad)

    def read(text: str, of_kind: str, field: str, default: float | None) -> float:
        if not text.strip() and default is not None:
            return default
        try:
            return evaluate_in(of_kind, text, values)
        except QuantityError as error:
            problems.append(InputProblem(field, error.problem, error.remedy))
            return float("nan")

    now = values[input].magnitude
    goal = read(target, key.kind, "sizing.target", None)
    low = read(lower or item.lower, item.kind, "sizing.lower", now / 20.0 if now > 0.0 else now - 20.0)
    high = read(upper or item.upper, item.kind, "sizing.upper", now * 20.0 if now > 0.0 else now + 20.0)
    if not problems and low >= high:
        shown = f"{show(low, item.kind)} to {show(high, item.kind)}"
        problems.append(InputProblem("sizing.lower", f"the bounds are {shown}", "make the lower one smaller than the upper one"))
    if not problems:
        ends = [resolve(with_input(case, input, value, item.unit or KINDS[item.kind].unit)) for value in (low, high)]
        why = impossible(key, goal, ends)
        if why:
            problems.append(InputProblem("sizing.target", why, "give a target that something in this case could bring about"))
    if problems:
        raise CaseError(problems)
    return SizingTask(input, key, goal, low, high, item.kind, item.unit or KINDS[item.kind].unit, sense)


def key_written(case: Case, text: str) -> Key:
    """The key of a quantity that is called as it is written.

    Raises:
        CaseError: the case has no such quantity; says which are written alike.
    """
    known = keys_before_solving(case)
    found = next((key for key in known if key.label == text), None)
    if found is None:
        remedy = nearest(text, [key.label for key in known])
        raise CaseError(InputProblem("sizing.key", f"there is no quantity '{text}'", remedy))
    return found


def nearest(name: str, names: Iterable[str]) -> str:
    """A remedy for a name that is not there: those most like it."""
    alike = get_close_matches(name, list(names), 3, 0.6)
    return "did you mean " + " or ".join(f"'{other}'" for other in alike) + "?" if alike else "choose one from the ledger"


def keys_before_solving(case: Case) -> list[Key]:
    """Quantities that a case may have: those of its places, those by hand, and those wanted."""
    found = draft(case)
    places = [part.name for part in case.section.parts]
    if found.section is not None:
        places = list(dict.fromkeys([*places, *found.section.names, *found.section.boundaries]))
    by_hand = list(found.hand)
    return [*keys_at(places), *by_hand, *(wanted.key for wanted in case.wanted), *case.watches]


def with_input(case: Case, name: str, value: float, unit: str) -> Case:
    """The case with one input set to an SI value, written in `unit`."""
    item = case.inputs[name]
    text = written_input(value, unit, item.kind)
    return case.model_copy(update={"inputs": {**case.inputs, name: item.model_copy(update={"value": text})}})


def written_input(value: float, unit: str, kind: str, digits: int = DIGITS) -> str:
    """An SI value of an input as it is entered."""
    return f"{from_si(value, unit, kind):.{digits}g} {unit_label(unit)}".strip()
