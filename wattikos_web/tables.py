"""Ledgers and histories of runs as tables, in the units people read and in SI."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Mapping
from typing import Any

from wattikos_core.quantities import KINDS, difference_from_si, from_si, unit_label
from wattikos_web.models import Run

LEDGER_COLUMNS = ["quantity", "unit", "sense", "wanted", "by hand", "solved", "grid ±", "verdict", "definition"]
_SIGNS = {"at_least": "≥", "at_most": "≤", "equal": "="}


def ledger_rows(ledger: Mapping[str, Any]) -> Iterator[list[str]]:
    """The quantities of a ledger in the order of `LEDGER_COLUMNS`."""
    for row in ledger["quantities"]:
        kind, unit = row["kind"], KINDS[row["kind"]].unit
        hand = row["by_hand"]["value"] if row["by_hand"] else None
        shown = ["" if v is None else f"{from_si(v, unit, kind):.6g}" for v in (row["target"], hand, row["solved"])]
        spread = row["grid_plus_minus"]
        width = "" if spread is None else f"{difference_from_si(spread, unit, kind):.2g}"
        sense = _SIGNS.get(row.get("sense", "at_least"), "") if row["target"] is not None else ""
        yield [row["name"], unit_label(unit), sense, *shown, width, row["verdict"], row["definition"]]


def ledger_csv(ledger: Mapping[str, Any]) -> str:
    """A ledger as a table."""
    text = io.StringIO()
    table = csv.writer(text)
    table.writerow(LEDGER_COLUMNS)
    table.writerows(ledger_rows(ledger))
    return text.getvalue()


def history_csv(run: Run) -> str:
    """Residuals and watched quantities, step by step, in SI units."""
    rows = [*run.before, *run.history]
    watches = list(dict.fromkeys(name for row in rows for name in row.get("watches", {})))
    first = [name for name in ("step", "time", "momentum", "mass", "energy", "turbulence") if any(name in row for row in rows)]
    text = io.StringIO()
    table = csv.writer(text)
    kinds = run.progress.get("kinds", {})
    units = {name: unit_label(KINDS[kinds[name]].si) for name in watches if kinds.get(name) in KINDS}
    titles = [f"{name} ({units[name]})" if units.get(name) else name for name in watches]
    table.writerow([*("time (s)" if name == "time" else name for name in first), *titles])
    for row in rows:
        table.writerow([*(row.get(name, "") for name in first), *(row.get("watches", {}).get(name, "") for name in watches)])
    return text.getvalue()
