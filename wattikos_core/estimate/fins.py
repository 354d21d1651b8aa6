"""Fins: efficiencies of straight, pin and annular fins, and a base with fins on it.

Straight and pin fins: Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), chapter 3; annular
fins: Gardner (1945), Trans. ASME 67, 621. The tip counts through a length longer by half the thickness (a quarter of
the diameter of a pin).
"""

from __future__ import annotations

import math

from scipy.special import i0, i1, k0, k1

from wattikos_core.case import ResolvedCase
from wattikos_core.case.estimates import Fins
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue

INCROPERA_FINS = "Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), chapter 3"
GARDNER = "Gardner (1945), Trans. ASME 67, 621"
# One-dimensional fins keep within this of the field as long as they are thin for their h (Biot number).
_SCATTER = 0.03
_MOST_BIOT = 0.2


def straight_fin_efficiency(h: float, conductivity: float, thickness: float, height: float) -> float:
    """Efficiency of a straight fin of uniform thickness, convecting at its tip."""
    return _rod(math.sqrt(2.0 * h / (conductivity * thickness)) * (height + 0.5 * thickness))


def pin_fin_efficiency(h: float, conductivity: float, diameter: float, height: float) -> float:
    """Efficiency of a round pin, convecting at its tip."""
    return _rod(math.sqrt(4.0 * h / (conductivity * diameter)) * (height + 0.25 * diameter))


def annular_fin_efficiency(h: float, conductivity: float, thickness: float, inner: float, outer: float) -> float:
    """Efficiency of an annular fin of uniform thickness between two radii, convecting at its tip: Gardner (1945)."""
    corrected = outer + 0.5 * thickness
    m = math.sqrt(2.0 * h / (conductivity * thickness))
    a, b = m * inner, m * corrected
    ratio = (k1(a) * i1(b) - i1(a) * k1(b)) / (i0(a) * k1(b) + k0(a) * i1(b))
    return float(2.0 * inner / m / (corrected**2 - inner**2) * ratio)


def _rod(reach: float) -> float:
    return math.tanh(reach) / reach if reach > 1e-9 else 1.0


def finned_base(resolved: ResolvedCase, roles: Fins) -> dict[str, HandValue]:
    """The temperature of a base with fins, where heat enters it; see `estimate_case`."""
    bound = Bound(resolved)
    fin, base = bound.part("fin", roles.fin), bound.part("base", roles.base)
    h = bound.above_zero("h", roles.h, "heat_transfer_coefficient")
    ambient = bound.read("ambient", roles.ambient, "temperature")
    heat = bound.read("heat", roles.heat, "power")
    height, thickness = (bound.above_zero(name, getattr(roles, name), "length") for name in ("height", "thickness"))
    count = bound.above_zero("count", roles.count, "number")
    bare, under = bound.read("bare", roles.bare, "area"), bound.above_zero("under", roles.under, "area")
    base_thickness = bound.above_zero("base_thickness", roles.base_thickness, "length")
    surface = ambient
    for _ in range(10):
        conductivity = float(fin.material.conductivity(surface))
        if roles.kind == "straight":
            breadth = bound.above_zero("breadth", roles.breadth, "length")
            efficiency = straight_fin_efficiency(h, conductivity, thickness, height)
            wetted = count * (2.0 * height + thickness) * breadth
            biot = h * 0.5 * thickness / conductivity
        else:
            efficiency = pin_fin_efficiency(h, conductivity, thickness, height)
            wetted = count * math.pi * thickness * (height + 0.25 * thickness)
            biot = h * 0.5 * thickness / conductivity
        foot = heat / (h * (bare + efficiency * wetted))
        through = heat * base_thickness / (float(base.material.conductivity(surface)) * under)
        surface = ambient + foot + through
    reach = _SCATTER * abs(foot) + 0.5 * abs(through)
    name = f"mean temperature of {roles.surface}"
    where = f"Biot number on half the thickness {biot:.2g}, below {_MOST_BIOT:g}; heat spread evenly over the base"
    source = f"{'straight' if roles.kind == 'straight' else 'pin'} fins with a tip, efficiency {efficiency:.3f}: {INCROPERA_FINS}"
    return {name: HandValue(name, surface, surface - reach, surface + reach, source, where, biot < _MOST_BIOT)}
