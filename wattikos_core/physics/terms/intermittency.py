"""The balance of intermittency, the share of time in which a layer is turbulent (see `physics.turbulence.transition`).

ρ Dγ/Dt = G γ(1 - γ) - D γ(50 γ - 1) + ∇·((μ + μ_t) ∇γ), one where fluid enters; nothing of it passes walls. G grows it where
layers turn turbulent, D lets it die where they are laminar.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np
from typing_extensions import override

from wattikos_core.physics.faces import Array
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.terms.convection import Carried
from wattikos_core.physics.terms.scalars import Scalar
from wattikos_core.physics.terms.term import Blocks, Evaluation, Point
from wattikos_core.physics.turbulence.constants import ENERGY, INTERMITTENCY
from wattikos_core.physics.turbulence.transition import LEAST
from wattikos_core.physics.unknowns import Unknowns


@dataclass(frozen=True)
class Intermittency(Scalar):
    """γ of cells; it is at rest where the flow is laminar throughout."""

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        k = unknowns.transported[unknowns.scalars.index(ENERGY)]
        return [*super().couplings(unknowns), (k, self.column(unknowns))]

    @override
    def what(self, point: Point) -> Carried:
        return replace(super().what(point), bounds=(LEAST, 1.0))

    @override
    def released(self, point: Point) -> Array:
        volume, gamma, turbulence = point.problem.cells.volume, self._of(point), point.turbulence
        made = turbulence.grows * gamma * (1.0 - gamma) - turbulence.dies * gamma * (gamma / LEAST - 1.0)
        return np.where(point.problem.turbulent == 1, volume * made, 0.0)

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        super().add_residual(point, interpolation, out)
        problem, what, turbulence = point.problem, self.what(point), point.turbulence
        still, gamma = (problem.turbulent == 0) & (problem.cells.fluid == 1), self._of(point)
        out.residual[still, what.columns[0]] = (problem.cells.volume * (gamma - 1.0))[still]
        # What grows and dies, each by itself: their difference says little of how much there is to be balanced.
        amount = problem.cells.volume * (turbulence.grows * gamma + turbulence.dies)
        out.scalar_amounts[self.index(problem.unknowns)] = float(amount.sum())

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        super().add_jacobian(point, interpolation, flow, out)
        problem, turbulence, column = point.problem, point.turbulence, self.column(point.problem.unknowns)
        gamma, volume = self._of(point), problem.cells.volume
        by_itself = turbulence.grows * (1.0 - 2.0 * gamma) - turbulence.dies * (2.0 * gamma / LEAST - 1.0)
        out.diagonal[:, column, column] -= np.where(problem.turbulent == 1, volume * by_itself, 0.0)
        k = problem.unknowns.transported[problem.unknowns.scalars.index(ENERGY)]
        lost = point.state.scalars[:, problem.unknowns.scalars.index(ENERGY)] / (
            point.state.scalars[:, problem.unknowns.scalars.index(ENERGY) + 1] ** 2 + 1e-300
        )
        less = np.where(turbulence.lost_share > 0.1, point.properties.density * lost, 0.0)
        model = problem.physics.turbulence
        followed = model.followed if model is not None else 1.0
        by_gamma = less - np.divide(turbulence.production, np.maximum(gamma, LEAST))
        out.diagonal[:, k, column] += np.where(problem.turbulent == 1, followed * volume * by_gamma, 0.0)
        still = (problem.turbulent == 0) & (problem.cells.fluid == 1)
        out.diagonal[still, column, :] = 0.0
        out.diagonal[still, column, column] = volume[still]

    def _of(self, point: Point) -> Array:
        return np.asarray(point.state.scalars[:, self.index(point.problem.unknowns)])

    @override
    def conducts(self, point: Point) -> tuple[Array, Array]:
        return np.asarray(point.properties.viscosity + point.turbulence.eddy_viscosity), np.zeros(0)


def intermittency_of(physics: FlowPhysics) -> Intermittency | None:
    """The term where layers may turn turbulent on their way."""
    model = physics.turbulence
    return Intermittency(INTERMITTENCY, entering=1.0) if model is not None and model.transition else None
