"""Wanted quantities solved otherwise than calculated by hand, with likely reasons in the order in which to look at them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from wattikos_core.evidence.finding import Finding
from wattikos_core.evidence.ledger import LedgerRow
from wattikos_core.physics import Problem
from wattikos_core.physics.faces import Array
from wattikos_core.read import Stream

# From this many bands on, a hand value outside its range is told as well.
_FAR_APART = 1.0
# Viscosity that differs by this share within a stream makes it matter at which temperature it is taken (common practice, no
# source).
_VARIES = 0.2
# What findings are about that explain a disagreement.
ORDER_OF_FLOW, ENTRY_LENGTH = "order of flow", "entry length"


def disagreements(
    ledger: Sequence[LedgerRow],
    problem: Problem,
    temperature: Array,
    streams: Mapping[str, Stream],
    found: Sequence[Finding],
) -> list[Finding]:
    """One finding for each wanted quantity that disagrees with its hand calculation.

    Args:
        ledger: all rows.
        problem: the discrete problem.
        temperature: in cells, K.
        streams: by the part where they enter.
        found: what else was found, of which some explains it.
    """
    told = []
    for row in ledger:
        if not row.wanted or row.hand is None or row.solved is None or row.agrees:
            continue
        beyond = abs(row.solved - row.hand.value) > _FAR_APART * abs(row.hand.high - row.hand.low)
        if row.agrees is None and not (beyond and row.kind != "time"):
            continue
        reasons = likely_reasons(row, problem, temperature, streams, found)
        remedy = reasons[0] if len(reasons) == 1 else "likely reasons in order: " + "; ".join(reasons)
        severity: Literal["note", "check"] = "check" if row.agrees is False else "note"
        told.append(Finding(severity, "", f"{row.name}: {row.verdict}", remedy))
    return told


def likely_reasons(
    row: LedgerRow, problem: Problem, temperature: Array, streams: Mapping[str, Stream], found: Sequence[Finding]
) -> list[str]:
    """What to look at, in order: what the hand leaves out and where it holds, regime, entry length, reference temperature, grid."""
    assert row.hand is not None
    assert row.solved is not None
    reasons = []
    if row.hand.leaves_out:
        reasons.append("judge what it leaves out first: take that into the hand calculation, or see how much it makes")
    elif not row.hand.inside:
        reasons.append(f"trust the solved value if its findings allow it; the relation holds for: {row.hand.range}")
    if any(finding.about == ORDER_OF_FLOW for finding in found):
        reasons.append("the regime: the flow is hardly laminar, or hardly steady")
    if any(finding.about == ENTRY_LENGTH for finding in found):
        reasons.append("the entry length: flow or heat still develops, which developed values do not know")
    varies = _viscosity_varies(row, problem, temperature, streams)
    if varies > _VARIES:
        reasons.append(f"the reference temperature: viscosity differs by {varies:.0%} within the stream")
    if row.plus_minus is None:
        reasons.append("the grid: no Grid ± is known yet (Solve, on three grids)")
    elif row.plus_minus > 0.25 * abs(row.solved - row.hand.value):
        reasons.append("the grid: its ± is a good part of the difference")
    if not reasons:
        reasons.append("look for entry effects, uneven flow or conduction along walls that the hand calculation does not know")
    return reasons


def _viscosity_varies(row: LedgerRow, problem: Problem, temperature: Array, streams: Mapping[str, Stream]) -> float:
    """By what share the viscosity differs within the stream that a quantity is of; of all streams where it is of none."""
    named = [stream for name, stream in streams.items() if name and (name in row.key.place or name in row.key.other)]
    shares = [0.0]
    for stream in named or list(streams.values()):
        for region in stream.regions.tolist():
            t = temperature[problem.grid.region == region]
            viscosity = problem.materials[region].viscosity(t)
            shares.append(float(viscosity.max() / viscosity.min()) - 1.0)
    return max(shares)
