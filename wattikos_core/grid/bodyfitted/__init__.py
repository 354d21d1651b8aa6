"""The body-fitted gridder, for sections of any shape."""

from wattikos_core.grid.bodyfitted.gridder import grid_outlines
from wattikos_core.grid.bodyfitted.sizes import size_field

__all__ = ["grid_outlines", "size_field"]
