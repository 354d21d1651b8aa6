"""What may stand in an expression: a whitelist of signs and of grammar, and the parsed form, kept.

Numbers, units behind numbers, names, + - * / ^, brackets and calls with plain arguments; nothing else gets as far as the parser.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from threading import Lock

from wattikos_core.quantities.units import dimension_and_factor, is_unit, normalise
from wattikos_core.quantities.values import QuantityError, Value, literal

MAX_LENGTH = 400
_MOST_BRACKETS = 40
_FOREIGN = re.compile(r"[^A-Za-z0-9_.,+\-*/^() \t]")
# A number directly followed by a word: `3 mm`, but not `3e6`. The unit binds tighter than any operator.
_NUMBER_UNIT = re.compile(
    r"(?<![\w.])((?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)(?![eE][+-]?\d)\s*([A-Za-z_][A-Za-z_]*(?:\s*\^\s*-?\d+)?)"
)
# A temperature below zero is one temperature, not the negative of one.
_BELOW_ZERO = re.compile(r"(^|[(,+\-*/])\s*-\s*((?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)\s*(degC|degF)\b")
# No name that people enter begins like this: what stands for the numbers with units.
_HOLDER = "_quantity_"
_GRAMMAR = (ast.Expression, ast.BinOp, ast.UnaryOp, ast.Call, ast.Name, ast.Constant, ast.Load)
_OPERATORS = (ast.Add, ast.Sub, ast.Mult, ast.Div, ast.Pow, ast.USub, ast.UAdd)
_HOW = "write a number with a unit (12 mm) or an expression (2*height + 3 mm) with + - * / ^ and brackets"
# The interpreter's parser has failed at random when several threads used it at once.
_one_at_a_time = Lock()


@dataclass(frozen=True)
class Parsed:
    """An expression that keeps to the grammar.

    Attributes:
        tree: its body; numbers with units are names in it.
        quantities: what those names stand for.
        names: the other names it refers to, of inputs, units and functions.
    """

    tree: ast.expr
    quantities: Mapping[str, Value]
    names: frozenset[str]


def refuse_foreign_signs(text: str) -> None:
    """Raise QuantityError, naming the sign, for a text that holds what no quantity and no expression can."""
    if len(text) > MAX_LENGTH:
        raise QuantityError(f"the expression has {len(text)} characters", f"keep it under {MAX_LENGTH}; split it into inputs")
    if found := _FOREIGN.search(normalise(text)):
        raise QuantityError(f"'{text.strip()}' holds the sign {found.group()!r}", _HOW)


def parse(text: str, shadowing: frozenset[str], functions: frozenset[str]) -> Parsed:
    """The parsed form of an expression, from a store of those met before.

    Args:
        text: as it was entered.
        shadowing: names of inputs, which go before units of the same name.
        functions: names that may be called.

    Raises:
        QuantityError: for anything outside the grammar.
    """
    refuse_foreign_signs(text)
    words = frozenset(re.findall(r"[A-Za-z_]\w*", text))
    with _one_at_a_time:
        return _parse(text, shadowing & words, functions & words)


@lru_cache(maxsize=4096)
def _parse(text: str, shadowing: frozenset[str], functions: frozenset[str]) -> Parsed:
    quantities: dict[str, Value] = {}

    def held(number: float, unit: str) -> str:
        name = f"{_HOLDER}{len(quantities)}"
        quantities[name] = literal(number, unit, *dimension_and_factor(unit))
        return f"({name})"

    def hold(match: re.Match[str]) -> str:
        number, unit = match.group(1), match.group(2).replace(" ", "")
        # `2 min` are minutes, `2 min(a, b)` is nothing.
        called = unit in functions and match.string[match.end() :].lstrip().startswith("(")
        if called or unit in shadowing or not is_unit(unit):
            return match.group(0)
        return held(float(number), unit)

    def hold_below_zero(match: re.Match[str]) -> str:
        return match.group(0) if match.group(3) in shadowing else match.group(1) + held(-float(match.group(2)), match.group(3))

    prepared = _NUMBER_UNIT.sub(hold, _BELOW_ZERO.sub(hold_below_zero, normalise(text).strip())).replace("^", "**").strip()
    decimal_comma = "(" not in text and re.search(r"\d,\d", text) is not None
    remedy = "write the decimal sign as a point (3.5 mm)" if decimal_comma else _HOW
    unreadable = QuantityError(f"'{text.strip()}' cannot be read", remedy)
    if _HOLDER in text or text.count("(") > _MOST_BRACKETS:
        raise unreadable
    try:
        tree = ast.parse(prepared, mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError) as error:
        raise unreadable from error
    for node in ast.walk(tree):
        plain_call = not isinstance(node, ast.Call) or (isinstance(node.func, ast.Name) and not node.keywords)
        number = not isinstance(node, ast.Constant) or (isinstance(node.value, int | float) and not isinstance(node.value, bool))
        if not isinstance(node, _GRAMMAR + _OPERATORS) or not plain_call or not number:
            raise unreadable
    names = frozenset(node.id for node in ast.walk(tree) if isinstance(node, ast.Name))
    return Parsed(tree.body, quantities, names - quantities.keys())
