"""Values that carry their dimension, and the literals (`12 mm`, `40 degC`) people type.

Temperatures are affine: 40 °C + 5 K is a temperature, 40 °C - 20 °C a difference, and (T1 + T2)/2 a temperature again.
A value therefore carries an *affine weight*: how many absolute temperatures it contains. Sums add weights, pure
numbers scale them; at the end a temperature must weigh 1 and a difference 0.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from wattikos_core.quantities.kinds import KINDS, from_si, unit_label
from wattikos_core.quantities.units import DIMENSIONLESS, TEMPERATURE, Dimension, dimension_and_factor, normalise

_NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_LITERAL = re.compile(rf"\s*({_NUMBER})\s*(.*?)\s*\Z", re.DOTALL)
_WEIGHT_TOLERANCE = 1e-9
_LARGEST_EXPONENT = 20.0


class QuantityError(ValueError):
    """A value that cannot be read: what is wrong, and the remedy."""

    def __init__(self, problem: str, remedy: str) -> None:
        self.problem = problem
        self.remedy = remedy
        super().__init__(f"{problem}; {remedy}")


@dataclass(frozen=True)
class Value:
    """An SI magnitude with its dimension and affine weight (see the module text)."""

    magnitude: float
    dimension: Dimension = DIMENSIONLESS
    weight: float = 0.0

    def _same(self, other: object, sign: float) -> Value:
        right = as_value(other)
        if right.dimension != self.dimension:
            raise QuantityError(
                f"cannot add {describe(right.dimension)} to {describe(self.dimension)}", "give both terms the same kind of unit"
            )
        return Value(self.magnitude + sign * right.magnitude, self.dimension, self.weight + sign * right.weight)

    def __add__(self, other: object) -> Value:
        return self._same(other, 1.0)

    def __sub__(self, other: object) -> Value:
        return self._same(other, -1.0)

    def __neg__(self) -> Value:
        return Value(-self.magnitude, self.dimension, -self.weight)

    def __pos__(self) -> Value:
        return self

    def __mul__(self, other: object) -> Value:
        right = as_value(other)
        dimension = tuple(a + b for a, b in zip(self.dimension, right.dimension, strict=True))
        weight = self.weight * right.magnitude if right.dimension == DIMENSIONLESS else 0.0
        if self.dimension == DIMENSIONLESS:
            weight = right.weight * self.magnitude
        return Value(self.magnitude * right.magnitude, dimension, weight)  # type: ignore[arg-type]

    def __truediv__(self, other: object) -> Value:
        right = as_value(other)
        if right.magnitude == 0.0:
            raise QuantityError("division by zero", "change the expression so that the divisor is not zero")
        dimension = tuple(a - b for a, b in zip(self.dimension, right.dimension, strict=True))
        weight = self.weight / right.magnitude if right.dimension == DIMENSIONLESS else 0.0
        return Value(self.magnitude / right.magnitude, dimension, weight)  # type: ignore[arg-type]

    def __pow__(self, other: object) -> Value:
        right = as_value(other)
        if right.dimension != DIMENSIONLESS:
            raise QuantityError("an exponent carries a unit", "use a plain number as exponent")
        if abs(right.magnitude) > _LARGEST_EXPONENT:
            raise QuantityError(f"the exponent {right.magnitude:g} is too large", f"keep it within ±{_LARGEST_EXPONENT:g}")
        try:
            magnitude = self.magnitude**right.magnitude
        except (OverflowError, ZeroDivisionError) as error:
            raise QuantityError(f"the power cannot be computed ({error})", "use a smaller exponent") from error
        if isinstance(magnitude, complex):
            raise QuantityError("a root of a negative value", "make the base positive")
        return Value(magnitude, tuple(a * right.magnitude for a in self.dimension))  # type: ignore[arg-type]

    def __radd__(self, other: object) -> Value:
        return as_value(other) + self

    def __rsub__(self, other: object) -> Value:
        return as_value(other) - self

    def __rmul__(self, other: object) -> Value:
        return as_value(other) * self

    def __rtruediv__(self, other: object) -> Value:
        return as_value(other) / self

    def __lt__(self, other: object) -> bool:
        return (self - other).magnitude < 0.0

    def __gt__(self, other: object) -> bool:
        return (self - other).magnitude > 0.0

    def __abs__(self) -> Value:
        return -self if self.magnitude < 0.0 else self

    def in_kind(self, kind: str, said: str = "this") -> float:
        """The SI value as a quantity of `kind`; QuantityError, which calls the value what was `said`, when it is something else."""
        wanted = dimension_and_factor(KINDS[kind].si)[0]
        label = KINDS[kind].label
        if self.dimension != wanted:
            if self.dimension == DIMENSIONLESS:
                unit = KINDS[kind].unit
                raise QuantityError(f"{self.magnitude:g} has no unit", f"add one, for example {self.magnitude:g} {unit}")
            raise QuantityError(
                f"{said} is {describe(self.dimension)}, not a {label}",
                f"use a unit such as {', '.join(u for u in KINDS[kind].units if u)}",
            )
        if kind == "temperature":
            if abs(self.weight - 1.0) > _WEIGHT_TOLERANCE:
                raise QuantityError(
                    f"{said} is a temperature difference or a sum of temperatures, not a temperature",
                    "add a difference in K to a temperature in degC, or average with /2",
                )
            _refuse_below_absolute_zero(self.magnitude)
        if kind == "temperature_difference" and abs(self.weight) > _WEIGHT_TOLERANCE:
            raise QuantityError(
                f"{said} is a temperature, not a difference", "give a difference in K, or subtract two temperatures"
            )
        return self.magnitude


def as_value(thing: object) -> Value:
    """A plain number as a dimensionless `Value`; values pass through."""
    if isinstance(thing, Value):
        return thing
    if isinstance(thing, bool) or not isinstance(thing, int | float):
        raise QuantityError(f"{thing!r} is not a number", "use numbers, units, names of inputs and + - * / **")
    return Value(float(thing))


def describe(dimension: Dimension) -> str:
    """What people call a dimension ('a length'), or its base units when it has no name."""
    for kind in KINDS.values():
        if dimension_and_factor(kind.si)[0] == dimension:
            return f"a {kind.label}"
    bases = ("m", "kg", "s", "K", "mol", "A", "cd")
    return "a value in " + "·".join(b if e == 1 else f"{b}^{e:g}" for b, e in zip(bases, dimension, strict=True) if e)


def _refuse_below_absolute_zero(kelvin: float) -> None:
    if kelvin < 0.0:
        raise QuantityError(f"{kelvin:g} K is below absolute zero", f"did you mean {kelvin:g} °C?")
    if kelvin == 0.0:
        raise QuantityError("absolute zero (0 K) cannot be the temperature of equipment", "did you mean 0 °C?")


def parse_literal(text: str, kind: str | None = None) -> Value | None:
    """Read `12 mm` or `40 degC`; None when `text` is not a single number with a unit.

    With `kind` temperature, `300 K` is an absolute temperature; otherwise K is a difference.
    """
    match = _LITERAL.match(normalise(text))
    if match is None:
        return None
    number, unit = float(match.group(1)), match.group(2)
    try:
        dimension, factor = dimension_and_factor(unit)
    except KeyError:
        return None
    return literal(number, unit, dimension, factor, absolute_kelvin=kind == "temperature")


def literal(number: float, unit: str, dimension: Dimension, factor: float, *, absolute_kelvin: bool = False) -> Value:
    """The value of `number` in `unit`; degC and degF are temperatures, K a difference unless `absolute_kelvin`."""
    if unit in ("degC", "degF"):
        offset = 273.15 if unit == "degC" else 459.67
        kelvin = (number + offset) * factor
        if kelvin < 0.0:
            raise QuantityError(f"{number:g} {unit} is below absolute zero", "check the sign and the unit")
        return Value(kelvin, dimension, 1.0)
    weight = 1.0 if absolute_kelvin and dimension == TEMPERATURE and not unit.startswith("delta") else 0.0
    return Value(number * factor, dimension, weight)


def show(value: float, kind: str, unit: str | None = None, digits: int = 4) -> str:
    """`value` (SI) of `kind` as people read it, for messages."""
    unit = KINDS[kind].unit if unit is None else unit
    return f"{from_si(value, unit, kind):.{digits}g} {unit_label(unit)}".strip()
