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
    "mean_vote": Quantity(
        "mean vote at {place}",
        "number",
        "how people at {place} would judge its warmth, from -3 (cold) to 3 (hot): predicted mean vote of ISO 7730:2005",
    ),
    "dissatisfied": Quantity(
        "dissatisfied at {place}",
        "ratio",
        "share of people at {place} who find it too warm or too cold (ISO 7730:2005)",
        share=True,
    ),
    "draught_rate": Quantity(
        "draught rate at {place}",
        "ratio",
        "share of people at {place} whom a draught bothers (ISO 7730:2005), with the turbulence solved for, or 40 % without",
        share=True,
    ),
    "radiant_temperature": Quantity(
        "mean radiant temperature at {place}",
        "temperature",
        "of the surfaces around {place}, black, each by the angle it fills; as given where it is",
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
