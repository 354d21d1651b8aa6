"""The balance of momentum of a solution along each axis: pressure, friction and flow through each boundary, and weight."""

from __future__ import annotations

import numpy as np

from wattikos_core.evidence.balances import Balance, Share, told_shares
from wattikos_core.physics import Evaluation, Point
from wattikos_core.physics.faces import INTERFACE, WALL, Array, Index
from wattikos_core.read.shear import friction_on_walls

_AXES = ("x", "y")
# A balance whose largest share is below this (N) is one of nothing.
_NOTHING = 1e-15


def momentum_balances(point: Point, evaluation: Evaluation) -> list[Balance]:
    """One balance for each axis along which there are forces; along the axis of axisymmetric sections only.

    Pressure is beside that of fluid at rest and, in a module, beside what falls along it, which is told as the drive. What
    remains is the error of the gradients of pressure, which are least-squares ones, and the friction across open boundaries.

    Args:
        point: the solution with its properties and gradients.
        evaluation: what passes its faces.
    """
    problem, grid = point.problem, point.problem.grid
    if not problem.cells.fluid.any() or grid.dimensions != 2:
        return []
    friction = friction_on_walls(point)
    shares: list[list[Share]] = [[], []]
    for name, faces in grid.groups.items():
        for cells, outward in ((grid.owner[faces], 1.0), (grid.neighbour[faces], -1.0)):
            if cells[0] < 0 or problem.cells.fluid[cells[0]] == 0:
                continue
            pressed = _pressed(point, evaluation, faces, cells, outward)
            carried = evaluation.flow[faces, None] * _velocity(point, faces, cells) * outward
            rubbed = friction[faces] if problem.faces.kind[faces[0]] in (WALL, INTERFACE) else np.zeros_like(pressed)
            for axis in (0, 1):
                found = (("pressure", pressed), ("friction", rubbed), ("carried", carried))
                shares[axis] += [Share(name, what, float(values[:, axis].sum())) for what, values in found]
    stored = _stored(point)
    wet = problem.cells.fluid == 1
    for index, part in enumerate(grid.region_names):
        mine = wet & (grid.region == index)
        pull = -(point.force[mine] * grid.volume[mine, None]).sum(axis=0)
        for axis in (0, 1):
            shares[axis].append(Share(part, "drive" if problem.module is not None else "weight", float(pull[axis])))
            shares[axis].append(Share(part, "stored", float(stored[mine, axis].sum())))
    axes = (0,) if grid.axisymmetric else (0, 1)
    return [
        Balance(f"momentum along {_AXES[axis]}", "force", told_shares(shares[axis]), sum(share.value for share in shares[axis]))
        for axis in axes
        if max((abs(share.value) for share in shares[axis]), default=0.0) > _NOTHING
    ]


def _pressed(point: Point, evaluation: Evaluation, faces: Index, cells: Index, outward: float) -> Array:
    """Force of the pressure on faces, N, shape (n, 2); between two fluids it is that on the side of the cells."""
    pressure = evaluation.face_pressure[faces]
    if outward < 0.0:
        slope = point.gradients.pressure + point.force
        pressure = point.state.pressure[cells] + (slope[cells] * point.problem.faces.reach_neighbour[faces]).sum(axis=1)
    normal = outward * point.problem.faces.normal[faces]
    return np.asarray(pressure[:, None] * normal * point.problem.faces.area[faces, None])


def _velocity(point: Point, faces: Index, cells: Index) -> Array:
    """Velocity of what passes faces, m/s: the one given where there is one, else that of the cells."""
    given = point.problem.given.velocity[faces]
    return np.where(np.any(given != 0.0, axis=1)[:, None], given, point.state.velocity[cells])


def _stored(point: Point) -> Array:
    """Momentum stored in cells, N, shape (n_cells, 2); zero in steady state."""
    problem = point.problem
    out = Evaluation.empty(problem.unknowns, point.properties.temperature, problem.grid.n_faces)
    if problem.storage is not None:
        problem.storage.add_residual(point, np.zeros(problem.grid.n_cells), out)
    return out.momentum
