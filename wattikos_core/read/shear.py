"""Friction on walls: how strong it is, and where the flow leaves a wall and comes back to it."""

from __future__ import annotations

import numpy as np

from wattikos_core.ledger import Key
from wattikos_core.physics import Point, Problem
from wattikos_core.physics.faces import INTERFACE, WALL, Array, Index

# A wall runs along its stream when its faces do by this share, on the mean.
_ALONG = 0.5


def friction_on_walls(point: Point) -> Array:
    """Friction of the fluid on every wall and interface, N, shape (n_faces, 2)."""
    problem, velocity = point.problem, point.state.velocity
    grid, faces = problem.grid, problem.faces
    onto = np.zeros((grid.n_faces, 2))
    angular_velocity = angular_velocity_of_walls(problem)
    stirred = point.turbulence.stir_owner.size > 0
    nothing = np.zeros(grid.n_faces)
    stir_owner = point.turbulence.stir_owner if stirred else nothing
    stir_neighbour = point.turbulence.stir_neighbour if stirred else nothing
    sides = (
        (grid.owner, faces.near, faces.shift_owner, stir_owner, 1.0),
        (grid.neighbour, faces.far, faces.shift_neighbour, stir_neighbour, -1.0),
    )
    for cells, gap, shift, stir, outward in sides:
        wet = np.isin(faces.kind, (WALL, INTERFACE)) & (cells >= 0) & (problem.cells.fluid[np.maximum(cells, 0)] == 1)
        f = np.nonzero(wet)[0]
        c = cells[f]
        at_foot = velocity[c] + np.einsum("nij,nj->ni", point.gradients.velocity[c], shift[f])
        strength = (point.properties.viscosity[c] + stir[f]) * faces.area[f]
        onto[f] += (strength / gap[f])[:, None] * (at_foot - problem.given.velocity[f])
        # Along a wall that turns its velocity turns too: the transposed part of the stress, n·∂u/∂s, is there as well. It is that
        # of the wall itself, minus its angular velocity, not that of the cell beside it.
        normal = outward * faces.normal[f]
        along = np.stack([-normal[:, 1], normal[:, 0]], axis=1)
        onto[f] += (strength * angular_velocity[f])[:, None] * along
    return onto


def angular_velocity_of_walls(problem: Problem) -> Array:
    """Angular velocity of each wall (rad/s, anticlockwise), shape (n_faces,): that of a rigid motion, by regression."""
    faces, grid = problem.faces, problem.grid
    angular_velocity = np.zeros(grid.n_faces)
    for group in grid.groups.values():
        velocity = problem.given.velocity[group]
        if faces.kind[group[0]] not in (WALL, INTERFACE) or not velocity.any():
            continue
        arm, relative = grid.face_centre[group] - grid.face_centre[group].mean(axis=0), velocity - velocity.mean(axis=0)
        square = float((arm**2).sum())
        if square > 0.0:
            angular_velocity[group] = float((arm[:, 0] * relative[:, 1] - arm[:, 1] * relative[:, 0]).sum()) / square
    return angular_velocity


def shear_along(problem: Problem, friction: Array, group: Index, ahead: Array, name: str) -> dict[Key, float]:
    """Shear on a wall that runs along a stream, and where its sign changes; nothing for a wall across it.

    Args:
        problem: the discrete problem.
        friction: of all faces, N.
        group: faces of the wall.
        ahead: direction of the stream.
        name: of the wall, for the ledger.
    """
    along = _tangents(problem, group, ahead)
    if float(np.average(np.abs(along @ ahead), weights=problem.faces.area[group])) < _ALONG:
        return {}
    shear = np.einsum("ij,ij->i", friction[group], along) / problem.faces.area[group]
    order = np.argsort(problem.grid.face_centre[group] @ ahead, kind="stable")
    length = _lengths(problem, group)[order]
    place = np.cumsum(length) - 0.5 * length
    values = {
        Key("mean_shear", name): float(np.average(shear, weights=problem.faces.area[group])),
        Key("highest_shear", name): float(np.abs(shear).max()),
    }
    leaves, returns = _changes(place, shear[order])
    if leaves.size:
        values[Key("separation", name)] = float(leaves[0])
    if returns.size:
        values[Key("reattachment", name)] = float(returns[-1])
    return values


def separation_angle(problem: Problem, friction: Array, group: Index, ahead: Array, body: str) -> dict[Key, float]:
    """Shear on a body all round in a stream, and the angle from its front at which the flow leaves it, the mean of both sides."""
    centre = problem.grid.face_centre[group]
    nodes = problem.grid.nodes[np.unique(problem.grid.edges[group])]
    reach = nodes @ ahead
    middle = 0.5 * (nodes[int(np.argmin(reach))] + nodes[int(np.argmax(reach))])
    arm = centre - middle
    side = ahead[0] * arm[:, 1] - ahead[1] * arm[:, 0]
    angle = np.arctan2(np.abs(side), -(arm @ ahead))
    along = _tangents(problem, group, ahead)
    # From the front to the rear on both sides, also where the surface faces the stream.
    around = np.sign(side)[:, None] * np.stack([arm[:, 1], -arm[:, 0]], axis=1)
    along = np.where((np.einsum("ij,ij->i", along, around) < 0.0)[:, None], -along, along)
    shear = np.einsum("ij,ij->i", friction[group], along) / problem.faces.area[group]
    found = []
    for mine in (side > 0.0, side < 0.0):
        order = np.argsort(angle[mine])
        leaves, _ = _changes(angle[mine][order], shear[mine][order])
        if leaves.size:
            found.append(float(leaves[0]))
    values = {Key("highest_shear", body): float(np.abs(shear).max())}
    if found:
        values[Key("separation_angle", body)] = float(np.mean(found))
    return values


def _tangents(problem: Problem, group: Index, ahead: Array) -> Array:
    """Unit vectors along faces, as far as possible in the direction of a stream, shape (n, 2)."""
    normal = problem.faces.normal[group]
    along = np.stack([-normal[:, 1], normal[:, 0]], axis=1)
    return np.asarray(np.where((along @ ahead < 0.0)[:, None], -along, along))


def _lengths(problem: Problem, group: Index) -> Array:
    """Lengths of faces in the section, m."""
    ends = problem.grid.nodes[problem.grid.edges[group]]
    return np.asarray(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1))


def _changes(place: Array, shear: Array) -> tuple[Array, Array]:
    """Where shear turns against the stream, and where it turns with it again, linear in between."""
    before, after = shear[:-1], shear[1:]
    crossing = place[:-1] + np.diff(place) * before / np.where(before == after, 1.0, before - after)
    return crossing[(before > 0.0) & (after < 0.0)], crossing[(before < 0.0) & (after > 0.0)]
