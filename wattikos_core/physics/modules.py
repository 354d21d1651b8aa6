"""Modules that repeat along a stream, with developed flow and heat.

Pressure falls by the same amount in every module: it is what repeats, and a uniform force, plus a part that is periodic.
With heat rates given, temperatures rise by the same amount from module to module; with one wall temperature, differences
from it shrink by the same ratio (Patankar, Liu and Sparrow 1977, J. Heat Transfer 99, 180). Both hold for constant
properties, which is why a module has them.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wattikos_core.case import ResolvedModule
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable, constant_table
from wattikos_core.physics.faces import Array, Index


@dataclass(frozen=True)
class Module:
    """What is asked of a module, in SI.

    Attributes:
        length: of the period, m; `along` (2,) its direction, from the upstream end.
        faces: joined ones that fluid passes; `area` of them together, m2; `region` of that fluid.
        mass_flow: kg/s, or `gradient`, Pa/m; the one that is given.
        temperature: mixed-mean, at the upstream end, K.
        wall: the one temperature held in it, K; None where heat rates are given.
    """

    length: float
    along: Array
    faces: Index
    area: float
    region: int
    mass_flow: float | None
    gradient: float | None
    temperature: float
    wall: float | None


def module_of(resolved: ResolvedModule, grid: Grid, materials: Sequence[PropertyTable]) -> Module:
    """The module of a joined grid.

    Args:
        resolved: the case in SI.
        grid: cells and faces.
        materials: of each region, as they are held in the module.

    Raises:
        CaseError: no fluid passes, or more than one.
    """
    regions = grid.region[grid.owner[grid.joined]]
    passing = [int(region) for region in np.unique(regions) if materials[region].fluid]
    if len(passing) != 1:
        names = " and ".join(f"'{grid.region_names[region]}'" for region in passing) or "no fluid"
        problem = f"{names} {'pass' if len(passing) > 1 else 'passes'} through the ends of the module"
        raise CaseError(InputProblem(f"{resolved.field}.boundaries", problem, "let one fluid enter and leave at its ends"))
    faces = grid.joined[regions == passing[0]]
    length, area = float(np.linalg.norm(grid.period)), float(np.linalg.norm(grid.area[faces], axis=1).sum())
    mass_flow = resolved.mass_flow
    if resolved.velocity is not None:
        mass_flow = resolved.velocity * float(materials[passing[0]].density(resolved.temperature)) * area
    return Module(
        length,
        grid.period / length,
        faces,
        area,
        passing[0],
        mass_flow,
        resolved.gradient,
        resolved.temperature,
        resolved.wall,
    )


def held_at(table: PropertyTable, temperature: float) -> PropertyTable:
    """A material with the properties it has at a temperature (K), whatever its own."""
    constant = constant_table(
        table.label,
        density=float(table.density(temperature)),
        specific_heat=float(table.specific_heat(temperature)),
        viscosity=float(table.viscosity(temperature)),
        conductivity=float(table.conductivity(temperature)),
        source=table.source,
    )
    return replace(constant, conductivity_ratio=table.conductivity_ratio, gas=table.gas, pressure=table.pressure)


def bulk_temperatures(
    module: Module, table: PropertyTable, flow: Array, enthalpy_flow: Array, ratio: float, rise: float
) -> tuple[float, float]:
    """Mixed-mean temperatures at the upstream and the downstream end, K, from what passes faces."""
    passing = float(flow[module.faces].sum())
    carried = float(enthalpy_flow[module.faces].sum())
    level = float(table.enthalpy(module.temperature))
    capacity = float(table.specific_heat(module.temperature))
    downstream = module.temperature + (carried / passing - level) / capacity if passing else float("nan")
    about = module.wall or 0.0
    return about + (downstream - about - rise) / ratio, downstream
