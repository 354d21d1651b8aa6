"""From a case to a run: paint, grid, solve, read, weigh. The one way through the house, in one function per step.

The web worker, the command line and the tests all call these.
"""

from __future__ import annotations

import time
from dataclasses import dataclass, field

import numpy as np

from wattikos_core.case import Case, ResolvedCase, resolve
from wattikos_core.errors import SolveError
from wattikos_core.estimate import HandValue, estimate_case
from wattikos_core.evidence import (
    Finding,
    GridUncertainty,
    LedgerRow,
    at_least_the_change,
    build_ledger,
    findings_after,
    findings_before,
    grid_uncertainty,
    unrefined_layers,
)
from wattikos_core.evidence.findings import refuse_impossible
from wattikos_core.evidence.findings_in_time import findings_after_weight, findings_in_time, findings_of_weight, unsteady
from wattikos_core.evidence.findings_of_modules import findings_after_module
from wattikos_core.evidence.ledger import solved_in
from wattikos_core.formats.grids import imported_grid
from wattikos_core.grid import Grid, Quality, grid_section, quality_of
from wattikos_core.in_time import OnFrame, solve_film
from wattikos_core.physics import Evaluation, Problem, problem_of
from wattikos_core.read import solved_quantities, watch_for
from wattikos_core.section import PaintedSection, check_conditions, paint
from wattikos_core.solve import Cancel, Event, Listen, Solution, SolveSettings, never_cancel, silent, solve_steady, start_from
from wattikos_core.solve.iterate import carrying, evaluate_state
from wattikos_core.solve.state import unpack_checkpoint

# From this many cells on, a grid of twice the spacing gives the fine one its start.
_SEQUENCE_FROM = 2_500
_COARSER = 2.0
_COARSEST = 0.2
_COARSE_TOLERANCE = 1e-4
# Ratio of cell sizes between the three grids of the uncertainty procedure, which asks for more than 1.3.
_CHECK_RATIO = 1.5
# A number of cells is met to this share, within so many grids and between these finenesses.
_AS_MANY, _MOST_GRIDS, _FINENESS = 0.05, 6, (0.05, 100.0)


@dataclass(frozen=True)
class Prepared:
    """A case made ready: everything that can be refused has been refused.

    Attributes:
        imported: the grid from a file, when the case uses one.
    """

    case: Case
    resolved: ResolvedCase
    section: PaintedSection
    hand: dict[str, HandValue]
    findings: list[Finding]
    imported: Grid | None = None


@dataclass(frozen=True)
class RunResult:
    """A finished run: the solution with its ledger and evidence."""

    case: Case
    problem: Problem
    solution: Solution
    evaluation: Evaluation
    ledger: list[LedgerRow]
    findings: list[Finding]
    quality: Quality
    solver_seconds: float
    seconds: float
    grids: list[dict[str, float]] = field(default_factory=list)

    def value(self, name: str) -> float:
        """The solved value of a ledger quantity; KeyError when it was not solved."""
        value = solved_in(self.ledger, name)
        if value is None:
            raise KeyError(name)
        return value


def prepare(case: Case, grid_file: bytes | None = None) -> Prepared:
    """Evaluate, paint, check and calculate by hand. Raises CaseError with all that is wrong.

    Args:
        grid_file: content of the grid file, for a case that uses one.
    """
    resolved = resolve(case)
    section = paint(resolved)
    check_conditions(resolved, section)
    refuse_impossible(resolved, section)
    hand = estimate_case(resolved)
    imported = imported_grid(resolved, section, grid_file) if case.grid.file else None
    findings = findings_before(resolved, section, hand) + findings_of_weight(resolved, section)
    return Prepared(case, resolved, section, hand, findings, imported)


def estimate_ledger(case: Case) -> list[LedgerRow]:
    """The ledger by hand alone."""
    prepared = prepare(case)
    return build_ledger(prepared.resolved, prepared.hand, {})


def grid_of(prepared: Prepared, fineness: float | None = None, coarser: float = 1.0) -> Grid:
    """The grid of a prepared case at its own fineness, or another (`coarser`: see `grid_section`); an imported one as it is."""
    if prepared.imported is not None:
        return prepared.imported
    wanted = fineness_of(prepared) if fineness is None else fineness
    return grid_section(prepared.resolved, prepared.section, wanted, coarser)


