"""A first guess of what fans drive: the flow without friction or eddies, as fast as its power balance allows.

From rest a fan would push everything at once, and quadratic losses, total pressures and convection hold nothing back there. A
potential flow has them all from the first step on.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattikos_core.physics import Problem
from wattikos_core.physics.faces import FLOW, OUTLET, Array
from wattikos_core.physics.internals import Drag
from wattikos_core.physics.properties import Properties

# Times the flow of the unit solution between which its power balance is sought, and halvings on the way.
_LEAST, _HALVINGS = 1e-6, 60


def blown_flow(problem: Problem, properties: Properties) -> Array:
    """Velocity that fans drive in bodies of fluid where nothing enters by a flow given, m/s, shape (n_cells, d).

    Zero in all other bodies.
    """
    fans = [fan for fan in problem.fans if not problem.fed[problem.body[fan.cells[0]]]]
    velocity = np.zeros((problem.grid.n_cells, problem.grid.dimensions))
    for body in {int(problem.body[fan.cells[0]]) for fan in fans}:
        mine = problem.body == body
        unit = _unit_flow(problem, properties, mine)
        velocity[mine] = _as_fast_as_it_can(problem, properties, mine, unit)[mine]
    return velocity


def _unit_flow(problem: Problem, properties: Properties, mine: NDArray[np.bool_]) -> Array:
    """Flow against a resistance that is even but for what holds the fluid back, m/s.

    -∇p + f = c u with ∇·u = 0 and fans at their rise without flow; the scale of c matters little, since the speed is found after.
    """
    from scipy.sparse import coo_matrix
    from scipy.sparse.linalg import splu

    grid, faces = problem.grid, problem.faces
    n, speed = grid.n_cells, problem.scales.velocity
    size = float(np.ptp(grid.centre[mine], axis=0).max()) + 1e-300
    hindering = properties.density * speed / size
    moving = np.zeros((n, grid.dimensions))
    force = np.zeros_like(moving)
    for one in problem.internals:
        if isinstance(one, Drag):
            moving[one.cells] = speed[one.cells][:, None] * one.axes[0]
            hindering[one.cells] += one.coefficients(moving, properties.density, properties.viscosity).max(axis=1)
        else:
            force[one.cells] = max(one.rise(0.0), *one.given.curve.value) / one.given.thickness * one.direction
    inner = np.nonzero((faces.kind == FLOW) & mine[faces.owner])[0]
    outer = np.nonzero((faces.kind == OUTLET) & mine[faces.owner])[0]
    a, b, c = faces.owner[inner], faces.neighbour[inner], faces.owner[outer]
    between = faces.area[inner] / (faces.near[inner] * hindering[a] + faces.far[inner] * hindering[b])
    beyond = faces.area[outer] / (faces.near[outer] * hindering[c])
    along = np.einsum("ij,ij->i", force[a], faces.reach_owner[inner])
    along -= np.einsum("ij,ij->i", force[b], faces.reach_neighbour[inner])
    to_outside = np.einsum("ij,ij->i", force[c], faces.reach_owner[outer])
    diagonal = np.bincount(a, between, n) + np.bincount(b, between, n) + np.bincount(c, beyond, n)
    if not outer.size:
        # Nothing holds the level of a pressure that is shut in.
        diagonal[np.nonzero(mine)[0][0]] *= 2.0
    diagonal[~mine] = 1.0
    right = np.bincount(b, between * along, n) - np.bincount(a, between * along, n)
    right -= np.bincount(c, beyond * (to_outside - problem.given.pressure[outer]), n)
    rows, columns = np.concatenate([np.arange(n), a, b]), np.concatenate([np.arange(n), b, a])
    matrix = coo_matrix((np.concatenate([diagonal, -between, -between]), (rows, columns)), shape=(n, n))
    pressure = splu(matrix.tocsc()).solve(np.where(mine, right, 0.0))
    through = between * (pressure[a] - pressure[b] + along)
    outward = beyond * (pressure[c] - problem.given.pressure[outer] + to_outside)
    # ∫ u dV = ∮ (x - x_P) u·n dA where nothing comes about.
    velocity = np.zeros((n, grid.dimensions))
    np.add.at(velocity, a, through[:, None] * faces.reach_owner[inner])
    np.add.at(velocity, b, -through[:, None] * faces.reach_neighbour[inner])
    np.add.at(velocity, c, outward[:, None] * faces.reach_owner[outer])
    return np.asarray(velocity / grid.volume[:, None])


def _as_fast_as_it_can(problem: Problem, properties: Properties, mine: NDArray[np.bool_], unit: Array) -> Array:
    """The flow at which what fans give is lost: to drag, and to the speed it leaves at, or passes fans at where it goes round."""
    faces = problem.faces
    density = properties.density
    fans = [fan for fan in problem.fans if mine[fan.cells[0]]]
    drags = [one for one in problem.internals if isinstance(one, Drag) and mine[one.cells[0]]]
    outer = np.nonzero((faces.kind == OUTLET) & mine[faces.owner])[0]
    owner = faces.owner[outer]
    across = np.maximum(np.einsum("ij,ij->i", unit[owner], faces.normal[outer]), 0.0)
    flows = np.array([fan.flow(unit) for fan in fans])
    if outer.size:
        heads = float((0.5 * density[owner] * faces.area[outer] * across**3).sum())
    else:
        heavy = np.array([0.5 * float(density[fan.cells].mean()) / fan.area**2 for fan in fans])
        heads = float(heavy @ np.abs(flows) ** 3)

    def gained(times: float) -> float:
        given = sum(times * flow * fan.rise(times * flow) for fan, flow in zip(fans, flows, strict=True))
        moving = times * unit
        lost = heads * times**3
        for one in drags:
            along = moving[one.cells] @ one.axes.T
            coefficients = one.coefficients(moving, density, properties.viscosity)
            lost += float(one.volume @ (coefficients * along**2).sum(axis=1))
        return float(given - lost)

    fastest = max(float(np.abs(flow) / fan.area) for flow, fan in zip(flows, fans, strict=True))
    if fastest <= 0.0:
        return np.zeros_like(unit)
    most = float(problem.scales.velocity[mine].max()) / fastest
    low, high = _LEAST * most, most
    if gained(high) < 0.0:
        for _ in range(_HALVINGS):
            middle = np.sqrt(low * high)
            low, high = (middle, high) if gained(middle) > 0.0 else (low, middle)
    return np.asarray(high * unit)
