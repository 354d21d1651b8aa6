"""Evaluating the expressions of one case, and collecting what is wrong with them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case.document import Case, CaseMaterial, Table
from wattikos_core.errors import CaseError, Problem
from wattikos_core.materials import CATALOGUE, PropertyTable, override, table_of
from wattikos_core.quantities import QuantityError, Value, evaluate, names_in
from wattikos_core.quantities.units import dimension_and_factor
from wattikos_core.quantities.values import as_value, literal

_PLACE = {"x", "y"}
_LENGTH = dimension_and_factor("m")[0]


@dataclass(frozen=True)
class Along:
    """A value that varies along a boundary: an expression in the position x, y."""

    text: str
    kind: str
    names: Mapping[str, Value]
    functions: Mapping[str, Callable[..., Value]]

    def at(self, points: NDArray[np.float64]) -> NDArray[np.float64]:
        """Values in SI at points of shape (n, 2), m; QuantityError where the expression has none."""
        result = np.empty(len(points))
        for i, (x, y) in enumerate(points):
            names = {**self.names, "x": Value(float(x), _LENGTH), "y": Value(float(y), _LENGTH)}
            result[i] = evaluate(self.text, names, self.kind, self.functions).in_kind(self.kind)
        return result


class Reader:
    """Reads expressions with the inputs' values; `problems` collects what cannot be read."""

    def __init__(self, case: Case, values: Mapping[str, Value]) -> None:
        self.case = case
        self.values = values
        self.problems: list[Problem] = []
        self._tables: dict[str, PropertyTable | None] = {}
        self.functions = {name: function_of(table) for name, table in case.tables.items()}

    def fail(self, field: str, problem: str, remedy: str) -> None:
        """Note a problem."""
        self.problems.append(Problem(field, problem, remedy))

    def read(self, text: str, kind: str, field: str, *, above: float | None = None, at_least: float | None = None) -> float:
        """A value in SI; NaN, with a problem noted, when it cannot be read or is out of bounds."""
        try:
            value = evaluate(text, self.values, kind, self.functions).in_kind(kind)
        except QuantityError as error:
            self.fail(field, error.problem, error.remedy)
            return float("nan")
        if above is not None and not value > above:
            self.fail(field, f"'{text}' is {value:g}", f"it must be greater than {above:g}")
        if at_least is not None and value < at_least:
            self.fail(field, f"'{text}' is {value:g}", f"it must not be less than {at_least:g}")
        return value

    def optional(self, text: str, kind: str, field: str) -> float | None:
        """A positive value, or None when nothing is entered."""
        return self.read(text, kind, field, above=0.0) if text.strip() else None

    def angle(self, text: str, field: str) -> float:
        """An angle in radians; 0 when nothing is entered."""
        if not text.strip():
            return 0.0
        value = self.read(text, "angle", field)
        if abs(value) > 2.0 * np.pi + 1e-9:
            self.fail(field, f"'{text}' is more than a full turn in radians", f"write {text} deg if degrees are meant")
        return value

    def count(self, text: str, field: str, most: int = 400) -> int:
        """A whole number of at least one."""
        value = self.read(text, "number", field)
        if not np.isfinite(value):
            return 1
        if value < 0.5 or abs(value - round(value)) > 1e-6 or value > most:
            self.fail(field, f"'{text}' is {value:g}", f"it must be a whole number from 1 to {most}")
            return 1
        return round(value)

    def along(self, text: str, kind: str, field: str, *, at_least: float | None = None) -> tuple[float, Along | None]:
        """A value, or one that varies with x and y: then its value at the origin, if any, and how it varies."""
        if not (names_in(text) & _PLACE) - set(self.values):
            return self.read(text, kind, field, at_least=at_least), None
        varying = Along(text, kind, self.values, self.functions)
        try:
            return float(varying.at(np.zeros((1, 2)))[0]), varying
        except QuantityError as error:
            self.fail(field, error.problem, error.remedy)
            return float("nan"), None

    def material(self, name: str, field: str) -> PropertyTable | None:
        """The property table of a material of the case or the catalogue; the same one whenever it is asked for."""
        if name not in self._tables:
            self._tables[name] = self._material(name, field)
        return self._tables[name]

    def _material(self, name: str, field: str) -> PropertyTable | None:
        own = self.case.materials.get(name)
        item = own if own is not None else CaseMaterial(base=name)
        if item.base not in CATALOGUE:
            self.fail(field, f"there is no material '{item.base}'", f"choose one of {', '.join(sorted(CATALOGUE))}")
            return None
        where = f"materials.{name}"
        pressure = self.optional(item.pressure, "pressure", f"{where}.pressure")
        try:
            table = table_of(item.base, pressure)
        except CaseError as error:
            self.problems.extend(Problem(f"{where}.pressure", p.problem, p.remedy) for p in error.problems)
            return None
        given = {
            kind: self.optional(getattr(item, kind), kind, f"{where}.{kind}")
            for kind in ("density", "specific_heat", "viscosity", "conductivity")
        }
        across = self.optional(item.conductivity_y, "conductivity", f"{where}.conductivity_y")
        if given["viscosity"] is not None and not table.fluid:
            self.fail(f"{where}.viscosity", "a solid has no viscosity", "leave this empty")
        if across is not None and table.fluid:
            self.fail(f"{where}.conductivity_y", "a fluid conducts alike in all directions", "leave this empty")
        if all(value is None for value in given.values()) and across is None:
            return table
        return override(table, **given, conductivity_y=across)


def function_of(table: Table) -> Callable[..., Value]:
    """A table as a function for expressions."""
    position = np.array([row[0] for row in table.rows])
    value = np.array([row[1] for row in table.rows])
    dimension, factor = dimension_and_factor(table.unit)

    def look_up(argument: object) -> Value:
        given = as_value(argument)
        if given.dimension != dimension:
            raise QuantityError(
                "a table was asked at a value of another kind", f"give it a value in {table.unit or 'plain numbers'}"
            )
        found = float(np.interp(given.magnitude / factor, position, value))
        return literal(found, table.value_unit, *dimension_and_factor(table.value_unit))

    return look_up
