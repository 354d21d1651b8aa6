"""The history of a run as a table, and how its quantities swing."""

from __future__ import annotations

import csv
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

# What a history has beside quantities.
_ACCOUNT = ("time", "step", "momentum", "mass", "energy", "mass balance", "heat balance", "inner iterations")


@dataclass(frozen=True)
class Swing:
    """How a quantity goes up and down: mean over whole periods, half the difference of its extremes, and frequency (Hz).

    The frequency is NaN where it does not cross its mean upwards at least twice.
    """

    mean: float
    amplitude: float
    frequency: float


def write_history(path: Path, history: Sequence[Mapping[str, float]], units: Mapping[str, str] | None = None) -> None:
    """Write one row per step as CSV, in SI; a column for each quantity that any step has, with its unit where one is known."""
    names = list(dict.fromkeys(name for row in history for name in row))
    known = {"time": "s", **(units or {})}
    with path.open("w", newline="") as file:
        table = csv.writer(file)
        table.writerow([f"{name} ({known[name]})" if known.get(name) else name for name in names])
        table.writerows([f"{row[name]:.9g}" if name in row else "" for name in names] for row in history)


def swings(history: Sequence[Mapping[str, float]]) -> dict[str, Swing]:
    """How the watched quantities of a run in time swing over its last half."""
    if not history or "time" not in history[-1]:
        return {}
    time = np.array([row["time"] for row in history])
    late = time >= 0.5 * (time[0] + time[-1])
    names = [name for name in history[-1] if name not in _ACCOUNT and all(name in row for row in history)]
    return {name: swing(time[late], np.array([row[name] for row in history])[late]) for name in names if late.sum() > 2}


def swing(time: NDArray[np.float64], value: NDArray[np.float64]) -> Swing:
    """Mean, amplitude and frequency of a course at times (s), which need not be even."""
    amplitude = 0.5 * float(np.ptp(value))
    mean = float(np.trapezoid(value, time) / (time[-1] - time[0]))
    for _ in range(3):
        up = np.nonzero((value[:-1] < mean) & (value[1:] >= mean))[0]
        if up.size < 2:
            return Swing(mean, amplitude, float("nan"))
        crossings = time[up] + (mean - value[up]) * (time[up + 1] - time[up]) / (value[up + 1] - value[up])
        whole = (time >= crossings[0]) & (time <= crossings[-1])
        # Over whole periods the mean depends on no phase; with it the crossings move a little.
        ends = np.concatenate([[crossings[0]], time[whole], [crossings[-1]]])
        mean = float(np.trapezoid(np.interp(ends, time, value), ends) / (crossings[-1] - crossings[0]))
    return Swing(mean, amplitude, (up.size - 1) / float(crossings[-1] - crossings[0]))
