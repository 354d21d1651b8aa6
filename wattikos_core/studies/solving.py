"""From a case to its result: prepare, grid, solve, read, weigh. The one way through the house."""

from __future__ import annotations

import time
from dataclasses import replace

from wattikos_core.case import Case
from wattikos_core.solve import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.solve.checkpoint import Checkpoint, unpack_checkpoint
from wattikos_core.studies.accuracy import solve_to_accuracy
from wattikos_core.studies.in_time import OnFrame, solve_case_in_time
from wattikos_core.studies.preparation import prepare
from wattikos_core.studies.result import Result
from wattikos_core.studies.steady import solve_steady_case


def solve_case(
    case: Case,
    *,
    start: bytes | Checkpoint | None = None,
    grid_file: bytes | None = None,
    go_on: bool = False,
    on_frame: OnFrame | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
) -> Result:
    """Solve a case, steady or in time.

    Args:
        case: the document, read.
        start: a former run's checkpoint, as a file or as it is, of this case or a changed one, to begin from.
        grid_file: content of the grid file, for a case that uses one.
        go_on: in time, carry the run that `start` comes from on from where it was, instead of beginning anew.
        on_frame: called with each frame of a run in time as it comes.
        listen: told of every step.
        cancel: asked at every step whether to stop.

    Raises:
        CaseError: the case cannot be solved as it stands.
        SolveError: the solve broke down.

    Example:
        >>> from wattikos_core.case.starters import starter_case
        >>> result = solve_case(starter_case("plate_sink"))
        >>> result.solution.converged
        True
    """
    begun = time.perf_counter()
    prepared = prepare(case, grid_file)
    listen(Event("gridding", 0))
    former = unpack_checkpoint(start) if isinstance(start, bytes) else start
    if prepared.resolved.time is not None:
        result = solve_case_in_time(prepared, former, go_on, on_frame, listen, cancel)
    elif case.solve.good_enough is not None:
        result = solve_to_accuracy(prepared, listen, cancel)
    else:
        result = solve_steady_case(prepared, former, listen, cancel)
    return replace(result, seconds=time.perf_counter() - begun)
