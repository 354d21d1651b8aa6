"""From a case document to plain SI numbers: inputs in dependency order, then every expression of the document."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from wattikos_core.case.document import Case, CaseMaterial, Inlet, Outlet, Wall
from wattikos_core.errors import CaseError, Problem
from wattikos_core.materials import CATALOGUE, PropertyTable, override, table_of
from wattikos_core.quantities import QuantityError, Value, evaluate, names_in
from wattikos_core.quantities.kinds import UNIT_WORDS

_NAME = re.compile(r"[A-Za-z][A-Za-z0-9_]*\Z")


@dataclass(frozen=True)
class ResolvedPart:
    """A rectangle in metres with its material's property table, and its heat source in W and in W/m3."""

    name: str
    table: PropertyTable
    x: float
    y: float
    width: float
    height: float
    heat: float = 0.0
    heat_density: float = 0.0


@dataclass(frozen=True)
class ResolvedCondition:
    """A condition in SI on one boundary.

    Attributes:
        amount: mass flow (kg/s), mean velocity (m/s), pressure (Pa), temperature (K), heat flux (W/m2), heat rate (W)
            or heat transfer coefficient (W/m2/K), by type.
        temperature: of the entering fluid, K.
        ambient, surroundings: what a wall convects and radiates to, K.
    """

    field: str
    boundary: str
    type: Literal[
        "inlet_mass", "inlet_velocity", "outlet", "symmetry", "adiabatic", "temperature", "heat_flux", "heat_rate", "surroundings"
    ]
    amount: float = 0.0
    temperature: float = 0.0
    developed: bool = False
    ambient: float = 0.0
    emissivity: float = 0.0
    surroundings: float = 0.0


@dataclass(frozen=True)
class ResolvedCase:
    """Everything the gridder, the solver and the hand calculations need, in SI."""

    case: Case
    values: Mapping[str, float]
    axisymmetric: bool
    depth: float
    parts: tuple[ResolvedPart, ...]
    absent: tuple[str, ...]
    conditions: tuple[ResolvedCondition, ...]
    contacts: Mapping[str, float]

    def part(self, name: str) -> ResolvedPart:
        """The part called `name`; KeyError when it is not present."""
        for part in self.parts:
            if part.name == name:
                return part
        raise KeyError(name)

    def condition(self, boundary: str) -> ResolvedCondition | None:
        """The condition on `boundary`: the last one given, as with paint."""
        found = None
        for condition in self.conditions:
            if condition.boundary == boundary:
                found = condition
        return found


def input_order(case: Case) -> list[str]:
    """Names of the inputs so that each comes after those it uses.

    Raises:
        CaseError: inputs that refer to each other in a circle, named in order.
    """
    uses = {name: names_in(item.value) & set(case.inputs) for name, item in case.inputs.items()}
    order: list[str] = []
    state: dict[str, int] = {}

    def visit(name: str, trail: tuple[str, ...]) -> None:
        if state.get(name) == 2:
            return
        if state.get(name) == 1:
            circle = [*trail[trail.index(name) :], name]
            raise CaseError(
                Problem(
                    f"inputs.{name}",
                    f"the inputs refer to each other in a circle: {' → '.join(circle)}",
                    "give one of them a number of its own",
                )
            )
        state[name] = 1
        for used in sorted(uses[name]):
            visit(used, (*trail, name))
        state[name] = 2
        order.append(name)

    for name in case.inputs:
        visit(name, ())
    return order


def evaluate_inputs(case: Case) -> tuple[dict[str, Value], list[Problem]]:
    """The values of all inputs that can be evaluated, and the problems of the others."""
    problems: list[Problem] = []
    for name in case.inputs:
        if not _NAME.match(name):
            problems.append(
                Problem(f"inputs.{name}", f"'{name}' cannot be a name", "use letters, digits and _, beginning with a letter")
            )
        elif name in UNIT_WORDS:
            problems.append(Problem(f"inputs.{name}", f"'{name}' is also a unit", "choose a longer name"))
    try:
        order = input_order(case)
    except CaseError as error:
        return {}, [*problems, *error.problems]
    values: dict[str, Value] = {}
    for name in order:
        item = case.inputs[name]
        try:
            value = evaluate(item.value, values, item.kind)
            value.in_kind(item.kind)
            values[name] = value
        except QuantityError as error:
            broken = names_in(item.value) & (set(case.inputs) - set(values))
            if broken:
                remedy = f"correct {', '.join(sorted(broken))} first"
                problems.append(Problem(f"inputs.{name}", f"'{item.value}' uses an input that is in error", remedy))
            else:
                problems.append(Problem(f"inputs.{name}", error.problem, error.remedy))
    return values, problems


