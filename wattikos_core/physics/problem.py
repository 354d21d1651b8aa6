"""A discrete problem: a grid, materials per region and conditions per boundary, ready for the solvers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import ResolvedCase
from wattikos_core.grid import Grid, join_ends
from wattikos_core.materials import PropertyTable
from wattikos_core.physics.conditions import Condition, conditions_of, sources_of, turning_parts
from wattikos_core.physics.faces import (
    FLOW,
    INLET,
    INTERFACE,
    OUTLET,
    SOLID,
    SYMMETRY,
    TEMPERATURE_GIVEN,
    Array,
    Faces,
    Given,
    Index,
    build_faces,
    nothing_given,
)
from wattikos_core.physics.forces import FlowPhysics, build_forces, build_tables
from wattikos_core.physics.modules import Module, held_at, module_of
from wattikos_core.physics.profiles import developed_profile
from wattikos_core.physics.properties import Cells, Forces, Tables
from wattikos_core.physics.scales import Scales, Totals, bodies, scales_and_bounds, temperature_range
from wattikos_core.physics.storage import Storage


@dataclass(frozen=True)
class Problem:
    """What the solvers work on.

    Attributes:
        body: number of the connected body of fluid of each cell, -1 in solids.
        heat_body: number of the connected body that heat passes, of each cell.
        fed: whether a stream enters each body of fluid by a mass flow or velocity given, shape (n_bodies,).
        orthogonal: whether no face needs corrections for skewness.
        blend: 1 for Fromm's scheme, 0 for upwind.
        turning: interfaces of solids that turn, with rate (rad/s) and velocity of faces (m/s).
        storage: the step in time that is being taken; None in steady state.
        totals: what conditions add up to, by face.
        module: what repeats along a stream; None where nothing does.
        start: temperatures that a run in time begins with, K.
    """

    grid: Grid
    faces: Faces
    cells: Cells
    tables: Tables
    forces: Forces
    materials: tuple[PropertyTable, ...]
    conditions: Mapping[str, Condition]
    scales: Scales
    body: Index
    heat_body: Index
    fed: NDArray[np.bool_]
    orthogonal: bool
    blend: float
    physics: FlowPhysics
    turning: Mapping[str, tuple[float, Array]]
    totals: Totals
    storage: Storage | None = None
    module: Module | None = None
    start: Array | None = None

    @property
    def fluid_regions(self) -> NDArray[np.bool_]:
        """Which regions are of a fluid, shape (n_regions,)."""
        return np.array([m.fluid for m in self.materials])

    @property
    def table_pressure(self) -> Array:
        """Pressure of each cell's table where it is a closed gas, 0 elsewhere, Pa."""
        of_region = np.array([m.pressure if m.gas else 0.0 for m in self.materials])
        return np.asarray(of_region[self.grid.region])

    @property
    def streams_enter(self) -> bool:
        """Whether a stream enters anywhere by a mass flow or velocity given."""
        return bool(self.fed.any())

    @property
    def passes(self) -> int:
        """Gradient passes the temperature needs."""
        return 1 if self.orthogonal else 2

    @property
    def has_flow(self) -> bool:
        """Whether any fluid cell exists."""
        return bool(self.cells.fluid.any())

    def table_of_region(self, name: str) -> PropertyTable:
        """The property table of a region."""
        return self.materials[self.grid.region_names.index(name)]


def problem_of(resolved: ResolvedCase, grid: Grid, time: float = 0.0) -> Problem:
    """The discrete problem of a resolved case on its grid, with what is given at a time (s)."""
    wishes = resolved.case.physics
    materials, module = [p.material for p in resolved.bodies], None
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
        mush=resolved.mush,
        rayleigh_length=wishes.rayleigh_length,
        repeating=module is not None,
    )
    return build_problem(
        grid,
        materials,
        conditions_of(resolved, grid, time),
        source=sources_of(resolved, grid, time),
        contacts=resolved.contacts,
        blend=1.0 if wishes.convection == "fromm" else 0.0,
        physics=physics,
        turning=turning_parts(resolved, grid),
        module=module,
    )


