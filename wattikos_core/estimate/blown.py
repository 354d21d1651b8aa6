"""Fans on their system, by hand: what stands in a stream, one behind the other or side by side, against the flow through it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wattikos_core.case import ResolvedCase, ResolvedPart
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.internals import LiquidSide, ResolvedDrag, ResolvedFan
from wattikos_core.internals.even_core import even_conductance
from wattikos_core.ledger import Key
from wattikos_core.materials import PropertyTable
from wattikos_core.section.bodies import face_of

# Losses of screens and plates scatter by so much (common practice, no source); fans are built within about so much of their curves
# (ISO 13348:2007, tolerance grade AN3, from memory).
_SCATTER_OF_LOSS, SCATTER_OF_FAN = 0.15, 0.05
# How far a core is from being passed evenly (common practice, no source).
_SCATTER_OF_CORE = 0.05
KAYS_LONDON = "effectiveness and NTU: Kays and London (1984), Compact Heat Exchangers, 3rd ed., chapter 2"
_HALVINGS = 80


@dataclass(frozen=True)
class System:
    """What stands in the stream of a case.

    Attributes:
        fans: in groups that stand side by side, one group behind the other.
        drags: resistances and porous parts, one behind the other.
    """

    resolved: ResolvedCase
    fans: tuple[tuple[ResolvedPart, ...], ...]
    drags: tuple[ResolvedPart, ...]

    def rise(self, flow: float) -> float:
        """What all fans raise the pressure by at a volume flow (m3/s) of the whole stream, Pa."""
        return float(sum(_rise_at(group, flow) for group in self.fans))

    def most(self) -> float:
        """The largest rise of all fans together, Pa."""
        return float(sum(max(max(_fan(part).curve.value) for part in group) for group in self.fans))

    def loss(self, flow: float, density: float, viscosity: float) -> float:
        """What resistances and porous parts take at a volume flow (m3/s), Pa."""
        return float(sum(self.loss_in(part, flow, density, viscosity) for part in self.drags))

    def loss_in(self, part: ResolvedPart, flow: float, density: float, viscosity: float) -> float:
        """What one of them takes, Pa, if all of the stream passes it evenly."""
        drag = part.internal
        assert isinstance(drag, ResolvedDrag)
        speed = flow / face_of(self.resolved, part)
        if drag.curve is not None:
            return float(drag.curve(speed))
        held = viscosity * drag.viscous[0] + 0.5 * density * drag.inertial[0] * speed
        return held * speed * drag.thickness

    def values(self, flow: float, density: float, viscosity: float) -> dict[Key, HandValue]:
        """Flow, speed, rise and loss of each at a volume flow of the stream, m3/s."""
        found: dict[Key, HandValue] = {}

        def tell(quantity: str, place: str, value: float, scatter: float, source: str) -> None:
            key = Key(quantity, place)
            ends = sorted((value * (1.0 - scatter), value * (1.0 + scatter)))
            found[key] = HandValue(key, value, ends[0], ends[1], source, "all of the stream passes it, evenly", True)

        meets, off = ("where fans and losses meet", SCATTER_OF_FAN) if self.fans else ("what enters", 0.0)
        for group in self.fans:
            shares = _shares(group, flow)
            for part, share in zip(group, shares, strict=True):
                fan = _fan(part)
                rise = float(fan.curve(share / fan.stands_for))
                tell("flow_through", part.name, share, off, meets)
                tell("face_speed", part.name, share / face_of(self.resolved, part), off, meets)
                tell("rise_in", part.name, rise, SCATTER_OF_FAN, "the fan's curve")
                if fan.efficiency is not None:
                    tell(
                        "shaft_power",
                        part.name,
                        share * rise / fan.efficiency,
                        2.0 * SCATTER_OF_FAN,
                        "flow times rise by efficiency",
                    )
        for part in self.drags:
            source = "loss coefficient" if part.internal is not None and part.internal.curve is None else "its table"
            tell("flow_through", part.name, flow, off, meets)
            tell("face_speed", part.name, flow / face_of(self.resolved, part), off, meets)
            tell("loss_in", part.name, self.loss_in(part, flow, density, viscosity), _SCATTER_OF_LOSS, source)
        return found

    def exchanged(self, mass_flow: float, table: PropertyTable, temperature: float) -> tuple[dict[Key, HandValue], float]:
        """Heat of the cores that a stream (kg/s, entering at K) passes evenly one behind the other, and where it leaves them, K."""
        found: dict[Key, HandValue] = {}
        cores = [part for part in self.drags if _liquid(part) is not None]
        way = np.array(cores[0].internal.direction if cores and cores[0].internal is not None else (1.0, 0.0))
        for part in sorted(cores, key=lambda part: float(way @ (part.x, part.y))):
            liquid = _liquid(part)
            assert liquid is not None
            stream = mass_flow * float(table.specific_heat(temperature))
            speed = mass_flow / (float(table.density(temperature)) * face_of(self.resolved, part))
            whole = even_conductance(liquid.conductance_at(speed), stream, liquid.capacity_rate, liquid.passes, liquid.counter)
            heat = whole * (liquid.temperature - temperature)
            smaller = min(stream, liquid.capacity_rate)
            leaves = liquid.temperature - heat / liquid.capacity_rate
            told = {"core_heat": heat, "core_effectiveness": whole / smaller}
            if liquid.table is not None:
                told["tube_outlet_temperature"] = leaves
            for quantity, value in told.items():
                key, reach = Key(quantity, part.name), _SCATTER_OF_CORE * abs(heat)
                reach /= {"core_heat": 1.0, "tube_outlet_temperature": liquid.capacity_rate}.get(quantity, abs(heat / value))
                where = "all of the stream comes to it evenly"
                found[key] = HandValue(key, value, value - reach, value + reach, KAYS_LONDON, where, True)
            temperature += heat / stream
        return found, temperature


def _liquid(part: ResolvedPart) -> LiquidSide | None:
    return part.internal.liquid if isinstance(part.internal, ResolvedDrag) else None


def system_of(resolved: ResolvedCase) -> System:
    """What stands in the streams of a case: fans that overlap along their direction stand side by side."""
    groups: list[list[ResolvedPart]] = []
    for part in resolved.bodies:
        if not isinstance(part.internal, ResolvedFan):
            continue
        for group in groups:
            if _side_by_side(group[0], part):
                group.append(part)
                break
        else:
            groups.append([part])
    drags = tuple(p for p in resolved.bodies if isinstance(p.internal, ResolvedDrag) and np.isfinite(p.internal.thickness))
    return System(resolved, tuple(tuple(group) for group in groups), drags)


def _fan(part: ResolvedPart) -> ResolvedFan:
    assert isinstance(part.internal, ResolvedFan)
    return part.internal


def _side_by_side(one: ResolvedPart, other: ResolvedPart) -> bool:
    """Whether two upright fans blow the same way and overlap along it."""
    way = np.array(_fan(one).direction)
    if not np.allclose(way, _fan(other).direction):
        return False
    spans = [sorted((float(way @ (p.x, p.y)), float(way @ (p.x + p.width, p.y + p.height)))) for p in (one, other)]
    return spans[0][0] < spans[1][1] and spans[1][0] < spans[0][1]


def _shares(group: Sequence[ResolvedPart], flow: float) -> list[float]:
    """Flow through each fan of a group side by side, m3/s: all raise the pressure by the same."""
    fans = [_fan(part) for part in group]
    if len(fans) == 1 or all(fan.curve == fans[0].curve for fan in fans):
        whole = sum(fan.stands_for for fan in fans)
        return [flow * fan.stands_for / whole for fan in fans]
    rise = _rise_at(group, flow)
    return [fan.stands_for * _flow_at(fan, rise) for fan in fans]


def _rise_at(group: Sequence[ResolvedPart], flow: float) -> float:
    """Rise of a group side by side at a flow through all of it, Pa."""
    fans = [_fan(part) for part in group]
    if len(fans) == 1 or all(fan.curve == fans[0].curve for fan in fans):
        return float(fans[0].curve(flow / sum(fan.stands_for for fan in fans)))
    low, high = min(min(fan.curve.value) for fan in fans), max(max(fan.curve.value) for fan in fans)
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        passed = sum(fan.stands_for * _flow_at(fan, middle) for fan in fans)
        low, high = (middle, high) if passed > flow else (low, middle)
    return 0.5 * (low + high)


def _flow_at(fan: ResolvedFan, rise: float) -> float:
    """Flow of one fan at a rise, m3/s, on a falling curve."""
    low, high = 0.0, 2.0 * fan.curve.at[-1]
    for _ in range(_HALVINGS):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if float(fan.curve(middle)) > rise else (low, middle)
    return 0.5 * (low + high)
