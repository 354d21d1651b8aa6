"""The one unknown that a module adds to its cells' own, and the one equation that goes with it.

For its flow: the fall of pressure along it, which the given mass flow decides. For its heat: by how much temperatures
change from one module to the next, which its temperature at the upstream end decides. Both border the cells' system.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import Array
from wattikos_core.physics.jacobian import P, Pattern, T, U, V
from wattikos_core.solve.convergence import flow_missing, temperature_missing
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

    def value(self, state: State) -> float:
        return state.repeat[0]

    def moved(self, state: State, value: float) -> State:
        return replace(state, repeat=(value, *state.repeat[1:]))

    def missing(self, evaluation: Evaluation, state: State) -> float:
        return flow_missing(self.problem, evaluation)

    def size(self, state: State) -> float:
        problem = self.problem
        module, speed = problem.module, problem.scales.velocity
        assert module is not None
        table = problem.materials[module.region]
        density, viscosity = float(table.density(module.temperature)), float(table.viscosity(module.temperature))
        least = float(np.ptp(problem.grid.nodes, axis=0).min())
        expected = _HEAD * density * speed**2 / module.length + _FRICTION * viscosity * speed / least**2
        return max(abs(state.repeat[0]), expected)

    def row(self, off: Array, flow: Array, state: State) -> tuple[Array, Array]:
        module, faces, position = self.problem.module, self.problem.faces, self.pattern.position
        assert module is not None and module.mass_flow is not None
        mine = module.faces
        columns, values = [], []
        for cells, by, sign in ((faces.neighbour[mine], off[mine, 0], 1.0), (faces.owner[mine], off[mine, 1], -1.0)):
            for unknown in (U, V, P):
                columns.append(position[cells, unknown])
                values.append(sign * by[:, P, unknown] / module.mass_flow)
        return np.concatenate(columns), np.concatenate(values)


class ChangeOfTemperature(Border):
    """How temperatures change from module to module, so that the mixed-mean one at the upstream end is the one given.

    With heat rates given the unknown is their rise, K; with a wall temperature, by what factor differences grow upstream.
    """

    def value(self, state: State) -> float:
        module = self.problem.module
        assert module is not None
        return state.repeat[2] if module.wall is None else 1.0 / state.repeat[1]

    def moved(self, state: State, value: float) -> State:
        module = self.problem.module
        assert module is not None
        fall, ratio, _ = state.repeat
        return replace(state, repeat=(fall, ratio, value) if module.wall is None else (fall, 1.0 / value, 0.0))

    def missing(self, evaluation: Evaluation, state: State) -> float:
        return temperature_missing(self.problem, evaluation, *state.repeat[1:])

    def size(self, state: State) -> float:
        module = self.problem.module
        assert module is not None
        return self.problem.scales.temperature if module.wall is None else self.value(state)

    def share(self, value: float, change: float) -> float:
        module = self.problem.module
        assert module is not None
        if module.wall is None:
            return 1.0
        return min(1.0, (_FARTHEST - 1.0) * value / change if change > 0.0 else (1.0 / _FARTHEST - 1.0) * value / min(change, -1e-300))

    def row(self, off: Array, flow: Array, state: State) -> tuple[Array, Array]:
        module, faces, position = self.problem.module, self.problem.faces, self.pattern.position
        assert module is not None
        mine = module.faces
        share = flow[mine] / flow[mine].sum() / self.problem.scales.temperature
        leaving = flow[mine] >= 0.0
        columns = np.concatenate([position[faces.owner[mine], T], position[faces.neighbour[mine], T]])
        return columns, np.concatenate([np.where(leaving, share / state.repeat[1], 0.0), np.where(leaving, 0.0, share)])


def border_of(problem: Problem, pattern: Pattern, heat_only: bool) -> Border | None:
    """What borders the system of a problem; None where no module repeats, or its fall of pressure is given."""
    module = problem.module
    if module is None:
        return None
    if heat_only:
        return ChangeOfTemperature(problem, pattern)
    return FallOfPressure(problem, pattern) if module.mass_flow is not None else None
