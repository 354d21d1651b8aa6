"""The force of pressure, and of all that acts on the fluid itself: what rises between a cell and its faces."""

from __future__ import annotations

from numba import njit
from typing_extensions import override

from wattikos_core.physics.faces import FLOW, OUTLET, TOTAL_PRESSURE, Array, Faces, FlowWeights, Given, Index
from wattikos_core.physics.gradients import across_face, force_between
from wattikos_core.physics.schemes import dot
from wattikos_core.physics.surfaces import outlet_pressure
from wattikos_core.physics.terms.continuity import force_to_face, half_force
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns


class PressureForce(Term):
    """V ∇p less the force on the fluid, by what rises across faces: see `physics.faces` for the areas it is multiplied by."""

    @override
    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        # Its derivatives have the stencil of those of the flow.
        return unknowns.velocity

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, state = point.problem, point.state
        _push(
            problem.faces,
            problem.given,
            problem.flow_weights,
            point.properties.density,
            state.velocity,
            state.pressure,
            point.gradients.pressure,
            point.force,
            point.heads,
            out.face_pressure,
            out.residual,
        )

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem = point.problem
        _push_slopes(
            problem.faces,
            problem.given,
            problem.flow_weights,
            point.properties.density,
            point.state.velocity,
            out.force_slopes,
            out.forced,
            out.diagonal,
            out.off,
        )


@njit(cache=True, error_model="numpy", nogil=True)
def _push(
    faces: Faces,
    given: Given,
    weights: FlowWeights,
    density: Array,
    velocity: Array,
    pressure: Array,
    gradient: Array,
    force: Array,
    heads: Array,
    face_pressure: Array,
    residual: Array,
) -> None:
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == FLOW:
            wa, wb = faces.far[f] / (faces.near[f] + faces.far[f]), faces.near[f] / (faces.near[f] + faces.far[f])
            rise = pressure[b] - pressure[a] - force_between(faces, f, a, b, force)
            # Pressure on the face beside the line between the centres.
            aside = wa * dot(faces, gradient, a, faces.shift_owner, f) + wb * dot(faces, gradient, b, faces.shift_neighbour, f)
            aside *= faces.area[f]
            for x in range(len(faces.axes)):
                residual[a, x] += weights.push_owner[f, x] * rise + aside * faces.normal[f, x]
                residual[b, x] -= weights.push_neighbour[f, x] * rise + aside * faces.normal[f, x]
            face_pressure[f] = wa * pressure[a] + wb * pressure[b]
        elif kind == OUTLET:
            at_face = outlet_pressure(given, f, density[a], across_face(faces, f, a, velocity))
            at_face += heads[f] if heads.size else 0.0
            rise = at_face - pressure[a] - force_between(faces, f, a, b, force)
            for x in range(len(faces.axes)):
                residual[a, x] += weights.push_owner[f, x] * rise
            face_pressure[f] = at_face
        else:
            total = pressure[a]
            for x in range(len(faces.axes)):
                total += (gradient[a, x] + force[a, x]) * faces.reach_owner[f, x]
            face_pressure[f] = total


@njit(cache=True, error_model="numpy", nogil=True)
def _push_slopes(
    faces: Faces,
    given: Given,
    weights: FlowWeights,
    density: Array,
    velocity: Array,
    force_slopes: Array,
    forced: Index,
    diagonal: Array,
    off: Array,
) -> None:
    p = len(faces.axes)
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == FLOW:
            for x in range(len(faces.axes)):
                ca, cb = weights.push_owner[f, x], weights.push_neighbour[f, x]
                diagonal[a, x, p] -= ca
                off[f, 0, x, p] += ca
                diagonal[b, x, p] -= cb
                off[f, 1, x, p] += cb
            # The rise less the force between the centres, seen from both sides.
            for i in range(forced.size):
                j = forced[i]
                by_a, by_b = half_force(faces, f, a, j, force_slopes), half_force(faces, f, b, j, force_slopes)
                for x in range(len(faces.axes)):
                    diagonal[a, x, j] -= weights.push_owner[f, x] * by_a
                    off[f, 0, x, j] -= weights.push_owner[f, x] * by_b
                    diagonal[b, x, j] += weights.push_neighbour[f, x] * by_b
                    off[f, 1, x, j] += weights.push_neighbour[f, x] * by_a
        elif kind == OUTLET:
            across = across_face(faces, f, a, velocity)
            head = density[a] * across if given.fed[f] >= TOTAL_PRESSURE and across < 0.0 else 0.0
            for x in range(len(faces.axes)):
                push = weights.push_owner[f, x]
                for y in range(len(faces.axes)):
                    diagonal[a, x, y] -= push * head * faces.normal[f, y]
                diagonal[a, x, p] -= push
                for i in range(forced.size):
                    j = forced[i]
                    diagonal[a, x, j] -= push * force_to_face(faces, f, a, j, force_slopes)
