"""Ribs across a turbulent stream, by the similarity of rough walls: Webb, Eckert and Goldstein (1971)."""

from __future__ import annotations

import math

from wattikos_core.estimate.films import DuctFilm

WEBB = "Webb, Eckert and Goldstein (1971), Int. J. Heat Mass Transfer 14, 601 (from memory)"
# Where it was measured: height over diameter, pitch over height, Prandtl number, and height in wall units.
_HEIGHTS, _PITCHES, _PRANDTLS, _LEAST_PLUS = (0.01, 0.04), (10.0, 40.0), (0.7, 37.6), 35.0
_SCATTER = 0.15


def ribbed_film(reynolds: float, prandtl: float, height: float, pitch: float, opposite: float | None) -> DuctFilm:
    """The film over a wall with ribs of square edges; Nu on the area of the wall without them.

    √(2/f) = 0.95 (p/e)^0.53 - 2.5 ln(2 e/D) - 3.75 and St = f/2 / (1 + √(f/2) (4.5 e⁺^0.28 Pr^0.57 - 0.95 (p/e)^0.53)), f that of
    Fanning.

    Args:
        reynolds: on the hydraulic diameter.
        prandtl: of the fluid.
        height: of a rib over the hydraulic diameter.
        pitch: of the ribs over their height.
        opposite: Darcy friction factor of a wall without ribs opposite; None where both have them. The friction of the duct is the
            mean of both (common practice, no source).

    Example:
        >>> film = ribbed_film(5e4, 0.71, 0.02, 10.0, None)
        >>> round(film.nusselt), round(film.friction, 3), film.inside
        (250, 0.142, True)
    """
    level = 0.95 * pitch**0.53
    friction = 2.0 / (level - 2.5 * math.log(2.0 * height) - 3.75) ** 2
    root = math.sqrt(friction / 2.0)
    plus = height * reynolds * root
    stanton = friction / 2.0 / (1.0 + root * (4.5 * plus**0.28 * prandtl**0.57 - level))
    measured = (
        _HEIGHTS[0] <= height <= _HEIGHTS[1]
        and _PITCHES[0] <= pitch <= _PITCHES[1]
        and _PRANDTLS[0] <= prandtl <= _PRANDTLS[1]
        and plus >= _LEAST_PLUS
    )
    darcy = 4.0 * friction
    of_duct = darcy if opposite is None else 0.5 * (darcy + opposite)
    return DuctFilm(stanton * reynolds * prandtl, of_duct, _SCATTER, measured)


def range_of_ribs() -> str:
    """Where it holds, in words."""
    return (
        f"ribs {_HEIGHTS[0]:.0%} to {_HEIGHTS[1]:.0%} of the hydraulic diameter high, {_PITCHES[0]:g} to {_PITCHES[1]:g} heights "
        f"apart, Prandtl {_PRANDTLS[0]:g} to {_PRANDTLS[1]:g}, height at least {_LEAST_PLUS:g} wall units"
    )
