"""Rules by which a solve ends: a quantity that moves less than so much, over so many steps or so long."""

from __future__ import annotations

from dataclasses import dataclass

from wattikos_core.case.document import Case
from wattikos_core.case.reader import Reader
from wattikos_core.ledger import Key
from wattikos_core.quantities import QuantityError, evaluate
from wattikos_core.quantities.units import dimension_and_factor

_SECOND = dimension_and_factor("s")[0]
_FEWEST_STEPS = 2


@dataclass(frozen=True)
class ResolvedStop:
    """A rule in numbers: `key` moves less than `change` (SI, a difference) over `steps`, or over a time in s."""

    key: Key
    change: float
    steps: int | None
    time: float | None
    text: str


def resolve_stops(case: Case, reader: Reader) -> tuple[ResolvedStop, ...]:
    """The rules of a case in numbers; what is wrong with them is noted in the reader."""
    found = []
    for index, rule in enumerate(case.solve.stops):
        field = f"solve.stops[{index}]"
        kind = rule.key.kind
        change = reader.read(rule.change, "temperature_difference" if kind == "temperature" else kind, f"{field}.change", above=0.0)
        steps, time = _over(case, reader, rule.over, f"{field}.over")
        text = f"{rule.key.label} moved less than {rule.change.strip()} over {rule.over.strip()}{'' if time else ' steps'}"
        found.append(ResolvedStop(rule.key, change, steps, time, text))
    return tuple(found)


def _over(case: Case, reader: Reader, text: str, field: str) -> tuple[int | None, float | None]:
    try:
        value = evaluate(text, reader.values)
    except QuantityError as error:
        reader.fail(field, error.problem, error.remedy)
        return None, None
    if value.dimension == _SECOND:
        if case.physics.regime != "time":
            reader.fail(field, f"'{text}' is a time, and this case is steady", "give a number of steps")
        elif value.magnitude <= 0.0:
            reader.fail(field, f"'{text}' is no time to wait", "give a longer one")
        return None, value.magnitude
    return reader.count(text, field, most=100_000) if value.magnitude >= _FEWEST_STEPS else _too_few(reader, text, field), None


def _too_few(reader: Reader, text: str, field: str) -> int:
    reader.fail(field, f"'{text}' is no number of steps to judge by", f"give {_FEWEST_STEPS} or more, or a time such as 60 s")
    return _FEWEST_STEPS
