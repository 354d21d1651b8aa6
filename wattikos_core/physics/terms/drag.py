"""Drag of what stands in a stream: resistances across it and porous parts, Darcy and Forchheimer.

The force enters the balances with the pressure (see `terms.pressure`), so that pressure falls by what it is over the thickness of
the part, however thin, and nowhere else. Between two cells of the part the force on each is its own: pressure alone would see the
mean of both, and velocities that alternate from cell to cell would feel no drag.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import FLOW, Array, Faces, Index
from wattikos_core.physics.internals import Drag
from wattikos_core.physics.properties import Properties
from wattikos_core.physics.state import State
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns


@dataclass(frozen=True)
class DragForce(Term):
    """See above.

    Attributes:
        parts: with drag.
        inside: faces between two cells of the same one, shape (n,).
    """

    parts: tuple[Drag, ...]
    inside: Index

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(row, column) for row in unknowns.velocity for column in unknowns.velocity]

    @override
    def add_force(self, state: State, properties: Properties, cells: Cells, force: Array) -> None:
        for part in self.parts:
            force[part.cells] += part.force(state.velocity, properties.density, properties.viscosity)

    @override
    def forced_by(self, unknowns: Unknowns) -> tuple[int, ...]:
        return unknowns.velocity

    @override
    def add_force_slopes(self, point: Point, slopes: Array) -> None:
        for part, by_velocity in self._slopes(point):
            for column in point.problem.unknowns.velocity:
                slopes[part.cells, column, :] += by_velocity[:, :, column]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        force = np.zeros_like(point.state.velocity)
        self.add_force(point.state, point.properties, point.problem.cells, force)
        _on_its_own(point.problem.faces, self.inside, force, out.residual)

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        d = point.problem.unknowns.dimensions
        slopes = np.zeros((point.problem.grid.n_cells, d, d))
        for part, by_velocity in self._slopes(point):
            slopes[part.cells] = by_velocity
        _on_its_own_slopes(point.problem.faces, self.inside, slopes, out.diagonal, out.off)

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        for part in self.parts:
            properties = point.properties
            coefficients = part.coefficients(point.state.velocity, properties.density, properties.viscosity)
            out.momentum[part.cells] += part.volume * coefficients.max(axis=1)

    def _slopes(self, point: Point) -> Iterable[tuple[Drag, Array]]:
        for part in self.parts:
            yield part, part.slopes(point.state.velocity, point.properties.density, point.properties.viscosity)


@dataclass(frozen=True)
class DragHeat(Term):
    """What the stream loses to drag warms it, where friction heat is followed."""

    of_energy = True

    parts: tuple[Drag, ...]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        velocity, properties = point.state.velocity, point.properties
        for part in self.parts:
            force = part.force(velocity, properties.density, properties.viscosity)
            heat = -part.volume * np.einsum("ni,ni->n", force, velocity[part.cells])
            out.dissipation[part.cells] += heat
            out.energy[part.cells] -= heat


def faces_inside(faces: Faces, region: Index, parts: Iterable[Drag]) -> Index:
    """Faces that fluid passes between two cells of the same part, from the region of each cell."""
    a, b = faces.owner, np.where(faces.neighbour >= 0, faces.neighbour, faces.owner)
    dragged = np.isin(region[a], [part.region for part in parts])
    return np.nonzero((faces.kind == FLOW) & dragged & (region[a] == region[b]))[0]


@njit(cache=True, error_model="numpy", nogil=True)
def _on_its_own(faces: Faces, inside: Index, force: Array, residual: Array) -> None:
    for f in inside:
        a, b = faces.owner[f], faces.neighbour[f]
        between = 0.0
        for x in range(len(faces.axes)):
            between += (force[b, x] - force[a, x]) * faces.normal[f, x]
        between *= faces.area[f] * faces.near[f] * faces.far[f] / (faces.near[f] + faces.far[f])
        for x in range(len(faces.axes)):
            residual[a, x] += between * faces.normal[f, x]
            residual[b, x] -= between * faces.normal[f, x]


@njit(cache=True, error_model="numpy", nogil=True)
def _on_its_own_slopes(faces: Faces, inside: Index, slopes: Array, diagonal: Array, off: Array) -> None:
    for f in inside:
        a, b = faces.owner[f], faces.neighbour[f]
        lever = faces.area[f] * faces.near[f] * faces.far[f] / (faces.near[f] + faces.far[f])
        for y in range(len(faces.axes)):
            by_a = by_b = 0.0
            for i in range(len(faces.axes)):
                by_a += faces.normal[f, i] * slopes[a, i, y]
                by_b += faces.normal[f, i] * slopes[b, i, y]
            for x in range(len(faces.axes)):
                way = lever * faces.normal[f, x]
                diagonal[a, x, y] -= way * by_a
                off[f, 0, x, y] += way * by_b
                diagonal[b, x, y] -= way * by_b
                off[f, 1, x, y] += way * by_a
