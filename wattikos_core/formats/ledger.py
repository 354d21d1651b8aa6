"""The ledger as JSON: name, definition, value, unit, by hand, solved."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from wattikos_core.estimate import HandValue
from wattikos_core.evidence import Finding, LedgerRow


def ledger_json(title: str, rows: Sequence[LedgerRow], findings: Sequence[Finding] = ()) -> dict[str, Any]:
    """A JSON-ready document; `value` is the solved value where there is one, the hand-calculated one elsewhere.

    Example:
        >>> ledger_json("nothing yet", [])["quantities"]
        []
    """
    return {
        "title": title,
        "quantities": [_row(row) for row in rows],
        "findings": [_finding(finding) for finding in findings],
    }


def _hand(value: HandValue) -> dict[str, Any]:
    return {name: getattr(value, name) for name in ("value", "low", "high", "source", "range", "inside")}


def _finding(finding: Finding) -> dict[str, Any]:
    told = {name: getattr(finding, name) for name in ("severity", "place", "text", "remedy")}
    return told | {"fix": asdict(finding.fix) if finding.fix is not None else None}


def _row(row: LedgerRow) -> dict[str, Any]:
    hand, opposite = None, row.key.opposite
    if row.hand is not None:
        hand = _hand(row.hand) | {"leaves_out": list(row.hand.leaves_out), "also": [_hand(other) for other in row.hand.also]}
    value = row.solved if row.solved is not None else (row.hand.value if row.hand else None)
    return {
        "key": asdict(row.key),
        "opposite": asdict(opposite) if opposite is not None else None,
        "name": row.name,
        "opposite_name": opposite.label if opposite is not None else "",
        "definition": row.key.text,
        "value": value,
        "unit": row.unit,
        "kind": row.kind,
        "wanted": row.wanted,
        "target": row.target,
        "sense": row.sense,
        "slack": row.slack,
        "upper": row.upper,
        "margin": row.margin,
        "by_hand": hand,
        "solved": row.solved,
        "grid_plus_minus": row.plus_minus,
        "agrees": row.agrees,
        "meets": row.meets,
        "verdict": row.verdict,
    }
