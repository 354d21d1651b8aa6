"""What a gas that loses much of its pressure, or nears its speed of sound, gives reason to doubt."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.evidence.finding import Finding
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.scales import LEAST_SPAN, spans
from wattikos_core.quantities.values import show
from wattikos_core.read import Stream
from wattikos_core.section import PaintedSection, entering_part
from wattikos_core.solve import Solution

# A gas thins out by as much as its pressure falls: from these shares on its density is doubted, and is wrong (common practice, no
# source).
_LARGE_DROP, _FAR_TOO_LARGE_DROP = 0.05, 0.2
# Speeds as shares of that of sound: from the first on walls recover less than a gas that is slowed down, from the second on kinetic
# energy counts, at the third a duct is about to choke (common practice, no source).
_RECOVERS, _FAST, _CHOKING = 0.2, 0.3, 0.9
# A gas that is slowed down warms by v²/(2 cp). Beyond the first share of the differences of temperature this is told, beyond the
# second heat is wrong without it; less than the third (K) nobody measures (common practice, no source).
_WARMS, _WARMS_TOO_MUCH, _LEAST_RISE = 0.05, 0.3, 0.2


def findings_of_fast_gases(resolved: ResolvedCase, section: PaintedSection) -> list[Finding]:
    """Gases that enter so fast that slowing them down counts, before anything is solved."""
    found: list[Finding] = []
    for name, wet in zip(section.names, section.fluid, strict=True):
        entering = entering_part(resolved, section, name) if wet and not resolved.case.physics.friction_heat else None
        if entering is None or not resolved.part(name).material.gas:
            continue
        rise = entering.speed**2 / (2.0 * float(resolved.part(name).material.specific_heat(entering.temperature)))
        given = resolved.temperatures_given
        found += _slowed(name, entering.speed, rise, max(given) - min(given))
    return found


def _slowed(name: str, speed: float, rise: float, span: float) -> list[Finding]:
    """Of a gas that warms by `rise` (K) where it is slowed down, in a case whose temperatures differ by `span` (K)."""
    if rise <= max(_WARMS * span, _LEAST_RISE):
        return []
    known = span > LEAST_SPAN
    severity: Literal["check", "stop"] = "stop" if known and rise > _WARMS_TOO_MUCH * span else "check"
    share = f", {rise / span:.0%} of the {span:.3g} K by which temperatures differ" if known else ""
    text = f"'{name}' warms by {rise:.2g} K where it is slowed down from {show(speed, 'velocity')}{share}, and this is left out"
    return [Finding(severity, name, text, "switch on friction heat (Solve), which counts compression as well", "slowed down")]


def findings_of_gases(problem: Problem, solution: Solution, evaluation: Evaluation, streams: Mapping[str, Stream]) -> list[Finding]:
    """Findings about the pressure and the speed of every stream of a gas."""
    found: list[Finding] = []
    for name, stream in streams.items():
        table = stream.table
        if not table.gas:
            continue
        if not problem.gases.elastic[stream.regions].any():
            found += _one_pressure(name, abs(stream.pressure_drop) / table.pressure)
        mine = np.isin(problem.grid.region, stream.regions)
        t = evaluation.temperature[mine]
        specific, heat = table.pressure / (table.density(t) * t), table.specific_heat(t)
        sound = np.sqrt(heat / (heat - specific) * specific * t)
        mach = float((solution.state.speed[mine] / sound).max())
        if mach > _CHOKING:
            text = f"'{name}' reaches {mach:.0%} of its speed of sound: a real duct lets no such flow through"
            found.append(Finding("stop", name, text, "lower the flow, widen the duct, or give the gas a higher pressure"))
        elif mach > _FAST and not problem.physics.friction_heat:
            text = f"'{name}' reaches {mach:.0%} of its speed of sound, and its kinetic energy is left out"
            found.append(Finding("check", name, text, "switch on friction heat (Solve), which counts compression as well"))
        elif mach > _RECOVERS and problem.physics.friction_heat:
            found.append(_recovery(name, stream, problem, float(solution.state.speed[mine].max())))
        if not problem.physics.friction_heat:
            speed = float(solution.state.speed[mine].max())
            span = float(spans(problem.heat_body, evaluation.temperature, problem.scales.span)[mine].max())
            rise = speed**2 / (2.0 * float(table.specific_heat(stream.mean_temperature)))
            found += _slowed(name, speed, rise, span)
    return found


def _recovery(name: str, stream: Stream, problem: Problem, speed: float) -> Finding:
    """What insulated walls take on in a fast gas: the square root of Pr of what it warms by when it is slowed down, turbulent the
    cube root (Schlichting; Kays and Crawford 1993; from memory)."""
    table, turbulent = stream.table, bool(problem.turbulent[np.isin(problem.grid.region, stream.regions)].any())
    rise = speed**2 / (2.0 * float(table.specific_heat(stream.mean_temperature)))
    factor = float(table.prandtl(stream.mean_temperature)) ** (1.0 / 3.0 if turbulent else 0.5)
    text = (
        f"'{name}' warms by {rise:.2g} K where it is slowed down from {show(speed, 'velocity')}; an insulated wall beside it "
        f"takes on {factor:.0%} of that, and heat goes by the difference to it"
    )
    return Finding("note", name, text, "compare with what a probe in the stream shows, which is no temperature at rest either")


def _one_pressure(name: str, share: float) -> list[Finding]:
    """Of a gas whose density does not follow its pressure, which falls by a share of what it is."""
    if share <= _LARGE_DROP:
        return []
    severity: Literal["check", "stop"] = "stop" if share > _FAR_TOO_LARGE_DROP else "check"
    text = f"the pressure of '{name}' falls by {share:.0%} of what it is, and its density is that at one pressure"
    return [Finding(severity, name, text, "let density vary in all balances and solve for a steady state, or lower the flow")]
