"""Has it settled? Judged from what was watched over a run in time, and from how fast its fields still move."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

# Over the last tenth of a run a settled quantity moves by less than this share of its whole travel (common practice).
_LAST, _STILL = 0.1, 0.01
# A travel below this share of the quantity's size is none.
_NO_TRAVEL = 1e-6


@dataclass(frozen=True)
class Settling:
    """How one quantity came to rest.

    Attributes:
        settled: whether it has.
        at_95, at_99: from when on it stays within 5 and 1 % of its travel from its last value, s; None when it has not
            settled.
    """

    settled: bool
    at_95: float | None
    at_99: float | None


def settling(time: Sequence[float], value: Sequence[float]) -> Settling | None:
    """The settling of a quantity over a run; None when it never moved."""
    t, v = np.asarray(time, dtype=float), np.asarray(value, dtype=float)
    travel = float(np.ptp(v))
    if t.size < 3 or travel <= _NO_TRAVEL * float(np.abs(v).max()):
        return None
    recent = t >= t[-1] - _LAST * (t[-1] - t[0])
    settled = float(np.ptp(v[recent])) <= _STILL * travel and int(recent.sum()) > 1

    def within(share: float) -> float:
        outside = np.nonzero(np.abs(v - v[-1]) > share * travel)[0]
        if outside.size == 0:
            return float(t[0])
        last = int(outside[-1])
        # Between the last step outside and the first one inside, along the straight line.
        a, b = abs(v[last] - v[-1]), abs(v[last + 1] - v[-1])
        return float(t[last] + (t[last + 1] - t[last]) * (a - share * travel) / max(a - b, 1e-300))

    return Settling(settled, within(0.05) if settled else None, within(0.01) if settled else None)


def first_time(time: Sequence[float], value: Sequence[float], level: float) -> float | None:
    """When a quantity first reaches a level, from either side, s; None when it never does."""
    t, v = np.asarray(time, dtype=float), np.asarray(value, dtype=float)
    side = np.sign(v - level)
    crossed = np.nonzero(side[1:] * side[:1] <= 0.0)[0] if side[0] != 0.0 else np.array([0])
    if crossed.size == 0:
        return None
    k = int(crossed[0])
    if side[0] == 0.0 or v[k + 1] == v[k]:
        return float(t[k])
    return float(t[k] + (t[k + 1] - t[k]) * (level - v[k]) / (v[k + 1] - v[k]))
