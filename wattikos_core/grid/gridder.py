"""The grid of a painted section: rectilinear where everything is upright rectangles, body-fitted elsewhere."""

from __future__ import annotations

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid.bodyfitted import grid_outlines, size_field
from wattikos_core.grid.density import ALONE, Family
from wattikos_core.grid.grid import Array, Grid
from wattikos_core.grid.memory import remembered
from wattikos_core.grid.rectilinear import MAX_CELLS, FirstCells, cells_between, grid_rectangles, lines_of, too_many_cells
from wattikos_core.grid.thermal_layers import layer_fineness
from wattikos_core.grid.turbulent_layers import first_heights
from wattikos_core.grid.uniform import uniform_directions
from wattikos_core.grid.wakes import wake_fineness, wake_sizes
from wattikos_core.section import PaintedSection, symmetry_planes, without_layers


def grid_section(resolved: ResolvedCase, section: PaintedSection, fineness: float, family: Family = ALONE) -> Grid:
    """Grid a painted section at a fineness.

    Args:
        resolved: the case in SI.
        section: the painted section.
        fineness: one number; doubling it halves every cell.
        family: of the grids that it is compared with.

    Raises:
        CaseError: the section cannot be gridded, with the place; or the grid would be too large.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.section import paint
        >>> resolved = resolve(starter_case("feed_line"))
        >>> grid = grid_section(resolved, paint(resolved), 0.5)
        >>> sorted(grid.groups)[:2]
        ['insulation, left', 'insulation, right']
    """
    unknown = [
        InputProblem(f"{wish.field}.at", f"there is no part or boundary '{name}'", f"name one of: {', '.join(section.names)}")
        for wish in resolved.local_sizes
        for name in wish.at
        if name not in section.names
        and name not in section.boundaries
        and name not in {p.name for p in resolved.case.section.parts}
    ]
    if unknown:
        raise CaseError(unknown)
    fineness *= implied_fineness(resolved, section)
    local = (*resolved.local_sizes, *wake_sizes(resolved, section))
    if section.tensor is not None:
        return grid_rectangles(
            section,
            fineness,
            axisymmetric=resolved.axisymmetric,
            depth=resolved.depth,
            ungraded=symmetry_planes(resolved, section),
            local=local,
            uniform=uniform_directions(resolved, section),
            family=family,
            first=_first_cells(resolved, section),
        )
    return remembered(
        grid_outlines,
        section,
        fineness,
        axisymmetric=resolved.axisymmetric,
        depth=resolved.depth,
        bare=without_layers(resolved, section),
        local=local,
        family=family,
        first=first_heights(resolved, section),
    )


def _first_cells(resolved: ResolvedCase, section: PaintedSection) -> FirstCells:
    return FirstCells(first_heights(resolved, section), frozenset(without_layers(resolved, section)))


def implied_fineness(resolved: ResolvedCase, section: PaintedSection) -> float:
    """By what a fineness is multiplied for what the conditions imply: thermal layers, vortices; at least 1."""
    return max(layer_fineness(resolved, section), wake_fineness(resolved, section))


def section_lines(resolved: ResolvedCase, section: PaintedSection, fineness: float) -> tuple[Array, Array]:
    """The grid lines x and y (m) that `grid_section` makes of a section of rectangles at a fineness."""
    return lines_of(
        section,
        fineness * implied_fineness(resolved, section),
        symmetry_planes(resolved, section),
        (*resolved.local_sizes, *wake_sizes(resolved, section)),
        uniform_directions(resolved, section),
        first=_first_cells(resolved, section),
    )


def check_sizes(resolved: ResolvedCase, section: PaintedSection, fineness: float) -> None:
    """Raise CaseError, with the place, for gaps too thin to be gridded and for grids that would be too large.

    It takes a small part of the time of gridding, so that a run can be refused before it is queued.
    """
    if section.tensor is None:
        local = (*resolved.local_sizes, *wake_sizes(resolved, section))
        size_field(section, fineness * implied_fineness(resolved, section), local)
    else:
        x, y = section_lines(resolved, section, fineness)
        if (cells := cells_between(section, x, y)) > MAX_CELLS:
            raise too_many_cells(fineness, cells)
