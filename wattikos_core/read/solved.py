"""The solved column of the ledger: every quantity of a case, from its solution."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.case.estimates import CounterflowPlates, DoublePipe
from wattikos_core.physics import Evaluation, Problem, State, point_of
from wattikos_core.physics.faces import INTERFACE, WALL
from wattikos_core.physics.scales import LEAST_SPAN
from wattikos_core.read.age import age_quantities
from wattikos_core.read.bodies import surface_quantities
from wattikos_core.read.modules import module_quantities
from wattikos_core.read.motion import motion_quantities
from wattikos_core.read.senses import heat_through
from wattikos_core.read.streams import Stream, exchange_with, log_mean, streams_of
from wattikos_core.solve.convergence import imbalances


def solved_quantities(resolved: ResolvedCase, problem: Problem, evaluation: Evaluation, state: State) -> dict[str, float]:
    """All ledger quantities of a solution by name, SI; see `definition_of` for their meaning.

    A quantity that this case does not have (no second stream, no solid) is left out.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.grid import grid_section
        >>> from wattikos_core.physics import problem_of
        >>> from wattikos_core.section import paint
        >>> from wattikos_core.solve import solve_steady
        >>> from wattikos_core.solve.iterate import evaluate_state
        >>> resolved = resolve(starter_case("plate_sink"))
        >>> problem = problem_of(resolved, grid_section(resolved, paint(resolved), 0.5))
        >>> solution = solve_steady(problem)
        >>> evaluation = evaluate_state(problem, solution.state, solution.interpolation)
        >>> "mean temperature of base" in solved_quantities(resolved, problem, evaluation, solution.state)
        True
    """
    values: dict[str, float] = {}
    streams = streams_of(problem, evaluation, state.periodicity)
    point = point_of(problem, state)
    roles = resolved.case.estimate if isinstance(resolved.case.estimate, CounterflowPlates | DoublePipe) else None
    if roles is not None and roles.hot in streams and roles.cold in streams:
        values |= _exchanger(problem, evaluation, streams[roles.hot], streams[roles.cold], roles.wall)
    for name, stream in streams.items():
        values[f"{name} outlet temperature"] = stream.outlet_temperature
        values[f"{name} heat gained"] = stream.heat
        values[f"{name} pressure drop"] = stream.pressure_drop
        values[f"{name} Reynolds number"] = stream.reynolds
        exchange = exchange_with(problem, evaluation, stream, roles.wall if roles is not None else "")
        if exchange is not None:
            values[f"{name} h"] = exchange.coefficient
            conductivity = float(stream.table.conductivity(stream.mean_temperature))
            values[f"{name} Nusselt number"] = exchange.coefficient * stream.hydraulic_diameter / conductivity
            coefficient, kind = exchange.mean_local_coefficient, "mean local"
            if exchange.held:
                coefficient = exchange.log_mean_coefficient(stream.inlet_temperature, stream.outlet_temperature)
                kind = "log-mean"
            values[f"{name} {kind} h"] = coefficient
            values[f"{name} {kind} Nusselt number"] = coefficient * stream.hydraulic_diameter / conductivity
    solid = ~problem.fluid_regions[problem.grid.region]
    if solid.any():
        values["hottest metal"] = float(evaluation.temperature[solid].max())
        values["coldest metal"] = float(evaluation.temperature[solid].min())
    values |= _temperatures(problem, evaluation)
    values |= surface_quantities(point, evaluation, streams)
    values |= motion_quantities(point, evaluation)
    values |= age_quantities(resolved, point, evaluation)
    if resolved.module is not None and problem.module is not None:
        stream = streams[problem.grid.region_names[problem.module.region]]
        values |= module_quantities(state.periodicity, problem.module, stream, resolved.module.count)
    for index, name in enumerate(problem.grid.region_names):
        released = float((problem.cells.source * problem.cells.volume)[problem.grid.region == index].sum())
        if released:
            values[f"heat released in {name}"] = released
    for name, faces in problem.grid.groups.items():
        passing = float(evaluation.heat[faces].sum())
        # Boundaries that fluid passes are told by their stream, not by what is conducted there.
        if np.any(evaluation.flow[faces]) and "|" not in name:
            continue
        values[heat_through(name)] = passing
    values |= _between_ambients(resolved, problem, values)
    values["mass balance"], values["heat balance"] = imbalances(problem, evaluation, state.periodicity)
    # Without a temperature difference there is no coefficient: the case does not have this quantity.
    return {name: value for name, value in values.items() if np.isfinite(value)}


def _between_ambients(resolved: ResolvedCase, problem: Problem, values: dict[str, float]) -> dict[str, float]:
    """What passes solids between surroundings that differ, and how near to the coldest of them these are kept."""
    found: dict[str, float] = {}
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
        found[f"heat passing {name}"] = sum(max(-values.get(heat_through(boundary), 0.0), 0.0) for boundary, _ in outside)
        mean = values[f"mean temperature of {name}"]
        found[f"overall effectiveness of {name}"] = (hottest - mean) / (hottest - min(ambients))
    return found


def _temperatures(problem: Problem, evaluation: Evaluation) -> dict[str, float]:
    """Mean, highest and lowest temperature of every part, and of every outer boundary that heat may pass."""
    grid = problem.grid
    values: dict[str, float] = {}
    for index, name in enumerate(grid.region_names):
        mine = grid.region == index
        t = evaluation.temperature[mine]
        values[f"mean temperature of {name}"] = float(np.average(t, weights=grid.volume[mine]))
        values[f"highest temperature of {name}"], values[f"lowest temperature of {name}"] = float(t.max()), float(t.min())
    for name, faces in grid.groups.items():
        if problem.faces.kind[faces[0]] not in (WALL, INTERFACE):
            continue
        t = evaluation.face_temperature[faces]
        values[f"mean temperature of {name}"] = float(np.average(t, weights=problem.faces.area[faces]))
        values[f"highest temperature of {name}"], values[f"lowest temperature of {name}"] = float(t.max()), float(t.min())
    return values


def _exchanger(problem: Problem, evaluation: Evaluation, hot: Stream, cold: Stream, wall: str) -> dict[str, float]:
    hot_side, cold_side = exchange_with(problem, evaluation, hot, wall), exchange_with(problem, evaluation, cold, wall)
    if hot_side is None or cold_side is None:
        return {}
    duty = cold_side.total
    rates = heat_capacity_rates(hot, cold)
    most = min(rates) * abs(hot.inlet_temperature - cold.inlet_temperature)
    values = {"duty": duty}
    if most > 0.0:
        values["effectiveness"] = abs(duty) / most
    drive = _log_mean_drive(hot, cold) * float(hot_side.area.sum())
    if drive != 0.0:
        values["overall U"] = duty / drive
        values["NTU"] = abs(duty / drive) * float(hot_side.area.sum()) / min(rates)
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
