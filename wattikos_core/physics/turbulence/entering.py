"""Turbulence that streams bring along: from what is given at inlets, or as in a developed duct as wide as the inlet.

What is developed enters with the speed, k and g of a long duct (`turbulence.developed`). Otherwise intensity is 0.16 Re^(-1/8) and
eddies have 0.07 of the hydraulic diameter: common practice for developed ducts, no source.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from wattikos_core.boundaries import FaceCondition
from wattikos_core.boundaries.profiles import across_inlet
from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable
from wattikos_core.physics.faces import AS_IT_COMES, INLET, INTERFACE, WALL, Array, Given, Index
from wattikos_core.physics.turbulence.constants import BETA, BETA_STAR
from wattikos_core.physics.turbulence.developed import Profile, entering_between

_INTENSITY, _POWER, _EDDIES = 0.16, -0.125, 0.07
# Still surroundings stir as what moves at this share of the fastest stream that enters, and no less than at this Reynolds number
# (no source). Where nothing at all stirs in what enters, k has no scale there, and Newton steps hover.
_STILL, _LEAST_REYNOLDS = 0.1, 1000.0


@dataclass(frozen=True)
class Entrance:
    """What a duct as wide as an inlet is like: hydraulic diameter, m, mean speed, m/s, and kinematic viscosity, m2/s."""

    diameter: float
    speed: float
    viscosity: float

    @property
    def reynolds(self) -> float:
        """Reynolds number on the hydraulic diameter."""
        return self.speed * self.diameter / self.viscosity


def entrance_of(grid: Grid, given: Given, group: Index, table: PropertyTable) -> Entrance:
    """The duct that an inlet is the end of: four times its area over the length of its rim that stands on walls.

    Where no wall stands at its rim, the whole rim counts.
    """
    area = np.linalg.norm(grid.area[group], axis=1)
    whole = float(area.sum())
    ends = grid.edges[group]
    tips, count = np.unique(ends, return_counts=True)
    rim = tips[count == 1]
    wet = np.isin(given.kind, (WALL, INTERFACE))
    walled = np.isin(rim, grid.edges[wet])
    reach = 2.0 * np.pi * np.abs(grid.nodes[rim, 1]) if grid.axisymmetric else np.full(rim.size, grid.depth)
    around = float(reach[walled].sum()) or float(reach.sum())
    diameter = 4.0 * whole / around if around > 0.0 else float(np.sqrt(whole))
    temperature = float(given.temperature[group].mean())
    density, viscosity = float(table.density(temperature)), float(table.viscosity(temperature))
    speed = -float(given.mass_flow[group].sum()) / (density * whole)
    return Entrance(diameter, speed, viscosity / density)


def give_turbulence(
    grid: Grid,
    materials: Sequence[PropertyTable],
    conditions: Mapping[str, FaceCondition],
    given: Given,
    speed: Array,
    distance: Array,
    turbulent: Index,
) -> None:
    """Write k and g = (β* ω)^-½ of what enters on the faces of inlets, and the profile of what is developed.

    Args:
        grid: cells and faces.
        materials: of regions.
        conditions: by boundary name.
        given: where it is written.
        speed: that can be driven through each face where a pressure is given, m/s, shape (n_faces,).
        distance: of cells from walls, m, shape (n_cells,).
        turbulent: 1 in cells whose flow is, shape (n_cells,).
    """
    fluid = np.array([table.fluid for table in materials])[grid.region]
    fastest = float(np.linalg.norm(given.velocity[given.kind == INLET], axis=1).max(initial=0.0))
    for name, condition in conditions.items():
        group = grid.groups.get(name)
        if group is None or not (given.kind[group[0]] == INLET or given.fed[group[0]] != AS_IT_COMES):
            continue
        entrance = entrance_of(grid, given, group, materials[grid.region[grid.owner[group[0]]]])
        if condition.developed and turbulent[grid.owner[group[0]]] == 1:
            across = across_inlet(grid, group, conditions, fluid)
            if any(across.walls):
                _give_developed(grid, given, group, entering_between(across, entrance.speed, entrance.viscosity))
                continue
        mean = entrance.speed or float(speed[group].mean())
        if mean == 0.0:
            mean = max(_STILL * fastest, _LEAST_REYNOLDS * entrance.viscosity / entrance.diameter)
        reynolds = max(entrance.reynolds or 1e4, 1.0)
        intensity = condition.intensity if condition.intensity is not None else _INTENSITY * reynolds**_POWER
        eddies = condition.eddies if condition.eddies is not None else _EDDIES * entrance.diameter
        energy = 1.5 * (intensity * mean) ** 2
        omega = np.sqrt(energy) / (BETA_STAR**0.25 * eddies)
        # Beside walls ω is no less than what viscosity makes of it, even at an entrance.
        unstirred = distance[grid.owner[group]] * np.sqrt(BETA[0] / (6.0 * BETA_STAR * entrance.viscosity))
        given.turbulence[group, 0] = energy
        given.turbulence[group, 1] = np.minimum(1.0 / np.sqrt(BETA_STAR * omega), unstirred)


def _give_developed(grid: Grid, given: Given, group: Index, profile: Profile) -> None:
    """Write what enters as out of a long duct; as much of it as was given."""
    area = np.linalg.norm(grid.area[group], axis=1)
    total = float(given.mass_flow[group].sum())
    through = total * profile.speed * area / float((profile.speed * area).sum())
    # Speeds that were given follow the mass that enters with them.
    given.velocity[group] *= (through / given.mass_flow[group])[:, None]
    given.mass_flow[group] = through
    given.turbulence[group, 0], given.turbulence[group, 1] = profile.energy, profile.length
