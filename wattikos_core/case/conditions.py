"""Conditions in SI: what stands on each boundary, one by one."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from wattikos_core.case.document import Case, Inlet, Outlet, Periodic, Wall
from wattikos_core.case.reader import Along, Reader
from wattikos_core.errors import InputProblem

# Properties are taken there where nothing in a case has a temperature, K.
ROOM_TEMPERATURE = 293.15


@dataclass(frozen=True)
class ResolvedCondition:
    """A condition in SI on one boundary.

    Attributes:
        amount: mass flow (kg/s), mean velocity (m/s), pressure (Pa), temperature (K), heat flux (W/m2), heat rate (W)
            or heat transfer coefficient (W/m2/K), by type.
        temperature: of the entering fluid, K.
        ambient, surroundings: what a wall convects and radiates to, K.
        coating: resistance of a wall or coating outside the section, m2 K/W.
        turning: of a wall or of what enters, rad/s; `slide_x`, `slide_y` of a wall, m/s; `centre` it turns about, m.
        along: what varies along the boundary or in time: `amount`, `ambient`, `temperature`, `surroundings`, `turning`,
            `slide_x` or `slide_y`, with how.
    """

    field: str
    boundary: str
    type: Literal[
        "inlet_mass",
        "inlet_velocity",
        "inlet_static",
        "inlet_total",
        "outlet",
        "symmetry",
        "periodic",
        "adiabatic",
        "temperature",
        "heat_flux",
        "heat_rate",
        "surroundings",
    ]
    amount: float = 0.0
    temperature: float = 0.0
    developed: bool = False
    ambient: float = 0.0
    emissivity: float = 0.0
    surroundings: float = 0.0
    coating: float = 0.0
    turning: float = 0.0
    slide_x: float = 0.0
    slide_y: float = 0.0
    centre: tuple[float, float] | None = None
    along: Mapping[str, Along] = dataclasses.field(default_factory=dict)

    @property
    def temperatures(self) -> list[float]:
        """The temperatures it names, K."""
        if self.type.startswith("inlet"):
            return [self.temperature]
        if self.type == "temperature":
            return [self.amount]
        if self.type != "surroundings":
            return []
        return ([self.ambient] if self.amount > 0.0 else []) + ([self.surroundings] if self.emissivity > 0.0 else [])

    @property
    def profile_given(self) -> bool:
        """Whether what enters varies from place to place."""
        return self.type.startswith("inlet") and any(varying.in_place for varying in self.along.values())

    @property
    def moves(self) -> bool:
        """Whether a wall moves, or what enters turns."""
        return bool(self.turning or self.slide_x or self.slide_y or {"turning", "slide_x", "slide_y"} & set(self.along))


def layer_resistance(thickness: str, material: str, reader: Reader, field: str, material_field: str) -> float:
    """Resistance of a thin layer, m2 K/W, at room temperature (common practice, no source)."""
    gap = reader.read(thickness, "length", field, at_least=0.0)
    table = reader.material(material, material_field)
    return gap / float(table.conductivity(300.0)) if table is not None else 0.0


def resolve_conditions(case: Case, reader: Reader) -> list[ResolvedCondition]:
    """The conditions that hold, one for each boundary they name; notes in `reader` what cannot be read."""
    resolved: list[ResolvedCondition] = []
    for i, condition in enumerate(case.conditions):
        field = f"conditions[{i}]"
        if reader.read(condition.present, "number", f"{field}.present") == 0.0:
            continue
        ends = condition.downstream if isinstance(condition, Periodic) else []
        for boundary in [*condition.boundaries, *ends]:
            if isinstance(condition, Periodic):
                resolved.append(ResolvedCondition(field, boundary, "periodic"))
            elif isinstance(condition, Inlet):
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


def gives_heat(case: Case) -> bool:
    """Whether anything in a case has a temperature or gives heat, so that what enters must have a temperature too."""
    inlets = [c for c in case.conditions if isinstance(c, Inlet | Periodic)]
    walls = [c for c in case.conditions if isinstance(c, Wall)]
    return (
        any(c.temperature.strip() for c in inlets)
        or any(c.thermal != "adiabatic" for c in walls)
        or any(part.heat.strip() for part in case.section.parts)
        or case.physics.friction_heat
        or (case.physics.regime == "time" and bool(case.time.temperature.strip() or case.time.of_parts))
    )


def _inlet(condition: Inlet, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
    along: dict[str, Along] = {}
    if condition.temperature.strip() or gives_heat(reader.case):
        temperature, varying = reader.along(condition.temperature, "temperature", f"{field}.temperature")
        along |= {"temperature": varying} if varying is not None else {}
    else:
        reference = reader.case.physics.reference
        temperature = reader.read(reference, "temperature", "physics.reference") if reference.strip() else ROOM_TEMPERATURE
    developed = condition.profile == "developed"
    given = [name for name in ("mass_flow", "velocity", "pressure") if getattr(condition, name).strip()]
    if len(given) > 1:
        first, second = (name.replace("_", " ") for name in given[:2])
        text = getattr(condition, given[1])
        problem = f"both a {first} and a {second} ('{text}') are given"
        reader.problems.append(InputProblem(f"{field}.{given[1]}", problem, "leave one of them empty"))

    def pressed(name: str, text: str, kind: str) -> float:
        if not text.strip():
            return reader.read(text, kind, f"{field}.{name}")
        value, varying = reader.in_time(text, kind, f"{field}.{name}")
        if varying is not None:
            along["amount"] = varying
        elif name != "pressure" and not value > 0.0 and np.isfinite(value):
            reader.fail(f"{field}.{name}", f"'{text}' is {value:g}", "it must be greater than 0")
        return value

    turning, varying = reader.in_time(condition.turning, "turning", f"{field}.turning")
    if varying is not None:
        along["turning"] = varying
    if condition.velocity.strip() and reader.varies_in_place(condition.velocity, "velocity"):
        amount, varying = reader.along(condition.velocity, "velocity", f"{field}.velocity")
        if developed:
            reader.fail(f"{field}.profile", f"'{condition.velocity}' is a profile of its own", "choose the uniform profile")
        along |= {"amount": varying} if varying is not None else {}
        return ResolvedCondition(field, boundary, "inlet_velocity", amount, temperature, turning=turning, along=along)
    if condition.mass_flow.strip():
        amount = pressed("mass_flow", condition.mass_flow, "mass_flow")
        return ResolvedCondition(field, boundary, "inlet_mass", amount, temperature, developed, turning=turning, along=along)
    if condition.pressure.strip():
        amount = pressed("pressure", condition.pressure, "pressure")
        kind: Literal["inlet_static", "inlet_total"] = "inlet_total" if condition.pressure_is == "total" else "inlet_static"
        return ResolvedCondition(field, boundary, kind, amount, temperature, along=along)
    amount = pressed("velocity", condition.velocity, "velocity")
    return ResolvedCondition(field, boundary, "inlet_velocity", amount, temperature, developed, turning=turning, along=along)


def _wall(condition: Wall, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
    along: dict[str, Along] = {}

    def read(name: str, text: str, kind: str, at_least: float | None = None) -> float:
        place = {"amount": "value"}.get(name, name)
        value, varying = reader.along(text, kind, f"{field}.{place}", at_least=at_least)
        if varying is not None:
            along[name] = varying
        return value

    coating = 0.0
    if condition.coating.strip():
        coating = layer_resistance(
            condition.coating, condition.coating_material, reader, f"{field}.coating", f"{field}.coating_material"
        )
    thermal = _thermal(condition, boundary, reader, field, coating, read, along)
    return dataclasses.replace(thermal, **_motion(condition, reader, field, along), along=along)


def _motion(condition: Wall, reader: Reader, field: str, along: dict[str, Along]) -> dict[str, Any]:
    """How a wall moves, by field of a resolved condition."""
    found: dict[str, Any] = {}
    for name, kind in (("turning", "turning"), ("slide_x", "velocity"), ("slide_y", "velocity")):
        found[name], varying = reader.in_time(getattr(condition, name), kind, f"{field}.{name}")
        if varying is not None:
            along[name] = varying
    if condition.centre:
        if len(condition.centre) != 2:
            reader.fail(f"{field}.centre", f"{len(condition.centre)} number is given", "give x and y of the centre")
            return found
        x, y = (reader.read(text, "length", f"{field}.centre[{k}]") for k, text in enumerate(condition.centre))
        found["centre"] = (x, y)
    return found


def _thermal(
    condition: Wall,
    boundary: str,
    reader: Reader,
    field: str,
    coating: float,
    read: Callable[..., float],
    along: dict[str, Along],
) -> ResolvedCondition:
    """What a wall gives or takes."""
    if condition.thermal == "adiabatic":
        return ResolvedCondition(field, boundary, "adiabatic")
    if condition.thermal == "temperature":
        return ResolvedCondition(field, boundary, "temperature", read("amount", condition.value, "temperature"), coating=coating)
    if condition.thermal == "heat_flux":
        return ResolvedCondition(field, boundary, "heat_flux", read("amount", condition.value, "heat_flux"))
    if condition.thermal == "heat_rate":
        rate, varying = reader.in_time(condition.value, "power", f"{field}.value")
        if not condition.value.strip():
            rate = reader.read(condition.value, "power", f"{field}.value")
        if varying is not None:
            along["amount"] = varying
        return ResolvedCondition(field, boundary, "heat_rate", rate)
    film = ambient = emissivity = surroundings = 0.0
    if condition.thermal != "radiation":
        film = read("amount", condition.value, "heat_transfer_coefficient", 0.0)
        ambient = read("ambient", condition.ambient, "temperature")
    if condition.thermal != "convection":
        emissivity = reader.read(condition.emissivity, "ratio", f"{field}.emissivity", at_least=0.0)
        if emissivity > 1.0:
            problem = f"'{condition.emissivity}' is {emissivity:g}"
            reader.fail(f"{field}.emissivity", problem, "an emissivity lies between 0 and 1")
        surroundings = read("surroundings", condition.surroundings, "temperature")
    return ResolvedCondition(
        field,
        boundary,
        "surroundings",
        film,
        ambient=ambient,
        emissivity=emissivity,
        surroundings=surroundings,
        coating=coating,
    )
