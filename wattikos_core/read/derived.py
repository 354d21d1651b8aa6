"""Fields that follow from a solution: what turns, what flows between two streamlines, heat and pressure, how fine cells are."""

from __future__ import annotations

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import breadth_first_order, connected_components

from wattikos_core.grid import Grid
from wattikos_core.physics import Evaluation, Point, Problem
from wattikos_core.physics.faces import Array, Index
from wattikos_core.physics.properties import specific_heats


def derived_fields(point: Point, evaluation: Evaluation, pressure: Array | None) -> dict[str, Array]:
    """Derived fields by name, SI, shape (n_cells,) each; NaN where only moving fluids have them.

    Args:
        point: the state with its properties and gradients.
        evaluation: what passes its faces.
        pressure: static, Pa, with what falls along a module; None where nothing flows.
    """
    problem, state, properties = point.problem, point.state, point.properties
    flows = problem.cells.fluid == 1
    fields = {
        "heat flux": heat_flux(point),
        "conductivity": properties.conductivity,
        "cell size": cell_size(problem.grid),
    }
    if pressure is None:
        return fields
    swirl = state.angular_velocity * problem.cells.radius
    head = 0.5 * properties.density * (state.speed**2 + swirl**2)
    fields |= {
        "total pressure": pressure + head,
        "density": np.where(flows, properties.density, np.nan),
        "viscosity": np.where(flows, properties.viscosity, np.nan),
        "Péclet number": np.where(flows, _peclet(point), np.nan),
    }
    if problem.grid.dimensions == 2:
        gradient = point.gradients.velocity
        fields["vorticity"] = np.where(flows, gradient[:, 1, 0] - gradient[:, 0, 1], np.nan)
        fields["stream function"] = stream_function(problem, evaluation)
    return fields


def heat_flux(point: Point) -> Array:
    """Magnitude of the heat conducted in cells, by Fourier's law, with what turbulence adds, W/m2, shape (n_cells,)."""
    problem = point.problem
    slope = point.gradients.temperature.reshape(problem.grid.n_cells, -1).copy()
    slope[:, 1] *= np.array([m.conductivity_ratio for m in problem.materials])[problem.grid.region]
    conductivity, turbulence = point.properties.conductivity, point.turbulence
    if turbulence.prandtl.size:
        heat = specific_heats(problem.cells, problem.tables, point.state.stretched)
        conductivity = conductivity + turbulence.eddy_viscosity * heat / np.where(turbulence.prandtl > 0.0, turbulence.prandtl, 1.0)
    return np.asarray(conductivity * np.linalg.norm(slope, axis=1))


def cell_size(grid: Grid) -> Array:
    """Side of the square with a cell's area in the section, m, shape (n_cells,)."""
    across = 2.0 * np.pi * grid.centre[:, 1] if grid.axisymmetric else grid.depth
    return np.asarray(np.sqrt(grid.volume / across))


def _peclet(point: Point) -> Array:
    """Heat that flows through cells over what is conducted: v·L·ρ·cp/k with their size L."""
    problem, properties = point.problem, point.properties
    heat = np.empty(problem.grid.n_cells)
    for index, table in enumerate(problem.materials):
        mine = problem.grid.region == index
        heat[mine] = table.specific_heat(properties.temperature[mine])
    size = cell_size(problem.grid)
    return np.asarray(point.state.speed * size * properties.density * heat / properties.conductivity)


def stream_function(problem: Problem, evaluation: Evaluation) -> Array:
    """Mass flow between a cell and a wall, kg/s, shape (n_cells,); NaN where nothing flows.

    Flow through a face is the difference of the stream function between its ends, with u = ∂ψ/∂y and v = -∂ψ/∂x (times density
    and depth; in axisymmetric sections Stokes' function times 2π): so it is as exact as the balance of mass. Each body of fluid
    begins at zero, at a node of a wall where it has one. Where density changes in time it depends on the way by what is stored.
    """
    grid = problem.grid
    flows = problem.cells.fluid == 1
    wet = flows[grid.owner] | ((grid.neighbour >= 0) & flows[np.maximum(grid.neighbour, 0)])
    used = np.nonzero(wet)[0]
    first, last = grid.edges[used].T
    way = grid.nodes[last] - grid.nodes[first]
    across = (grid.area[used] * np.stack([way[:, 1], -way[:, 0]], axis=1)).sum(axis=1)
    gain = evaluation.flow[used] * np.sign(across)
    at_nodes = _summed(grid.nodes.shape[0], first, last, gain, evaluation.flow[used] == 0.0)
    sums = np.add.reduceat(at_nodes[grid.cell_nodes], grid.cell_start[:-1])
    return np.where(flows, sums / np.diff(grid.cell_start), np.nan)


def _summed(n_nodes: int, first: Index, last: Index, gain: Array, tight: Array) -> Array:
    """Values at nodes whose differences along edges are given, from zero at one node of each connected piece."""
    # Numbers of edges, so that each step along the tree finds what it gains; beginning with 1, since 0 is no entry.
    number = np.arange(1, first.size + 1)
    graph = coo_array((number, (first, last)), shape=(n_nodes, n_nodes)).tocsr()
    both = (graph + graph.T).tocsr()
    pieces = connected_components(both, directed=False)[1]
    values = np.zeros(n_nodes)
    walls = np.concatenate([first[tight], last[tight]])
    for piece in np.unique(pieces[first]):
        inside = walls[pieces[walls] == piece]
        begin = int(inside[0]) if inside.size else int(first[pieces[first] == piece][0])
        order, before = breadth_first_order(both, begin, directed=False)
        edge = np.asarray(both[before[order[1:]], order[1:]]).ravel() - 1
        steps = np.where(last[edge] == order[1:], gain[edge], -gain[edge])
        for node, former, step in zip(order[1:].tolist(), before[order[1:]].tolist(), steps.tolist(), strict=True):
            values[node] = values[former] + step
    return values
