"""Builds a discrete problem from a grid, materials of its regions and conditions on its boundaries; again for another time."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from wattikos_core.boundaries import BOUNDARY_KINDS, FaceCondition, Giving
from wattikos_core.case import ResolvedCase
from wattikos_core.grid import Grid
from wattikos_core.internals import ResolvedDrag
from wattikos_core.materials import PropertyTable
from wattikos_core.physics.cavities import cavities_in, shine
from wattikos_core.physics.cells import Cells
from wattikos_core.physics.cores import tubes_of
from wattikos_core.physics.faces import (
    AS_IT_COMES,
    FLOW,
    INLET,
    INTERFACE,
    OUTLET,
    SOLID,
    Array,
    Given,
    Index,
    build_faces,
    build_weights,
    nothing_given,
)
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.given import Interfaces, conditions_of, sources_of
from wattikos_core.physics.internals import Drag, Fan, edges_of, internals_in
from wattikos_core.physics.modules import Module
from wattikos_core.physics.moving import bodies_of_fluid, moves, pins_of
from wattikos_core.physics.problem import Problem
from wattikos_core.physics.scales import Scales, Totals, bodies, scales_and_bounds, temperature_range
from wattikos_core.physics.speeds import driven_speed
from wattikos_core.physics.tables import build_gases, build_tables
from wattikos_core.physics.terms import Ingredients
from wattikos_core.physics.terms.registry import entering_of, scalars_of, terms_of
from wattikos_core.physics.terms.turbulence import VANISHING
from wattikos_core.physics.turbulence.entering import give_turbulence
from wattikos_core.physics.turbulence.wall_distance import cell_extents, wall_distances
from wattikos_core.physics.unknowns import Unknowns


def build_problem(
    grid: Grid,
    materials: Sequence[PropertyTable],
    conditions: Mapping[str, FaceCondition],
    *,
    source: Array | None = None,
    contacts: Mapping[str, float] | None = None,
    physics: FlowPhysics | None = None,
    interfaces: Interfaces | None = None,
    module: Module | None = None,
) -> Problem:
    """Turn conditions by name into face data.

    Args:
        grid: cells and faces.
        materials: one table per region of the grid.
        conditions: by boundary name; boundaries without one are adiabatic walls at rest.
        source: volumetric heat source per cell, W/m3.
        contacts: resistance by interface name, m2 K/W.
        physics: gravity and the like; none when None.
        interfaces: of solids that turn or are rough.
        module: of a joined grid, what drives its flow and how warm it is.
    """
    physics, interfaces = physics or FlowPhysics(), interfaces or Interfaces()
    fluid = np.array([m.fluid for m in materials])
    wet = fluid[grid.region]
    given = _between_cells(grid, materials, contacts or {})
    for name, roughness in interfaces.rough.items():
        given.roughness[grid.groups[name]] = roughness
    totals = _give(grid, materials, conditions, fluid, given)
    _turn(grid, interfaces.rotating, given, totals)
    _warm(grid, physics, totals)
    if module is not None and module.gradient is not None:
        physics = replace(physics, drive=tuple(float(x) for x in module.gradient * module.along))
    faces = build_faces(grid, given)
    lowest, highest = temperature_range(totals, module)
    reference = physics.reference if physics.reference is not None else _reference(given, lowest, highest)
    body = bodies_of_fluid(faces, wet)
    fed = np.zeros(int(body.max(initial=-1)) + 1, dtype=bool)
    fed[body[faces.owner[faces.kind == INLET]]] = True
    moving = wet & moves(faces, given, body, physics, module, grid.region)
    # A fluid that nothing drives conducts like a solid.
    still = (faces.kind == FLOW) & ~moving[grid.owner]
    flow_weights, heat_weights = build_weights(grid, faces, given, _conductivity_shares(grid, materials))
    internals = tuple(internals_in(grid, physics.internals, moving))
    faces = faces._replace(kind=np.where(still, SOLID, faces.kind), edge=edges_of(grid, internals))
    tables, level = build_tables(materials, physics, reference)
    cells = _cells(grid, moving, pins_of(faces, np.where(moving, body, -1)), source, body)
    scalars = scalars_of(physics) if moving.any() else ()
    swirls = any(isinstance(one, Fan) and one.given.swirl for one in internals)
    swirl = bool(grid.axisymmetric and (swirls or given.angular_velocity.any()))
    unknowns = Unknowns(grid.dimensions, swirl, tuple(name for scalar in scalars for name in scalar.names))
    turbulent = np.zeros(grid.n_cells, dtype=np.int64)
    if physics.turbulence is not None:
        turbulent = (moving & np.isin(grid.region, physics.turbulence.regions)).astype(np.int64)
    distance = beside = np.zeros(0)
    from_wall = np.zeros((0, grid.dimensions))
    if turbulent.any():
        distance, beside, from_wall = wall_distances(grid, faces, turbulent, given.roughness)
    tubes = tuple(tubes_of(grid, one) for one in internals if isinstance(one, Drag) and one.given.liquid is not None)
    cavities = tuple(cavities_in(grid, faces, given, dict(physics.emitting)))
    shine(cavities, faces, totals.heat)
    ingredients = Ingredients(grid, faces, given, cells, physics, level[cells.material], tables, module, internals, tubes)
    problem = Problem(
        grid=grid,
        faces=faces,
        given=given,
        flow_weights=flow_weights,
        heat_weights=heat_weights,
        cells=cells,
        tables=tables,
        gases=build_gases(grid, materials, physics, body, faces, moving, reference),
        unknowns=unknowns,
        terms=terms_of(ingredients, unknowns),
        pins=np.nonzero(cells.pin == 1)[0],
        materials=tuple(materials),
        conditions=dict(conditions),
        scales=Scales.none(lowest, highest, reference),
        body=body,
        heat_body=bodies(grid.n_cells, faces, faces.neighbour >= 0),
        fed=fed,
        orthogonal=not (heat_weights.shift_owner.any() or heat_weights.shift_neighbour.any()),
        blend=physics.blend,
        physics=physics,
        rotating=dict(interfaces.rotating),
        totals=totals,
        entering=entering_of(scalars, given),
        vanishing=tuple(int(name in VANISHING) for name in unknowns.scalars),
        turbulent=turbulent,
        wall_distance=distance,
        wall_roughness=beside,
        from_wall=from_wall,
        extent=cell_extents(grid, faces) if turbulent.any() else np.zeros((0, grid.dimensions, grid.dimensions)),
        module=module,
        internals=internals,
        cavities=cavities,
        tubes=tubes,
    )
    if turbulent.any():
        speed = np.maximum(totals.speed, _driven_through(problem, given))
        give_turbulence(grid, materials, conditions, given, speed, distance, turbulent)
        problem = replace(problem, entering=entering_of(scalars, given))
    scales, low, high = scales_and_bounds(problem, totals, None)
    return replace(problem, scales=scales, cells=cells._replace(low=low, high=high))


def problem_at(problem: Problem, resolved: ResolvedCase, time: float) -> Problem:
    """The same problem with what is given at another time (s); kinds of boundaries stay as they are."""
    conditions = conditions_of(resolved, problem.grid, time)
    source = sources_of(resolved, problem.grid, time)
    given = nothing_given(problem.grid.n_faces, problem.grid.dimensions)
    totals = _give(problem.grid, problem.materials, conditions, problem.fluid_regions, given)
    _turn(problem.grid, problem.rotating, given, totals)
    _warm(problem.grid, problem.physics, totals)
    inner = problem.grid.neighbour >= 0
    given.kind[inner], given.contact[inner] = problem.given.kind[inner], problem.given.contact[inner]
    given.roughness[inner] = problem.given.roughness[inner]
    shine(problem.cavities, problem.faces, totals.heat)
    cells = problem.cells._replace(source=source)
    entering = problem.entering
    if problem.turbulent.any():
        speed = np.maximum(totals.speed, _driven_through(problem, given))
        give_turbulence(problem.grid, problem.materials, conditions, given, speed, problem.wall_distance, problem.turbulent)
        entering = entering_of(scalars_of(problem.physics), given)
    changed = replace(problem, given=given, cells=cells, conditions=conditions, entering=entering)
    scales, low, high = scales_and_bounds(changed, totals, problem.start)
    return replace(changed, scales=scales, cells=cells._replace(low=low, high=high))


def beginning_at(problem: Problem, temperature: Array) -> Problem:
    """The problem of a run in time that begins at temperatures (K) of cells, which belong to what its scales span."""
    begun = replace(problem, start=temperature)
    scales, low, high = scales_and_bounds(begun, problem.totals, temperature)
    return replace(begun, scales=scales, cells=problem.cells._replace(low=low, high=high))


def _driven_through(problem: Problem, given: Given) -> Array:
    """Speed that pressures and fans can drive through faces where fluid may enter by itself, m/s, shape (n_faces,)."""
    faces, body = problem.faces, problem.body
    reference = problem.scales.reference
    ends = np.full((int(body.max(initial=-1)) + 1, 2), reference)
    speeds = driven_speed(problem.grid, problem.materials, faces, given, problem.physics, body, ends, problem.internals)
    through = np.zeros(faces.kind.size)
    fed = (given.kind == OUTLET) & (given.fed != AS_IT_COMES)
    through[fed] = speeds[body[faces.owner[fed]]]
    return through


def _between_cells(grid: Grid, materials: Sequence[PropertyTable], contacts: Mapping[str, float]) -> Given:
    """Kinds of internal faces, and the resistances of contacts on them; all outer faces are adiabatic walls at rest."""
    given = nothing_given(grid.n_faces, grid.dimensions)
    inner = grid.neighbour >= 0
    other = np.where(inner, grid.neighbour, grid.owner)
    wet = np.array([m.fluid for m in materials])[grid.region]
    both_fluid = inner & wet[grid.owner] & wet[other]
    # A resistance between two fluids is a thin wall, and what melts is kept in by one: nothing flows through.
    apart = grid.region[grid.owner] != grid.region[other]
    melts = np.array([m.melting is not None for m in materials])[grid.region]
    both_fluid &= ~(apart & (melts[grid.owner] | melts[other]))
    for name, resistance in contacts.items():
        if name in grid.groups:
            both_fluid[grid.groups[name]] = False
            given.contact[grid.groups[name]] = resistance
    given.kind[inner] = INTERFACE
    given.kind[both_fluid] = FLOW
    given.kind[inner & ~wet[grid.owner] & ~apart] = SOLID
    return given


def _cells(grid: Grid, moving: NDArray[np.bool_], pin: Index, source: Array | None, body: Index) -> Cells:
    """Cell data for the kernels, without bounds of temperature yet."""
    no_bound = np.full(grid.n_cells, np.inf)
    return Cells(
        volume=grid.volume,
        radius=np.ascontiguousarray(grid.centre[:, 1]) if grid.axisymmetric else np.zeros(grid.n_cells),
        material=grid.region.astype(np.int64),
        fluid=moving.astype(np.int64),
        pin=pin,
        source=np.zeros(grid.n_cells) if source is None else source,
        body=body,
        low=-no_bound,
        high=no_bound,
    )


def _conductivity_shares(grid: Grid, materials: Sequence[PropertyTable]) -> Array:
    """Conductivities along all axes as shares of that along x, shape (n_cells, d)."""
    shares = np.ones((len(materials), grid.dimensions))
    shares[:, 1] = [m.conductivity_ratio for m in materials]
    return np.asarray(shares[grid.region])


def _turn(grid: Grid, rotating: Mapping[str, tuple[float, Array]], given: Given, totals: Totals) -> None:
    """Write what turning solids give on their interfaces."""
    for name, (rate, velocity) in rotating.items():
        group = grid.groups[name]
        given.angular_velocity[group], given.velocity[group] = rate if grid.axisymmetric else 0.0, velocity
        speed = np.abs(rate) * np.abs(grid.face_centre[group][:, 1]) if grid.axisymmetric else np.linalg.norm(velocity, axis=1)
        totals.speed[group] = speed


def _warm(grid: Grid, physics: FlowPhysics, totals: Totals) -> None:
    """Count the temperatures of what flows in the tubes of cores among those given, by a face of each."""
    for region, given in physics.internals:
        if isinstance(given, ResolvedDrag) and given.liquid is not None:
            face = np.nonzero(grid.region[grid.owner] == region)[0][:1]
            totals.temperature(face, given.liquid.temperature, given.liquid.temperature)


def _give(
    grid: Grid,
    materials: Sequence[PropertyTable],
    conditions: Mapping[str, FaceCondition],
    fluid: NDArray[np.bool_],
    given: Given,
) -> Totals:
    """Write what conditions give into the arrays of `given`."""
    totals = Totals.none(grid.n_faces)
    area, wet = np.linalg.norm(grid.area, axis=1), fluid[grid.region]
    for name, condition in conditions.items():
        group = grid.groups.get(name)
        if group is not None:
            table = materials[grid.region[grid.owner[group[0]]]]
            giving = Giving(grid, group, area[group], table, conditions, wet, given, totals)
            BOUNDARY_KINDS[condition.kind].give(condition, giving)
    return totals


def _reference(given: Given, lowest: float, highest: float) -> float:
    """Temperature of the density that weight is counted against: of what enters, else the middle of those given, K."""
    entering = given.kind == INLET
    return float(given.temperature[entering].mean()) if entering.any() else 0.5 * (lowest + highest)
