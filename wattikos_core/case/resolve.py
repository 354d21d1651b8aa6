"""From a case document to plain SI numbers: inputs in dependency order, then every expression of the document."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from wattikos_core.boundaries import ResolvedCondition
from wattikos_core.case.comfort import ResolvedComfort, resolve_comfort
from wattikos_core.case.conditions import resolve_conditions
from wattikos_core.case.document import Case
from wattikos_core.case.parts import ResolvedPart, resolve_parts
from wattikos_core.case.radiation import with_radiation
from wattikos_core.case.reader import Reader
from wattikos_core.case.remembered import Remembered
from wattikos_core.case.repeating import ResolvedModule, resolve_module
from wattikos_core.case.stopping import ResolvedStop, resolve_stops
from wattikos_core.case.times import ResolvedTime, resolve_time
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities import QuantityError, Value, evaluate, measures, names_in
from wattikos_core.quantities.kinds import KINDS, UNIT_WORDS

# Constant of the momentum sink in the mush, kg/m3/s: the customary value, Brent, Voller and Reid (1988, Numer. Heat Transfer 13,
# 297).
_MUSH = 1.6e6
_NAME = re.compile(r"[A-Za-z][A-Za-z0-9_]*\Z")


@dataclass(frozen=True)
class LocalSize:
    """Cells `fineness` times as fine in parts, along boundaries, or in a box (x0, y0, x1, y1 in m; none when empty)."""

    field: str
    at: tuple[str, ...]
    box: tuple[float, ...]
    fineness: float


@dataclass(frozen=True)
class ResolvedCase:
    """Everything the gridder, the solver and the hand calculations need, in SI.

    Attributes:
        values: of inputs, SI; `quantities` the same with their dimensions.
        gravity: m/s2; `reference` temperature of the density weight is counted against, K, None to be found; `mush`
            resistance between solid and liquid, kg/m3/s.
        age_diffusivity: of the age of fluid, m2/s, None where it is not wanted; `age_limit` a time it is compared with, s.
        time: None in a steady case.
        module: what repeats along a stream; None where nothing does.
        stops: rules by which a solve ends before its end.
        comfort: people at the probes; None where there are none.
    """

    case: Case
    values: Mapping[str, float]
    quantities: Mapping[str, Value]
    axisymmetric: bool
    depth: float
    parts: tuple[ResolvedPart, ...]
    absent: tuple[str, ...]
    conditions: tuple[ResolvedCondition, ...]
    contacts: Mapping[str, float]
    local_sizes: tuple[LocalSize, ...] = ()
    gravity: tuple[float, float] = (0.0, 0.0)
    reference: float | None = None
    mush: float = _MUSH
    age_diffusivity: float | None = None
    age_limit: float | None = None
    time: ResolvedTime | None = None
    module: ResolvedModule | None = None
    stops: tuple[ResolvedStop, ...] = ()
    comfort: ResolvedComfort | None = None

    @property
    def bodies(self) -> tuple[ResolvedPart, ...]:
        """The parts that are something: all but the voids."""
        return tuple(part for part in self.parts if part.table is not None)

    @property
    def temperatures_given(self) -> list[float]:
        """All temperatures that conditions name, K."""
        return [t for condition in self.conditions for t in condition.temperatures]

    def part(self, name: str) -> ResolvedPart:
        """The part called `name`; KeyError when it is not present."""
        for part in self.parts:
            if part.name == name:
                return part
        raise KeyError(name)

    def roughness(self, boundary: str) -> float:
        """Equivalent sand roughness of a boundary or an interface, m; of two solids that of the rougher one, zero where smooth."""
        condition = self.condition(boundary)
        if condition is not None:
            return condition.roughness
        sides = boundary.split(" | ") if " | " in boundary else []
        return max((part.roughness for part in self.parts if part.name in sides), default=0.0)

    def condition(self, boundary: str) -> ResolvedCondition | None:
        """The condition on `boundary`: the last one given, as with paint.

        What is given for a repeated part holds for its copies, unless a copy has a condition of its own.
        """
        found = shared = None
        general = self.general_name(boundary)
        for condition in self.conditions:
            if condition.boundary == boundary:
                found = condition
            elif condition.boundary == general:
                shared = condition
        return found or shared

    def general_name(self, boundary: str) -> str:
        """The name of a copy's boundary with the repeated part's own name (`tube 3, outside` → `tube, outside`)."""
        part, comma, side = boundary.partition(", ")
        for resolved in self.parts:
            if resolved.name == part:
                return resolved.origin + comma + side
        return boundary


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
                InputProblem(
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


def evaluate_inputs(case: Case) -> tuple[dict[str, Value], list[InputProblem]]:
    """The values of all inputs that can be evaluated, and the problems of the others."""
    problems: list[InputProblem] = []
    for name in case.inputs:
        if not _NAME.match(name):
            problems.append(
                InputProblem(f"inputs.{name}", f"'{name}' cannot be a name", "use letters, digits and _, beginning with a letter")
            )
        elif name in UNIT_WORDS:
            problems.append(InputProblem(f"inputs.{name}", f"'{name}' is also a unit", "choose a longer name"))
    for name, item in case.inputs.items():
        if item.unit and not measures(item.unit, item.kind):
            kind = KINDS[item.kind]
            remedy = f"show it in {', '.join(unit for unit in kind.units if unit) or 'no unit'}"
            problems.append(InputProblem(f"inputs.{name}.unit", f"'{item.unit}' is no unit of a {kind.label}", remedy))
    try:
        order = input_order(case)
    except CaseError as error:
        return {}, [*problems, *error.problems]
    values: dict[str, Value] = {}
    for name in order:
        item = case.inputs[name]
        try:
            value = evaluate(item.value, values, item.kind)
            value.in_kind(item.kind, f"'{item.value}'")
            values[name] = value
        except QuantityError as error:
            broken = names_in(item.value) & (set(case.inputs) - set(values))
            if broken:
                remedy = f"correct {', '.join(sorted(broken))} first"
                problems.append(InputProblem(f"inputs.{name}", f"'{item.value}' uses an input that is in error", remedy))
            else:
                problems.append(InputProblem(f"inputs.{name}", error.problem, error.remedy))
    return values, problems


def resolve(case: Case) -> ResolvedCase:
    """Evaluate every expression of `case`.

    Raises:
        CaseError: all problems found, not just the first.

    Example:
        >>> from wattikos_core.case.starters import starter_case
        >>> [part.name for part in resolve(starter_case("feed_line")).parts]
        ['stream', 'pipe', 'insulation']
    """
    values, problems = evaluate_inputs(case)
    if problems:
        raise CaseError(problems)
    return resolve_values(case, values)


def resolve_values(case: Case, values: Mapping[str, Value], remembered: Remembered | None = None) -> ResolvedCase:
    """Evaluate every expression of `case` with the values its inputs have; raises as `resolve` does.

    Args:
        case: the document.
        values: see `evaluate_inputs`.
        remembered: of the same case with other values.
    """
    reader = Reader(case, values, remembered)
    depth = reader.read(case.section.depth, "length", "section.depth", above=0.0) if case.section.extent == "flat" else 1.0
    parts, absent = resolve_parts(case, reader)
    conditions = resolve_conditions(case, reader)
    copies: dict[str, list[str]] = {}
    for part in parts:
        copies.setdefault(part.origin, []).append(part.name)
    parts = with_radiation(case, reader, parts, copies)
    contacts = _contacts(case, reader, copies)
    sizes = _local_sizes(case, reader, copies)
    gravity = _gravity(case, reader)
    physics = case.physics
    reference = mush = None
    if physics.reference_temperature.strip():
        reference = reader.read(physics.reference_temperature, "temperature", "physics.reference_temperature")
    if physics.mush_constant.strip():
        mush = reader.read(physics.mush_constant, "mush_resistance", "physics.mush_constant", above=0.0)
    spreading = (
        reader.read(physics.age_diffusivity, "diffusivity", "physics.age_diffusivity", at_least=0.0)
        if (physics.age and physics.age_diffusivity.strip())
        else 0.0
    )
    limit = reader.optional(physics.age_limit, "time", "physics.age_limit") if physics.age else None
    time = resolve_time(case, reader, copies) if physics.regime == "time" else None
    module = resolve_module(case, reader, conditions, parts)
    stops = resolve_stops(case, reader)
    comfort = resolve_comfort(case, reader)
    if reader.problems:
        raise CaseError(reader.problems)
    return ResolvedCase(
        case=case,
        values={name: value.magnitude for name, value in values.items()},
        quantities=dict(values),
        axisymmetric=case.section.extent == "axisymmetric",
        depth=depth,
        parts=tuple(parts),
        absent=tuple(absent),
        conditions=tuple(conditions),
        contacts=contacts,
        local_sizes=tuple(sizes),
        gravity=gravity,
        reference=reference,
        mush=_MUSH if mush is None else mush,
        stops=stops,
        comfort=comfort,
        age_diffusivity=spreading if physics.age else None,
        age_limit=limit,
        time=time,
        module=module,
    )


def _gravity(case: Case, reader: Reader) -> tuple[float, float]:
    x, y = (
        reader.read(text, "acceleration", f"physics.{name}") if text.strip() else 0.0
        for name, text in (("gravity_x", case.physics.gravity_x), ("gravity_y", case.physics.gravity_y))
    )
    if case.section.extent == "axisymmetric" and y != 0.0:
        problem = f"'{case.physics.gravity_y}' pulls across the axis of the section"
        reader.fail("physics.gravity_y", problem, "in an axisymmetric section gravity can only act along x")
    return x, y


def _local_sizes(case: Case, reader: Reader, copies: Mapping[str, Sequence[str]]) -> list[LocalSize]:
    """Local fineness; what is asked for a repeated part or its boundaries holds for each copy."""

    def each(name: str) -> list[str]:
        if " | " in name:
            first, second = (copies.get(part, (part,)) for part in name.split(" | ", 1))
            return [f"{a} | {b}" for a in first for b in second]
        part, comma, side = name.partition(", ")
        return [copy + comma + side for copy in copies.get(part, (part,))]

    sizes = []
    for i, wish in enumerate(case.grid.local):
        where = f"grid.local[{i}]"
        if len(wish.box) not in (0, 4) or not (wish.box or wish.at):
            reader.fail(
                where, "neither a part nor a boundary nor a box of four numbers is given", "name one, or give x0, y0, x1, y1"
            )
            continue
        box = tuple(reader.read(text, "length", f"{where}.box[{k}]") for k, text in enumerate(wish.box))
        sizes.append(LocalSize(where, tuple(name for at in wish.at for name in each(at)), box, wish.fineness))
    return sizes


def _contacts(case: Case, reader: Reader, copies: Mapping[str, Sequence[str]]) -> dict[str, float]:
    """Resistances by interface name, both orders of the parts, m2 K/W; a repeated part's holds for each copy."""
    contacts: dict[str, float] = {}
    names = {part.name for part in case.section.parts}
    for i, contact in enumerate(case.contacts):
        field = f"contacts[{i}]"
        for name in contact.between:
            if name not in names and name not in copies:
                reader.fail(f"{field}.between", f"there is no part '{name}'", f"name one of: {', '.join(sorted(names))}")
        if contact.resistance.strip():
            value = reader.read(contact.resistance, "contact_resistance", f"{field}.resistance", at_least=0.0)
        else:
            value = reader.layer_resistance(contact.thickness, contact.material, f"{field}.thickness", f"{field}.material")
        first, second = (copies.get(name, (name,)) for name in contact.between)
        for one in first:
            for other in second:
                contacts[f"{one} | {other}"] = contacts[f"{other} | {one}"] = value
    return contacts
