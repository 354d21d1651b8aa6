"""What a sizing is to find: read from text as entered, and refused where it makes no sense."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from difflib import get_close_matches

from wattikos_core.case import Case, evaluate_inputs, resolve
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence.targets import impossible
from wattikos_core.quantities import KINDS, QuantityError, evaluate_in, from_si, parse_literal
from wattikos_core.quantities.values import show
from wattikos_core.read import definition_of, quantity_names
from wattikos_core.studies.preparation import estimate_ledger

# Significant digits an input is written with.
DIGITS = 6


@dataclass(frozen=True)
class SizingTask:
    """What to find; values in SI."""

    input: str
    quantity: str
    target: float
    lower: float
    upper: float
    kind: str
    unit: str
    quantity_kind: str


def read_task(case: Case, *, input: str, quantity: str, target: str, lower: str = "", upper: str = "") -> SizingTask:
    """Read a sizing from text as entered.

    Raises:
        CaseError: unknown input or quantity, an input that is an expression, bounds that make no sense.
    """
    problems: list[InputProblem] = []
    if input not in case.inputs:
        names = ", ".join(case.inputs)
        raise CaseError(InputProblem("sizing.input", f"there is no input '{input}'", f"choose one of {names}"))
    item = case.inputs[input]
    if parse_literal(item.value, item.kind) is None:
        remedy = "size one of the inputs it depends on, or give it a number"
        raise CaseError(InputProblem("sizing.input", f"'{input}' is an expression ({item.value})", remedy))
    try:
        kind = definition_of(quantity).kind
    except KeyError:
        remedy = nearest(quantity, _names_by_hand(case))
        raise CaseError(InputProblem("sizing.quantity", f"there is no quantity '{quantity}'", remedy)) from None
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
    goal = read(target, kind, "sizing.target", None)
    low = read(lower or item.lower, item.kind, "sizing.lower", now / 20.0 if now > 0.0 else now - 20.0)
    high = read(upper or item.upper, item.kind, "sizing.upper", now * 20.0 if now > 0.0 else now + 20.0)
    if not problems and low >= high:
        shown = f"{show(low, item.kind)} to {show(high, item.kind)}"
        problems.append(InputProblem("sizing.lower", f"the bounds are {shown}", "make the lower one smaller than the upper one"))
    if not problems:
        ends = [resolve(with_input(case, input, value, item.unit or KINDS[item.kind].unit)) for value in (low, high)]
        why = impossible(quantity, kind, goal, ends)
        if why:
            problems.append(InputProblem("sizing.target", why, "give a target that something in this case could bring about"))
    if problems:
        raise CaseError(problems)
    return SizingTask(input, quantity, goal, low, high, item.kind, item.unit or KINDS[item.kind].unit, kind)


def nearest(name: str, names: Iterable[str]) -> str:
    """A remedy for a name that is not there: those most like it."""
    alike = get_close_matches(name, list(names), 3, 0.6)
    return "did you mean " + " or ".join(f"'{other}'" for other in alike) + "?" if alike else "choose one from the ledger"


def _names_by_hand(case: Case) -> list[str]:
    """Quantities that are known before anything is solved: those by hand, those wanted, and those of the whole case."""
    try:
        by_hand = [row.name for row in estimate_ledger(case)]
    except CaseError:
        by_hand = []
    parts = [part.name for part in case.section.parts]
    return [*quantity_names(parts), *by_hand, *(wanted.quantity for wanted in case.wanted)]


def with_input(case: Case, name: str, value: float, unit: str) -> Case:
    """The case with one input set to an SI value, written in `unit`."""
    item = case.inputs[name]
    text = f"{from_si(value, unit, item.kind):.{DIGITS}g} {unit}".strip()
    return case.model_copy(update={"inputs": {**case.inputs, name: item.model_copy(update={"value": text})}})
