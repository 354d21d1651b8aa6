"""Natural convection in closed vertical gaps between a warm and a cold side."""

from __future__ import annotations

from dataclasses import dataclass

from wattikos_core.materials import PropertyTable

ELSHERBINY = "ElSherbiny, Raithby and Hollands (1982), J. Heat Transfer 104, 96 (from memory)"
CATTON = "Catton (1978), in Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), eqs. 9.50 and 9.51"
MACGREGOR = "MacGregor and Emery (1969), in Incropera and DeWitt, 5th ed. (2002), eq. 9.52"
# Usual scatter about them.
SCATTER = 0.1
# Gases are narrower than this in their Prandtl number, liquids above it.
_GAS_PRANDTL = 0.9


@dataclass(frozen=True)
class GapNusselt:
    """Mean Nusselt number on the width of a gap: by how much convection multiplies conduction; 1 where it adds nothing.

    Attributes:
        source, range: where it is from and where it holds; `inside` says whether the gap is there.
    """

    value: float
    source: str
    range: str
    inside: bool


def gap_rayleigh(table: PropertyTable, mean: float, span: float, width: float, gravity: float) -> tuple[float, float]:
    """Rayleigh number on the width (m) of a gap and the Prandtl number, at a mean temperature (K) and a difference of them."""
    density = float(table.density(mean))
    expansion = abs(float(table.heavy_density(mean - 0.5) - table.heavy_density(mean + 0.5))) / density
    viscosity, prandtl = float(table.viscosity(mean)) / density, float(table.prandtl(mean))
    return gravity * expansion * span * width**3 * prandtl / viscosity**2, prandtl


def gap_nusselt(rayleigh: float, prandtl: float, aspect: float) -> GapNusselt:
    """Mean Nu of a vertical gap heated through one side and cooled through the other, its ends adiabatic.

    Gases from an aspect (height over width) of 5 on: ElSherbiny et al.; all others up to 10: Catton, above: MacGregor and Emery.

    Args:
        rayleigh: on the width.
    """
    if prandtl < _GAS_PRANDTL and aspect >= 5.0:
        corner = (1.0 + (0.104 * rayleigh**0.293 / (1.0 + (6310.0 / max(rayleigh, 1e-9)) ** 1.36)) ** 3) ** (1.0 / 3.0)
        value = max(0.0605 * rayleigh ** (1.0 / 3.0), corner, 0.242 * (rayleigh / aspect) ** 0.272)
        where = "height over width of 5 to 110, Rayleigh number on the width below 2e7"
        return GapNusselt(value, ELSHERBINY, where, aspect <= 110.0 and rayleigh < 2e7)
    if aspect <= 10.0:
        driven = prandtl / (0.2 + prandtl) * rayleigh
        value = 0.18 * driven**0.29 if aspect <= 2.0 else 0.22 * driven**0.28 * aspect**-0.25
        where = "height over width of 1 to 10, Rayleigh number on the width below 1e10"
        return GapNusselt(max(value, 1.0), CATTON, where, aspect >= 1.0 and rayleigh < 1e10)
    value = 0.42 * rayleigh**0.25 * prandtl**0.012 * aspect**-0.3
    where = "height over width of 10 to 40, Rayleigh number on the width below 1e7"
    return GapNusselt(max(value, 1.0), MACGREGOR, where, aspect <= 40.0 and rayleigh < 1e7)
