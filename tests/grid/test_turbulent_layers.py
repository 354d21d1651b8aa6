"""First cells next to walls of turbulent streams."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.grid import grid_section
from wattikos_core.grid.turbulent_layers import first_heights
from wattikos_core.section import paint


def first_cells(starter: str, fineness: float, wall: str, part: str, **inputs: str) -> tuple[NDArray[np.float64], float]:
    """Heights of the cells of a part along a wall, and what was asked for, m."""
    document: dict[str, Any] = starter_case(starter).model_dump(mode="json")
    document["physics"]["flow"] = "automatic"
    for name, value in inputs.items():
        document["inputs"][name]["value"] = value
    resolved = resolve(read_case(document))
    section = paint(resolved)
    grid = grid_section(resolved, section, fineness)
    faces = grid.groups[wall]
    index = grid.region_names.index(part)
    cells = np.where(grid.region[grid.owner[faces]] == index, grid.owner[faces], grid.neighbour[faces])
    area = np.linalg.norm(grid.area[faces], axis=1)
    normal = grid.area[faces] / area[:, None]
    reach = np.abs(np.einsum("ij,ij->i", grid.face_centre[faces] - grid.centre[cells], normal))
    return 2.0 * reach, first_heights(resolved, section)[part] / fineness


class Rectilinear(unittest.TestCase):
    def test_first_cells_and_their_refinement(self) -> None:
        for fineness in (0.5, 1.0, 2.0):
            heights, wanted = first_cells("turbulent_double_pipe", fineness, "hot | pipe", "hot")
            np.testing.assert_allclose(heights, wanted, rtol=0.25)

    def test_inlets_and_outlets_are_no_walls(self) -> None:
        heights, wanted = first_cells("turbulent_double_pipe", 1.0, "hot, left", "hot")
        self.assertGreater(float(heights.min()), 20.0 * wanted)


class BodyFitted(unittest.TestCase):
    def test_no_first_cell_is_thicker_than_asked(self) -> None:
        heights, wanted = first_cells("bundle_module", 1.0, "whey | lower tube", "whey", velocity="0.5 m/s")
        self.assertLess(float(heights.max()), 1.3 * wanted)
