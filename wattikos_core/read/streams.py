"""Streams: bodies of fluid with an inlet and an outlet, and what they carry.

Parts of fluid that open into one another are one stream, called after the part where most of it enters.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from wattikos_core.materials import PropertyTable
from wattikos_core.physics import Evaluation, Module, Periodicity, Problem, bulk_temperatures
from wattikos_core.physics.faces import (
    AS_IT_COMES,
    FLOW,
    INLET,
    INTERFACE,
    OPEN,
    OUTLET,
    SYMMETRY,
    TEMPERATURE_GIVEN,
    WALL,
    Array,
    Index,
)
from wattikos_core.physics.state import NOT_PERIODIC

_MOSTLY_OPEN = 0.25


@dataclass(frozen=True)
class Stream:
    """One stream, in SI.

    Attributes:
        part: name of the fluid part where it enters, after which it is called.
        regions: all parts that it passes, by their numbers in the grid.
        mass_flow: entering, kg/s.
        inlet_temperature, outlet_temperature: mixed-mean (weighted with mass flow, by enthalpy), K.
        heat: what the stream gains between inlet and outlet, by enthalpy, W.
        pressure_drop: mass-flow-weighted static pressure, inlet minus outlet, Pa.
        hydraulic_diameter: four times the volume over the wetted area, m; NaN for a stream that is open round about.
        backflow: share of the outlet's flow that comes back in.
    """

    part: str
    regions: Index
    table: PropertyTable
    mass_flow: float
    inlet_temperature: float
    outlet_temperature: float
    heat: float
    pressure_drop: float
    hydraulic_diameter: float
    cross_section: float
    backflow: float
    walls: Index
    direction: Array

    @property
    def mean_temperature(self) -> float:
        """Mean of the mixed-mean inlet and outlet temperatures, at which properties are taken, K."""
        return 0.5 * (self.inlet_temperature + self.outlet_temperature)

    @property
    def reynolds(self) -> float:
        """Reynolds number on the hydraulic diameter."""
        return self.mass_flow * self.hydraulic_diameter / (self.cross_section * float(self.table.viscosity(self.mean_temperature)))


def streams_of(problem: Problem, evaluation: Evaluation, periodicity: Periodicity = NOT_PERIODIC) -> dict[str, Stream]:
    """The streams of a solution, by the part where they enter; of a module with what changes from one to the next."""
    grid = problem.grid
    streams: dict[str, Stream] = {}
    for regions in _open_to_one_another(problem):
        if problem.module is not None and problem.module.region in regions:
            name = grid.region_names[problem.module.region]
            streams[name] = _through_module(problem, problem.module, evaluation, periodicity, name, regions)
            continue
        mine = np.isin(grid.region[grid.owner], regions)
        enters, leaves = ends_of_streams(problem, evaluation)
        inlet, outlet = np.nonzero(mine & enters)[0], np.nonzero(mine & leaves)[0]
        if inlet.size == 0 or outlet.size == 0 or -float(evaluation.flow[inlet].sum()) <= 0.0:
            continue
        stream = _from_inlet_to_outlet(problem, evaluation, regions, inlet, outlet)
        streams[stream.part] = stream
    return streams


def ends_of_streams(problem: Problem, evaluation: Evaluation) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Faces of boundaries where streams enter, and where they leave; openings are what more flows of."""
    faces, given = problem.faces, problem.given
    ends = faces.kind == OUTLET
    opening = np.nonzero(ends & (given.fed == OPEN))[0]
    net = np.zeros(faces.kind.size)
    np.add.at(net, given.outlet[opening], evaluation.flow[opening])
    drawn_in = np.zeros(faces.kind.size, dtype=bool)
    drawn_in[opening] = net[given.outlet[opening]] < 0.0
    fed = np.where(given.fed == OPEN, drawn_in, given.fed != AS_IT_COMES)
    return (faces.kind == INLET) | (ends & fed), ends & ~fed


def stream_by_part(problem: Problem, streams: Mapping[str, Stream]) -> dict[str, Stream]:
    """The stream that passes each part, by any part's name."""
    return {problem.grid.region_names[region]: stream for stream in streams.values() for region in stream.regions}


def _open_to_one_another(problem: Problem) -> list[Index]:
    """Fluid parts (their numbers) in groups that fluid passes between."""
    grid = problem.grid
    open_faces = np.nonzero((problem.faces.kind == FLOW) & (grid.neighbour >= 0))[0]
    ends = grid.region[grid.owner[open_faces]], grid.region[grid.neighbour[open_faces]]
    n = len(grid.region_names)
    number = connected_components(coo_array((np.ones(open_faces.size), ends), shape=(n, n)), directed=False)[1]
    fluid = np.nonzero(problem.fluid_regions)[0]
    return [fluid[number[fluid] == group] for group in np.unique(number[fluid])]


