"""The solved column of the ledger: every quantity of a case, from its solution."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.ledger import Key
from wattikos_core.materials import PropertyTable
from wattikos_core.physics import Evaluation, Problem, State, point_of
from wattikos_core.physics.faces import INTERFACE, WALL
from wattikos_core.physics.scales import LEAST_SPAN
from wattikos_core.physics.terms.age import AGE
from wattikos_core.read.age import age_quantities
from wattikos_core.read.bodies import surface_quantities
from wattikos_core.read.internals import internal_quantities
from wattikos_core.read.modules import module_quantities
from wattikos_core.read.motion import motion_quantities
from wattikos_core.read.radiation import radiation_quantities
from wattikos_core.read.readings import reading_quantities
from wattikos_core.read.streams import Stream, exchange_with, log_mean, stream_by_part, streams_of
from wattikos_core.read.turbulence import turbulence_quantities
from wattikos_core.solve.convergence import imbalances

# Solids that conduct at least as well as the poorest metals in equipment (titanium alloys at 6.7 W/m/K) are taken for metal;
# polymers, minerals and insulation are not (common practice, no source).
METAL_CONDUCTIVITY, _ROOM = 6.5, 300.0
# At which parts are weighed.
WEIGHED_AT = 293.15


def solved_quantities(
    resolved: ResolvedCase, problem: Problem, evaluation: Evaluation, state: State, *, readings: bool = True
) -> dict[Key, float]:
    """All ledger quantities of a solution by key, SI.

    A quantity that this case does not have (no second stream, no solid) is left out.

    Args:
        resolved: the case.
        problem: the discrete problem.
        evaluation: what passes its faces.
        state: the solution.
        readings: whether those of the case's probes and lines are wanted.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.grid import grid_section
        >>> from wattikos_core.ledger import Key
        >>> from wattikos_core.physics import problem_of
        >>> from wattikos_core.section import paint
        >>> from wattikos_core.solve import solve_steady
        >>> from wattikos_core.solve.iterate import evaluate_state
        >>> resolved = resolve(starter_case("plate_sink"))
        >>> problem = problem_of(resolved, grid_section(resolved, paint(resolved), 0.5))
        >>> solution = solve_steady(problem)
        >>> evaluation = evaluate_state(problem, solution.state, solution.interpolation)
        >>> Key("mean_temperature", "base") in solved_quantities(resolved, problem, evaluation, solution.state)
        True
    """
    values: dict[Key, float] = {}
    streams = streams_of(problem, evaluation, state.periodicity)
    point = point_of(problem, state)
    roles = resolved.case.exchanger
    passing_through = stream_by_part(problem, streams)
    if roles is not None and roles.hot in passing_through and roles.cold in passing_through:
        values |= _exchanger(problem, evaluation, passing_through[roles.hot], passing_through[roles.cold], roles.wall)
    for name, stream in streams.items():
        values[Key("outlet_temperature", name)] = stream.outlet_temperature
        values[Key("heat_gained", name)] = stream.heat
        if AGE in problem.unknowns.scalars:
            values |= _removal(problem, evaluation, name, stream)
        values[Key("pressure_drop", name)] = stream.pressure_drop
        entering = stream.mass_flow / float(stream.table.density(stream.inlet_temperature))
        values[Key("pumping_power", name)] = stream.pressure_drop * entering
        values[Key("reynolds_number", name)] = stream.reynolds
        exchange = exchange_with(problem, evaluation, stream, roles.wall if roles is not None else "")
        if exchange is not None:
            values[Key("h", name)] = exchange.coefficient
            conductivity = float(stream.table.conductivity(stream.mean_temperature))
            values[Key("nusselt_number", name)] = exchange.coefficient * stream.hydraulic_diameter / conductivity
            coefficient, kind = exchange.mean_local_coefficient, "mean_local"
            if exchange.held:
                coefficient = exchange.log_mean_coefficient(stream.inlet_temperature, stream.outlet_temperature)
                kind = "log_mean"
            values[Key(f"{kind}_h", name)] = coefficient
            values[Key(f"{kind}_nusselt_number", name)] = coefficient * stream.hydraulic_diameter / conductivity
    values |= _temperatures(problem, evaluation)
    metal = [name for name, m in zip(problem.grid.region_names, problem.materials, strict=True) if _is_metal(m)]
    if metal:
        values[Key("hottest_metal")] = max(values[Key("highest_temperature", name)] for name in metal)
        values[Key("coldest_metal")] = min(values[Key("lowest_temperature", name)] for name in metal)
    values |= surface_quantities(point, evaluation, streams)
    values |= motion_quantities(point, evaluation)
    values |= internal_quantities(point, evaluation)
    values |= radiation_quantities(problem, evaluation)
    values |= turbulence_quantities(point)
    values |= age_quantities(resolved, point, evaluation, streams)
    if readings:
        values |= reading_quantities(resolved, point, evaluation)
    if resolved.module is not None and problem.module is not None:
        stream = streams[problem.grid.region_names[problem.module.region]]
        values |= module_quantities(state.periodicity, problem.module, stream, resolved.module.count)
    for index, name in enumerate(problem.grid.region_names):
        if not problem.fluid_regions[index]:
            density = float(problem.materials[index].density(WEIGHED_AT))
            values[Key("mass", name)] = density * float(problem.grid.volume[problem.grid.region == index].sum())
        released = float((problem.cells.source * problem.cells.volume)[problem.grid.region == index].sum())
        if released:
            values[Key("heat_released", name)] = released
    for name, faces in problem.grid.groups.items():
        passing = float(evaluation.heat[faces].sum())
        # Boundaries that fluid passes are told by their stream, not by what is conducted there.
        if np.any(evaluation.flow[faces]) and "|" not in name:
            continue
        values[heat_through(name)] = passing
    values |= _between_ambients(resolved, problem, values)
    values[Key("mass_balance")], values[Key("heat_balance")] = imbalances(problem, evaluation, state.periodicity)
    # Without a temperature difference there is no coefficient: the case does not have this quantity.
    return {key: value for key, value in values.items() if np.isfinite(value)}


def _removal(problem: Problem, evaluation: Evaluation, name: str, stream: Stream) -> dict[Key, float]:
    """How well a stream takes heat out of the room that it passes; asked for with its age."""
    mine = np.isin(problem.grid.region, stream.regions)
    inside = float(np.average(evaluation.temperature[mine], weights=problem.grid.volume[mine]))
    gained, held = stream.outlet_temperature - stream.inlet_temperature, inside - stream.inlet_temperature
    if abs(held) < LEAST_SPAN or abs(gained) < LEAST_SPAN:
        return {}
    return {Key("heat_removal_effectiveness", name): gained / held}


def _is_metal(table: PropertyTable) -> bool:
    return not table.fluid and table.melting is None and float(table.conductivity(_ROOM)) >= METAL_CONDUCTIVITY


def heat_through(boundary: str) -> Key:
    """The heat that passes a boundary outwards, or an interface from its first part to its second."""
    first, bar, second = boundary.partition(" | ")
    return Key("heat_between", first, second) if bar else Key("heat_out", boundary)


def _between_ambients(resolved: ResolvedCase, problem: Problem, values: dict[Key, float]) -> dict[Key, float]:
    """What passes solids between surroundings that differ, and how near to the coldest of them these are kept."""
    found: dict[Key, float] = {}
    for index, name in enumerate(problem.grid.region_names):
        outside = [
            (boundary, c)
            for boundary in problem.grid.groups
            if boundary.startswith(f"{name}, ") and (c := resolved.condition(boundary)) is not None and c.type == "surroundings"
        ]
        ambients = [t for _, condition in outside for t in condition.temperatures]
        if problem.fluid_regions[index] or not ambients or max(ambients) - min(ambients) < LEAST_SPAN:
            continue
        hottest = max(ambients)
        found[Key("heat_passing", name)] = sum(max(-values.get(heat_through(boundary), 0.0), 0.0) for boundary, _ in outside)
        mean = values[Key("mean_temperature", name)]
        found[Key("overall_effectiveness", name)] = (hottest - mean) / (hottest - min(ambients))
    return found


def _temperatures(problem: Problem, evaluation: Evaluation) -> dict[Key, float]:
    """Mean, highest and lowest temperature of every part, and of every outer boundary that heat may pass.

    The extremes of a part may lie on its surface, beyond the middles of its cells.
    """
    grid = problem.grid
    values: dict[Key, float] = {}
    surface = np.unique(np.concatenate([*grid.groups.values(), np.zeros(0, dtype=np.int64)]))
    shared = surface[grid.neighbour[surface] >= 0]
    for index, name in enumerate(grid.region_names):
        mine = grid.region == index
        t = evaluation.temperature[mine]
        values[Key("mean_temperature", name)] = float(np.average(t, weights=grid.volume[mine]))
        own = evaluation.face_temperature[surface[grid.region[grid.owner[surface]] == index]]
        beyond = evaluation.beyond_temperature[shared[grid.region[grid.neighbour[shared]] == index]]
        t = np.concatenate([t, own, beyond])
        values[Key("highest_temperature", name)], values[Key("lowest_temperature", name)] = float(t.max()), float(t.min())
    for name, faces in grid.groups.items():
        if problem.faces.kind[faces[0]] not in (WALL, INTERFACE):
            continue
        t = evaluation.face_temperature[faces]
        values[Key("mean_temperature", name)] = float(np.average(t, weights=problem.faces.area[faces]))
        values[Key("highest_temperature", name)], values[Key("lowest_temperature", name)] = float(t.max()), float(t.min())
    return values


def _exchanger(problem: Problem, evaluation: Evaluation, hot: Stream, cold: Stream, wall: str) -> dict[Key, float]:
    hot_side, cold_side = exchange_with(problem, evaluation, hot, wall), exchange_with(problem, evaluation, cold, wall)
    if hot_side is None or cold_side is None:
        return {}
    duty = cold_side.total
    rates = heat_capacity_rates(hot, cold)
    most = min(rates) * abs(hot.inlet_temperature - cold.inlet_temperature)
    values = {Key("duty"): duty}
    if most > 0.0:
        values[Key("effectiveness")] = abs(duty) / most
    drive = _log_mean_drive(hot, cold) * float(hot_side.area.sum())
    if drive != 0.0:
        values[Key("overall_u")] = duty / drive
        values[Key("ntu")] = abs(duty / drive) * float(hot_side.area.sum()) / min(rates)
    return values


def heat_capacity_rates(hot: Stream, cold: Stream) -> tuple[float, float]:
    """Heat capacity rates of both streams, W/K, with the mean specific heat between the two inlet temperatures."""
    span = hot.inlet_temperature - cold.inlet_temperature
    if span == 0.0:
        return tuple(s.mass_flow * float(s.table.specific_heat(s.inlet_temperature)) for s in (hot, cold))  # type: ignore[return-value]
    return tuple(
        s.mass_flow * float(s.table.enthalpy(hot.inlet_temperature) - s.table.enthalpy(cold.inlet_temperature)) / span
        for s in (hot, cold)
    )  # type: ignore[return-value]


def _log_mean_drive(hot: Stream, cold: Stream) -> float:
    """Logarithmic mean of the differences between two streams at both ends of the wall between them, K; NaN where they cross."""
    counter = float(hot.direction @ cold.direction) < 0.0
    at_hot_inlet = hot.inlet_temperature - (cold.outlet_temperature if counter else cold.inlet_temperature)
    at_hot_outlet = hot.outlet_temperature - (cold.inlet_temperature if counter else cold.outlet_temperature)
    return log_mean(at_hot_inlet, at_hot_outlet)
