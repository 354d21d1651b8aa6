"""What stands in streams, in a solution: flow through it, its rise or loss of pressure, the power of its shaft."""

from __future__ import annotations

import numpy as np

from wattikos_core.internals.even_core import even_conductance
from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Point
from wattikos_core.physics.cores import Tubes
from wattikos_core.physics.faces import Array
from wattikos_core.physics.internals import Drag, Fan
from wattikos_core.physics.unknowns import MATRIX

_LEAST_DIFFERENCE = 1e-6


def internal_quantities(point: Point, evaluation: Evaluation) -> dict[Key, float]:
    """Ledger quantities of fans, resistances and porous parts by key, SI."""
    problem, velocity = point.problem, point.state.velocity
    values: dict[Key, float] = {}
    for one in problem.internals:
        place = problem.grid.region_names[one.region]
        if isinstance(one, Fan):
            values |= _of_fan(one, place, one.flow(velocity))
        elif np.isfinite(one.given.thickness):
            values |= _of_drag(one, place, point)
        if isinstance(one, Drag) and one.given.exchange is not None:
            matrix = matrix_temperature(point)[one.cells]
            values[Key("matrix_temperature", place)] = float(one.volume @ matrix / one.volume.sum())
            values[Key("hottest_matrix", place)] = float(matrix.max())
            values[Key("coldest_matrix", place)] = float(matrix.min())
    for tubes in problem.tubes:
        values |= _of_tubes(tubes, problem.grid.region_names[tubes.drag.region], point, evaluation)
    return values


def matrix_temperature(point: Point) -> Array:
    """Of matrices that have a temperature of their own, K, shape (n_cells,); NaN elsewhere."""
    problem = point.problem
    found = np.full(problem.grid.n_cells, np.nan)
    for drag in problem.drags:
        if drag.given.exchange is not None:
            excess = point.state.scalars[drag.cells, problem.unknowns.scalars.index(MATRIX)]
            found[drag.cells] = point.properties.temperature[drag.cells] + excess
    return found


def _of_tubes(tubes: Tubes, place: str, point: Point, evaluation: Evaluation) -> dict[Key, float]:
    """What a core exchanges, and what it would if it were passed evenly."""
    liquid, velocity = tubes.liquid, point.state.velocity
    heat, _, leaves = tubes.exchange(velocity, point.properties.temperature)
    whole = float(heat.sum())
    found = {Key("core_heat", place): whole}
    if liquid.table is not None:
        found[Key("tube_outlet_temperature", place)] = leaves
    passing, enters = _entering(tubes.drag.region, point, evaluation)
    if passing <= 0.0:
        return found
    stream = passing * float(point.problem.materials[tubes.drag.region].specific_heat(enters))
    difference = liquid.temperature - enters
    even = even_conductance(
        liquid.conductance_at(tubes.speed(velocity)), stream, liquid.capacity_rate, liquid.passes, liquid.counter
    )
    if abs(difference) > _LEAST_DIFFERENCE and even > 0.0:
        found[Key("core_effectiveness", place)] = whole / (min(stream, liquid.capacity_rate) * difference)
        found[Key("uneven_loss", place)] = 1.0 - whole / (even * difference)
    return found


def _entering(region: int, point: Point, evaluation: Evaluation) -> tuple[float, float]:
    """Mass flow that enters a part over all its faces, kg/s, and its mixed temperature, K."""
    problem = point.problem
    grid, temperature = problem.grid, point.properties.temperature
    other = np.where(grid.neighbour >= 0, grid.neighbour, grid.owner)
    owns, beyond = grid.region[grid.owner] == region, grid.region[other] == region
    inwards = np.where(owns, -evaluation.flow, evaluation.flow)
    outer = grid.neighbour < 0
    chosen = np.nonzero(((owns != beyond) | (owns & outer)) & (inwards > 0.0))[0]
    ahead = np.where(owns[chosen], other[chosen], grid.owner[chosen])
    warm = np.where(outer[chosen], problem.given.temperature[chosen], temperature[ahead])
    passing = float(inwards[chosen].sum())
    return passing, float(inwards[chosen] @ warm) / passing if passing > 0.0 else 0.0


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
