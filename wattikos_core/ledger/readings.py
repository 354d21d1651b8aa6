"""Quantities of the probes and lines of a case."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_READINGS: dict[str, Quantity] = {
    "probe_temperature": Quantity(
        "temperature at {place}", "temperature", "temperature at the point {place}; of a box or a part its mean by volume"
    ),
    "probe_lowest_temperature": Quantity(
        "lowest temperature at {place}", "temperature", "lowest temperature of the cells in {place}"
    ),
    "probe_highest_temperature": Quantity(
        "highest temperature at {place}", "temperature", "highest temperature of the cells in {place}"
    ),
    "probe_speed": Quantity("speed at {place}", "velocity", "speed at the point {place}; of a box or a part its mean by volume"),
    "probe_uniformity": Quantity(
        "uniformity of speed at {place}",
        "ratio",
        "one less half the mean deviation of the speed in {place} from its mean, over that mean (common practice, no source)",
        share=True,
    ),
    "line_temperature": Quantity(
        "mean temperature along {place}", "temperature", "mean temperature along the line {place}, by area"
    ),
    "line_bulk_temperature": Quantity(
        "bulk temperature through {place}", "temperature", "temperature along the line {place}, weighted by the flow through it"
    ),
    "line_highest_temperature": Quantity(
        "highest temperature along {place}", "temperature", "highest temperature along the line {place}"
    ),
    "line_mass_flow": Quantity(
        "flow through {place}", "mass_flow", "mass flow through the line {place} from its left to its right, as it is walked"
    ),
}
