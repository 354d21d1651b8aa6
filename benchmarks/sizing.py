"""Sizing: field solves and time for one to three inputs, and how long it takes to look around an answer by hand.

.venv/bin/python -m benchmarks.sizing
"""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar

from wattikos_core.case import Case, starter_case
from wattikos_core.case.series import Varied
from wattikos_core.case.sizing import AimWish, ChosenWish, SizingWish, Spread
from wattikos_core.case.wanted import Wanted
from wattikos_core.ledger import Key
from wattikos_core.studies import Optimum, read_wish, size
from wattikos_core.studies.exploring import feasible_map, pareto_front, proposal_by_hand, scatter
from wattikos_core.studies.search_space import SearchSpace

T = TypeVar("T")
_BOUNDS = {"length": ("300 mm", "2 m"), "hot_height": ("0.8 mm", "3 mm"), "cold_height": ("0.8 mm", "3 mm")}
_GOALS = [
    Wanted(key=Key("effectiveness"), target="0.8"),
    Wanted(key=Key("pressure_drop", "hot"), target="15 Pa", sense="at_most"),
    Wanted(key=Key("pressure_drop", "cold"), target="15 Pa", sense="at_most"),
]


def main() -> None:
    """Print solves and seconds."""
    case = starter_case("plate_passage")
    case = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.5})})
    for count in (1, 2, 3):
        wish = _wish(count)
        begun = time.perf_counter()
        found = size(case, wish)
        seconds = time.perf_counter() - begun
        solves = len(found.trials) + (1 if isinstance(found, Optimum) else 0)
        print(
            f"{count} inputs, {len(wish.goals)} goals: {found.outcome}, {solves} field solves with that for the ±, {seconds:.1f} s"
        )
    _around(case)


def _wish(count: int) -> SizingWish:
    names = list(_BOUNDS)[:count]
    chosen = [ChosenWish(varied=[Varied(input=name)], lower=_BOUNDS[name][0], upper=_BOUNDS[name][1]) for name in names]
    return SizingWish(chosen=chosen, goals=_GOALS[:count], aim=AimWish(expression="length"))


def _around(case: Case) -> None:
    wish = _wish(2).model_copy(update={"second": AimWish(key=Key("pressure_drop", "hot"))})
    space = SearchSpace(case, read_wish(case, wish))
    for name, look in (
        ("best by hand", lambda: proposal_by_hand(space)),
        ("map of 441 places", lambda: feasible_map(space, [], 0, 1)),
        ("front of two aims", lambda: pareto_front(space, [])),
        ("scatter of one input", lambda: scatter(space, [], [Spread(input="hot_flow", plus_minus="5 %")], 0.95)),
    ):
        print(f"{name}: {_seconds(look):.1f} s")


def _seconds(act: Callable[[], T]) -> float:
    begun = time.perf_counter()
    act()
    return time.perf_counter() - begun


if __name__ == "__main__":
    main()