def problem_at(problem: Problem, resolved: ResolvedCase, time: float) -> Problem:
    """The same problem with what is given at another time (s); kinds of boundaries stay as they are."""
    conditions = conditions_of(resolved, problem.grid, time)
    source = sources_of(resolved, problem.grid, time)
    given = nothing_given(problem.grid.n_faces)
    totals = _give(problem.grid, problem.materials, conditions, problem.fluid_regions, given)
    faces = problem.faces._replace(**{name: getattr(given, name) for name in _CHANGING})
    for name in problem.turning:
        faces.spin[problem.grid.groups[name]], faces.velocity[problem.grid.groups[name]] = problem.turning[name]
    inner = problem.grid.neighbour >= 0
    faces.contact[inner] = problem.faces.contact[inner]
    cells = problem.cells._replace(source=source)
    changed = replace(problem, faces=faces, cells=cells, conditions=conditions)
    scales, low, high = scales_and_bounds(changed, totals, problem.start)
    return replace(changed, scales=scales, cells=cells._replace(low=low, high=high))


def beginning_at(problem: Problem, temperature: Array) -> Problem:
    """The problem of a run in time that begins at temperatures (K) of cells, which belong to what its scales span."""
    begun = replace(problem, start=temperature)
    scales, low, high = scales_and_bounds(begun, problem.totals, temperature)
    return replace(begun, scales=scales, cells=problem.cells._replace(low=low, high=high))


# What `problem_at` changes on faces.
_CHANGING = (
    "velocity",
    "mass_flow",
    "pressure",
    "temperature",
    "heat_flux",
    "film",
    "ambient",
    "emissivity",
    "surroundings",
    "contact",
    "spin",
)


def build_problem(
    grid: Grid,
    materials: Sequence[PropertyTable],
    conditions: Mapping[str, Condition],
    *,
    source: Array | None = None,
    contacts: Mapping[str, float] | None = None,
    blend: float = 1.0,
    physics: FlowPhysics | None = None,
    turning: Mapping[str, tuple[float, Array]] | None = None,
    module: Module | None = None,
) -> Problem:
    """Turn conditions by name into face data.

    Args:
        materials: one table per region of the grid.
        conditions: by boundary name; boundaries without one are adiabatic walls at rest.
        source: volumetric heat source per cell, W/m3.
        contacts: resistance by interface name, m2 K/W.
        physics: gravity and the like; none when None.
        turning: interfaces of solids that turn, with rate (rad/s) and velocity of faces.
        module: of a joined grid, what drives its flow and how warm it is.
    """
    physics, turning = physics or FlowPhysics(), turning or {}
    fluid = np.array([m.fluid for m in materials])
    wet = fluid[grid.region]
    inner = grid.neighbour >= 0
    other = np.where(inner, grid.neighbour, grid.owner)
    given = nothing_given(grid.n_faces)
    both_fluid = inner & wet[grid.owner] & wet[other]
    # A resistance between two fluids is a thin wall, and what melts is kept in by one: nothing flows through.
    apart = grid.region[grid.owner] != grid.region[other]
    melts = np.array([m.melting is not None for m in materials])[grid.region]
    both_fluid &= ~(apart & (melts[grid.owner] | melts[other]))
    for name in contacts or {}:
        if name in grid.groups:
            both_fluid[grid.groups[name]] = False
    same_solid = inner & ~wet[grid.owner] & ~apart
    given.kind[inner] = INTERFACE
    given.kind[both_fluid] = FLOW
    given.kind[same_solid] = SOLID
    for name, resistance in (contacts or {}).items():
        if name in grid.groups:
            given.contact[grid.groups[name]] = resistance
    totals = _give(grid, materials, conditions, fluid, given)
    for name, (rate, velocity) in turning.items():
        group = grid.groups[name]
        given.spin[group], given.velocity[group] = rate if grid.axisymmetric else 0.0, velocity
        totals.speed[group] = np.abs(rate) * np.abs(grid.face_centre[group][:, 1]) if grid.axisymmetric else np.hypot(*velocity.T)
    if module is not None and module.gradient is not None:
        physics = replace(physics, drive=(module.gradient * float(module.along[0]), module.gradient * float(module.along[1])))
    faces = build_faces(grid, given, np.array([m.conductivity_ratio for m in materials])[grid.region])
    lowest, highest = temperature_range(totals, module)
    reference = physics.reference if physics.reference is not None else _reference(faces, lowest, highest)
    body = _bodies(faces, wet)
    fed = np.zeros(int(body.max(initial=-1)) + 1, dtype=bool)
    fed[body[faces.owner[faces.kind == INLET]]] = True
    moving = wet & _moves(faces, body, physics, module)
    # Fluid that nothing moves conducts like a solid.
    still = (faces.kind == FLOW) & ~moving[grid.owner]
    faces = faces._replace(kind=np.where(still, SOLID, faces.kind))
    tables, level = build_tables(materials, physics, reference)
    forces = build_forces(grid, materials, physics, level, body, faces, moving, reference)
    no_bound = np.full(grid.n_cells, np.inf)
    cells = Cells(
        grid.volume,
        np.ascontiguousarray(grid.centre[:, 1]) if grid.axisymmetric else np.zeros(grid.n_cells),
        grid.region.astype(np.int64),
        moving.astype(np.int64),
        _pins(faces, np.where(moving, body, -1)),
        np.zeros(grid.n_cells) if source is None else source,
        body,
        -no_bound,
        no_bound,
    )
    orthogonal = not (faces.heat_shift_owner.any() or faces.heat_shift_neighbour.any())
    nothing = np.zeros(0)
    problem = Problem(
        grid,
        faces,
        cells,
        tables,
        forces,
        tuple(materials),
        dict(conditions),
        Scales(nothing, nothing, nothing, nothing, nothing, nothing, nothing, lowest, highest, reference),
        body,
        bodies(grid.n_cells, faces, faces.neighbour >= 0),
        fed,
        orthogonal,
        blend,
        physics,
        dict(turning),
        totals,
        module=module,
    )
    scales, low, high = scales_and_bounds(problem, totals, None)
    return replace(problem, scales=scales, cells=cells._replace(low=low, high=high))


