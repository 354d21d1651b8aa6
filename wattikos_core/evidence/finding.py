"""One finding, as all rooms of evidence write it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Finding:
    """One finding.

    Attributes:
        severity: `note`, `doubt` (the number may be wrong) or `fault` (the number is wrong).
        place: a boundary, part or input; empty for the whole case.
    """

    severity: Literal["note", "doubt", "fault"]
    place: str
    text: str
    remedy: str
