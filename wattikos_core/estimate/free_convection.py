"""Free convection from a surface to still surroundings: mean heat transfer coefficients.

Churchill and Chu (1975) for upright plates and lying cylinders, Churchill (1983) for spheres, McAdams (1954) for lying plates; all
as in the ht library.
"""

from __future__ import annotations

from typing import Literal

from wattikos_core.estimate.gaps import gap_rayleigh
from wattikos_core.materials import PropertyTable

Outside = Literal["", "upright_plate", "lying_cylinder", "sphere", "plate_facing_up", "plate_facing_down"]

_SOURCES = {
    "upright_plate": "Churchill and Chu (1975), Int. J. Heat Mass Transfer 18, 1323, as in the ht library",
    "lying_cylinder": "Churchill and Chu (1975), Int. J. Heat Mass Transfer 18, 1049, as in the ht library",
    "sphere": "Churchill (1983), Heat Exchanger Design Handbook, as in the ht library",
}
_MCADAMS = "McAdams (1954), Heat Transmission, as in the ht library"
STANDARD_GRAVITY = 9.80665
SCATTER = 0.15
# Upper Rayleigh number, on the size.
_MOST_RAYLEIGH = {"upright_plate": 1e13, "lying_cylinder": 1e12, "sphere": 1e11, "plate_facing_up": 1e11, "plate_facing_down": 1e11}


def source_of(shape: Outside) -> str:
    """What the coefficient of a shape is from."""
    return _SOURCES.get(shape, _MCADAMS)


def free_convection(
    shape: Outside, size: float, surface: float, ambient: float, fluid: PropertyTable, gravity: float = STANDARD_GRAVITY
) -> tuple[float, bool]:
    """Mean heat transfer coefficient, W/m2/K, and whether the relation holds.

    Args:
        shape: of the body.
        size: height of an upright plate, diameter, or area over perimeter of a lying plate, m.
        surface: temperature of the surface, K.
        ambient: temperature of the fluid far away, K; properties are taken midway.
        fluid: property table.
        gravity: m/s2.
    """
    import ht

    mean, span = 0.5 * (surface + ambient), abs(surface - ambient)
    rayleigh, prandtl = gap_rayleigh(fluid, mean, max(span, 1e-6), size, gravity)
    grashof = rayleigh / prandtl
    if shape == "upright_plate":
        nusselt = ht.Nu_vertical_plate_Churchill(prandtl, grashof)
    elif shape == "lying_cylinder":
        nusselt = ht.Nu_horizontal_cylinder_Churchill_Chu(prandtl, grashof)
    elif shape == "sphere":
        nusselt = ht.Nu_sphere_Churchill(prandtl, grashof)
    else:
        # Warm and facing up, or cold and facing down, what it heats or cools leaves it freely.
        leaves = (shape == "plate_facing_up") == (surface > ambient)
        nusselt = ht.Nu_horizontal_plate_McAdams(prandtl, grashof, buoyancy=leaves)
    h = float(nusselt) * float(fluid.conductivity(mean)) / size
    return h, rayleigh <= _MOST_RAYLEIGH[shape]
