"""Error against cells and seconds at default settings, for exact and published cases: what a user gets without touching anything.

python -m benchmarks.accuracy
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
from scipy.optimize import brentq

from benchmarks.in_time import cavity
from tests.solve.test_runs_in_time import in_time, slab, slab_exactly
from tests.support import INSULATED, WALL_AT_60, duct
from wattikos_core.case import read_case
from wattikos_core.studies import Result, solve_case
from wattikos_core.warm import warm_up

# Mean Nusselt numbers of the square cavity: de Vahl Davis (1983) as refined by Le Quéré (1991), from memory.
CAVITY = {1e4: 2.2448, 1e5: 4.5216, 1e6: 8.8252, 1e7: 16.523}


def slabs(fineness: float) -> tuple[Result, float]:
    """A cooled slab after 20 s: largest error of its profile as a share of the span; Carslaw and Jaeger (1959)."""
    run = in_time(slab(), fineness, 20.0)
    return run, float(np.abs(run.evaluation.temperature - slab_exactly(run.problem.grid.centre[:, 0], 20.0)).max()) / 100.0


def cavities(rayleigh: float) -> Callable[[float], tuple[Result, float]]:
    """Mean Nusselt number of the square cavity."""

    def solve(fineness: float) -> tuple[Result, float]:
        run = solve_case(cavity(rayleigh, fineness))
        return run, abs(run.value("heat out through box, left")) / 0.1 / CAVITY[rayleigh] - 1.0

    return solve


def ducts(bottom: dict[str, Any], top: dict[str, Any], exact: float) -> Callable[[float], tuple[Result, float]]:
    """Friction of developed flow between plates, f Re = 96, by the fall of pressure; and the Nusselt number far downstream."""

    def solve(fineness: float) -> tuple[Result, float]:
        run = solve_case(duct(length=2.0, height=0.01, reynolds=50.0, bottom=bottom, top=top, diameter=0.02, fineness=fineness))
        speed = 50.0 * 0.0015 / (1000.0 * 0.02)
        drop = 12.0 * 0.0015 * speed * 2.0 / 0.01**2
        if exact == 0.0:
            return run, run.value("duct pressure drop") / drop - 1.0
        return run, run.value("duct log-mean Nusselt number") / exact - 1.0

    return solve


def foil(fineness: float) -> tuple[Result, float]:
    """A foil with a source between thick plates: its mean temperature as a share of its rise, exact parabola."""

    def layer(name: str, y: float, height: float, **more: str) -> dict[str, Any]:
        shape = {"type": "rectangle", "x": "0 mm", "y": f"{y} mm", "width": "10 mm", "height": f"{height} mm"}
        return {"name": name, "material": "p" if more else "s", "shape": shape, **more}

    edges = [
        {"type": "wall", "boundaries": [b], "thermal": "temperature", "temperature": "20 degC"} for b in ("a, bottom", "b, top")
    ]
    document = {
        "title": "foil",
        "inputs": {},
        "section": {"extent": "flat", "parts": [layer("a", 0, 5), layer("foil", 5, 0.5, heat="2e8 W/m^3"), layer("b", 5.5, 5)]},
        "materials": {key: {"base": "aluminium", "conductivity": f"{k} W/m/K"} for key, k in (("s", 15.0), ("p", 0.2))},
        "conditions": edges,
        "grid": {"fineness": fineness},
    }
    run = solve_case(read_case(document))
    rise = 0.5 * 2e8 * 0.5e-3 * 0.005 / 15.0 + 2e8 * 0.5e-3**2 / (12.0 * 0.2)
    return run, (run.value("mean temperature of foil") - 293.15) / rise - 1.0


def fin(fineness: float) -> tuple[Result, float]:
    """A straight fin of 40 x 1 mm, k 15, h 50 W/(m2 K) on its sides: heat of its base by tanh mL / mL (exact in one dimension)."""
    shape = {"type": "rectangle", "x": "0 mm", "y": "0 mm", "width": "40 mm", "height": "0.5 mm"}
    cooled = {
        "type": "wall",
        "boundaries": ["f, top"],
        "thermal": "convection",
        "heat_transfer_coefficient": "50 W/m^2/K",
        "ambient_temperature": "20 degC",
    }
    base = {"type": "wall", "boundaries": ["f, left"], "thermal": "temperature", "temperature": "80 degC"}
    document = {
        "title": "fin",
        "inputs": {},
        "section": {"extent": "flat", "parts": [{"name": "f", "material": "m", "shape": shape}]},
        "materials": {"m": {"base": "aluminium", "conductivity": "15 W/m/K"}},
        "conditions": [cooled, base, {"type": "symmetry", "boundaries": ["f, bottom"]}],
        "grid": {"fineness": fineness},
    }
    run = solve_case(read_case(document))
    # Two-dimensional: eigenvalues z tan z = Bi across the half thickness.
    biot, half, length = 50.0 * 0.5e-3 / 15.0, 0.5e-3, 0.04
    z = np.array(
        [brentq(lambda x: x * np.sin(x) - biot * np.cos(x), n * np.pi + 1e-12, n * np.pi + 0.5 * np.pi) for n in range(60)]
    )
    weight = 2.0 * np.sin(z) / (z + np.sin(z) * np.cos(z))
    heat = float(np.sum(15.0 * 60.0 * weight * z / half * np.tanh(z / half * length) * np.sin(z) * half / z))
    return run, abs(run.value("heat out through f, left")) / heat - 1.0


def cases() -> Iterator[tuple[str, str, Callable[[float], tuple[Result, float]], tuple[float, ...]]]:
    """Name, source, how it is solved at a fineness, and at which."""
    yield "slab in time, profile", "Carslaw and Jaeger (1959)", slabs, (0.5, 1.0, 2.0, 4.0)
    for rayleigh in CAVITY:
        yield f"square cavity, Ra {rayleigh:.0e}, Nu", "de Vahl Davis (1983)", cavities(rayleigh), (1.0, 2.0)
    yield "plates, f Re 96", "exact", ducts(INSULATED, INSULATED, 0.0), (1.0, 2.0)
    yield (
        "plates at one temperature, Nu",
        "Shah and London (1978)",
        ducts(WALL_AT_60, WALL_AT_60, 7.5407 + 0.0235 / (2.0 / 0.02 / 500.0)),
        (1.0, 2.0),
    )
    yield "foil with a source", "exact", foil, (0.5, 1.0, 2.0)
    yield "fin, heat of its base", "exact", fin, (1.0, 2.0)


def main() -> None:
    """Solve and print."""
    warm_up()
    print("| case | source | fineness | cells | error | seconds |\n|---|---|---|---|---|---|")
    for name, source, solve, levels in cases():
        for fineness in levels:
            begun = time.perf_counter()
            run, error = solve(fineness)
            seconds = time.perf_counter() - begun
            assert run.solution.converged
            print(f"| {name} | {source} | {fineness:g} | {run.field.quality.cells:,} | {error:+.3%} | {seconds:.1f} |", flush=True)


if __name__ == "__main__":
    main()
