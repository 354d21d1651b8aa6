"""Thermal dispersion: the ways through a matrix part and meet again, which spreads heat along the stream and across it.

k = ρ c |u| l (0.5 along the stream, 0.1 across it), with the speed u ahead of the matrix and the size l of its grains: Wakao and
Kaguei (1982), Heat and Mass Transfer in Packed Beds, chapter 5 (from memory). It adds to what fluid and matrix conduct at rest.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from wattikos_core.physics.faces import Array, Faces, Index
from wattikos_core.physics.internals import Drag
from wattikos_core.physics.properties import specific_heats
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns

_ALONG, _ACROSS = 0.5, 0.1


@dataclass(frozen=True)
class HeatDispersion(Term):
    """-∇·(K ∇T) between the cells of parts that mix; nothing is mixed through their ends.

    Attributes:
        inside: faces between two cells of the same part, shape (n,).
        mixing_length: of the part of each of them, m, shape (n,).
    """

    of_energy = True

    inside: Index
    mixing_length: Array

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(unknowns.temperature, unknowns.temperature)]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        a, b, way, spread = self._between(point)
        t, column = point.properties.temperature, point.problem.unknowns.temperature
        gradient, ratio = point.gradients.temperature[:, 0], point.ratio_beyond(self.inside)
        mean = 0.5 * (gradient[a] + ratio[:, None] * gradient[b])
        # Between the centres the gradient is what their temperatures say, aside of that the mean of both.
        more = (point.beyond(self.inside, t[b]) - t[a] - (mean * way).sum(axis=1)) / (way * way).sum(axis=1)
        through = -(spread * (mean + more[:, None] * way)).sum(axis=1)
        out.heat[self.inside] += through
        np.add.at(out.residual[:, column], a, through)
        np.subtract.at(out.residual[:, column], b, through / ratio)

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        a, b, conductance = self._conductances(point)
        column, ratio = point.problem.unknowns.temperature, point.ratio_beyond(self.inside)
        np.add.at(out.diagonal[:, column, column], a, conductance)
        np.add.at(out.diagonal[:, column, column], b, conductance)
        out.off[self.inside, 0, column, column] -= conductance * ratio
        out.off[self.inside, 1, column, column] -= conductance / ratio

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        a, b, conductance = self._conductances(point)
        np.add.at(out.energy, a, conductance)
        np.add.at(out.energy, b, conductance)

    def _conductances(self, point: Point) -> tuple[Index, Index, Array]:
        """The cells on both sides of the faces, and what passes for each kelvin between them, W/K."""
        a, b, way, spread = self._between(point)
        return a, b, (spread * way).sum(axis=1) / (way * way).sum(axis=1)

    def _between(self, point: Point) -> tuple[Index, Index, Array, Array]:
        """The cells on both sides of the faces, the ways between their centres (m), and A n·K (W m/K), shape (n, d)."""
        problem, properties = point.problem, point.properties
        faces, f = problem.faces, self.inside
        a, b = faces.owner[f], faces.neighbour[f]
        velocity = 0.5 * (point.state.velocity[a] + point.state.velocity[b])
        speed = np.linalg.norm(velocity, axis=1)
        heat = properties.density * specific_heats(problem.cells, problem.tables, point.state.stretched)
        mixed = 0.5 * (heat[a] + heat[b]) * self.mixing_length * faces.area[f]
        normal = faces.normal[f]
        # n·K with K = ρ c l |u| (across I + (along - across) û û).
        along = (normal * velocity).sum(axis=1) / np.maximum(speed, 1e-300)
        spread = mixed[:, None] * (_ACROSS * speed[:, None] * normal + (_ALONG - _ACROSS) * along[:, None] * velocity)
        return a, b, faces.reach_owner[f] - faces.reach_neighbour[f], spread


def dispersion_of(faces: Faces, region: Index, drags: Iterable[Drag], inside: Index) -> HeatDispersion | None:
    """The term where parts mix what passes them; `inside` are the faces within all that drags."""
    lengths = {drag.region: drag.given.mixing_length for drag in drags if drag.given.mixing_length > 0.0}
    if not lengths:
        return None
    of_face = np.array([lengths.get(int(one), 0.0) for one in region[faces.owner[inside]]])
    mine = of_face > 0.0
    return HeatDispersion(inside[mine], of_face[mine])
