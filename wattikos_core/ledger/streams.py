"""Quantities of a stream: a fluid part with an inlet and an outlet."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_STREAMS: dict[str, Quantity] = {
    "heat_removal_effectiveness": Quantity(
        "{place} heat removal effectiveness",
        "number",
        "what {place} warms by on its way out over what it is warmer than it enters on the mean of its volume: one where mixed",
    ),
    "outlet_temperature": Quantity(
        "{place} outlet temperature", "temperature", "mixed-mean (weighted with mass flow, by enthalpy) over the outlet of {place}"
    ),
    "heat_gained": Quantity(
        "{place} heat gained", "power", "enthalpy flow of {place} at its outlet minus that at its inlet", opposite="heat_given_off"
    ),
    "heat_given_off": Quantity(
        "{place} heat given off", "power", "enthalpy flow of {place} at its inlet minus that at its outlet", opposite="heat_gained"
    ),
    "pressure_drop": Quantity(
        "{place} pressure drop",
        "pressure",
        "static pressure of {place}, weighted with mass flow, inlet minus outlet",
        opposite="pressure_rise",
    ),
    "pressure_rise": Quantity(
        "{place} pressure rise",
        "pressure",
        "static pressure of {place}, weighted with mass flow, outlet minus inlet",
        opposite="pressure_drop",
    ),
    "pumping_power": Quantity(
        "{place} pumping power", "power", "pressure drop of {place} times its volume flow where it enters, without losses of a pump"
    ),
    "reynolds_number": Quantity(
        "{place} Reynolds number", "number", "of {place}, on its hydraulic diameter, at its mean bulk temperature"
    ),
    "log_mean_h": Quantity(
        "{place} log-mean h",
        "heat_transfer_coefficient",
        "mean on {place}'s side: heat over the area of all walls that give heat and the logarithmic mean of the differences "
        "between their mean temperature and {place} where it enters and leaves",
    ),
    "log_mean_nusselt_number": Quantity(
        "{place} log-mean Nusselt number",
        "number",
        "log-mean h of {place} times hydraulic diameter (4 volume over wetted area) over conductivity at the mean bulk temperature",
    ),
    "mean_local_h": Quantity(
        "{place} mean local h",
        "heat_transfer_coefficient",
        "mean on {place}'s side, over the area of all walls that give heat, of the local heat flux over the local difference of "
        "wall and bulk temperatures",
    ),
    "mean_local_nusselt_number": Quantity(
        "{place} mean local Nusselt number",
        "number",
        "mean local h of {place} times hydraulic diameter (4 volume over wetted area) over conductivity at the mean bulk "
        "temperature",
    ),
    "h": Quantity(
        "{place} h",
        "heat_transfer_coefficient",
        "mean on {place}'s side: heat over the integral of (wall - bulk temperature) over all walls that give heat; bulk "
        "mixed-mean at the station",
    ),
    "nusselt_number": Quantity(
        "{place} Nusselt number",
        "number",
        "mean h of {place} times hydraulic diameter (4 volume over wetted area) over conductivity at the mean bulk temperature",
    ),
}
