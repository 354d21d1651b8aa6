"""Series by hand, computed beside the web process."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from wattikos_core.case import read_case
from wattikos_core.case.series import Varied
from wattikos_core.formats import read_points
from wattikos_core.ledger import Key
from wattikos_core.studies.sensitivity import sensitivities
from wattikos_core.studies.series import Values, by_hand, coordinates, points_of

# Seconds and megabytes that a part of a series may take.
BY_HAND = (120.0, 1000)


def series_points(document: dict[str, Any]) -> list[Values]:
    """The points of a document's series."""
    case = read_case(document)
    return points_of(case, case.series)


def points_of_file(document: dict[str, Any], name: str, content: bytes) -> list[Varied]:
    """What a table varies, row by row."""
    return read_points(name, content, read_case(document))


def series_by_hand(document: dict[str, Any], points: Sequence[Values]) -> dict[str, Any]:
    """Points by hand: where they lie, the quantities there are, and each quantity's value at every point."""
    case = read_case(document)
    varied = case.series.varied
    found = by_hand(case, varied, points)
    keys = list(dict.fromkeys(key for point in found for key in point.values))
    return {
        "quantities": [{"key": asdict(key), "name": key.label, "kind": key.kind} for key in keys],
        "values": [[point.values.get(key) for point in found] for key in keys],
        "problems": [point.problem for point in found],
        "places": [[float(x) if x == x else None for x in row] for row in coordinates(case, varied, points)],
    }


def series_sensitivities(document: dict[str, Any], key: dict[str, Any]) -> list[dict[str, Any]]:
    """How much a quantity answers to each input, by hand."""
    return [asdict(one) for one in sensitivities(read_case(document), Key(**key))]
