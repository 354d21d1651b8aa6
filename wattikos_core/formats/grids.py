"""Grids as VTU, through meshio, with the names of their regions, boundaries and interfaces.

Cells and named edges are cells of one file. Each name is an array of its own that is 1 on the cells or edges it names:
`part: tube`, `boundary: duct, left`, `interface: duct | tube`. A program that changes the grid keeps them.
"""

from __future__ import annotations

import contextlib
import io
import tempfile
from collections.abc import Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid import Grid, Polygons, build_grid
from wattikos_core.section import PaintedSection

_PART, _BOUNDARY, _INTERFACE = "part: ", "boundary: ", "interface: "
_SHAPES = {3: "triangle", 4: "quad"}
# Nodes nearer to each other than this share of the grid's size are one.
_SAME = 1e-9
# Edges of a grid and of its section may differ by this share of the section's size.
_ELSEWHERE = 1e-3


def polygon_blocks(grid: Grid) -> tuple[list[tuple[str, NDArray[np.int64]]], list[NDArray[np.int64]]]:
    """Cells by their number of corners, as meshio takes them, and which cells are in each block."""
    sizes = np.diff(grid.cell_start)
    blocks, order = [], []
    for size in np.unique(sizes):
        cells = np.nonzero(sizes == size)[0]
        corners = grid.cell_nodes[grid.cell_start[cells][:, None] + np.arange(size)]
        blocks.append((_SHAPES.get(int(size), "polygon"), corners))
        order.append(cells)
    return blocks, order


def write_grid(path: Path | str, grid: Grid) -> None:
    """Write a grid with its names to `path` (VTU)."""
    import meshio

    blocks, order = polygon_blocks(grid)
    named = np.unique(np.concatenate(list(grid.groups.values()))) if grid.groups else np.zeros(0, dtype=np.int64)
    blocks.append(("line", grid.edges[named]))
    data: dict[str, list[NDArray[np.int8]]] = {}
    no_edge = np.zeros(named.size, dtype=np.int8)
    for index, part in enumerate(grid.region_names):
        data[_PART + part] = [(grid.region[cells] == index).astype(np.int8) for cells in order] + [no_edge]
    no_cells = [np.zeros(cells.size, dtype=np.int8) for cells in order]
    for name, faces in grid.groups.items():
        data[(_INTERFACE if " | " in name else _BOUNDARY) + name] = [*no_cells, np.isin(named, faces).astype(np.int8)]
    points = np.column_stack([grid.nodes, np.zeros(len(grid.nodes))])
    meshio.Mesh(points, blocks, cell_data=data).write(path, file_format="vtu")


def grid_bytes(grid: Grid) -> bytes:
    """The same as the content of a file."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "grid.vtu"
        write_grid(path, grid)
        return path.read_bytes()


def imported_grid(resolved: ResolvedCase, section: PaintedSection, content: bytes | None) -> Grid:
    """The grid of a case that takes it from a file.

    Raises:
        CaseError: the file is missing, cannot be read, or is not of this section.
    """
    name = resolved.case.grid.file
    if content is None:
        raise CaseError(InputProblem("grid.file", f"the grid '{name}' is not here", "import it again, or let the grid be made"))
    grid = read_grid(name, content, section.names, axisymmetric=resolved.axisymmetric, depth=resolved.depth)
    unknown = [group for group in grid.groups if group not in section.boundaries]
    if unknown:
        x, y = grid.face_centre[grid.groups[unknown[0]]].mean(axis=0)
        problem = f"'{name}' has a boundary '{unknown[0]}' that the section does not have"
        remedy = f"the section has: {', '.join(section.boundaries)}"
        raise CaseError(InputProblem("grid.file", problem, remedy, at=(float(x), float(y))))
    x0, y0, x1, y1 = section.bounds()
    low, high = grid.nodes.min(axis=0), grid.nodes.max(axis=0)
    off = max(abs(low[0] - x0), abs(low[1] - y0), abs(high[0] - x1), abs(high[1] - y1))
    if off > _ELSEWHERE * max(x1 - x0, y1 - y0):
        problem = f"the grid in '{name}' is not of this section: its edges are up to {1000.0 * off:.3g} mm away"
        raise CaseError(InputProblem("grid.file", problem, "set the inputs to what it was made for, or let the grid be made"))
    return grid


def read_grid(name: str, content: bytes, region_names: Sequence[str], *, axisymmetric: bool, depth: float) -> Grid:
    """A grid from the content of a file that meshio reads, with parts named as in the case.

    Args:
        name: of the file; its ending tells the format.
        content: of the file.
        region_names: the parts of the case, in its order.
        axisymmetric: whether the section turns about y = 0; else it is flat.
        depth: of a flat section, m.

    Raises:
        CaseError: the file is no flat grid of polygons, or its names are not those of the case.
    """
    import meshio

    suffix = Path(name).suffix.lower()
    if suffix not in (".vtu", ".vtk"):
        raise CaseError(InputProblem("file", f"'{name}' is not a grid file", "give a .vtu or .vtk file"))
    said = io.StringIO()
    with tempfile.TemporaryDirectory() as folder, contextlib.redirect_stdout(said), contextlib.redirect_stderr(said):
        path = Path(folder) / f"grid{suffix}"
        path.write_bytes(content)
        try:
            mesh = meshio.read(path)
        except (Exception, SystemExit) as error:  # meshio raises what its readers meet
            raise CaseError(
                InputProblem("file", f"'{name}' cannot be read as a grid ({error})", "export it as VTU again")
            ) from error
    points = np.asarray(mesh.points, dtype=np.float64)
    if points.shape[1] > 2 and float(np.ptp(points[:, 2])) > 1e-9 * float(np.ptp(points[:, :2], axis=0).max()):
        raise CaseError(InputProblem("file", f"the grid in '{name}' is not flat", "give a grid in the x, y plane"))
    nodes, kept = _merged(points[:, :2])
    cells: list[NDArray[np.int64]] = []
    lines: list[NDArray[np.int64]] = []
    of_cell: dict[str, list[NDArray[np.bool_]]] = {}
    of_line: dict[str, list[NDArray[np.bool_]]] = {}
    for block, cell_block in enumerate(mesh.cells):
        corners = kept[np.asarray(cell_block.data, dtype=np.int64)]
        is_line = cell_block.type == "line"
        if not is_line and cell_block.type not in ("triangle", "quad") and not cell_block.type.startswith("polygon"):
            if cell_block.type == "vertex":
                continue
            problem = f"'{name}' has cells of the kind {cell_block.type}"
            raise CaseError(InputProblem("file", problem, "give triangles, quadrilaterals or polygons"))
        (lines if is_line else cells).extend(corners)
        for key, values in mesh.cell_data.items():
            wanted = (_BOUNDARY,) if is_line else (_PART,)
            if key.startswith(wanted):
                (of_line if is_line else of_cell).setdefault(key.partition(": ")[2], []).append(
                    np.asarray(values[block]).ravel() != 0
                )
    if not cells:
        raise CaseError(
            InputProblem("file", f"there are no cells in '{name}'", "give a grid of triangles, quadrilaterals or polygons")
        )
    region = _regions(name, of_cell, len(cells), region_names)
    sides = _sides(lines, of_line)
    return _assembled(name, nodes, cells, region, region_names, sides, axisymmetric, depth)


def _merged(points: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Nodes without doubles, and the new number of each."""
    lattice = _SAME * float(np.ptp(points, axis=0).max())
    _, first, number = np.unique(np.round(points / lattice), axis=0, return_index=True, return_inverse=True)
    return points[first], number.ravel().astype(np.int64)


