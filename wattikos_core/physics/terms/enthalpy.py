"""The enthalpy that the flow carries along: Σ F (h_f - h_P), with temperatures on faces that leave no bounds.

What flows through partly molten cells carries the enthalpy of its liquid (see `properties.carried_at`). What passes between the
joined ends of a module is a term of its own, see `terms.between_modules`.
"""

from __future__ import annotations

from collections.abc import Iterable

from numba import njit
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import AS_IT_COMES, FLOW, INLET, OUTLET, Array, Faces, Given
from wattikos_core.physics.properties import Tables, carried_at, specific_heat_at, temperature_slopes
from wattikos_core.physics.schemes import add_by_flow, bounded, bounded_slopes, convected_shares, fromm_correction
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns


class EnthalpyConvection(Term):
    """Convection of enthalpy, by Fromm's scheme for the temperature, within what temperatures are possible in the upwind cell."""

    of_energy = True

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(unknowns.temperature, unknowns.temperature)]

    @override
    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        return (unknowns.temperature,)

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, properties = point.problem, point.properties
        _carry(
            problem.faces,
            problem.given,
            problem.cells,
            problem.tables,
            out.flow,
            properties.temperature[:, None],
            point.gradients.temperature,
            properties.carried,
            problem.blend,
            problem.unknowns.temperature,
            out.enthalpy_flow,
            out.face_temperature,
            out.residual,
        )

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, properties = point.problem, point.properties
        _carry_slopes(
            problem.faces,
            problem.given,
            problem.cells,
            problem.tables,
            flow,
            properties.temperature[:, None],
            point.gradients.temperature,
            properties.carried,
            temperature_slopes(problem.cells, problem.tables, point.state.stretched),
            problem.blend,
            problem.unknowns.temperature,
            out.flow_by_owner,
            out.flow_by_neighbour,
            out.diagonal,
            out.off,
        )

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        problem = point.problem
        _flowing_in(problem.faces, problem.cells, problem.tables, point.properties.temperature, flow, out.energy)


@njit(cache=True, error_model="numpy", nogil=True)
def _carry(
    faces: Faces,
    given: Given,
    cells: Cells,
    tables: Tables,
    flow: Array,
    temperature: Array,
    gradient: Array,
    enthalpy: Array,
    blend: float,
    column: int,
    enthalpy_flow: Array,
    face_temperature: Array,
    residual: Array,
) -> None:
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        material = cells.material[a]
        if kind == FLOW:
            if faces.joined[f] == 1:
                continue
            upwind = a if flow[f] >= 0.0 else b
            room = min(temperature[upwind, 0] - cells.low[upwind], cells.high[upwind] - temperature[upwind, 0])
            correction = fromm_correction(faces, f, a, b, flow[f], 0, temperature, gradient, blend)
            passing = carried_at(tables, material, temperature[upwind, 0] + bounded(correction, room))
            enthalpy_flow[f] = flow[f] * passing
            residual[a, column] += flow[f] * (passing - enthalpy[a])
            residual[b, column] -= flow[f] * (passing - enthalpy[b])
        elif kind == INLET:
            entering = carried_at(tables, material, given.temperature[f])
            enthalpy_flow[f] = flow[f] * entering
            residual[a, column] += flow[f] * (entering - enthalpy[a])
        elif kind == OUTLET:
            # What leaves, and what comes back in as it comes, has the state of the cell: no gradient across an outlet.
            passing = enthalpy[a]
            face_temperature[f] = temperature[a, 0]
            if given.fed[f] != AS_IT_COMES and flow[f] < 0.0:
                face_temperature[f] = given.temperature[f]
                passing = carried_at(tables, material, given.temperature[f])
                residual[a, column] += flow[f] * (passing - enthalpy[a])
            enthalpy_flow[f] = flow[f] * passing


@njit(cache=True, error_model="numpy", nogil=True)
def _carry_slopes(
    faces: Faces,
    given: Given,
    cells: Cells,
    tables: Tables,
    flow: Array,
    temperature: Array,
    gradient: Array,
    enthalpy: Array,
    follows: Array,
    blend: float,
    row: int,
    by_owner: Array,
    by_neighbour: Array,
    diagonal: Array,
    off: Array,
) -> None:
    size = by_owner.shape[1]
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        material = cells.material[a]
        if kind == FLOW:
            if faces.joined[f] == 1:
                continue
            by_a, by_b = convected_shares(faces, f, flow[f], blend)
            upwind = a if flow[f] >= 0.0 else b
            correction = fromm_correction(faces, f, a, b, flow[f], 0, temperature, gradient, blend)
            below, above = temperature[upwind, 0] - cells.low[upwind], cells.high[upwind] - temperature[upwind, 0]
            carried = temperature[upwind, 0] + bounded(correction, min(below, above))
            by_correction, by_value = bounded_slopes(correction, below, above)
            if flow[f] >= 0.0:
                by_b *= by_correction
                by_a = 1.0 - by_b + by_value
            else:
                by_a *= by_correction
                by_b = 1.0 - by_a + by_value
            passing = carried_at(tables, material, carried)
            capacity = specific_heat_at(tables, material, carried)
            per_a, per_b = flow[f] * follows[a], flow[f] * follows[b]
            diagonal[a, row, row] += per_a * (capacity * by_a - specific_heat_at(tables, material, temperature[a, 0]))
            off[f, 0, row, row] += per_b * capacity * by_b
            diagonal[b, row, row] -= per_b * (capacity * by_b - specific_heat_at(tables, cells.material[b], temperature[b, 0]))
            off[f, 1, row, row] -= per_a * capacity * by_a
            step_a, step_b = passing - enthalpy[a], passing - enthalpy[b]
            add_by_flow(f, a, b, row, step_a, step_b, by_owner, by_neighbour, diagonal, off)
        elif kind == INLET:
            diagonal[a, row, row] -= flow[f] * specific_heat_at(tables, material, temperature[a, 0]) * follows[a]
        elif kind == OUTLET and given.fed[f] != AS_IT_COMES and flow[f] < 0.0:
            diagonal[a, row, row] -= flow[f] * specific_heat_at(tables, material, temperature[a, 0]) * follows[a]
            jump = carried_at(tables, material, given.temperature[f]) - enthalpy[a]
            for j in range(size):
                diagonal[a, row, j] += jump * by_owner[f, j]


@njit(cache=True, error_model="numpy", nogil=True)
def _flowing_in(faces: Faces, cells: Cells, tables: Tables, temperature: Array, flow: Array, coefficient: Array) -> None:
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == FLOW:
            coefficient[a] += max(-flow[f], 0.0) * specific_heat_at(tables, cells.material[a], temperature[a])
            coefficient[b] += max(flow[f], 0.0) * specific_heat_at(tables, cells.material[b], temperature[b])
        elif kind == INLET:
            coefficient[a] += max(-flow[f], 0.0) * specific_heat_at(tables, cells.material[a], temperature[a])
