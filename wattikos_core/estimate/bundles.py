"""Tubes, bars and spheres across a stream: films, drag and the pressure drop of bundles.

Zukauskas (1972), Adv. Heat Transfer 8, 93, on the velocity in the narrowest gap, with constants as tabulated by Incropera and
DeWitt, 5th ed. (2002), tables 7.4, 7.7 and 7.8 (from memory), above 2e5 those of Bejan (2013), as in the ht library; below a
Reynolds number of 1,000 a tube of a bundle is as one alone.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

Arrangement = Literal["single", "in_line", "staggered"]

# Upper Reynolds number, constant and exponent.
_CYLINDER = ((40.0, 0.75, 0.4), (1e3, 0.51, 0.5), (2e5, 0.26, 0.6), (1e6, 0.076, 0.7))
_SLOW_BUNDLE = {"in_line": (0.80, 0.40), "staggered": (0.90, 0.40)}
_SLOW, _SINGLE, _FAST = 1e2, 1e3, 2e5
# Of the first rows' share in the film above a Reynolds number of 1,000.
_ROWS = (1, 2, 3, 4, 5, 7, 10, 13, 16, 20)
_OF_ROWS = {
    "in_line": (0.70, 0.80, 0.86, 0.90, 0.92, 0.95, 0.97, 0.98, 0.99, 1.0),
    "staggered": (0.64, 0.76, 0.84, 0.89, 0.92, 0.95, 0.97, 0.98, 0.99, 1.0),
}
# Staggered rows further apart than this, across over along, are as those at it.
_MOST_RATIO = 2.0
# Tubes in line nearer across than this share of their pitch along stand in dead water.
_LEAST_IN_LINE = 0.7
_MOST_REYNOLDS = {"single": 1e6, "in_line": 2e6, "staggered": 2e6}
# Pitches over diameter that the charts of friction are for, and their Reynolds numbers.
_CHARTS, _CHART_REYNOLDS = (1.25, 2.5), (10.0, 2e6)
# A boundary layer that turns turbulent ahead of separation ends what drag is known for.
CRISIS = 2e5


@dataclass(frozen=True)
class Bundle:
    """Tubes that stand in a stream: their outer diameter and pitches (m; 0 where not given) and rows behind each other."""

    arrangement: Arrangement
    diameter: float
    across: float = 0.0
    along: float = 0.0
    rows: float = 0.0

    @property
    def pitched(self) -> bool:
        """Whether both pitches are given."""
        return self.across > 0.0 and self.along > 0.0


def cylinder_nusselt(reynolds: float, prandtl: float, prandtl_surface: float) -> float:
    """Mean Nu of a cylinder across a stream, on its diameter: Zukauskas (1972)."""
    _, constant, exponent = next((row for row in _CYLINDER if reynolds <= row[0]), _CYLINDER[-1])
    power = 0.37 if prandtl <= 10.0 else 0.36
    return float(constant * reynolds**exponent * prandtl**power * (prandtl / prandtl_surface) ** 0.25)


def bundle_nusselt(bundle: Bundle, reynolds: float, prandtl: float, prandtl_surface: float) -> float:
    """Mean Nu of a bundle's tubes, on the diameter and the velocity in the narrowest gap: Zukauskas (1972)."""
    if bundle.arrangement == "single" or _SLOW < reynolds <= _SINGLE:
        return cylinder_nusselt(reynolds, prandtl, prandtl_surface)
    staggered = bundle.arrangement == "staggered"
    share = 1.0
    if reynolds <= _SLOW:
        constant, exponent = _SLOW_BUNDLE[bundle.arrangement]
    elif staggered:
        ratio = min(bundle.across / bundle.along, _MOST_RATIO) if bundle.pitched else 1.0
        constant, exponent = (0.35 * ratio**0.2, 0.60) if reynolds <= _FAST else (0.031 * ratio**0.2, 0.80)
    else:
        constant, exponent = (0.27, 0.63) if reynolds <= _FAST else (0.033, 0.80)
    if reynolds > _SINGLE and bundle.rows:
        share = float(np.interp(bundle.rows, _ROWS, _OF_ROWS[bundle.arrangement]))
    return float(share * constant * reynolds**exponent * prandtl**0.36 * (prandtl / prandtl_surface) ** 0.25)


