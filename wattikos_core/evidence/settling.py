"""Has it settled? Judged from what was watched over a run in time, and from how fast its fields still move."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

# Over the last tenth of a run a settled quantity moves by less than this share of its whole travel (common practice).
_LAST, _STILL = 0.1, 0.01
# What follows a sudden change at once is over after this share of a run.
_SUDDEN = 0.01
# A travel below this share of the quantity's size is none.
_NO_TRAVEL = 1e-6
# How far back is looked to see how what is left dies away, as a share of the run, and what hardly does.
_LOOK_BACK, _DIES_AWAY = 0.2, 0.98


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


def settling(time: Sequence[float], value: Sequence[float], *, singular: bool = False) -> Settling | None:
    """The settling of a quantity over a run; None when it never moved.

    Args:
        time: of each step, s.
        value: at each step.
        singular: the quantity begins without bound where something suddenly changes, as the heat through a wall does: its
            travel is counted from a hundredth of the run on, since what it was before is a matter of the first steps.
    """
    t, v = np.asarray(time, dtype=float), np.asarray(value, dtype=float)
    if t.size < 3:
        return None
    length = float(t[-1] - t[0])
    counted = _from(t, v, t[0] + _SUDDEN * length) if singular else v
    travel = float(np.ptp(counted))
    if travel <= _NO_TRAVEL * float(np.abs(v).max()):
        return None
    # By the values between steps too, however few of them fall into the last part.
    settled = float(np.ptp(_from(t, v, t[-1] - _LAST * length))) <= _STILL * travel

    def within(share: float) -> float:
        outside = np.nonzero(np.abs(v - v[-1]) > share * travel)[0]
        if outside.size == 0:
            return float(t[0])
        last = int(outside[-1])
        # Between the last step outside and the first one inside, along the straight line.
        a, b = abs(v[last] - v[-1]), abs(v[last + 1] - v[-1])
        return float(t[last] + (t[last + 1] - t[last]) * (a - share * travel) / max(a - b, 1e-300))

    return Settling(settled, within(0.05) if settled else None, within(0.01) if settled else None)


def _from(time: Array, value: Array, since: float) -> Array:
    """Values from a time on, the one at that time between two steps included."""
    return np.append(np.interp(since, time, value), value[time >= since])


def time_to_settle(time: Sequence[float], value: Sequence[float]) -> float | None:
    """How much longer a quantity takes to come within 1 % of its travel of where it goes, s; None where it does not die away.

    It is taken to approach its end exponentially, by its values at the end and at two earlier times.
    """
    t, v = np.asarray(time, dtype=float), np.asarray(value, dtype=float)
    step = _LOOK_BACK * float(t[-1] - t[0])
    first, second, last = np.interp([t[-1] - 2.0 * step, t[-1] - step, t[-1]], t, v)
    before, after = second - first, last - second
    ratio = after / before if before != 0.0 else 1.0
    if not 0.0 < ratio < _DIES_AWAY:
        return None
    rest = after * ratio / (1.0 - ratio)
    travel = abs(last + rest - v[0])
    return max(step * float(np.log(abs(rest) / max(_STILL * travel, 1e-300)) / -np.log(ratio)), 0.0)


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
