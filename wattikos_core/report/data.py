"""What reports are made from: cases with their solutions, series and sizings, and what several sections ask of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from wattikos_core.case import Case
from wattikos_core.case.reading import View
from wattikos_core.formats import ledger_json
from wattikos_core.quantities.values import show
from wattikos_core.read import Instant
from wattikos_core.section.sketch import sketch_of
from wattikos_core.studies.preparation import Draft, draft


@dataclass(frozen=True)
class SolvedData:
    """A solution: its ledger and findings as `formats.ledger_json` writes them, how it went, and its fields where they are kept.

    Attributes:
        summary: cells, steps, seconds, balances, record, as the worker packs them; empty where that is not known.
        stale: what has changed in the case since.
    """

    ledger: Mapping[str, Any]
    summary: Mapping[str, Any] = field(default_factory=dict)
    instant: Instant | None = None
    finished: str = ""
    stale: tuple[str, ...] = ()


@dataclass(frozen=True)
class SeriesData:
    """A series: what is varied, its quantities, and of each point its values, its place, each quantity by hand and solved."""

    name: str
    varied: Sequence[Mapping[str, str]]
    quantities: Sequence[Mapping[str, Any]]
    points: Sequence[Mapping[str, Any]]


@dataclass(frozen=True)
class ReportData:
    """All that a report may tell.

    Attributes:
        sizing: as the worker packs it; None without one.
        study: of grids, likewise.
    """

    case: Case
    solved: SolvedData | None = None
    series: tuple[SeriesData, ...] = ()
    sizing: Mapping[str, Any] | None = None
    study: Mapping[str, Any] | None = None
    company: str = ""
    logo: bytes = b""
    date: str = ""


class Told:
    """A report's data with what several sections ask for."""

    def __init__(self, data: ReportData) -> None:
        self.data, self.case = data, data.case
        self.drawn: Draft = draft(data.case)
        self.sketch = (
            sketch_of(self.drawn.resolved, self.drawn.section)
            if self.drawn.resolved is not None and self.drawn.section is not None
            else None
        )
        self.rows = list(self._rows())

    def _rows(self) -> list[Mapping[str, Any]]:
        from wattikos_core.evidence import build_ledger

        solved = self.data.solved
        if solved is not None and not solved.stale:
            return list(solved.ledger["quantities"])
        if self.drawn.resolved is None:
            return []
        return list(ledger_json(self.case.title, build_ledger(self.drawn.resolved, self.drawn.hand, {}))["quantities"])

    @property
    def instant(self) -> Instant | None:
        """The fields of the solution, while it holds."""
        solved = self.data.solved
        return None if solved is None or solved.stale else solved.instant

    @property
    def findings(self) -> list[Mapping[str, Any]]:
        """Those of the solution, while it holds; else those before one."""
        solved = self.data.solved
        if solved is not None and not solved.stale:
            return list(solved.ledger["findings"])
        return list(ledger_json(self.case.title, [], self.drawn.findings)["findings"])


def printed_views(case: Case) -> list[View]:
    """The views of a case that its report has: those ticked, else the temperature."""
    return [view for view in case.reading.views if view.printed] or [View(name="temperature")]


def value_of(row: Mapping[str, Any], name: str) -> str:
    """A value of a row of a ledger as it is written, its `name` being `solved` or `by_hand`; empty where there is none."""
    value = row["by_hand"]["value"] if name == "by_hand" and row["by_hand"] else row.get(name)
    return "" if value is None or isinstance(value, Mapping) else show(float(value), row["kind"])
