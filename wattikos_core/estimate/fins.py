"""Fins: efficiencies of straight, pin and annular fins, and a base with fins on it.

Straight and pin fins: Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), chapter 3; annular
fins: Gardner (1945), Trans. ASME 67, 621. The tip counts through a length longer by half the thickness (a quarter of
the diameter of a pin).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy.special import airy, i0, i1, k0, k1

from wattikos_core.case.estimates import Fins
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

INCROPERA_FINS = "Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), chapter 3"
GARDNER = "Gardner (1945), Trans. ASME 67, 621"
# One-dimensional fins keep within this of the field as long as they are thin for their h (Biot number).
_SCATTER = 0.03
_MOST_BIOT = 0.2
_ROUNDS = 30


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


def hyperbolic_annular_fin_efficiency(h: float, conductivity: float, thickness: float, inner: float, outer: float) -> float:
    """Efficiency of an annular fin whose thickness falls as one over the radius from `thickness` at its foot, tip insulated.

    Gardner (1945): with r y constant the balance is Airy's equation, T'' = h / (k r y) r T, y being half the thickness.
    """
    scale = (h / (conductivity * 0.5 * thickness * inner)) ** (1.0 / 3.0)
    foot, tip = airy(scale * inner), airy(scale * outer)
    # Ai and Bi so joined that the tip passes nothing.
    first, second = tip[3], -tip[1]
    at_foot = first * foot[0] + second * foot[2]
    slope = scale * (first * foot[1] + second * foot[3])
    passing = -conductivity * thickness * 2.0 * math.pi * inner * slope / at_foot
    return float(passing / (h * 2.0 * math.pi * (outer**2 - inner**2)))


def _rod(reach: float) -> float:
    return math.tanh(reach) / reach if reach > 1e-9 else 1.0


@dataclass(frozen=True)
class _Fins:
    """All fins of a base: h of their surfaces, W/m2/K; sizes in m, `inner` the radius annular ones stand on."""

    kind: str
    h: float
    thickness: float
    height: float
    count: float
    breadth: float
    inner: float

    @property
    def wetted(self) -> float:
        """Area of all fins, tips included, m2."""
        if self.kind == "straight":
            return self.count * (2.0 * self.height + self.thickness) * self.breadth
        if self.kind == "pin":
            return self.count * math.pi * self.thickness * (self.height + 0.25 * self.thickness)
        tip = 0.5 * self.thickness if self.kind == "annular" else 0.0
        return self.count * 2.0 * math.pi * ((self.inner + self.height + tip) ** 2 - self.inner**2)

    @property
    def foot(self) -> float:
        """Area of all feet, m2."""
        around = {"straight": self.breadth, "pin": 0.25 * math.pi * self.thickness}.get(self.kind, 2.0 * math.pi * self.inner)
        return self.count * self.thickness * around

    def efficiency(self, conductivity: float) -> float:
        """Efficiency at a conductivity, W/m/K."""
        if self.kind == "straight":
            found = straight_fin_efficiency(self.h, conductivity, self.thickness, self.height)
        elif self.kind == "pin":
            found = pin_fin_efficiency(self.h, conductivity, self.thickness, self.height)
        else:
            annular = annular_fin_efficiency if self.kind == "annular" else hyperbolic_annular_fin_efficiency
            found = annular(self.h, conductivity, self.thickness, self.inner, self.inner + self.height)
        if not math.isfinite(found):
            what = f"a fin {self.thickness:g} m thick and {self.height:g} m high has no efficiency that could be computed"
            raise CaseError(InputProblem("estimate.thickness", what, "give the thickness and height of a fin"))
        return found


def finned_base(bound: Bound, roles: Fins) -> dict[Key, HandValue]:
    """The temperature of a base with fins, where heat enters it; see `estimate_case`."""
    fin, base = bound.part("fin", roles.fin), bound.part("base", roles.base)
    h = bound.above_zero("h", roles.h, "heat_transfer_coefficient")
    ambient = bound.read("ambient", roles.ambient, "temperature")
    heat = bound.read("heat", roles.heat, "power")
    height, thickness = (bound.above_zero(name, getattr(roles, name), "length") for name in ("height", "thickness"))
    count = bound.above_zero("count", roles.count, "number")
    bare, under = bound.or_zero("bare", roles.bare, "area"), bound.above_zero("under", roles.under, "area")
    base_thickness = bound.above_zero("base_thickness", roles.base_thickness, "length")
    breadth = bound.above_zero("breadth", roles.breadth, "length") if roles.kind == "straight" else 0.0
    annular = roles.kind.startswith("annular")
    inner = 0.5 * bound.above_zero("inner_diameter", roles.inner_diameter, "length") if annular else 0.0
    if annular and base_thickness >= inner:
        raise CaseError(InputProblem("estimate.base_thickness", f"'{roles.base_thickness}' fills the tube", "make it smaller"))
    fins = _Fins(roles.kind, h, thickness, height, count, breadth, inner)
    # Round a tube, what the wall resists grows with the logarithm of its radii.
    bore = inner - base_thickness
    across = bore * math.log(inner / bore) if annular else base_thickness
    contact = bound.contact(fin, base)
    surface = foot = ambient
    through = efficiency = conductivity = 0.0
    for _ in range(_ROUNDS):
        # Fins conduct at their own mean temperature, which their efficiency tells; the base at its own.
        conductivity = bound.across(fin, ambient + (efficiency or 1.0) * (foot - ambient))
        efficiency = fins.efficiency(conductivity)
        passes = h * bare + 1.0 / (1.0 / (h * efficiency * fins.wetted) + contact / fins.foot)
        before, foot = foot, ambient + heat / passes
        through = heat * across / (bound.across(base, 0.5 * (foot + surface)) * under)
        surface = foot + through
        if abs(foot - before) < 1e-9:
            break
    biot = h * 0.5 * thickness / conductivity
    reach = _SCATTER * abs(foot - ambient) + 0.5 * abs(through)
    key = Key("mean_temperature", roles.surface)
    where = f"Biot number on half the thickness {biot:.2g}, below {_MOST_BIOT:g}; heat spread evenly over the base"
    kind = roles.kind.replace("_", " ")
    source = f"{kind} fins, efficiency {efficiency:.3f}: {GARDNER if annular else INCROPERA_FINS}"
    return {key: HandValue(key, surface, surface - reach, surface + reach, source, where, biot < _MOST_BIOT)}
