"""Quantities that fluid carries along beside momentum and heat: what each is, and the convection they have in common.

A scalar φ has a balance of its own, Σ F (φ_f - φ_P) = what diffuses, and what comes about in cells. Walls let nothing of it
through, and through inlets and outlets it passes with the flow alone.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.faces import FLOW, Array, Faces, Given
from wattikos_core.physics.schemes import neighbour_foot, owner_foot
from wattikos_core.physics.terms.convection import Carried, Convection
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point
from wattikos_core.physics.unknowns import Unknowns

_NONE = np.zeros(0)


@dataclass(frozen=True)
class Scalar(Convection):
    """One transported scalar; a subclass says what comes about in cells.

    Attributes:
        name: among the scalars of the problem's unknowns.
        entering: its value where fluid enters, SI.
        diffusivity: m2/s.
    """

    name: str
    entering: float = 0.0
    diffusivity: float = 0.0

    def released(self, point: Point) -> Array:
        """What comes about in cells, kg/s times the scalar's unit, shape (n_cells,)."""
        return np.zeros(point.state.pressure.size)

    def conducts(self, point: Point) -> tuple[Array, Array]:
        """How it diffuses, kg/(m s): in cells, and what turbulence adds on faces; each empty where it does not."""
        return (self.diffusivity * point.properties.density if self.diffusivity > 0.0 else _NONE), _NONE

    @property
    def names(self) -> tuple[str, ...]:
        """Its name, as of all terms that bring unknowns along."""
        return (self.name,)

    def entering_on(self, given: Given) -> Array:
        """Values that enter on faces, shape (n_faces, 1)."""
        return np.full((given.kind.size, 1), self.entering)

    def column(self, unknowns: Unknowns) -> int:
        """Its column among the unknowns."""
        return unknowns.transported[self.index(unknowns)]

    def index(self, unknowns: Unknowns) -> int:
        """Its number among the scalars."""
        return unknowns.scalars.index(self.name)

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(self.column(unknowns), self.column(unknowns))]

    @override
    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        return (self.column(unknowns),)

    @override
    def what(self, point: Point) -> Carried:
        unknowns = point.problem.unknowns
        mine = slice(self.index(unknowns), self.index(unknowns) + 1)
        values, gradients = point.state.scalars[:, mine], point.gradients.scalars[:, mine]
        entering = np.ascontiguousarray(point.problem.entering[:, mine])
        return Carried((self.column(unknowns),), np.ascontiguousarray(values), np.ascontiguousarray(gradients), entering, fed=True)

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        super().add_residual(point, interpolation, out)
        problem, what = point.problem, self.what(point)
        own = out.residual[:, self.column(problem.unknowns)]
        released = np.where(problem.cells.fluid == 1, self.released(point), 0.0)
        own -= released
        out.scalar_amounts[self.index(problem.unknowns)] = np.abs(released).sum()
        conductivity, stirred = self.conducts(point)
        if conductivity.size or stirred.size:
            _diffuse(problem.faces, conductivity, stirred, what.values, what.gradients, what.columns[0], out.residual)

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        super().add_jacobian(point, interpolation, flow, out)
        conductivity, stirred = self.conducts(point)
        if conductivity.size or stirred.size:
            column = self.column(point.problem.unknowns)
            _diffuse_slopes(point.problem.faces, conductivity, stirred, column, out.diagonal, out.off)


@njit(cache=True, error_model="numpy", inline="always")
def _conductance(faces: Faces, f: int, conductivity: Array, stirred: Array) -> float:
    """Between the centres on both sides of a face, kg/s."""
    more = stirred[f] if stirred.size else 0.0
    at_a = more + (conductivity[faces.owner[f]] if conductivity.size else 0.0)
    at_b = more + (conductivity[faces.neighbour[f]] if conductivity.size else 0.0)
    if at_a <= 0.0 or at_b <= 0.0:
        return 0.0
    return float(faces.area[f] / (faces.near[f] / at_a + faces.far[f] / at_b))


@njit(cache=True, error_model="numpy", nogil=True)
def _diffuse(
    faces: Faces, conductivity: Array, stirred: Array, values: Array, gradients: Array, column: int, residual: Array
) -> None:
    """Add what diffuses between cells; see `Scalar.conducts`."""
    for f in range(faces.owner.size):
        if faces.kind[f] != FLOW:
            continue
        a, b = faces.owner[f], faces.neighbour[f]
        at_a = owner_foot(faces, f, a, 0, values, gradients)
        through = _conductance(faces, f, conductivity, stirred) * (at_a - neighbour_foot(faces, f, b, 0, values, gradients))
        residual[a, column] += through
        residual[b, column] -= through


@njit(cache=True, error_model="numpy", nogil=True)
def _diffuse_slopes(faces: Faces, conductivity: Array, stirred: Array, column: int, diagonal: Array, off: Array) -> None:
    """Add how that answers to both cells."""
    for f in range(faces.owner.size):
        if faces.kind[f] != FLOW:
            continue
        a, b = faces.owner[f], faces.neighbour[f]
        conductance = _conductance(faces, f, conductivity, stirred)
        diagonal[a, column, column] += conductance
        diagonal[b, column, column] += conductance
        off[f, 0, column, column] -= conductance
        off[f, 1, column, column] -= conductance
