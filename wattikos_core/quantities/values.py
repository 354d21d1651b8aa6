"""Values that carry their dimension, and the literals (`12 mm`, `40 degC`) people type.

Temperatures are affine: 40 °C + 5 K is a temperature, 40 °C - 20 °C a difference, and (T1 + T2)/2 a temperature again.
A value therefore carries an *affine weight*: how many absolute temperatures it contains. Sums add weights, pure
numbers scale them; at the end a temperature must weigh 1 and a difference 0.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from functools import lru_cache

from wattikos_core.quantities.kinds import KINDS, from_si, unit_label
from wattikos_core.quantities.units import DIMENSIONLESS, TEMPERATURE, Dimension, dimension_and_factor, normalise

_NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_LITERAL = re.compile(rf"\s*({_NUMBER})\s*(.*?)\s*\Z", re.DOTALL)
_WEIGHT_TOLERANCE = 1e-9
_LARGEST_EXPONENT = 20.0
# Numbers are written out from 10⁻⁴ to 10⁷. Those a unit makes smaller or larger than the first two are told in another unit of
# their kind, if it brings them between the other two.
_SMALL_POWER, _LARGE_POWER = 4, 7
_UNREADABLY_SMALL, _UNREADABLY_LARGE = 1e-3, 1e5
_SMALL, _LARGE = 0.1, 1e4
# An end of a range that is this share of the other is none.
_NOTHING = 1e-6
_RAISED = str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹")


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


@lru_cache(maxsize=4096)
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
    """`value` (SI) of `kind` as people read it: in a unit, unless another one of its kind reads much better.

    Example:
        >>> show(0.25, "velocity", "mm/s"), show(100.0, "velocity", "mm/s")
        ('250 mm/s', '100 m/s')
    """
    unit = _readable(value, kind, KINDS[kind].unit if unit is None else unit)
    return f"{written(from_si(value, unit, kind), digits)} {unit_label(unit)}".strip()


def show_range(low: float, high: float, kind: str, unit: str | None = None, digits: int = 4) -> str:
    """A range of SI values of `kind` as people read it; a single value where both ends read alike."""
    size = max(abs(low), abs(high))
    unit = _readable(size, kind, KINDS[kind].unit if unit is None else unit)
    low, high = (0.0 if abs(value) < _NOTHING * size else value for value in (low, high))
    first, last = (written(from_si(value, unit, kind), digits) for value in (low, high))
    return f"{first if first == last else f'{first} to {last}'} {unit_label(unit)}".strip()


def written(number: float, digits: int = 4) -> str:
    """A number with so many significant digits, and powers of ten only where nobody would write it out.

    Example:
        >>> written(123456.7), written(0.00012345), written(1.5e9)
        ('123457', '0.0001235', '1.5·10⁹')
    """
    if number == 0.0 or not math.isfinite(number):
        return f"{number:g}"
    mantissa, power = f"{number:.{digits - 1}e}".split("e")
    exponent = int(power)
    if -_SMALL_POWER <= exponent < _LARGE_POWER:
        return _trimmed(f"{number:.{max(digits - 1 - exponent, 0)}f}")
    return f"{_trimmed(mantissa)}·10{str(exponent).translate(_RAISED)}"


def _trimmed(text: str) -> str:
    return text.rstrip("0").rstrip(".") if "." in text else text


def _readable(value: float, kind: str, unit: str) -> str:
    """`unit`, or another one of the kind in which the number is neither long nor tiny."""
    if kind == "temperature" or value == 0.0 or _UNREADABLY_SMALL <= abs(from_si(value, unit, kind)) < _UNREADABLY_LARGE:
        return unit
    return next((u for u in KINDS[kind].units if _SMALL <= abs(from_si(value, u, kind)) < _LARGE), unit)
