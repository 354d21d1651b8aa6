"""What residuals and errors are measured against: magnitudes that follow from what is given, body by body.

A body of fluid is what is connected by faces that fluid passes; a body of heat, what is connected by faces that heat passes. Each
has scales of its own, so that a stream is judged by itself whatever else stands in the section.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable
from wattikos_core.physics.faces import INLET, OUTLET, TEMPERATURE_GIVEN, Array, Faces, Index
from wattikos_core.physics.speeds import driven_speed, turnover

if TYPE_CHECKING:
    from wattikos_core.physics.modules import Module
    from wattikos_core.physics.problem import Problem

# Temperatures that differ by less are the same, K.
LEAST_SPAN = 1e-3
# A stream may be warmer than its heat explains by this factor: heat comes in through its walls.
BESIDE_WALLS = 10.0


# Bounds of temperatures lie this share of what is given beyond it: right on a bound the limiter has no derivative, and much of a
# stream is there.
_SLACK = 1e-4


@dataclass(frozen=True)
class Scales:
    """Reference magnitudes from conditions and sources, never from the flow of a state.

    Attributes:
        velocity: of the body of fluid that each cell belongs to, m/s, shape (n_cells,); 1 in solids.
        stirred: speed given on the boundaries of each body of fluid, m/s, shape (n_bodies,).
        mass: mass flow that passes each body of fluid, kg/s.
        capacity: heat capacity rate of the streams that enter each body of heat, W/K, shape (n_heat_bodies,).
        conductance: from the cells at the outer faces of each body of heat to these faces, W/K.
        heat: of sources and given fluxes in each body of heat, W.
        span: by how much the temperatures given on each body of heat differ, K.
        lowest, highest: temperature given anywhere, K.
        reference: temperature of the density that weight is counted against, K.
    """

    velocity: Array
    stirred: Array
    mass: Array
    capacity: Array
    conductance: Array
    heat: Array
    span: Array
    lowest: float
    highest: float
    reference: float = 293.15

    @staticmethod
    def none(lowest: float, highest: float, reference: float) -> Scales:
        """No magnitudes yet, between temperatures given (K)."""
        nothing = np.zeros(0)
        return Scales(nothing, nothing, nothing, nothing, nothing, nothing, nothing, lowest, highest, reference)


@dataclass
class Totals:
    """What conditions add up to.

    Attributes:
        inflow: mass flow (kg/s) through each face of an inlet, `capacity` times its specific heat (W/K), by face.
        speed: given on faces, m/s.
        lowest, highest: temperatures given on faces, K; infinite where none is.
        heat: given into the section through faces, W.
    """

    inflow: Array
    capacity: Array
    speed: Array
    lowest: Array
    highest: Array
    heat: Array
    temperatures: list[float] = field(default_factory=list)

    @staticmethod
    def none(n_faces: int) -> Totals:
        """Nothing given on n faces."""
        zero = np.zeros((4, n_faces))
        return Totals(zero[0], zero[1], zero[2], np.full(n_faces, np.inf), np.full(n_faces, -np.inf), zero[3])

    def temperature(self, group: Index, lowest: Array | float, highest: Array | float) -> None:
        """Note a temperature given on faces."""
        self.lowest[group] = np.minimum(self.lowest[group], lowest)
        self.highest[group] = np.maximum(self.highest[group], highest)
        self.temperatures += [float(np.min(lowest)), float(np.max(highest))]


def bodies(n_cells: int, faces: Faces, passable: NDArray[np.bool_]) -> Index:
    """The connected body that each cell belongs to through faces that can be passed."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    a, b = faces.owner[passable], faces.neighbour[passable]
    links = coo_matrix((np.ones(a.size), (a, b)), shape=(n_cells, n_cells))
    return np.asarray(connected_components(links, directed=False)[1], dtype=np.int64)


def per_body(number: Index, values: Array, count: int) -> Array:
    """Sum of values in each body; cells of none (-1) are left out."""
    mine = number >= 0
    return np.asarray(np.bincount(number[mine], values[mine], count), dtype=np.float64)


def spans(heat_body: Index, temperature: Array, given: Array) -> Array:
    """By how much temperatures in the body of heat of each cell differ, K, shape (n_cells,); at least what is given there."""
    if given.size == 1:
        return np.full(temperature.size, max(float(np.ptp(temperature)), float(given[0]), LEAST_SPAN))
    low, high = np.full(given.size, np.inf), np.full(given.size, -np.inf)
    np.minimum.at(low, heat_body, temperature)
    np.maximum.at(high, heat_body, temperature)
    return np.asarray(np.maximum(np.maximum(high - low, given), LEAST_SPAN)[heat_body])


