"""Repeating a run: the same case from the same beginning, and its ledger beside the one that was kept."""

from __future__ import annotations

from dataclasses import dataclass

from wattikos_core.case import read_case
from wattikos_core.studies import solve_case
from wattikos_web.api.access import grid_file_of
from wattikos_web.models import Run
from wattikos_web.series import beginning_of

# Digits that ledgers are printed with.
DIGITS = 6


@dataclass(frozen=True)
class Repeated:
    """One quantity, kept and found again, SI; `same` to the last printed digit."""

    name: str
    kept: float
    found: float | None

    @property
    def same(self) -> bool:
        """Whether both print alike."""
        return self.found is not None and f"{self.kept:.{DIGITS}g}" == f"{self.found:.{DIGITS}g}"


def repeat(run: Run) -> list[Repeated]:
    """Solve a run's case again, from what it began with, and compare all solved quantities but the imbalances themselves."""
    case = read_case(run.document)
    start = beginning_of(run)
    again = solve_case(case, start=start, grid_file=grid_file_of(run.case, case), go_on=run.go_on and start is not None)
    found = {row.name: row.solved for row in again.ledger}
    kept = (run.ledger or {}).get("quantities", [])
    return [
        Repeated(row["name"], row["solved"], found.get(row["name"]))
        for row in kept
        if row["solved"] is not None and row["key"]["quantity"] not in ("mass_balance", "heat_balance")
    ]
