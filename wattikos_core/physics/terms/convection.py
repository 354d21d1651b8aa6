"""What the flow carries along: momentum, angular momentum, and further scalars. Enthalpy has a file of its own.

Σ F (φ_f - φ_P) with φ_f by Fromm's scheme; see `physics.schemes`. Angular momentum is r² ω, so that its convected value is the
angular velocity times a lever, the square of the radius of the face or of the cell.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.faces import AS_IT_COMES, FLOW, INLET, INTERFACE, OUTLET, SOLID, Array, Faces, Given, Index
from wattikos_core.physics.gradients import across_face
from wattikos_core.physics.schemes import add_by_flow, bounded, convected_shares, convected_value
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns

_NONE = np.zeros(0)


@dataclass(frozen=True)
class Levers:
    """What a value is multiplied by where it is carried, on faces and in cells; one where the arrays are empty."""

    faces: Array
    cells: Array


@dataclass(frozen=True)
class Carried:
    """Values that are convected: their columns, values, gradients, and what enters with mass through faces.

    Attributes:
        fed: whether pressure outlets through which fluid enters bring the values that enter.
        bounds: that they never leave: then no face carries less or more.
    """

    columns: tuple[int, ...]
    values: Array
    gradients: Array
    entering: Array
    # Divisor of the values at inlets; see `Properties.filling`.
    slower: Array = field(default_factory=lambda: _NONE)
    fed: bool = False
    bounds: tuple[float, float] = (-np.inf, np.inf)


class Convection(Term):
    """The part that convected values have in common."""

    levers = Levers(_NONE, _NONE)

    def what(self, point: Point) -> Carried:
        """What is carried at a point."""
        raise NotImplementedError

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, carried = point.problem, self.what(point)
        _convect(
            problem.faces,
            problem.given,
            carried.columns,
            self.levers.faces,
            self.levers.cells,
            out.flow,
            carried.values,
            carried.gradients,
            carried.entering,
            carried.slower,
            carried.fed,
            *carried.bounds,
            problem.blend,
            out.residual,
        )

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, carried = point.problem, self.what(point)
        _convect_slopes(
            problem.faces,
            problem.given,
            carried.columns,
            self.levers.faces,
            self.levers.cells,
            flow,
            carried.values,
            carried.gradients,
            carried.entering,
            carried.fed,
            problem.blend,
            out.flow_by_owner,
            out.flow_by_neighbour,
            out.diagonal,
            out.off,
        )


class MomentumConvection(Convection):
    """Convection of momentum; it gives a_P its share of what flows in.

    What a pressure drives in, or an opening lets in, crosses its boundary straight: with no velocity along it. Were that left
    to the cell behind, nothing would say which way fluid enters.
    """

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(row, column) for row in unknowns.velocity for column in unknowns.velocity]

    @override
    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        return unknowns.velocity

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        super().add_residual(point, interpolation, out)
        _enter_straight(point.problem.faces, point.problem.given, out.flow, point.state.velocity, out.residual)

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        super().add_jacobian(point, interpolation, flow, out)
        faces, given = point.problem.faces, point.problem.given
        _enter_straight_slopes(faces, given, flow, point.state.velocity, out.flow_by_owner, out.diagonal)

    @override
    def what(self, point: Point) -> Carried:
        unknowns, given = point.problem.unknowns, point.problem.given
        return Carried(unknowns.velocity, point.state.velocity, point.gradients.velocity, given.velocity, point.properties.filling)

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        _flowing_in(point.problem.faces, point.problem.given, point.problem.cells.fluid, flow, out.momentum)


@dataclass(frozen=True)
class SwirlConvection(Convection):
    """Convection of angular momentum about the axis."""

    levers: Levers

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(unknowns.angular_velocity[0],) * 2]

    @override
    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        return unknowns.angular_velocity

    @override
    def what(self, point: Point) -> Carried:
        state, given = point.state, point.problem.given
        columns = point.problem.unknowns.angular_velocity
        return Carried(columns, state.angular_velocity[:, None], point.gradients.angular_velocity, given.angular_velocity[:, None])


@njit(cache=True, error_model="numpy", nogil=True)
def _convect(
    faces: Faces,
    given: Given,
    columns: tuple[int, ...],
    face_levers: Array,
    cell_levers: Array,
    flow: Array,
    values: Array,
    gradients: Array,
    entering: Array,
    slower: Array,
    fed: bool,
    least: float,
    most: float,
    blend: float,
    residual: Array,
) -> None:
    levered, limited = face_levers.size > 0, least > -np.inf or most < np.inf
    lever = on_a = on_b = 1.0
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == SOLID or (kind != FLOW and kind != INLET and kind != OUTLET):
            continue
        if levered:
            lever, on_a = face_levers[f], cell_levers[a]
        if kind == FLOW:
            if levered:
                on_b = cell_levers[b]
            for i in range(len(columns)):
                value = lever * convected_value(faces, f, a, b, flow[f], i, values, gradients, blend)
                if limited:
                    upwind = values[a, i] if flow[f] >= 0.0 else values[b, i]
                    value = upwind + bounded(value - upwind, min(upwind - least, most - upwind))
                residual[a, columns[i]] += flow[f] * (value - on_a * values[a, i])
                residual[b, columns[i]] -= flow[f] * (value - on_b * values[b, i])
        elif kind == INLET or (fed and given.fed[f] != AS_IT_COMES and flow[f] < 0.0):
            share = 1.0 / slower[a] if slower.size else 1.0
            for i in range(len(columns)):
                residual[a, columns[i]] += flow[f] * (lever * entering[f, i] * share - on_a * values[a, i])
        elif levered:
            # What leaves has the angular velocity of its cell.
            for i in range(len(columns)):
                residual[a, columns[i]] += flow[f] * (lever - on_a) * values[a, i]


@njit(cache=True, error_model="numpy", nogil=True)
def _convect_slopes(
    faces: Faces,
    given: Given,
    columns: tuple[int, ...],
    face_levers: Array,
    cell_levers: Array,
    flow: Array,
    values: Array,
    gradients: Array,
    entering: Array,
    fed: bool,
    blend: float,
    by_owner: Array,
    by_neighbour: Array,
    diagonal: Array,
    off: Array,
) -> None:
    levered, size = face_levers.size > 0, by_owner.shape[1]
    lever = on_a = on_b = 1.0
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == SOLID or (kind != FLOW and kind != INLET and kind != OUTLET):
            continue
        if levered:
            lever, on_a = face_levers[f], cell_levers[a]
        if kind == FLOW:
            if levered:
                on_b = cell_levers[b]
            share_a, share_b = convected_shares(faces, f, flow[f], blend)
            for i in range(len(columns)):
                row = columns[i]
                value = lever * convected_value(faces, f, a, b, flow[f], i, values, gradients, blend)
                diagonal[a, row, row] += flow[f] * (lever * share_a - on_a)
                off[f, 0, row, row] += flow[f] * lever * share_b
                diagonal[b, row, row] -= flow[f] * (lever * share_b - on_b)
                off[f, 1, row, row] -= flow[f] * lever * share_a
                step_a, step_b = value - on_a * values[a, i], value - on_b * values[b, i]
                add_by_flow(f, a, b, row, step_a, step_b, by_owner, by_neighbour, diagonal, off)
        elif kind == INLET:
            for i in range(len(columns)):
                diagonal[a, columns[i], columns[i]] -= flow[f] * on_a
        elif fed and given.fed[f] != AS_IT_COMES and flow[f] < 0.0:
            for i in range(len(columns)):
                row = columns[i]
                diagonal[a, row, row] -= flow[f] * on_a
                for j in range(size):
                    diagonal[a, row, j] += (lever * entering[f, i] - on_a * values[a, i]) * by_owner[f, j]
        elif levered:
            for i in range(len(columns)):
                row = columns[i]
                diagonal[a, row, row] += flow[f] * (lever - on_a)
                for j in range(size):
                    diagonal[a, row, j] += (lever - on_a) * values[a, i] * by_owner[f, j]


@njit(cache=True, error_model="numpy", nogil=True)
def _enter_straight(faces: Faces, given: Given, flow: Array, velocity: Array, residual: Array) -> None:
    for f in range(faces.owner.size):
        if faces.kind[f] != OUTLET or given.fed[f] == AS_IT_COMES or flow[f] >= 0.0:
            continue
        a = faces.owner[f]
        across = across_face(faces, f, a, velocity)
        for x in range(len(faces.axes)):
            residual[a, x] += flow[f] * (across * faces.normal[f, x] - velocity[a, x])


@njit(cache=True, error_model="numpy", nogil=True)
def _enter_straight_slopes(faces: Faces, given: Given, flow: Array, velocity: Array, by_owner: Array, diagonal: Array) -> None:
    for f in range(faces.owner.size):
        if faces.kind[f] != OUTLET or given.fed[f] == AS_IT_COMES or flow[f] >= 0.0:
            continue
        a = faces.owner[f]
        across = across_face(faces, f, a, velocity)
        for x in range(len(faces.axes)):
            diagonal[a, x, x] -= flow[f]
            for y in range(len(faces.axes)):
                diagonal[a, x, y] += flow[f] * faces.normal[f, x] * faces.normal[f, y]
            along = across * faces.normal[f, x] - velocity[a, x]
            for j in range(by_owner.shape[1]):
                diagonal[a, x, j] += along * by_owner[f, j]


@njit(cache=True, error_model="numpy", nogil=True)
def _flowing_in(faces: Faces, given: Given, fluid: Index, flow: Array, coefficient: Array) -> None:
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == FLOW:
            coefficient[a] += max(-flow[f], 0.0)
            coefficient[b] += max(flow[f], 0.0)
        elif kind >= INTERFACE and fluid[a] == 1 and (kind != OUTLET or given.fed[f] != AS_IT_COMES):
            coefficient[a] += max(-flow[f], 0.0)
