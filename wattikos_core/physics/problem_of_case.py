"""The discrete problem of a case on its grid."""

from __future__ import annotations

from wattikos_core.case import ResolvedCase, ResolvedPart
from wattikos_core.grid import Grid, join_ends
from wattikos_core.internals import ResolvedDrag
from wattikos_core.materials import PropertyTable, override, with_matrix
from wattikos_core.physics.building import build_problem
from wattikos_core.physics.flow_physics import FlowPhysics, TurbulenceModel
from wattikos_core.physics.given import conditions_of, interfaces_of, sources_of
from wattikos_core.physics.modules import held_at, module_of
from wattikos_core.physics.problem import Problem
from wattikos_core.section import paint
from wattikos_core.section.regimes import follows_layers, turbulent_parts


def problem_of(resolved: ResolvedCase, grid: Grid, time: float = 0.0) -> Problem:
    """The discrete problem of a resolved case on its grid, with what is given at a time (s)."""
    wishes = resolved.case.physics
    materials, module = [_filled(part) for part in resolved.bodies], None
    if resolved.module is not None:
        wanted = resolved.module
        if not grid.joined.size:
            grid = join_ends(grid, wanted.upstream, wanted.downstream, wanted.field)
        materials = [held_at(material, wanted.properties_at) for material in materials]
        module = module_of(wanted, grid, materials)
    physics = FlowPhysics(
        gravity=resolved.gravity,
        reference=resolved.reference,
        varying_density=wishes.density == "varying",
        in_time=wishes.regime == "time",
        friction_heat=wishes.friction_heat,
        blend=1.0 if wishes.convection == "fromm" else 0.0,
        age_diffusivity=resolved.age_diffusivity,
        mush=resolved.mush,
        rayleigh_length=wishes.rayleigh_length,
        repeating=module is not None,
        turbulence=_turbulence(resolved, grid),
        internals=tuple(
            (grid.region_names.index(part.name), part.internal) for part in resolved.bodies if part.internal is not None
        ),
        emitting=tuple(
            (grid.region_names.index(part.name), part.emitting) for part in resolved.bodies if part.emitting is not None
        ),
    )
    return build_problem(
        grid,
        materials,
        conditions_of(resolved, grid, time),
        source=sources_of(resolved, grid, time),
        contacts=resolved.contacts,
        physics=physics,
        interfaces=interfaces_of(resolved, grid),
        module=module,
    )


def _filled(part: ResolvedPart) -> PropertyTable:
    """The material of a part, with the matrix that it fills."""
    given, material = part.internal, part.material
    if not isinstance(given, ResolvedDrag):
        return material
    if given.conductivity is not None:
        return override(material, conductivity=given.conductivity[0], conductivity_y=given.conductivity[1])
    return material if given.matrix is None else with_matrix(material, given.matrix, given.porosity)


def _turbulence(resolved: ResolvedCase, grid: Grid) -> TurbulenceModel | None:
    """The model of turbulence, where any stream is turbulent."""
    if resolved.case.physics.flow == "laminar":
        return None
    parts = turbulent_parts(resolved, paint(resolved))
    regions = tuple(index for index, name in enumerate(grid.region_names) if name in parts)
    physics = resolved.case.physics
    if not regions:
        return None
    followed = follows_layers(resolved, parts.values())
    return TurbulenceModel(
        regions,
        physics.turbulent_prandtl,
        followed,
        physics.turbulent_stress == "limited",
        physics.turbulent_production == "turning",
    )
