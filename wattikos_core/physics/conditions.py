"""What holds on boundaries, as numbers on faces: from the resolved conditions of a case, at a time."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from wattikos_core.case import ResolvedCase, ResolvedCondition
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid import Grid
from wattikos_core.physics.faces import AS_IT_COMES, STATIC_PRESSURE, TOTAL_PRESSURE, Array, Index
from wattikos_core.quantities import QuantityError

# A wall may leave its own surface by this share of its speed: chords of circles do.
_ALONG = 0.02


@dataclass(frozen=True)
class Condition:
    """What holds on one named outer boundary, in SI.

    Attributes:
        velocity: of a wall that moves in its own plane (m/s, both components, or for each face).
        angular_velocity: about the axis of an axisymmetric section, of a wall or of what enters, rad/s.
        mass_flow: entering, kg/s; `mean_velocity`: entering, m/s; one of them at an inlet.
        profile: velocity that enters at each face in place of a mean one, m/s, none of them negative.
        fed: at an outlet, whether fluid at `temperature` enters there at a static or a total `pressure`.
        temperature: given at inlets, and at walls where not None, K.
        heat_flux: into the section at walls, W/m2; `heat_rate` into the whole boundary, W.
        coefficient, ambient: convection beside a given flux, W/m2/K and K.
        emissivity, surroundings: radiation beside them, K.
        coating: resistance between the section and what holds a wall's outside, m2 K/W.

    Temperatures, fluxes and coefficients may be arrays with a value for each face of the boundary.
    """

    kind: Literal["wall", "inlet", "outlet", "symmetry"]
    velocity: tuple[float, float] | Array = (0.0, 0.0)
    angular_velocity: float = 0.0
    mass_flow: float | None = None
    mean_velocity: float | None = None
    developed: bool = False
    profile: Array | None = None
    pressure: float = 0.0
    fed: int = AS_IT_COMES
    temperature: float | Array | None = None
    heat_flux: float | Array = 0.0
    heat_rate: float = 0.0
    coefficient: float | Array = 0.0
    ambient: float | Array = 0.0
    emissivity: float = 0.0
    surroundings: float | Array = 0.0
    coating: float = 0.0


def conditions_of(resolved: ResolvedCase, grid: Grid, time: float = 0.0) -> dict[str, Condition]:
    """The conditions of a case on its grid at a time (s), by boundary name.

    Raises:
        CaseError: a value that varies cannot be evaluated somewhere, or a wall moves out of itself.
    """
    conditions: dict[str, Condition] = {}
    for name, group in grid.groups.items():
        given = resolved.condition(name)
        if given is None and resolved.axisymmetric and not grid.nodes[grid.edges[group], 1].any():
            given = ResolvedCondition("", name, "symmetry")
        if given is not None and given.type != "periodic" and "|" not in name:
            conditions[name] = _condition(given, grid, group, time)
    return conditions


def sources_of(resolved: ResolvedCase, grid: Grid, time: float = 0.0) -> Array:
    """Heat source of every cell at a time, W/m3."""
    source = np.zeros(grid.n_cells)
    for part in resolved.bodies:
        mine = grid.region == grid.region_names.index(part.name)
        density, total = part.heat_at(time)
        source[mine] = density + total / float(grid.volume[mine].sum())
    return source


def rotating_parts(resolved: ResolvedCase, grid: Grid) -> dict[str, tuple[float, Array]]:
    """Interfaces of solid parts that turn, by name: rate of turning (rad/s) and velocity of each face in a flat section."""
    found = {}
    for part in resolved.bodies:
        if part.turning == 0.0:
            continue
        for name, group in grid.groups.items():
            if part.name not in name.split(" | ") or "|" not in name:
                continue
            mine = grid.edges[group].ravel()
            centre = grid.nodes[np.unique(mine)].mean(axis=0)
            found[name] = (part.turning, _about(grid, group, part.turning, centre))
    return found


def _about(grid: Grid, group: Index, turning: float, centre: Array) -> Array:
    """Velocity of faces that turn about a point of a flat section, m/s."""
    if grid.axisymmetric:
        return np.zeros((group.size, 2))
    from_centre = grid.face_centre[group] - centre
    return np.asarray(turning * np.stack([-from_centre[:, 1], from_centre[:, 0]], axis=1))


def _velocity(given: ResolvedCondition, grid: Grid, group: Index, turning: float, slide: tuple[float, float]) -> Array:
    """Velocity of a moving wall's faces, along themselves; CaseError when it would leave its surface."""
    velocity = np.tile(np.asarray(slide, dtype=float), (group.size, 1))
    if turning and not grid.axisymmetric:
        centre = given.centre if given.centre is not None else grid.nodes[np.unique(grid.edges[group])].mean(axis=0)
        velocity = velocity + _about(grid, group, turning, np.asarray(centre))
    normal = grid.area[group] / np.hypot(*grid.area[group].T)[:, None]
    across = np.einsum("ij,ij->i", velocity, normal)
    speed = float(np.hypot(*velocity.T).max(initial=0.0))
    if speed > 0.0 and float(np.abs(across).max()) > _ALONG * speed:
        problem = f"'{given.boundary}' would move out of its own surface by {float(np.abs(across).max()):.3g} m/s"
        raise CaseError(InputProblem(f"{given.field}.motion", problem, "a wall can slide along itself, or turn about its centre"))
    return np.asarray(velocity - across[:, None] * normal)