def _from_inlet_to_outlet(problem: Problem, evaluation: Evaluation, regions: Index, inlet: Index, outlet: Index) -> Stream:
    grid, faces = problem.grid, problem.faces
    entering = -evaluation.flow[inlet]
    leaving = evaluation.flow[outlet]
    first = _most_of(grid.region[grid.owner[inlet]], entering)
    table, last = problem.materials[first], problem.materials[_most_of(grid.region[grid.owner[outlet]], leaving)]
    mass = float(entering.sum())
    h_in = -float(evaluation.enthalpy_flow[inlet].sum()) / mass
    out = float(leaving.sum())
    h_out = float(evaluation.enthalpy_flow[outlet].sum()) / out if abs(out) > 1e-3 * mass else h_in
    guess = float(evaluation.face_temperature[inlet].mean())
    walls, hydraulic = _walls_of(problem, regions)
    along = grid.face_centre[outlet].mean(axis=0) - grid.face_centre[inlet].mean(axis=0)
    drop = float((evaluation.face_pressure[inlet] * entering).sum() / mass)
    drop -= float((evaluation.face_pressure[outlet] * leaving).sum() / out) if abs(out) > 1e-3 * mass else 0.0
    return Stream(
        part=grid.region_names[_behind_what_drives(problem, regions, first)],
        regions=regions,
        table=table,
        mass_flow=mass,
        inlet_temperature=float(table.temperature_of(h_in, guess)),
        outlet_temperature=float(last.temperature_of(h_out, guess)),
        heat=mass * (h_out - h_in),
        pressure_drop=drop,
        hydraulic_diameter=hydraulic,
        cross_section=float(faces.area[inlet].sum()),
        backflow=float(-leaving[leaving < 0.0].sum()) / mass,
        walls=walls,
        direction=along / max(float(np.linalg.norm(along)), 1e-300),
    )


def _behind_what_drives(problem: Problem, regions: Index, first: int) -> int:
    """The part that a stream is called by: the first, or where a fan or a screen stands at its inlet, the one behind that."""
    grid, filled = problem.grid, {one.region for one in problem.internals}
    if first not in filled:
        return first
    beside = (problem.faces.kind == FLOW) & (grid.neighbour >= 0)
    a, b = grid.region[grid.owner[beside]], grid.region[grid.neighbour[beside]]
    others = np.where(a == first, b, a)[(a == first) ^ (b == first)]
    there = [region for region in np.bincount(others).argsort()[::-1].tolist() if region in others]
    return next((region for region in there if region in regions and region not in filled), first)


def _most_of(regions: Index, flow: Array) -> int:
    """The region through which most flows."""
    return int(np.argmax(np.bincount(regions, weights=np.maximum(flow, 0.0))))


def _walls_of(problem: Problem, regions: Index) -> tuple[Index, float]:
    """The walls of a stream, and its hydraulic diameter, m."""
    grid, faces = problem.grid, problem.faces
    mine = np.isin(grid.region[grid.owner], regions)
    touches = mine | ((grid.neighbour >= 0) & np.isin(grid.region[np.maximum(grid.neighbour, 0)], regions))
    walls = np.nonzero(touches & ((faces.kind == WALL) | (faces.kind == INTERFACE)))[0]
    volume = float(grid.volume[np.isin(grid.region, regions)].sum())
    wetted = float(faces.area[walls].sum())
    # Open all round but for a body in it, a stream has no hydraulic diameter; planes of symmetry in a module are no openings.
    open_sides = 0.0 if problem.module is not None else float(faces.area[mine & (faces.kind == SYMMETRY)].sum())
    return walls, 4.0 * volume / wetted if wetted > _MOSTLY_OPEN * open_sides else float("nan")


def _through_module(
    problem: Problem, module: Module, evaluation: Evaluation, periodicity: Periodicity, name: str, regions: Index
) -> Stream:
    """The stream through a module that repeats, from its upstream end to its downstream one."""
    table = problem.materials[module.region]
    walls, hydraulic = _walls_of(problem, regions)
    mass = float(evaluation.flow[module.faces].sum())
    upstream, downstream = bulk_temperatures(
        module, table, evaluation.flow, evaluation.enthalpy_flow, periodicity.ratio, periodicity.rise
    )
    return Stream(
        part=name,
        regions=regions,
        table=table,
        mass_flow=mass,
        inlet_temperature=upstream,
        outlet_temperature=downstream,
        heat=mass * float(table.enthalpy(downstream) - table.enthalpy(upstream)),
        pressure_drop=periodicity.pressure_gradient * module.length,
        hydraulic_diameter=hydraulic,
        cross_section=module.area,
        backflow=0.0,
        walls=walls,
        direction=module.along,
    )


