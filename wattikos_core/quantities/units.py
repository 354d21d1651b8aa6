"""Unit strings to dimensions and SI factors, with pint as the source of units."""

from __future__ import annotations

import re
from functools import lru_cache
from typing import Any

# Exponents of metre, kilogram, second, kelvin, mole, ampere, candela.
Dimension = tuple[float, float, float, float, float, float, float]

DIMENSIONLESS: Dimension = (0.0,) * 7
TEMPERATURE: Dimension = (0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0)

_BASES = ("[length]", "[mass]", "[time]", "[temperature]", "[substance]", "[current]", "[luminosity]")

# Ways people write units that pint spells otherwise.
_SPELLINGS = {"Δ°C": "delta_degC", "°C": "degC", "°F": "degF", "°": "deg", "·": "*"}
_SPELLINGS |= {"²": "^2", "³": "^3", "%": "percent", "µ": "u", "μ": "u"}

# Products, quotients and whole powers of words, at most one pair of brackets: `W/(m^2*K)`, `1/K`.
_POWER = r"[A-Za-z_]+(?:\^-?[1-9])?"
_PRODUCT = rf"{_POWER}(?:[*/ ]{_POWER})*"
_GRAMMAR = re.compile(rf"(?:1/)?{_PRODUCT}(?:[*/]\({_PRODUCT}\))?")
_MAX_LENGTH = 60


@lru_cache(maxsize=1)
def _registry() -> Any:
    import pint

    return pint.UnitRegistry(cache_folder=None)


@lru_cache(maxsize=4096)
def normalise(text: str) -> str:
    """`text` with typographic unit signs (°C, ², ·, %) replaced by plain ones."""
    for sign, plain in _SPELLINGS.items():
        text = text.replace(sign, plain)
    return text


@lru_cache(maxsize=1024)
def dimension_and_factor(unit: str) -> tuple[Dimension, float]:
    """The dimension of `unit` and the factor that takes a value in it to SI.

    Offset scales (degC, degF) give the factor of their degree; the offset is the caller's business.
    Raises KeyError for a unit nobody knows.
    """
    unit = normalise(unit).strip()
    if not unit:
        return DIMENSIONLESS, 1.0
    unit = re.sub(r"\s*([*/^()])\s*", r"\1", unit.replace("**", "^"))
    if len(unit) > _MAX_LENGTH or not _GRAMMAR.fullmatch(unit):
        raise KeyError(unit[:_MAX_LENGTH])
    registry = _registry()
    try:
        parsed = registry.Unit(unit.replace("^", "**"))
        powers = parsed.dimensionality
        if any(base not in _BASES for base in powers):
            raise KeyError(unit)
        dimension = tuple(float(powers.get(base, 0.0)) for base in _BASES)
        if unit in ("degC", "degF"):
            unit = "delta_" + unit
        factor = registry.Quantity(1.0, unit.replace("^", "**")).to_base_units().magnitude
    except KeyError:
        raise
    except Exception as error:  # pint raises many types for malformed unit strings
        raise KeyError(unit) from error
    return dimension, float(factor)  # type: ignore[return-value]


def is_unit(name: str) -> bool:
    """Whether `name` is a unit."""
    try:
        dimension_and_factor(name)
    except KeyError:
        return False
    return True