def _regions(name: str, of_cell: dict[str, list[NDArray[np.bool_]]], count: int, parts: Sequence[str]) -> NDArray[np.int64]:
    region = np.full(count, -1, dtype=np.int64)
    for part, marks in of_cell.items():
        mine = np.concatenate(marks)
        if part in parts:
            region[mine] = parts.index(part)
        elif mine.any():
            problem = f"'{name}' has a part '{part}' that the case does not have"
            raise CaseError(InputProblem("file", problem, f"name the parts as in the case: {', '.join(parts)}"))
    if not of_cell and len(parts) == 1:
        region[:] = 0
    if np.any(region < 0):
        problem = f"{int(np.count_nonzero(region < 0)):,} cells of '{name}' belong to no part"
        raise CaseError(InputProblem("file", problem, f"mark them by cell arrays called '{_PART}{parts[0]}' and so on"))
    return region


def _sides(lines: list[NDArray[np.int64]], of_line: dict[str, list[NDArray[np.bool_]]]) -> dict[tuple[int, int], str]:
    sides = {}
    for boundary, marks in of_line.items():
        for index in np.nonzero(np.concatenate(marks))[0]:
            a, b = sorted(int(node) for node in lines[index])
            sides[a, b] = boundary
    return sides


def _assembled(
    name: str,
    nodes: NDArray[np.float64],
    cells: list[NDArray[np.int64]],
    region: NDArray[np.int64],
    region_names: Sequence[str],
    sides: dict[tuple[int, int], str],
    axisymmetric: bool,
    depth: float,
) -> Grid:
    start = np.concatenate([[0], np.cumsum([len(cell) for cell in cells])]).astype(np.int64)
    turned = [cell if _plane_area(nodes[cell]) > 0.0 else cell[::-1] for cell in cells]
    corners = np.concatenate(turned)
    names = []
    for index, cell in enumerate(turned):
        part = region_names[region[index]]
        for a, b in zip(cell, np.roll(cell, -1), strict=True):
            boundary = sides.get((min(int(a), int(b)), max(int(a), int(b))), "")
            names.append(boundary.removeprefix(f"{part}, ") if boundary.startswith(f"{part}, ") else "unnamed")
    try:
        grid = build_grid(
            Polygons(nodes, start, corners), region, region_names, np.array(names), axisymmetric=axisymmetric, depth=depth
        )
    except ValueError as error:
        raise CaseError(
            InputProblem("file", f"the grid in '{name}' does not fit together: {error}", "mend it where cells overlap")
        ) from error
    unnamed = [group for group in grid.groups if group.endswith(", unnamed")]
    if unnamed:
        faces = grid.groups[unnamed[0]]
        x, y = grid.face_centre[faces[0]]
        problem = f"{faces.size:,} outer edges of '{unnamed[0].partition(',')[0]}' in '{name}' have no name"
        remedy = f"mark edges by cell arrays called '{_BOUNDARY}part, side'"
        raise CaseError(InputProblem("file", problem, remedy, at=(float(x), float(y))))
    return grid


def _plane_area(points: NDArray[np.float64]) -> float:
    x, y = points.T
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))
