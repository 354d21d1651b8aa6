"""The momentum sink in the mush, between solid and liquid of what melts: the solid stays where it is and holds the fluid back.

C (1 - f)² / (f³ + 0.001) of the liquid fraction f: Voller and Prakash (1987, Int. J. Heat Mass Transfer 30, 1709), after Carman and
Kozeny.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numba import njit
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import Array
from wattikos_core.physics.properties import LIQUID, Tables, property_at
from wattikos_core.physics.terms.term import Blocks, Coefficients, Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns

# Stretched temperature over which the derivative is taken, K.
_MELTED = 1e-3


@dataclass(frozen=True)
class MushSink(Term):
    """Resistance of the mush to flow.

    Attributes:
        constant: the C above, kg/m3/s.
    """

    constant: float

    @override
    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        return [(row, column) for row in unknowns.velocity for column in (row, unknowns.temperature)]

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        cells = point.problem.cells
        resistance = mush_resistance(cells, point.problem.tables, self.constant, point.state.stretched)
        out.momentum[:] += (cells.volume * resistance)[:, None] * point.state.velocity

    @override
    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        problem, state = point.problem, point.state
        cells, unknowns = problem.cells, problem.unknowns
        sink = mush_resistance(cells, problem.tables, self.constant, state.stretched)
        # The momentum sink falls as the liquid fraction grows.
        molten = mush_resistance(cells, problem.tables, self.constant, state.stretched + _MELTED)
        by_melting = cells.volume * (molten - sink) / _MELTED
        for row in unknowns.velocity:
            out.diagonal[:, row, row] += cells.volume * sink
            out.diagonal[:, row, unknowns.temperature] += by_melting * state.velocity[:, row]

    @override
    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        cells = point.problem.cells
        out.sink += cells.volume * mush_resistance(cells, point.problem.tables, self.constant, point.state.stretched)


@njit(cache=True, error_model="numpy", nogil=True)
def mush_resistance(cells: Cells, tables: Tables, constant: float, stretched: Array) -> Array:
    """Resistance of the mush to flow in cells, kg/m3/s; zero where nothing melts."""
    n = stretched.size
    sink = np.zeros(n)
    for c in range(n):
        m = cells.material[c]
        if tables.melts[m] == 1 and cells.fluid[c] == 1:
            f = property_at(tables, m, LIQUID, stretched[c])
            sink[c] = constant * (1.0 - f) ** 2 / (f**3 + 1e-3)
    return sink
