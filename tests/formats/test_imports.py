"""Outlines, tables and grids from files: the same thing comes back, and files that cannot be used are told in words."""

from __future__ import annotations

import io
import math
import unittest
from typing import Any

import ezdxf
import numpy as np

from tests.sections import circle, held, part, rectangle, section_case
from wattikos_core.case import resolve, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.formats import grid_bytes, read_grid, read_outline, read_table
from wattikos_core.section import paint
from wattikos_core.studies import grid_of, prepare, solve_case


def dxf(*, unit: int = 4, gap: float = 0.0) -> bytes:
    """A plate of 40 × 20 with a rounded end and a hole, as lines, an arc and a circle."""
    drawing = ezdxf.new()
    drawing.header["$INSUNITS"] = unit
    space = drawing.modelspace()
    space.add_line((0, 0), (30, 0))
    space.add_arc((30, 10), 10, -90, 90)
    space.add_line((30, 20), (gap, 20))
    space.add_line((0, 20), (0, 0))
    space.add_circle((12, 10), 4)
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode()


def area(loop: list[list[float]]) -> float:
    x, y = np.array(loop).T
    return 0.5 * abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))))


class Outlines(unittest.TestCase):
    def refusal(self, name: str, content: bytes) -> str:
        with self.assertRaises(CaseError) as caught:
            read_outline(name, content)
        return str(caught.exception)

    def test_points_with_headings_and_decimal_commas(self) -> None:
        self.assertEqual(read_outline("p.csv", b"x,y\n0,0\n10,0\n10,5\n"), [[[0.0, 0.0], [0.01, 0.0], [0.01, 0.005]]])
        self.assertEqual(read_outline("p.csv", b"0;0\n1,5;0\n1,5;1\n\n5;5\n6;5\n6;6\n", "cm")[0][1], [0.015, 0.0])
        self.assertEqual(len(read_outline("p.txt", b"0 0\n1 0\n1 1\n\n5 5\n6 5\n6 6\n0 0")), 2)
        self.assertIn("line 2", self.refusal("p.csv", b"0,0\nzero,1\n2,2\n"))
        self.assertIn("no closed outline", self.refusal("p.csv", b"0,0\n1,1\n"))
        self.assertIn("no known kind", self.refusal("p.xyz", b""))

    def test_dxf_lines_arcs_and_circles(self) -> None:
        loops = read_outline("plate.dxf", dxf())
        self.assertEqual(len(loops), 2)
        outer, hole = sorted(map(area, loops), reverse=True)
        self.assertAlmostEqual(outer / (30e-3 * 20e-3 + math.pi * 0.01**2 / 2.0), 1.0, delta=5e-4)
        self.assertAlmostEqual(hole / (math.pi * 0.004**2), 1.0, delta=5e-3)

    def test_dxf_says_its_own_unit(self) -> None:
        inches = read_outline("plate.dxf", dxf(unit=1))
        self.assertAlmostEqual(float(np.ptp(np.concatenate(inches)[:, 0])), 40 * 0.0254, delta=1e-6)

    def test_a_drawing_that_is_open_is_told_where(self) -> None:
        drawing = ezdxf.new()
        drawing.modelspace().add_lwpolyline([(0, 0), (10, 0), (10, 5)])
        text = io.StringIO()
        drawing.write(text)
        self.assertIn("is not closed: a line ends at (", self.refusal("open.dxf", text.getvalue().encode()))
        self.assertIn("cannot be read as DXF", self.refusal("x.dxf", b"nothing of the kind"))

    def test_svg_paths_curves_and_circles(self) -> None:
        svg = (
            b'<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100">'
            b'<path d="M10 10 L50 10 A20 20 0 0 1 50 50 L10 50 Z"/><circle cx="30" cy="30" r="5"/></svg>'
        )
        outer, hole = sorted(map(area, read_outline("a.svg", svg)), reverse=True)
        self.assertAlmostEqual(outer / (0.04 * 0.04 + math.pi * 0.02**2 / 2.0), 1.0, delta=5e-4)
        self.assertAlmostEqual(hole / (math.pi * 0.005**2), 1.0, delta=5e-3)
        self.assertIn("cannot be read as SVG", self.refusal("a.svg", b"<svg"))

    def test_an_imported_drawing_against_the_drawn_section(self) -> None:
        """The same plate from a file and by shapes, with a cooled hole: areas, names that work, and heat."""
        cold = {"at": "0 °C"}
        imported = section_case(
            part("plate", "iron", "outline", loops=read_outline("plate.dxf", dxf())),
            conditions=[held("plate, outside 2", at="100 °C"), held("plate, outside 1", **cold)],
        )
        names = list(paint(resolve(imported)).boundaries)
        drawn = section_case(
            rectangle("plate", "iron", "0 mm", "0 mm", "30 mm", "20 mm"),
            circle("end", "iron", "30 mm", "10 mm", "20 mm"),
            circle("hole", "void", "12 mm", "10 mm", "8 mm"),
            conditions=[
                held("plate, hole outside", at="100 °C"),
                held("plate, left", "plate, top", "plate, bottom", "end, outside", **cold),
            ],
        )
        hole = next(name for name in names if abs(paint(resolve(imported)).boundaries[name].length - math.pi * 0.008) < 1e-4)
        given = [held(hole, at="100 °C"), held(*(n for n in names if n != hole), **cold)]
        imported = section_case(part("plate", "iron", "outline", loops=read_outline("plate.dxf", dxf())), conditions=given)
        from_file = solve_case(imported).value(f"heat out through {hole}")
        by_shapes = solve_case(drawn).value("heat out through plate, hole outside")
        self.assertAlmostEqual(from_file / by_shapes, 1.0, delta=0.01)