def holds(bundle: Bundle, reynolds: float) -> bool:
    """Whether the film of a bundle is known: fast ones need their pitches, and tubes in line must not hide each other."""
    if not 1.0 <= reynolds <= _MOST_REYNOLDS[bundle.arrangement]:
        return False
    if bundle.arrangement == "single" or reynolds <= _SINGLE:
        return True
    hidden = bundle.arrangement == "in_line" and bundle.pitched and bundle.across < _LEAST_IN_LINE * bundle.along
    return bundle.pitched and not hidden


def range_of(bundle: Bundle, reynolds: float) -> str:
    """Where the film is known, in words."""
    where = f"Reynolds number in the gap {reynolds:.0f}, from 1 to {_MOST_REYNOLDS[bundle.arrangement]:.0e}"
    if bundle.arrangement == "single":
        return where
    return f"{where}; above {_SINGLE:.0f} by its pitches, in line at least {_LEAST_IN_LINE:g} as far apart across as along"


def bundle_pressure_drop(bundle: Bundle, reynolds: float, density: float, velocity: float) -> tuple[float, bool]:
    """Pressure drop of all rows, Pa, by the charts of Zukauskas as in the ht library; whether pitches and Reynolds are on them."""
    from ht import dP_Zukauskas

    drop = dP_Zukauskas(
        Re=reynolds, n=round(bundle.rows), ST=bundle.across, SL=bundle.along, D=bundle.diameter, rho=density, Vmax=velocity
    )
    pitches = (bundle.across / bundle.diameter, bundle.along / bundle.diameter)
    on_chart = all(_CHARTS[0] <= pitch <= _CHARTS[1] for pitch in pitches)
    return float(drop), on_chart and _CHART_REYNOLDS[0] <= reynolds <= _CHART_REYNOLDS[1]


def cylinder_drag(reynolds: float) -> float:
    """Drag coefficient of a circular cylinder, Re from 1e-4 to 2e5: Sucker and Brauer (1975), from memory."""
    return float(1.18 + 6.8 / reynolds**0.89 + 1.96 / math.sqrt(reynolds) - 0.0004 * reynolds / (1.0 + 3.64e-7 * reynolds**2))


def sphere_nusselt(reynolds: float, prandtl: float, viscosity_ratio: float) -> float:
    """Mean Nu of a sphere: Whitaker (1972), AIChE J. 18, 361 (from memory); `viscosity_ratio` is the stream's over the wall's.

    Re from 3.5 to 8e4, Pr from 0.7 to 380.
    """
    return float(2.0 + (0.4 * math.sqrt(reynolds) + 0.06 * reynolds ** (2.0 / 3.0)) * prandtl**0.4 * viscosity_ratio**0.25)


def churchill_bernstein(reynolds: float, prandtl: float) -> float:
    """Mean Nu of a cylinder, properties at the film's temperature, Re Pr above 0.2: Churchill and Bernstein (1977), J. Heat
    Transfer 99, 300, as in the ht library."""
    from ht.conv_external import Nu_cylinder_Churchill_Bernstein

    return float(Nu_cylinder_Churchill_Bernstein(Re=reynolds, Pr=prandtl))


def ranz_marshall(reynolds: float, prandtl: float) -> float:
    """Mean Nu of a sphere, properties at the film's temperature: Ranz and Marshall (1952), Chem. Eng. Prog. 48 (from memory)."""
    return float(2.0 + 0.6 * math.sqrt(reynolds) * prandtl ** (1.0 / 3.0))


def sphere_drag(reynolds: float) -> float:
    """Drag coefficient of a sphere below its crisis: Clift, Grace and Weber (1978), as in the fluids library."""
    from fluids.drag import Clift

    return float(Clift(reynolds))
