"""Layers in series, gaps and contacts among them, and what stands outside."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from wattikos_core.case import ResolvedPart
from wattikos_core.case.estimates import Layers
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.bound import Bound
from wattikos_core.estimate.free_convection import Outside, free_convection, source_of
from wattikos_core.estimate.gaps import SCATTER, GapNusselt, Heated, gap_nusselt, gap_radiation, gap_rayleigh
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key
from wattikos_core.materials import PropertyTable, table_of

SERIES = "resistances in series: Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, 5th ed. (2002), chapter 3"
# What plain layers leave out: ends, properties at means.
_SCATTER = 0.05
# Temperatures, heat rate and convection in gaps are found in turn, until they stay to this share.
_MOST_PASSES, _SETTLED = 40, 1e-9


@dataclass(frozen=True)
class _Layer:
    """A layer in numbers, SI: a resistance by area, or a material over a thickness.

    Attributes:
        height: of a gap that may stir itself, 0 where nothing moves; `heated` where its warm side is.
        emissivity: of the near and the far side of a gap that radiation crosses; zero where none does.
        free: whether it is the film of free convection outside.
    """

    area: float
    resistance: float = 0.0
    part: ResolvedPart | None = None
    thickness: float = 0.0
    height: float = 0.0
    heated: Heated = "side"
    emissivity: tuple[float, float] = (0.0, 0.0)
    free: bool = False


@dataclass
class _Stack:
    """Layers in series with what was found of them in the pass before."""

    bound: Bound
    layers: list[_Layer]
    cold: float
    free: tuple[Outside, float, PropertyTable] | None
    gravity: float
    gaps: dict[int, GapNusselt] = field(default_factory=dict)
    own: list[float] = field(default_factory=list)
    inside: bool = True

    def resistance(self, warm: float, passing: float) -> float:
        """All in series, K/W, each at its own mean temperature, from the resistances found before."""
        ends = [self.cold]
        for own in reversed(self.own or [(warm - self.cold) / max(abs(passing), 1e-30) / len(self.layers)] * len(self.layers)):
            ends.insert(0, ends[0] + passing * own)
        self.inside = True
        self.own = [self._one(i, layer, ends[i], ends[i + 1]) for i, layer in enumerate(self.layers)]
        return sum(self.own)

    def _one(self, i: int, layer: _Layer, near: float, far: float) -> float:
        mean, span = 0.5 * (near + far), abs(near - far)
        if layer.free and self.free is not None:
            shape, size, air = self.free
            h, holds = free_convection(shape, size, near, far, air)
            self.inside = self.inside and holds
            return 1.0 / (h * layer.area)
        if layer.part is None:
            return layer.resistance / layer.area
        conducts = _conductivity(self.bound, layer.part, layer.thickness, mean) / layer.thickness
        if layer.height > 0.0 and self.gravity > 0.0:
            rayleigh, prandtl = gap_rayleigh(layer.part.material, mean, span, layer.thickness, self.gravity)
            self.gaps[i] = gap_nusselt(rayleigh, prandtl, layer.height / layer.thickness, layer.heated)
            self.inside = self.inside and self.gaps[i].inside
            conducts *= self.gaps[i].value
        if min(layer.emissivity) > 0.0:
            conducts += gap_radiation(mean, span, *layer.emissivity)
        return 1.0 / (conducts * layer.area) + layer.resistance / layer.area


def layers(bound: Bound, roles: Layers) -> dict[Key, HandValue]:
    """Temperature before the layers, or the heat rate through them; see `estimate_case`."""
    cold = bound.read("cold", roles.cold, "temperature")
    near = bound.read("hot", roles.hot, "temperature") if roles.hot.strip() else cold
    heat = bound.read("heat", roles.heat, "power") if roles.heat.strip() else 0.0
    if not roles.heat.strip() and not roles.hot.strip():
        raise CaseError(InputProblem("estimate.heat", "neither a heat rate nor a hot temperature is given", "give one of them"))
    warm_first = heat > 0.0 or near > cold
    given = roles.heat.strip() != ""

    def solve(narrow: bool) -> tuple[float, _Stack]:
        stack = _read(bound, roles, narrow, cold, warm_first)
        warm, passing = near, heat or 1.0
        for _ in range(_MOST_PASSES):
            before = warm, passing
            resistance = stack.resistance(warm, passing)
            if given:
                warm = cold + passing * resistance
            else:
                passing = (near - cold) / resistance
            if abs(warm - before[0]) <= _SETTLED * abs(warm) and abs(passing - before[1]) <= _SETTLED * abs(passing):
                break
        return (warm if given else passing), stack

    (wide, stack), (narrow, _) = solve(False), solve(True)
    ends = sorted((wide, narrow))
    value = 0.5 * (ends[0] + ends[1])
    stirred = stack.gaps or stack.free
    reach = (SCATTER if stirred else _SCATTER) * abs(value - (cold if given else 0.0))
    where = "between heat spread over all of each layer and heat spread by 45° (common practice, no source)"
    if ends[0] == ends[1]:
        where = "heat goes straight through"
    outside = [source_of(stack.free[0])] if stack.free else []
    source = "; ".join([SERIES, *dict.fromkeys(gap.source for gap in stack.gaps.values()), *outside])
    where = "; ".join([where, *dict.fromkeys(gap.range for gap in stack.gaps.values())])
    key = roles.key
    assert key is not None, "what must be chosen has been"
    return {key: HandValue(key, value, ends[0] - reach, ends[1] + reach, source, where, stack.inside)}


def _read(bound: Bound, roles: Layers, narrow: bool, cold: float, warm_first: bool) -> _Stack:
    """All layers and the film after them; `narrow` takes the smaller areas where heat spreads."""
    stack: list[_Layer] = []
    before: ResolvedPart | None = None
    for i, layer in enumerate(roles.layers):
        where = f"layers[{i}]"
        text = layer.narrow if narrow and layer.narrow.strip() else layer.area
        area = bound.above_zero(f"{where}.area", text, "area")
        if not layer.part:
            stack.append(_Layer(area, bound.read(f"{where}.resistance", layer.resistance, "contact_resistance")))
            before = None
            continue
        thickness = bound.above_zero(f"{where}.thickness", layer.thickness, "length")
        part = bound.part(f"{where}.part", layer.part)
        height = bound.above_zero(f"{where}.height", layer.height, "length") if layer.height.strip() else 0.0
        if height and not part.material.fluid:
            raise CaseError(
                InputProblem(f"estimate.{where}.height", f"'{layer.part}' is solid and cannot stir", "leave this empty")
            )
        emissivity = _emissivity(bound, f"{where}.emissivity", layer.emissivity)
        beyond = _emissivity(bound, f"{where}.emissivity_beyond", layer.emissivity_beyond) or emissivity
        if emissivity:
            bound.account.take("radiation", part.origin)
        # What stands between two parts that follow each other is part of the way.
        contact = bound.contact(before, part) if before is not None else 0.0
        heated = _heated(bound, roles, i, warm_first) if height else "side"
        stack.append(_Layer(area, contact, part, thickness, height, heated, (emissivity, beyond)))
        before = part
    free: tuple[Outside, float, PropertyTable] | None = None
    if roles.h.strip() or roles.outside:
        text = roles.h_narrow if narrow and roles.h_narrow.strip() else roles.h_area
        area = bound.above_zero("h_area", text, "area")
        if roles.h.strip():
            stack.append(_Layer(area, 1.0 / bound.above_zero("h", roles.h, "heat_transfer_coefficient")))
        else:
            free = (roles.outside, bound.above_zero("outside_size", roles.outside_size, "length"), table_of("air"))
            stack.append(_Layer(area, free=True))
    return _Stack(bound, stack, cold, free, math.hypot(*bound.resolved.gravity))


def _emissivity(bound: Bound, field: str, text: str) -> float:
    value = bound.or_zero(field, text, "number")
    if value > 1.0:
        raise CaseError(InputProblem(f"estimate.{field}", f"'{text}' is above 1", "give 0 to 1"))
    return value


def _conductivity(bound: Bound, part: ResolvedPart, thickness: float, temperature: float) -> float:
    """Conductivity in the direction heat takes: along y where the thickness is the part's height, else along x."""
    if part.shape == "rectangle" and math.isclose(thickness, part.height, rel_tol=1e-6):
        return bound.across(part, temperature)
    bound.account.take("orthotropy", part.origin)
    return float(part.material.conductivity(temperature))


