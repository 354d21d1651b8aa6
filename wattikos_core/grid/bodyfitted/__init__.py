"""The body-fitted gridder, for sections of any shape."""

from wattikos_core.grid.bodyfitted.gridder import grid_outlines

__all__ = ["grid_outlines"]
