"""The enthalpy carried between the joined ends of a module that repeats.

What leaves at one end enters at the other as much colder or warmer as temperatures change from module to module. No bounds hold
it: which temperatures are possible in a module is not known before.
"""

from __future__ import annotations

from numba import njit
from typing_extensions import override

from wattikos_core.physics.faces import FLOW, Array, Faces, Index
from wattikos_core.physics.properties import Tables, carried_at, specific_heat_at
from wattikos_core.physics.schemes import add_by_flow, change_along, convected_shares, neighbour_foot, owner_foot
from wattikos_core.physics.surfaces import NextModule, of_module_before, of_next_module
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns


class EnthalpyBetweenModules(Term):
    """Convection of enthalpy through joined faces; properties are constant in a module, and nothing melts."""

    of_energy = True

    @override
    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        return (unknowns.temperature,)

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, properties = point.problem, point.properties
        _carry(
            problem.faces,
            problem.grid.joined,
            problem.cells.material,
            problem.tables,
            point.change,
            out.flow,
            properties.temperature[:, None],
            point.gradients.temperature,
            properties.carried,
            problem.blend,
            problem.unknowns.temperature,
            out.enthalpy_flow,
            out.residual,
        )

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, properties = point.problem, point.properties
        _carry_slopes(
            problem.faces,
            problem.grid.joined,
            problem.cells.material,
            problem.tables,
            point.change,
            flow,
            properties.temperature[:, None],
            point.gradients.temperature,
            properties.carried,
            problem.blend,
            problem.unknowns.temperature,
            out.flow_by_owner,
            out.flow_by_neighbour,
            out.diagonal,
            out.off,
        )


@njit(cache=True, error_model="numpy", nogil=True)
def _joined_correction(
    faces: Faces, change: NextModule, f: int, a: int, b: int, flow: float, values: Array, gradients: Array, blend: float
) -> float:
    """Fromm's correction between two modules, as the owner sees it."""
    at_a = owner_foot(faces, f, a, 0, values, gradients)
    at_b = of_next_module(change, neighbour_foot(faces, f, b, 0, values, gradients))
    linear = (faces.far[f] * at_a + faces.near[f] * at_b) / (faces.near[f] + faces.far[f])
    if flow >= 0.0:
        return float(blend * 0.5 * (change_along(faces, gradients, a, 0, faces.reach_owner, f) + linear - values[a, 0]))
    reach = change.ratio * change_along(faces, gradients, b, 0, faces.reach_neighbour, f)
    return float(blend * 0.5 * (reach + linear - of_next_module(change, values[b, 0])))


@njit(cache=True, error_model="numpy", nogil=True)
def _joined_value(
    faces: Faces, change: NextModule, f: int, a: int, b: int, flow: float, values: Array, gradients: Array, blend: float
) -> float:
    """Temperature that is convected between two modules, as the owner sees it."""
    upwind = values[a, 0] if flow >= 0.0 else of_next_module(change, values[b, 0])
    return float(upwind + _joined_correction(faces, change, f, a, b, flow, values, gradients, blend))


@njit(cache=True, error_model="numpy", nogil=True)
def _carry(
    faces: Faces,
    joined: Index,
    material: Index,
    tables: Tables,
    change: NextModule,
    flow: Array,
    temperature: Array,
    gradient: Array,
    enthalpy: Array,
    blend: float,
    column: int,
    enthalpy_flow: Array,
    residual: Array,
) -> None:
    for f in joined:
        if faces.kind[f] != FLOW:
            continue
        a, b = faces.owner[f], faces.neighbour[f]
        carried = _joined_value(faces, change, f, a, b, flow[f], temperature, gradient, blend)
        from_a = carried_at(tables, material[a], carried)
        into_b = carried_at(tables, material[a], of_module_before(change, carried))
        enthalpy_flow[f] = flow[f] * from_a
        residual[a, column] += flow[f] * (from_a - enthalpy[a])
        residual[b, column] -= flow[f] * (into_b - enthalpy[b])


@njit(cache=True, error_model="numpy", nogil=True)
def _carry_slopes(
    faces: Faces,
    joined: Index,
    material: Index,
    tables: Tables,
    change: NextModule,
    flow: Array,
    temperature: Array,
    gradient: Array,
    enthalpy: Array,
    blend: float,
    row: int,
    by_owner: Array,
    by_neighbour: Array,
    diagonal: Array,
    off: Array,
) -> None:
    for f in joined:
        if faces.kind[f] != FLOW:
            continue
        a, b = faces.owner[f], faces.neighbour[f]
        by_a, by_b = convected_shares(faces, f, flow[f], blend)
        carried = _joined_value(faces, change, f, a, b, flow[f], temperature, gradient, blend)
        capacity = specific_heat_at(tables, material[a], carried)
        diagonal[a, row, row] += flow[f] * (capacity * by_a - specific_heat_at(tables, material[a], temperature[a, 0]))
        off[f, 0, row, row] += flow[f] * capacity * by_b * change.ratio
        diagonal[b, row, row] -= flow[f] * (capacity * by_b - specific_heat_at(tables, material[b], temperature[b, 0]))
        off[f, 1, row, row] -= flow[f] * capacity * by_a / change.ratio
        step_a = carried_at(tables, material[a], carried) - enthalpy[a]
        step_b = carried_at(tables, material[a], of_module_before(change, carried)) - enthalpy[b]
        add_by_flow(f, a, b, row, step_a, step_b, by_owner, by_neighbour, diagonal, off)
