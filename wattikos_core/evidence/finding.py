"""One finding, as all rooms of evidence write it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Fix:
    """A remedy that the desk carries out in one step.

    Attributes:
        label: on its button.
        refine: boundaries and parts whose cells become twice as fine.
        path, value: a field of the document and what it becomes; no field where the path is empty.
    """

    label: str
    refine: tuple[str, ...] = ()
    path: str = ""
    value: str | float | bool = ""


def refine(*places: str) -> Fix:
    """Cells twice as fine at some places."""
    return Fix("finer there", refine=places)


@dataclass(frozen=True)
class Finding:
    """One finding.

    Attributes:
        severity: `note`, `check` (the number may be wrong) or `stop` (the number is wrong).
        place: a boundary, part or input; empty for the whole case.
        about: what can be told before a solve and better after it; empty for what is told once.
        fix: the remedy in one step, where there is one.
    """

    severity: Literal["note", "check", "stop"]
    place: str
    text: str
    remedy: str
    about: str = ""
    fix: Fix | None = None


def latest(findings: Iterable[Finding]) -> list[Finding]:
    """The findings, of those about the same thing at the same place the last one alone.

    Example:
        >>> early, late = (Finding("check", "air", text, "", "speed") for text in ("may be fast", "is fast"))
        >>> [finding.text for finding in latest([early, late])]
        ['is fast']
    """
    told = list(findings)
    last = {(f.about, f.place): i for i, f in enumerate(told)}
    return [f for i, f in enumerate(told) if not f.about or last[f.about, f.place] == i]
