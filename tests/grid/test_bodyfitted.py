"""The body-fitted gridder: grids that conform to the section exactly, or a refusal with a place."""

from __future__ import annotations

import math
import unittest

import numpy as np
from django.test import tag

from tests.sections import circle, part, random_section, rectangle, section_case
from wattikos_core.case import Case, resolve
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid import Grid, grid_section, quality_of, worst_cells
from wattikos_core.section import PaintedSection, paint

# Of random sections, so many are gridded each time, and so many with the slow tests.
RANDOM, MANY = 8, 32


def grid_and_section(case: Case) -> tuple[Grid, PaintedSection]:
    resolved = resolve(case)
    section = paint(resolved)
    return grid_section(resolved, section, case.grid.fineness), section


def check_conforms(test: unittest.TestCase, grid: Grid, section: PaintedSection) -> None:
    """Every cell is closed and of positive area, every boundary is there with its length, and regions have their areas."""
    test.assertGreater(float(grid.volume.min()), 0.0)
    closing = np.zeros((grid.n_cells, 2))
    np.add.at(closing, grid.owner, grid.area)
    inner = grid.neighbour >= 0
    np.add.at(closing, grid.neighbour[inner], -grid.area[inner])
    scale = np.zeros(grid.n_cells)
    np.add.at(scale, grid.owner, np.hypot(*grid.area.T))
    np.add.at(scale, grid.neighbour[inner], np.hypot(*grid.area[inner].T))
    test.assertLess(float((np.hypot(*closing.T) / scale).max()), 1e-9)
    test.assertEqual(set(grid.groups), set(section.boundaries))
    for name, boundary in section.boundaries.items():
        # A curve's chords are at most 1 % shorter than the curve.
        test.assertAlmostEqual(grid.area_of(name) / boundary.length, 1.0, delta=0.01, msg=name)
    for index, name in enumerate(grid.region_names):
        rings = 0.0
        for ring in section.rings[name]:
            x, y = np.asarray(ring).T
            rings += 0.5 * float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))
        mine = float(grid.volume[grid.region == index].sum())
        # Chords leave some of a curved part out: 4 % of a circle at the coarsest (12 of them), less as the square of the fineness.
        test.assertAlmostEqual(mine, abs(rings), delta=0.05 * abs(rings), msg=name)