class _Reader:
    """Evaluates the expressions of one case and collects what is wrong with them."""

    def __init__(self, values: Mapping[str, Value]) -> None:
        self.values = values
        self.problems: list[Problem] = []

    def read(self, text: str, kind: str, field: str, *, above: float | None = None, at_least: float | None = None) -> float:
        try:
            value = evaluate(text, self.values, kind).in_kind(kind)
        except QuantityError as error:
            self.problems.append(Problem(field, error.problem, error.remedy))
            return float("nan")
        if above is not None and not value > above:
            self.problems.append(Problem(field, f"'{text}' is {value:g}", f"it must be greater than {above:g}"))
        if at_least is not None and value < at_least:
            self.problems.append(Problem(field, f"'{text}' is {value:g}", f"it must not be less than {at_least:g}"))
        return value

    def optional(self, text: str, kind: str, field: str) -> float | None:
        return self.read(text, kind, field, above=0.0) if text.strip() else None


def resolve(case: Case) -> ResolvedCase:
    """Evaluate every expression of `case`.

    Raises:
        CaseError: all problems found, not just the first.
    """
    values, problems = evaluate_inputs(case)
    if problems:
        raise CaseError(problems)
    reader = _Reader(values)
    depth = reader.read(case.section.depth, "length", "section.depth", above=0.0) if case.section.extent == "flat" else 1.0
    parts, absent = _parts(case, reader)
    conditions = _conditions(case, reader)
    contacts = _contacts(case, reader)
    if reader.problems:
        raise CaseError(reader.problems)
    return ResolvedCase(
        case=case,
        values={name: value.magnitude for name, value in values.items()},
        axisymmetric=case.section.extent == "axisymmetric",
        depth=depth,
        parts=tuple(parts),
        absent=tuple(absent),
        conditions=tuple(conditions),
        contacts=contacts,
    )


def _parts(case: Case, reader: _Reader) -> tuple[list[ResolvedPart], list[str]]:
    parts: list[ResolvedPart] = []
    absent: list[str] = []
    seen: set[str] = set()
    for i, part in enumerate(case.section.parts):
        field = f"section.parts[{i}]"
        if part.name in seen:
            reader.problems.append(Problem(f"{field}.name", f"'{part.name}' is used twice", "give every part its own name"))
        if "|" in part.name or "," in part.name:
            reader.problems.append(
                Problem(f"{field}.name", f"'{part.name}' contains | or a comma", "these join names; leave them out")
            )
        seen.add(part.name)
        present = reader.read(part.present, "number", f"{field}.present")
        if present == 0.0:
            absent.append(part.name)
            continue
        shape = part.shape
        x = reader.read(shape.x, "length", f"{field}.shape.x")
        y = reader.read(shape.y, "length", f"{field}.shape.y")
        width = reader.read(shape.width, "length", f"{field}.shape.width", above=0.0)
        height = reader.read(shape.height, "length", f"{field}.shape.height", above=0.0)
        if case.section.extent == "axisymmetric" and y < 0.0:
            reader.problems.append(
                Problem(f"{field}.shape.y", f"'{shape.y}' is below the axis", "an axisymmetric section lies at y ≥ 0")
            )
        table = _table(case, part.material, reader, f"{field}.material")
        if table is not None:
            heat, density = _heat(part.heat, reader, f"{field}.heat")
            parts.append(ResolvedPart(part.name, table, x, y, width, height, heat, density))
    return parts, absent


def _heat(text: str, reader: _Reader, field: str) -> tuple[float, float]:
    """A source as (W, W/m3): told apart by its unit."""
    if not text.strip():
        return 0.0, 0.0
    try:
        return 0.0, evaluate(text, reader.values, "volumetric_heat").in_kind("volumetric_heat")
    except QuantityError:
        return reader.read(text, "power", field), 0.0


def _contacts(case: Case, reader: _Reader) -> dict[str, float]:
    """Resistances by interface name, both orders of the parts, m2 K/W."""
    contacts: dict[str, float] = {}
    names = {part.name for part in case.section.parts}
    for i, contact in enumerate(case.contacts):
        field = f"contacts[{i}]"
        for name in contact.between:
            if name not in names:
                known = ", ".join(sorted(names))
                reader.problems.append(Problem(f"{field}.between", f"there is no part '{name}'", f"name one of: {known}"))
        if contact.resistance.strip():
            value = reader.read(contact.resistance, "contact_resistance", f"{field}.resistance", at_least=0.0)
        else:
            gap = reader.read(contact.gap, "length", f"{field}.gap", at_least=0.0)
            table = _table(case, contact.material, reader, f"{field}.material")
            # Thin gaps: the conductivity at room temperature (common practice, no source).
            value = gap / float(table.conductivity(300.0)) if table is not None else 0.0
        first, second = contact.between
        contacts[f"{first} | {second}"] = contacts[f"{second} | {first}"] = value
    return contacts