def _give(
    grid: Grid, materials: Sequence[PropertyTable], conditions: Mapping[str, Condition], fluid: NDArray[np.bool_], given: Given
) -> Totals:
    """Write what conditions give into the arrays of `given`."""
    totals = Totals.none(grid.n_faces)
    area = np.hypot(*grid.area.T)
    for name, condition in conditions.items():
        group = grid.groups.get(name)
        if group is None:
            continue
        table = materials[grid.region[grid.owner[group[0]]]]
        if condition.kind == "symmetry":
            given.kind[group] = SYMMETRY
        elif condition.kind == "outlet":
            given.kind[group] = OUTLET
            given.pressure[group], given.fed[group] = condition.pressure, condition.fed
            given.outlet[group] = group[0]
            if condition.temperature is not None:
                given.temperature[group] = condition.temperature
        elif condition.kind == "inlet":
            assert condition.temperature is not None
            given.kind[group] = INLET
            entering = float(np.mean(condition.temperature))
            density = float(table.density(entering))
            if condition.profile is not None:
                given.mass_flow[group] = -condition.profile * table.density(condition.temperature) * area[group]
                total = -float(given.mass_flow[group].sum())
                share = -given.mass_flow[group] / total
            else:
                if condition.mass_flow is not None:
                    total = condition.mass_flow
                else:
                    assert condition.mean_velocity is not None
                    total = condition.mean_velocity * density * float(area[group].sum())
                share = _inlet_shares(grid, group, condition.developed, conditions, fluid[grid.region])
                given.mass_flow[group] = -total * share
            normal = grid.area[group] / area[group][:, None]
            given.velocity[group] = (given.mass_flow[group] / (density * area[group]))[:, None] * normal
            given.spin[group] = condition.spin
            totals.inflow[group] = total * share
            totals.capacity[group] = total * share * float(table.specific_heat(entering))
            totals.speed[group] = total / (density * float(area[group].sum()))
        else:
            given.velocity[group] = condition.velocity
            given.spin[group] = condition.spin
            turning = abs(condition.spin) * grid.face_centre[group][:, 1] if grid.axisymmetric else 0.0
            totals.speed[group] = np.maximum(np.hypot(*given.velocity[group].T), turning)
            flux = condition.heat_flux + condition.heat_rate / float(area[group].sum())
            given.heat_flux[group] = flux
            given.film[group], given.ambient[group] = condition.film, condition.ambient
            given.emissivity[group], given.surroundings[group] = condition.emissivity, condition.surroundings
            given.contact[group] = condition.coating
            for t, there in ((condition.ambient, condition.film), (condition.surroundings, condition.emissivity)):
                if np.any(there):
                    totals.temperature(group, t, t)
            totals.heat[group] = flux * area[group]
        if condition.temperature is not None:
            if condition.kind != "outlet":
                given.thermal[group] = TEMPERATURE_GIVEN
            given.temperature[group] = condition.temperature
            totals.temperature(group, condition.temperature, condition.temperature)
    return totals


