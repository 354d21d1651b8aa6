"""A discrete problem: a grid, materials per region and conditions per boundary, ready for the solvers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from wattikos_core.case import ResolvedCase, ResolvedCondition
from wattikos_core.errors import CaseError
from wattikos_core.errors import Problem as InputProblem
from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable
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
    Index,
    build_faces,
    nothing_given,
)
from wattikos_core.physics.profiles import developed_profile
from wattikos_core.physics.residual import Cells, Tables
from wattikos_core.quantities import QuantityError


@dataclass(frozen=True)
class Condition:
    """What holds on one named outer boundary, in SI.

    Attributes:
        velocity: of a wall (m/s, both components), for walls that move in their own plane.
        mass_flow: entering, kg/s; `mean_velocity`: entering, m/s; one of them at an inlet.
        temperature: given at inlets, and at walls where not None, K.
        heat_flux: into the section at walls, W/m2; `heat_rate` into the whole boundary, W.
        film, ambient: convection beside a given flux, W/m2/K and K.
        emissivity, surroundings: radiation beside them, K.
        coating: resistance between the section and what holds a wall's outside, m2 K/W.

    Temperatures, fluxes and films may be arrays with a value for each face of the boundary.
    """

    kind: Literal["wall", "inlet", "outlet", "symmetry"]
    velocity: tuple[float, float] = (0.0, 0.0)
    mass_flow: float | None = None
    mean_velocity: float | None = None
    developed: bool = False
    pressure: float = 0.0
    temperature: float | Array | None = None
    heat_flux: float | Array = 0.0
    heat_rate: float = 0.0
    film: float | Array = 0.0
    ambient: float | Array = 0.0
    emissivity: float = 0.0
    surroundings: float | Array = 0.0
    coating: float = 0.0


@dataclass(frozen=True)
class Scales:
    """Reference magnitudes from conditions and sources, never from a state: m/s, K."""

    velocity: float
    temperature: float
    lowest: float
    highest: float


@dataclass(frozen=True)
class Problem:
    """What the solvers work on.

    Attributes:
        body: number of the connected body of fluid of each cell, -1 in solids.
        inflow: mass flow given at all inlets together, kg/s; `inflow_capacity` times its specific heat, W/K.
        orthogonal: whether no face needs corrections for skewness.
        blend: 1 for Fromm's scheme, 0 for upwind.
    """

    grid: Grid
    faces: Faces
    cells: Cells
    tables: Tables
    materials: tuple[PropertyTable, ...]
    conditions: Mapping[str, Condition]
    scales: Scales
    body: Index
    inflow: float
    inflow_capacity: float
    orthogonal: bool
    blend: float

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


def problem_of(resolved: ResolvedCase, grid: Grid) -> Problem:
    """The discrete problem of a resolved case on its grid."""
    conditions: dict[str, Condition] = {}
    for name in grid.groups:
        given = resolved.condition(name)
        if given is None and resolved.axisymmetric and not grid.nodes[grid.face_nodes[grid.groups[name]], 1].any():
            given = ResolvedCondition("", name, "symmetry")
        if given is None or "|" in name:
            continue
        conditions[name] = _condition(given, grid.face_centre[grid.groups[name]])
    blend = 1.0 if resolved.case.physics.convection == "fromm" else 0.0
    source = np.zeros(grid.n_cells)
    for part in resolved.bodies:
        mine = grid.region == grid.region_names.index(part.name)
        source[mine] = part.heat_density + part.heat / float(grid.volume[mine].sum())
    return build_problem(
        grid, [p.material for p in resolved.bodies], conditions, source=source, contacts=resolved.contacts, blend=blend
    )


def _condition(given: ResolvedCondition, places: Array) -> Condition:
    """A resolved condition on a boundary whose faces have their centres at `places`.

    Raises:
        CaseError: a value that varies along the boundary cannot be evaluated somewhere on it.
    """
    value: dict[str, float | Array] = {name: getattr(given, name) for name in ("amount", "temperature", "ambient", "surroundings")}
    for name, along in given.along.items():
        try:
            value[name] = along.at(places)
        except QuantityError as error:
            where = {"amount": "value"}.get(name, name)
            raise CaseError(InputProblem(f"{given.field}.{where}", error.problem, error.remedy)) from error
    if given.type in ("inlet_mass", "inlet_velocity"):
        mass, velocity = (given.amount, None) if given.type == "inlet_mass" else (None, given.amount)
        return Condition(
            "inlet", mass_flow=mass, mean_velocity=velocity, temperature=value["temperature"], developed=given.developed
        )
    if given.type == "outlet":
        return Condition("outlet", pressure=given.amount)
    if given.type == "symmetry":
        return Condition("symmetry")
    if given.type == "temperature":
        return Condition("wall", temperature=value["amount"], coating=given.coating)
    if given.type == "heat_flux":
        return Condition("wall", heat_flux=value["amount"])
    if given.type == "heat_rate":
        return Condition("wall", heat_rate=given.amount)
    if given.type == "surroundings":
        return Condition(
            "wall",
            film=value["amount"],
            ambient=value["ambient"],
            emissivity=given.emissivity,
            surroundings=value["surroundings"],
            coating=given.coating,
        )
    return Condition("wall")


def build_problem(
    grid: Grid,
    materials: Sequence[PropertyTable],
    conditions: Mapping[str, Condition],
    *,
    source: Array | None = None,
    contacts: Mapping[str, float] | None = None,
    blend: float = 1.0,
) -> Problem:
    """Turn conditions by name into face data.

    Args:
        materials: one table per region of the grid.
        conditions: by boundary name; boundaries without one are adiabatic walls at rest.
        source: volumetric heat source per cell, W/m3.
        contacts: resistance by interface name, m2 K/W.
    """
    n = grid.n_faces
    fluid = np.array([m.fluid for m in materials])[grid.region].astype(np.int64)
    inner = grid.neighbour >= 0
    other = np.where(inner, grid.neighbour, grid.owner)
    given = nothing_given(n)
    kind, velocity, mass_flow, pressure, thermal, temperature, heat_flux = given[:7]
    both_fluid = inner & (fluid[grid.owner] == 1) & (fluid[other] == 1)
    # A resistance between two fluids is a thin wall: nothing flows through it.
    for name in contacts or {}:
        if name in grid.groups:
            both_fluid[grid.groups[name]] = False
    same_solid = inner & (fluid[grid.owner] == 0) & (grid.region[grid.owner] == grid.region[other])
    kind[inner] = INTERFACE
    kind[both_fluid] = FLOW
    kind[same_solid] = SOLID
    for name, resistance in (contacts or {}).items():
        if name in grid.groups:
            given.contact[grid.groups[name]] = resistance
    inflow = inflow_capacity = 0.0
    speeds, rise = [0.0], 0.0
    temperatures: list[float] = []
    area = np.hypot(*grid.area.T)
    for name, condition in conditions.items():
        group = grid.groups.get(name)
        if group is None:
            continue
        if condition.kind == "symmetry":
            kind[group] = SYMMETRY
        elif condition.kind == "outlet":
            kind[group] = OUTLET
            pressure[group] = condition.pressure
        elif condition.kind == "inlet":
            assert condition.temperature is not None
            kind[group] = INLET
            table = materials[grid.region[grid.owner[group[0]]]]
            entering = float(np.mean(condition.temperature))
            density = float(table.density(entering))
            total = condition.mass_flow
            if total is None:
                assert condition.mean_velocity is not None
                total = condition.mean_velocity * density * float(area[group].sum())
            share = _inlet_shares(grid, group, condition.developed, conditions, fluid)
            mass_flow[group] = -total * share
            velocity[group] = (mass_flow[group] / (density * area[group]))[:, None] * (grid.area[group] / area[group][:, None])
            inflow += total
            inflow_capacity += total * float(table.specific_heat(entering))
            speeds.append(total / (density * float(area[group].sum())))
        else:
            velocity[group] = condition.velocity
            speeds.append(float(np.hypot(*condition.velocity)))
            flux = condition.heat_flux + condition.heat_rate / float(area[group].sum())
            heat_flux[group] = flux
            given.film[group], given.ambient[group] = condition.film, condition.ambient
            given.emissivity[group], given.surroundings[group] = condition.emissivity, condition.surroundings
            given.contact[group] = condition.coating
            for t, there in ((condition.ambient, condition.film), (condition.surroundings, condition.emissivity)):
                if np.any(there):
                    temperatures += [float(np.min(t)), float(np.max(t))]
            if np.any(flux):
                k = float(materials[grid.region[grid.owner[group[0]]]].conductivity(300.0))
                rise = max(rise, float(np.max(np.abs(flux))) * _extent(grid) / k)
        if condition.temperature is not None:
            thermal[group] = TEMPERATURE_GIVEN
            temperature[group] = condition.temperature
            temperatures += [float(np.min(condition.temperature)), float(np.max(condition.temperature))]
    ratio = np.array([m.conductivity_ratio for m in materials])[grid.region]
    faces = build_faces(grid, given, ratio)
    if source is not None and source.any():
        slowest = min(float(m.conductivity(300.0)) for m in materials)
        rise = max(rise, float(np.abs(source).max()) * _extent(grid) ** 2 / slowest)
    tables = Tables(
        np.ascontiguousarray(np.stack([m.coefficients for m in materials])),
        np.array([m.start for m in materials]),
        np.array([m.step for m in materials]),
    )
    body = _bodies(faces, fluid)
    cells = Cells(
        grid.volume,
        np.ascontiguousarray(grid.centre[:, 1]) if grid.axisymmetric else np.zeros(grid.n_cells),
        grid.region.astype(np.int64),
        fluid,
        _pins(faces, body),
        np.zeros(grid.n_cells) if source is None else source,
    )
    lowest, highest = (min(temperatures), max(temperatures)) if temperatures else (293.15, 293.15)
    span = max(highest - lowest, rise)
    orthogonal = not (faces.heat_shift_owner.any() or faces.heat_shift_neighbour.any())
    scales = Scales(max(speeds) or 1.0, span if span > 0.0 else 1.0, lowest, highest)
    return Problem(
        grid, faces, cells, tables, tuple(materials), dict(conditions), scales, body, inflow, inflow_capacity, orthogonal, blend
    )


def _extent(grid: Grid) -> float:
    """The shorter side of the section, m: the distance over which heat builds up a temperature."""
    return float(np.ptp(grid.nodes, axis=0).min())


def _inlet_shares(grid: Grid, group: Index, developed: bool, conditions: Mapping[str, Condition], fluid: Index) -> Array:
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


def _is_wall(grid: Grid, group: Index, axis: int, at: float, conditions: Mapping[str, Condition], fluid: Index) -> bool:
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


def _bodies(faces: Faces, fluid: Index) -> Index:
    """The connected body of fluid each cell belongs to, -1 in solids."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    flow = faces.kind == FLOW
    links = coo_matrix((np.ones(int(flow.sum())), (faces.owner[flow], faces.neighbour[flow])), shape=(fluid.size, fluid.size))
    _, body = connected_components(links, directed=False)
    return np.where(fluid == 1, body, -1).astype(np.int64)


def _pins(faces: Faces, body: Index) -> Index:
    """One cell per body of fluid without an outlet, where the pressure level is fixed at zero."""
    pin = np.zeros(body.size, dtype=np.int64)
    open_bodies = set(body[faces.owner[faces.kind == OUTLET]].tolist())
    for number in np.unique(body[body >= 0]):
        if int(number) not in open_bodies:
            pin[np.nonzero(body == number)[0][0]] = 1
    return pin
