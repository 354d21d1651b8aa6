"""A steady case solved until it is good enough: on grids of its own, finer where the wanted quantities depend on it.

On a coarse grid it is tried on which places the wanted quantities depend (`trials`). With the density learnt there, grids
become finer by equal ratios, each solution the start of the next, until the Grid ± (least squares over the last grids, Eça and
Hoekstra 2014) of all that is wanted is within what is asked, or the next grid would have too many cells.
"""

from __future__ import annotations

import time
from collections.abc import Mapping
from dataclasses import dataclass, replace

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence import Finding, GridUncertainty
from wattikos_core.evidence.finding import Fix
from wattikos_core.evidence.least_squares import fit_grids
from wattikos_core.grid import Density, Family, Grid, grid_section
from wattikos_core.ledger import Key
from wattikos_core.ledger.key import in_sense
from wattikos_core.physics import Evaluation, Problem, point_of, problem_of
from wattikos_core.quantities.values import show
from wattikos_core.read import watch_for
from wattikos_core.read.indicator import bending
from wattikos_core.solve import Cancel, Event, Listen, Solution, SolveSettings, solve_steady, start_from
from wattikos_core.studies.preparation import Prepared
from wattikos_core.studies.result import Result
from wattikos_core.studies.steady import steady_result, values_of
from wattikos_core.studies.trials import Solved, learn_density

# The grid that is learnt on has about so many cells; from one grid to the next cells become so many times as fine.
_LEARN_FROM, _LEARN_TO = 300, 4_000
_START, _STEP, _LOWEST_START = 0.5, 1.4, 0.2
# The ± comes from at least so many grids and at most from the last few, of which the coarsest would tell little.
_FEWEST, _MOST = 4, 5
# Of a solve, how much is done after its trials; a solve on n cells takes about n^1.2 (measured).
_TRIALS_DONE, _TIME_POWER = 0.3, 1.2
_MOST_LEVELS = 12


@dataclass(frozen=True)
class _Level:
    """One grid that was solved on."""

    fineness: float
    problem: Problem
    solution: Solution
    evaluation: Evaluation
    values: dict[Key, float]
    seconds: float


class _Stopped(Exception):
    """The user asked to stop during the trials; what is there so far is the answer."""


def solve_to_accuracy(prepared: Prepared, listen: Listen, cancel: Cancel) -> Result:
    """Solve a prepared case for its steady state until it is good enough (`solve.good_enough`).

    Args:
        prepared: the case made ready.
        listen: told of every step.
        cancel: asked at every step whether to stop.

    Raises:
        CaseError: the grid comes from a file, or nothing is wanted.
        SolveError: the solve broke down.
    """
    wishes = prepared.case.solve.good_enough
    assert wishes is not None
    if prepared.imported is not None:
        problem = "the grid comes from a file and cannot be made finer"
        raise CaseError(InputProblem("solve.good_enough", problem, "take the file out, or solve without it"))
    if not prepared.case.wanted:
        remedy = "mark a quantity in the Ledger as wanted: it says for what the grid is to be good enough"
        raise CaseError(InputProblem("solve.good_enough", "nothing is wanted", remedy))
    begun = time.perf_counter()
    work = _Work(prepared, listen, cancel)
    levels = [work.first()]
    try:
        density = work.learn(levels[0])
    except _Stopped:
        return _result(prepared, levels, [_unfinished("the solve was stopped before its grids were compared")], begun)
    levels = [work.solved(levels[0].fineness, density, levels[0])]
    told: list[Finding] = []
    while not levels[-1].solution.stopped:
        if not levels[-1].solution.converged:
            told.append(_unconverged(levels[-1]))
            break
        bands = _bands(levels)
        worst = _worst(bands, levels[-1].values, work.tolerances(levels[-1].values))
        if worst is not None and worst.share <= 1.0:
            break
        next_cells = round(levels[-1].problem.grid.n_cells * _STEP**2)
        if next_cells > wishes.most_cells or len(levels) == _MOST_LEVELS:
            told.append(_not_reached(worst, levels, wishes.most_cells, wishes.within))
            break
        if worst is not None:
            work.said = f"{worst.key.label} ± {show(worst.plus_minus, _difference(worst.key.kind), None, 2)}"
        levels.append(work.solved(levels[0].fineness * _STEP ** len(levels), density, levels[-1]))
    else:
        told.append(_unfinished("the solve was stopped before it was good enough"))
    return _result(prepared, levels, told, begun)


