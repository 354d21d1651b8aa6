"""Series: thousands of points by hand, and nine solved points on one process, on two, and each by itself from scratch.

python -m benchmarks.series
"""

from __future__ import annotations

import time
from concurrent.futures import ProcessPoolExecutor, wait
from multiprocessing import get_context

from wattikos_core.case import Case, starter_case
from wattikos_core.case.document import GridWishes
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.grid.memory import forget_grids
from wattikos_core.studies import solve_case
from wattikos_core.studies.series import by_hand, case_at, points_of
from wattikos_core.studies.series_solving import solve_points
from wattikos_core.warm import warm_up

HAND = 300
SOLVED = {
    "pin_channel": [Varied(input="power", values="0.1, 0.2, 0.3 W"), Varied(input="velocity", values="0.1..0.2 m/s : 3")],
    "plate_passage": [Varied(input="length", values="400..800 mm : 3"), Varied(input="hot_flow", values="4..6 g/s : 3")],
    "bundle_staggered": [Varied(input="velocity", values="1..2 mm/s : 3"), Varied(input="heating", values="55..75 °C : 3")],
}


def hand() -> None:
    """Time of a point by hand, on one process."""
    for name, values in (("plate_passage", "400..900 mm"), ("feed_line", "5..20 m"), ("bundle_staggered", "1..2 mm/s")):
        case = starter_case(name)
        what = "velocity" if name == "bundle_staggered" else "length"
        varied = [Varied(input=what, values=f"{values} : {HAND}")]
        points = points_of(case, SeriesWish(varied=varied))
        by_hand(case, varied, points[:3])
        begun = time.perf_counter()
        by_hand(case, varied, points)
        each = (time.perf_counter() - begun) / HAND
        print(f"{name}: {1e3 * each:.1f} ms a point by hand, 10,000 in {10_000 * each:.0f} s on one process")


def solved(name: str, varied: list[Varied]) -> None:
    """Nine points, three ways."""
    case: Case = starter_case(name)
    points = points_of(case, SeriesWish(varied=varied))
    begun = time.perf_counter()
    for values in points:
        forget_grids()
        solve_case(case_at(case, varied, values))
    cold = time.perf_counter() - begun
    forget_grids()
    begun = time.perf_counter()
    assert all(point.converged for point in solve_points(case, varied, points))
    one = time.perf_counter() - begun
    with ProcessPoolExecutor(2, get_context("spawn")) as pool:
        # As those of the engine are: begun and warm.
        wait([pool.submit(_ready, name) for _ in range(4)])
        begun = time.perf_counter()
        assert all(point.converged for point in solve_points(case, varied, points, processes=2, pool=pool))
        two = time.perf_counter() - begun
    print(
        f"{name}, {len(points)} points: {cold:.1f} s each from scratch, {one:.1f} s in turn ({cold / one:.1f} times as fast), "
        f"{two:.1f} s on two processes ({one / two:.1f} times as fast as on one)"
    )


def _ready(name: str) -> None:
    warm_up()
    solve_case(starter_case(name).model_copy(update={"grid": GridWishes(fineness=0.3)}))


if __name__ == "__main__":
    warm_up()
    hand()
    for name, varied in SOLVED.items():
        solved(name, varied)
