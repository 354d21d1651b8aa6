"""Quantities of a case as a whole."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_THE_CASE: dict[str, Quantity] = {
    "duty": Quantity("duty", "power", "heat passing from the hot stream to the cold one through the wall between them"),
    "effectiveness": Quantity(
        "effectiveness",
        "ratio",
        "duty over the most that could pass: the smaller of both streams' enthalpy differences between the two inlet temperatures",
        share=True,
    ),
    "ntu": Quantity("NTU", "number", "U times the wall's hot-side area over the smaller heat capacity rate"),
    "overall_u": Quantity(
        "overall U",
        "heat_transfer_coefficient",
        "duty over the wall's hot-side area and the logarithmic mean of the differences between the streams at its two ends",
    ),
    "hottest_metal": Quantity(
        "hottest metal",
        "temperature",
        "highest temperature in any part of metal or on its surface; a solid that conducts 6.5 W/(m·K) or more counts as metal",
    ),
    "coldest_metal": Quantity(
        "coldest metal",
        "temperature",
        "lowest temperature in any part of metal or on its surface; a solid that conducts 6.5 W/(m·K) or more counts as metal",
    ),
    "mass_balance": Quantity("mass balance", "ratio", "net mass flow over all outer boundaries, as a share of the inflow"),
    "heat_balance": Quantity(
        "heat balance", "ratio", "net heat over all outer boundaries and sources, less what is stored, as share of the heat passing"
    ),
    "coolant_outlet_temperature": Quantity(
        "coolant outlet temperature", "temperature", "of coolant at the end of its passages across the section, by hand alone"
    ),
    "all_heat_stored": Quantity(
        "heat stored", "energy", "heat taken up by all parts together since the beginning", opposite="all_heat_given_up"
    ),
    "all_heat_given_up": Quantity(
        "heat given up", "energy", "heat that all parts together have lost since the beginning", opposite="all_heat_stored"
    ),
}
