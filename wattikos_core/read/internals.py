"""What stands in streams, in a solution: flow through it, its rise or loss of pressure, the power of its shaft."""

from __future__ import annotations

import numpy as np

from wattikos_core.ledger import Key
from wattikos_core.physics import Point
from wattikos_core.physics.internals import Drag, Fan


def internal_quantities(point: Point) -> dict[Key, float]:
    """Ledger quantities of fans, resistances and porous parts by key, SI."""
    problem, velocity = point.problem, point.state.velocity
    values: dict[Key, float] = {}
    for one in problem.internals:
        place = problem.grid.region_names[one.region]
        if isinstance(one, Fan):
            values |= _of_fan(one, place, one.flow(velocity))
        elif np.isfinite(one.given.thickness):
            values |= _of_drag(one, place, point)
    return values


def _of_fan(fan: Fan, place: str, flow: float) -> dict[Key, float]:
    found = {
        Key("flow_through", place): flow,
        Key("face_speed", place): flow / fan.area,
        Key("rise_in", place): fan.rise(flow),
    }
    power = fan.shaft_power(flow)
    if power is not None:
        found[Key("shaft_power", place)] = power
    if not fan.given.curve.flat:
        found[Key("share_of_end", place)] = flow / fan.given.stands_for / fan.given.curve.at[-1]
    return found


def _of_drag(drag: Drag, place: str, point: Point) -> dict[Key, float]:
    velocity, properties = point.state.velocity, point.properties
    area = float(drag.volume.sum()) / drag.given.thickness
    flow = float(drag.volume @ (velocity[drag.cells] @ drag.axes[0])) / drag.given.thickness
    force = drag.force(velocity, properties.density, properties.viscosity) @ drag.axes[0]
    # Told along the flow, whichever way it goes.
    way = 1.0 if flow >= 0.0 else -1.0
    return {
        Key("flow_through", place): way * flow,
        Key("face_speed", place): way * flow / area,
        Key("loss_in", place): -way * float(drag.volume @ force) / area,
    }
