"""A series solved point by point, on several processes, each point begun from the nearest ones that are solved."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Executor, Future, ProcessPoolExecutor, wait
from contextlib import nullcontext
from dataclasses import dataclass
from multiprocessing import get_context

import numpy as np

from wattikos_core.case import Case
from wattikos_core.case.series import Varied
from wattikos_core.errors import CaseError, SolveError
from wattikos_core.ledger import Key
from wattikos_core.solve import Cancel, Listen, never_cancel, silent
from wattikos_core.solve.checkpoint import Checkpoint, mixed
from wattikos_core.studies.result import Result
from wattikos_core.studies.series import Values, apart, case_at, coordinates, weights_of
from wattikos_core.studies.solving import solve_case

NOT_CONVERGED = "it did not converge, and what it gives is not used; look at the case at this point by itself"


@dataclass(frozen=True)
class SolvedPoint:
    """A point that was solved: values and Grid ± by key, SI; or why it was not.

    Attributes:
        start: from which point it was begun; None where it was begun cold.
    """

    number: int
    values: dict[Key, float]
    plus_minus: dict[Key, float]
    converged: bool
    seconds: float
    start: int | None = None
    problem: str = ""


def solve_points(
    case: Case, varied: Sequence[Varied], points: Sequence[Values], *, processes: int = 1, pool: Executor | None = None
) -> Iterator[SolvedPoint]:
    """Solve the points of a series; each is given as soon as it is solved.

    Args:
        case: as it stands.
        varied: what `points` are values of.
        points: see `points_of`.
        processes: how many points are solved at a time; 1 solves them here.
        pool: of processes that are there already; one is begun for the series otherwise.
    """
    places = coordinates(case, varied, points)
    solved: dict[int, Checkpoint] = {}

    def near(number: int) -> tuple[int | None, Checkpoint | None]:
        """The nearest point that is solved, and what it has, led on to where the point lies by what others have."""
        found = weights_of(places, number, list(solved))
        return (found[0][0], led_on([(solved[row], weight) for row, weight in found])) if found else (None, None)

    if processes == 1:
        for number, values in enumerate(points):
            found, begins = _solve(case_at(case, varied, values), number, *near(number))
            if begins is not None:
                solved[number] = begins
            yield found
        return
    left = list(range(len(points)))
    going: set[Future[tuple[SolvedPoint, Checkpoint | None]]] = set()
    with nullcontext(pool) if pool is not None else ProcessPoolExecutor(processes, get_context("spawn")) as workers:
        while left or going:
            while left and len(going) < processes:
                number = _next(places, left, list(solved))
                left.remove(number)
                going.add(workers.submit(_solve, case_at(case, varied, points[number]), number, *near(number)))
            done, going = wait(going, return_when=FIRST_COMPLETED)
            for future in done:
                found, begins = future.result()
                if begins is not None:
                    solved[found.number] = begins
                yield found


def _next(places: np.ndarray, left: Sequence[int], solved: Sequence[int]) -> int:
    """Of the points that are left the one that lies nearest to one that is solved; the first where none is."""
    return left[int(np.argmin(apart(places, left, solved).min(axis=1)))] if solved else left[0]


def led_on(starts: Sequence[tuple[Checkpoint, float]]) -> Checkpoint:
    """One to begin from, of several with their weights (see `weights_of`)."""
    return starts[0][0] if len(starts) == 1 else mixed([start for start, _ in starts], [weight for _, weight in starts])


def solve_near(case: Case, start: bytes | Checkpoint, listen: Listen = silent, cancel: Cancel = never_cancel) -> Result | None:
    """A steady case begun from a solution of a similar one; None where that leads nowhere, so that it is to be begun cold."""
    if case.physics.regime != "steady":
        return None
    try:
        found = solve_case(case, start=start, listen=listen, cancel=cancel)
    except SolveError:
        return None
    return found if found.solution.converged or found.solution.stopped else None


def _solve(case: Case, number: int, near: int | None, start: Checkpoint | None) -> tuple[SolvedPoint, Checkpoint | None]:
    """A point, and what others can begin from: nothing of one that cannot be solved."""
    try:
        result = solve_near(case, start) if start is not None else None
        begun = near if result is not None else None
        result = solve_case(case) if result is None else result
    except CaseError as error:
        problem = error.problems[0]
        return SolvedPoint(number, {}, {}, False, 0.0, None, f"{problem.field}: {problem.problem}; {problem.remedy}"), None
    except SolveError as error:
        return SolvedPoint(number, {}, {}, False, 0.0, None, f"{error.reason}; {error.remedy}"), None
    values = {row.key: row.solved for row in result.ledger if row.solved is not None}
    spread = {row.key: row.plus_minus for row in result.ledger if row.plus_minus is not None}
    if not result.solution.converged:
        return SolvedPoint(number, {}, {}, False, result.seconds, begun, NOT_CONVERGED), None
    return SolvedPoint(number, values, spread, True, result.seconds, begun), result.solution.begins()
