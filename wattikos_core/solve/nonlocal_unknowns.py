"""Non-local unknowns: single ones beside those of the cells, each with an equation of its own. They border the cells' system.

A module that repeats has one for its flow, the pressure gradient along it, which the given mass flow decides; and one for its
heat: how temperatures change from one module to the next, which its temperature at the upstream end decides.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from typing_extensions import override

from wattikos_core.physics import Evaluation, Problem, State
from wattikos_core.physics.faces import Array
from wattikos_core.physics.pattern import Pattern
from wattikos_core.physics.terms import Blocks
from wattikos_core.solve.convergence import flow_missing, module_span, temperature_missing

# A ratio of temperature differences may fall or grow by this factor a step.
_FARTHEST = 4.0
# First estimate of the pressure gradient: this share of the dynamic pressure plus the friction between plates, per period.
_HEAD, _FRICTION = 0.1, 12.0


@dataclass(frozen=True)
class NonlocalUnknown(ABC):
    """How it stands in a state, and what it is to achieve."""

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
    def row(self, blocks: Blocks, flow: Array, state: State) -> tuple[Array, Array]:
        """Columns and derivatives of the equation by the unknowns of cells, about, from the cells' blocks and the flow in faces."""

    def share(self, value: float, change: float) -> float:
        """How much of a step may be taken."""
        return 1.0

    def further(self, state: State) -> State:
        """The state with a slightly larger unknown."""
        return self.moved(state, self.value(state) + 1e-4 * self.size(state))


def bordered(matrix: Any, columns: Array, rows: Sequence[tuple[Array, Array]]) -> Any:
    """The matrix of the cells with k further unknowns and equations around it.

    Args:
        matrix: of the unknowns of cells.
        columns: derivatives of all equations by the further unknowns, shape (n + k, k).
        rows: columns and derivatives of each further equation by the unknowns of cells.
    """
    from scipy.sparse import csr_matrix

    size, count = matrix.shape[0], len(rows)
    # Every row gets the last columns, so that the pattern stays the same whatever the state.
    inner = np.repeat(np.arange(size), np.diff(matrix.indptr))
    every, last = np.arange(size + count), size + np.arange(count)
    places_of_rows, places_of_columns = [inner, np.repeat(every, count)], [matrix.indices, np.tile(last, size + count)]
    data = [matrix.data, columns.ravel()]
    for k, (where, values) in enumerate(rows):
        touched = np.unique(where)
        places_of_rows.append(np.full(touched.size, size + k))
        places_of_columns.append(touched)
        data.append(np.bincount(where, values, size)[touched])
    places = (np.concatenate(places_of_rows), np.concatenate(places_of_columns))
    found = csr_matrix((np.concatenate(data), places), shape=(size + count, size + count))
    found.sort_indices()
    return found


class PressureGradient(NonlocalUnknown):
    """How much pressure falls, Pa/m, so that the mass flow given passes."""

    @override
    def value(self, state: State) -> float:
        return state.periodicity.pressure_gradient

    @override
    def moved(self, state: State, value: float) -> State:
        return replace(state, periodicity=replace(state.periodicity, pressure_gradient=value))

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
        return max(abs(state.periodicity.pressure_gradient), expected)

    @override
    def row(self, blocks: Blocks, flow: Array, state: State) -> tuple[Array, Array]:
        module, faces, position = self.problem.module, self.problem.faces, self.pattern.position
        assert module is not None
        assert module.mass_flow is not None
        mine = module.faces
        unknowns = self.problem.unknowns
        columns, values = [], []
        for cells, by in ((faces.neighbour[mine], blocks.flow_by_neighbour), (faces.owner[mine], blocks.flow_by_owner)):
            for unknown in (*unknowns.velocity, unknowns.pressure):
                columns.append(position[cells, unknown])
                values.append(by[mine, unknown] / module.mass_flow)
        return np.concatenate(columns), np.concatenate(values)


class _Heat(NonlocalUnknown):
    """Borders of heat: the mixed-mean temperature at the upstream end is to be the one given."""

    @override
    def missing(self, evaluation: Evaluation, state: State) -> float:
        return temperature_missing(self.problem, evaluation, state.periodicity)

    @override
    def row(self, blocks: Blocks, flow: Array, state: State) -> tuple[Array, Array]:
        module, faces = self.problem.module, self.problem.faces
        temperature = self.pattern.position[:, self.problem.unknowns.temperature]
        assert module is not None
        mine = module.faces
        share = flow[mine] / flow[mine].sum() / module_span(self.problem)
        leaving = flow[mine] >= 0.0
        columns = np.concatenate([temperature[faces.owner[mine]], temperature[faces.neighbour[mine]]])
        return columns, np.concatenate([np.where(leaving, share / state.periodicity.ratio, 0.0), np.where(leaving, 0.0, share)])


class RiseOfTemperature(_Heat):
    """By how much temperatures rise from module to module, K, where heat rates are given."""

    @override
    def value(self, state: State) -> float:
        return state.periodicity.rise

    @override
    def moved(self, state: State, value: float) -> State:
        return replace(state, periodicity=replace(state.periodicity, rise=value))

    @override
    def size(self, state: State) -> float:
        return module_span(self.problem)


class GrowthUpstream(_Heat):
    """By what factor differences from the wall's temperature grow from module to module, seen against the stream."""

    @override
    def value(self, state: State) -> float:
        return 1.0 / state.periodicity.ratio

    @override
    def moved(self, state: State, value: float) -> State:
        return replace(state, periodicity=replace(state.periodicity, ratio=1.0 / value))

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
        return state.periodicity.source

    @override
    def moved(self, state: State, value: float) -> State:
        return replace(state, periodicity=replace(state.periodicity, source=value))

    @override
    def size(self, state: State) -> float:
        module = self.problem.module
        assert module is not None
        conductivity = float(self.problem.materials[module.region].conductivity(module.temperature))
        return conductivity * module_span(self.problem) / float(np.ptp(self.problem.grid.nodes, axis=0).min()) ** 2
