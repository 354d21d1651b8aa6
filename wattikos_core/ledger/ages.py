"""Quantities of the age of a fluid."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_AGES: dict[str, Quantity] = {
    "mean_age_at_outlet": Quantity(
        "{place} mean age at the outlet",
        "time",
        "time since {place} entered, weighted with mass flow over its outlet: volume of fluid over flow",
    ),
    "shortest_age_at_outlet": Quantity(
        "{place} shortest age at the outlet", "time", "lowest time since {place} entered, in the cells along its outlet"
    ),
    "share_younger": Quantity(
        "{place} share younger than asked", "ratio", "share of what leaves {place} that entered less than the time asked for ago"
    ),
    "air_change_efficiency": Quantity(
        "{place} air change efficiency",
        "ratio",
        "age at which {place} leaves over twice its mean age inside: a half where it is fully mixed, one where it moves as a plug",
        share=True,
    ),
    "mean_age_inside": Quantity(
        "{place} mean age inside",
        "time",
        "time since fluid entered, weighted with mass over all of {place}, of a stream with what stands in it",
    ),
}
