"""What a running solve tells, and how it is asked to stop."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from wattikos_core.ledger import Key


@dataclass(frozen=True)
class Event:
    """One step of a running job.

    Attributes:
        stage: what is going on, in a few words.
        step: number of the solver step, counted over the whole job.
        residuals: momentum, mass and energy, scaled (see `convergence`).
        watches: quantities followed, SI.
        fraction: estimated share of the work done, 0..1.
        time: reached, s; None in steady solves.
    """

    stage: str
    step: int
    residuals: dict[str, float] = field(default_factory=dict)
    watches: dict[Key, float] = field(default_factory=dict)
    fraction: float = 0.0
    time: float | None = None


Listen = Callable[[Event], None]
Cancel = Callable[[], bool]


def silent(event: Event) -> None:
    """Listen to nothing."""


def never_cancel() -> bool:
    """Go on whatever happens."""
    return False
