"""Around a sizing, by hand and corrected by what has been solved; computed beside the web process."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from math import isfinite
from typing import Any

from wattikos_core.case import Case, read_case
from wattikos_core.search.space_mapping import Array, Trial
from wattikos_core.studies.exploring import feasible_map, pareto_front, proposal_by_hand, scatter
from wattikos_core.studies.search_space import SearchSpace
from wattikos_core.studies.sizing_wish import ground_of, read_wish
from wattikos_web.worker.sizings import aim_data, chosen_data, quantity_data, trials_of

# Seconds and megabytes that a look around a sizing may take.
AROUND = (180.0, 1000)


def _search(document: dict[str, Any], ground: str, data: Sequence[dict[str, Any]]) -> tuple[Case, SearchSpace, list[Trial]]:
    """The search of a document, and the trials of a run that tell of it."""
    case = read_case(document)
    space = SearchSpace(case, read_wish(case, case.sizing))
    if not ground or ground_of(case, case.sizing) != ground:
        return case, space, []
    known = [(one.values, dict(zip(one.keys, one.solved, strict=True))) for one in trials_of(data)]
    return case, space, space.trials_known(known)


def by_hand(document: dict[str, Any], ground: str, data: Sequence[dict[str, Any]]) -> dict[str, Any]:
    """What the search would try next, and what the corrected hand calculation expects there."""
    _, space, trials = _search(document, ground, data)
    told: dict[str, Any] = {
        "chosen": chosen_data(space.search),
        "quantities": [quantity_data(key) for key in space.keys],
        "without_hand": [key.label for key in space.without_hand],
        "trials": len(trials),
        "values": None,
        "found": [],
        "met": False,
        "aim": None,
    }
    if space.without_hand:
        return told
    proposal = proposal_by_hand(space, trials)
    if proposal is None:
        return told
    return told | {
        "values": list(space.texts(proposal.place)),
        "found": _plain(proposal.quantities),
        "met": proposal.missing <= 1e-3,
        "aim": aim_data(space, 0, space.value(proposal.place, proposal.quantities)),
    }


def around(document: dict[str, Any], ground: str, data: Sequence[dict[str, Any]], first: int, second: int) -> dict[str, Any]:
    """Where goals can be met, over two of what is chosen."""
    _, space, trials = _search(document, ground, data)
    found = feasible_map(space, trials, first, second)
    return {
        "chosen": [chosen_data(space.search)[i] for i in (first, second)],
        "places": [_plain(values) for values in found.places],
        "goals": [
            {**quantity_data(goal.key), "lower": _or_none(goal.lower), "upper": _or_none(goal.upper), "values": _rows(values)}
            for goal, values in zip(space.goals, found.quantities, strict=True)
        ],
        "aim": aim_data(space, 0, float("nan")),
        "aims": _rows(found.aim),
        "missing": _rows(found.missing),
        "trials": len(trials),
    }


def front(document: dict[str, Any], ground: str, data: Sequence[dict[str, Any]]) -> dict[str, Any]:
    """What two aims cost one another."""
    _, space, trials = _search(document, ground, data)
    points = pareto_front(space, trials)
    return {
        "chosen": chosen_data(space.search),
        "aims": [aim_data(space, i, float("nan")) for i in range(2)],
        "points": [asdict(point) for point in points],
        "trials": len(trials),
    }


def scattered(document: dict[str, Any], ground: str, data: Sequence[dict[str, Any]]) -> dict[str, Any]:
    """What scattering inputs do to the goals."""
    case, space, trials = _search(document, ground, data)
    found = scatter(space, trials, case.sizing.spreads, case.sizing.share)
    return asdict(found) | {
        "goals": [quantity_data(goal.key) for goal in space.goals],
        "aim_there": _or_none(found.aim_there),
        "aim": aim_data(space, 0, found.aim_there),
        "chosen": chosen_data(space.search),
        "trials": len(trials),
    }


def _or_none(value: float) -> float | None:
    return value if isfinite(value) else None


def _plain(values: Array) -> list[float | None]:
    return [_or_none(float(x)) for x in values]


def _rows(values: Array) -> list[list[float | None]]:
    return [_plain(row) for row in values]