@dataclass(frozen=True)
class WallExchange:
    """Heat between one stream and one wall, station by station along the stream.

    Attributes:
        position: along the stream, m, ascending; `area`: of each face, m2.
        heat: from the wall into the stream through each face, W.
        wall, bulk: temperatures at each station, K; the bulk one mixed-mean, from the heat received up to there
            (conduction along the stream, which matters only next to the inlet, left out).
        held: whether conditions hold all of the wall at one temperature.
    """

    position: Array
    area: Array
    heat: Array
    wall: Array
    bulk: Array
    held: bool

    @property
    def total(self) -> float:
        """Heat into the stream, W."""
        return float(self.heat.sum())

    @property
    def coefficient(self) -> float:
        """Mean h = Q / ∫(T_wall - T_bulk) dA, W/m2/K; NaN where no difference drives the heat."""
        drive = float(((self.wall - self.bulk) * self.area).sum())
        return self.total / drive if abs(drive) > 1e-12 * float(self.area.sum()) else float("nan")

    @property
    def mean_local_coefficient(self) -> float:
        """Mean over the area of the local h = q / (T_wall - T_bulk), W/m2/K: what entry correlations for a heat flux and the area
        in effectiveness-NTU mean. NaN where the wall and the stream are equally warm anywhere, or heat goes uphill.
        """
        drive = (self.wall - self.bulk) * self.area
        if not np.all(self.heat * drive > 0.0):
            return float("nan")
        return float(np.average(self.heat / drive, weights=self.area))

    def log_mean_coefficient(self, inlet: float, outlet: float) -> float:
        """h = Q / (A ΔT_lm) with the mean temperature of the wall, W/m2/K: what correlations for a wall at one temperature mean.

        Args:
            inlet: mixed-mean temperature of the stream where it enters, K.
            outlet: the same where it leaves, K; NaN where the stream crosses the wall's mean temperature.
        """
        wall = float(np.average(self.wall, weights=self.area))
        return self.total / (float(self.area.sum()) * log_mean(wall - inlet, wall - outlet))


def log_mean(first: float, last: float) -> float:
    """Logarithmic mean of the differences of temperatures at both ends, K; NaN where they are of different signs."""
    if first * last <= 0.0:
        return float("nan")
    return first if abs(first - last) < 1e-9 * abs(first) else (first - last) / float(np.log(first / last))


def exchange_with(problem: Problem, evaluation: Evaluation, stream: Stream, wall: str = "") -> WallExchange | None:
    """The exchange of a stream with the part `wall`, or with all solids and heated boundaries; None when there are none."""
    grid = problem.grid
    faces = stream.walls
    order = np.argsort(grid.face_centre[faces] @ stream.direction, kind="stable")
    faces = faces[order]
    position = grid.face_centre[faces] @ stream.direction
    owns = np.isin(grid.region[grid.owner[faces]], stream.regions)
    into = evaluation.into_cells(faces, owns)
    # What has come in up to the middle of each face, with what is conducted through the inlet itself.
    inlet = (problem.faces.kind == INLET) & np.isin(grid.region[grid.owner], stream.regions)
    through_inlet = float((evaluation.heat[inlet] - evaluation.absorbed[inlet, 0]).sum())
    passed = np.cumsum(into) - 0.5 * into - through_inlet
    h_in = float(stream.table.enthalpy(stream.inlet_temperature))
    bulk = stream.table.temperature_of(h_in + passed / stream.mass_flow, np.asarray(stream.mean_temperature))
    other = np.where(owns, grid.neighbour[faces], grid.owner[faces])
    if wall:
        names = np.array([*grid.region_names, ""])
        chosen = names[np.where(other >= 0, grid.region[other], -1)] == wall
    else:
        chosen = (other >= 0) | (into != 0.0)
    if not chosen.any():
        return None
    return WallExchange(
        position[chosen],
        problem.faces.area[faces[chosen]],
        into[chosen],
        np.where(owns, evaluation.face_temperature[faces], evaluation.beyond_temperature[faces])[chosen],
        bulk[chosen],
        bool(
            np.all(problem.given.thermal[faces[chosen]] == TEMPERATURE_GIVEN)
            and np.ptp(problem.given.temperature[faces[chosen]]) == 0.0
        ),
    )
