"""Compile and load what a first solve needs, so that no user waits for it."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import starter_case
from wattikos_core.radiation import pieces_of, view_factors
from wattikos_core.solve.linear import direct_solver_available
from wattikos_core.studies import solve_case


def warm_up() -> None:
    """Solve a tiny case: fills numba's caches, loads the fluid properties and the linear solvers."""
    # Radiation has kernels of its own, and other ones about an axis.
    can = np.array([[1.0, 0.0], [1.0, 0.5], [0.0, 0.5], [0.0, 0.1], [0.5, 0.1], [0.5, 0.0]])
    view_factors(pieces_of(can[:-1], can[1:], axisymmetric=True))
    for key in ("plate_passage", "oven_wall"):
        _solve_coarsely(key)


def _solve_coarsely(key: str) -> None:
    case = starter_case(key)
    method = "automatic" if direct_solver_available() else "segregated"
    update = {"grid": case.grid.model_copy(update={"fineness": 0.25}), "solve": case.solve.model_copy(update={"method": method})}
    solve_case(case.model_copy(update=update))


if __name__ == "__main__":
    warm_up()