def conductivities(grid: Grid, materials: Sequence[PropertyTable]) -> Array:
    """Conductivity of each cell at 300 K, or as near to it as its material goes, W/m/K."""
    of_region = np.array([float(m.conductivity(min(max(300.0, m.start_temperature), m.end))) for m in materials])
    return np.asarray(of_region[grid.region])


def rises(problem: Problem, heat: Array, held: Index) -> Array:
    """Temperatures (K, about zero) that sources and given fluxes would bring about by conduction alone.

    What holds a temperature (walls, films, radiation at 300 K, what enters or may leave) is held at zero; a body that nothing
    holds has its heat spread over it, as if it warmed up.

    Args:
        problem: the discrete problem.
        heat: given through outer faces, W.
        held: 1 on outer faces through which the temperature is held by a stream.
    """
    from scipy.sparse import coo_matrix
    from scipy.sparse.linalg import splu

    from wattikos_core.radiation import STEFAN_BOLTZMANN

    grid, faces, given, weights = problem.grid, problem.faces, problem.given, problem.heat_weights
    n, heat_body = grid.n_cells, problem.heat_body
    conductivity = conductivities(grid, problem.materials)
    inner = np.nonzero(faces.neighbour >= 0)[0]
    a, b = faces.owner[inner], faces.neighbour[inner]
    resistance = faces.near[inner] / (conductivity[a] * weights.share_owner[inner]) + given.contact[inner]
    resistance += faces.far[inner] / (conductivity[b] * weights.share_neighbour[inner])
    between = faces.area[inner] / resistance
    outer = np.nonzero(faces.neighbour < 0)[0]
    c = faces.owner[outer]
    inside = faces.near[outer] / (conductivity[c] * weights.share_owner[outer]) + given.contact[outer]
    film = given.coefficient[outer] + 4.0 * given.emissivity[outer] * STEFAN_BOLTZMANN * 300.0**3
    fixed = (given.thermal[outer] == TEMPERATURE_GIVEN) | (held[outer] == 1)
    beyond = np.where(fixed, 1.0 / inside, film / (1.0 + film * inside)) * faces.area[outer]
    right = problem.cells.source * grid.volume + per_body(c, heat[outer], n)
    diagonal = per_body(a, between, n) + per_body(b, between, n) + per_body(c, beyond, n)
    # Without any fixed temperature heating warms the body as a whole; its mean is left out.
    count = int(heat_body.max()) + 1
    free = per_body(heat_body, per_body(c, beyond, n), count) == 0.0
    volume = per_body(heat_body, grid.volume, count)
    right = right - np.where(free[heat_body], (per_body(heat_body, right, count) / volume)[heat_body] * grid.volume, 0.0)
    first = np.zeros(n)
    first[np.unique(heat_body, return_index=True)[1]] = 1.0
    diagonal = np.where(free[heat_body] & (first == 1.0), 2.0 * diagonal + 1e-300, diagonal)
    rows, columns = np.concatenate([np.arange(n), a, b]), np.concatenate([np.arange(n), b, a])
    matrix = coo_matrix((np.concatenate([diagonal, -between, -between]), (rows, columns)), shape=(n, n))
    return np.asarray(splu(matrix.tocsc()).solve(right))


def temperature_range(totals: Totals, module: Module | None) -> tuple[float, float]:
    """Lowest and highest temperature given anywhere, K."""
    temperatures = [*totals.temperatures, *([] if module is None else [module.temperature])]
    return (min(temperatures), max(temperatures)) if temperatures else (293.15, 293.15)


