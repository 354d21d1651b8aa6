"""Safe expressions with units: `2*height + 3 mm`, `(hot_inlet + cold_inlet)/2`."""

from __future__ import annotations

import ast
import math
from collections.abc import Callable, Mapping

from simpleeval import FunctionNotDefined, InvalidExpression, NameNotDefined, SimpleEval

from wattikos_core.quantities.syntax import parse, refuse_foreign_signs
from wattikos_core.quantities.units import DIMENSIONLESS, dimension_and_factor, is_unit
from wattikos_core.quantities.values import QuantityError, Value, as_value, literal, parse_literal


def _plain(function: Callable[[float], float], name: str) -> Callable[[object], Value]:
    def apply(argument: object) -> Value:
        value = as_value(argument)
        if value.dimension != DIMENSIONLESS:
            raise QuantityError(f"{name}() was given a value with a unit", "divide by a unit first, for example length/(1 m)")
        try:
            return Value(function(value.magnitude))
        except (ValueError, OverflowError) as error:
            raise QuantityError(f"{name}({value.magnitude:g}) is not defined", "change the argument") from error

    return apply


def _sqrt(argument: object) -> Value:
    return as_value(argument) ** 0.5


def _extreme(pick_larger: bool) -> Callable[..., Value]:
    def apply(*arguments: object) -> Value:
        if not arguments:
            raise QuantityError("min() or max() without arguments", "give at least one value")
        values = [as_value(a) for a in arguments]
        best = values[0]
        for value in values[1:]:
            if (value > best) == pick_larger:
                best = value
        return best

    return apply


def _step(argument: object) -> Value:
    """1 from where the argument, of any kind, is zero; 0 below."""
    return Value(1.0 if as_value(argument).magnitude >= 0.0 else 0.0, DIMENSIONLESS)


_FUNCTIONS: dict[str, Callable[..., Value]] = {
    "sqrt": _sqrt,
    "abs": lambda a: abs(as_value(a)),
    "min": _extreme(False),
    "max": _extreme(True),
    "sin": _plain(math.sin, "sin"),
    "cos": _plain(math.cos, "cos"),
    "tan": _plain(math.tan, "tan"),
    "exp": _plain(math.exp, "exp"),
    "log": _plain(math.log, "log"),
    "round": _plain(lambda x: float(round(x)), "round"),
    "step": _step,
}

# An input of the same name goes first.
_CONSTANTS = {"pi": math.pi}


def names_in(text: str) -> set[str]:
    """The names an expression refers to that are neither functions nor units after a number; none in what cannot be read."""
    try:
        if parse_literal(text) is not None:
            return set()
        return set(parse(text, frozenset(), frozenset(_FUNCTIONS)).names - _FUNCTIONS.keys() - _CONSTANTS.keys())
    except QuantityError:
        return set()


def evaluate(
    text: str, names: Mapping[str, Value], kind: str | None = None, functions: Mapping[str, Callable[..., Value]] | None = None
) -> Value:
    """Evaluate an expression.

    Args:
        text: a literal (`12 mm`) or an expression in names, numbers with units, + - * / ^ and functions.
        names: the values of the names that may be used.
        kind: what the result is meant to be; decides whether a literal in K is absolute.
        functions: further functions that may be called.

    Raises:
        QuantityError: with problem and remedy, for anything that cannot be evaluated.

    Example:
        >>> evaluate("2*gap + 3 mm", {"gap": evaluate("1 cm", {})}).magnitude
        0.023
    """
    if not text.strip():
        raise QuantityError("nothing is entered", "enter a number with a unit, or an expression")
    # Most expressions are the name of one input.
    value = names.get(text.strip())
    if value is None:
        refuse_foreign_signs(text)
        value = parse_literal(text, kind)
    if value is None:
        value = _evaluate_expression(text, names, functions or {})
    if not math.isfinite(value.magnitude):
        raise QuantityError(f"'{text}' is not a finite number", "change the numbers in it")
    return value


def evaluate_in(
    kind: str, text: str, names: Mapping[str, Value], functions: Mapping[str, Callable[..., Value]] | None = None
) -> float:
    """The SI value of an expression that must be a quantity of `kind`.

    Raises:
        QuantityError: with the text, problem and remedy, for anything that cannot be evaluated or is of another kind.
    """
    return evaluate(text, names, kind, functions).in_kind(kind, f"'{text.strip()}'")


def _evaluate_expression(text: str, names: Mapping[str, Value], functions: Mapping[str, Callable[..., Value]]) -> Value:
    callable_here: dict[str, Callable[..., Value]] = {**functions, **_FUNCTIONS}
    parsed = parse(text, frozenset(names), frozenset(callable_here))

    def look_up(node: ast.Name) -> Value:
        found = parsed.quantities.get(node.id) or names.get(node.id)
        if found is not None:
            return found
        if node.id in _CONSTANTS:
            return Value(_CONSTANTS[node.id])
        if is_unit(node.id):
            return literal(1.0, node.id, *dimension_and_factor(node.id))
        raise NameNotDefined(node.id, text)

    evaluator = SimpleEval(names=look_up, functions=callable_here)
    # The library's guard compares plain numbers; Value guards its own powers.
    evaluator.operators[ast.Pow] = lambda a, b: as_value(a) ** b
    try:
        return as_value(evaluator.eval(text, previously_parsed=parsed.tree))
    except QuantityError:
        raise
    except NameNotDefined as error:
        known = ", ".join(sorted(names)) or "none yet"
        raise QuantityError(f"'{error.name}' is neither an input nor a unit", f"inputs are: {known}") from error
    except FunctionNotDefined as error:
        raise QuantityError(f"there is no function '{error.func_name}'", f"functions are: {', '.join(callable_here)}") from error
    except (InvalidExpression, TypeError, ValueError, ArithmeticError, RecursionError) as error:
        raise QuantityError(
            f"'{text}' cannot be read", "write a number with a unit (12 mm) or an expression (2*height + 3 mm)"
        ) from error