def _table(case: Case, name: str, reader: _Reader, field: str) -> PropertyTable | None:
    own = case.materials.get(name)
    item = own if own is not None else CaseMaterial(base=name)
    if item.base not in CATALOGUE:
        reader.problems.append(
            Problem(field, f"there is no material '{item.base}'", f"choose one of {', '.join(sorted(CATALOGUE))}")
        )
        return None
    where = f"materials.{name}"
    pressure = reader.optional(item.pressure, "pressure", f"{where}.pressure")
    try:
        table = table_of(item.base, pressure)
    except CaseError as error:
        reader.problems.extend(Problem(f"{where}.pressure", p.problem, p.remedy) for p in error.problems)
        return None
    given = {
        "density": reader.optional(item.density, "density", f"{where}.density"),
        "specific_heat": reader.optional(item.specific_heat, "specific_heat", f"{where}.specific_heat"),
        "viscosity": reader.optional(item.viscosity, "viscosity", f"{where}.viscosity"),
        "conductivity": reader.optional(item.conductivity, "conductivity", f"{where}.conductivity"),
    }
    if given["viscosity"] is not None and not table.fluid:
        reader.problems.append(Problem(f"{where}.viscosity", "a solid has no viscosity", "leave this empty"))
    return override(table, **given) if any(v is not None for v in given.values()) else table


def _conditions(case: Case, reader: _Reader) -> list[ResolvedCondition]:
    resolved: list[ResolvedCondition] = []
    for i, condition in enumerate(case.conditions):
        field = f"conditions[{i}]"
        for boundary in condition.boundaries:
            if isinstance(condition, Inlet):
                resolved.append(_inlet(condition, boundary, reader, field))
            elif isinstance(condition, Outlet):
                pressure = reader.read(condition.pressure, "pressure", f"{field}.pressure")
                resolved.append(ResolvedCondition(field, boundary, "outlet", pressure))
            elif isinstance(condition, Wall):
                resolved.append(_wall(condition, boundary, reader, field))
            else:
                resolved.append(ResolvedCondition(field, boundary, "symmetry"))
    # One expression on several boundaries is one mistake: say it once.
    reader.problems = list(dict.fromkeys(reader.problems))
    return resolved


def _inlet(condition: Inlet, boundary: str, reader: _Reader, field: str) -> ResolvedCondition:
    temperature = reader.read(condition.temperature, "temperature", f"{field}.temperature")
    developed = condition.profile == "developed"
    if condition.mass_flow.strip() and condition.velocity.strip():
        reader.problems.append(
            Problem(
                f"{field}.velocity",
                f"both a mass flow and a velocity ('{condition.velocity}') are given",
                "leave one of them empty",
            )
        )
    if condition.mass_flow.strip():
        amount = reader.read(condition.mass_flow, "mass_flow", f"{field}.mass_flow", above=0.0)
        return ResolvedCondition(field, boundary, "inlet_mass", amount, temperature, developed)
    amount = reader.read(condition.velocity, "velocity", f"{field}.velocity", above=0.0)
    return ResolvedCondition(field, boundary, "inlet_velocity", amount, temperature, developed)


def _wall(condition: Wall, boundary: str, reader: _Reader, field: str) -> ResolvedCondition:
    if condition.thermal == "adiabatic":
        return ResolvedCondition(field, boundary, "adiabatic")
    if condition.thermal == "temperature":
        return ResolvedCondition(field, boundary, "temperature", reader.read(condition.value, "temperature", f"{field}.value"))
    if condition.thermal == "heat_flux":
        return ResolvedCondition(field, boundary, "heat_flux", reader.read(condition.value, "heat_flux", f"{field}.value"))
    if condition.thermal == "heat_rate":
        return ResolvedCondition(field, boundary, "heat_rate", reader.read(condition.value, "power", f"{field}.value"))
    film = ambient = emissivity = surroundings = 0.0
    if condition.thermal != "radiation":
        film = reader.read(condition.value, "heat_transfer_coefficient", f"{field}.value", at_least=0.0)
        ambient = reader.read(condition.ambient, "temperature", f"{field}.ambient")
    if condition.thermal != "convection":
        emissivity = reader.read(condition.emissivity, "ratio", f"{field}.emissivity", at_least=0.0)
        if emissivity > 1.0:
            problem = f"'{condition.emissivity}' is {emissivity:g}"
            reader.problems.append(Problem(f"{field}.emissivity", problem, "an emissivity lies between 0 and 1"))
        surroundings = reader.read(condition.surroundings, "temperature", f"{field}.surroundings")
    return ResolvedCondition(
        field, boundary, "surroundings", film, ambient=ambient, emissivity=emissivity, surroundings=surroundings
    )