def _heated(bound: Bound, roles: Layers, i: int, warm_first: bool) -> Heated:
    """Where the warm side of a gap is, by the parts before and after it and the direction of gravity."""
    bound.account.take("weight", "")
    sides = [
        bound.part(f"layers[{k}].part", roles.layers[k].part)
        for k in (i - 1, i + 1)
        if 0 <= k < len(roles.layers) and roles.layers[k].part
    ]
    gap, gravity = bound.part(f"layers[{i}].part", roles.layers[i].part), bound.resolved.gravity
    pull = math.hypot(*gravity)
    if not sides or pull == 0.0 or any(part.shape != "rectangle" for part in (gap, *sides)):
        return "side"
    ahead = sides[-1] if len(sides) == 2 or i == 0 else gap
    behind = sides[0] if len(sides) == 2 or i > 0 else gap
    way = (
        ahead.x + 0.5 * ahead.width - behind.x - 0.5 * behind.width,
        ahead.y + 0.5 * ahead.height - behind.y - 0.5 * behind.height,
    )
    # Downwards along the layers from the first to the last, as a share of the way.
    down = (way[0] * gravity[0] + way[1] * gravity[1]) / (math.hypot(*way) * pull)
    if abs(down) < 0.5:
        return "side"
    return "above" if (down > 0.0) == warm_first else "below"
