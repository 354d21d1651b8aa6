"""Open formats in and out."""

from wattikos_core.formats.ledger import ledger_json
from wattikos_core.formats.vtu import write_vtu

__all__ = ["ledger_json", "write_vtu"]
