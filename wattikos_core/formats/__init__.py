"""Open formats in and out."""

from wattikos_core.formats.grids import grid_bytes, read_grid, write_grid
from wattikos_core.formats.history import Swing, swing, swings, write_history
from wattikos_core.formats.ledger import ledger_json
from wattikos_core.formats.outlines import read_outline
from wattikos_core.formats.points import read_points
from wattikos_core.formats.series import write_collection, write_series
from wattikos_core.formats.tables import read_table
from wattikos_core.formats.vtu import write_vtu
from wattikos_core.formats.workbook import Sheet, workbook_bytes

__all__ = [
    "Sheet",
    "Swing",
    "grid_bytes",
    "ledger_json",
    "read_grid",
    "read_outline",
    "read_points",
    "read_table",
    "swing",
    "swings",
    "workbook_bytes",
    "write_collection",
    "write_grid",
    "write_history",
    "write_series",
    "write_vtu",
]
