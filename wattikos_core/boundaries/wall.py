"""Walls: what they give, hold, or lose to surroundings, and how they move."""

from __future__ import annotations

import dataclasses
from typing import TYPE_CHECKING, Annotated, Any, Literal

import numpy as np
from pydantic import Field as Limits
from typing_extensions import override

from wattikos_core.boundaries.face_kinds import TEMPERATURE_GIVEN
from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.boundaries.kind import BoundaryKind, Conditional, Shown
from wattikos_core.boundaries.on_faces import Array, FaceCondition, Giving, Index, about, values_on
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.documents import Expression
from wattikos_core.errors import CaseError, InputProblem

if TYPE_CHECKING:
    from wattikos_core.case.reader import Along, Reader
    from wattikos_core.grid import Grid

# A wall may leave its own surface by this share of its speed: chords of circles do.
_ALONG = 0.02

WallThermal = Literal["adiabatic", "temperature", "heat_flux", "heat_rate", "convection", "radiation", "convection_radiation"]


class Wall(Conditional):
    """A wall and what it gives or takes. Values may vary: expressions may use the position x, y and the time.

    Attributes:
        temperature, heat_flux, heat_rate: the one that `thermal` names; flux and rate into the section.
        heat_transfer_coefficient, ambient_temperature: of the fluid outside, for convection.
        emissivity, surroundings_temperature: of the wall, and the temperature it radiates to.
        absorbed: flux that shines on its outside and is absorbed, such as that of the sun, beside convection and radiation.
        coating_thickness, coating_material: of a wall or coating outside the section, not gridded.
        roughness: equivalent sand roughness, of walls that turbulent streams wet; smooth when empty.
        slide_x, slide_y: velocity of a wall that slides along itself.
        angular_velocity: about the axis of an axisymmetric section, or (anticlockwise) about the `centre` of a flat one: x and y,
            the middle of the boundary when empty.
    """

    type: Literal["wall"] = "wall"
    thermal: WallThermal = "adiabatic"
    temperature: Expression = ""
    heat_flux: Expression = ""
    heat_rate: Expression = ""
    heat_transfer_coefficient: Expression = ""
    ambient_temperature: Expression = ""
    emissivity: Expression = ""
    surroundings_temperature: Expression = ""
    absorbed: Expression = ""
    coating_thickness: Expression = ""
    coating_material: Annotated[str, Limits(max_length=60)] = ""
    roughness: Expression = ""
    slide_x: Expression = ""
    slide_y: Expression = ""
    angular_velocity: Expression = ""
    centre: Annotated[list[Expression], Limits(max_length=2)] = []


