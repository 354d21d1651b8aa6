"""A density: where cells become finer, how many there are then, and that grids of one density are refinements of each other."""

from __future__ import annotations

import unittest

import numpy as np

from wattikos_core.case import resolve, starter_case
from wattikos_core.grid import Density, Family, Grid, density_of, grid_section
from wattikos_core.grid.density import graded_to_corners
from wattikos_core.grid.places import places_of
from wattikos_core.section import PaintedSection, paint


class Places(unittest.TestCase):
    def grid(self, starter: str, fineness: float = 0.5, density: Density | None = None) -> tuple[PaintedSection, Grid]:
        resolved = resolve(starter_case(starter))
        section = paint(resolved)
        return section, grid_section(resolved, section, fineness, Family(1.0, density))

    def test_places_cover_every_cell_once(self) -> None:
        """Cells of any shape."""
        section, grid = self.grid("vane")
        cells = np.concatenate([place.cells for place in places_of(section, grid)])
        np.testing.assert_array_equal(np.sort(cells), np.arange(grid.n_cells))

    def test_stretches_cover_both_axes_once(self) -> None:
        """Grids of lines."""
        section, grid = self.grid("plate_sink")
        for axis in (0, 1):
            stretches = sorted(s for place in places_of(section, grid) if place.axis == axis for s in place.stretches)
            low, high = np.array(stretches).T
            np.testing.assert_allclose(low[1:], high[:-1])
            self.assertAlmostEqual(high[-1] - low[0], np.ptp(grid.nodes[:, axis]))

    def test_one_place_twice_as_fine(self) -> None:
        """There cells have a quarter of their size, far away they stay as they were."""
        section, grid = self.grid("vane")
        places = places_of(section, grid)
        chosen = max(places, key=lambda place: grid.centre[place.cells, 0].mean())
        density = density_of(grid, places, [2.0 if place is chosen else 1.0 for place in places])
        _, finer = self.grid("vane", density=density)
        middle = grid.centre[chosen.cells].mean(axis=0)
        reach = 0.5 * np.hypot(*(grid.centre[chosen.cells] - middle).T).max()

        def mean_size(of: Grid, beyond: bool) -> float:
            distance = np.hypot(*(of.centre - middle).T)
            inside = distance > 6.0 * reach if beyond else distance < reach
            return float(of.volume[inside].mean())

        self.assertLess(mean_size(finer, False), 0.5 * mean_size(grid, False))
        self.assertAlmostEqual(mean_size(finer, True) / mean_size(grid, True), 1.0, delta=0.25)

    def test_lines_of_one_density_are_refinements(self) -> None:
        """Of every line of a grid there is one in the grid twice as fine, but for rounding of their number between edges."""
        section, grid = self.grid("plate_passage")
        places = places_of(section, grid)
        density = density_of(grid, places, np.linspace(0.7, 1.6, len(places)).tolist())
        lines = [np.unique(self.grid("plate_passage", fineness, density)[1].nodes[:, 1]) for fineness in (1.0, 2.0)]
        steps = [np.diff(line) for line in lines]
        self.assertAlmostEqual(steps[1].size / steps[0].size, 2.0, delta=0.1)
        spacing = np.interp(lines[0][1:-1], 0.5 * (lines[1][1:] + lines[1][:-1]), steps[1])
        ratio = 0.5 * (steps[0][1:] + steps[0][:-1]) / spacing
        # Beside edges of parts the spacing jumps, there neighbours are told apart by this.
        self.assertLess(np.median(np.abs(np.log2(ratio) - 1.0)), 0.05)

    def test_cells_become_smaller_towards_a_corner(self) -> None:
        """Both where cells have any shape and where lines go through the section."""
        for starter in ("bundle_staggered", "plate_sink"):
            section, grid = self.grid(starter)
            places = places_of(section, grid)
            even = density_of(grid, places, [1.0] * len(places))
            _, graded = self.grid(starter, density=graded_to_corners(even, section, grid))
            name = "whey, left" if starter == "bundle_staggered" else "fin 1, left"
            corner = grid.nodes[grid.edges[grid.groups[name]]].reshape(-1, 2)
            corner = corner[np.argmin(corner[:, 1])]
            nearest = [float(np.sort(np.hypot(*(g.centre - corner).T))[:4].mean()) for g in (grid, graded)]
            self.assertLess(nearest[1], 0.75 * nearest[0], starter)
            self.assertLess(graded.n_cells, 1.5 * grid.n_cells, starter)
