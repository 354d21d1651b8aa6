"""A grid study: the same case on three to six grids, each with the same ratio to the next, and what all quantities point to."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from wattikos_core.case import Case, resolve
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence import grid_uncertainty
from wattikos_core.evidence.least_squares import fit_grids
from wattikos_core.ledger import Key
from wattikos_core.solve import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.studies.result import Result
from wattikos_core.studies.solving import solve_case

_THREE = 3
_FINEST, _COARSEST = 8.0, 0.25


@dataclass(frozen=True)
class StudiedGrid:
    """One grid of a study: the fineness that makes it (or the number of cells asked for), its cells, and the time it took, s."""

    fineness: float
    wished_cells: int | None
    cells: int
    seconds: float
    converged: bool
    values: dict[Key, float]


@dataclass(frozen=True)
class StudiedQuantity:
    """A quantity on all grids, from coarse to fine.

    Attributes:
        plus_minus: of each value.
        order: observed; None where there is none to be trusted.
        good_enough: number of the coarsest grid whose ± is within the tolerance, as is that of all finer ones; None for none.
    """

    key: Key
    values: tuple[float, ...]
    extrapolated: float
    plus_minus: tuple[float, ...]
    order: float | None
    good_enough: int | None


@dataclass(frozen=True)
class GridStudy:
    """Grids from coarse to fine, and quantities that all of them have; `stopped` where it was asked to end before."""

    grids: tuple[StudiedGrid, ...]
    quantities: tuple[StudiedQuantity, ...]
    stopped: bool


def study_grids(
    case: Case,
    *,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
    on_grid: Callable[[StudiedGrid], None] | None = None,
) -> GridStudy:
    """Solve a case on several grids: its own, one finer, and as many coarser ones as its wishes say.

    Args:
        case: the case, with its wishes in `solve.study`.
        listen: told of every step.
        cancel: asked at every step whether to stop.
        on_grid: called with each grid that has been solved on.

    Raises:
        CaseError: the case cannot be solved, or its grid comes from a file.
        SolveError: a solve broke down.
    """
    if case.grid.file:
        raise CaseError(InputProblem("grid.file", "the grid comes from a file", "take the file out, so that grids can be made"))
    grids: list[StudiedGrid] = []
    cases = _cases(case)
    start: bytes | None = None
    for index, one in enumerate(cases):
        run = solve_case(one, start=start, listen=_part(listen, index, len(cases)), cancel=cancel)
        if run.solution.stopped:
            return GridStudy(tuple(grids), _quantities(case, grids), True)
        grids.append(_studied(one, run))
        if on_grid is not None:
            on_grid(grids[-1])
        start = run.solution.checkpoint() if run.solution.time is None else None
    return GridStudy(tuple(grids), _quantities(case, grids), False)


def _cases(case: Case) -> list[Case]:
    """The case on its grids, from coarse to fine: the last but one is its own."""
    wishes = case.solve.study
    solve = case.solve.model_copy(update={"grid_check": False, "good_enough": None})
    powers = range(2 - wishes.grids, 2)
    if case.grid.cells is not None:
        counts = [max(20, min(400_000, round(case.grid.cells * wishes.ratio ** (2 * power)))) for power in powers]
        updates: list[dict[str, float]] = [{"cells": count} for count in counts]
    else:
        wished = [case.grid.fineness * wishes.ratio**power for power in powers]
        updates = [{"fineness": float(f"{min(max(fineness, _COARSEST), _FINEST):.4g}")} for fineness in wished]
    return [case.model_copy(update={"solve": solve, "grid": case.grid.model_copy(update=update)}) for update in updates]


def _studied(case: Case, run: Result) -> StudiedGrid:
    values = {row.key: row.solved for row in run.ledger if row.solved is not None}
    values = {key: value for key, value in values.items() if key.quantity not in ("mass_balance", "heat_balance")}
    return StudiedGrid(case.grid.fineness, case.grid.cells, run.field.quality.cells, run.seconds, run.solution.converged, values)


def _part(listen: Listen, index: int, count: int) -> Listen:
    """Listen to one solve of several, each taking about four times as long as the one before."""
    weights = [4.0**i for i in range(count)]
    done, own = sum(weights[:index]) / sum(weights), weights[index] / sum(weights)

    def tell(event: Event) -> None:
        stage = f"grid {index + 1} of {count}: {event.stage}"
        listen(Event(stage, event.step, event.residuals, event.watches, done + own * event.fraction, event.time))

    return tell


def _quantities(case: Case, grids: Sequence[StudiedGrid]) -> tuple[StudiedQuantity, ...]:
    if len(grids) < _THREE:
        return ()
    shared = [key for key in grids[-1].values if all(key in grid.values for grid in grids)]
    given = resolve(case).temperatures_given
    span = max(given) - min(given) if given else 0.0
    return tuple(studied_quantity(key, grids, case.solve.study.good_enough, span) for key in shared)


def studied_quantity(key: Key, grids: Sequence[StudiedGrid], tolerance: float, span: float) -> StudiedQuantity:
    """What one quantity on three or more grids points to: Celik et al. (2008) for three, least squares for more.

    Args:
        key: the quantity.
        grids: from coarse to fine.
        tolerance: what is good enough, as a share of the value; of a temperature, of the span of those given.
        span: of the temperatures given, K; one kelvin counts where they do not differ.
    """
    values, cells = [grid.values[key] for grid in grids], [grid.cells for grid in grids]
    if len(grids) == _THREE:
        three = grid_uncertainty((values[2], values[1], values[0]), (cells[2], cells[1], cells[0]))
        extrapolated, order = three.extrapolated, three.order if three.order == three.order else None
        # The ± is that of the finest grid; on coarser ones the error grows as the distance to what they point to.
        width = [three.plus_minus * abs(v - extrapolated) / max(abs(values[2] - extrapolated), 1e-300) for v in values]
        plus_minus = tuple(w if three.plus_minus > 0.0 else abs(v - extrapolated) for w, v in zip(width, values, strict=True))
    else:
        fit = fit_grids(values, cells)
        extrapolated, order, plus_minus = fit.extrapolated, fit.order, fit.plus_minus
    most = [tolerance * (span or 1.0) if key.kind == "temperature" else tolerance * abs(value) for value in values]
    enough = [width <= limit for width, limit in zip(plus_minus, most, strict=True)]
    good = next((i for i in range(len(grids)) if all(enough[i:])), None)
    return StudiedQuantity(key, tuple(values), extrapolated, plus_minus, order, good)
