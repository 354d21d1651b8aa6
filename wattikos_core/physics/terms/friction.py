"""Friction: viscous stresses in the balances of momentum, and their moment about the axis in that of angular momentum.

Between cells they pass between the feet of their centres (see `physics.schemes`), with the two cells' resistances in series.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import FLOW, INLET, OUTLET, SOLID, SYMMETRY, Array, Faces, Index
from wattikos_core.physics.gradients import across_face
from wattikos_core.physics.properties import VISCOSITY, Tables, property_at
from wattikos_core.physics.schemes import neighbour_foot, owner_foot
from wattikos_core.physics.terms.convection import Levers
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.turbulence.closure import Turbulence
from wattikos_core.physics.unknowns import Unknowns

_NONE = np.zeros(0)
# Temperature over which the derivative of the viscosity is taken, K.
_STEP = 1e-3


class ViscousStress(Term):
    """Friction between cells, at walls, inlets and planes of symmetry; with what varying viscosity and an axis add."""

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(i, j) for i in unknowns.velocity for j in unknowns.velocity]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, state, properties = point.problem, point.state, point.properties
        faces, velocity = problem.faces, state.velocity
        _diffuse(
            faces,
            problem.cells.fluid,
            problem.unknowns.velocity,
            _NONE,
            properties.viscosity,
            point.turbulence,
            velocity,
            point.gradients.velocity,
            problem.given.velocity,
            properties.filling,
            out.residual,
            _NONE,
        )
        _at_symmetry(faces, problem.cells.fluid, properties.viscosity, point.turbulence, velocity, out.residual)
        _within_cells(
            problem.cells,
            problem.tables,
            properties.viscosity,
            state.stretched,
            velocity,
            point.gradients.velocity,
            point.gradients.temperature,
            out.residual,
        )

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, viscosity, turbulence = point.problem, point.properties.viscosity, point.turbulence
        columns, fluid = problem.unknowns.velocity, problem.cells.fluid
        _diffuse_slopes(problem.faces, fluid, columns, _NONE, viscosity, turbulence, out.diagonal, out.off)
        _at_symmetry_slopes(problem.faces, fluid, viscosity, turbulence, out.diagonal)
        if problem.grid.axisymmetric:
            radial = problem.unknowns.velocity[1]
            out.diagonal[:, radial, radial] += _hoop(problem.cells, viscosity)

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        problem = point.problem
        _conductances(problem.faces, problem.cells.fluid, point.properties.viscosity, point.turbulence, out.momentum)
        if problem.grid.axisymmetric:
            out.momentum += _hoop(problem.cells, point.properties.viscosity)


@dataclass(frozen=True)
class SwirlFriction(Term):
    """The moment of friction μ r² ∂ω/∂n."""

    levers: Levers

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(unknowns.angular_velocity[0],) * 2]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem = point.problem
        _diffuse(
            problem.faces,
            problem.cells.fluid,
            problem.unknowns.angular_velocity,
            self.levers.faces,
            point.properties.viscosity,
            point.turbulence,
            point.state.angular_velocity[:, None],
            point.gradients.angular_velocity,
            problem.given.angular_velocity[:, None],
            _NONE,
            out.residual,
            out.torque,
        )

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem = point.problem
        columns, viscosity = problem.unknowns.angular_velocity, point.properties.viscosity
        _diffuse_slopes(
            problem.faces, problem.cells.fluid, columns, self.levers.faces, viscosity, point.turbulence, out.diagonal, out.off
        )


def _hoop(cells: Cells, viscosity: Array) -> Array:
    """What the radial velocity is held back by since it goes round the axis: V μ / r², kg/s."""
    square = np.where((cells.fluid == 1) & (cells.radius > 0.0), cells.radius, np.inf) ** 2
    return np.asarray(cells.volume * viscosity / square)


@njit(cache=True, error_model="numpy", inline="always")
def _stirred(c: int, f: int, viscosity: Array, stir: Array) -> float:
    """Viscosity of a cell at a face, with what turbulence adds on the cell's side of it.

    It takes the one array it needs: with a tuple of many handed on, each face counts references to all of them, which took ten
    times as long as everything else here.
    """
    return float(viscosity[c] + (stir[f] if stir.size else 0.0))


@njit(cache=True, error_model="numpy", nogil=True)
def _diffuse(
    faces: Faces,
    fluid: Index,
    columns: tuple[int, ...],
    levers: Array,
    viscosity: Array,
    turbulence: Turbulence,
    values: Array,
    gradients: Array,
    given: Array,
    slower: Array,
    residual: Array,
    passing: Array,
) -> None:
    """Friction of `values` (n_cells, k) between cells and against what walls and inlets are `given`, (n_faces, k).

    Args:
        faces: geometry of faces.
        fluid: 1 in cells whose fluid moves.
        columns: of the balances they belong to.
        levers: what values are multiplied by on faces; empty for none.
        viscosity: of cells, Pa s.
        turbulence: what is added to it on faces.
        values: in cells, shape (n_cells, k).
        gradients: of the values, shape (n_cells, k, d).
        given: what conditions give on faces.
        slower: by what values at inlets are divided; empty for none.
        residual: array that it is added to.
        passing: what passes faces from the owner, of the first value; not written where it is empty.
    """
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == SOLID or kind == OUTLET or kind == SYMMETRY:
            continue
        area = faces.area[f] * (levers[f] if levers.size else 1.0)
        if kind == FLOW:
            conductance = area / (
                faces.near[f] / _stirred(a, f, viscosity, turbulence.stir_owner)
                + faces.far[f] / _stirred(b, f, viscosity, turbulence.stir_neighbour)
            )
            for i in range(len(columns)):
                at_a = owner_foot(faces, f, a, i, values, gradients)
                at_b = neighbour_foot(faces, f, b, i, values, gradients)
                through = conductance * (at_a - at_b)
                residual[a, columns[i]] += through
                residual[b, columns[i]] -= through
                if passing.size:
                    passing[f] = through
            continue
        if fluid[a] == 1:
            share = 1.0 / slower[a] if kind == INLET and slower.size else 1.0
            conductance = area * _stirred(a, f, viscosity, turbulence.stir_owner) / faces.near[f]
            for i in range(len(columns)):
                through = conductance * (owner_foot(faces, f, a, i, values, gradients) - given[f, i] * share)
                residual[a, columns[i]] += through
                if passing.size:
                    passing[f] += through
        if b >= 0 and fluid[b] == 1:
            conductance = area * _stirred(b, f, viscosity, turbulence.stir_neighbour) / faces.far[f]
            for i in range(len(columns)):
                through = conductance * (neighbour_foot(faces, f, b, i, values, gradients) - given[f, i])
                residual[b, columns[i]] += through
                if passing.size:
                    passing[f] -= through


@njit(cache=True, error_model="numpy", nogil=True)
def _diffuse_slopes(
    faces: Faces,
    fluid: Index,
    columns: tuple[int, ...],
    levers: Array,
    viscosity: Array,
    turbulence: Turbulence,
    diagonal: Array,
    off: Array,
) -> None:
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == SOLID or kind == OUTLET or kind == SYMMETRY:
            continue
        area = faces.area[f] * (levers[f] if levers.size else 1.0)
        if kind == FLOW:
            conductance = area / (
                faces.near[f] / _stirred(a, f, viscosity, turbulence.stir_owner)
                + faces.far[f] / _stirred(b, f, viscosity, turbulence.stir_neighbour)
            )
            for i in range(len(columns)):
                row = columns[i]
                diagonal[a, row, row] += conductance
                off[f, 0, row, row] -= conductance
                diagonal[b, row, row] += conductance
                off[f, 1, row, row] -= conductance
            continue
        for i in range(len(columns)):
            row = columns[i]
            if fluid[a] == 1:
                diagonal[a, row, row] += area * _stirred(a, f, viscosity, turbulence.stir_owner) / faces.near[f]
            if b >= 0 and fluid[b] == 1:
                diagonal[b, row, row] += area * _stirred(b, f, viscosity, turbulence.stir_neighbour) / faces.far[f]


@njit(cache=True, error_model="numpy", nogil=True)
def _conductances(faces: Faces, fluid: Index, viscosity: Array, turbulence: Turbulence, coefficient: Array) -> None:
    for f in range(faces.owner.size):
        a, b, kind = faces.owner[f], faces.neighbour[f], faces.kind[f]
        if kind == FLOW:
            conductance = faces.area[f] / (
                faces.near[f] / _stirred(a, f, viscosity, turbulence.stir_owner)
                + faces.far[f] / _stirred(b, f, viscosity, turbulence.stir_neighbour)
            )
            coefficient[a] += conductance
            coefficient[b] += conductance
        elif kind != SOLID and kind != OUTLET:
            if fluid[a] == 1:
                coefficient[a] += faces.area[f] * _stirred(a, f, viscosity, turbulence.stir_owner) / faces.near[f]
            if b >= 0 and fluid[b] == 1:
                coefficient[b] += faces.area[f] * _stirred(b, f, viscosity, turbulence.stir_neighbour) / faces.far[f]


@njit(cache=True, error_model="numpy", nogil=True)
def _at_symmetry(faces: Faces, fluid: Index, viscosity: Array, turbulence: Turbulence, velocity: Array, residual: Array) -> None:
    """Planes of symmetry hold the velocity across them at zero."""
    for f in range(faces.owner.size):
        a = faces.owner[f]
        if faces.kind[f] != SYMMETRY or fluid[a] == 0:
            continue
        stress = (
            faces.area[f] * _stirred(a, f, viscosity, turbulence.stir_owner) / faces.near[f] * across_face(faces, f, a, velocity)
        )
        for x in range(len(faces.axes)):
            residual[a, x] += stress * faces.normal[f, x]


@njit(cache=True, error_model="numpy", nogil=True)
def _at_symmetry_slopes(faces: Faces, fluid: Index, viscosity: Array, turbulence: Turbulence, diagonal: Array) -> None:
    for f in range(faces.owner.size):
        a = faces.owner[f]
        if faces.kind[f] != SYMMETRY or fluid[a] == 0:
            continue
        conductance = faces.area[f] * _stirred(a, f, viscosity, turbulence.stir_owner) / faces.near[f]
        for x in range(len(faces.axes)):
            for y in range(len(faces.axes)):
                diagonal[a, x, y] += conductance * faces.normal[f, x] * faces.normal[f, y]


@njit(cache=True, error_model="numpy", nogil=True)
def _within_cells(
    cells: Cells,
    tables: Tables,
    viscosity: Array,
    stretched: Array,
    velocity: Array,
    gradients: Array,
    temperature_gradient: Array,
    residual: Array,
) -> None:
    """The part (∇u)ᵀ·∇μ of the divergence of the stress, where viscosity varies; and what an axis holds back (see `_hoop`)."""
    d = velocity.shape[1]
    for c in range(cells.fluid.size):
        if cells.fluid[c] == 0:
            continue
        m, volume = cells.material[c], cells.volume[c]
        warmer = property_at(tables, m, VISCOSITY, stretched[c] + _STEP)
        slope = (warmer - property_at(tables, m, VISCOSITY, stretched[c] - _STEP)) / (2.0 * _STEP)
        for x in range(d):
            along = 0.0
            for y in range(d):
                along += gradients[c, y, x] * slope * temperature_gradient[c, 0, y]
            residual[c, x] -= volume * along
        if cells.radius[c] > 0.0:
            residual[c, 1] += volume * viscosity[c] * velocity[c, 1] / cells.radius[c] ** 2
