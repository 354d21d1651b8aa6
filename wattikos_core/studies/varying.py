"""Varying one input by hand: the hand-calculated ledger along a range, for curves that answer at once."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import Case
from wattikos_core.errors import CaseError
from wattikos_core.evidence.ledger import hand_in
from wattikos_core.studies.preparation import estimate_ledger
from wattikos_core.studies.sizing_task import SizingTask, with_input

MOST_POINTS = 60


def vary_by_hand(case: Case, task: SizingTask, count: int) -> list[tuple[float, float]]:
    """Hand-calculated values of `task.key` over the input's range, as (input, quantity) pairs in SI.

    Values of the input at which the hand calculation has no answer are left out.
    """
    points = []
    for value in np.linspace(task.lower, task.upper, min(max(count, 2), MOST_POINTS)):
        try:
            rows = estimate_ledger(with_input(case, task.input, float(value), task.unit))
        except CaseError:
            continue
        found = hand_in(rows, task.key)
        points += [(float(value), found.value)] if found is not None else []
    return points
