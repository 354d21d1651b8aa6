"""Streams that a pressure drives, by hand: the flow is the one whose friction and velocity head use the pressure up."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import replace

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.blown import SCATTER_OF_FAN
from wattikos_core.estimate.bound import Bound, FlowFromPressure
from wattikos_core.estimate.hand_value import HandValue
from wattikos_core.ledger import Key

Relation = Callable[[Bound], dict[Key, HandValue]]

_MOST_STREAMS = 4
_MOST_STEPS = 40
_CLOSED = 1e-7
# Pressure drop rises between linearly (laminar) and as the square (turbulent) of a flow.
_SLOPES = (0.8, 2.2)
_FARTHEST = 3.0
# Near the end of its curve what a fan drives is used up by hardly any more flow.
_STEEPEST_OF_FANS = 50.0
# Velocity the search begins with, m/s.
_FIRST_VELOCITY = 0.1


def with_flows(resolved: ResolvedCase, relation: Relation, *, bands: bool = True) -> tuple[Bound, dict[Key, HandValue]]:
    """What a relation gives, with the flow of each stream that enters by a pressure found from its own pressure drop.

    Args:
        resolved: the case.
        relation: evaluated with a `Bound`; gives the pressure drop of each stream whose flow it asks for.
        bands: whether the usual scatter is wanted.

    Returns:
        what it read, and its values.

    Raises:
        CaseError: as the relation does; or no flow uses the pressure up.
    """
    flows: dict[str, float] = {}
    for _ in range(_MOST_STREAMS + 1):
        bound = Bound(resolved, flows, bands=bands)
        try:
            values = relation(bound)
        except FlowFromPressure as missing:
            flows[missing.part.name] = missing.density * missing.area * _FIRST_VELOCITY
            continue
        break
    if not flows:
        return bound, values
    at, slopes = dict(flows), dict.fromkeys(flows, 1.3)
    steepest = _STEEPEST_OF_FANS if bound.system.fans else _SLOPES[1]
    # Too small and too large flows that are known, as logarithms.
    between = {name: [-math.inf, math.inf] for name in flows}
    off = _off(bound, values, at)
    for _ in range(_MOST_STEPS):
        if all(abs(excess) < _CLOSED for excess in off.values()):
            by = "where fans and losses meet" if bound.system.fans else "from the pressures given"
            told = {key: replace(value, source=f"{value.source}; flow {by}") for key, value in values.items()}
            return bound, (_with_internals(bound, told, at) if bound.system.fans else told)
        if bound.system.fans:
            step = {name: _step(math.log(at[name]), off[name], slopes[name], between[name]) for name in at}
        else:
            step = {name: max(-_FARTHEST, min(_FARTHEST, -off[name] / slopes[name])) for name in at}
        at = {name: at[name] * math.exp(step[name]) for name in at}
        bound = Bound(resolved, at, bands=bands)
        values = relation(bound)
        before, off = off, _off(bound, values, at)
        for name in at:
            if abs(step[name]) > 1e-9:
                slopes[name] = max(_SLOPES[0], min(steepest, (off[name] - before[name]) / step[name]))
    name = max(off, key=lambda one: abs(off[one]))
    problem = f"by hand no flow of '{name}' uses up the pressure at its inlet"
    raise CaseError(InputProblem(f"{bound.inlet(name).field}.pressure", problem, "give a mass flow or a velocity"))


def _step(at: float, off: float, slope: float, between: list[float]) -> float:
    """How far to go with a flow, as a logarithm: by the slope, or to the middle of what is known of it where that leads out."""
    between[1 if off > 0.0 else 0] = at
    step = max(-_FARTHEST, min(_FARTHEST, -off / slope))
    if between[0] < at + step < between[1] or not all(map(math.isfinite, between)):
        return step
    return 0.5 * (between[0] + between[1]) - at


def _with_internals(bound: Bound, values: Mapping[Key, HandValue], flows: Mapping[str, float]) -> dict[Key, HandValue]:
    """What stands in a stream that fans drive; the pressure between its ends says nothing of it, and is left out."""
    found = dict(values)
    for name, flow in flows.items():
        for quantity in ("pressure_drop", "pumping_power"):
            found.pop(Key(quantity, name), None)
        number = found.get(Key("reynolds_number", name))
        if number is not None:
            low, high = (1.0 - SCATTER_OF_FAN) * number.value, (1.0 + SCATTER_OF_FAN) * number.value
            found[number.key] = replace(number, low=low, high=high)
        density, viscosity = bound.as_it_enters(name)
        found |= bound.system.values(flow / density, density, viscosity)
    for group in bound.system.fans:
        for part in group:
            bound.account.take("internal", part.name)
            # A fan where the stream leaves stands at an opening, which may be one where it enters.
            bound.account.take("stream", part.origin)
    for part in bound.system.drags:
        bound.account.take("internal", part.name)
    return found


def _off(bound: Bound, values: Mapping[Key, HandValue], flows: Mapping[str, float]) -> dict[str, float]:
    """By how much the pressure that each flow uses exceeds what is given, as a logarithm."""
    found = {}
    for name, flow in flows.items():
        drop = values.get(Key("pressure_drop", name))
        given = bound.pressure_over(name, flow)
        if drop is None or not drop.value > 0.0:
            problem = f"this relation gives no pressure drop of '{name}', from which its flow would follow"
            remedy = "give a mass flow or a velocity, or switch this hand calculation off"
            raise CaseError(InputProblem(f"{bound.inlet(name).field}.pressure", problem, remedy))
        found[name] = math.log((drop.value + bound.velocity_head(name, flow) + bound.loss_on_the_way(name, flow)) / given)
    return found
