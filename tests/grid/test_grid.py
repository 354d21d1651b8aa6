"""Grids: geometry is exact, refinement is true refinement, values carry over."""

from __future__ import annotations

import json
import unittest

import numpy as np

from tests.support import quads, triangles
from wattikos_core.case import read_case, resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.grid import Grid, cells_between, grid_rectangles, grid_section, quality_of, section_lines, transfer
from wattikos_core.grid.rectilinear import lines_of
from wattikos_core.section import paint


def closed(grid: Grid) -> float:
    """The largest sum of a cell's area vectors, which must vanish."""
    total = np.zeros((grid.n_cells, 2))
    inner = grid.neighbour >= 0
    for axis in (0, 1):
        total[:, axis] += np.bincount(grid.owner, grid.area[:, axis], grid.n_cells)
        total[:, axis] -= np.bincount(grid.neighbour[inner], grid.area[inner, axis], grid.n_cells)
    return float(np.abs(total).max())


class Geometry(unittest.TestCase):
    def test_flat_cells_close_and_fill(self) -> None:
        lines = np.linspace(0.0, 2.0, 9)
        for grid in (quads(lines, lines, shake=0.3, depth=0.5), triangles(6)):
            self.assertLess(closed(grid), 1e-14)
        self.assertAlmostEqual(quads(lines, lines, shake=0.3, depth=0.5).volume.sum(), 2.0)
        self.assertAlmostEqual(triangles(6).volume.sum(), 1.0)

    def test_axisymmetric_volume_is_that_of_the_cylinder(self) -> None:
        grid = quads(np.linspace(0.0, 3.0, 5), np.linspace(0.0, 2.0, 7), axisymmetric=True)
        self.assertAlmostEqual(grid.volume.sum(), np.pi * 4.0 * 3.0, places=10)
        self.assertAlmostEqual(grid.area_of("fluid, top"), 2.0 * np.pi * 2.0 * 3.0, places=10)

    def test_an_edge_has_at_most_two_cells(self) -> None:
        grid = quads(np.linspace(0.0, 1.0, 3), np.linspace(0.0, 1.0, 3))
        inner = grid.neighbour >= 0
        self.assertEqual(int(inner.sum()), 4)
        self.assertTrue(np.all(grid.owner[inner] < grid.neighbour[inner]))


class Rectilinear(unittest.TestCase):
    section = paint(resolve(starter_case("plate_passage")))

    def test_regions_and_boundaries_are_exact(self) -> None:
        grid = grid_rectangles(self.section, 0.5, depth=0.18)
        for index, name in enumerate(grid.region_names):
            height = {"hot": 0.0012, "cold": 0.0012, "plate": 0.0006}[name]
            self.assertAlmostEqual(grid.volume[grid.region == index].sum() / (0.6 * height * 0.18), 1.0, places=12)
        for name, boundary in self.section.boundaries.items():
            self.assertAlmostEqual(grid.area_of(name) / (0.18 * boundary.length), 1.0, places=12)

    def test_double_fineness_halves_every_cell(self) -> None:
        coarse, fine = (lines_of(self.section, f)[1] for f in (1.0, 2.0))
        self.assertEqual(fine.size - 1, 2 * (coarse.size - 1))
        self.assertLess(float(np.abs(fine[::2] - coarse).max()), 2e-6)
        growth = [quality_of(grid_rectangles(self.section, f)).growth for f in (1.0, 2.0)]
        self.assertAlmostEqual(growth[1], growth[0] ** 0.5, delta=0.01)

    def test_cells_are_thin_at_walls_and_not_at_symmetry(self) -> None:
        _, y = lines_of(self.section, 1.0, ["hot, top", "cold, bottom"])
        sizes = np.diff(y)
        hot = sizes[y[:-1] >= 0.0018 - 1e-12]
        self.assertLess(hot[0], 0.3 * hot[-1])

    def test_too_many_cells_are_refused(self) -> None:
        with self.assertRaises(CaseError):
            grid_rectangles(self.section, 8.0 * 2.0)

    def test_quality_of_a_tensor_grid(self) -> None:
        quality = quality_of(grid_rectangles(self.section, 0.5))
        self.assertAlmostEqual(quality.non_orthogonality, 0.0, places=4)
        self.assertGreater(quality.aspect_ratio, 50.0)

    def test_cells_are_counted_without_voids(self) -> None:
        """Half of the plate passage's channel is cut out: what is said before gridding is what gridding makes."""
        data = json.loads(starter_case("plate_passage").model_dump_json())
        shape = {"type": "rectangle", "x": "length/4", "y": "0 m", "width": "length/2", "height": "1 m"}
        data["section"]["parts"].append({"name": "cut", "material": "void", "shape": shape})
        resolved = resolve(read_case({**data, "estimates": []}))
        section = paint(resolved)
        x, y = section_lines(resolved, section, 0.5)
        grid = grid_section(resolved, section, 0.5)
        self.assertEqual(cells_between(section, x, y), grid.n_cells)
        self.assertLess(grid.n_cells, 0.8 * (x.size - 1) * (y.size - 1))


class Transfer(unittest.TestCase):
    def test_linear_fields_carry_over_exactly_between_tensor_grids(self) -> None:
        coarse = quads(np.linspace(0.0, 1.0, 9) ** 1.5, np.linspace(0.0, 1.0, 7))
        fine = quads(np.linspace(0.0, 1.0, 17), np.linspace(0.0, 1.0, 12))
        values = np.column_stack([2.0 * coarse.centre[:, 0] - coarse.centre[:, 1], coarse.centre[:, 1]])
        carried = transfer(values, coarse, fine)
        self.assertLess(float(np.abs(carried[:, 0] - (2.0 * fine.centre[:, 0] - fine.centre[:, 1])).max()), 1e-10)

    def test_a_stretched_section_takes_its_field_along(self) -> None:
        short, long = (quads(np.linspace(0.0, length, 11), np.linspace(0.0, 1.0, 5)) for length in (1.0, 3.0))
        carried = transfer(short.centre[:, :1], short, long)
        self.assertLess(float(np.abs(carried[:, 0] - long.centre[:, 0] / 3.0).max()), 1e-10)

    def test_polygons_use_their_neighbours(self) -> None:
        source, target = triangles(12), triangles(7)
        carried = transfer(source.centre[:, :1], source, target)
        self.assertLess(float(np.abs(carried[:, 0] - target.centre[:, 0]).max()), 0.05)
