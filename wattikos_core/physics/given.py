"""What holds on boundaries and in parts at a time, as numbers on faces and cells."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from wattikos_core.boundaries import BOUNDARY_KINDS, FaceCondition, ResolvedCondition
from wattikos_core.boundaries.on_faces import about
from wattikos_core.case import ResolvedCase
from wattikos_core.grid import Grid
from wattikos_core.physics.faces import Array


def conditions_of(resolved: ResolvedCase, grid: Grid, time: float = 0.0) -> dict[str, FaceCondition]:
    """The conditions of a case on its grid at a time (s), by boundary name.

    Raises:
        CaseError: a value that varies cannot be evaluated somewhere, or a wall moves out of itself.
    """
    conditions: dict[str, FaceCondition] = {}
    for name, group in grid.groups.items():
        given = resolved.condition(name)
        if given is None and resolved.axisymmetric and not grid.nodes[grid.edges[group], 1].any():
            given = ResolvedCondition("", name, "symmetry", "symmetry")
        if given is None or "|" in name:
            continue
        found = BOUNDARY_KINDS[given.kind].on_faces(given, grid, group, time)
        if found is not None:
            conditions[name] = found
    return conditions


def sources_of(resolved: ResolvedCase, grid: Grid, time: float = 0.0) -> Array:
    """Heat source of every cell at a time, W/m3."""
    source = np.zeros(grid.n_cells)
    for part in resolved.bodies:
        mine = grid.region == grid.region_names.index(part.name)
        density, total = part.heat_at(time)
        source[mine] = density + total / float(grid.volume[mine].sum())
    return source


@dataclass(frozen=True)
class Interfaces:
    """What solid parts give on their surfaces in fluids, by name of the interface.

    Attributes:
        rotating: angular velocity (rad/s), and velocity of each face in a flat section (m/s), of solids that turn.
        rough: equivalent sand roughness, m.
    """

    rotating: Mapping[str, tuple[float, Array]] = field(default_factory=dict)
    rough: Mapping[str, float] = field(default_factory=dict)


def interfaces_of(resolved: ResolvedCase, grid: Grid) -> Interfaces:
    """What the solid parts of a case give on its grid."""
    return Interfaces(_rotating_parts(resolved, grid), _rough_interfaces(resolved, grid))


def _rough_interfaces(resolved: ResolvedCase, grid: Grid) -> dict[str, float]:
    found = {name: resolved.roughness(name) for name in grid.groups if " | " in name}
    return {name: roughness for name, roughness in found.items() if roughness > 0.0}


def _rotating_parts(resolved: ResolvedCase, grid: Grid) -> dict[str, tuple[float, Array]]:
    found = {}
    for part in resolved.bodies:
        if part.angular_velocity == 0.0:
            continue
        for name, group in grid.groups.items():
            if part.name not in name.split(" | ") or "|" not in name:
                continue
            mine = grid.edges[group].ravel()
            centre = grid.nodes[np.unique(mine)].mean(axis=0)
            found[name] = (part.angular_velocity, about(grid, group, part.angular_velocity, centre))
    return found