def _reference(faces: Faces, lowest: float, highest: float) -> float:
    """Temperature of the density that weight is counted against: of what enters, else the middle of those given, K."""
    entering = faces.kind == INLET
    return float(faces.temperature[entering].mean()) if entering.any() else 0.5 * (lowest + highest)


def _moves(faces: Faces, body: Index, physics: FlowPhysics, module: Module | None) -> NDArray[np.bool_]:
    """Whether anything can move the fluid of each cell: a stream, gravity, or a wall."""
    if physics.heavy:
        return np.ones(body.size, dtype=bool)
    pushes = np.isin(faces.kind, (INLET, OUTLET)) | faces.velocity.any(axis=1) | (faces.spin != 0.0)
    if module is not None:
        pushes[module.faces] = True
    beyond = np.where(faces.neighbour >= 0, faces.neighbour, faces.owner)
    moved = set(body[faces.owner[pushes]].tolist()) | set(body[beyond[pushes]].tolist())
    return np.isin(body, [number for number in moved if number >= 0])


def _inlet_shares(
    grid: Grid, group: Index, developed: bool, conditions: Mapping[str, Condition], fluid: NDArray[np.bool_]
) -> Array:
    """Which share of an inlet's mass flow enters through each of its faces; they add up to one."""
    area = np.hypot(*grid.area[group].T)
    if not developed:
        return np.asarray(area / area.sum())
    ends = grid.nodes[grid.face_nodes[group]]
    extent = np.ptp(ends.reshape(-1, 2), axis=0)
    axis = int(extent[1] >= extent[0])
    start, end = ends[:, 0, axis], ends[:, 1, axis]
    low, high = float(np.minimum(start, end).min()), float(np.maximum(start, end).max())
    walls = [_is_wall(grid, group, axis, at, conditions, fluid) for at in (low, high)]
    profile = developed_profile(start, end, walls[0], walls[1], grid.axisymmetric and axis == 1)
    return np.asarray(profile * area / (profile * area).sum())


def _is_wall(grid: Grid, group: Index, axis: int, at: float, conditions: Mapping[str, Condition], fluid: NDArray[np.bool_]) -> bool:
    """Whether the boundary or interface that ends an inlet at coordinate `at` is a wall."""
    ends = grid.nodes[grid.face_nodes[group]][:, :, axis]
    tip = np.unique(grid.face_nodes[group][np.abs(ends - at) < 1e-9 * max(np.ptp(ends), 1e-30)])
    touching = np.nonzero(np.isin(grid.face_nodes, tip).any(axis=1))[0]
    cells = set(grid.owner[group].tolist())
    for face in np.setdiff1d(touching, group):
        a, b = int(grid.owner[face]), int(grid.neighbour[face])
        if not ({a, b} & cells) or (b >= 0 and fluid[a] and fluid[b]):
            continue
        name = next((name for name, faces in grid.groups.items() if face in faces), "")
        condition = conditions.get(name)
        return condition is None or condition.kind == "wall"
    return False


def _bodies(faces: Faces, fluid: NDArray[np.bool_]) -> Index:
    """The connected body of fluid each cell belongs to, -1 in solids."""
    found = bodies(fluid.size, faces, faces.kind == FLOW)
    body = np.full(fluid.size, -1, dtype=np.int64)
    body[fluid] = np.unique(found[fluid], return_inverse=True)[1]
    return body


def _pins(faces: Faces, body: Index) -> Index:
    """One cell per body of fluid without an outlet, where the pressure level is fixed at zero."""
    pin = np.zeros(body.size, dtype=np.int64)
    open_bodies = set(body[faces.owner[faces.kind == OUTLET]].tolist())
    for number in np.unique(body[body >= 0]):
        if int(number) not in open_bodies:
            pin[np.nonzero(body == number)[0][0]] = 1
    return pin
