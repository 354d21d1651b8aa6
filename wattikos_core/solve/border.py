"""The one unknown that a module adds to its cells' own, and the one equation that goes with it.

For its flow: the fall of pressure along it, which the given mass flow decides. For its heat: by how much temperatures
change from one module to the next, which its temperature at the upstream end decides. Both border the cells' system.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from typing_extensions import override

from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import Array
from wattikos_core.physics.jacobian import P, T, U, V
from wattikos_core.physics.pattern import Pattern
from wattikos_core.solve.convergence import flow_missing, module_span, temperature_missing
from wattikos_core.solve.state import State

# A ratio of temperature differences may fall or grow by this factor a step.
_FARTHEST = 4.0
# Pressure falls by this much of the head and of the friction between plates, over a period, as a first size.
_HEAD, _FRICTION = 0.1, 12.0


@dataclass(frozen=True)
class Border(ABC):
    """An unknown of a module: how it stands in a state, and what it is to achieve."""

    problem: Problem
    pattern: Pattern

    @abstractmethod
    def value(self, state: State) -> float:
        """The unknown in a state."""

    @abstractmethod
    def moved(self, state: State, value: float) -> State:
        """The state with another value of the unknown."""

    @abstractmethod
    def missing(self, evaluation: Evaluation, state: State) -> float:
        """By what share the equation is not met."""

    @abstractmethod
    def size(self, state: State) -> float:
        """Typical magnitude of the unknown."""

    @abstractmethod
    def row(self, off: Array, flow: Array, state: State) -> tuple[Array, Array]:
        """Columns and derivatives of the equation by the unknowns of cells, about."""

    def share(self, value: float, change: float) -> float:
        """How much of a step may be taken."""
        return 1.0

    def further(self, state: State) -> State:
        """The state with a slightly larger unknown."""
        return self.moved(state, self.value(state) + 1e-4 * self.size(state))

    def around(self, matrix: Any, column: Array, off: Array, flow: Array, state: State) -> Any:
        """The matrix of the cells with the unknown's column (its last entry in the corner) and the equation's row around it."""
        from scipy.sparse import csr_matrix

        size = matrix.shape[0]
        columns, values = self.row(off, flow, state)
        row = np.bincount(columns, values, size)
        touched = np.unique(columns)
        # Every row gets the last column, so that the pattern stays the same whatever the state.
        rows = np.repeat(np.arange(size), np.diff(matrix.indptr))
        places = (
            np.concatenate([rows, np.arange(size), np.full(touched.size, size), [size]]),
            np.concatenate([matrix.indices, np.full(size, size), touched, [size]]),
        )
        data = np.concatenate([matrix.data, column[:-1], row[touched], column[-1:]])
        bordered = csr_matrix((data, places), shape=(size + 1, size + 1))
        bordered.sort_indices()
        return bordered


class FallOfPressure(Border):
    """How much pressure falls, Pa/m, so that the mass flow given passes."""

    @override
    def value(self, state: State) -> float:
        return state.repeat.fall

    @override
    def moved(self, state: State, value: float) -> State:
        return replace(state, repeat=replace(state.repeat, fall=value))

    @override
    def missing(self, evaluation: Evaluation, state: State) -> float:
        return flow_missing(self.problem, evaluation)

    @override
    def size(self, state: State) -> float:
        problem = self.problem
        module, speed = problem.module, float(problem.scales.velocity.max())
        assert module is not None
        table = problem.materials[module.region]
        density, viscosity = float(table.density(module.temperature)), float(table.viscosity(module.temperature))
        least = float(np.ptp(problem.grid.nodes, axis=0).min())
        expected = _HEAD * density * speed**2 / module.length + _FRICTION * viscosity * speed / least**2
        return max(abs(state.repeat.fall), expected)

    @override
    def row(self, off: Array, flow: Array, state: State) -> tuple[Array, Array]:
        module, faces, position = self.problem.module, self.problem.faces, self.pattern.position
        assert module is not None
        assert module.mass_flow is not None
        mine = module.faces
        columns, values = [], []
        for cells, by, sign in ((faces.neighbour[mine], off[mine, 0], 1.0), (faces.owner[mine], off[mine, 1], -1.0)):
            for unknown in (U, V, P):
                columns.append(position[cells, unknown])
                values.append(sign * by[:, P, unknown] / module.mass_flow)
        return np.concatenate(columns), np.concatenate(values)


class _Heat(Border):
    """Borders of heat: the mixed-mean temperature at the upstream end is to be the one given."""

    @override
    def missing(self, evaluation: Evaluation, state: State) -> float:
        return temperature_missing(self.problem, evaluation, state.repeat.ratio, state.repeat.jump)

    @override
    def row(self, off: Array, flow: Array, state: State) -> tuple[Array, Array]:
        module, faces, position = self.problem.module, self.problem.faces, self.pattern.position
        assert module is not None
        mine = module.faces
        share = flow[mine] / flow[mine].sum() / module_span(self.problem)
        leaving = flow[mine] >= 0.0
        columns = np.concatenate([position[faces.owner[mine], T], position[faces.neighbour[mine], T]])
        return columns, np.concatenate([np.where(leaving, share / state.repeat.ratio, 0.0), np.where(leaving, 0.0, share)])


class RiseOfTemperature(_Heat):
    """By how much temperatures rise from module to module, K, where heat rates are given."""

    @override
    def value(self, state: State) -> float:
        return state.repeat.jump

    @override
    def moved(self, state: State, value: float) -> State:
        return replace(state, repeat=replace(state.repeat, jump=value))

    @override
    def size(self, state: State) -> float:
        return module_span(self.problem)


class GrowthUpstream(_Heat):
    """By what factor differences from the wall's temperature grow from module to module, seen against the stream."""

    @override
    def value(self, state: State) -> float:
        return 1.0 / state.repeat.ratio

    @override
    def moved(self, state: State, value: float) -> State:
        return replace(state, repeat=replace(state.repeat, ratio=1.0 / value))

    @override
    def size(self, state: State) -> float:
        return self.value(state)

    @override
    def share(self, value: float, change: float) -> float:
        if change > 0.0:
            return min(1.0, (_FARTHEST - 1.0) * value / change)
        return min(1.0, (1.0 / _FARTHEST - 1.0) * value / min(change, -1e-300))


class SourceInStream(_Heat):
    """How much heat in every cell of the stream stands in for a ratio that is not the right one, W/m3."""

    @override
    def value(self, state: State) -> float:
        return state.repeat.source

    @override
    def moved(self, state: State, value: float) -> State:
        return replace(state, repeat=replace(state.repeat, source=value))

    @override
    def size(self, state: State) -> float:
        module = self.problem.module
        assert module is not None
        conductivity = float(self.problem.materials[module.region].conductivity(module.temperature))
        return conductivity * module_span(self.problem) / float(np.ptp(self.problem.grid.nodes, axis=0).min()) ** 2