@dataclass(frozen=True)
class _Worst:
    """The wanted quantity that is furthest from good enough: its ± as a share of what is allowed, and its order."""

    key: Key
    plus_minus: float
    share: float
    order: float


class _Work:
    """Grids and solutions of one case; `said` is told of what is known so far."""

    def __init__(self, prepared: Prepared, listen: Listen, cancel: Cancel) -> None:
        self.prepared, self.listen, self.cancel = prepared, listen, cancel
        self.steps, self.done, self.said = 0, 0.0, ""

    def first(self) -> _Level:
        """The solution that is learnt from, on a grid that is neither poor nor costly."""
        fineness, limit = _START, self._most()
        grid = self._grid(fineness, None)
        while grid.n_cells > min(_LEARN_TO, limit) and fineness / _STEP > _LOWEST_START:
            fineness /= _STEP
            grid = self._grid(fineness, None)
        while grid.n_cells < _LEARN_FROM:
            fineness *= _STEP
            grid = self._grid(fineness, None)
        return self._solve(grid, fineness, None, f"a first look on {grid.n_cells:,} cells", 0.05)

    def learn(self, base: _Level) -> Density | None:
        """The density that the wanted quantities ask for."""

        def solve(density: Density | None, finer: float) -> Solved:
            grid = self._grid(finer * base.fineness, density)
            level = self._solve(grid, finer * base.fineness, base, self.said, self.done)
            if level.solution.stopped:
                raise _Stopped
            return level.problem.grid, level.values

        def tell(number: int, count: int) -> None:
            self.said = f"where the answer depends on the grid: {number + 1} of {count}"
            self.done = 0.05 + (_TRIALS_DONE - 0.05) * number / count
            self.listen(Event(self.said, self.steps, {}, {}, self.done))
            if self.cancel():
                raise _Stopped

        known = base.problem.grid, base.values
        bends = bending(point_of(base.problem, base.solution.state))
        density = learn_density(self.prepared.section, known, bends, solve, self.tolerances(base.values), tell)
        self.said = ""
        return density

    def solved(self, fineness: float, density: Density | None, before: _Level) -> _Level:
        """The solution on a grid of the density learnt."""
        grid = self._grid(fineness, density)
        about = f"solving on {grid.n_cells:,} cells" + (f" ({self.said} before)" if self.said else "")
        self.done = _TRIALS_DONE + (1.0 - _TRIALS_DONE) * min(grid.n_cells / self._most(), 1.0) ** 0.5
        return self._solve(grid, fineness, before, about, self.done)

    def tolerances(self, values: Mapping[Key, float]) -> dict[Key, float]:
        """What is allowed of every wanted quantity that was solved: a share of it, of temperatures a share of their span."""
        wishes = self.prepared.case.solve.good_enough
        assert wishes is not None
        found = {}
        for wanted in self.prepared.case.wanted:
            value = in_sense(values, wanted.key)
            if value is not None:
                size = temperature_span(self.prepared, values) if wanted.key.kind == "temperature" else abs(value)
                found[wanted.key] = wishes.within * max(size, 1e-300)
        if not found:
            names = " and ".join(f"'{wanted.key.label}'" for wanted in self.prepared.case.wanted)
            remedy = "mark a quantity in the Ledger as wanted that a field solve gives"
            raise CaseError(InputProblem("solve.good_enough", f"{names} cannot be solved for", remedy))
        return found

    def _most(self) -> int:
        wishes = self.prepared.case.solve.good_enough
        assert wishes is not None
        return wishes.most_cells

    def _grid(self, fineness: float, density: Density | None) -> Grid:
        return grid_section(self.prepared.resolved, self.prepared.section, fineness, Family(_START / fineness, density))

    def _solve(self, grid: Grid, fineness: float, before: _Level | None, stage: str, done: float) -> _Level:
        begun = time.perf_counter()
        problem = problem_of(self.prepared.resolved, grid)
        start = None
        if before is not None:
            start = start_from(problem, before.problem.grid, before.solution.state, before.solution.interpolation)
        wishes = self.prepared.case.solve
        settings = SolveSettings(wishes.tolerance, wishes.max_steps, wishes.method, wishes.flow, False)

        def tell(event: Event) -> None:
            self.listen(Event(stage, event.step + self.steps, event.residuals, event.watches, done))

        solution = solve_steady(
            problem,
            settings,
            start=start,
            watch=watch_for(self.prepared.resolved, problem),
            listen=tell,
            cancel=self.cancel,
            stage=stage,
        )
        self.steps += len(solution.history)
        evaluation, values = values_of(self.prepared, problem, solution)
        return _Level(fineness, problem, solution, evaluation, values, time.perf_counter() - begun)