def scales_and_bounds(problem: Problem, totals: Totals, start: Array | None) -> tuple[Scales, Array, Array]:
    """Scales of a problem, and the lowest and highest temperature that is possible in each cell, K."""
    grid, faces, materials, physics = problem.grid, problem.faces, problem.materials, problem.physics
    body, heat_body, module = problem.body, problem.heat_body, problem.module
    n_bodies, n_heat = int(body.max(initial=-1)) + 1, int(heat_body.max()) + 1
    owner = faces.owner
    of_heat = heat_body[owner]
    low, high = np.full(n_heat, np.inf), np.full(n_heat, -np.inf)
    np.minimum.at(low, of_heat, totals.lowest)
    np.maximum.at(high, of_heat, totals.highest)
    if module is not None:
        low, high = np.minimum(low, module.temperature), np.maximum(high, module.temperature)
    if start is not None:
        np.minimum.at(low, heat_body, start)
        np.maximum.at(high, heat_body, start)
    given = np.where(high >= low, high - low, 0.0)
    released = problem.cells.source * grid.volume
    heat = per_body(heat_body, np.abs(released), n_heat) + per_body(of_heat, np.abs(totals.heat), n_heat)
    capacity = per_body(of_heat, totals.capacity, n_heat)
    outer = faces.neighbour < 0
    at_edge = faces.area[outer] / faces.near[outer] * conductivities(grid, materials)[owner[outer]]
    conductance = per_body(of_heat[outer], at_edge, n_heat)
    lowest, highest = temperature_range(totals, module)
    if start is not None:
        lowest = min([float(start.min())] + ([lowest] if totals.temperatures else []))
        highest = max([float(start.max())] + ([highest] if totals.temperatures else []))
    middle = np.where(high >= low, low + 0.5 * given, 0.5 * (lowest + highest))
    ranges = np.stack([middle - 0.5 * given, middle + 0.5 * given])
    stirred = np.zeros(n_bodies)
    for cells in (owner, np.where(faces.neighbour >= 0, faces.neighbour, owner)):
        wet = body[cells] >= 0
        np.maximum.at(stirred, body[cells][wet], totals.speed[wet])
    if module is not None and module.mass_flow is not None:
        streaming = body[owner[module.faces[0]]]
        density = float(materials[module.region].density(module.temperature))
        stirred[streaming] = max(stirred[streaming], module.mass_flow / (density * module.area))
    if problem.scales.stirred.size:
        # Speeds at the start of a run in time persist for a while.
        stirred = np.maximum(stirred, problem.scales.stirred)
    ends = np.stack([ranges[:, heat_body[np.nonzero(body == b)[0][0]]] for b in range(n_bodies)]) if n_bodies else np.zeros((0, 2))
    if physics.heavy and heat.any():
        ends[:, 1] += _rise_of_fluids(problem, totals, capacity)
    velocity = np.maximum(stirred, driven_speed(grid, materials, faces, problem.given, physics, body, ends, problem.internals))
    velocity[velocity == 0.0] = 1.0
    inflow = per_body(body[owner], totals.inflow, n_bodies)
    mass = np.where(inflow > 0.0, inflow, turnover(materials, grid, faces, body, velocity, problem.scales.reference))
    if module is not None:
        streaming = body[owner[module.faces[0]]]
        density = float(materials[module.region].density(module.temperature))
        mass[streaming] = module.mass_flow or velocity[streaming] * density * module.area
    scales = Scales(
        np.where(body >= 0, np.append(velocity, 1.0)[body], 1.0),
        stirred,
        mass,
        capacity,
        conductance,
        heat,
        given,
        lowest,
        highest,
        problem.scales.reference,
    )
    # Sources, fluxes and friction can make it colder or warmer than anything given.
    colder = per_body(heat_body, np.minimum(released, 0.0), n_heat) + per_body(of_heat, np.minimum(totals.heat, 0.0), n_heat)
    warmer = per_body(heat_body, np.maximum(released, 0.0), n_heat) + per_body(of_heat, np.maximum(totals.heat, 0.0), n_heat)
    open_below = (colder < 0.0) | (high < low) | (module is not None)
    open_above = (warmer > 0.0) | (high < low) | (module is not None) | physics.friction_heat | _fans_warm(problem, n_heat)
    warming = np.divide(heat, capacity, out=np.zeros(n_heat), where=capacity > 0.0)
    slack = _SLACK * np.maximum(given, warming)
    return scales, np.where(open_below, -np.inf, low - slack)[heat_body], np.where(open_above, np.inf, high + slack)[heat_body]


def _fans_warm(problem: Problem, n_heat: int) -> NDArray[np.bool_]:
    """Which bodies of heat a fan warms."""
    warmed = np.zeros(n_heat, dtype=bool)
    for fan in problem.fans:
        warmed[problem.heat_body[fan.cells]] |= fan.given.efficiency is not None
    return warmed


def _rise_of_fluids(problem: Problem, totals: Totals, capacity: Array) -> Array:
    """By how much sources and given fluxes would make temperatures in each body of fluid differ, K, by conduction alone.

    Where a stream enters, no more than a multiple of what the heat makes of it.
    """
    body, heat_body, faces = problem.body, problem.heat_body, problem.faces
    held = np.isin(faces.kind, (INLET, OUTLET)).astype(np.int64)
    found = rises(problem, totals.heat, held)
    rise = np.zeros(int(body.max(initial=-1)) + 1)
    total = per_body(heat_body, np.abs(problem.cells.source) * problem.grid.volume, capacity.size)
    total += per_body(heat_body[faces.owner], np.abs(totals.heat), capacity.size)
    for number in range(rise.size):
        mine = np.nonzero(body == number)[0]
        rise[number] = np.ptp(found[mine])
        stream = float(capacity[heat_body[mine[0]]])
        if problem.fed[number] and stream > 0.0:
            rise[number] = min(rise[number], BESIDE_WALLS * float(total[heat_body[mine[0]]]) / stream)
    return rise
