"""What the ledger can hold: a quantity's name, meaning, kind, and what it is called in the other sense."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Quantity:
    """A quantity of the ledger.

    Attributes:
        label: how it is written; `{place}` stands for the place it is of, `{other}` for a second one, `{of}` for another quantity.
        kind: of its value, see `quantities.KINDS`.
        text: its definition: states areas, reference temperatures and lengths; may hold the same braces.
        opposite: the quantity that says the same with the other sign; itself where the two places change sides.
        share: whether it lies between 0 and 1.
    """

    label: str
    kind: str
    text: str
    opposite: str = ""
    share: bool = False
