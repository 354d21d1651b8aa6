"""What a module that repeats along a stream is asked for: developed flow and heat, alike in every module."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wattikos_core.boundaries import BOUNDARY_KINDS, Periodic, ResolvedCondition
from wattikos_core.case.document import Case
from wattikos_core.case.parts import ResolvedPart
from wattikos_core.case.reader import Reader
from wattikos_core.errors import InputProblem
from wattikos_core.quantities.values import show

_MOST_MODULES = 1_000_000
# What can drive the flow of a module.
_DRIVES = ("mass_flow", "velocity", "pressure_gradient")
# Temperatures closer than this are the same one, K.
_SAME = 1e-9


@dataclass(frozen=True)
class ResolvedModule:
    """A module in SI.

    Attributes:
        field: of the condition in the document.
        upstream, downstream: the boundaries at its two ends.
        mass_flow: kg/s, `velocity`: mean at the ends, m/s, or `gradient`: fall of pressure along the stream, Pa/m; the one
            that is given.
        temperature: mixed-mean temperature at the upstream end, K.
        properties_at: temperature all properties are taken at, K.
        wall: the one temperature that walls or surroundings hold, K; None where heat rates are given, or nothing.
        count: modules behind each other.
    """

    field: str
    upstream: tuple[str, ...]
    downstream: tuple[str, ...]
    mass_flow: float | None
    velocity: float | None
    gradient: float | None
    temperature: float
    properties_at: float
    wall: float | None
    count: int


def resolve_module(
    case: Case, reader: Reader, conditions: Sequence[ResolvedCondition], parts: Sequence[ResolvedPart]
) -> ResolvedModule | None:
    """The module of a case; None where nothing is periodic. Notes in `reader` what does not go with it."""
    found = None
    for i, condition in enumerate(case.conditions):
        field = f"conditions[{i}]"
        if not isinstance(condition, Periodic) or reader.read(condition.present, "number", f"{field}.present") == 0.0:
            continue
        if found is not None:
            problem = f"a second condition makes '{condition.boundaries[0]}' periodic"
            reader.fail(field, problem, "give all upstream and downstream boundaries of the module in one condition")
            continue
        found = _module(condition, field, reader, conditions, parts)
    if found is not None:
        _refuse_company(case, found, reader, conditions, parts)
    return found


def _module(
    condition: Periodic, field: str, reader: Reader, conditions: Sequence[ResolvedCondition], parts: Sequence[ResolvedPart]
) -> ResolvedModule:
    entered = [kind for kind in _DRIVES if getattr(condition, kind).strip()]
    drive = {kind: reader.optional(getattr(condition, kind), kind, f"{field}.{kind}") for kind in _DRIVES}
    if len(entered) > 1:
        first, second = (kind.replace("_", " ") for kind in entered[:2])
        problem = f"both a {first} and a {second} ('{getattr(condition, entered[1])}') are given"
        reader.fail(f"{field}.{entered[1]}", problem, "leave one of them empty")
    if not entered:
        problem = "neither a mass flow nor a velocity nor a pressure gradient is given"
        reader.fail(f"{field}.mass_flow", problem, "give one of them")
    temperature = reader.read(condition.temperature, "temperature", f"{field}.temperature")
    text = condition.properties_at
    properties_at = reader.read(text, "temperature", f"{field}.properties_at") if text.strip() else temperature
    return ResolvedModule(
        field,
        tuple(condition.boundaries),
        tuple(condition.downstream),
        drive["mass_flow"],
        drive["velocity"],
        drive["pressure_gradient"],
        temperature,
        properties_at,
        _wall_temperature(field, temperature, condition.temperature, reader, conditions, parts),
        reader.count(condition.modules, f"{field}.modules", _MOST_MODULES),
    )


def _wall_temperature(
    field: str,
    bulk: float,
    entered: str,
    reader: Reader,
    conditions: Sequence[ResolvedCondition],
    parts: Sequence[ResolvedPart],
) -> float | None:
    """The one temperature that walls hold. Several of them, or heat rates beside it, leave nothing that could repeat."""
    held: dict[str, tuple[float, str]] = {}
    heat = next((f"{part.field}.heat" for part in parts if part.heat or part.heat_density), "")
    for condition in conditions:
        where = f"{condition.field}.{'ambient_temperature' if condition.type == 'surroundings' else condition.type}"
        if condition.type == "temperature":
            held.setdefault(where, (condition.amount, condition.boundary))
        elif condition.type == "surroundings":
            if condition.emissivity > 0.0:
                problem = f"'{condition.boundary}' radiates: that does not repeat from module to module"
                reader.fail(
                    f"{condition.field}.emissivity", problem, "give its share as convection with a heat transfer coefficient"
                )
            held.setdefault(where, (condition.ambient, condition.boundary))
        elif condition.type in ("heat_flux", "heat_rate") and (condition.amount or condition.along):
            heat = where
            continue
        if condition.type in ("temperature", "surroundings") and condition.along:
            problem = f"what '{condition.boundary}' holds varies along it"
            reader.fail(where, problem, "give one temperature for the whole module")
    if not held:
        return None
    first_field, (first, boundary) = next(iter(held.items()))
    if heat:
        problem = f"heat is given beside the temperature that '{boundary}' holds"
        reader.fail(heat, problem, "a module repeats with one wall temperature, or with heat rates, not with both")
    for other_field, (value, name) in held.items():
        if abs(value - first) > _SAME:
            problem = f"'{name}' holds {show(value, 'temperature')} and '{boundary}' {show(first, 'temperature')} ({first_field})"
            reader.fail(other_field, problem, "a module repeats with one wall temperature")
    if abs(first - bulk) <= _SAME:
        problem = f"'{entered}' is the temperature that '{boundary}' holds: no heat passes"
        reader.fail(f"{field}.temperature", problem, "give another temperature at the upstream end")
    return first


def _refuse_company(
    case: Case,
    module: ResolvedModule,
    reader: Reader,
    conditions: Sequence[ResolvedCondition],
    parts: Sequence[ResolvedPart],
) -> None:
    """Note what does not repeat from module to module."""
    for condition in conditions:
        kind = BOUNDARY_KINDS[condition.kind]
        if kind.enters or kind.leaves:
            problem = f"'{condition.boundary}' lets fluid in or out of a module that repeats"
            reader.fail(f"{condition.field}.boundaries", problem, "make it periodic, or leave the periodic condition out")
    physics = case.physics
    refused = (
        (physics.regime == "time", "physics.regime", "a module that repeats is solved steady", "choose steady"),
        (
            bool(physics.gravity_x.strip() or physics.gravity_y.strip()),
            "physics.gravity_x",
            "weight does not repeat from module to module while temperatures change",
            "leave gravity empty; solve a length of the duct with an inlet and an outlet where it matters",
        ),
        (physics.friction_heat, "physics.friction_heat", "friction heat is not counted in a module", "leave it out"),
    )
    reader.problems += [InputProblem(field, problem, remedy) for wrong, field, problem, remedy in refused if wrong]
    for part in parts:
        if module.wall is not None and part.emitting is not None:
            problem = "radiation does not repeat where walls hold a temperature: modules before shine in all the more"
            remedy = "give heat rates, solve the whole length, or take the radiation out"
            reader.fail(f"{part.field}.radiation", problem, remedy)
        if part.table is not None and part.table.melting is not None:
            reader.fail(f"{part.field}.material", f"'{part.name}' melts: that does not repeat", "choose another material")