def _entering(given: ResolvedCondition, grid: Grid, group: Index, velocity: Array) -> Array:
    """Velocities that enter at faces; CaseError where they would leave, or none enters."""
    worst = int(np.argmin(velocity))
    if velocity[worst] < 0.0 or not velocity.any():
        x, y = 1000.0 * grid.face_centre[group][worst]
        problem = f"the velocity at '{given.boundary}' is {velocity[worst]:.3g} m/s at x {x:.4g} mm, y {y:.4g} mm"
        remedy = "let fluid enter everywhere, or divide the side and make an outlet of the other part"
        raise CaseError(InputProblem(f"{given.field}.velocity", problem, remedy))
    return velocity


def _condition(given: ResolvedCondition, grid: Grid, group: Index, time: float) -> Condition:
    value: dict[str, float | Array] = {
        name: getattr(given, name) for name in ("amount", "temperature", "ambient", "surroundings", "turning", "slide_x", "slide_y")
    }
    for name, along in given.along.items():
        try:
            value[name] = along.at(grid.face_centre[group], time) if along.in_place else along.at_time(time)
        except QuantityError as error:
            where = {"amount": "value"}.get(name, name)
            raise CaseError(InputProblem(f"{given.field}.{where}", error.problem, error.remedy)) from error
    amount = float(np.mean(value["amount"]))
    turning = float(np.mean(value["turning"]))
    if given.type == "inlet_velocity" and isinstance(value["amount"], np.ndarray):
        return Condition(
            "inlet",
            temperature=value["temperature"],
            profile=_entering(given, grid, group, value["amount"]),
            angular_velocity=turning,
        )
    if given.type in ("inlet_mass", "inlet_velocity"):
        mass, mean = (amount, None) if given.type == "inlet_mass" else (None, amount)
        return Condition(
            "inlet",
            mass_flow=mass,
            mean_velocity=mean,
            temperature=value["temperature"],
            developed=given.developed,
            angular_velocity=turning,
        )
    if given.type in ("inlet_static", "inlet_total"):
        fed = STATIC_PRESSURE if given.type == "inlet_static" else TOTAL_PRESSURE
        return Condition("outlet", pressure=amount, fed=fed, temperature=value["temperature"])
    if given.type == "outlet":
        return Condition("outlet", pressure=amount)
    if given.type == "symmetry":
        return Condition("symmetry")
    slide = (float(np.mean(value["slide_x"])), float(np.mean(value["slide_y"])))
    velocity = _velocity(given, grid, group, turning, slide)
    angular_velocity = turning if grid.axisymmetric else 0.0
    if given.type == "temperature":
        return Condition("wall", velocity, angular_velocity, temperature=value["amount"], coating=given.coating)
    if given.type == "heat_flux":
        return Condition("wall", velocity, angular_velocity, heat_flux=value["amount"])
    if given.type == "heat_rate":
        return Condition("wall", velocity, angular_velocity, heat_rate=amount)
    if given.type == "surroundings":
        return Condition(
            "wall",
            velocity,
            angular_velocity,
            coefficient=value["amount"],
            ambient=value["ambient"],
            emissivity=given.emissivity,
            surroundings=value["surroundings"],
            coating=given.coating,
        )
    return Condition("wall", velocity, angular_velocity)
