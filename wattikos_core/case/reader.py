"""Evaluating the expressions of one case, and collecting what is wrong with them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from wattikos_core.boundaries import kind_of
from wattikos_core.case.document import Case, CaseMaterial, Table
from wattikos_core.case.remembered import Remembered
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.materials import CATALOGUE, PropertyTable, expanding, override, table_of, with_melting
from wattikos_core.quantities import QuantityError, Value, evaluate_in, names_in
from wattikos_core.quantities.units import dimension_and_factor, is_unit
from wattikos_core.quantities.values import as_value, literal, show

R = TypeVar("R")
_PLACE = {"x", "y"}
_TIME = "time"
_LENGTH, _SECOND = dimension_and_factor("m")[0], dimension_and_factor("s")[0]


@dataclass(frozen=True)
class Along:
    """A value that varies from place to place or in time: an expression in the position x, y and the time."""

    text: str
    kind: str
    names: Mapping[str, Value]
    functions: Mapping[str, Callable[..., Value]]

    @property
    def in_place(self) -> bool:
        """Whether it varies from place to place."""
        return bool(names_in(self.text) & _PLACE - set(self.names))

    @property
    def in_time(self) -> bool:
        """Whether it varies in time."""
        return _TIME in names_in(self.text) and _TIME not in self.names

    def at(self, points: NDArray[np.float64], time: float = 0.0) -> NDArray[np.float64]:
        """Values in SI at points of shape (n, 2), m, at a time in s; QuantityError where the expression has none."""
        return np.array([self._value({"x": Value(float(x), _LENGTH), "y": Value(float(y), _LENGTH)}, time) for x, y in points])

    def at_time(self, time: float) -> float:
        """The value in SI at a time in s, of what is the same everywhere; QuantityError where the expression has none."""
        return self._value({}, time)

    def _value(self, place: Mapping[str, Value], time: float) -> float:
        names = {_TIME: Value(time, _SECOND), **place, **self.names}
        return evaluate_in(self.kind, self.text, names, self.functions)


class Reader:
    """Reads expressions with the inputs' values; `problems` collects what cannot be read."""

    def __init__(self, case: Case, values: Mapping[str, Value], remembered: Remembered | None = None) -> None:
        self.case = case
        self.values = values
        self._remembered = remembered
        self.problems: list[InputProblem] = []
        self._tables: dict[str, PropertyTable | None] = {}
        self.functions: dict[str, Callable[..., Value]] = {}
        for name, table in case.tables.items():
            wrong = [field for field in ("unit", "value_unit") if not _known(getattr(table, field))]
            for field in wrong:
                self.fail(f"tables.{name}.{field}", f"'{getattr(table, field)}' is no unit", "give one such as mm, s or degC")
            if not wrong:
                self.functions[name] = function_of(table)

    @property
    def gives_heat(self) -> bool:
        """Whether anything in the case has a temperature or gives heat, so that what enters must have a temperature too."""
        case = self.case
        return (
            any(kind_of(condition).gives_heat(condition) for condition in case.conditions)
            or any(part.heat.strip() for part in case.section.parts)
            or case.physics.friction_heat
            or (case.physics.regime == "time" and bool(case.time.temperature.strip() or case.time.part_temperatures))
        )

    def item(self, field: str, item: BaseModel, read: Callable[[], R]) -> R:
        """What `read` makes of an item of the document; taken from memory where it was read before with the same values."""
        if self._remembered is None:
            return read()
        return self._remembered.read(field, item, self.values, read, lambda: not self.problems)

    def fail(self, field: str, problem: str, remedy: str) -> None:
        """Note a problem."""
        self.problems.append(InputProblem(field, problem, remedy))

    def read(self, text: str, kind: str, field: str, *, above: float | None = None, at_least: float | None = None) -> float:
        """A value in SI; NaN, with a problem noted, when it cannot be read or is out of bounds."""
        try:
            value = evaluate_in(kind, text, self.values, self.functions)
        except QuantityError as error:
            self.fail(field, error.problem, error.remedy)
            return float("nan")
        if above is not None and not value > above:
            self._out_of_bounds(text, value, kind, field, f"it must be above {_shown(above, kind)}")
        if at_least is not None and value < at_least:
            self._out_of_bounds(text, value, kind, field, f"it must not be below {_shown(at_least, kind)}")
        return value

    def or_zero(self, text: str, kind: str, field: str) -> float:
        """A value that may be left empty, which is zero, and must not be negative."""
        return self.read(text, kind, field, at_least=0.0) if text.strip() else 0.0

    def _out_of_bounds(self, text: str, value: float, kind: str, field: str, remedy: str) -> None:
        """A value that cannot be, told where it was typed: at the input, however many parts use it."""
        name = text.strip()
        item = self.case.inputs.get(name)
        if item is not None and not names_in(item.value):
            problem = InputProblem(f"inputs.{name}", f"{item.label or name} is {item.value.strip()}", remedy)
            if problem not in self.problems:
                self.problems.append(problem)
            return
        self.fail(field, f"'{name}' is {show(value, kind)}", remedy)

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
        """A value, or one that varies with x, y or the time: then its value at the origin, if any, and how it varies."""
        varying = Along(text, kind, self.values, self.functions)
        if not (varying.in_place or varying.in_time):
            return self.read(text, kind, field, at_least=at_least), None
        if varying.in_time and self.case.physics.regime != "time":
            self.fail(field, f"'{text}' depends on the time", "this case is steady: solve it in time, or give a value that stays")
            return float("nan"), None
        try:
            return float(varying.at(np.zeros((1, 2)))[0]), varying
        except QuantityError as error:
            self.fail(field, error.problem, error.remedy)
            return float("nan"), None

    def varies_in_place(self, text: str, kind: str) -> bool:
        """Whether an expression uses the position."""
        return Along(text, kind, self.values, self.functions).in_place

    def in_time(self, text: str, kind: str, field: str) -> tuple[float, Along | None]:
        """A value, or one that varies in time; 0 when nothing is entered."""
        if not text.strip():
            return 0.0, None
        value, varying = self.along(text, kind, field)
        if varying is not None and varying.in_place:
            self.fail(field, f"'{text}' depends on the place", "give one value for the whole boundary")
            return float("nan"), None
        return value, varying

    def layer_resistance(self, thickness: str, material: str, field: str, material_field: str) -> float:
        """Resistance of a thin layer, m2 K/W, at room temperature (common practice, no source)."""
        thick = self.read(thickness, "length", field, at_least=0.0)
        table = self.material(material, material_field)
        return thick / float(table.conductivity(300.0)) if table is not None else 0.0

    def material(self, name: str, field: str) -> PropertyTable | None:
        """The property table of a material of the case or the catalogue; the same one whenever it is asked for."""
        if name not in self._tables:
            self._tables[name] = self._material(name, field)
        return self._tables[name]

    def _material(self, name: str, field: str) -> PropertyTable | None:
        if not name.strip():
            self.fail(field, "no material is given", f"choose one of {', '.join(sorted(CATALOGUE))}")
            return None
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
            self.problems.extend(InputProblem(f"{where}.pressure", p.problem, p.remedy) for p in error.problems)
            return None
        given = {
            kind: self.optional(getattr(item, kind), kind, f"{where}.{kind}")
            for kind in ("density", "specific_heat", "viscosity", "conductivity")
        }
        across = self.optional(item.conductivity_y, "conductivity", f"{where}.conductivity_y")
        table = self._melting(item, table, where, given["specific_heat"])
        if table.melting is not None:
            # It stands in the table of what melts already, of solid and liquid.
            given["specific_heat"] = None
        expansion = self.read(item.expansion, "expansion", f"{where}.expansion") if item.expansion.strip() else None
        if given["viscosity"] is not None and not table.fluid:
            self.fail(f"{where}.viscosity", "a solid has no viscosity", "leave this empty")
        if across is not None and table.fluid:
            self.fail(f"{where}.conductivity_y", "a fluid conducts alike in all directions", "leave this empty")
        if all(value is None for value in given.values()) and across is None and expansion is None:
            return table
        changed = override(table, **given, conductivity_y=across)
        return changed if expansion is None else expanding(changed, expansion)

    def _melting(self, item: CaseMaterial, table: PropertyTable, where: str, specific_heat: float | None) -> PropertyTable:
        """The table with the case's own melting range, latent heat, and one specific heat of solid and liquid, where given."""
        texts = {"melts_from": item.melts_from, "melts_to": item.melts_to, "latent_heat": item.latent_heat}
        own_range = any(text.strip() for text in texts.values())
        if not own_range and (specific_heat is None or table.melting is None):
            return table
        if table.melting is None:
            self.fail(f"{where}.melts_from", f"{table.label} does not melt here", "leave this empty, or choose one that melts")
            return table
        old = table.melting
        begins = self.read(item.melts_from, "temperature", f"{where}.melts_from") if item.melts_from.strip() else old.begins
        ends = self.read(item.melts_to, "temperature", f"{where}.melts_to") if item.melts_to.strip() else old.ends
        latent = self.optional(item.latent_heat, "specific_energy", f"{where}.latent_heat") or old.latent_heat
        if not ends > begins:
            self.fail(f"{where}.melts_to", f"'{item.melts_to}' is not above the lower end of the melting range", "make it higher")
            return table
        return with_melting(table, begins, ends, latent, specific_heat)


def _shown(bound: float, kind: str) -> str:
    return "zero" if bound == 0.0 else show(bound, kind)


def _known(unit: str) -> bool:
    return not unit or is_unit(unit)


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
