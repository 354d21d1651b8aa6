"""Cells that a solve needs for the same error, with the density it learns and with even refinement; at default settings.

The reference of a quantity is the mean of both ways on grids several times as large: no fit, which takes the scatter of body-fitted
grids for an order of convergence. Printed is, for each quantity and for the worst of all, the share of the cells of even refinement
that the learnt density needs for the same error.

python -m benchmarks.good_enough
"""

from __future__ import annotations

import sys
from collections.abc import Mapping

import numpy as np

from wattikos_core.case import starter_case
from wattikos_core.grid import Density, Family, grid_section
from wattikos_core.grid.grid import Array
from wattikos_core.ledger import Key
from wattikos_core.ledger.key import in_sense
from wattikos_core.physics import Problem, point_of, problem_of
from wattikos_core.read.indicator import bending
from wattikos_core.solve import Solution, SolveSettings, solve_steady, start_from
from wattikos_core.studies.accuracy import temperature_span
from wattikos_core.studies.preparation import Prepared, prepare
from wattikos_core.studies.steady import values_of
from wattikos_core.studies.trials import Solved, learn_density
from wattikos_core.warm import warm_up

# Starters with the most cells of both families. The fall of pressure from a uniform inlet that meets a wall grows with the
# logarithm of the cells there (pressure is singular in that corner): there is no value to measure against, and it is left out.
CASES = {"plate_sink": 50_000, "vane": 50_000, "bundle_staggered": 50_000}
WITHOUT = "pressure_drop"
# The reference comes from grids finer by so many steps, of about eight times as many cells.
BEYOND = 3
START, STEP = 0.5, 1.4


class Grids:
    """Solutions of a case on grids of one density."""

    def __init__(self, prepared: Prepared, density: Density | None) -> None:
        self.prepared, self.density = prepared, density
        self.cells: list[int] = []
        self.values: list[dict[Key, float]] = []
        self._last: tuple[Problem, Solution] | None = None

    def solve(self, fineness: float) -> Solved:
        """On the next grid, from the solution before."""
        grid = grid_section(self.prepared.resolved, self.prepared.section, fineness, Family(START / fineness, self.density))
        problem = problem_of(self.prepared.resolved, grid)
        start = None
        if self._last is not None:
            before, coarse = self._last
            start = start_from(problem, before.grid, coarse.state, coarse.interpolation)
        solution = solve_steady(problem, SolveSettings(1e-8, 80, "coupled", "automatic", False), start=start)
        self._last = problem, solution
        self.cells.append(grid.n_cells)
        self.values.append(values_of(self.prepared, problem, solution)[1])
        return grid, self.values[-1]

    def bending(self) -> Array:
        """Of the last solution."""
        assert self._last is not None
        problem, solution = self._last
        return bending(point_of(problem, solution.state))

    def refine(self, most: int) -> None:
        """Until the next grid would have more cells."""
        fineness = START
        while True:
            self.solve(fineness)
            print(f"  {self.cells[-1]:,} cells", file=sys.stderr)
            if self.cells[-1] * STEP**2 > most:
                return
            fineness *= STEP

    def beyond(self, fineness: float) -> Mapping[Key, float]:
        """Values on a grid that is not compared."""
        values = self.solve(fineness)[1]
        del self.cells[-1], self.values[-1]
        return values

    def of(self, key: Key) -> list[float]:
        """A quantity on all grids."""
        found = [in_sense(values, key) for values in self.values]
        return [value for value in found if value is not None]


def compare(name: str, most: int) -> None:
    """Both families of one starter."""
    prepared = prepare(starter_case(name))
    even = Grids(prepared, None)
    even.refine(most)
    keys = [wanted.key for wanted in prepared.case.wanted if wanted.key.quantity != WITHOUT]
    span = temperature_span(prepared, even.values[0])
    size = {key: span if key.kind == "temperature" else abs(even.of(key)[-1]) for key in keys}

    def trial(density: Density | None, finer: float) -> Solved:
        return Grids(prepared, density).solve(finer * START)

    base = Grids(prepared, None)
    known = base.solve(START)
    allowed = {key: 0.01 * size[key] for key in keys}
    density = learn_density(prepared.section, known, base.bending(), trial, allowed, lambda number, count: None)
    learnt = Grids(prepared, density)
    learnt.refine(most)
    finest = START * STEP ** (len(even.cells) - 1 + BEYOND)
    last = [grids.beyond(finest) for grids in (even, learnt)]
    error: dict[str, tuple[Array, Array]] = {}
    for key in keys:
        reference = np.mean([in_sense(values, key) for values in last])
        one, other = (np.abs(np.array(grids.of(key)) - reference) / size[key] for grids in (even, learnt))
        error[key.label] = one, other
    worst = [np.max([error[key.label][side] for key in keys], axis=0) for side in (0, 1)]
    error["worst of all"] = worst[0], worst[1]
    print(name, "even", even.cells, "learnt", learnt.cells, flush=True)
    for label, (one, other) in error.items():
        print(f"  {label:44s} even {_percent(one)}  learnt {_percent(other)}  share of cells {_share(even, one, learnt, other)}")


def _share(even: Grids, one: Array, learnt: Grids, other: Array) -> str:
    """Cells of the learnt density over those that even refinement needs for the same error: the median over its grids."""
    ratios = []
    for cells, error in zip(learnt.cells, other, strict=True):
        # From which grid on even refinement stays below that error, and where between it and the one before.
        above = np.nonzero(one > error)[0]
        if above.size and above[-1] + 1 < one.size:
            i = int(above[-1])
            part = np.log(one[i] / error) / np.log(one[i] / one[i + 1])
            needed = np.exp(np.log(even.cells[i]) + part * np.log(even.cells[i + 1] / even.cells[i]))
            ratios.append(cells / needed)
    return f"{np.median(ratios):.2f} ({len(ratios)} grids)" if ratios else "none to compare"


def _percent(errors: Array) -> str:
    return " ".join(f"{100.0 * error:.3f}" for error in errors) + " %"


if __name__ == "__main__":
    warm_up()
    for case, most in CASES.items():
        compare(case, most)
