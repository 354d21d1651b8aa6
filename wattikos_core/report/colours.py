"""The colour maps of pictures, made in the OKLab space (Ottosson 2020) as those of the desk are."""

from __future__ import annotations

import math
from functools import cache

import numpy as np
from numpy.typing import NDArray

# Lightness, chroma and hue (degrees) of each stop.
RAMPS: dict[str, tuple[tuple[float, float, float], ...]] = {
    "ember": ((0.28, 0.06, 262), (0.44, 0.11, 325), (0.6, 0.15, 20), (0.76, 0.15, 58), (0.93, 0.09, 95)),
    "brook": ((0.28, 0.05, 255), (0.5, 0.08, 205), (0.72, 0.1, 165), (0.95, 0.08, 120)),
    "slate": ((0.28, 0.05, 290), (0.5, 0.07, 265), (0.72, 0.06, 235), (0.95, 0.03, 210)),
    "heather": ((0.36, 0.08, 200), (0.66, 0.09, 195), (0.96, 0.012, 110), (0.66, 0.13, 352), (0.36, 0.11, 342)),
}
_OF_KIND = {
    "temperature": "ember",
    "heat_flux": "ember",
    "pressure": "slate",
    "density": "slate",
    "viscosity": "slate",
    "length": "slate",
}


def map_of(kind: str) -> str:
    """The map that fields of a kind are shown in."""
    return _OF_KIND.get(kind, "brook")


@cache
def colours(name: str) -> NDArray[np.float64]:
    """256 colours of a map, red, green and blue from 0 to 1."""
    stops = RAMPS[name]
    table = []
    for at in np.linspace(0.0, len(stops) - 1.0, 256):
        k = min(int(at), len(stops) - 2)
        (l0, c0, h0), (l1, c1, h1), f = stops[k], stops[k + 1], at - k
        turn = (h1 - h0 + 180.0) % 360.0 - 180.0
        table.append(_srgb(l0 + f * (l1 - l0), c0 + f * (c1 - c0), h0 + f * turn))
    return np.array(table)


def _srgb(lightness: float, chroma: float, hue: float) -> tuple[float, float, float]:
    a, b = chroma * math.cos(math.radians(hue)), chroma * math.sin(math.radians(hue))
    l3 = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3
    m3 = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3
    s3 = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3
    linear = (
        4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3,
        -1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3,
        -0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3,
    )
    red, green, blue = (12.92 * y if y <= 0.0031308 else 1.055 * y ** (1 / 2.4) - 0.055 for y in np.clip(linear, 0.0, 1.0))
    return float(red), float(green), float(blue)
