"""Watches: the quantities that are followed while a case is solved."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from wattikos_core.case import ResolvedCase
from wattikos_core.ledger import Key, in_sense
from wattikos_core.ledger.readings import OF_READINGS
from wattikos_core.physics import Evaluation, Problem, State
from wattikos_core.physics.scales import LEAST_SPAN
from wattikos_core.read.solved import solved_quantities

# Quantities watched when none are chosen, at most.
_MOST_WATCHED = 6
# Boundaries among them, at most.
_MOST_BOUNDARIES = 2


def watch_for(resolved: ResolvedCase, problem: Problem) -> Callable[[Evaluation, State], dict[Key, float]]:
    """A function that gives the watched quantities of a state, SI; without a choice, those that tell most."""
    chosen: Sequence[Key] = resolved.case.watches
    # What rules for ending look at is followed besides.
    judged = [stop.key for stop in resolved.stops]
    # Where no temperatures differ, heat is round-off, which never settles.
    heat_passes = bool(problem.scales.heat.any() or float(problem.scales.span.max()) > LEAST_SPAN)

    # They take their time, and are reckoned where they are watched.
    readings = any(key.quantity in OF_READINGS for key in [*chosen, *judged])

    def watch(evaluation: Evaluation, state: State) -> dict[Key, float]:
        values = solved_quantities(resolved, problem, evaluation, state, readings=readings)
        keys = chosen or _telling(values, problem.grid.region_names, resolved.time is not None, heat_passes)
        found = {key: in_sense(values, key) for key in [*keys, *judged]}
        return {key: value for key, value in found.items() if value is not None}

    return watch


def _telling(values: Mapping[Key, float], parts: Sequence[str], in_time: bool, heat_passes: bool) -> list[Key]:
    """Outlet temperatures; in time and without any, heat of boundaries, liquid fractions and mean temperatures of parts."""
    outlets = [key for key in values if key.quantity in ("outlet_temperature", "last_outlet_temperature")]
    if outlets and not in_time:
        return outlets
    of_parts = [key for what in ("liquid_fraction", "mean_temperature") for key in values if key.quantity == what]
    others = [key for key in of_parts if key.place in parts]
    # What passes its boundaries tells whether a closed section has settled.
    edges = [key for key, value in values.items() if key.quantity == "heat_out" and value != 0.0]
    edges = edges if heat_passes and not in_time else []
    return [*outlets, *edges[:_MOST_BOUNDARIES], *others][:_MOST_WATCHED]
