"""Times after which another quantity has settled."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_SETTLING: dict[str, Quantity] = {
    "time_to_95": Quantity("time to 95 % of {of}", "time", "from when on {of} stays within 5 % of its travel from its last value"),
    "time_to_99": Quantity("time to 99 % of {of}", "time", "from when on {of} stays within 1 % of its travel from its last value"),
}
