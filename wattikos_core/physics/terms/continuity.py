"""The balance of mass, and the flow through faces it is made of.

Flow through faces is by momentum interpolation, Rhie and Chow (1983, AIAA J. 21, 1525), with V/a_P from the coefficients before any
relaxation, so that the answer depends on no numerical parameter; forces on the fluid enter it and the pressure gradient in the same
way, so that a fluid at rest stays at rest.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.faces import FLOW, INLET, OUTLET, TOTAL_PRESSURE, Array, Faces, Given, Index
from wattikos_core.physics.gradients import across_face, force_between
from wattikos_core.physics.schemes import dot, neighbour_foot, owner_foot
from wattikos_core.physics.surfaces import outlet_pressure
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns

# Of a force that answers to the velocity, the gradients of the cells at a face take back this much less than what it adds between
# them: on an even grid 3/8 of 1/2 for each. Drag that holds fluid as firmly as V/a_P leaves nothing of the velocity without.
_OF_DRAG = 0.25


class Continuity(Term):
    """Σ F = 0. It comes first among the terms, since all that is carried needs its flow."""

    @override
    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        return (unknowns.pressure,)

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, state, gradients = point.problem, point.state, point.gradients
        _flow_through_faces(
            problem.faces,
            problem.given,
            point.properties.density,
            state.velocity,
            gradients.velocity,
            state.pressure,
            gradients.pressure,
            interpolation,
            point.force,
            point.heads,
            out.flow,
            out.residual,
        )
        pins = problem.pins
        if pins.size:
            level = pin_scales(pins, interpolation, point.properties.density, problem.cells.volume)
            out.residual[pins, problem.unknowns.pressure] = state.pressure[pins] * level

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem = point.problem
        _flow_slopes(
            problem.faces,
            problem.given,
            point.properties.density,
            point.state.velocity,
            interpolation,
            out.force_slopes,
            out.forced,
            np.where(np.isin(out.forced, problem.unknowns.velocity), _OF_DRAG, 1.0),
            out.flow_by_owner,
            out.flow_by_neighbour,
            out.diagonal,
            out.off,
        )


def pin_scales(pins: Index, interpolation: Array, density: Array, volume: Array) -> Array:
    """What the pressure level of cells `pins` is multiplied by where it stands in place of their balance of mass, kg/s/Pa."""
    return np.asarray(interpolation[pins] * density[pins] * volume[pins] ** (1.0 / 3.0))


@njit(cache=True, error_model="numpy", nogil=True)
def _flow_through_faces(
    faces: Faces,
    given: Given,
    density: Array,
    velocity: Array,
    velocity_gradient: Array,
    pressure: Array,
    pressure_gradient: Array,
    interpolation: Array,
    force: Array,
    heads: Array,
    flow: Array,
    residual: Array,
) -> None:
    p = len(faces.axes)
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        near, far = faces.near[f], faces.far[f]
        if kind == FLOW:
            wa, wb = far / (near + far), near / (near + far)
            rise = pressure[b] - pressure[a] - force_between(faces, f, a, b, force)
            rise += dot(faces, pressure_gradient, b, faces.shift_neighbour, f)
            rise -= dot(faces, pressure_gradient, a, faces.shift_owner, f)
            mean = slope = 0.0
            for x in range(len(faces.axes)):
                at_a = owner_foot(faces, f, a, x, velocity, velocity_gradient)
                at_b = neighbour_foot(faces, f, b, x, velocity, velocity_gradient)
                mean += (wa * at_a + wb * at_b) * faces.normal[f, x]
                slope += (wa * pressure_gradient[a, x] + wb * pressure_gradient[b, x]) * faces.normal[f, x]
            conductance = wa * interpolation[a] + wb * interpolation[b]
            rho = wa * density[a] + wb * density[b]
            flow[f] = rho * faces.area[f] * (mean - conductance * (rise / (near + far) - slope))
            residual[a, p] += flow[f]
            residual[b, p] -= flow[f]
        elif kind == INLET:
            flow[f] = given.mass_flow[f]
            residual[a, p] += flow[f]
        elif kind == OUTLET:
            across = across_face(faces, f, a, velocity)
            at_face = outlet_pressure(given, f, density[a], across) + (heads[f] if heads.size else 0.0)
            rise = at_face - pressure[a] - force_between(faces, f, a, b, force)
            rise -= dot(faces, pressure_gradient, a, faces.shift_owner, f)
            slope = dot(faces, pressure_gradient, a, faces.normal, f)
            flow[f] = density[a] * faces.area[f] * (across - interpolation[a] * (rise / near - slope))
            residual[a, p] += flow[f]


@njit(cache=True, error_model="numpy", nogil=True)
def _flow_slopes(
    faces: Faces,
    given: Given,
    density: Array,
    velocity: Array,
    interpolation: Array,
    force_slopes: Array,
    forced: Index,
    share: Array,
    by_owner: Array,
    by_neighbour: Array,
    diagonal: Array,
    off: Array,
) -> None:
    p, size = len(faces.axes), by_owner.shape[1]
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        near, far, area = faces.near[f], faces.far[f], faces.area[f]
        if kind == FLOW:
            wa, wb = far / (near + far), near / (near + far)
            rho_area = (wa * density[a] + wb * density[b]) * area
            conductance = rho_area * (wa * interpolation[a] + wb * interpolation[b]) / (near + far)
            for x in range(len(faces.axes)):
                by_owner[f, x] = rho_area * wa * faces.normal[f, x]
                by_neighbour[f, x] = rho_area * wb * faces.normal[f, x]
            by_owner[f, p], by_neighbour[f, p] = conductance, -conductance
            for i in range(forced.size):
                j = forced[i]
                by_owner[f, j] += share[i] * conductance * half_force(faces, f, a, j, force_slopes)
                by_neighbour[f, j] += share[i] * conductance * half_force(faces, f, b, j, force_slopes)
            for j in range(size):
                diagonal[a, p, j] += by_owner[f, j]
                off[f, 0, p, j] += by_neighbour[f, j]
                diagonal[b, p, j] -= by_neighbour[f, j]
                off[f, 1, p, j] -= by_owner[f, j]
        elif kind == OUTLET:
            across = across_face(faces, f, a, velocity)
            head = density[a] * across if given.fed[f] >= TOTAL_PRESSURE and across < 0.0 else 0.0
            by_velocity = density[a] * area * (1.0 + interpolation[a] * head / near)
            by_owner[f, p] = density[a] * area * interpolation[a] / near
            for x in range(len(faces.axes)):
                by_owner[f, x] = by_velocity * faces.normal[f, x]
            for i in range(forced.size):
                j = forced[i]
                by_owner[f, j] += share[i] * by_owner[f, p] * force_to_face(faces, f, a, j, force_slopes)
            for j in range(size):
                diagonal[a, p, j] += by_owner[f, j]


@njit(cache=True, error_model="numpy", inline="always")
def half_force(faces: Faces, f: int, c: int, j: int, force_slopes: Array) -> float:
    """By how much the force between two centres answers to unknown j of one of them, Pa (see `gradients.force_between`)."""
    total = 0.0
    if faces.edge[f] == 1:
        for x in range(len(faces.axes)):
            way = faces.reach_owner[f, x] if c == faces.owner[f] else -faces.reach_neighbour[f, x]
            total += force_slopes[c, j, x] * way
        return total
    for x in range(len(faces.axes)):
        total += force_slopes[c, j, x] * 0.5 * (faces.reach_owner[f, x] - faces.reach_neighbour[f, x])
    return total


@njit(cache=True, error_model="numpy", inline="always")
def force_to_face(faces: Faces, f: int, c: int, j: int, force_slopes: Array) -> float:
    """By how much the force between the owner's centre and an outer face answers to unknown j, Pa."""
    total = 0.0
    for x in range(len(faces.axes)):
        total += force_slopes[c, j, x] * faces.reach_owner[f, x]
    return total


@njit(cache=True, error_model="numpy", nogil=True)
def pressure_conductance(faces: Faces, interpolation: Array, density: Array) -> Array:
    """By how much a gradient of pressure moves mass through each face by momentum interpolation, kg/s per Pa/m."""
    found = np.zeros(faces.owner.size)
    for f in range(faces.owner.size):
        a, b = faces.owner[f], faces.neighbour[f]
        if faces.kind[f] == FLOW:
            near, far = faces.near[f], faces.far[f]
            wa, wb = far / (near + far), near / (near + far)
            found[f] = (wa * density[a] + wb * density[b]) * faces.area[f] * (wa * interpolation[a] + wb * interpolation[b])
        elif faces.kind[f] == OUTLET:
            found[f] = density[a] * faces.area[f] * interpolation[a]
    return found