def fineness_of(prepared: Prepared) -> float:
    """The fineness a case is gridded at: its own, or the one that makes about as many cells as it asks for."""
    wishes = prepared.case.grid
    if wishes.cells is None or prepared.imported is not None:
        return wishes.fineness
    fineness = 1.0
    for _ in range(_MOST_GRIDS):
        grid = grid_section(prepared.resolved, prepared.section, fineness)
        along_one = 1.0 in (grid.spacing.get("rows"), grid.spacing.get("columns"))
        share = wishes.cells / grid.n_cells
        if abs(share - 1.0) < _AS_MANY:
            break
        fineness = float(np.clip(fineness * share ** (1.0 if along_one else 0.5), *_FINENESS))
    return fineness


def solve_case(
    case: Case,
    *,
    start: bytes | None = None,
    grid_file: bytes | None = None,
    go_on: bool = False,
    on_frame: OnFrame | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
) -> RunResult:
    """Solve a case, steady or in time.

    Args:
        start: a former run's checkpoint, of this case or a changed one, to begin from.
        grid_file: content of the grid file, for a case that uses one.
        go_on: in time, carry the run that `start` comes from on from where it was, instead of beginning anew.
        on_frame: called with each frame of a run in time as it comes.

    Raises:
        CaseError: the case cannot be solved as it stands.
        SolveError: the solve broke down.
    """
    begun = time.perf_counter()
    prepared = prepare(case, grid_file)
    listen(Event("gridding", 0))
    if prepared.resolved.time is not None:
        return _solve_in_time(prepared, start, go_on, on_frame, listen, cancel, begun)
    chain = _chain(prepared, warm=start is not None)
    solutions: list[tuple[Problem, Solution]] = []
    solver_seconds = 0.0
    offset = 0
    for index, (grid, tolerance) in enumerate(chain):
        last = index == len(chain) - 1
        problem = problem_of(prepared.resolved, grid)
        if solutions:
            before, coarse = solutions[-1]
            first = start_from(problem, before.grid, coarse.state, coarse.diagonal)
        elif start is not None:
            first = start_from(problem, *unpack_checkpoint(start)[:3])
        else:
            first = None
        wishes = case.solve
        preliminary = tolerance > wishes.tolerance
        settings = SolveSettings(max(tolerance, wishes.tolerance), wishes.max_steps, wishes.method, wishes.flow, preliminary)
        stage = f"solving on {problem.grid.n_cells:,} cells" if last else f"starting on {problem.grid.n_cells:,} cells"
        solution = solve_steady(
            problem,
            settings,
            start=first,
            watch=watch_for(prepared.resolved, problem),
            listen=_shifted(listen, offset, index, len(chain)),
            cancel=cancel,
            stage=stage,
        )
        offset += len(solution.history)
        solver_seconds += solution.seconds
        solutions.append((problem, solution))
        if solution.stopped:
            break
    problem, solution = solutions[-1]
    problem = carrying(problem, solution.state)
    if not solution.state.finite():
        raise SolveError("the solve broke down", "check dimensions and flows, or try a coarser grid first")
    evaluation = evaluate_state(problem, solution.state, solution.diagonal)
    values = solved_quantities(prepared.resolved, problem, evaluation, solution.state)
    uncertainty: dict[str, GridUncertainty] | None = None
    withheld: list[Finding] = []
    if len(solutions) == 3 and case.solve.grid_check and not solution.stopped:
        uncertainty, withheld = _uncertainty(prepared, solutions, values)
    ledger = build_ledger(prepared.resolved, prepared.hand, values, uncertainty)
    findings = prepared.findings + findings_after(prepared.resolved, problem, solution, evaluation, ledger)
    findings += findings_after_weight(problem, solution, evaluation, ledger)
    findings += findings_after_module(prepared.resolved, problem, evaluation, ledger)
    findings += withheld
    swings = unsteady(problem, solution)
    findings += [swings] if swings is not None else []
    return RunResult(
        case=case,
        problem=problem,
        solution=solution,
        evaluation=evaluation,
        ledger=ledger,
        findings=findings,
        quality=quality_of(problem.grid),
        solver_seconds=solver_seconds,
        seconds=time.perf_counter() - begun,
        grids=[{"cells": float(p.grid.n_cells), "steps": float(len(s.history)), "seconds": s.seconds} for p, s in solutions],
    )


