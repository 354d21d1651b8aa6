"""From laminar to turbulent: friction and mean Nusselt number of a stream in a duct, and what the wall's temperature does to them.

Laminar below a Reynolds number of 2,300, turbulent from 4,000 on, on a straight line between (Gnielinski 2013).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from wattikos_core.estimate.ducts import TRANSITION_REYNOLDS
from wattikos_core.materials import PropertyTable

TURBULENT_REYNOLDS = 4000.0
GNIELINSKI = "Gnielinski (2013), Int. J. Heat Mass Transfer 63, 134 (from memory), as in the ht library"
COLEBROOK = "Colebrook (1939), as in the fluids library"
PETUKHOV_ROIZEN = "Petukhov and Roizen (1964), High Temp. 2, 65 (from memory)"
KAYS = "Kays and Crawford (1993), Convective Heat and Mass Transfer, chapter 15 (from memory)"

# Where the turbulent relation holds.
_MOST_REYNOLDS, _LEAST_PRANDTL, _MOST_PRANDTL = 1e6, 0.5, 2000.0
# Usual scatter of films that are turbulent, and of those that may be either.
_SCATTER_TURBULENT, _SCATTER_BETWEEN = 0.10, 0.30
_METAL_PRANDTL = 0.1
# Exponents of wall over bulk viscosity of liquids, and of absolute temperature of gases: Nu, then friction, heating and cooling.
_LIQUID = {False: ((-0.14, -0.14), (0.58, 0.50)), True: ((-0.11, -0.25), (0.25, 0.24))}
_GAS = {False: ((0.0, 0.0), (1.0, 0.81)), True: ((-0.5, 0.0), (-0.1, -0.1))}


@dataclass(frozen=True)
class DuctFilm:
    """Mean Nu and Darcy friction factor of a stream; `scatter` of Nu, and whether the relation holds."""

    nusselt: float
    friction: float
    scatter: float
    inside: bool


def duct_film(
    laminar: Callable[[float], tuple[float, float]],
    reynolds: float,
    prandtl: float,
    *,
    slenderness: float,
    roughness: float,
    laminar_scatter: float,
    annulus: float = 0.0,
) -> DuctFilm:
    """The film of a duct of any section.

    Args:
        laminar: Nu and friction factor at a Reynolds number.
        reynolds: on the hydraulic diameter.
        prandtl: of the fluid.
        slenderness: hydraulic diameter over length; 0 far from the entrance.
        roughness: equivalent sand roughness over hydraulic diameter.
        laminar_scatter: share by which laminar values scatter.
        annulus: inner over outer diameter of an annulus whose inner wall gives the heat; 0 for other ducts.
    """
    if reynolds <= TRANSITION_REYNOLDS:
        nusselt, friction = laminar(reynolds)
        return DuctFilm(nusselt, friction, laminar_scatter, True)
    holds = reynolds <= _MOST_REYNOLDS and _LEAST_PRANDTL <= prandtl <= _MOST_PRANDTL
    share = min((reynolds - TRANSITION_REYNOLDS) / (TURBULENT_REYNOLDS - TRANSITION_REYNOLDS), 1.0)
    nusselt, friction = _turbulent(max(reynolds, TURBULENT_REYNOLDS), prandtl, slenderness, roughness, annulus)
    if share == 1.0:
        return DuctFilm(nusselt, friction, _SCATTER_TURBULENT, holds)
    slow_nusselt, slow_friction = laminar(TRANSITION_REYNOLDS)
    nusselt = (1.0 - share) * slow_nusselt + share * nusselt
    return DuctFilm(nusselt, (1.0 - share) * slow_friction + share * friction, _SCATTER_BETWEEN, holds)


def _turbulent(reynolds: float, prandtl: float, slenderness: float, roughness: float, annulus: float) -> tuple[float, float]:
    """Nu of Gnielinski with the entry's share after Hausen, and friction after Colebrook.

    The inner wall of an annulus gives 0.86 a^-0.16 times as much: Petukhov and Roizen (1964).
    """
    from fluids import friction_factor
    from ht import turbulent_Gnielinski

    friction = float(friction_factor(reynolds, roughness))
    nusselt = float(turbulent_Gnielinski(Re=reynolds, Pr=prandtl, fd=friction)) * (1.0 + slenderness ** (2.0 / 3.0))
    return nusselt * (0.86 * annulus**-0.16 if annulus else 1.0), friction


def by_wall(table: PropertyTable, mean: float, surface: float, *, turbulent: bool, both_sides: bool = True) -> tuple[float, float]:
    """What Nu and friction factor at the mean temperature (K) are multiplied by for the temperature of the wall (K).

    Liquids follow their viscosity, gases their absolute temperature, by heating and cooling (Kays and Crawford 1993); liquid
    metals neither. An insulated plate opposite has no film of its own: half of the correction of friction.
    """
    if not table.gas and float(table.prandtl(mean)) < _METAL_PRANDTL:
        return 1.0, 1.0
    cooling = surface < mean
    ratio = surface / mean if table.gas else float(table.viscosity(surface)) / float(table.viscosity(mean))
    of_nusselt, of_friction = (_GAS if table.gas else _LIQUID)[turbulent]
    return ratio ** of_nusselt[cooling], ratio ** (of_friction[cooling] * (1.0 if both_sides else 0.5))


def range_of(where: str) -> str:
    """The range of a duct's film in words, with what else limits it."""
    turbulent = f"laminar below Re {TRANSITION_REYNOLDS:.0f}, turbulent from {TURBULENT_REYNOLDS:.0f} to 1e6 (Prandtl 0.5 to 2000)"
    return f"{turbulent}; {where}" if where else turbulent


def sources_of(laminar: str, reynolds: float) -> str:
    """What a film is from, at a Reynolds number."""
    return laminar if reynolds <= TRANSITION_REYNOLDS else f"{GNIELINSKI}; friction: {COLEBROOK}"
