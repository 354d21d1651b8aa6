"""What is read of a turbulent solution: its fields, y⁺ along walls, friction with what turbulence adds."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from wattikos_core.case import read_case, starter_case
from wattikos_core.read import cell_fields, surface_fields
from wattikos_core.read.instant import Instant
from wattikos_core.read.interpolation import interpolant_of
from wattikos_core.read.walls import all_walls
from wattikos_core.studies import solve_case


class OfADoublePipe(unittest.TestCase):
    def test_fields_and_walls(self) -> None:
        """One stream turbulent, the other laminar: fields end with turbulence, and friction adds up to the drop of pressure."""
        document: dict[str, Any] = starter_case("turbulent_double_pipe").model_dump(mode="json")
        document["grid"]["fineness"] = 0.5
        document["inputs"]["cold_flow"]["value"] = "20 g/s"
        run = solve_case(read_case(document))
        self.assertTrue(run.solution.converged)
        problem, grid, state = run.problem, run.problem.grid, run.solution.state
        fields = cell_fields(problem, state, run.evaluation)
        stirred = grid.region == grid.region_names.index("hot")
        for name in ("turbulence energy", "turbulence frequency", "eddy viscosity ratio"):
            np.testing.assert_array_equal(np.isfinite(fields[name]), stirred)
        self.assertGreater(float(np.nanmax(fields["eddy viscosity ratio"])), 20.0)
        surfaces = surface_fields(problem, state, run.evaluation)
        walls = all_walls(Instant(interpolant_of(grid), fields, surfaces), "y⁺")
        self.assertEqual([wall.path.name for wall in walls], ["hot | pipe"])
        # What the wall takes of the stream's momentum, and what the stream gains of it, is what pressure gives.
        onto = surfaces["friction x"] * 0.0
        kept = np.unique(np.concatenate(list(grid.groups.values())))
        mine = np.isin(kept, grid.groups["hot | pipe"])
        onto[mine] = surfaces["friction x"][mine] * np.linalg.norm(grid.area[kept[mine]], axis=1)
        inlet, outlet = (grid.groups[f"hot, {side}"] for side in ("left", "right"))
        speed = state.velocity[:, 0]
        leaving = float((run.evaluation.flow[outlet] * speed[grid.owner[outlet]]).sum())
        entering = float((run.evaluation.flow[inlet] * problem.given.velocity[inlet, 0]).sum())
        area = grid.area_of("hot, left")
        self.assertAlmostEqual((onto.sum() + leaving + entering) / (run.value("hot pressure drop") * area), 1.0, delta=0.02)
