"""Quantities of radiation between the surfaces of a cavity."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_RADIATION: dict[str, Quantity] = {
    "radiated": Quantity(
        "heat radiated by {place}",
        "power",
        "what {place} radiates to the other surfaces of its cavity less what it absorbs from them and from what shines on it",
    ),
    "radiated_share": Quantity(
        "share of radiation across {place}",
        "ratio",
        "heat that surfaces around {place} radiate to others, over that and what they give to the gas by conduction",
        share=True,
    ),
}
