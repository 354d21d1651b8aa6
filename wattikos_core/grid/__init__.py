"""Grids: the face-based grid every solver works on, the gridders that make it, and its quality."""

from wattikos_core.grid.density import ALONE, Density, Family, density_of
from wattikos_core.grid.grid import Grid, Polygons, build_grid
from wattikos_core.grid.gridder import check_sizes, grid_section, section_lines
from wattikos_core.grid.joining import join_ends
from wattikos_core.grid.quality import Quality, WorstCell, quality_of, worst_cells
from wattikos_core.grid.rectilinear import cells_between, grid_rectangles
from wattikos_core.grid.transfer import transfer

__all__ = [
    "ALONE",
    "Density",
    "Family",
    "Grid",
    "Polygons",
    "Quality",
    "WorstCell",
    "build_grid",
    "cells_between",
    "check_sizes",
    "density_of",
    "grid_rectangles",
    "grid_section",
    "join_ends",
    "quality_of",
    "section_lines",
    "transfer",
    "worst_cells",
]
