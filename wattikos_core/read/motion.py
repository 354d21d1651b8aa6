"""What turns, what rubs, what melts and what rises: torques, friction heat, stores and Rayleigh numbers."""

from __future__ import annotations

import numpy as np

from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import INTERFACE, WALL, Array, Index
from wattikos_core.physics.gradients import gradients
from wattikos_core.physics.properties import Properties, body_force, liquid_fractions
from wattikos_core.solve import State
from wattikos_core.solve.iterate import properties_of


def motion_quantities(problem: Problem, evaluation: Evaluation, state: State) -> dict[str, float]:
    """Ledger quantities of moving surfaces, friction, melting and weight by name, SI; see `definition_of`."""
    values = _turning(problem, evaluation, state)
    grid, cells = problem.grid, problem.cells
    liquid = liquid_fractions(cells, problem.tables, state.t)
    for index, name in enumerate(grid.region_names):
        mine = grid.region == index
        if problem.forces.heating == 1 and cells.fluid[mine].any():
            values[f"friction heat in {name}"] = float(evaluation.dissipation[mine].sum())
        if problem.materials[index].melting is not None:
            values[f"liquid fraction of {name}"] = float(np.average(liquid[mine], weights=grid.volume[mine]))
        if problem.physics.heavy and cells.fluid[mine].any():
            rayleigh = rayleigh_number(problem, evaluation, index)
            if rayleigh > 0.0:
                values[f"Rayleigh number of {name}"] = rayleigh
    charge = problem.forces.charge
    if charge.any():
        filling = properties_of(problem, state).filling
        for index, name in enumerate(grid.region_names):
            mine = (grid.region == index) & (problem.body >= 0)
            if mine.any() and charge[problem.body[mine][0]] > 0.0:
                values[f"pressure in {name}"] = float(filling[mine][0]) * problem.materials[index].pressure
    return values


def rayleigh_number(problem: Problem, evaluation: Evaluation, index: int) -> float:
    """Rayleigh number of a fluid part: of the temperatures on its surfaces, on its height along gravity."""
    grid = problem.grid
    touching = _touching(problem, index)
    surface = np.where(grid.region[grid.owner] == index, evaluation.face_temperature, evaluation.beyond_temperature)[touching]
    if surface.size == 0:
        return 0.0
    low, high = float(surface.min()), float(surface.max())
    gravity = np.asarray(problem.physics.gravity)
    pull = float(np.hypot(*gravity))
    nodes = grid.nodes[np.unique(grid.face_nodes[touching])]
    height = float(np.ptp(nodes @ gravity)) / pull
    table = problem.materials[index]
    melting = table.melting
    if melting is not None:
        low, high = max(low, melting.ends), max(high, melting.ends)
    middle = 0.5 * (low + high)
    density = float(table.density(middle))
    spread = float(np.ptp(table.heavy_density(np.linspace(low, high, 9)))) / density
    viscous = float(table.viscosity(middle)) / density
    thermal = float(table.conductivity(middle)) / (density * float(table.specific_heat(middle)))
    return pull * spread * height**3 / (viscous * thermal)


def _touching(problem: Problem, index: int) -> Index:
    """Walls and interfaces of a region."""
    grid = problem.grid
    wall = np.isin(problem.faces.kind, (WALL, INTERFACE))
    beyond = np.where(grid.neighbour >= 0, grid.region[np.maximum(grid.neighbour, 0)], -1)
    return np.nonzero(wall & ((grid.region[grid.owner] == index) | (beyond == index)))[0]


def _turning(problem: Problem, evaluation: Evaluation, state: State) -> dict[str, float]:
    """Torque and power of surfaces that turn, and force and power of those that slide."""
    grid, faces = problem.grid, problem.faces
    values: dict[str, float] = {}
    shear: Array | None = None
    for name, group in grid.groups.items():
        if faces.kind[group[0]] not in (WALL, INTERFACE):
            continue
        if problem.forces.swirl == 1:
            onto = float(evaluation.torque[group].sum())
            turning = float(faces.spin[group[0]])
            wet = problem.cells.fluid[grid.owner[group[0]]] == 1
            torque = onto if wet else -onto
            if torque != 0.0:
                values[f"torque on {name}"] = torque
            if turning != 0.0:
                values[f"power to turn {name}"] = -torque * turning
        elif faces.velocity[group].any():
            if shear is None:
                shear = _shear(problem, state)
            force = shear[group]
            power = -float((force * faces.velocity[group]).sum())
            centre = grid.nodes[np.unique(grid.face_nodes[group])].mean(axis=0)
            arm = grid.face_centre[group] - centre
            turned = arm[:, 0] * faces.velocity[group][:, 1] - arm[:, 1] * faces.velocity[group][:, 0]
            if np.all(turned > 0.0) or np.all(turned < 0.0):
                values[f"torque on {name}"] = float((arm[:, 0] * force[:, 1] - arm[:, 1] * force[:, 0]).sum())
                values[f"power to turn {name}"] = power
            else:
                values[f"power to slide {name}"] = power
    return values


def _shear(problem: Problem, state: State) -> Array:
    """Friction of the fluid on every wall and interface, N, shape (n_faces, 2)."""
    grid, faces = problem.grid, problem.faces
    properties: Properties = properties_of(problem, state)
    force = body_force(problem.cells, problem.forces, properties, state.spin)
    gradient = gradients(faces, problem.forces, state.u, state.v, state.p, state.spin, properties, *force, problem.passes)
    onto = np.zeros((grid.n_faces, 2))
    sides = ((grid.owner, faces.near, faces.shift_owner, 1.0), (grid.neighbour, faces.far, faces.shift_neighbour, -1.0))
    for cells, gap, shift, outward in sides:
        wet = np.isin(faces.kind, (WALL, INTERFACE)) & (cells >= 0) & (problem.cells.fluid[np.maximum(cells, 0)] == 1)
        f = np.nonzero(wet)[0]
        c = cells[f]
        moving = ((state.u, gradient.u), (state.v, gradient.v))
        at_foot = np.stack([x[c] + np.einsum("ij,ij->i", g[c], shift[f]) for x, g in moving], axis=1)
        strength = properties.viscosity[c] * faces.area[f]
        onto[f] += (strength / gap[f])[:, None] * (at_foot - faces.velocity[f])
        # Along a wall that turns its velocity turns too: the transposed part of the stress, n·∂u/∂s, is there as well.
        normal = outward * faces.normal[f]
        along = np.stack([-normal[:, 1], normal[:, 0]], axis=1)
        slope = np.einsum("ij,ij->i", gradient.u[c], along) * normal[:, 0]
        slope += np.einsum("ij,ij->i", gradient.v[c], along) * normal[:, 1]
        onto[f] -= (strength * slope)[:, None] * along
    return onto