def _solve_in_time(
    prepared: Prepared,
    start: bytes | None,
    go_on: bool,
    on_frame: OnFrame | None,
    listen: Listen,
    cancel: Cancel,
    begun: float,
) -> RunResult:
    resolved = prepared.resolved
    run = solve_film(resolved, prepared.section, grid_of(prepared), start, go_on, on_frame, listen, cancel)
    problem, solution, evaluation = run.problem, run.solution, run.evaluation
    values = solved_quantities(resolved, problem, evaluation, solution.state) | run.over_time
    ledger = build_ledger(resolved, prepared.hand, values)
    findings = prepared.findings + findings_after(resolved, problem, solution, evaluation, ledger)
    findings += findings_in_time(problem, solution, run.unsettled, evaluation) + findings_after_weight(
        problem, solution, evaluation, ledger
    )
    return RunResult(
        case=prepared.case,
        problem=problem,
        solution=solution,
        evaluation=evaluation,
        ledger=ledger,
        findings=findings,
        quality=quality_of(problem.grid),
        solver_seconds=solution.seconds,
        seconds=time.perf_counter() - begun,
        grids=[{"cells": float(problem.grid.n_cells), "steps": float(len(solution.history)), "seconds": solution.seconds}],
    )


def _chain(prepared: Prepared, *, warm: bool) -> list[tuple[Grid, float]]:
    """The grids to solve on, coarse to fine, each with the tolerance asked of it."""
    fineness, tolerance = fineness_of(prepared), prepared.case.solve.tolerance
    if prepared.case.solve.grid_check and prepared.imported is None:
        steps = [_CHECK_RATIO**power for power in (2, 1, 0)]
        return [(grid_of(prepared, fineness / coarser, coarser), tolerance) for coarser in steps]
    chain = [(grid_of(prepared), tolerance)]
    if prepared.imported is not None or warm:
        return chain
    while fineness / _COARSER >= _COARSEST and chain[0][0].n_cells >= _SEQUENCE_FROM:
        fineness /= _COARSER
        chain.insert(0, (grid_of(prepared, fineness), _COARSE_TOLERANCE))
    return chain


def _shifted(listen: Listen, offset: int, index: int, count: int) -> Listen:
    """Listen to one grid of several: steps counted on, fractions as shares of the whole."""
    weights = [4.0**i for i in range(count)]
    done, own = sum(weights[:index]) / sum(weights), weights[index] / sum(weights)

    def tell(event: Event) -> None:
        listen(Event(event.stage, event.step + offset, event.residuals, event.watches, done + own * event.fraction))

    return tell


def _uncertainty(
    prepared: Prepared, solutions: list[tuple[Problem, Solution]], fine: dict[str, float]
) -> tuple[dict[str, GridUncertainty] | None, list[Finding]]:
    """Grid ± of every quantity; or none, and why: a grid that did not converge, or a layer that is not refined."""
    remedy = "refine the grid of this part locally, or the whole section"
    if not all(solution.converged for _, solution in solutions):
        text = "no Grid ± is given: not all three of its grids converged"
        return None, [Finding("doubt", "", text, "look at what keeps the coarser grids from converging, or start from a finer one")]
    grids = [problem.grid for problem, _ in reversed(solutions)]
    layers = unrefined_layers(grids)
    if layers:
        names = " and ".join(f"'{name}'" for name in layers)
        text = f"no Grid ± is given: {names} cannot be gridded finer from grid to grid"
        return None, [Finding("doubt", layers[0], text, remedy)]
    coarser = []
    for problem, solution in solutions[:-1]:
        problem = carrying(problem, solution.state)
        evaluation = evaluate_state(problem, solution.state, solution.diagonal)
        coarser.append(solved_quantities(prepared.resolved, problem, evaluation, solution.state))
    counts = tuple(grid.n_cells for grid in grids)
    dimensions = 1 if 1.0 in (grids[0].spacing.get("rows"), grids[0].spacing.get("columns")) else 2
    found = {}
    for name, value in fine.items():
        if name.endswith("balance") or name not in coarser[0] or name not in coarser[1]:
            continue
        values = (value, coarser[1][name], coarser[0][name])
        found[name] = at_least_the_change(grid_uncertainty(values, counts, dimensions), values)  # type: ignore[arg-type]
    return found, []
