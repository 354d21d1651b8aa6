"""Layers in series, gaps among them, and a well-conducting body between two fluids."""

from __future__ import annotations

import math
from dataclasses import dataclass

from wattikos_core.case import ResolvedCase
from wattikos_core.case.estimates import CooledBody, Layers
from wattikos_core.errors import CaseError, Problem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.gaps import SCATTER, GapNusselt, gap_nusselt, gap_rayleigh
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.materials import PropertyTable

SERIES = "resistances in series: Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), chapter 3"
LUMPED = "heat balance of a body at one temperature (common practice, no source)"
# What plain layers leave out: ends, properties at means.
_SCATTER = 0.05
_MOST_BIOT = 0.3
# Temperatures, heat rate and convection in gaps are found in turn, until they stay to this share.
_MOST_PASSES, _SETTLED = 40, 1e-9


@dataclass(frozen=True)
class _Layer:
    """A layer in numbers, SI: a resistance by area, or a material over a thickness; `height` of a gap, 0 where nothing moves."""

    area: float
    resistance: float = 0.0
    table: PropertyTable | None = None
    thickness: float = 0.0
    height: float = 0.0


def layers(resolved: ResolvedCase, roles: Layers) -> dict[str, HandValue]:
    """Temperature before the layers, or the heat rate through them; see `estimate_case`."""
    bound = Bound(resolved)
    cold = bound.read("cold", roles.cold, "temperature")
    near = bound.read("hot", roles.hot, "temperature") if roles.hot.strip() else cold
    heat = bound.read("heat", roles.heat, "power") if roles.heat.strip() else 0.0
    if not roles.heat.strip() and not roles.hot.strip():
        raise CaseError(Problem("estimate.heat", "neither a heat rate nor a hot temperature is given", "give one of them"))
    gravity = math.hypot(*resolved.gravity)
    gaps: dict[int, GapNusselt] = {}

    def solve(narrow: bool) -> float:
        stack = _read(bound, roles, narrow)
        warm, passing = near, heat
        for _ in range(_MOST_PASSES):
            before = warm, passing
            resistance = _resistance(stack, 0.5 * (warm + cold), passing, gravity, gaps)
            if roles.heat.strip():
                warm = cold + passing * resistance
            else:
                passing = (near - cold) / resistance
            if abs(warm - before[0]) <= _SETTLED * abs(warm) and abs(passing - before[1]) <= _SETTLED * abs(passing):
                break
        return warm if roles.heat.strip() else passing

    ends = sorted((solve(False), solve(True)))
    value = 0.5 * (ends[0] + ends[1])
    reach = (SCATTER if gaps else _SCATTER) * abs(value - (cold if roles.heat.strip() else 0.0))
    where = "between heat spread over all of each layer and heat spread by 45° (common practice, no source)"
    if ends[0] == ends[1]:
        where = "heat goes straight through"
    source = "; ".join([SERIES, *dict.fromkeys(gap.source for gap in gaps.values())])
    where = "; ".join([where, *dict.fromkeys(gap.range for gap in gaps.values())])
    inside = all(gap.inside for gap in gaps.values())
    return {roles.quantity: HandValue(roles.quantity, value, ends[0] - reach, ends[1] + reach, source, where, inside)}


def _read(bound: Bound, roles: Layers, narrow: bool) -> list[_Layer]:
    """All layers and the film after them; `narrow` takes the smaller areas where heat spreads."""
    stack = []
    for i, layer in enumerate(roles.layers):
        where = f"layers[{i}]"
        text = layer.narrow if narrow and layer.narrow.strip() else layer.area
        area = bound.above_zero(f"{where}.area", text, "area")
        if layer.part:
            thickness = bound.read(f"{where}.thickness", layer.thickness, "length")
            table = bound.part(f"{where}.part", layer.part).material
            height = bound.above_zero(f"{where}.height", layer.height, "length") if layer.height.strip() else 0.0
            if height and not table.fluid:
                raise CaseError(Problem(f"estimate.{where}.height", f"'{layer.part}' is solid and cannot stir", "leave this empty"))
            stack.append(_Layer(area, table=table, thickness=thickness, height=height))
        else:
            stack.append(_Layer(area, bound.read(f"{where}.resistance", layer.resistance, "contact_resistance")))
    if roles.h.strip():
        text = roles.h_narrow if narrow and roles.h_narrow.strip() else roles.h_area
        film = 1.0 / bound.above_zero("h", roles.h, "heat_transfer_coefficient")
        stack.append(_Layer(bound.above_zero("h_area", text, "area"), film))
    return stack


def _resistance(stack: list[_Layer], mean: float, passing: float, gravity: float, gaps: dict[int, GapNusselt]) -> float:
    """All layers in series, K/W, at a mean temperature (K) and a heat rate (W).

    Args:
        gaps: of the pass before, by number of the layer; brought up to date.
    """
    whole = 0.0
    for i, layer in enumerate(stack):
        own = layer.resistance / layer.area
        if layer.table is not None:
            own = layer.thickness / (float(layer.table.conductivity(mean)) * layer.area)
            if layer.height > 0.0 and gravity > 0.0:
                span = abs(passing) * own / (gaps[i].value if i in gaps else 1.0)
                rayleigh, prandtl = gap_rayleigh(layer.table, mean, span, layer.thickness, gravity)
                gaps[i] = gap_nusselt(rayleigh, prandtl, layer.height / layer.thickness)
                own /= gaps[i].value
        whole += own
    return whole


def cooled_body(resolved: ResolvedCase, roles: CooledBody) -> dict[str, HandValue]:
    """Mean temperature of a body between a hot gas and coolant, and the heat it passes; see `estimate_case`."""
    bound = Bound(resolved)
    body = bound.part("body", roles.body)
    sides = []
    for side in ("outer", "inner"):
        h = bound.above_zero(f"{side}_h", getattr(roles, f"{side}_h"), "heat_transfer_coefficient")
        temperature = bound.read(f"{side}_temperature", getattr(roles, f"{side}_temperature"), "temperature")
        perimeter = bound.above_zero(f"{side}_perimeter", getattr(roles, f"{side}_perimeter"), "length")
        sides.append((h * perimeter * resolved.depth, temperature, h))
    (outer, gas, h_out), (inner, coolant, h_in) = sides
    mean = (outer * gas + inner * coolant) / (outer + inner)
    conductivity = float(body.material.conductivity(mean))
    # Half the metal between the surfaces, taken as a plate of a twentieth of the outer perimeter.
    depth = 0.025 * bound.read("outer_perimeter", roles.outer_perimeter, "length")
    biot = max(h_out, h_in) * depth / conductivity
    reach = 0.1 * abs(gas - coolant)
    name = f"mean temperature of {body.name}"
    where = f"Biot number about {biot:.2g}, below {_MOST_BIOT:g}: the metal hardly resists"
    return {name: HandValue(name, mean, mean - reach, mean + reach, LUMPED, where, biot < _MOST_BIOT)}
