"""Measure natural convection, modules that repeat and runs in time: cost against cells and steps.

python -m benchmarks.in_time
"""

from __future__ import annotations

import argparse
import time
from dataclasses import dataclass

from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.studies import solve_case
from wattikos_core.warm import warm_up


def cavity(rayleigh: float, fineness: float) -> Case:
    """A square cavity of a fluid with Prandtl number 0.71, at a Rayleigh number."""
    fluid = {
        "base": "water",
        "density": "1 kg/m^3",
        "specific_heat": "1000 J/kg/K",
        "conductivity": "0.01 W/m/K",
        "viscosity": "7.1e-6 Pa*s",
        "expansion": "1e-3 1/K",
    }
    # Ra = g β ΔT L³ / (ν α) with ν = 7.1e-6, α = 1e-5, ΔT = 10 K, L = 0.1 m.
    gravity = rayleigh * 7.1e-6 * 1e-5 / (1e-3 * 10.0 * 1e-3)
    part = {
        "name": "box",
        "material": "fluid",
        "shape": {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "0.1 m", "height": "0.1 m"},
    }
    sides = (("left", "30 °C"), ("right", "20 °C"))
    return read_case(
        {
            "title": "square cavity",
            "inputs": {},
            "materials": {"fluid": fluid},
            "section": {"extent": "flat", "parts": [part]},
            "physics": {"gravity_y": f"{-gravity:.9g} m/s^2"},
            "conditions": [
                {"type": "wall", "boundaries": [f"box, {side}"], "thermal": "temperature", "temperature": value}
                for side, value in sides
            ],
            "grid": {"fineness": fineness},
        }
    )


@dataclass(frozen=True)
class RunInTime:
    """The first steps of a starter: cells, steps taken, seconds in the solver, time reached (s), open heat balance."""

    cells: int
    steps: int
    seconds: float
    reached: float
    balance: float


def measured(key: str, fineness: float, steps: int) -> RunInTime:
    """Solve a starter in time until `steps` were taken, or taken back."""
    case = starter_case(key)
    case = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": fineness})})
    left = iter(range(steps))
    run = solve_case(case, cancel=lambda: next(left, None) is None)
    history = run.solution.history
    return RunInTime(
        run.field.quality.cells, len(history) - 1, run.field.solver_seconds, history[-1]["time"], run.value("heat balance")
    )


CAVITIES = ((1e4, 2.0), (1e6, 2.0), (1e6, 4.0), (1e6, 8.0), (1e7, 4.0))
MODULES = (1.0, 2.0, 3.0)
# The melting enclosure of 5,005 cells comes well into its melting.
CASES = (
    ("tank", 2.0, 200),
    ("tank", 4.0, 200),
    ("melting_box", 2.0, 200),
    ("melting_box", 2.7, 300),
    ("melting_box", 4.0, 100),
    ("ice_bank", 0.6, 200),
    ("capsule", 1.5, 200),
)


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--quick", action="store_true")
    quick = parser.parse_args().quick
    warm_up()
    print("| square cavity, Ra | cells | solver, s | document to ledger, s | steps on the last grid |\n|---|---|---|---|---|")
    for rayleigh, fineness in CAVITIES[:3] if quick else CAVITIES:
        begun = time.perf_counter()
        run = solve_case(cavity(rayleigh, fineness))
        seconds = time.perf_counter() - begun
        assert run.solution.converged
        grid = f"{run.field.quality.cells:,} | {run.field.solver_seconds:.1f} | {seconds:.1f}"
        print(f"| {rayleigh:.0e} | {grid} | {len(run.solution.history)} |", flush=True)
    print("\n| bundle module | cells | solver, s | document to ledger, s | steps |\n|---|---|---|---|---|")
    for fineness in MODULES[:2] if quick else MODULES:
        case = starter_case("bundle_module")
        case = case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": fineness})})
        begun = time.perf_counter()
        run = solve_case(case)
        seconds = time.perf_counter() - begun
        assert run.solution.converged
        cells, solver = run.field.quality.cells, run.field.solver_seconds
        print(
            f"| | {cells:,} | {solver:.1f} | {seconds:.1f} | {len(run.solution.history)} |",
            flush=True,
        )
    print("\n| in time | cells | steps | time reached, s | solver, s | s a step | heat balance |\n|---|---|---|---|---|---|---|")
    for key, fineness, steps in CASES:
        f = measured(key, fineness, min(steps, 30) if quick else steps)
        pace = f"{f.steps} | {f.reached:.0f} | {f.seconds:.1f} | {f.seconds / f.steps:.2f}"
        print(f"| {key} | {f.cells:,} | {pace} | {f.balance:.0e} |", flush=True)


if __name__ == "__main__":
    main()
