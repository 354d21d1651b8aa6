"""A hand-calculated quantity with what backs it."""

from __future__ import annotations

from dataclasses import dataclass

from wattikos_core.ledger import Key


@dataclass(frozen=True)
class HandValue:
    """One hand-calculated quantity.

    Attributes:
        key: what it is of, in the ledger.
        value: SI.
        low, high: the band of usual scatter around it.
        source: relation and publication.
        range: where the relation holds, in words; `inside` says whether this case is there.
        leaves_out: what of the case the calculation has not read, in words.
        also: the same quantity by other relations that are usual for it.
    """

    key: Key
    value: float
    low: float
    high: float
    source: str
    range: str
    inside: bool
    leaves_out: tuple[str, ...] = ()
    also: tuple[HandValue, ...] = ()