def temperature_span(prepared: Prepared, values: Mapping[Key, float]) -> float:
    """Between the lowest and the highest temperature that is given or solved, K; one kelvin where all are the same."""
    known = [*prepared.resolved.temperatures_given, *(value for key, value in values.items() if key.kind == "temperature")]
    span = max(known) - min(known) if known else 0.0
    return span or 1.0


def _bands(levels: list[_Level]) -> dict[Key, GridUncertainty]:
    """The ± of all quantities on the last grid; none before there are enough grids."""
    last = levels[-_MOST:]
    if len(last) < _FEWEST or not all(level.solution.converged for level in last):
        return {}
    # By fineness instead of cells: grids of one density are refinements of each other.
    sizes = [round(1e6 * level.fineness**2) for level in last]
    found = {}
    for key in last[-1].values:
        if key.quantity in ("mass_balance", "heat_balance") or any(key not in level.values for level in last):
            continue
        fit = fit_grids([level.values[key] for level in last], sizes)
        found[key] = GridUncertainty(fit.plus_minus[-1], fit.order if fit.order is not None else float("nan"), fit.extrapolated)
    return found


def _worst(bands: Mapping[Key, GridUncertainty], values: Mapping[Key, float], allowed: Mapping[Key, float]) -> _Worst | None:
    found = []
    for key, most in allowed.items():
        there = key if key in values else key.opposite
        if there is not None and there in bands:
            band = bands[there]
            order = band.order if band.order == band.order else 1.0
            found.append(_Worst(key, band.plus_minus, band.plus_minus / most, order))
    return max(found, key=lambda one: one.share) if found else None


def _difference(kind: str) -> str:
    return "temperature_difference" if kind == "temperature" else kind


def _not_reached(worst: _Worst | None, levels: list[_Level], most_cells: int, within: float) -> Finding:
    """Says how near it came and what it would take."""
    last = levels[-1]
    cells = last.problem.grid.n_cells
    fix = Fix("solve with more cells", path="solve.good_enough.most_cells", value=min(400_000, 4 * most_cells))
    if worst is None:
        text = f"{most_cells:,} cells are too few for the {_FEWEST} grids that tell a Grid ±"
        return Finding("check", "", text, "allow more cells", about="good_enough", fix=fix)
    need = cells * worst.share ** (2.0 / worst.order)
    seconds = last.seconds * (need / cells) ** _TIME_POWER
    came = show(worst.plus_minus, _difference(worst.key.kind), None, 2)
    far = f"{worst.share:.1f} times too much"
    text = f"not within {100 * within:.3g} %: {worst.key.label} is known to ± {came} on {cells:,} cells, {far}"
    remedy = f"it would take about {need:,.0f} cells and {show(seconds, 'time', None, 2)}; allow them, or be content with less"
    return Finding("check", "", text, remedy, about="good_enough", fix=fix if most_cells < 400_000 else None)


def _unconverged(level: _Level) -> Finding:
    text = f"no Grid ± is given: the solve on {level.problem.grid.n_cells:,} cells did not converge"
    return Finding("check", "", text, "look at what keeps it from converging, or allow more steps", about="good_enough")


def _unfinished(text: str) -> Finding:
    return Finding("note", "", text, "solve again to have it to its end", about="good_enough")


def _result(prepared: Prepared, levels: list[_Level], told: list[Finding], begun: float) -> Result:
    bands = _bands(levels) or None
    last = levels[-1]
    solutions = [(level.problem, level.solution) for level in levels]
    result = steady_result(prepared, solutions, (last.evaluation, last.values), bands, told, begun)
    return replace(result, good_enough=not told)
