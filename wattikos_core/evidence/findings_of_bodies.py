"""Tubes, bars and spheres in a stream: whether the flow past them is laminar, has room, and drags as it should."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Literal

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.estimate.bundles import CRISIS, cylinder_drag, sphere_drag
from wattikos_core.evidence.disagreements import ORDER_OF_FLOW
from wattikos_core.evidence.finding import Finding
from wattikos_core.evidence.ledger import LedgerRow
from wattikos_core.grid.wakes import VORTICES_REYNOLDS
from wattikos_core.ledger import Key
from wattikos_core.physics import Problem
from wattikos_core.section import Body, PaintedSection, bodies_in_streams

# A wake swings in three dimensions from here on and turns turbulent: Williamson (1996), Annu. Rev. Fluid Mech. 28, 477. Behind a
# sphere eddies are shed from about 270 on: Clift, Grace and Weber (1978), chapter 5 (both from memory).
_DISORDERED, _SPHERE_SHEDS = 190.0, 270.0
# From about here on the layers that leave a single body are turbulent themselves, and the flow among tubes is: Williamson (1996),
# Zukauskas (1972), Adv. Heat Transfer 8, 93 (from memory).
_TURBULENT = 1e3
# Room that a body needs, in diameters, to the inlet and to the outlet, and behind the last of several (common practice, no source).
_AHEAD, _BEHIND, _BEHIND_SEVERAL = 4.0, 8.0, 4.0
# A body that fills more than this share of its stream is not a free one (common practice, no source).
_BLOCKS = 0.05
# Up to this one its drag is still near that of a free one.
_DRAGS_FREELY = 0.1
# The usual scatter of measured drag about its curve, and Reynolds numbers of it (common practice, no source).
_SCATTER, _CURVE = 0.2, (1.0, CRISIS)


def findings_of_bodies(resolved: ResolvedCase, section: PaintedSection, stirred: Collection[str]) -> list[Finding]:
    """Doubts about bodies in streams that can be raised before anything is solved; `stirred` parts are modelled as turbulent."""
    found: list[Finding] = []
    bodies = bodies_in_streams(resolved, section)
    for fluid in dict.fromkeys(body.fluid for body in bodies):
        of_stream = [body for body in bodies if body.fluid == fluid]
        most = max(of_stream, key=lambda body: body.diameter)
        if fluid not in stirred:
            found += _order_of_flow(resolved, most.name, most.reynolds(resolved), len(of_stream) > 1)
        found += _room(resolved, section, of_stream)
        if len(of_stream) == 1:
            found += _blockage(resolved, section, most)
    return found


def findings_after_bodies(
    resolved: ResolvedCase, section: PaintedSection, ledger: Sequence[LedgerRow], problem: Problem
) -> list[Finding]:
    """What the solved flow past bodies gives reason to doubt."""
    found: list[Finding] = []
    numbers = {row.key.place: row.solved for row in ledger if row.key.quantity == "body_reynolds_number" and row.solved is not None}
    bodies = bodies_in_streams(resolved, section)
    calm = {name: number for name, number in numbers.items() if not _in_turbulent_flow(problem, name)}
    if calm:
        name, most = max(calm.items(), key=lambda item: item[1])
        found += _order_of_flow(resolved, name, most, len(numbers) > 1)
    for body in bodies:
        drag = next((row.solved for row in ledger if row.key == Key("drag_coefficient", body.name)), None)
        alone = len([other for other in bodies if other.fluid == body.fluid]) == 1
        if drag is None or not body.round or not alone or _blocked(resolved, section, body) > _DRAGS_FREELY:
            continue
        reynolds = numbers.get(body.name, 0.0)
        if not _CURVE[0] <= reynolds <= _CURVE[1]:
            continue
        usual = sphere_drag(reynolds) if resolved.axisymmetric else cylinder_drag(reynolds)
        apart = drag / usual - 1.0
        if abs(apart) > _SCATTER:
            shape, source = (
                ("a sphere", "Clift, Grace and Weber 1978") if resolved.axisymmetric else ("a cylinder", "Sucker and Brauer 1975")
            )
            text = (
                f"the drag coefficient of '{body.name}' is {drag:.3g}; measured on {shape} it is {usual:.3g} at a Reynolds number "
                f"of {reynolds:.3g} ({source}): {abs(apart):.0%} {'below' if apart < 0.0 else 'above'}"
            )
            remedy = "the flow past it is not the one that was solved for: do not use its drag, and doubt its heat as well"
            found.append(Finding("check", body.name, text, remedy))
    return found


def _in_turbulent_flow(problem: Problem, body: str) -> bool:
    """Whether fluid modelled as turbulent wets a body: a part, or a boundary of its own."""
    grid = problem.grid
    of_body = [group for name, group in grid.groups.items() if body in (name, *name.split(" | "))]
    return any(
        problem.turbulent[cells[cells >= 0]].any() for group in of_body for cells in (grid.owner[group], grid.neighbour[group])
    )


def _order_of_flow(resolved: ResolvedCase, name: str, reynolds: float, several: bool) -> list[Finding]:
    """Whether the laminar model, and a steady one, hold for the flow past a body."""
    number = f"{reynolds:.0f}" if reynolds < 1e4 else f"{reynolds:,.0f}"
    at = f"at a Reynolds number of {number}"
    steady = resolved.time is None
    sheds = _SPHERE_SHEDS if resolved.axisymmetric else VORTICES_REYNOLDS
    disordered = _SPHERE_SHEDS if resolved.axisymmetric else _DISORDERED
    severity: Literal["check", "stop"] = "check"
    remedy = "let the flow be turbulent, or lower it"
    if reynolds > CRISIS:
        severity, text = "stop", f"{at} the boundary layer on '{name}' itself turns turbulent (above about {CRISIS:,.0f})"
    elif reynolds > _TURBULENT:
        severity = "stop"
        where = f"the flow among '{name}' and its neighbours" if several else f"the wake of '{name}'"
        text = f"{at} {where} is turbulent (above about {_TURBULENT:,.0f}), and it is solved as laminar"
    elif reynolds > disordered and not several:
        text = f"{at} the wake of '{name}' is on its way to turbulence (above about {disordered:.0f})"
        remedy = "expect drag and heat to be off by a tenth or more, or let the flow be turbulent"
    elif reynolds > sheds and steady:
        text = f"{at} the flow behind '{name}' is hardly steady unless walls hold it: vortices are shed above about {sheds:.0f}"
        remedy = "solve it in time, or read mean values only"
    else:
        return []
    return [Finding(severity, name, text, remedy, ORDER_OF_FLOW)]


def _room(resolved: ResolvedCase, section: PaintedSection, bodies: Sequence[Body]) -> list[Finding]:
    """How near the inlet and the outlet stand to the bodies of a stream."""
    found: list[Finding] = []
    first, several = bodies[0], len(bodies) > 1
    along, size = first.along, max(body.diameter for body in bodies)
    low, high = min(body.low[along] for body in bodies), max(body.high[along] for body in bodies)
    forward = low > first.entry[along]
    ahead = (low - first.entry[along] if forward else first.entry[along] - high) / size
    name = "the bodies" if several else f"'{first.name}'"
    if ahead < _AHEAD and not several:
        text = f"the inlet stands {max(ahead, 0.0):.2g} diameters ahead of {name}, which deflects the flow from further away"
        remedy = f"move it to {_AHEAD:.0f} diameters or more, or give the profile that enters"
        found.append(Finding("check", first.inlet, text, remedy))
    for boundary in section.boundaries.values():
        condition = resolved.condition(boundary.name)
        if first.fluid not in boundary.parts or condition is None or condition.type != "outlet":
            continue
        middle = float(boundary.segments.reshape(-1, 2)[:, along].mean())
        behind = (middle - high if forward else low - middle) / size
        least = _BEHIND_SEVERAL if several else _BEHIND
        if behind < least:
            text = f"the outlet stands {max(behind, 0.0):.2g} diameters behind {name}: it cuts the wake"
            found.append(Finding("check", boundary.name, text, f"move it to {least:.0f} diameters or more"))
    return found


def _blockage(resolved: ResolvedCase, section: PaintedSection, body: Body) -> list[Finding]:
    share = _blocked(resolved, section, body)
    if share <= _BLOCKS:
        return []
    faster = 1.0 / (1.0 - share) if share < 1.0 else np.inf
    text = f"'{body.name}' fills {share:.0%} of its stream, which passes it {faster:.2f} times as fast as it enters"
    remedy = "its drag and its h are not those of a body alone: make the stream wider, or mean a row of them between the sides"
    return [Finding("note", body.name, text, remedy)]


def _blocked(resolved: ResolvedCase, section: PaintedSection, body: Body) -> float:
    """The share of its stream that a body fills."""
    across = 1 - body.along
    edges = np.concatenate([b.segments.reshape(-1, 2)[:, across] for b in section.boundaries.values() if body.fluid in b.parts])
    if resolved.axisymmetric:
        return float((body.high[1] ** 2 - body.low[1] ** 2) / edges.max() ** 2) if across == 1 else 0.0
    return float((body.high[across] - body.low[across]) / np.ptp(edges))
