"""Quantities of a module that repeats, and of many of them behind each other."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_MODULES: dict[str, Quantity] = {
    "friction_factor": Quantity(
        "{place} friction factor",
        "number",
        "fall of pressure along {place} times hydraulic diameter over the head of its mean velocity at the module's end (Darcy's)",
    ),
    "ratio_per_module": Quantity(
        "{place} ratio per module",
        "ratio",
        "what is left of {place}'s mean difference from the walls' temperature one module further on",
        share=True,
    ),
    "rise_per_module": Quantity(
        "{place} rise per module", "temperature_difference", "by how much {place} is warmer one module further on"
    ),
    "last_outlet_temperature": Quantity(
        "{place} last outlet temperature", "temperature", "mixed-mean temperature of {place} behind the last module"
    ),
    "total_heat_gained": Quantity(
        "{place} total heat gained",
        "power",
        "enthalpy flow of {place} behind the last module less that at the first one's upstream end",
        opposite="total_heat_given_off",
    ),
    "total_heat_given_off": Quantity(
        "{place} total heat given off",
        "power",
        "enthalpy flow of {place} at the first module's upstream end less that behind the last one",
        opposite="total_heat_gained",
    ),
    "total_pressure_drop": Quantity(
        "{place} total pressure drop",
        "pressure",
        "pressure drop of {place} in one module times their number",
        opposite="total_pressure_rise",
    ),
    "total_pressure_rise": Quantity(
        "{place} total pressure rise",
        "pressure",
        "pressure rise of {place} in one module times their number",
        opposite="total_pressure_drop",
    ),
}
