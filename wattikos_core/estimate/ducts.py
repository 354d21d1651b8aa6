"""Laminar flow between parallel plates, in pipes and in annuli: mean Nusselt numbers and friction, with entry lengths.

x_star = L / (D_h Re Pr) and x_plus = L / (D_h Re) are the dimensionless lengths; D_h is twice the gap, or the bore of a pipe.
"""

from __future__ import annotations

import math

from wattikos_core.estimate.graetz import Walls, friction_reynolds, mean_nusselt

TRANSITION_REYNOLDS = 2300.0

SHAH_LONDON = "Shah and London (1978), Laminar Flow Forced Convection in Ducts"
STEPHAN = "Stephan (1959), Chem.-Ing.-Techn. 31, 773"
HICKMAN = "Hickman (1974), J. Heat Transfer 96, 316 (from memory)"

# Increment of the pressure loss and constant of Shah's joint, of plates and of pipes.
_PLATES, _PIPE = (0.674, 2.9e-5), (1.25, 2.1e-4)
_RESISTED = 0.24


def mean_nusselt_entry(x_star: float, prandtl: float) -> float:
    """Mean Nu, both plates at one temperature, velocity and temperature developing together; Stephan (1959)."""
    x = 1.0 / x_star
    return float(7.55 + 0.024 * x**1.14 / (1.0 + 0.0358 * x**0.64 * prandtl**0.17))


def plate_nusselt(x_star: float, prandtl: float, flux_share: float, *, both_sides: bool, developing: bool) -> float:
    """Mean Nu on the hydraulic diameter for a wall between one temperature (share 0) and one heat flux (share 1).

    The share is the ratio of heat capacity rates in counterflow: common practice, no source.
    """
    return annulus_nusselt(1.0, x_star, prandtl, flux_share, "both" if both_sides else "inner", developing=developing)


def annulus_nusselt(ratio: float, x_star: float, prandtl: float, flux_share: float, walls: Walls, *, developing: bool) -> float:
    """Mean Nu of an annulus; where velocity develops too, raised as it is between plates at one temperature (Stephan 1959)."""
    nusselt = between(ratio, x_star, flux_share, walls)
    if developing:
        nusselt *= max(1.0, mean_nusselt_entry(x_star, prandtl) / mean_nusselt(1.0, x_star, "both", flux=False))
    return nusselt


def pipe_nusselt(x_star: float, flux_share: float = 0.0) -> float:
    """Mean Nu in a round pipe, developed velocity, for a wall between one temperature (share 0) and one heat flux (share 1)."""
    return between(0.0, x_star, flux_share, "outer")


def between(ratio: float, x_star: float, flux_share: float, walls: Walls) -> float:
    """Mean Nu of an annulus (ratio 0: a pipe, 1: plates) whose wall is between one temperature and one heat flux."""
    at_flux = mean_nusselt(ratio, x_star, walls, flux=True) if flux_share > 0.0 else 0.0
    at_temperature = mean_nusselt(ratio, x_star, walls, flux=False) if flux_share < 1.0 else 0.0
    return flux_share * at_flux + (1.0 - flux_share) * at_temperature


def flux_share_behind(biot: float) -> float:
    """How near a pipe's wall is to one heat flux behind a resistance.

    `biot` is what passes that, per area of the wall, times bore over the stream's conductivity. 1 where hardly anything
    passes, 0 where nothing resists: within 2 % of the Nusselt numbers of Hickman (1974).
    """
    return 1.0 / (1.0 + _RESISTED * biot)


def pipe_friction(x_plus: float, *, developing: bool) -> float:
    """Darcy friction factor times Reynolds number in a round pipe: 64, with the entry's loss after Shah (1978, from memory)."""
    return _apparent(x_plus, 64.0, _PIPE) if developing else 64.0


def apparent_friction(x_plus: float, *, developing: bool, ratio: float = 1.0) -> float:
    """Darcy friction factor times Reynolds number over the whole length, with the entry's pressure loss.

    Shah (1978) for plates, in Shah and London (1978), chapter VI (from memory); an annulus has its own developed value.
    """
    developed = friction_reynolds(ratio)
    return _apparent(x_plus, developed, _PLATES) if developing else developed


def _apparent(x_plus: float, developed: float, constants: tuple[float, float]) -> float:
    increment, joint = constants
    root = 3.44 / math.sqrt(x_plus)
    return 4.0 * (root + (0.25 * developed + increment / (4.0 * x_plus) - root) / (1.0 + joint / x_plus**2))
