"""Temperatures of parts and boundaries, and the heat that is conducted through boundaries."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_PLACES: dict[str, Quantity] = {
    "mean_temperature": Quantity(
        "mean temperature of {place}",
        "temperature",
        "mean (by volume in a part, by area on a boundary or on an interface's first side) over {place}",
    ),
    "highest_temperature": Quantity(
        "highest temperature of {place}", "temperature", "highest temperature in {place} or on its surface; of a boundary, on it"
    ),
    "lowest_temperature": Quantity(
        "lowest temperature of {place}", "temperature", "lowest temperature in {place} or on its surface; of a boundary, on it"
    ),
    "heat_out": Quantity("heat out through {place}", "power", "conducted out of the section through {place}", opposite="heat_in"),
    "heat_in": Quantity("heat in through {place}", "power", "conducted into the section through {place}", opposite="heat_out"),
    "heat_between": Quantity(
        "heat from {place} to {other}",
        "power",
        "conducted from {place} to {other} through the surface between them",
        opposite="heat_between",
    ),
}
