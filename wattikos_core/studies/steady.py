"""A case solved for a steady state: from a coarse grid to its own, with the uncertainty that three grids tell."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence

from wattikos_core.errors import SolveError
from wattikos_core.evidence import (
    Finding,
    GridUncertainty,
    at_least_the_change,
    build_ledger,
    findings_after,
    grid_uncertainty,
    latest,
    unrefined_layers,
)
from wattikos_core.evidence.findings_in_time import findings_after_weight, unsteady
from wattikos_core.evidence.findings_of_modules import findings_after_module
from wattikos_core.grid import quality_of
from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Problem, problem_of
from wattikos_core.read import solved_quantities, watch_for
from wattikos_core.solve import Cancel, Event, Listen, Solution, SolveSettings, solve_steady, start_from
from wattikos_core.solve.checkpoint import Checkpoint
from wattikos_core.solve.iterate import evaluate_state
from wattikos_core.solve.start import at_given_flows
from wattikos_core.studies.gridding import grid_chain
from wattikos_core.studies.preparation import Prepared
from wattikos_core.studies.result import FieldSolution, Result
from wattikos_core.studies.stopping import Stopping


def solve_steady_case(prepared: Prepared, start: Checkpoint | None, listen: Listen, cancel: Cancel) -> Result:
    """Solve a prepared case for its steady state.

    Args:
        prepared: the case made ready.
        start: a former run's checkpoint to begin from.
        listen: told of every step.
        cancel: asked at every step whether to stop.

    Raises:
        SolveError: the solve broke down.
    """
    begun = time.perf_counter()
    solutions = _on_all_grids(prepared, start, listen, cancel)
    problem, solution = solutions[-1]
    read = values_of(prepared, problem, solution)
    uncertainty: dict[Key, GridUncertainty] | None = None
    withheld: list[Finding] = []
    if prepared.case.solve.grid_check and prepared.imported is None and not solution.stopped:
        uncertainty, withheld = _uncertainty(prepared, solutions, read[1])
    return steady_result(prepared, solutions, read, uncertainty, withheld, begun)


def values_of(prepared: Prepared, problem: Problem, solution: Solution) -> tuple[Evaluation, dict[Key, float]]:
    """The balances at a solution, and all quantities that are read of it.

    Raises:
        SolveError: there is no finite solution to read.
    """
    if not solution.state.finite():
        raise SolveError("the solve broke down", "check dimensions and flows, or try a coarser grid first")
    evaluation = evaluate_state(problem, solution.state, solution.interpolation)
    return evaluation, solved_quantities(prepared.resolved, problem, evaluation, solution.state)


def steady_result(
    prepared: Prepared,
    solutions: Sequence[tuple[Problem, Solution]],
    read: tuple[Evaluation, dict[Key, float]],
    uncertainty: Mapping[Key, GridUncertainty] | None,
    told: Sequence[Finding],
    begun: float,
) -> Result:
    """The result of a steady study: the last of its solutions, weighed.

    Args:
        prepared: the case made ready.
        solutions: on all grids, the one that counts last.
        read: of that one, see `values_of`.
        uncertainty: of its quantities, where several grids tell it.
        told: findings of the study itself.
        begun: when it began, by the clock of `time.perf_counter`, s.
    """
    case, resolved = prepared.case, prepared.resolved
    problem, solution = solutions[-1]
    evaluation, values = read
    ledger = build_ledger(resolved, prepared.hand, values, uncertainty)
    findings = prepared.findings + findings_after(
        resolved, prepared.section, problem, solution, evaluation, ledger, prepared.findings
    )
    findings += findings_after_weight(problem, solution, evaluation, ledger)
    findings += findings_after_module(resolved, problem, solution.state, evaluation, ledger)
    findings += told
    swings = unsteady(problem, solution)
    findings += [swings] if swings is not None else []
    grids = [{"cells": float(p.grid.n_cells), "steps": float(len(s.history)), "seconds": s.seconds} for p, s in solutions]
    seconds = sum(s.seconds for _, s in solutions)
    field = FieldSolution(problem, solution, evaluation, quality_of(problem.grid), seconds, grids)
    return Result(case, ledger, latest(findings), time.perf_counter() - begun, field)


def _on_all_grids(prepared: Prepared, start: Checkpoint | None, listen: Listen, cancel: Cancel) -> list[tuple[Problem, Solution]]:
    """Solutions from the coarsest grid to the case's own, each the start of the next.

    There are fewer where the user stopped, and a coarse grid on which no turbulent flow was found is passed over.
    """
    case, solutions, offset = prepared.case, list[tuple[Problem, Solution]](), 0
    chain = grid_chain(prepared, warm=start is not None)
    for index, (grid, tolerance) in enumerate(chain):
        problem = problem_of(prepared.resolved, grid)
        first = None
        if solutions:
            before, coarse = solutions[-1]
            # Turbulence that went astray on a coarse grid is worse than none.
            if coarse.converged or not problem.turbulent.any():
                first = start_from(problem, before.grid, coarse.state, coarse.interpolation)
        elif start is not None:
            state, interpolation = start_from(problem, start.grid, start.state, start.interpolation, start.unknowns)
            first = (state if case.solve.flow == "kept" else at_given_flows(problem, state)), interpolation
        wishes = case.solve
        preliminary = tolerance > wishes.tolerance
        settings = SolveSettings(max(tolerance, wishes.tolerance), wishes.max_steps, wishes.method, wishes.flow, preliminary)
        last = index == len(chain) - 1
        what = "solving" if last else "starting"
        # Rules for ending are for the grid that was asked for.
        stopping = Stopping(prepared.resolved.stops if last else (), _shifted(listen, offset, index, len(chain)), cancel)
        try:
            solution = solve_steady(
                problem,
                settings,
                start=first,
                watch=watch_for(prepared.resolved, problem),
                listen=stopping.listen,
                cancel=stopping.cancel,
                stage=f"{what} on {problem.grid.n_cells:,} cells",
            )
        except SolveError:
            # What is laminar and not steady on a coarse grid will hardly be so on a finer one.
            if last or not problem.turbulent.any():
                raise
            continue
        solution = stopping.ended(solution)
        offset += len(solution.history)
        solutions.append((problem, solution))
        if solution.stopped:
            break
    return solutions


def _shifted(listen: Listen, offset: int, index: int, count: int) -> Listen:
    """Listen to one grid of several: steps counted on, fractions as shares of the whole."""
    weights = [4.0**i for i in range(count)]
    done, own = sum(weights[:index]) / sum(weights), weights[index] / sum(weights)

    def tell(event: Event) -> None:
        listen(Event(event.stage, event.step + offset, event.residuals, event.watches, done + own * event.fraction))

    return tell


def _uncertainty(
    prepared: Prepared, solutions: list[tuple[Problem, Solution]], fine: dict[Key, float]
) -> tuple[dict[Key, GridUncertainty] | None, list[Finding]]:
    """Grid ± of every quantity; or none, and why: a grid that did not converge, or a layer that is not refined."""
    remedy = "refine the grid of this part locally, or the whole section"
    if len(solutions) < 3 or not all(solution.converged for _, solution in solutions):
        text = "no Grid ± is given: not all three of its grids converged"
        return None, [Finding("check", "", text, "look at what keeps the coarser grids from converging, or start from a finer one")]
    grids = [problem.grid for problem, _ in reversed(solutions)]
    layers = unrefined_layers(grids)
    if layers:
        names = " and ".join(f"'{name}'" for name in layers)
        text = f"no Grid ± is given: {names} cannot be gridded finer from grid to grid"
        return None, [Finding("check", layers[0], text, remedy)]
    coarser = []
    for problem, solution in solutions[:-1]:
        coarser.append(values_of(prepared, problem, solution)[1])
    counts = tuple(grid.n_cells for grid in grids)
    dimensions = 1 if 1.0 in (grids[0].spacing.get("rows"), grids[0].spacing.get("columns")) else 2
    found = {}
    for key, value in fine.items():
        if key.quantity in ("mass_balance", "heat_balance") or key not in coarser[0] or key not in coarser[1]:
            continue
        values = (value, coarser[1][key], coarser[0][key])
        found[key] = at_least_the_change(grid_uncertainty(values, counts, dimensions), values)  # type: ignore[arg-type]
    return found, []
