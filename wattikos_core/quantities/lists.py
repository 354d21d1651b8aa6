"""Several values in one entry: `300, 500, 800 W`, `1..3 m/s : 5`, `1..3 m/s by 0.5`, `1..100 W : 7 log`."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from wattikos_core.quantities.kinds import KINDS, from_si, measures, unit_label
from wattikos_core.quantities.units import normalise
from wattikos_core.quantities.values import QuantityError, parse_literal

MOST_VALUES = 10_000
# Digits that values between two ends are written with.
_DIGITS = 6
_NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_RANGE = re.compile(
    rf"(?P<first>{_NUMBER})\s*(?P<unit_first>.*?)\s*(?:\.\.|\bto\b)\s*(?P<last>{_NUMBER})\s*(?P<unit>.*?)\s*"
    rf"(?:(?::|\bin\b)\s*(?P<count>\d+)|\bby\s+(?P<step>{_NUMBER})\s*(?P<unit_step>.*?))?\s*(?P<log>\blog)?\s*\Z"
)
_PLAIN = re.compile(rf"{_NUMBER}\s*\Z")


@dataclass(frozen=True)
class Span:
    """From one value to another, both in `unit`; `count` values, or one every `step`; neither where that is not said."""

    first: float
    last: float
    unit: str
    count: int | None = None
    step: float | None = None
    logarithmic: bool = False

    def values(self) -> list[str]:
        """The values as they are written.

        Raises:
            QuantityError: it is not said how many; a step of the wrong sign; too many.
        """
        if self.count is not None:
            if not 1 <= self.count <= MOST_VALUES:
                raise QuantityError(f"{self.count} values", f"ask for 1 to {MOST_VALUES:,}")
            between = np.geomspace if self.logarithmic else np.linspace
            return [self.written(float(x)) for x in between(self.first, self.last, self.count)]
        if self.step is None:
            example = f"{self.first:g}..{self.last:g} {unit_label(self.unit)}".strip()
            raise QuantityError("it is not said how many values there are", f"write '{example} : 5' or '{example} by …'")
        if self.step * (self.last - self.first) <= 0.0:
            problem = f"steps of {self.step:g} do not lead from {self.first:g} to {self.last:g}"
            raise QuantityError(problem, "change the step's sign")
        # The last value counts where round-off alone keeps the steps from it.
        count = int((self.last - self.first) / self.step + 1e-9) + 1
        if count > MOST_VALUES:
            raise QuantityError(f"{count:,} values", f"take longer steps: {MOST_VALUES:,} are the most")
        return [self.written(self.first + self.step * i) for i in range(count)]

    def written(self, value: float) -> str:
        """A value between both ends, as it is entered."""
        return f"{value:.{_DIGITS}g} {unit_label(self.unit)}".strip()

    def at(self, share: float) -> float:
        """The value at a share of the way from the first to the last."""
        if self.logarithmic:
            return float(self.first * (self.last / self.first) ** share)
        return self.first + share * (self.last - self.first)


def read_list(text: str, kind: str, unit: str = "") -> list[str]:
    """The values of a list, each as it would be entered by itself; what is no number is an expression, and stays as it is.

    Args:
        text: values and ranges between commas; a unit holds for the numbers before it that have none.
        kind: what they measure.
        unit: of numbers without one at all; the kind's own when empty.

    Raises:
        QuantityError: nothing there, or a range that makes no sense.

    Example:
        >>> read_list("300, 500, 800 W", "power")
        ['300 W', '500 W', '800 W']
        >>> read_list("1..3 m/s : 3, 5 m/s", "velocity")
        ['1 m/s', '2 m/s', '3 m/s', '5 m/s']
    """
    items = [item.strip() for item in re.split(r"[,;\n\t]", text) if item.strip()]
    if not items:
        raise QuantityError("no values are given", "write them with commas between, or as a range such as '1..3 m/s : 5'")
    found: list[str] = []
    holding = unit or KINDS[kind].unit
    for item in reversed(items):
        span = read_span(item, kind, holding)
        if span is not None:
            found[:0] = span.values()
            holding = span.unit
            continue
        literal = parse_literal(item, kind)
        if literal is not None and _PLAIN.match(item) and holding:
            item = f"{item} {unit_label(holding)}"
        elif literal is not None and not _PLAIN.match(item):
            holding = _unit_of(item)
            item = re.sub(rf"^({_NUMBER})(?=[A-Za-z°µ%])", r"\1 ", item)
        found.insert(0, item)
    if len(found) > MOST_VALUES:
        raise QuantityError(f"{len(found):,} values", f"{MOST_VALUES:,} are the most")
    return found


def read_span(text: str, kind: str, unit: str = "") -> Span | None:
    """A range from one number to another; None where `text` is none.

    Raises:
        QuantityError: units that do not fit together or the kind, a logarithmic range with zero in it.
    """
    match = _RANGE.match(normalise(text.strip()))
    if match is None:
        return None
    last_unit = match["unit"] or match["unit_first"] or unit or KINDS[kind].unit
    first_unit = match["unit_first"] or last_unit
    for one in (first_unit, last_unit):
        if one and not measures(one, kind):
            units = ", ".join(u for u in KINDS[kind].units if u)
            raise QuantityError(f"'{one}' is no unit of a {KINDS[kind].label}", f"use {units}" if units else "leave the unit out")
    first, last = float(match["first"]), float(match["last"])
    if first_unit != last_unit:
        value = parse_literal(f"{first:g} {first_unit}", kind)
        assert value is not None
        first = from_si(value.magnitude, last_unit, kind)
    logarithmic = match["log"] is not None
    if logarithmic and min(first, last) <= 0.0:
        raise QuantityError(f"a logarithmic range cannot reach {min(first, last):g}", "begin above zero, or leave out 'log'")
    count = int(match["count"]) if match["count"] else None
    step = float(match["step"]) if match["step"] else None
    if logarithmic and step is not None:
        raise QuantityError("a logarithmic range has no even steps", "say how many values instead, such as ': 7 log'")
    if match["unit_step"] and match["unit_step"] != last_unit:
        raise QuantityError(f"the step is in '{match['unit_step']}', the range in '{last_unit}'", "give both in one unit")
    return Span(first, last, last_unit, count, step, logarithmic)


def _unit_of(item: str) -> str:
    return normalise(re.sub(rf"^\s*{_NUMBER}\s*", "", item)).strip()
