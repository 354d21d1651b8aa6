"""Conditions as numbers on faces, and what a kind of boundary needs to write them there."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from wattikos_core.boundaries.face_kinds import AS_IT_COMES
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities import QuantityError

if TYPE_CHECKING:
    from wattikos_core.grid import Grid
    from wattikos_core.materials import PropertyTable
    from wattikos_core.physics.faces import Given
    from wattikos_core.physics.scales import Totals

Array = NDArray[np.float64]
Index = NDArray[np.int64]


@dataclass(frozen=True)
class FaceCondition:
    """What holds on one named outer boundary, in SI.

    Attributes:
        kind: which of the boundary kinds it is of.
        velocity: of a wall that moves in its own plane (m/s, all components, or for each face).
        angular_velocity: about the axis of an axisymmetric section, of a wall or of what enters, rad/s.
        mass_flow: entering, kg/s; `mean_velocity`: entering, m/s; one of them at an inlet.
        profile: velocity that enters at each face in place of a mean one, m/s, none of them negative.
        fed: at an outlet, whether fluid at `temperature` enters there at a static or a total `pressure`.
        temperature: given at inlets, and at walls where not None, K; `stagnation`, whether it is that of an inlet's fluid at rest.
        heat_flux: into the section at walls, W/m2; `heat_rate` into the whole boundary, W.
        coefficient, ambient: convection beside a given flux, W/m2/K and K.
        emissivity, surroundings: radiation beside them, K.
        roughness: equivalent sand roughness of a wall, m.
        coating: resistance between the section and what holds a wall's outside, m2 K/W.
        intensity: of turbulence that enters, as a share of the speed; `eddies` their size, m. None to be found from the stream.

    Temperatures, fluxes and coefficients may be arrays with a value for each face of the boundary.
    """

    kind: str
    velocity: tuple[float, ...] | Array = (0.0, 0.0)
    angular_velocity: float = 0.0
    mass_flow: float | None = None
    mean_velocity: float | None = None
    developed: bool = False
    profile: Array | None = None
    pressure: float = 0.0
    fed: int = AS_IT_COMES
    temperature: float | Array | None = None
    stagnation: bool = False
    heat_flux: float | Array = 0.0
    heat_rate: float = 0.0
    coefficient: float | Array = 0.0
    ambient: float | Array = 0.0
    emissivity: float = 0.0
    surroundings: float | Array = 0.0
    coating: float = 0.0
    roughness: float = 0.0
    intensity: float | None = None
    eddies: float | None = None


@dataclass(frozen=True)
class Giving:
    """Where a condition writes what it gives on the faces of its boundary.

    Attributes:
        group: the faces; `area` of them, m2, and `table` of the material behind them.
        conditions: of all boundaries by name, for what depends on the boundary next to it.
        fluid: whether each cell is of a fluid.
        given, totals: what is written to.
    """

    grid: Grid
    group: Index
    area: Array
    table: PropertyTable
    conditions: Mapping[str, FaceCondition]
    fluid: NDArray[np.bool_]
    given: Given
    totals: Totals


def values_on(given: ResolvedCondition, grid: Grid, group: Index, time: float) -> dict[str, float | Array]:
    """The values of a condition at a time (s), for each face where they vary from place to place.

    Raises:
        CaseError: a value that varies cannot be evaluated somewhere.
    """
    names = ("amount", "temperature", "ambient", "surroundings", "absorbed", "angular_velocity", "slide_x", "slide_y")
    value: dict[str, float | Array] = {name: getattr(given, name) for name in names}
    for name, along in given.along.items():
        try:
            value[name] = along.at(grid.face_centre[group], time) if along.in_place else along.at_time(time)
        except QuantityError as error:
            raise CaseError(InputProblem(f"{given.field}.{name}", error.problem, error.remedy)) from error
    return value


def about(grid: Grid, group: Index, angular_velocity: float, centre: Array) -> Array:
    """Velocity of faces that turn about a point of a flat section, m/s, shape (n, d)."""
    if grid.axisymmetric:
        return np.zeros((group.size, grid.dimensions))
    from_centre = grid.face_centre[group] - centre
    return np.asarray(angular_velocity * np.stack([-from_centre[:, 1], from_centre[:, 0]], axis=1))
