"""Measure the body-fitted gridder and solves on its polygons; hundreds of random sections are gridded and checked.

python -m benchmarks.polygons              everything, as tables in Markdown
python -m benchmarks.polygons --quick      a tenth of the random sections, up to 15,000 cells
"""

from __future__ import annotations

import argparse
import time
import unittest

from tests.grid.test_bodyfitted import check_conforms
from tests.sections import PLAIN, circle, held, random_section, rectangle, section_case, wall
from wattikos_core.case import Case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.grid import grid_section, quality_of
from wattikos_core.physics import problem_of
from wattikos_core.section import paint
from wattikos_core.solve import SolveSettings, solve_steady
from wattikos_core.studies import grid_of, prepare, solve_case
from wattikos_core.warm import warm_up

SECTIONS = 300


def random_sections(count: int) -> None:
    """Grid random sections; print how many conform, how many are refused, and how long the slowest takes."""
    checker = unittest.TestCase()
    conforming, refused, failed, cells, slowest = 0, 0, [], 0, 0.0
    begun = time.perf_counter()
    for seed in range(count):
        resolved = resolve(random_section(seed))
        started = time.perf_counter()
        try:
            section = paint(resolved)
            grid = grid_section(resolved, section, resolved.case.grid.fineness)
            check_conforms(checker, grid, section)
        except CaseError as error:
            refused += 1
            if not all(p.at is not None or "section.parts[" in p.field for p in error.problems):
                failed.append(seed)
        except AssertionError:
            failed.append(seed)
        else:
            conforming += 1
            cells += grid.n_cells
        slowest = max(slowest, time.perf_counter() - started)
    total = time.perf_counter() - begun
    print(f"{count} random sections: {conforming} conform, {refused} refused with their place, not in order: {failed or 'none'}")
    print(f"{cells / max(conforming, 1):,.0f} cells and {total / count:.2f} s each on average, {slowest:.1f} s the slowest\n")


def block(fineness: float) -> Case:
    """A block with eight holes: conduction alone."""
    repeat = {"pattern": "staggered", "columns": "4", "rows": "2", "dx": "13 mm", "dy": "14 mm"}
    return section_case(
        rectangle("block", "plain", "0 m", "0 m", "60 mm", "40 mm"),
        circle("hole", "void", "10 mm", "10 mm", "8 mm", repeat=repeat),
        conditions=[
            held("block, left", at="80 °C"),
            held("block, right", at="20 °C"),
            wall("block, top", "block, bottom"),
            wall(
                "block, hole 1 outside", thermal="convection", heat_transfer_coefficient="200 W/m^2/K", ambient_temperature="10 °C"
            ),
        ],
        materials={"plain": PLAIN},
        fineness=fineness,
    )


def two_fluids(fineness: float) -> Case:
    """A bundle in oil above a plate with warm water below it, in counterflow."""
    return section_case(
        rectangle("warm", "water", "0 m", "0 m", "200 mm", "10 mm"),
        rectangle("plate", "stainless_304", "0 m", "10 mm", "200 mm", "2 mm"),
        rectangle("cold", "thermal_oil", "0 m", "12 mm", "200 mm", "40 mm"),
        circle(
            "tube",
            "copper",
            "50 mm",
            "24 mm",
            "10 mm",
            heat="20 W",
            repeat={"pattern": "grid", "columns": "4", "rows": "2", "dx": "22 mm", "dy": "16 mm"},
        ),
        conditions=[
            {"type": "inlet", "boundaries": ["warm, left"], "velocity": "5 mm/s", "temperature": "60 °C"},
            {"type": "outlet", "boundaries": ["warm, right"]},
            {"type": "inlet", "boundaries": ["cold, right"], "velocity": "3 mm/s", "temperature": "20 °C"},
            {"type": "outlet", "boundaries": ["cold, left"]},
            wall("warm, bottom", "cold, top", "plate, left", "plate, right"),
        ],
        fineness=fineness,
    )


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--quick", action="store_true")
    quick = parser.parse_args().quick
    warm_up()
    solve_case(block(1.0))
    random_sections(SECTIONS // 10 if quick else SECTIONS)

    print("| grid of the tube bundle, cells | s | skew of faces | growth |\n|---|---|---|---|")
    bundle = starter_case("bundle_staggered")
    for fineness in (1.0, 1.8) if quick else (1.0, 1.8, 3.5):
        prepared = prepare(bundle.model_copy(update={"grid": bundle.grid.model_copy(update={"fineness": fineness})}))
        begun = time.perf_counter()
        grid = grid_of(prepared)
        taken = time.perf_counter() - begun
        quality = quality_of(grid)
        print(f"| {grid.n_cells:,} | {taken:.2f} | {quality.non_orthogonality:.0f}° | {quality.growth:.1f} |")

    print("\n| conduction on polygons to 1e-10, cells | solver, s | steps |\n|---|---|---|")
    for fineness in (1.0, 3.0) if quick else (1.0, 3.0, 5.6):
        prepared = prepare(block(fineness))
        problem = problem_of(prepared.resolved, grid_of(prepared))
        solutions = [solve_steady(problem, SolveSettings(tolerance=1e-10)) for _ in range(3)]
        best = min(solutions, key=lambda s: s.seconds)
        print(f"| {problem.grid.n_cells:,} | {best.seconds:.2f} | {len(best.history)} |")

    print("\n| two-fluid bundle to 1e-8, cells | solver, s | document to ledger, s | heat balance |\n|---|---|---|---|")
    for fineness in (1.0,) if quick else (1.0, 1.5, 2.55):
        run = solve_case(two_fluids(fineness))
        cells, solver = run.field.quality.cells, run.field.solver_seconds
        print(f"| {cells:,} | {solver:.1f} | {run.seconds:.1f} | {run.value('heat balance'):.0e} |")


if __name__ == "__main__":
    main()
