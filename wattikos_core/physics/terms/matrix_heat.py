"""A matrix with a temperature of its own: what it exchanges with the fluid in it, conducts, stores and releases.

The unknown is by how much the matrix is warmer than its fluid, θ = T_s - T, zero outside such parts:

    d/dt[(1 - ε) ρ_s h_s(T_s)] - ∇·(K_s ∇T_s) + h_v θ = q

The balance of energy stays that of fluid and matrix together; both conduct side by side what T* = T + r θ would, with the share r
of the matrix in what they conduct (`physics.balances`). Volume-averaged equations: Nield and Bejan (2017), Convection in Porous
Media, chapter 2 (from memory). Walls that are as warm as something warm both; of a flux each takes its share; where the matrix ends
in open fluid it passes nothing on. Eddies are no wider than its pores: what they mix is dispersion (`terms.dispersion`).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from typing_extensions import override

from wattikos_core.internals import ResolvedDrag
from wattikos_core.physics.faces import FLOW, INLET, INTERFACE, OUTLET, TEMPERATURE_GIVEN, Array, Faces, Given, Index
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.internals import Drag
from wattikos_core.physics.properties import temperature_slopes
from wattikos_core.physics.scales import spans
from wattikos_core.physics.terms.heat import conduction_slopes
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point, Term
from wattikos_core.physics.unknowns import MATRIX, Unknowns
from wattikos_core.radiation import STEFAN_BOLTZMANN


def _no_faces() -> Index:
    return np.zeros(0, dtype=np.int64)


def _no_faces_marked() -> NDArray[np.bool_]:
    return np.zeros(0, dtype=bool)


@dataclass(frozen=True)
class MatrixHeat(Term):
    """See above.

    Attributes:
        parts: whose matrix has its own temperature.
        inside: faces between two cells of the same one, shape (n,).
        ends: faces through which fluid enters or leaves them, shape (k,); there fluid alone conducts.
        walls: faces over which matrices give heat to solids or to what is outside, shape (m,); `owned` where the part's cell is
            their owner; `held` where the surface has a temperature that both take.
    """

    of_energy = True

    parts: tuple[Drag, ...] = ()
    inside: Index = field(default_factory=_no_faces)
    ends: Index = field(default_factory=_no_faces)
    walls: Index = field(default_factory=_no_faces)
    owned: NDArray[np.bool_] = field(default_factory=_no_faces_marked)
    held: NDArray[np.bool_] = field(default_factory=_no_faces_marked)

    @property
    def names(self) -> tuple[str, ...]:
        """Its name among the scalars."""
        return (MATRIX,)

    def entering_on(self, given: Given) -> Array:
        """Nothing of it enters, shape (n_faces, 1)."""
        return np.zeros((given.kind.size, 1))

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        t, own = unknowns.temperature, unknowns.matrix
        return [(own, own), (own, t), (t, own)]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        problem, own = point.problem, point.problem.unknowns.matrix
        faces, weights = problem.faces, point.heat_weights
        share, excess = problem.matrix_share(point.properties), point.state.scalars[:, problem.unknowns.scalars.index(MATRIX)]
        warm = point.properties.temperature + excess
        self._conduct_at_ends(point, share, out)
        residual = out.residual[:, own]
        residual += self._elsewhere(point) * excess
        a, b = faces.owner[self.inside], faces.neighbour[self.inside]
        conductance = self._inside_conductance(point, share)
        with np.errstate(divide="ignore", invalid="ignore"):
            # ∇T* = r ∇T_s + (1 - r) ∇T
            slope = (point.conducted.gradient[:, 0] - (1.0 - share)[:, None] * point.gradients.temperature[:, 0]) / share[:, None]
        slope = np.where(share[:, None] > 0.0, slope, 0.0)
        foot_a = warm[a] + (slope[a] * weights.shift_owner[self.inside]).sum(axis=1)
        foot_b = point.beyond(self.inside, warm[b] + (slope[b] * weights.shift_neighbour[self.inside]).sum(axis=1))
        through = conductance * (foot_a - foot_b)
        np.add.at(residual, a, through)
        np.subtract.at(residual, b, through / point.ratio_beyond(self.inside))
        cells, at_wall = self._wall_conductance(point, share)
        leaving = np.where(self.owned, out.heat[self.walls], -out.heat[self.walls])
        np.add.at(residual, cells, share[cells] * leaving + at_wall * (1.0 - share[cells]) * excess[cells])
        span = spans(problem.heat_body, point.properties.temperature, problem.scales.span)
        amount, released = 0.0, problem.source_in(point.state.periodicity) * problem.cells.volume
        for part in self.parts:
            rate = self._exchange(part, point)
            residual[part.cells] += rate * excess[part.cells] - released[part.cells]
            # What both would exchange if they were as far apart as anything is: a share of it is a share of a temperature.
            amount += float(rate @ span[part.cells])
        out.scalar_amounts[problem.unknowns.scalars.index(MATRIX)] = amount

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, faces = point.problem, point.problem.faces
        own, t = problem.unknowns.matrix, problem.unknowns.temperature
        share = problem.matrix_share(point.properties)
        follows = temperature_slopes(problem.cells, problem.tables, point.state.stretched)
        n = share.size
        out.diagonal[:, own, own] += self._elsewhere(point)
        # Energy answers to θ as it does to T, by the share of the matrix, but at the ends.
        diagonal, off = conduction_slopes(point, np.ones(n))
        a, b = faces.owner[self.ends], faces.neighbour[self.ends]
        inner = b >= 0
        both, fluid = self._end_conductances(point, np.zeros(n)), self._end_conductances(point, share)
        np.subtract.at(diagonal, a, both)
        np.subtract.at(diagonal, b[inner], both[inner])
        off[self.ends[inner], :] = 0.0
        np.add.at(out.diagonal[:, t, t], a, (fluid - both) * follows[a])
        np.add.at(out.diagonal[:, t, t], b[inner], ((fluid - both) * follows[b])[inner])
        out.off[self.ends[inner], 0, t, t] -= ((fluid - both) * follows[b])[inner]
        out.off[self.ends[inner], 1, t, t] -= ((fluid - both) * follows[a])[inner]
        out.diagonal[:, t, own] += share * diagonal
        between = np.nonzero(faces.neighbour >= 0)[0]
        out.off[between, 0, t, own] += off[between, 0] * share[faces.neighbour[between]]
        out.off[between, 1, t, own] += off[between, 1] * share[faces.owner[between]]
        a, b = faces.owner[self.inside], faces.neighbour[self.inside]
        conductance, ratio = self._inside_conductance(point, share), point.ratio_beyond(self.inside)
        for column, slope in ((own, np.ones(n)), (t, follows)):
            np.add.at(out.diagonal[:, own, column], a, conductance * slope[a])
            np.add.at(out.diagonal[:, own, column], b, conductance * slope[b])
            out.off[self.inside, 0, own, column] -= conductance * slope[b] * ratio
            out.off[self.inside, 1, own, column] -= conductance * slope[a] / ratio
        cells, at_wall = self._wall_conductance(point, share)
        r, beyond = share[cells], self._beyond_walls(point, off)
        np.add.at(out.diagonal[:, own, own], cells, r * r * beyond + (1.0 - r) * at_wall)
        np.add.at(out.diagonal[:, own, t], cells, r * beyond * follows[cells])
        solid = faces.neighbour[self.walls] >= 0
        for side, mine in ((0, self.owned & solid), (1, ~self.owned)):
            f = self.walls[mine]
            there = (faces.neighbour, faces.owner)[side][f]
            out.off[f, side, own, t] -= (r * beyond)[mine] * follows[there]
        for part in self.parts:
            c = part.cells
            out.diagonal[c, own, own] += self._exchange(part, point)
            if problem.storage is not None:
                stored = part.matrix_capacity(point.properties.temperature) / problem.storage.interval
                out.diagonal[c, t, own] += stored
                out.diagonal[c, own, t] += stored * follows[c]

    @staticmethod
    def _exchange(part: Drag, point: Point) -> Array:
        """Between matrix and fluid in the cells of a part, W/K."""
        return part.exchange_rate(point.state.velocity, point.properties.density, point.properties.temperature)

    def _conduct_at_ends(self, point: Point, share: Array, out: Evaluation) -> None:
        """Where streams enter and leave the part the fluid conducts with the fluid beyond, in place of both as they are."""
        problem, weights, f = point.problem, point.heat_weights, self.ends
        faces, temperature, gradient = problem.faces, point.properties.temperature, point.gradients.temperature[:, 0]
        a, b = faces.owner[f], faces.neighbour[f]
        at_a = temperature[a] + (gradient[a] * weights.shift_owner[f]).sum(axis=1)
        at_b = np.where(
            b >= 0, temperature[b] + (gradient[b] * weights.shift_neighbour[f]).sum(axis=1), problem.given.temperature[f]
        )
        through = self._end_conductances(point, share) * (at_a - at_b)
        more = through - out.heat[f]
        out.heat[f] = through
        np.add.at(out.energy, a, more)
        np.subtract.at(out.energy, b[b >= 0], more[b >= 0])
        beside = (1.0 - share[a]) * point.properties.conductivity[a] * weights.share_owner[f] * faces.area[f] / faces.near[f]
        inner = b >= 0
        out.face_temperature[f[inner]] = (at_a - through / beside)[inner]
        out.beyond_temperature[f[inner]] = out.face_temperature[f[inner]]

    def _end_conductances(self, point: Point, share: Array) -> Array:
        """Through the ends, W/K: of the fluid alone where `share` is that of the matrix, of both where it is zero."""
        problem, weights, f = point.problem, point.heat_weights, self.ends
        faces, given = problem.faces, problem.given
        conductivity = (1.0 - share) * point.properties.conductivity
        a, b = faces.owner[f], faces.neighbour[f]
        near = faces.near[f] / (conductivity[a] * weights.share_owner[f])
        far = np.where(b >= 0, faces.far[f] / (conductivity[b] * weights.share_neighbour[f]), 0.0)
        passes = (b >= 0) | (given.thermal[f] == TEMPERATURE_GIVEN)
        return np.where(passes, faces.area[f] / (near + given.contact[f] + far), 0.0)

    def _elsewhere(self, point: Point) -> Array:
        """Volume of the cells that have no such matrix, m3; zero in those that have one."""
        volume = point.problem.cells.volume.copy()
        for part in self.parts:
            volume[part.cells] = 0.0
        return volume

    def _inside_conductance(self, point: Point, share: Array) -> Array:
        """Of the matrix, between the centres on both sides of faces within it, W/K."""
        faces, weights, f = point.problem.faces, point.heat_weights, self.inside
        conductivity = share * point.properties.conductivity
        ka = conductivity[faces.owner[f]] * weights.share_owner[f]
        kb = conductivity[faces.neighbour[f]] * weights.share_neighbour[f]
        with np.errstate(divide="ignore"):
            return np.asarray(faces.area[f] / (faces.near[f] / ka + faces.far[f] / kb))

    def _wall_conductance(self, point: Point, share: Array) -> tuple[Index, Array]:
        """The cells at walls, and the conductance of their matrix to surfaces that are held, W/K."""
        faces, weights, f = point.problem.faces, point.heat_weights, self.walls
        cells = np.where(self.owned, faces.owner[f], faces.neighbour[f])
        way = np.where(self.owned, faces.near[f], faces.far[f])
        of_axis = np.where(self.owned, weights.share_owner[f], weights.share_neighbour[f])
        return cells, np.where(self.held, faces.area[f] * of_axis * share[cells] * point.properties.conductivity[cells] / way, 0.0)

    def _beyond_walls(self, point: Point, off: Array) -> Array:
        """Between the cells at walls and what is beyond them, W/K: `off` is how cells answer across faces (`conduction_slopes`)."""
        problem, weights, f = point.problem, point.heat_weights, self.walls
        faces, given, cells = problem.faces, problem.given, problem.faces.owner[f]
        warm = point.conducted.temperature[cells]
        outside = given.coefficient[f] + 4.0 * given.emissivity[f] * STEFAN_BOLTZMANN * warm**3
        inside = faces.near[f] / (point.properties.conductivity[cells] * weights.share_owner[f]) + given.contact[f]
        with np.errstate(divide="ignore"):
            outer = faces.area[f] / (inside + np.where(given.thermal[f] == TEMPERATURE_GIVEN, 0.0, 1.0 / outside))
        return np.where(faces.neighbour[f] >= 0, -off[f, 0], outer)

    def placed(self, faces: Faces, given: Given, region: Index, drags: Sequence[Drag], inside: Index) -> MatrixHeat:
        """The term on the faces of a problem; `inside` are those within all that drags."""
        parts = tuple(drag for drag in drags if drag.given.exchange is not None)
        number = [part.region for part in parts]
        own = inside[np.isin(region[faces.owner[inside]], number)]
        other = np.where(faces.neighbour >= 0, faces.neighbour, faces.owner)
        owned, beyond = np.isin(region[faces.owner], number), np.isin(region[other], number) & (faces.neighbour >= 0)
        outer = (faces.neighbour < 0) & (faces.kind != INLET) & (faces.kind != OUTLET) & owned
        solid = (faces.kind == INTERFACE) & (owned ^ beyond)
        opening = owned & ((faces.kind == INLET) | (faces.kind == OUTLET))
        ends = np.nonzero(opening | ((faces.kind == FLOW) & (faces.joined == 0) & (owned ^ beyond) & (faces.neighbour >= 0)))[0]
        walls = np.nonzero((outer | solid) & (faces.kind != FLOW))[0]
        warm = (given.thermal == TEMPERATURE_GIVEN) | (given.coefficient > 0.0) | (given.emissivity > 0.0)
        return MatrixHeat(parts, own, ends, walls, owned[walls], (solid | warm)[walls])


def matrix_heat_of(physics: FlowPhysics) -> MatrixHeat | None:
    """The term where any matrix has a temperature of its own; it is `placed` when there are faces."""
    own = any(isinstance(one, ResolvedDrag) and one.exchange is not None for _, one in physics.internals)
    return MatrixHeat() if own else None
