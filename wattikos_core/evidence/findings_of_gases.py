"""What a gas that loses much of its pressure, or nears its speed of sound, gives reason to doubt."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

import numpy as np

from wattikos_core.evidence.finding import Finding
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.read import Stream
from wattikos_core.solve import Solution

# A gas thins out by as much as its pressure falls: from these shares on its density is doubted, and is wrong (common practice, no
# source).
_LARGE_DROP, _FAR_TOO_LARGE_DROP = 0.05, 0.2
# Speeds as shares of that of sound: from the first on kinetic energy counts, at the second a duct is about to choke.
_FAST, _CHOKING = 0.3, 0.9


def findings_of_gases(problem: Problem, solution: Solution, evaluation: Evaluation, streams: Mapping[str, Stream]) -> list[Finding]:
    """Findings about the pressure and the speed of every stream of a gas."""
    found: list[Finding] = []
    for name, stream in streams.items():
        table = stream.table
        if not table.gas:
            continue
        if not problem.gases.elastic[stream.regions].any():
            found += _one_pressure(name, abs(stream.pressure_drop) / table.pressure)
            continue
        mine = np.isin(problem.grid.region, stream.regions)
        t = evaluation.temperature[mine]
        specific, heat = table.pressure / (table.density(t) * t), table.specific_heat(t)
        sound = np.sqrt(heat / (heat - specific) * specific * t)
        mach = float((solution.state.speed[mine] / sound).max())
        if mach > _CHOKING:
            text = f"'{name}' reaches {mach:.0%} of its speed of sound: a real duct lets no such flow through"
            found.append(Finding("fault", name, text, "lower the flow, widen the duct, or give the gas a higher pressure"))
        elif mach > _FAST and not problem.physics.friction_heat:
            text = f"'{name}' reaches {mach:.0%} of its speed of sound, and its kinetic energy is left out"
            found.append(Finding("doubt", name, text, "switch on friction heat (Solve), which counts compression as well"))
    return found


def _one_pressure(name: str, share: float) -> list[Finding]:
    """Of a gas whose density does not follow its pressure, which falls by a share of what it is."""
    if share <= _LARGE_DROP:
        return []
    severity: Literal["doubt", "fault"] = "fault" if share > _FAR_TOO_LARGE_DROP else "doubt"
    text = f"the pressure of '{name}' falls by {share:.0%} of what it is, and its density is that at one pressure"
    return [Finding(severity, name, text, "let density vary in all balances and solve for a steady state, or lower the flow")]
