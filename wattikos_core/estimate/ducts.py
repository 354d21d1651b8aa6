"""Laminar flow between parallel plates: Nusselt numbers and friction, with entry lengths.

x_star = L / (D_h Re Pr) and x_plus = L / (D_h Re) are the dimensionless lengths; D_h is twice the gap.
"""

from __future__ import annotations

import math

TRANSITION_REYNOLDS = 2300.0

SHAH_LONDON = "Shah and London (1978), Laminar Flow Forced Convection in Ducts"
STEPHAN = "Stephan (1959), Chem.-Ing.-Techn. 31, 773"

# Developed values for parallel plates (Shah and London 1978, chapter VI).
NUSSELT_TEMPERATURE = 7.541
NUSSELT_FLUX = 8.235
NUSSELT_ONE_SIDE_TEMPERATURE = 4.861
NUSSELT_ONE_SIDE_FLUX = 5.385
FRICTION_REYNOLDS = 96.0
# Mean Nu in the thermal entry is these times x_star to the power -1/3, on any wall of any duct of this height.
ENTRY_TEMPERATURE = 1.849
ENTRY_FLUX = 2.236

# Exponents of wall over bulk viscosity for laminar liquids, of friction where the wall is warmer and where it is colder
# (Kays and London 1984, chapter 4; from memory).
_VISCOSITY_NUSSELT = -0.14
_VISCOSITY_FRICTION = {True: 0.58, False: 0.50}


def nusselt_by_viscosity(against: float) -> float:
    """What a Nusselt number is multiplied by for the viscosity at the wall over that of the bulk."""
    return float(against**_VISCOSITY_NUSSELT)


def friction_by_viscosity(against: float, *, heating: bool, both_sides: bool) -> float:
    """What a friction factor is multiplied by; an insulated plate opposite has no film of its own: half of the correction."""
    return float(against ** (_VISCOSITY_FRICTION[heating] * (1.0 if both_sides else 0.5)))


def mean_nusselt_temperature(x_star: float) -> float:
    """Mean Nu, both plates at one temperature, developed velocity; Shah and London (1978), chapter VI (from memory)."""
    if x_star <= 0.0005:
        return float(ENTRY_TEMPERATURE * x_star ** (-1.0 / 3.0))
    if x_star <= 0.006:
        return float(ENTRY_TEMPERATURE * x_star ** (-1.0 / 3.0) + 0.6)
    return 7.541 + 0.0235 / x_star


def mean_nusselt_flux(x_star: float) -> float:
    """Mean Nu, both plates with one heat flux, developed velocity; Shah and London (1978), chapter VI (from memory)."""
    if x_star <= 0.001:
        return float(ENTRY_FLUX * x_star ** (-1.0 / 3.0))
    if x_star <= 0.01:
        return float(ENTRY_FLUX * x_star ** (-1.0 / 3.0) + 0.9)
    return 8.235 + 0.0364 / x_star


def mean_nusselt_entry(x_star: float, prandtl: float) -> float:
    """Mean Nu, both plates at one temperature, velocity and temperature developing together; Stephan (1959)."""
    x = 1.0 / x_star
    return float(7.55 + 0.024 * x**1.14 / (1.0 + 0.0358 * x**0.64 * prandtl**0.17))


def one_sided(developed: float, both_sides_entry: float) -> float:
    """Mean Nu with one plate insulated: its developed value joined to the entry asymptote, which both cases share.

    Joined as (a³ + b³)^(1/3): common practice, no source.
    """
    return float((developed**3 + both_sides_entry**3) ** (1.0 / 3.0))


def plate_nusselt(x_star: float, prandtl: float, flux_share: float, *, both_sides: bool, developing: bool) -> float:
    """Mean Nu on the hydraulic diameter for a wall between one temperature (share 0) and one heat flux (share 1).

    The share is the ratio of heat capacity rates in counterflow: common practice, no source.
    """
    entry_t = ENTRY_TEMPERATURE * x_star ** (-1.0 / 3.0)
    entry_h = ENTRY_FLUX * x_star ** (-1.0 / 3.0)
    if both_sides:
        at_temperature, at_flux = mean_nusselt_temperature(x_star), mean_nusselt_flux(x_star)
    else:
        at_temperature = one_sided(NUSSELT_ONE_SIDE_TEMPERATURE, entry_t)
        at_flux = one_sided(NUSSELT_ONE_SIDE_FLUX, entry_h)
    nusselt = flux_share * at_flux + (1.0 - flux_share) * at_temperature
    if developing:
        nusselt *= max(1.0, mean_nusselt_entry(x_star, prandtl) / mean_nusselt_temperature(x_star))
    return nusselt


def pipe_nusselt(graetz: float) -> float:
    """Mean Nu in a round pipe, developed velocity, wall at one temperature: Hausen (1943), as in the ht library; Gz = D/L Re Pr."""
    return float(3.66 + 0.0668 * graetz / (1.0 + 0.04 * graetz ** (2.0 / 3.0)))


def pipe_friction(x_plus: float, *, developing: bool) -> float:
    """Darcy friction factor times Reynolds number in a round pipe: 64, with the entry's loss after Shah (1978, from memory)."""
    if not developing:
        return 64.0
    root = 3.44 / math.sqrt(x_plus)
    return 4.0 * (root + (16.0 + 1.25 / (4.0 * x_plus) - root) / (1.0 + 2.1e-4 / x_plus**2))


def apparent_friction(x_plus: float, *, developing: bool) -> float:
    """Darcy friction factor times Reynolds number over the whole length, with the entry's pressure loss.

    Shah (1978) for plates, in Shah and London (1978), chapter VI (from memory).
    """
    if not developing:
        return FRICTION_REYNOLDS
    root = 3.44 / math.sqrt(x_plus)
    return 4.0 * (root + (24.0 + 0.674 / (4.0 * x_plus) - root) / (1.0 + 2.9e-5 / x_plus**2))
