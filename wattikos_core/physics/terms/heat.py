"""Heat: conducted through fluids and solids in one system, over interfaces and outer surfaces, and what sources release.

Conduction passes between the feet of the two cell centres on the face's normal line, their resistances and that of a contact in
series. Where the ends of a module are joined, heat counts on either side by the size that temperature differences have there.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.faces import INLET, INTERFACE, OUTLET, TEMPERATURE_GIVEN, Array, Faces, Given, HeatWeights
from wattikos_core.physics.gradients import heat_foot_neighbour, heat_foot_owner
from wattikos_core.physics.properties import temperature_slopes
from wattikos_core.physics.surfaces import NextModule, of_next_module, on_side, outer_flux, surface_conductance, surface_temperature
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
            point.radiation.flux,
            point.conducted.temperature,
            point.properties.conductivity,
            point.conducted.gradient,
            problem.unknowns.temperature,
            out.heat,
            out.absorbed,
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
            point.radiation.conductance,
            point.conducted.temperature,
            properties.conductivity,
            temperature_slopes(problem.cells, problem.tables, point.state.stretched),
            problem.unknowns.temperature,
            out.diagonal,
            out.off,
        )

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        problem, properties = point.problem, point.properties
        _conductances(
            problem.faces,
            problem.given,
            point.heat_weights,
            point.radiation.conductance,
            point.conducted.temperature,
            properties.conductivity,
            out.energy,
        )


def conduction_slopes(point: Point, follows: Array) -> tuple[Array, Array]:
    """How conduction answers to the temperatures of cells: each to its own (n_cells,), and across faces (n_faces, 2), W/K.

    Args:
        point: the state with what its balances have in common.
        follows: of temperatures by the unknown, shape (n_cells,).
    """
    problem = point.problem
    diagonal, off = np.zeros((problem.grid.n_cells, 1, 1)), np.zeros((problem.grid.n_faces, 2, 1, 1))
    _conduct_slopes(
        problem.faces, problem.given, point.heat_weights, point.change, point.radiation.conductance, point.conducted.temperature,
        point.properties.conductivity, follows, 0, diagonal, off,
    )  # fmt: skip
    return diagonal[:, 0, 0], off[:, :, 0, 0]


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
    radiated: Array,
    temperature: Array,
    conductivity: Array,
    gradient: Array,
    column: int,
    heat: Array,
    absorbed: Array,
    face_temperature: Array,
    beyond_temperature: Array,
    residual: Array,
) -> None:
    for f in range(faces.owner.size):
        a, b = faces.owner[f], faces.neighbour[f]
        ta = heat_foot_owner(faces, weights, f, a, temperature, gradient)
        ka = conductivity[a] * weights.share_owner[f]
        qa, qb = on_side(radiated, f, 0), on_side(radiated, f, 1)
        if qa != 0.0 or qb != 0.0:
            absorbed[f, 0], absorbed[f, 1] = faces.area[f] * qa, faces.area[f] * qb
        if faces.kind[f] <= INTERFACE:
            tb, beyond = heat_foot_neighbour(faces, weights, f, b, temperature, gradient), 1.0
            if faces.joined[f] == 1:
                tb, beyond = of_next_module(change, tb), change.ratio
            kb = conductivity[b] * weights.share_neighbour[f]
            if faces.kind[f] == INTERFACE:
                # What a surface absorbs warms it as if the foot before it were warmer.
                ta += qa * faces.near[f] / ka
                tb += qb * faces.far[f] / kb
            flux = (ta - tb) / (faces.near[f] / ka + given.contact[f] + faces.far[f] / kb)
            heat[f] = faces.area[f] * flux
            face_temperature[f], beyond_temperature[f] = ta - flux * faces.near[f] / ka, tb + flux * faces.far[f] / kb
            if faces.kind[f] == INTERFACE:
                residual[a, column] += heat[f] - absorbed[f, 0]
                residual[b, column] -= (heat[f] + absorbed[f, 1]) / beyond
            else:
                # An opening to a fluid beyond: it takes what reaches it.
                residual[a, column] += heat[f] - absorbed[f, 1]
                residual[b, column] -= heat[f] / beyond + absorbed[f, 0]
                heat[f] += absorbed[f, 0] - absorbed[f, 1]
            continue
        opening = faces.kind[f] == INLET or faces.kind[f] == OUTLET
        foot = ta if opening else ta + qa * faces.near[f] / ka
        through = faces.area[f] * outer_flux(faces, given, f, foot, ka)
        if given.thermal[f] == TEMPERATURE_GIVEN:
            face_temperature[f] = given.temperature[f]
        else:
            face_temperature[f] = surface_temperature(faces, given, f, foot, ka)
        # To the section a wall passes on what it absorbs; what reaches an opening leaves as well.
        heat[f] = through + absorbed[f, 0] if opening else through
        residual[a, column] += heat[f] - absorbed[f, 0]


@njit(cache=True, error_model="numpy", nogil=True)
def _between(near: float, far: float, contact: float, ya: float, yb: float) -> tuple[float, float, float]:
    """Between the two cells of an internal face, W/m2/K: what each loses by its own warmth, and what one has of the other's.

    Surfaces that absorb less as they are warmer stand between as conductances to something held: the chain of conductances is
    written as a two-port.

    Args:
        near: resistance between the owner's centre and the face, m2 K/W; `far` of the neighbour's, `contact` in the face.
        far: see `near`.
        contact: see `near`.
        ya: by how much less the owner's side absorbs as it is warmer, W/m2/K; `yb` the neighbour's.
        yb: see `ya`.
    """
    before = 1.0 + near * ya
    through = contact * before + near
    whole = (before + yb * through) * far + through
    seen_from_a = (ya + yb * (contact * ya + 1.0)) * far + contact * ya + 1.0
    return seen_from_a / whole, (before + yb * through) / whole, 1.0 / whole


@njit(cache=True, error_model="numpy", nogil=True)
def _outwards(
    faces: Faces, given: Given, weights: HeatWeights, radiating: Array, temperature: Array, conductivity: Array, f: int
) -> float:
    """What the cell at an outer face loses by its own warmth, W/K."""
    a = faces.owner[f]
    ka = conductivity[a] * weights.share_owner[f]
    outside = surface_conductance(faces, given, f, temperature[a], ka)
    y = on_side(radiating, f, 0)
    if y > 0.0:
        # The surface sees the cell, what it radiates to, and what is beyond it.
        inside = ka / faces.near[f]
        beyond = inside * outside / (inside - outside) if outside < inside else np.inf
        outside = inside if beyond == np.inf else inside * (y + beyond) / (inside + y + beyond)
    return float(faces.area[f] * outside)


@njit(cache=True, error_model="numpy", nogil=True)
def _conduct_slopes(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    change: NextModule,
    radiating: Array,
    temperature: Array,
    conductivity: Array,
    follows: Array,
    column: int,
    diagonal: Array,
    off: Array,
) -> None:
    for f in range(faces.owner.size):
        a, b, area = faces.owner[f], faces.neighbour[f], faces.area[f]
        if faces.kind[f] <= INTERFACE:
            near = faces.near[f] / (conductivity[a] * weights.share_owner[f])
            far = faces.far[f] / (conductivity[b] * weights.share_neighbour[f])
            of_a, of_b, between = _between(near, far, given.contact[f], on_side(radiating, f, 0), on_side(radiating, f, 1))
            beyond = change.ratio if faces.joined[f] == 1 else 1.0
            diagonal[a, column, column] += area * of_a * follows[a]
            diagonal[b, column, column] += area * of_b * follows[b]
            off[f, 0, column, column] -= area * between * follows[b] * beyond
            off[f, 1, column, column] -= area * between * follows[a] / beyond
        else:
            outside = _outwards(faces, given, weights, radiating, temperature, conductivity, f)
            diagonal[a, column, column] += outside * follows[a]


@njit(cache=True, error_model="numpy", nogil=True)
def _conductances(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    radiating: Array,
    temperature: Array,
    conductivity: Array,
    coefficient: Array,
) -> None:
    for f in range(faces.owner.size):
        a, b, area = faces.owner[f], faces.neighbour[f], faces.area[f]
        if faces.kind[f] <= INTERFACE:
            near = faces.near[f] / (conductivity[a] * weights.share_owner[f])
            far = faces.far[f] / (conductivity[b] * weights.share_neighbour[f])
            of_a, of_b, _ = _between(near, far, given.contact[f], on_side(radiating, f, 0), on_side(radiating, f, 1))
            coefficient[a] += area * of_a
            coefficient[b] += area * of_b
        else:
            coefficient[a] += _outwards(faces, given, weights, radiating, temperature, conductivity, f)
