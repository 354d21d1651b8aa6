"""How a case runs in time, in SI: its end, the times of its frames, its steps and its beginning."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from wattikos_core.case.document import Case
from wattikos_core.case.reader import Along, Reader

# Frames when nothing is said, and at most.
_FRAMES, _MOST_FRAMES = 50, 2000


@dataclass(frozen=True)
class ResolvedTime:
    """How a case runs in time, in SI.

    Attributes:
        frames: times at which frames are kept, s, ascending, `end` the last.
        step, largest: s; None when they are to be found.
        temperature: at the beginning, K; None for the middle of those given. `part_temperatures` elsewhere.
    """

    end: float
    frames: tuple[float, ...]
    step: float | None
    largest: float | None
    fixed: bool
    accuracy: float
    order: int
    temperature: float | Along | None
    part_temperatures: Mapping[str, float | Along]


def resolve_time(case: Case, reader: Reader, copies: Mapping[str, Sequence[str]]) -> ResolvedTime:
    """The time wishes of a case in numbers; what is wrong with them is noted in the reader."""
    wishes = case.time
    end = reader.read(wishes.end, "time", "time.end", above=0.0)
    times = [reader.read(text, "time", f"time.frames[{i}]", at_least=0.0) for i, text in enumerate(wishes.frames)]
    for i, at in enumerate(times):
        if at > end:
            reader.fail(f"time.frames[{i}]", f"'{wishes.frames[i]}' is after the end", f"the case ends at {end:g} s")
    every = reader.read(wishes.every, "time", "time.every", above=0.0) if wishes.every.strip() else None
    if every is not None and end / every > _MOST_FRAMES:
        reader.fail("time.every", f"'{wishes.every}' makes {end / every:.0f} frames", f"at most {_MOST_FRAMES} are kept")
        every = None
    if every is None:
        every = end / _FRAMES
    if every is not None and np.isfinite(end) and np.isfinite(every):
        times += [every * k for k in range(1, int(end / every * (1.0 + 1e-9)) + 1)]
    kept = sorted({round(t, 12) for t in times if 0.0 < t < end * (1.0 - 1e-9)} | {end})
    step = reader.read(wishes.first_step, "time", "time.first_step", above=0.0) if wishes.first_step.strip() else None
    if wishes.fixed and step is None:
        reader.fail("time.first_step", "the steps are fixed, but no step is given", "give a step, or let steps be found")
    largest = reader.read(wishes.largest_step, "time", "time.largest_step", above=0.0) if wishes.largest_step.strip() else None

    def temperature(text: str, field: str) -> float | Along:
        value, varying = reader.along(text, "temperature", field)
        return value if varying is None else varying

    part_temperatures: dict[str, float | Along] = {}
    names = {part.name for part in case.section.parts}
    for name, text in wishes.part_temperatures.items():
        if name not in names:
            reader.fail(f"time.part_temperatures.{name}", f"there is no part '{name}'", f"name one of: {', '.join(sorted(names))}")
            continue
        value = temperature(text, f"time.part_temperatures.{name}")
        for copy in copies.get(name, (name,)):
            part_temperatures[copy] = value
    first = temperature(wishes.temperature, "time.temperature") if wishes.temperature.strip() else None
    return ResolvedTime(end, tuple(kept), step, largest, wishes.fixed, wishes.accuracy, wishes.order, first, part_temperatures)
