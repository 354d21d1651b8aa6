"""Quantities of a part as a whole."""

from __future__ import annotations

from wattikos_core.ledger.quantity import Quantity

OF_PARTS: dict[str, Quantity] = {
    "mass": Quantity("mass of {place}", "mass", "volume of {place} in the section and its depth, times its density at 20 °C"),
    "heat_passing": Quantity(
        "heat passing {place}", "power", "heat that enters {place} through its outer boundaries, wherever it enters"
    ),
    "overall_effectiveness": Quantity(
        "overall effectiveness of {place}",
        "ratio",
        "hottest ambient temperature less the mean of {place}, over hottest less coldest ambient temperature",
    ),
    "heat_released": Quantity("heat released in {place}", "power", "heat of the source in {place}"),
    "friction_heat": Quantity("friction heat in {place}", "power", "heat of friction in {place}"),
    "heat_of_compression": Quantity(
        "heat of compression in {place}",
        "power",
        "expansion times temperature times flow along the gradient of pressure, in {place}",
        opposite="heat_of_expansion",
    ),
    "heat_of_expansion": Quantity(
        "heat that expansion takes in {place}",
        "power",
        "expansion times temperature times flow against the gradient of pressure, in {place}",
        opposite="heat_of_compression",
    ),
    "liquid_fraction": Quantity("liquid fraction of {place}", "ratio", "share of liquid in {place}, by volume", share=True),
    "heat_stored": Quantity(
        "heat stored in {place}",
        "energy",
        "heat taken up by {place} since the beginning, latent heat included",
        opposite="heat_given_up",
    ),
    "heat_given_up": Quantity(
        "heat given up by {place}",
        "energy",
        "heat that {place} has lost since the beginning, latent heat included",
        opposite="heat_stored",
    ),
    "front": Quantity(
        "front in {place}",
        "length",
        "mean distance of the front in {place} from the surface through which most heat passes: volume that has melted or frozen "
        "since the beginning over that surface's area, around a cylinder in its radius",
    ),
    "melting_time": Quantity("melting time of {place}", "time", "time at which 99 % of {place} is liquid"),
    "freezing_time": Quantity("freezing time of {place}", "time", "time at which 99 % of {place} is solid"),
    "store_effectiveness": Quantity(
        "store effectiveness of {place}",
        "ratio",
        "heat taken up by {place} over what it would have taken up had all of it reached the temperature given furthest from its "
        "beginning",
        share=True,
    ),
    "pressure": Quantity("pressure in {place}", "pressure", "pressure of the gas closed in {place}, absolute"),
    "rayleigh_number": Quantity(
        "Rayleigh number of {place}",
        "number",
        "of {place}, on the temperatures on its surfaces and the gap between those that give heat and those that take it (its "
        "height, if so chosen), properties at their middle",
    ),
}