class Tables(unittest.TestCase):
    def test_rows_are_sorted_and_used_along_a_boundary(self) -> None:
        table = read_table("wall.csv", b"place,temperature\n20,60\n0,20\n", "mm", "degC")
        self.assertEqual(table.rows, [[0.0, 20.0], [20.0, 60.0]])
        case = section_case(
            rectangle("block", "iron", "0 mm", "0 mm", "20 mm", "10 mm"),
            conditions=[held("block, top", "block, bottom", at="wall(x)")],
            tables={"wall": table.model_dump()},
        )
        run = solve_case(case)
        # Between two edges with one linear temperature the block has it all through, but for its insulated ends.
        middle = np.abs(run.problem.grid.centre[:, 0] - 0.01) < 2e-3
        exact = 293.15 + 40.0 * run.problem.grid.centre[middle, 0] / 0.02
        self.assertLess(float(np.abs(run.solution.state.stretched[middle] - exact).max()), 0.3)
        self.assertAlmostEqual(run.value("mean temperature of block, top"), 313.15, delta=0.01)

    def test_what_is_no_table(self) -> None:
        for content, words in ((b"1,2\n", "has 1 rows"), (b"1,2\n1,3\n", "twice"), (b"1,2\n3\n", "line 2")):
            with self.assertRaises(CaseError) as caught:
                read_table("t.csv", content)
            self.assertIn(words, str(caught.exception))


class Grids(unittest.TestCase):
    def made(self) -> tuple[Any, Any]:
        case = starter_case("bundle_staggered")
        prepared = prepare(case.model_copy(update={"grid": case.grid.model_copy(update={"fineness": 0.5})}))
        return prepared, grid_of(prepared)

    def test_a_grid_comes_back_with_its_names(self) -> None:
        _, grid = self.made()
        again = read_grid("g.vtu", grid_bytes(grid), grid.region_names, axisymmetric=False, depth=grid.depth)
        self.assertEqual(again.n_cells, grid.n_cells)
        self.assertEqual({k: len(v) for k, v in again.groups.items()}, {k: len(v) for k, v in grid.groups.items()})
        for name in grid.groups:
            self.assertAlmostEqual(again.area_of(name), grid.area_of(name))

    def test_a_case_on_an_imported_grid(self) -> None:
        prepared, grid = self.made()
        case = prepared.case.model_copy(update={"grid": prepared.case.grid.model_copy(update={"file": "g.vtu"})})
        own = solve_case(prepared.case).value("whey heat gained")
        imported = solve_case(case, grid_file=grid_bytes(grid)).value("whey heat gained")
        self.assertAlmostEqual(imported / own, 1.0, delta=1e-6)

    def test_grids_that_do_not_fit_are_told_in_words(self) -> None:
        prepared, grid = self.made()
        document = prepared.case.model_dump(mode="json")
        document["grid"]["file"] = "g.vtu"

        def refusal(content: bytes | None, **inputs: str) -> str:
            from wattikos_core.case import read_case

            for name, value in inputs.items():
                document["inputs"][name]["value"] = value
            with self.assertRaises(CaseError) as caught:
                prepare(read_case(document), content)
            return str(caught.exception)

        self.assertIn("is not here", refusal(None))
        self.assertIn("cannot be read as a grid", refusal(b"no grid at all"))
        self.assertIn("is not of this section", refusal(grid_bytes(grid), downstream="150 mm"))
        with self.assertRaises(CaseError) as caught:
            read_grid("g.vtu", grid_bytes(grid), ["whey", *("rod",) * 6], axisymmetric=False, depth=1.0)
        self.assertIn("has a part 'tube 1' that the case does not have", str(caught.exception))
