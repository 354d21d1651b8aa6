"""Heat that what flows in the tubes of cores gives to the stream across them (see `physics.cores`)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from wattikos_core.physics.cores import Tubes
from wattikos_core.physics.faces import Array
from wattikos_core.physics.properties import temperature_slopes
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns


@dataclass(frozen=True)
class CoreHeat(Term):
    """See above; in the compact Jacobian the liquid is as warm as it is."""

    of_energy = True

    tubes: tuple[Tubes, ...]

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(unknowns.temperature, unknowns.temperature)]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        for one in self.tubes:
            heat, _, _ = one.exchange(point.state.velocity, point.properties.temperature)
            out.exchanged[one.drag.cells] += heat
            out.energy[one.drag.cells] -= heat

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, column = point.problem, point.problem.unknowns.temperature
        follows = temperature_slopes(problem.cells, problem.tables, point.state.stretched)
        for one in self.tubes:
            cells = one.drag.cells
            out.diagonal[cells, column, column] += self._held(one, point) * follows[cells]

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        for one in self.tubes:
            out.energy[one.drag.cells] += self._held(one, point)

    def _held(self, one: Tubes, point: Point) -> Array:
        """How a cell's heat answers to its own temperature, W/K: less where its liquid follows it."""
        ua = one.conductances(point.state.velocity)
        if one.liquid.table is None:
            return ua
        count = one.lanes.size * one.stations
        of_bin = np.bincount(one.bins, ua, count)
        rate = np.repeat(one.liquid.capacity_rate * one.widths, one.stations)
        share = -np.expm1(-of_bin / rate) * rate / np.maximum(of_bin, 1e-300)
        return np.asarray(ua * share[one.bins])
