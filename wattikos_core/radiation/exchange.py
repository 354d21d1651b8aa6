"""What surfaces of a cavity radiate to each other, once their view factors are known.

Radiosities of grey, diffuse surfaces: J = ε σ T⁴ + (1 - ε) F J (Hottel and Sarofim 1967, Radiative Transfer, chapter 3; Howell,
Mengüç, Daun and Siegel 2021, Thermal Radiation Heat Transfer, chapter 5).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

# 2018 CODATA, W/m2/K4.
STEFAN_BOLTZMANN = 5.670374419e-8


def irradiation_matrix(factors: Array, emissivity: Array) -> Array:
    """What arrives at surfaces by what each emits: H = M (ε σ T⁴), all reflections included, shape (n, n).

    Args:
        factors: view factors F_ij from i to j, shape (n, n); rows sum to one.
        emissivity: of each surface, shape (n,).
    """
    return with_reflections(factors, emissivity, factors)


def with_reflections(factors: Array, emissivity: Array, arriving: Array) -> Array:
    """What arrives at surfaces, reflected in all of them, of what arrives straight, shape (n,) or (n, m)."""
    reflected = np.eye(emissivity.size) - factors * (1.0 - emissivity)
    return np.asarray(np.linalg.solve(reflected, arriving))


def net_radiation(area: Array, emissivity: Array, factors: Array, temperature: Array, heat: Array) -> tuple[Array, Array]:
    """Heat that each surface of an enclosure gives off by radiation, W, and its temperature, K.

    Args:
        area: m2, shape (n,).
        emissivity: shape (n,).
        factors: F_ij, shape (n, n).
        temperature: K, NaN where the heat is given instead.
        heat: that a surface without a given temperature gives off, W; zero where it is re-radiating.

    Example:
        Two black plates that see nothing but each other:

        >>> import numpy as np
        >>> one, none = np.ones(2), np.zeros(2)
        >>> heat, _ = net_radiation(one, one, np.array([[0.0, 1.0], [1.0, 0.0]]), np.array([400.0, 300.0]), none)
        >>> heat.round(1).tolist()
        [992.3, -992.3]
    """
    given = np.isfinite(temperature)
    # Unknown are the radiosities. Where T is given: J - (1 - ε) F J = ε σ T⁴; where the heat is: J - F J = Q / A.
    back = np.where(given, 1.0 - emissivity, 1.0)
    right = np.where(given, emissivity * STEFAN_BOLTZMANN * np.where(given, temperature, 0.0) ** 4, heat / area)
    radiosity = np.linalg.solve(np.eye(area.size) - back[:, None] * factors, right)
    flux = radiosity - factors @ radiosity
    emitted = radiosity + (1.0 - emissivity) / emissivity * flux
    found = np.where(given, temperature, (np.maximum(emitted, 0.0) / STEFAN_BOLTZMANN) ** 0.25)
    return area * flux, np.asarray(found)
