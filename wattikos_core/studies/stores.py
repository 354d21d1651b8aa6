"""What the ledger says of a whole run in time: heat stored, melting and settling times, how full a store is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from wattikos_core.evidence.settling import first_time, settling
from wattikos_core.ledger import Key
from wattikos_core.physics import Problem, State
from wattikos_core.read import front_distance
from wattikos_core.solve.iterate import Iterate, stored_in

# Kinds of quantities that begin without bound where a temperature at a wall suddenly changes.
_SINGULAR = ("power", "heat_flux", "heat_transfer_coefficient", "force", "torque")
# A store counts as molten, or frozen, at this share.
_ALL = 0.99


def heat_contents(problem: Problem, state: State) -> dict[str, float]:
    """Heat in every part, J."""
    heat = stored_in(problem, state)[:, problem.unknowns.temperature]
    return {name: float(heat[problem.grid.region == index].sum()) for index, name in enumerate(problem.grid.region_names)}


def heat_stored(problem: Problem, state: State, before: Mapping[str, float]) -> dict[Key, float]:
    """Heat taken up by every part that melts, and by all together, since the beginning."""
    now = heat_contents(problem, state)
    melting = [name for name, table in zip(problem.grid.region_names, problem.materials, strict=True) if table.melting is not None]
    stores = {Key("heat_stored", name): now[name] - before[name] for name in melting}
    return stores | {Key("all_heat_stored"): sum(now.values()) - sum(before.values())}


def over_time(
    problem: Problem,
    before: State,
    last: Iterate,
    history: list[dict[str, float]],
    content: Mapping[str, float],
    watched: Iterable[Key],
) -> tuple[dict[Key, float], list[Key]]:
    """Ledger quantities of the whole run, and the watched quantities that have not settled.

    Args:
        problem: as it is at the end.
        before: state at the beginning.
        last: state at the end.
        history: one row per step, see `Solution.history`.
        content: heat in every part at the beginning, J.
        watched: what was followed at each step.
    """
    after = last.state
    values = heat_stored(problem, after, content)
    now = heat_contents(problem, after)
    for name in problem.grid.region_names:
        values[Key("heat_stored", name)] = now[name] - content[name]
    time = [row["time"] for row in history]
    unsettled = []
    for key in watched:
        if any(key.label not in row for row in history):
            continue
        course = [row[key.label] for row in history]
        if key.quantity == "liquid_fraction":
            values |= melting_times(key.place, time, course)
        found = settling(time, course, singular=key.kind in _SINGULAR)
        if found is None:
            continue
        if found.at_95 is None or found.at_99 is None:
            unsettled.append(key)
        else:
            values[Key("time_to_95", of=key)], values[Key("time_to_99", of=key)] = found.at_95, found.at_99
    for index, name in enumerate(problem.grid.region_names):
        if problem.materials[index].melting is None:
            continue
        stored = values[Key("heat_stored", name)]
        most = _most_stored(problem, before, index, stored)
        front = front_distance(problem, before, after, last.evaluation, index)
        if front is not None:
            values[Key("front", name)] = front
        if stored * most > 0.0:
            values[Key("store_effectiveness", name)] = stored / most
    # The balance of the whole run, not of its last stage.
    values[Key("heat_balance")] = history[-1]["heat balance"]
    return values, unsettled


def melting_times(part: str, time: list[float], liquid: list[float]) -> dict[Key, float]:
    """When all of a part was first frozen and molten: at once where it begins so, and then the next time."""
    values = {}
    for what, course in (("melting_time", liquid), ("freezing_time", [1.0 - share for share in liquid])):
        since = 0
        if course[0] >= _ALL:
            # What begins molten melts after it has been frozen for the most part.
            since = min(range(len(course)), key=course.__getitem__)
            if course[since] > 0.5:
                continue
        reached = first_time(time[since:], course[since:], _ALL)
        if reached is not None:
            values[Key(what, part)] = reached
    return values


def _most_stored(problem: Problem, before: State, index: int, stored: float) -> float:
    """Heat a part would take up, J, if all of it reached the highest temperature given; the lowest where it has given heat up."""
    table = problem.materials[index]
    mine = problem.grid.region == index
    held = stored_in(problem, before)
    given = problem.scales.highest if stored > 0.0 else problem.scales.lowest
    return float(held[mine, problem.unknowns.pressure].sum()) * float(table.enthalpy(given)) - float(
        held[mine, problem.unknowns.temperature].sum()
    )
