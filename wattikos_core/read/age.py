"""The age of fluid: how long it stays, on the mean and at least, and how much of it leaves too early."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Point
from wattikos_core.physics.faces import OUTLET, Array
from wattikos_core.physics.terms.age import AGE
from wattikos_core.read.streams import Stream


def age_field(point: Point) -> Array | None:
    """Age in cells, s, NaN where no fluid flows; None where it was not wanted."""
    unknowns = point.problem.unknowns
    if AGE not in unknowns.scalars:
        return None
    return np.where(point.problem.cells.fluid == 1, point.state.scalars[:, unknowns.scalars.index(AGE)], np.nan)


def age_quantities(resolved: ResolvedCase, point: Point, evaluation: Evaluation, streams: Mapping[str, Stream]) -> dict[Key, float]:
    """Ledger quantities of the age of fluid by key, s; none where it was not wanted.

    Ages inside are told of every part, and of a stream with all that stands in it by the stream's name.
    """
    age = age_field(point)
    if age is None:
        return {}
    problem, values = point.problem, dict[Key, float]()
    grid, fluid = problem.grid, problem.cells.fluid == 1
    mass = problem.voids * point.properties.density * problem.cells.volume
    for index, name in enumerate(grid.region_names):
        mine = (grid.region == index) & fluid
        if mine.any():
            values[Key("mean_age_inside", name)] = float(np.average(age[mine], weights=mass[mine]))
    leaving = np.nonzero((problem.faces.kind == OUTLET) & (evaluation.flow > 0.0))[0]
    for name, stream in streams.items():
        mine = np.isin(grid.region, stream.regions) & fluid
        out = leaving[np.isin(grid.region[grid.owner[leaving]], stream.regions)]
        inside = float(np.average(age[mine], weights=mass[mine]))
        values[Key("mean_age_inside", name)] = inside
        if not out.size:
            continue
        of_face, flow = age[grid.owner[out]], evaluation.flow[out]
        at_outlet = float(np.average(of_face, weights=flow))
        values[Key("mean_age_at_outlet", name)] = at_outlet
        if inside > 0.0:
            values[Key("air_change_efficiency", name)] = at_outlet / (2.0 * inside)
        values[Key("shortest_age_at_outlet", name)] = float(of_face.min())
        if resolved.age_limit is not None:
            values[Key("share_younger", name)] = _share_below(of_face, flow, resolved.age_limit)
    return values


def _share_below(age: Array, flow: Array, limit: float) -> float:
    """Share of a flow that is younger than a limit: ages between those of faces next to each other in age count evenly."""
    order = np.argsort(age)
    passed = np.cumsum(flow[order])
    middle = (passed - 0.5 * flow[order]) / passed[-1]
    return float(np.interp(limit, age[order], middle, left=0.0, right=1.0))
