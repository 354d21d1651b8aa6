"""Natural convection in closed gaps between a warm and a cold side: upright, warm below, and warm on top."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from wattikos_core.materials import PropertyTable
from wattikos_core.radiation import STEFAN_BOLTZMANN

ELSHERBINY = "ElSherbiny, Raithby and Hollands (1982), J. Heat Transfer 104, 96 (from memory)"
CATTON = "Catton (1978), in Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), eqs. 9.50 and 9.51"
MACGREGOR = "MacGregor and Emery (1969), in Incropera and DeWitt, 5th ed. (2002), eq. 9.52"
HOLLANDS = "Hollands, Raithby and Konicek (1975), Int. J. Heat Mass Transfer 18, 879, as in the ht library"
GLOBE_DROPKIN = "Globe and Dropkin (1959), J. Heat Transfer 81, 24 (from memory)"
LAYERED = "conduction alone: the warm side is on top"
# Usual scatter about them.
SCATTER = 0.1
# Gases are narrower than this in their Prandtl number, liquids above it.
_GAS_PRANDTL = 0.9
# A layer that is warm below begins to stir here: Rayleigh (1916), Jeffreys (1928).
CRITICAL_RAYLEIGH = 1708.0
# Relations of neighbouring aspects are joined between these.
_GAS_JOINT, _LIQUID_JOINT = (4.0, 6.0), (8.0, 12.0)

Heated = Literal["side", "below", "above"]


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


def gap_nusselt(rayleigh: float, prandtl: float, aspect: float, heated: Heated = "side") -> GapNusselt:
    """Mean Nu of a closed gap.

    Args:
        rayleigh: on the width between the warm and the cold side.
        prandtl: of the fluid.
        aspect: length of these sides over the width.
        heated: where the warm side is.
    """
    if heated == "above":
        return GapNusselt(1.0, LAYERED, "wide layers", True)
    return _from_below(rayleigh, prandtl) if heated == "below" else _upright(rayleigh, prandtl, aspect)


def _from_below(rayleigh: float, prandtl: float) -> GapNusselt:
    """Wide layers that are warm below: Hollands et al.; liquids beyond a Rayleigh number of 3e5 Globe and Dropkin."""
    from ht.conv_free_enclosed import Nu_Nusselt_Rayleigh_Hollands

    if prandtl >= _GAS_PRANDTL and rayleigh > 3e5:
        value = 0.069 * rayleigh ** (1.0 / 3.0) * prandtl**0.074
        return GapNusselt(value, GLOBE_DROPKIN, "Rayleigh number on the width from 3e5 to 7e9", rayleigh < 7e9)
    if rayleigh <= CRITICAL_RAYLEIGH:
        value = 1.0
    else:
        value = float(Nu_Nusselt_Rayleigh_Hollands(Pr=prandtl, Gr=rayleigh / prandtl, buoyancy=True, Rac=CRITICAL_RAYLEIGH))
    return GapNusselt(value, HOLLANDS, "wide layers, Rayleigh number on the width below 1e8", rayleigh < 1e8)


def _upright(rayleigh: float, prandtl: float, aspect: float) -> GapNusselt:
    gas = prandtl < _GAS_PRANDTL
    joint = _GAS_JOINT if gas else _LIQUID_JOINT
    tall = _tall_gas if gas else _tall_liquid
    low = _wide(rayleigh, prandtl, min(aspect, joint[1]))
    if aspect <= joint[0]:
        return low
    high = tall(rayleigh, prandtl, max(aspect, joint[0]))
    if aspect >= joint[1]:
        return high
    share = math.log(aspect / joint[0]) / math.log(joint[1] / joint[0])
    return GapNusselt(
        low.value ** (1.0 - share) * high.value**share,
        f"between {low.source} and {high.source}",
        f"{low.range}; {high.range}",
        low.inside and high.inside,
    )


def _wide(rayleigh: float, prandtl: float, aspect: float) -> GapNusselt:
    driven = prandtl / (0.2 + prandtl) * rayleigh
    value = 0.18 * driven**0.29 if aspect <= 2.0 else 0.22 * driven**0.28 * aspect**-0.25
    # Where convection adds nothing it needs no relation; above, these have ranges from below as well.
    known = value <= 1.0 or (driven > 1e3 if aspect <= 2.0 else prandtl > 0.1 and rayleigh > 1e3)
    where = "height over width of 1 to 10, Rayleigh number on the width from 1e3 to 1e10"
    return GapNusselt(max(value, 1.0), CATTON, where, aspect >= 1.0 and rayleigh < 1e10 and known)


def _tall_gas(rayleigh: float, prandtl: float, aspect: float) -> GapNusselt:
    corner = (1.0 + (0.104 * rayleigh**0.293 / (1.0 + (6310.0 / max(rayleigh, 1e-9)) ** 1.36)) ** 3) ** (1.0 / 3.0)
    value = max(0.0605 * rayleigh ** (1.0 / 3.0), corner, 0.242 * (rayleigh / aspect) ** 0.272)
    where = "gases, height over width of 5 to 110, Rayleigh number on the width below 2e7"
    known = prandtl > 0.5 or value < 1.01
    return GapNusselt(value, ELSHERBINY, where, aspect <= 110.0 and rayleigh < 2e7 and known)


def _tall_liquid(rayleigh: float, prandtl: float, aspect: float) -> GapNusselt:
    value = 0.42 * rayleigh**0.25 * prandtl**0.012 * aspect**-0.3
    where = "liquids, height over width of 10 to 40, Rayleigh number on the width below 1e7"
    known = prandtl > 1.0 or value <= 1.0
    return GapNusselt(max(value, 1.0), MACGREGOR, where, aspect <= 40.0 and rayleigh < 1e7 and known)


def gap_radiation(mean: float, span: float, near: float, far: float) -> float:
    """Radiation between the two sides of a narrow gap as a conductance, W/m2/K, from their emissivities."""
    warm, cold = mean + 0.5 * span, mean - 0.5 * span
    return STEFAN_BOLTZMANN * (warm**2 + cold**2) * (warm + cold) / (1.0 / near + 1.0 / far - 1.0)
