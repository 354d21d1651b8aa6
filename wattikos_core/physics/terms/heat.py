"""Heat: conducted through fluids and solids in one system, over interfaces and outer surfaces, and what sources release.

Conduction passes between the feet of the two cell centres on the face's normal line, their resistances and that of a contact in
series. Where the ends of a module are joined, heat counts on either side by the size that temperature differences have there.
"""

from __future__ import annotations

from collections.abc import Iterable

from numba import njit
from typing_extensions import override

from wattikos_core.physics.faces import INTERFACE, TEMPERATURE_GIVEN, Array, Faces, Given, HeatWeights
from wattikos_core.physics.gradients import heat_foot_neighbour, heat_foot_owner
from wattikos_core.physics.properties import temperature_slopes
from wattikos_core.physics.surfaces import NextModule, of_next_module, outer_flux, surface_conductance, surface_temperature
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns


class Conduction(Term):
    """-∇·(k ∇T), with contacts, convection and radiation on surfaces."""

    of_energy = True

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(unknowns.temperature, unknowns.temperature)]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem = point.problem
        _conduct(
            problem.faces,
            problem.given,
            point.heat_weights,
            point.change,
            point.properties.temperature,
            point.properties.conductivity,
            point.gradients.temperature,
            problem.unknowns.temperature,
            out.heat,
            out.face_temperature,
            out.beyond_temperature,
            out.residual,
        )

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, properties = point.problem, point.properties
        _conduct_slopes(
            problem.faces,
            problem.given,
            point.heat_weights,
            point.change,
            properties.temperature,
            properties.conductivity,
            temperature_slopes(problem.cells, problem.tables, point.state.stretched),
            problem.unknowns.temperature,
            out.diagonal,
            out.off,
        )

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        problem, properties = point.problem, point.properties
        _conductances(problem.faces, problem.given, point.heat_weights, properties.temperature, properties.conductivity, out.energy)


class HeatSource(Term):
    """What sources release, and what stands in for a ratio of temperatures that is not found yet (see `physics.state`)."""

    of_energy = True

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem = point.problem
        out.energy[:] -= problem.source_in(point.state.periodicity) * problem.cells.volume


@njit(cache=True, error_model="numpy", nogil=True)
def _conduct(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    change: NextModule,
    temperature: Array,
    conductivity: Array,
    gradient: Array,
    column: int,
    heat: Array,
    face_temperature: Array,
    beyond_temperature: Array,
    residual: Array,
) -> None:
    for f in range(faces.owner.size):
        a, b = faces.owner[f], faces.neighbour[f]
        ta = heat_foot_owner(faces, weights, f, a, temperature, gradient)
        ka = conductivity[a] * weights.share_owner[f]
        if faces.kind[f] <= INTERFACE:
            tb, beyond = heat_foot_neighbour(faces, weights, f, b, temperature, gradient), 1.0
            if faces.joined[f] == 1:
                tb, beyond = of_next_module(change, tb), change.ratio
            kb = conductivity[b] * weights.share_neighbour[f]
            flux = (ta - tb) / (faces.near[f] / ka + given.contact[f] + faces.far[f] / kb)
            heat[f] = faces.area[f] * flux
            face_temperature[f], beyond_temperature[f] = ta - flux * faces.near[f] / ka, tb + flux * faces.far[f] / kb
            residual[b, column] -= heat[f] / beyond
        else:
            heat[f] = faces.area[f] * outer_flux(faces, given, f, ta, ka)
            if given.thermal[f] == TEMPERATURE_GIVEN:
                face_temperature[f] = given.temperature[f]
            else:
                face_temperature[f] = surface_temperature(faces, given, f, ta, ka)
        residual[a, column] += heat[f]


@njit(cache=True, error_model="numpy", inline="always")
def _conductance(faces: Faces, given: Given, weights: HeatWeights, conductivity: Array, f: int) -> float:
    """Between the two cells of an internal face, W/K."""
    a, b = faces.owner[f], faces.neighbour[f]
    resistance = faces.near[f] / (conductivity[a] * weights.share_owner[f]) + given.contact[f]
    resistance += faces.far[f] / (conductivity[b] * weights.share_neighbour[f])
    return float(faces.area[f] / resistance)


@njit(cache=True, error_model="numpy", nogil=True)
def _conduct_slopes(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    change: NextModule,
    temperature: Array,
    conductivity: Array,
    follows: Array,
    column: int,
    diagonal: Array,
    off: Array,
) -> None:
    for f in range(faces.owner.size):
        a, b = faces.owner[f], faces.neighbour[f]
        if faces.kind[f] <= INTERFACE:
            conductance = _conductance(faces, given, weights, conductivity, f)
            beyond = change.ratio if faces.joined[f] == 1 else 1.0
            diagonal[a, column, column] += conductance * follows[a]
            diagonal[b, column, column] += conductance * follows[b]
            off[f, 0, column, column] -= conductance * follows[b] * beyond
            off[f, 1, column, column] -= conductance * follows[a] / beyond
        else:
            outside = surface_conductance(faces, given, f, temperature[a], conductivity[a] * weights.share_owner[f])
            diagonal[a, column, column] += faces.area[f] * outside * follows[a]


@njit(cache=True, error_model="numpy", nogil=True)
def _conductances(
    faces: Faces, given: Given, weights: HeatWeights, temperature: Array, conductivity: Array, coefficient: Array
) -> None:
    for f in range(faces.owner.size):
        a, b = faces.owner[f], faces.neighbour[f]
        if faces.kind[f] <= INTERFACE:
            conductance = _conductance(faces, given, weights, conductivity, f)
            coefficient[a] += conductance
            coefficient[b] += conductance
        else:
            outside = surface_conductance(faces, given, f, temperature[a], conductivity[a] * weights.share_owner[f])
            coefficient[a] += faces.area[f] * outside
