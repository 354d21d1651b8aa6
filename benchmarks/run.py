"""Measure the figures of README.md: hand calculation, solves against cells, sizing.

python -m benchmarks.run            everything, as a table in Markdown
python -m benchmarks.run --quick    up to 10,000 cells
"""

from __future__ import annotations

import argparse
import platform
import time

from wattikos_core.case import Case, starter_case
from wattikos_core.ledger import Key
from wattikos_core.studies import estimate_ledger, grid_of, prepare, read_task, size_case, solve_case
from wattikos_core.warm import warm_up

REPEATS = 3


def passage(fineness: float) -> Case:
    """The plate passage at a fineness."""
    case = starter_case("plate_passage")
    return case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": fineness})})


def best_of(action: object, repeats: int = REPEATS) -> float:
    """The shortest of several times, s."""
    times = []
    for _ in range(repeats):
        begun = time.perf_counter()
        action()  # type: ignore[operator]
        times.append(time.perf_counter() - begun)
    return min(times)


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--quick", action="store_true")
    quick = parser.parse_args().quick
    warm_up()
    print(f"{platform.processor() or platform.machine()}, Python {platform.python_version()}\n")
    hand = best_of(lambda: estimate_ledger(passage(1.0)), 10)
    print(f"hand calculation from document to ledger: {1000 * hand:.1f} ms\n")
    print("| cells | grid, s | solver, s | document to ledger, s | steps on the last grid | heat balance |")
    print("|---|---|---|---|---|---|")
    for fineness in (0.48, 0.84, 1.12, 1.58) if quick else (0.48, 0.84, 1.12, 1.58, 2.2, 3.14, 5.0):
        case = passage(fineness)
        gridding = best_of(lambda case=case: grid_of(prepare(case)))
        runs = [solve_case(case) for _ in range(1 if fineness > 3.0 else REPEATS)]
        run = min(runs, key=lambda r: r.seconds)
        steps, balance = len(run.solution.history), run.value("heat balance")
        cells, solver = run.field.quality.cells, run.field.solver_seconds
        print(f"| {cells:,} | {gridding:.2f} | {solver:.2f} | {run.seconds:.2f} | {steps} | {balance:.0e} |")
    case = passage(1.4)
    task = read_task(case, input="length", key=Key("effectiveness"), target="0.85")
    begun = time.perf_counter()
    result = size_case(case, task)
    print(f"\nsizing the length for effectiveness 0.85: {time.perf_counter() - begun:.1f} s, {len(result.trials)} field solves")


if __name__ == "__main__":
    main()
