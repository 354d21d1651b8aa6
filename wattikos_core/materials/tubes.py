"""Nominal sizes of tubes and pipes by open standards, from a data file of our own with its sources."""

from __future__ import annotations

import json
from dataclasses import dataclass
from importlib import resources


@dataclass(frozen=True)
class Tube:
    """A size as it is called; outside diameter and wall thickness in m."""

    label: str
    outside: float
    wall: float

    @property
    def inside(self) -> float:
        """Inside diameter, m."""
        return self.outside - 2.0 * self.wall


@dataclass(frozen=True)
class TubeTable:
    """Sizes of one standard, small ones first."""

    key: str
    label: str
    source: str
    sizes: tuple[Tube, ...]


def _load() -> tuple[TubeTable, ...]:
    text = resources.files("wattikos_core.materials").joinpath("tubes.json").read_text(encoding="utf-8")
    return tuple(
        TubeTable(
            table["key"],
            table["label"],
            table["source"],
            tuple(Tube(size["label"], size["outside_mm"] / 1e3, size["wall_mm"] / 1e3) for size in table["sizes"]),
        )
        for table in json.loads(text)
    )


TUBE_TABLES = _load()
