"""Cost of turbulent flow against cells and Reynolds number: `python -m benchmarks.turbulence`, cold starts, kernels compiled."""

from __future__ import annotations

import time

from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.case.starters.building import given, periodic, rectangle, symmetry, temperature
from wattikos_core.studies import solve_case


def changed(starter: str, fineness: float, **inputs: str) -> Case:
    """A starter with other inputs, its streams turbulent by their Reynolds numbers."""
    document = starter_case(starter).model_dump(mode="json")
    document["physics"]["flow"] = "automatic"
    document["grid"]["fineness"] = fineness
    for name, value in inputs.items():
        document["inputs"][name]["value"] = value
    return read_case(document)


def pipe_module(fineness: float) -> Case:
    """A piece of a pipe of 20 mm, one diameter long, that repeats: water of 2 m/s, heated."""
    document = {
        "version": 6,
        "title": "a piece of a pipe",
        "inputs": {"velocity": given("velocity", "2 m/s", "mean"), "inlet": temperature("20 °C", "of the water")},
        "section": {"extent": "axisymmetric", "parts": [rectangle("water", "water", "0 m", "0 m", "20 mm", "10 mm")]},
        "conditions": [
            periodic("water, left", "water, right", "inlet", velocity="velocity", modules="1"),
            {"type": "wall", "boundaries": ["water, top"], "thermal": "heat_flux", "heat_flux": "10 kW/m^2"},
            symmetry("water, bottom"),
        ],
        "physics": {"flow": "turbulent"},
        "grid": {"fineness": fineness},
    }
    return read_case(document)


def timed(name: str, case: Case) -> None:
    """Solve a case and say how long it took."""
    begun = time.perf_counter()
    result = solve_case(case)
    assert result.field is not None
    cells = ", ".join(f"{int(grid['cells']):,} in {int(grid['steps'])} steps" for grid in result.field.grids)
    state = "converged" if result.solution.converged else "NOT CONVERGED"
    print(f"{name:40} {time.perf_counter() - begun:7.1f} s  {state}  {cells}", flush=True)


def main() -> None:
    """Kernels first, then cells, then Reynolds numbers."""
    solve_case(changed("turbulent_double_pipe", 0.5))
    for fineness in (1.0, 1.7, 2.45):
        timed(f"double pipe, fineness {fineness}", changed("turbulent_double_pipe", fineness))
    for flow in ("100 g/s", "400 g/s", "1.6 kg/s"):
        timed(f"double pipe, {flow} in the pipe", changed("turbulent_double_pipe", 1.0, hot_flow=flow, cold_flow="400 g/s"))
    timed("pipe, one piece that repeats", pipe_module(6.5))
    timed("ribbed duct, one pitch", changed("turbulent_ribs", 2.0))
    timed("staggered bundle, one module", changed("bundle_module", 2.0, velocity="0.5 m/s"))


if __name__ == "__main__":
    main()
