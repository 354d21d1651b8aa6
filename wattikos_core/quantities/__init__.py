"""Quantities: typed values with units, temperatures kept apart from temperature differences."""

from wattikos_core.quantities.expressions import evaluate, evaluate_in, names_in
from wattikos_core.quantities.kinds import KINDS, Kind, difference_from_si, from_si, measures, to_si, unit_label
from wattikos_core.quantities.values import QuantityError, Value, parse_literal

__all__ = [
    "KINDS",
    "Kind",
    "QuantityError",
    "Value",
    "difference_from_si",
    "evaluate",
    "evaluate_in",
    "from_si",
    "measures",
    "names_in",
    "parse_literal",
    "to_si",
    "unit_label",
]
