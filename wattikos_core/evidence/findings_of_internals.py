"""What gives reason to doubt about fans, resistances, porous parts and openings."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.evidence.finding import Finding, Fix
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import OPEN, OUTLET
from wattikos_core.physics.internals import Drag, Fan
from wattikos_core.quantities.values import show
from wattikos_core.solve import Solution

# A share of a fan's face, or of what passes an opening, that goes the other way (common practice, no source).
_TURNS = 0.02


def findings_of_internals(
    resolved: ResolvedCase, problem: Problem, solution: Solution, evaluation: Evaluation
) -> Iterator[Finding]:
    """Fans driven backwards, beyond their curves or with air coming back through them; curves left; openings that take all in."""
    for one in problem.internals:
        place = problem.grid.region_names[one.region]
        if isinstance(one, Fan):
            yield from _of_fan(resolved, one, place, solution)
        elif isinstance(one, Drag):
            yield from _of_drag(one, place, solution)
    yield from _of_openings(problem, evaluation)


def _flow(value: float) -> str:
    return show(value, "volume_flow", None, 3)


def _of_fan(resolved: ResolvedCase, fan: Fan, place: str, solution: Solution) -> Iterator[Finding]:
    velocity, curve = solution.state.velocity, fan.given.curve
    flow = fan.flow(velocity)
    at = flow / fan.given.stands_for
    if flow < 0.0:
        text = f"{_flow(-flow)} goes through '{place}' backwards: it works against the stream"
        yield Finding("check", place, text, "turn it round, or see what drives the stream against it", fix=_turn(resolved, place))
        return
    if not curve.flat and at > curve.at[-1]:
        text = f"'{place}' passes {_flow(at)}, and its curve ends at {_flow(curve.at[-1])}"
        yield Finding(
            "check", place, text, "give its curve further on, or take a smaller fan: beyond its end it is gone on straight"
        )
    elif not curve.flat and at < curve.at[0]:
        text = f"'{place}' passes {_flow(at)}, and its curve begins at {_flow(curve.at[0])}"
        yield Finding("check", place, text, "give its curve from no flow on: before its first point it is gone on straight")
    elif float(curve.slope(at)) > 0.0:
        text = f"'{place}' works where its rise still grows with the flow ({_flow(at)}): it may surge there"
        yield Finding("check", place, text, "take a smaller fan, or lower what the stream is held back by")
    if fan.rise(flow) < 0.0:
        text = f"'{place}' holds the stream back by {show(-fan.rise(flow), 'pressure', None, 3)}: more passes than it drives"
        yield Finding("check", place, text, "take a larger fan, or leave it out")
    back = float(fan.volume[fan.speed(velocity) < 0.0].sum() / fan.volume.sum())
    if back > _TURNS:
        text = f"through {back:.0%} of '{place}' fluid comes back: it goes round the fan"
        yield Finding("check", place, text, "close what is open beside the fan, or let it fill the duct")


def _turn(resolved: ResolvedCase, place: str) -> Fix | None:
    origin = resolved.part(place).origin
    for index, part in enumerate(resolved.case.section.parts):
        if part.name == origin and part.internal is not None and part.internal.type == "fan":
            return Fix("turn it round", path=f"section.parts[{index}].internal.turned", value=not part.internal.turned)
    return None


def _of_drag(drag: Drag, place: str, solution: Solution) -> Iterator[Finding]:
    curve = drag.given.curve
    if curve is None:
        return
    fastest = float(np.abs(solution.state.velocity[drag.cells] @ drag.axes[0]).max())
    if fastest > curve.at[-1] * 1.05:
        last = show(curve.at[-1], "velocity", None, 3)
        text = f"'{place}' is passed at up to {show(fastest, 'velocity', None, 3)}, and its table ends at {last}"
        yield Finding("check", place, text, "give its drop at higher speeds: beyond the last row it is gone on straight")


def _of_openings(problem: Problem, evaluation: Evaluation) -> Iterator[Finding]:
    for name, group in problem.grid.groups.items():
        if problem.faces.kind[group[0]] != OUTLET or problem.given.fed[group[0]] != OPEN:
            continue
        flow = evaluation.flow[group]
        into, out = -float(flow[flow < 0.0].sum()), float(flow[flow > 0.0].sum())
        both = min(into, out) / max(into + out, 1e-300)
        if both > _TURNS:
            text = f"at '{name}' fluid enters ({show(into, 'mass_flow', None, 3)}) and leaves ({show(out, 'mass_flow', None, 3)})"
            remedy = "nothing to do where a room breathes; else move the opening to where the flow goes one way"
            yield Finding("note", name, text, remedy)
        elif into > 0.0 and out <= _TURNS * into:
            text = f"all that passes '{name}' flows in ({show(into, 'mass_flow', None, 3)})"
            yield Finding("note", name, text, "nothing to do where it is meant as a way in; else look which way the fans blow")