class WallKind(BoundaryKind):
    """See `Wall`."""

    type = "wall"
    model = Wall
    layers = True

    @override
    def gives_heat(self, condition: Wall) -> bool:
        return condition.thermal != "adiabatic"

    @override
    def resolve(self, condition: Wall, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
        along: dict[str, Along] = {}
        coating = 0.0
        if condition.coating_thickness.strip():
            fields = f"{field}.coating_thickness", f"{field}.coating_material"
            coating = reader.layer_resistance(condition.coating_thickness, condition.coating_material, *fields)
        plain = ResolvedCondition(field, boundary, "wall", "adiabatic")
        thermal = _thermal(condition, plain, reader, coating, along)
        motion = _motion(condition, reader, field, along)
        roughness = reader.or_zero(condition.roughness, "length", f"{field}.roughness")
        return dataclasses.replace(thermal, **motion, along=along, roughness=roughness)

    @override
    def on_faces(self, given: ResolvedCondition, grid: Grid, group: Index, time: float) -> FaceCondition:
        value = values_on(given, grid, group, time)
        amount = value["amount"]
        angular_velocity = float(np.mean(value["angular_velocity"]))
        slide = (float(np.mean(value["slide_x"])), float(np.mean(value["slide_y"])))
        velocity = _velocity(given, grid, group, angular_velocity, slide)
        turns = angular_velocity if grid.axisymmetric else 0.0
        plain = FaceCondition("wall", velocity, turns, roughness=given.roughness)
        if given.type == "temperature":
            return dataclasses.replace(plain, temperature=amount, coating=given.coating)
        if given.type == "heat_flux":
            return dataclasses.replace(plain, heat_flux=amount)
        if given.type == "heat_rate":
            return dataclasses.replace(plain, heat_rate=float(np.mean(amount)))
        if given.type == "surroundings":
            return dataclasses.replace(
                plain,
                coefficient=amount,
                heat_flux=value["absorbed"],
                ambient=value["ambient"],
                emissivity=given.emissivity,
                surroundings=value["surroundings"],
                coating=given.coating,
            )
        return plain

    @override
    def give(self, condition: FaceCondition, giving: Giving) -> None:
        given, totals, grid, group, area = giving.given, giving.totals, giving.grid, giving.group, giving.area
        given.velocity[group] = condition.velocity
        given.angular_velocity[group] = condition.angular_velocity
        of_swirl = abs(condition.angular_velocity) * grid.face_centre[group][:, 1] if grid.axisymmetric else 0.0
        totals.speed[group] = np.maximum(np.linalg.norm(given.velocity[group], axis=1), of_swirl)
        flux = condition.heat_flux + condition.heat_rate / float(area.sum())
        given.heat_flux[group] = flux
        given.coefficient[group], given.ambient[group] = condition.coefficient, condition.ambient
        given.emissivity[group], given.surroundings[group] = condition.emissivity, condition.surroundings
        given.contact[group], given.roughness[group] = condition.coating, condition.roughness
        for t, there in ((condition.ambient, condition.coefficient), (condition.surroundings, condition.emissivity)):
            if np.any(there):
                totals.temperature(group, t, t)
        totals.heat[group] = flux * area
        if condition.temperature is not None:
            given.thermal[group], given.temperature[group] = TEMPERATURE_GIVEN, condition.temperature
            totals.temperature(group, condition.temperature, condition.temperature)

    @override
    def flag(self, condition: Wall, given: ResolvedCondition, shown: Shown) -> tuple[str, str]:
        along, moving = given.along, []
        if given.angular_velocity or "angular_velocity" in along:
            turns = along.get("angular_velocity")
            moving.append(shown.value(given.angular_velocity, "angular_velocity", condition.angular_velocity, turns))
        if given.slide_x or given.slide_y:
            speed = (given.slide_x**2 + given.slide_y**2) ** 0.5
            moving.append(shown.value(speed, "velocity", condition.slide_x or condition.slide_y))
        if condition.thermal == "adiabatic":
            return ("moving" if moving else "adiabatic"), " · ".join(moving) or "adiabatic"
        pieces = []
        if given.type != "surroundings":
            kind = {"heat_rate": "power"}.get(condition.thermal, condition.thermal)
            pieces.append(shown.value(given.amount, kind, getattr(condition, condition.thermal), along.get("amount")))
        elif condition.thermal != "radiation":
            film, ambient = condition.heat_transfer_coefficient, condition.ambient_temperature
            pieces.append(shown.value(given.amount, "heat_transfer_coefficient", film, along.get("amount")))
            pieces.append(shown.value(given.ambient, "temperature", ambient, along.get("ambient")))
        if given.type == "surroundings" and condition.thermal != "convection":
            beyond = condition.surroundings_temperature
            pieces.append(f"ε {given.emissivity:.3g}")
            pieces.append(shown.value(given.surroundings, "temperature", beyond, along.get("surroundings")))
        if given.absorbed or "absorbed" in along:
            pieces.append("+ " + shown.value(given.absorbed, "heat_flux", condition.absorbed, along.get("absorbed")))
        return condition.thermal, " · ".join([*pieces, *moving])

    @override
    def form(self) -> Form:
        fields = [*_thermal_fields(), _ROUGHNESS, *_motion_fields(), _HINT]
        return Form(type="wall", stands_on="any", options=_options(), fields=fields)


def _thermal(
    condition: Wall, plain: ResolvedCondition, reader: Reader, coating: float, along: dict[str, Along]
) -> ResolvedCondition:
    """What a wall gives or takes; notes in `along` what varies."""
    field = plain.field

    def read(name: str, place: str, kind: str, at_least: float | None = None) -> float:
        value, varying = reader.along(getattr(condition, place), kind, f"{field}.{place}", at_least=at_least)
        if varying is not None:
            along[name] = varying
        return value

    if condition.thermal == "adiabatic":
        return plain
    if condition.thermal == "temperature":
        amount = read("amount", "temperature", "temperature")
        return dataclasses.replace(plain, type="temperature", amount=amount, coating=coating)
    if condition.thermal == "heat_flux":
        return dataclasses.replace(plain, type="heat_flux", amount=read("amount", "heat_flux", "heat_flux"))
    if condition.thermal == "heat_rate":
        rate, varying = reader.in_time(condition.heat_rate, "power", f"{field}.heat_rate")
        if not condition.heat_rate.strip():
            rate = reader.read(condition.heat_rate, "power", f"{field}.heat_rate")
        if varying is not None:
            along["amount"] = varying
        return dataclasses.replace(plain, type="heat_rate", amount=rate)
    coefficient = ambient = emissivity = surroundings = 0.0
    if condition.thermal != "radiation":
        coefficient = read("amount", "heat_transfer_coefficient", "heat_transfer_coefficient", 0.0)
        ambient = read("ambient", "ambient_temperature", "temperature")
    if condition.thermal != "convection":
        emissivity = reader.read(condition.emissivity, "ratio", f"{field}.emissivity", at_least=0.0)
        if emissivity > 1.0:
            problem = f"'{condition.emissivity}' is {emissivity:g}"
            reader.fail(f"{field}.emissivity", problem, "an emissivity lies between 0 and 1")
        surroundings = read("surroundings", "surroundings_temperature", "temperature")
    absorbed = read("absorbed", "absorbed", "heat_flux") if condition.absorbed.strip() else 0.0
    return dataclasses.replace(
        plain,
        type="surroundings",
        amount=coefficient,
        absorbed=absorbed,
        ambient=ambient,
        emissivity=emissivity,
        surroundings=surroundings,
        coating=coating,
    )


def _motion(condition: Wall, reader: Reader, field: str, along: dict[str, Along]) -> dict[str, Any]:
    """How a wall moves, by field of a resolved condition."""
    found: dict[str, Any] = {}
    for name, kind in (("angular_velocity", "angular_velocity"), ("slide_x", "velocity"), ("slide_y", "velocity")):
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


def _velocity(given: ResolvedCondition, grid: Grid, group: Index, angular_velocity: float, slide: tuple[float, float]) -> Array:
    """Velocity of a moving wall's faces, along themselves; CaseError when it would leave its surface."""
    velocity = np.tile(np.asarray(slide, dtype=float), (group.size, 1))
    if angular_velocity and not grid.axisymmetric:
        centre = given.centre if given.centre is not None else grid.nodes[np.unique(grid.edges[group])].mean(axis=0)
        velocity = velocity + about(grid, group, angular_velocity, np.asarray(centre))
    normal = grid.area[group] / np.linalg.norm(grid.area[group], axis=1)[:, None]
    across = np.einsum("ij,ij->i", velocity, normal)
    speed = float(np.linalg.norm(velocity, axis=1).max(initial=0.0))
    if speed > 0.0 and float(np.abs(across).max()) > _ALONG * speed:
        problem = f"'{given.boundary}' would move out of its own surface by {float(np.abs(across).max()):.3g} m/s"
        raise CaseError(InputProblem(f"{given.field}.motion", problem, "a wall can slide along itself, or turn about its centre"))
    return np.asarray(velocity - across[:, None] * normal)


_ROUGHNESS = Field(
    control="entry",
    field="roughness",
    label="Roughness",
    title="equivalent sand roughness, which counts where the stream is turbulent",
    placeholder="smooth",
    fluid_only=True,
    turbulent_only=True,
)
_HINT = Field(
    control="hint",
    label="Values may vary along the boundary: use the place x, y (20 °C + 5 K*x/(1 m)) or a table by its name (profile(x)).",
    shown={"thermal": ["temperature", "heat_flux", "heat_rate", "convection", "radiation", "convection_radiation"]},
)


def _options() -> list[Option]:
    convection = {"heat_transfer_coefficient": "10 W/m^2/K", "ambient_temperature": "20 °C"}
    radiation = {"emissivity": "0.9", "surroundings_temperature": "20 °C"}
    ways: tuple[tuple[str, str, dict[str, str]], ...] = (
        ("adiabatic", "wall, adiabatic", {}),
        ("temperature", "wall at a temperature", {"temperature": "20 °C"}),
        ("heat_flux", "wall with a heat flux", {"heat_flux": "1 kW/m^2"}),
        ("heat_rate", "wall with a heat rate", {"heat_rate": "100 W"}),
        ("convection", "convection", convection),
        ("radiation", "radiation", radiation),
        ("convection_radiation", "convection and radiation", convection | radiation),
    )
    return [
        Option(value=name, label=label, when={"type": ["wall"], "thermal": [name]}, gives={"thermal": name, **gives})
        for name, label, gives in ways
    ]


def _thermal_fields() -> list[Field]:
    convects = {"thermal": ["convection", "convection_radiation"]}
    radiates = {"thermal": ["radiation", "convection_radiation"]}
    return [
        Field(control="entry", field="temperature", label="Temperature", shown={"thermal": ["temperature"]}),
        Field(control="entry", field="heat_flux", label="Heat flux, inward", shown={"thermal": ["heat_flux"]}),
        Field(control="entry", field="heat_rate", label="Heat rate, inward", shown={"thermal": ["heat_rate"]}),
        Field(control="entry", field="heat_transfer_coefficient", label="Coefficient h", shown=convects),
        Field(control="entry", field="ambient_temperature", label="Ambient", shown=convects),
        Field(control="entry", field="emissivity", label="Emissivity", shown=radiates),
        Field(control="entry", field="surroundings_temperature", label="Surroundings", shown=radiates),
        Field(
            control="entry",
            field="absorbed",
            label="Shines on it",
            kind="heat_flux",
            title="flux that its outside absorbs, such as that of the sun",
            placeholder="nothing",
            shown={"thermal": ["convection", "radiation", "convection_radiation"]},
        ),
        Field(
            control="layer",
            field="coating_thickness",
            material="coating_material",
            label="Coating",
            title="a wall or coating outside, not gridded: its thickness and material",
            placeholder="none: or a thickness, 0.2 mm",
            shown={"thermal": ["temperature", "convection", "radiation", "convection_radiation"]},
        ),
    ]


def _motion_fields() -> list[Field]:
    rest = {"angular_velocity": "", "slide_x": "", "slide_y": ""}
    turns, slides = {"angular_velocity": ["*"]}, {"angular_velocity": [""], "slide_x": ["*"]}
    ways = [
        Option(value="turns", label="turns", when=turns, gives=rest | {"angular_velocity": "60 rpm"}),
        Option(
            value="slides",
            label="slides along itself",
            when=slides,
            gives=rest | {"slide_x": "0.1 m/s", "slide_y": "0 m/s"},
            flat_only=True,
        ),
        Option(value="rest", label="at rest", gives=rest),
    ]
    title = "about the axis of the section; in a flat one anticlockwise, about its middle"
    return [
        Field(control="choice", field="motion", label="Motion", options=ways, fluid_only=True),
        Field(control="entry", field="angular_velocity", label="Turns at", title=title, shown=turns, fluid_only=True),
        Field(control="entry", field="slide_x", label="Slides along x at", shown=slides, fluid_only=True),
        Field(control="entry", field="slide_y", label="Slides along y at", shown=slides, fluid_only=True),
    ]
