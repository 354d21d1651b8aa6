"""The kinds of quantity an input can have, and conversion between SI and the units people read."""

from __future__ import annotations

import re
from dataclasses import dataclass

from wattikos_core.quantities.units import dimension_and_factor


@dataclass(frozen=True)
class Kind:
    """What an input measures.

    Attributes:
        name: identifier in documents and the API.
        label: what a person calls it.
        si: the SI unit of stored values.
        unit: the unit shown by default.
        units: the units offered for it.
    """

    name: str
    label: str
    si: str
    unit: str
    units: tuple[str, ...]


_KINDS = (
    Kind("number", "number", "", "", ("",)),
    Kind("length", "length", "m", "mm", ("mm", "cm", "m", "in", "ft", "um")),
    Kind("area", "area", "m^2", "m^2", ("m^2", "cm^2", "mm^2", "ft^2")),
    Kind("volume", "volume", "m^3", "cm^3", ("cm^3", "m^3", "mm^3", "ft^3")),
    Kind("mass", "mass", "kg", "kg", ("kg", "g", "lb")),
    Kind("temperature", "temperature", "K", "degC", ("degC", "K", "degF")),
    Kind("temperature_difference", "temperature difference", "K", "K", ("K", "delta_degC", "delta_degF")),
    Kind("mass_flow", "mass flow", "kg/s", "g/s", ("kg/s", "g/s", "kg/h", "kg/min", "lb/h")),
    Kind("volume_flow", "volume flow", "m^3/s", "m^3/h", ("m^3/h", "m^3/s", "m^3/min", "cm^3/s", "ft^3/min")),
    Kind("velocity", "velocity", "m/s", "m/s", ("m/s", "mm/s", "cm/s", "ft/s")),
    Kind("pressure", "pressure", "Pa", "Pa", ("Pa", "kPa", "mbar", "bar", "psi")),
    Kind("power", "heat rate", "W", "W", ("W", "kW", "mW", "BTU/h")),
    Kind("force", "force", "N", "N", ("N", "mN", "kN")),
    Kind("heat_flux", "heat flux", "W/m^2", "W/m^2", ("W/m^2", "kW/m^2", "W/cm^2")),
    Kind("conductivity", "thermal conductivity", "W/m/K", "W/m/K", ("W/m/K", "mW/m/K")),
    Kind("heat_transfer_coefficient", "heat transfer coefficient", "W/m^2/K", "W/m^2/K", ("W/m^2/K", "kW/m^2/K")),
    Kind("thermal_conductance", "thermal conductance", "W/K", "W/K", ("W/K", "kW/K")),
    Kind("heat_capacity_rate", "heat capacity rate", "W/K", "W/K", ("W/K", "kW/K")),
    Kind("density", "density", "kg/m^3", "kg/m^3", ("kg/m^3", "g/cm^3")),
    Kind("specific_heat", "specific heat", "J/kg/K", "J/kg/K", ("J/kg/K", "kJ/kg/K")),
    Kind("viscosity", "dynamic viscosity", "Pa*s", "mPa*s", ("Pa*s", "mPa*s")),
    Kind("contact_resistance", "contact resistance", "m^2*K/W", "m^2*K/W", ("m^2*K/W", "mm^2*K/W", "cm^2*K/W")),
    Kind("volumetric_heat", "heat source per volume", "W/m^3", "W/m^3", ("W/m^3", "kW/m^3", "W/cm^3")),
    Kind("angle", "angle", "rad", "deg", ("deg", "rad")),
    Kind("ratio", "ratio", "", "", ("", "percent")),
    Kind("time", "time", "s", "s", ("s", "min", "h", "day")),
    Kind("acceleration", "acceleration", "m/s^2", "m/s^2", ("m/s^2",)),
    Kind("angular_velocity", "angular velocity", "rad/s", "rpm", ("rpm", "rad/s")),
    Kind("torque", "torque", "N*m", "N*m", ("N*m", "mN*m")),
    Kind("energy", "energy", "J", "kJ", ("J", "kJ", "MJ", "kWh")),
    Kind("specific_energy", "heat per mass", "J/kg", "kJ/kg", ("J/kg", "kJ/kg")),
    Kind("expansion", "thermal expansion", "1/K", "1/K", ("1/K",)),
    Kind("pressure_gradient", "pressure gradient", "Pa/m", "Pa/m", ("Pa/m", "kPa/m", "mbar/m")),
    Kind("diffusivity", "diffusivity", "m^2/s", "m^2/s", ("m^2/s", "mm^2/s", "cm^2/s")),
    Kind("rate", "rate of turning", "1/s", "1/s", ("1/s",)),
    Kind("turbulence_energy", "turbulence energy", "m^2/s^2", "m^2/s^2", ("m^2/s^2",)),
    Kind("volumetric_heat_transfer", "heat transfer per volume", "W/m^3/K", "W/m^3/K", ("W/m^3/K", "kW/m^3/K")),
    Kind("viscous_resistance", "viscous resistance", "1/m^2", "1/m^2", ("1/m^2",)),
    Kind("inertial_resistance", "inertial resistance", "1/m", "1/m", ("1/m",)),
    Kind("mush_resistance", "resistance of the mush", "kg/m^3/s", "kg/m^3/s", ("kg/m^3/s",)),
)

KINDS: dict[str, Kind] = {kind.name: kind for kind in _KINDS}

# The words people use as units here; an input by such a name could not be told from the unit.
UNIT_WORDS = frozenset(word for kind in _KINDS for unit in kind.units for word in re.split(r"[^A-Za-z]+", unit) if word)

# Offsets of the temperature scales, in their own degrees above absolute zero.
_SCALES = {"K": (1.0, 0.0), "degC": (1.0, 273.15), "degF": (5.0 / 9.0, 459.67)}


def measures(unit: str, kind: str) -> bool:
    """Whether values of `kind` can be told in `unit`."""
    if kind == "temperature":
        return unit in _SCALES
    try:
        return dimension_and_factor(unit)[0] == dimension_and_factor(KINDS[kind].si)[0]
    except KeyError:
        return False


def to_si(magnitude: float, unit: str, kind: str) -> float:
    """`magnitude` in `unit` as the SI value of `kind` (temperatures become absolute, in K)."""
    if kind == "temperature":
        scale, offset = _SCALES[unit]
        return (magnitude + offset) * scale
    return magnitude * dimension_and_factor(unit)[1]


def difference_from_si(value: float, unit: str, kind: str) -> float:
    """A difference of SI values in `unit`: it has the scale of the unit but not its offset."""
    return from_si(value, unit, kind) - from_si(0.0, unit, kind)


def from_si(value: float, unit: str, kind: str) -> float:
    """The SI `value` of `kind` expressed in `unit`; the inverse of `to_si`."""
    if kind == "temperature":
        scale, offset = _SCALES[unit]
        return value / scale - offset
    return value / dimension_and_factor(unit)[1]


_LABELS = {"degC": "°C", "degF": "°F", "deg": "°", "delta_degC": "Δ°C", "delta_degF": "Δ°F", "percent": "%", "um": "µm"}


def unit_label(unit: str) -> str:
    """A unit in the trade's notation: `W/m^2/K` as W/(m²·K)."""
    plain = _LABELS.get(unit, unit.replace("^2", "²").replace("^3", "³").replace("*", "·"))
    above, *below = plain.split("/")
    if unit in _LABELS or len(below) < 2:
        return plain
    return f"{above}/({'·'.join(below)})"
