"""Inlets: fluid enters by mass flow, mean velocity, a profile, or a pressure."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Literal

import numpy as np
from typing_extensions import override

from wattikos_core.boundaries.face_kinds import INLET, STATIC_PRESSURE, TEMPERATURE_GIVEN, TOTAL_PRESSURE
from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.boundaries.kind import BoundaryKind, Conditional, Shown
from wattikos_core.boundaries.on_faces import Array, FaceCondition, Giving, Index, values_on
from wattikos_core.boundaries.profiles import across_inlet, developed_profile
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.documents import Expression
from wattikos_core.errors import CaseError, InputProblem

if TYPE_CHECKING:
    from wattikos_core.case.reader import Along, Reader
    from wattikos_core.grid import Grid

# Properties are taken there where nothing in a case has a temperature, K.
ROOM_TEMPERATURE = 293.15


# How the desk asks for turbulence that enters.
TURBULENCE_FIELDS = tuple(
    Field(control="entry", field=field, label=label, placeholder="as in a long duct", turbulent_only=True)
    for field, label in (("turbulence_intensity", "Turbulence"), ("eddy_size", "Eddy size"))
)


class Inlet(Conditional):
    """Fluid enters: by mass flow, mean velocity, or pressure; the one of them that is given.

    Attributes:
        velocity: the mean; or, where it uses the position x, y or a table over it, what enters at each place.
        pressure: static or total, as `pressure_is` says; the flow follows from it.
        temperature: of what enters; may vary with the position. May be left out where nothing in the case has a temperature or
            gives heat: then flow alone is solved, with properties at `physics.reference_temperature`, or 20 °C.
        temperature_is: static, or total: of the fluid at rest, by v²/(2 cp) higher; not with a pressure given.
        angular_velocity: of what enters, about the axis of an axisymmetric section.
        turbulence_intensity, eddy_size: of turbulence that enters; empty ones are those of a developed duct as wide as the inlet.
    """

    type: Literal["inlet"] = "inlet"
    mass_flow: Expression = ""
    velocity: Expression = ""
    pressure: Expression = ""
    pressure_is: Literal["static", "total"] = "total"
    angular_velocity: Expression = ""
    temperature: Expression = ""
    temperature_is: Literal["static", "total"] = "static"
    profile: Literal["uniform", "developed"] = "uniform"
    turbulence_intensity: Expression = ""
    eddy_size: Expression = ""


class InletKind(BoundaryKind):
    """See `Inlet`."""

    type = "inlet"
    model = Inlet
    enters = True

    @override
    def gives_heat(self, condition: Inlet) -> bool:
        return bool(condition.temperature.strip())

    @override
    def resolve(self, condition: Inlet, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
        along: dict[str, Along] = {}
        temperature = entering_temperature(condition.temperature, reader, field, along)
        developed = condition.profile == "developed"
        given = [name for name in ("mass_flow", "velocity", "pressure") if getattr(condition, name).strip()]
        if len(given) > 1:
            first, second = (name.replace("_", " ") for name in given[:2])
            problem = f"both a {first} and a {second} ('{getattr(condition, given[1])}') are given"
            reader.problems.append(InputProblem(f"{field}.{given[1]}", problem, "leave one of them empty"))
        angular_velocity, varying = reader.in_time(condition.angular_velocity, "angular_velocity", f"{field}.angular_velocity")
        if varying is not None:
            along["angular_velocity"] = varying
        if condition.velocity.strip() and reader.varies_in_place(condition.velocity, "velocity"):
            amount, varying = reader.along(condition.velocity, "velocity", f"{field}.velocity")
            if developed:
                reader.fail(f"{field}.profile", f"'{condition.velocity}' is a profile of its own", "choose the uniform profile")
            along |= {"amount": varying} if varying is not None else {}
            kind: Literal["inlet_velocity", "inlet_mass", "inlet_static", "inlet_total"] = "inlet_velocity"
            developed = False
        elif condition.mass_flow.strip():
            kind, amount = "inlet_mass", _amount("mass_flow", condition.mass_flow, reader, field, along)
        elif condition.pressure.strip():
            kind = "inlet_total" if condition.pressure_is == "total" else "inlet_static"
            amount = _amount("pressure", condition.pressure, reader, field, along)
            developed, angular_velocity = False, 0.0
        else:
            kind, amount = "inlet_velocity", _amount("velocity", condition.velocity, reader, field, along)
        stagnation = condition.temperature_is == "total"
        if stagnation and condition.pressure.strip():
            problem = "a pressure is given, and the speed that a total temperature needs only follows"
            reader.fail(f"{field}.temperature_is", problem, "give the static temperature, or a flow in place of the pressure")
        intensity, eddies = entering_turbulence(condition.turbulence_intensity, condition.eddy_size, reader, field)
        return ResolvedCondition(
            field,
            boundary,
            "inlet",
            kind,
            amount,
            temperature,
            developed,
            angular_velocity=angular_velocity,
            along=along,
            intensity=intensity,
            eddies=eddies,
            stagnation=stagnation,
        )

    @override
    def on_faces(self, given: ResolvedCondition, grid: Grid, group: Index, time: float) -> FaceCondition:
        value = values_on(given, grid, group, time)
        amount, temperature, angular_velocity = value["amount"], value["temperature"], float(np.mean(value["angular_velocity"]))
        if given.type in ("inlet_static", "inlet_total"):
            fed = STATIC_PRESSURE if given.type == "inlet_static" else TOTAL_PRESSURE
            pressure = float(np.mean(amount))
            return FaceCondition(
                "outlet", pressure=pressure, fed=fed, temperature=temperature, intensity=given.intensity, eddies=given.eddies
            )
        if given.type == "inlet_velocity" and isinstance(amount, np.ndarray):
            profile = _none_leaving(given, grid, group, amount)
            plain = FaceCondition("inlet", temperature=temperature, profile=profile, angular_velocity=angular_velocity)
            return replace(plain, intensity=given.intensity, eddies=given.eddies, stagnation=given.stagnation)
        plain = FaceCondition(
            "inlet",
            temperature=temperature,
            developed=given.developed,
            angular_velocity=angular_velocity,
            intensity=given.intensity,
            eddies=given.eddies,
            stagnation=given.stagnation,
        )
        if given.type == "inlet_mass":
            return replace(plain, mass_flow=float(np.mean(amount)))
        return replace(plain, mean_velocity=float(np.mean(amount)))

    @override
    def give(self, condition: FaceCondition, giving: Giving) -> None:
        assert condition.temperature is not None
        given, totals, grid, group, area = giving.given, giving.totals, giving.grid, giving.group, giving.area
        entering = float(np.mean(condition.temperature))
        density = float(giving.table.density(entering))
        given.kind[group], given.thermal[group] = INLET, TEMPERATURE_GIVEN
        if condition.profile is not None:
            given.mass_flow[group] = -condition.profile * giving.table.density(np.asarray(condition.temperature)) * area
            total = -float(given.mass_flow[group].sum())
            share = -given.mass_flow[group] / total
        else:
            if condition.mass_flow is not None:
                total = condition.mass_flow
            else:
                assert condition.mean_velocity is not None
                total = condition.mean_velocity * density * float(area.sum())
            share = _shares(giving, condition.developed)
            given.mass_flow[group] = -total * share
        normal = grid.area[group] / area[:, None]
        given.velocity[group] = (given.mass_flow[group] / (density * area))[:, None] * normal
        given.angular_velocity[group] = condition.angular_velocity
        temperature = condition.temperature
        if condition.stagnation:
            speed = np.linalg.norm(given.velocity[group], axis=1)
            temperature = np.asarray(temperature - speed**2 / (2.0 * float(giving.table.specific_heat(entering))))
        given.temperature[group] = temperature
        totals.inflow[group] = total * share
        totals.capacity[group] = total * share * float(giving.table.specific_heat(entering))
        totals.speed[group] = total / (density * float(area.sum()))
        totals.temperature(group, temperature, condition.temperature)

    @override
    def flag(self, condition: Inlet, given: ResolvedCondition, shown: Shown) -> tuple[str, str]:
        ways = ("mass_flow", "velocity", "pressure")
        kind, text = next(((k, t) for k in ways if (t := getattr(condition, k)).strip()), ("velocity", ""))
        temperature = shown.value(given.temperature, "temperature", condition.temperature, given.along.get("temperature"))
        return "inlet", f"{shown.value(given.amount, kind, text, given.along.get('amount'))} · {temperature}"

    @override
    def form(self) -> Form:
        none = {"mass_flow": "", "velocity": "", "pressure": ""}
        by_pressure = {"pressure": ["*"]}
        ways = [
            Option(
                value="total",
                label="total pressure",
                when=by_pressure | {"pressure_is": ["total"]},
                gives=none | {"pressure": "1 Pa", "pressure_is": "total"},
            ),
            Option(
                value="static",
                label="static pressure",
                when=by_pressure | {"pressure_is": ["static"]},
                gives=none | {"pressure": "1 Pa", "pressure_is": "static"},
            ),
            Option(value="mass_flow", label="mass flow", when={"mass_flow": ["*"]}, gives=none | {"mass_flow": "1 g/s"}),
            Option(value="velocity", label="mean velocity", gives=none | {"velocity": "0.1 m/s"}),
        ]
        by_flow, no_pressure = {"mass_flow": ["*"], "pressure": [""]}, {"pressure": [""]}
        by_velocity = {"mass_flow": [""], "pressure": [""]}
        hint = (
            "Velocity and temperature may vary over the inlet: use the place x, y (6 m/s*y/(1 cm)*(1 - y/(1 cm))) or a table by "
            "its name (profile(y)). Flow alone needs no temperature."
        )
        profiles = [
            Option(value="uniform", label="uniform", when={"profile": ["uniform"]}, gives={"profile": "uniform"}),
            Option(value="developed", label="fully developed", when={"profile": ["developed"]}, gives={"profile": "developed"}),
        ]
        temperatures = [
            Option(value="static", label="static", when={"temperature_is": ["static"]}, gives={"temperature_is": "static"}),
            Option(value="total", label="total, at rest", when={"temperature_is": ["total"]}, gives={"temperature_is": "total"}),
        ]
        fresh = Option(
            value="inlet", label="inlet", when={"type": ["inlet"]}, gives={"mass_flow": "1 g/s", "temperature": "20 degC"}
        )
        return Form(
            type="inlet",
            stands_on="fluid",
            options=[fresh],
            fields=[
                Field(control="choice", field="by", label="Given by", options=ways),
                Field(control="entry", field="mass_flow", label="Mass flow", shown=by_flow),
                Field(control="entry", field="velocity", label="Mean velocity", shown=by_velocity),
                Field(control="entry", field="pressure", label="Total pressure", shown=by_pressure | {"pressure_is": ["total"]}),
                Field(control="entry", field="pressure", label="Static pressure", shown=by_pressure | {"pressure_is": ["static"]}),
                Field(control="entry", field="temperature", label="Temperature"),
                Field(control="choice", field="temperature_is", label="which is", shown=no_pressure, options=temperatures),
                Field(control="choice", field="profile", label="Profile", shown=no_pressure, options=profiles),
                *TURBULENCE_FIELDS,
                Field(control="hint", label=hint, shown=by_velocity),
            ],
        )


def entering_turbulence(intensity: str, eddy_size: str, reader: Reader, field: str) -> tuple[float | None, float | None]:
    """Intensity of the turbulence that enters, and the size of its eddies, m; None to be found from the stream."""
    return (
        reader.optional(intensity, "ratio", f"{field}.turbulence_intensity"),
        reader.optional(eddy_size, "length", f"{field}.eddy_size"),
    )


def entering_temperature(text: str, reader: Reader, field: str, along: dict[str, Along]) -> float:
    """Temperature of what enters, K; where nothing in the case has a temperature, that of the properties."""
    if text.strip() or reader.gives_heat:
        temperature, varying = reader.along(text, "temperature", f"{field}.temperature")
        along |= {"temperature": varying} if varying is not None else {}
        return temperature
    reference = reader.case.physics.reference_temperature
    return reader.read(reference, "temperature", "physics.reference_temperature") if reference.strip() else ROOM_TEMPERATURE


def _amount(name: str, text: str, reader: Reader, field: str, along: dict[str, Along]) -> float:
    """A mass flow, velocity or pressure, which may vary in time; flows are positive."""
    if not text.strip():
        return reader.read(text, name, f"{field}.{name}")
    value, varying = reader.in_time(text, name, f"{field}.{name}")
    if varying is not None:
        along["amount"] = varying
    elif name != "pressure" and not value > 0.0 and np.isfinite(value):
        reader.fail(f"{field}.{name}", f"'{text}' is {value:g}", "it must be above zero")
    return value


def _none_leaving(given: ResolvedCondition, grid: Grid, group: Index, velocity: Array) -> Array:
    """Velocities that enter at faces; CaseError where they would leave, or none enters."""
    worst = int(np.argmin(velocity))
    if velocity[worst] < 0.0 or not velocity.any():
        x, y = 1000.0 * grid.face_centre[group][worst]
        problem = f"the velocity at '{given.boundary}' is {velocity[worst]:.3g} m/s at x {x:.4g} mm, y {y:.4g} mm"
        remedy = "let fluid enter everywhere, or divide the side and make an outlet of the other part"
        raise CaseError(InputProblem(f"{given.field}.velocity", problem, remedy))
    return velocity


def _shares(giving: Giving, developed: bool) -> Array:
    """Which share of an inlet's mass flow enters through each of its faces; they add up to one."""
    grid, group, area = giving.grid, giving.group, giving.area
    if not developed:
        return np.asarray(area / area.sum())
    across = across_inlet(grid, group, giving.conditions, giving.fluid)
    profile = developed_profile(across.start, across.end, *across.walls, across.round_axis)
    return np.asarray(profile * area / (profile * area).sum())