class Conforming(unittest.TestCase):
    def check_random(self, seeds: range) -> None:
        gridded = 0
        for seed in seeds:
            with self.subTest(seed=seed):
                try:
                    grid, section = grid_and_section(random_section(seed))
                except CaseError as error:
                    self.assertTrue(all(p.at is not None or "section.parts[" in p.field for p in error.problems), str(error))
                    continue
                check_conforms(self, grid, section)
                gridded += 1
        self.assertGreaterEqual(gridded, 0.75 * len(seeds))

    def test_random_sections(self) -> None:
        """A few here, hundreds in the benchmark: each conforms, or is refused with its place or part."""
        self.check_random(range(RANDOM))

    @tag("slow")
    def test_many_random_sections(self) -> None:
        self.check_random(range(RANDOM, MANY))

    def test_a_ring_is_mapped(self) -> None:
        case = section_case(part("pipe", "iron", "ring", outer_diameter="40 mm", inner_diameter="20 mm"), conditions=[])
        grid, section = grid_and_section(case)
        check_conforms(self, grid, section)
        self.assertTrue(np.all(np.diff(grid.cell_start) == 4))
        self.assertLess(quality_of(grid).non_orthogonality, 5.0)

    def test_thin_solid_layers_get_strips(self) -> None:
        """A tube wall of a twentieth of its diameter has rows of its own, three at the least, of cells that are quadrilaterals."""
        case = section_case(
            rectangle("water", "water", "0 m", "0 m", "60 mm", "40 mm"),
            part("tube", "copper", "ring", "30 mm", "20 mm", outer_diameter="10 mm", inner_diameter="9 mm"),
            conditions=[],
            fineness=0.7,
        )
        grid, section = grid_and_section(case)
        check_conforms(self, grid, section)
        wall = grid.region == grid.region_names.index("tube")
        radius = np.hypot(grid.centre[wall, 0] - 0.03, grid.centre[wall, 1] - 0.02)
        self.assertGreaterEqual(len(np.unique(np.round(radius, 5))), 3)
        self.assertTrue(np.all(np.diff(grid.cell_start)[wall] == 4))

    def test_finer_at_a_part_a_boundary_and_a_box(self) -> None:
        def cells(**local: object) -> tuple[int, Grid]:
            case = section_case(
                rectangle("water", "water", "0 m", "0 m", "80 mm", "40 mm"),
                circle("rod", "iron", "20 mm", "20 mm", "10 mm"),
                conditions=[],
                grid={"local": [{"fineness": 3.0, **local}]} if local else {},
            )
            grid, section = grid_and_section(case)
            check_conforms(self, grid, section)
            return grid.n_cells, grid

        plain, _ = cells()
        self.assertGreater(cells(at=["rod"])[0], 1.2 * plain)
        self.assertGreater(cells(at=["water, right"])[0], 1.1 * plain)
        boxed, grid = cells(box=["50 mm", "10 mm", "70 mm", "30 mm"])
        self.assertGreater(boxed, 1.2 * plain)
        x, y = grid.centre.T
        inside = (x > 0.055) & (x < 0.065) & (y > 0.015) & (y < 0.025)
        far = (x > 0.055) & (x < 0.065) & (y > 0.002) & (y < 0.006)
        self.assertLess(float(grid.volume[inside].mean()), 0.5 * float(grid.volume[far].mean()))

    def test_fineness_halves_cells(self) -> None:
        parts = rectangle("w", "water", "0 m", "0 m", "80 mm", "40 mm"), circle("rod", "iron", "20 mm", "20 mm", "10 mm")
        coarse, fine = (grid_and_section(section_case(*parts, conditions=[], fineness=f))[0].n_cells for f in (1.0, 2.0))
        self.assertAlmostEqual(math.log2(fine / coarse), 2.0, delta=0.35)

    def test_the_worst_cells_are_told_with_their_places(self) -> None:
        grid, _ = grid_and_section(random_section(1))
        found = worst_cells(grid, 4)
        self.assertEqual(len(found), 12)
        quality = quality_of(grid)
        first = {cell.measure: cell for cell in reversed(found)}
        self.assertAlmostEqual(first["non-orthogonality"].value, quality.non_orthogonality)
        self.assertAlmostEqual(first["aspect ratio"].value, quality.aspect_ratio)
        self.assertTrue(all(np.allclose(grid.centre[cell.cell], (cell.x, cell.y)) for cell in found))

    def test_interfaces_lead_from_the_first_part_to_the_second(self) -> None:
        grid, _ = grid_and_section(random_section(5))
        for name, faces in grid.groups.items():
            if " | " in name:
                first, second = (grid.region_names.index(part) for part in name.split(" | "))
                self.assertTrue(np.all(grid.region[grid.owner[faces]] == first), name)
                self.assertTrue(np.all(grid.region[grid.neighbour[faces]] == second), name)


class Refused(unittest.TestCase):
    def refusal(self, gap: str) -> InputProblem:
        bars = [
            rectangle(name, "copper", "10 mm", y, "20 mm", "4 mm", angle="0.001 deg")
            for name, y in (("lower", "5 mm"), ("upper", f"9 mm + {gap}"))
        ]
        with self.assertRaises(CaseError) as caught:
            grid_and_section(section_case(rectangle("block", "iron", "0 m", "0 m", "40 mm", "20 mm"), *bars, conditions=[]))
        return caught.exception.problems[0]

    def test_a_hairline_gap_is_told_with_its_place_and_width(self) -> None:
        problem = self.refusal("0.00005 mm")
        self.assertIn("'block' is only 5e-05 mm wide", problem.problem)
        assert problem.at is not None
        self.assertAlmostEqual(problem.at[1], 0.009, delta=1e-5)

    def test_a_gap_that_would_need_cells_without_number(self) -> None:
        problem = self.refusal("0.001 mm")
        self.assertEqual(problem.field, "grid.fineness")
        assert problem.at is not None
        self.assertAlmostEqual(problem.at[1], 0.009, delta=1e-5)
