"""The material catalogue, read from `catalogue.json`; every entry names its source."""

from __future__ import annotations

import json
from dataclasses import dataclass
from importlib.resources import files
from typing import Any, Literal


@dataclass(frozen=True)
class Material:
    """One catalogue entry; values in SI, at `temperature` support points for solids.

    Attributes:
        backend: the CoolProp fluid behind a fluid entry; empty where it has support points of its own, with `density_points`.
        phase: `liquid` or `gas`; a liquid's table ends at its boiling point.
        pressure: the pressure of the properties, in Pa.
        melts_from, melts_to, latent_heat: of what melts, K and J/kg; its density, conductivity, specific heat and
            viscosity are those of the liquid at its `temperature` support points, `density_points` those in the weight.
        solid_density, solid_specific_heat, solid_conductivity: of what melts, solid.
    """

    key: str
    label: str
    state: Literal["fluid", "solid", "melting"]
    source: str
    family: str = "fluid"
    phase: str = ""
    backend: str = ""
    temperature_min: float = 0.0
    temperature_max: float = 0.0
    pressure: float = 101325.0
    density: float = 0.0
    temperature: tuple[float, ...] = ()
    conductivity: tuple[float, ...] = ()
    specific_heat: tuple[float, ...] = ()
    viscosity: tuple[float, ...] = ()
    density_points: tuple[float, ...] = ()
    melts_from: float = 0.0
    melts_to: float = 0.0
    latent_heat: float = 0.0
    solid_density: float = 0.0
    solid_specific_heat: float = 0.0
    solid_conductivity: float = 0.0


def _load() -> dict[str, Material]:
    entries: list[dict[str, Any]] = json.loads(files(__package__).joinpath("catalogue.json").read_text())["materials"]
    catalogue = {}
    for entry in entries:
        values: dict[str, Any] = {name: tuple(value) if isinstance(value, list) else value for name, value in entry.items()}
        catalogue[entry["key"]] = Material(**values)
    return catalogue


CATALOGUE: dict[str, Material] = _load()


def find(key: str) -> Material:
    """The catalogue entry `key`; KeyError when there is none."""
    return CATALOGUE[key]
