"""The record of a run: everything it was solved with beside its case, so that it can be repeated and its numbers traced."""

from __future__ import annotations

import os
import platform
from importlib.metadata import PackageNotFoundError, version
from typing import Any

from wattikos_core.case import Case
from wattikos_core.physics import Problem
from wattikos_core.solve import Solution
from wattikos_core.solve.linear import direct_solver_available

# What numbers depend on.
_PACKAGES = ("wattikos", "numpy", "scipy", "numba", "CoolProp", "pypardiso", "pyamg", "shapely", "pydantic")


def record_of(case: Case, problem: Problem, solution: Solution) -> dict[str, Any]:
    """A record as plain data.

    Args:
        case: as it was solved.
        problem: the discrete problem.
        solution: what was found.
    """
    grid = problem.grid
    materials = {
        part: {
            "material": table.label,
            "source": table.source,
            "from": table.start_temperature,
            "to": table.end,
            "pressure": table.pressure if table.fluid else None,
        }
        for part, table in zip(grid.region_names, problem.materials, strict=True)
    }
    wishes = case.solve
    schemes = {
        "method": solution.method,
        "convection": case.physics.convection,
        "density": case.physics.density,
        "residual limit": wishes.tolerance,
        "steps": len(solution.history),
        "direct solver": direct_solver_available(),
    }
    if (turbulence := problem.physics.turbulence) is not None:
        schemes |= {"turbulent Prandtl number": case.physics.turbulent_prandtl, "transition": turbulence.transition}
        schemes |= {"turbulent shear stress": case.physics.turbulent_stress}
        schemes |= {"turbulent production": case.physics.turbulent_production}
    if solution.time is not None:
        schemes |= {"order in time": case.time.order, "accuracy of steps": case.time.accuracy, "fixed steps": case.time.fixed}
    return {
        "document": case.version,
        "versions": {"Python": platform.python_version()} | {name: found for name in _PACKAGES if (found := _version(name))},
        "machine": {"system": platform.platform(), "processor": platform.machine(), "cores": os.cpu_count()},
        "grid": {"cells": grid.n_cells, "faces": grid.n_faces, "nodes": len(grid.nodes), "fineness": case.grid.fineness},
        "schemes": schemes,
        "materials": materials,
    }


def _version(name: str) -> str:
    try:
        return version(name)
    except PackageNotFoundError:
        return ""
