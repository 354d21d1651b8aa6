"""Findings: mistakes and doubts, said in plain words with their place and what to do."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate import HandValue
from wattikos_core.estimate.ducts import TRANSITION_REYNOLDS
from wattikos_core.estimate.gaps import CRITICAL_RAYLEIGH
from wattikos_core.evidence.disagreements import ORDER_OF_FLOW, disagreements
from wattikos_core.evidence.finding import Finding, Fix
from wattikos_core.evidence.findings_of_bodies import findings_after_bodies, findings_of_bodies
from wattikos_core.evidence.findings_of_ends import findings_of_ends
from wattikos_core.evidence.findings_of_gases import findings_of_fast_gases, findings_of_gases
from wattikos_core.evidence.findings_of_grids import findings_of_grids
from wattikos_core.evidence.findings_of_inputs import findings_of_inputs, heat_without_a_way_out
from wattikos_core.evidence.findings_of_internals import findings_of_internals
from wattikos_core.evidence.findings_of_radiation import findings_of_radiation
from wattikos_core.evidence.findings_of_rooms import findings_of_rooms
from wattikos_core.evidence.findings_of_surfaces import findings_of_surfaces
from wattikos_core.evidence.findings_of_turbulence import (
    findings_of_jets,
    findings_of_layers,
    findings_of_regimes,
    findings_of_ribs,
    findings_of_roughness,
    findings_of_transition,
)
from wattikos_core.evidence.ledger import LedgerRow
from wattikos_core.ledger import Key
from wattikos_core.ledger.streams import OF_STREAMS
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.scales import spans
from wattikos_core.quantities.values import show
from wattikos_core.read import streams_of
from wattikos_core.section import PaintedSection, open_boundaries
from wattikos_core.section.regimes import regimes
from wattikos_core.solve import Solution
from wattikos_core.solve.convergence import WATCH_TOLERANCE

# Swings below this share of all temperatures are not worth a word.
_UNDERSHOOT = 0.01
_RESIDUALS = ("momentum", "mass", "energy", "turbulence")
_NOT_WATCHED = (*_RESIDUALS, "mass balance", "heat balance", "inner iterations")


def refuse_impossible(resolved: ResolvedCase, section: PaintedSection) -> None:
    """Raise CaseError for temperatures at which a fluid's properties do not exist."""
    problems = []
    for condition in resolved.conditions:
        boundary = section.boundaries.get(condition.boundary)
        if boundary is None or condition.kind not in ("inlet", "opening"):
            continue
        table = resolved.part(boundary.parts[0]).material
        if not table.start_temperature <= condition.temperature <= table.end:
            limits = f"{show(table.start_temperature, 'temperature')} to {show(table.end, 'temperature')}"
            entered = show(condition.temperature, "temperature")
            problems.append(
                InputProblem(
                    f"{condition.field}.temperature",
                    f"{entered} is outside the range of {table.label} at its pressure ({limits})",
                    "change the temperature, or give the material a pressure at which it stays in its state",
                )
            )
    problems += _only_outlets(resolved, section)
    if resolved.time is not None or resolved.module is not None:
        if problems:
            raise CaseError(problems)
        return
    holds = ("inlet_mass", "inlet_velocity", "inlet_static", "inlet_total", "opening", "temperature", "surroundings")
    present = [c for c in resolved.conditions if c.boundary in section.boundaries]
    if not any(c.type in holds and (c.type != "surroundings" or c.amount > 0.0 or c.emissivity > 0.0) for c in present):
        problems.append(
            InputProblem(
                "conditions",
                "no boundary holds a temperature: in steady state heat has nowhere to go",
                "give an inlet, a wall temperature, convection or radiation somewhere",
            )
        )
    else:
        problems += heat_without_a_way_out(resolved, section)
    if problems:
        raise CaseError(problems)


def _only_outlets(resolved: ResolvedCase, section: PaintedSection) -> list[InputProblem]:
    """Problems of a fluid that weight draws in through outlets alone: nobody says how warm it is there."""
    present = [c for c in resolved.conditions if c.boundary in section.boundaries]
    outlets = [c for c in present if c.type == "outlet"]
    enters = any(c.type.startswith("inlet") or c.type in ("periodic", "opening") for c in present)
    if resolved.gravity == (0.0, 0.0) or enters or len(outlets) < 2:
        return []
    names = " and ".join(f"'{c.boundary}'" for c in outlets)
    return [
        InputProblem(
            f"{outlets[0].field}.type",
            f"{names} are outlets alone: fluid that its weight draws in there has no temperature",
            "make them openings to surroundings with the temperature of the ambient",
        )
    ]


def findings_before(resolved: ResolvedCase, section: PaintedSection, hand: Mapping[Key, HandValue]) -> list[Finding]:
    """What can be doubted before anything is solved."""
    found: list[Finding] = []
    for name in open_boundaries(resolved, section):
        found.append(Finding("note", name, f"'{name}' has no condition", "it is solved as an adiabatic wall; give it a condition"))
    streams = regimes(resolved, section)
    stirred = {part for regime in streams if regime.turbulent for part in regime.parts}
    found += findings_of_regimes(resolved, section, streams)
    found += findings_of_roughness(resolved, section, streams)
    found += findings_of_ribs(resolved, streams)
    found += findings_of_jets(resolved, streams)
    found += findings_of_transition(resolved, streams)
    for key, value in hand.items():
        if key.quantity == "reynolds_number" and value.value >= TRANSITION_REYNOLDS and key.place not in stirred:
            part = key.place
            by_number = Fix("choose by the number", path="physics.flow", value="automatic")
            text = f"Reynolds number {value.value:.0f} in '{part}' is above {TRANSITION_REYNOLDS:.0f}: hardly laminar"
            found.append(Finding("stop", part, text, "let its flow be turbulent, or lower it", ORDER_OF_FLOW, by_number))
    found += _streams_that_go_on(resolved, section, hand)
    found += findings_of_bodies(resolved, section, stirred)
    found += findings_of_fast_gases(resolved, section)
    found += findings_of_inputs(resolved, section)
    roles = resolved.case.exchanger
    if roles is not None and Key("duty") in hand and hand[Key("duty")].value < 0.0:
        text = f"the stream called hot ('{roles.hot}') enters colder than the cold one"
        found.append(Finding("check", roles.hot, text, "exchange the inlet temperatures, or the roles of the streams"))
    return found


def _streams_that_go_on(resolved: ResolvedCase, section: PaintedSection, hand: Mapping[Key, HandValue]) -> list[Finding]:
    """Hand calculations of one part of a stream that flows on into another part."""
    found: list[Finding] = []
    wet = {name for name, fluid in zip(section.names, section.fluid, strict=True) if fluid}
    by_hand = {key.place for key in hand if key.quantity in OF_STREAMS}
    for name, boundary in section.boundaries.items():
        # A contact is a thin wall, and what melts is kept in by one.
        if not boundary.interface or not wet.issuperset(boundary.parts) or name in resolved.contacts:
            continue
        if any(resolved.part(part).material.melting is not None for part in boundary.parts):
            continue
        # What stands in the stream belongs to it, and is reckoned with by itself.
        if any(resolved.part(part).internal is not None for part in boundary.parts):
            continue
        for part in sorted(by_hand.intersection(boundary.parts)):
            other = next(p for p in boundary.parts if p != part)
            text = f"the stream of '{part}' is one with that of '{other}', and the hand calculation knows '{part}' alone"
            found.append(Finding("check", part, text, "draw both as one part, or bind the hand calculation to the whole length"))
    return found


def findings_after(
    resolved: ResolvedCase,
    section: PaintedSection,
    problem: Problem,
    solution: Solution,
    evaluation: Evaluation,
    ledger: list[LedgerRow],
    before: Sequence[Finding] = (),
) -> list[Finding]:
    """What the solution itself gives reason to doubt; `before` is what was found before it, which may explain more."""
    found: list[Finding] = []
    if solution.stopped:
        what = "before its end" if solution.time is not None else "before it had converged"
        found.append(Finding("stop", "", f"the solve was stopped {what}", "solve again; it goes on from here"))
    elif not solution.converged and solution.time is None and not solution.ended_by:
        last = solution.history[-1]
        worst = max((name for name in _RESIDUALS if name in last), key=lambda name: last[name])
        text = f"not converged: the {worst} residual stands at {last[worst]:.1e} after {len(solution.history)} steps"
        if last[worst] <= resolved.case.solve.tolerance and (moving := still_moving(solution.history)):
            text = f"the residuals are met, but {moving[0]} still moves by {moving[1]:.1e} of itself a step"
        remedy = "allow more steps, start on a coarser grid, or look for a flow that is not steady"
        steps = min(2 * resolved.case.solve.max_steps, 500)
        fix = Fix(f"allow {steps} steps", path="solve.max_steps", value=steps)
        found.append(Finding("stop", "", text, remedy, fix=fix))
    for note in solution.notes:
        found.append(Finding("note", "", note, "nothing to do"))
    streams = streams_of(problem, evaluation, solution.state.periodicity)
    for name, stream in streams.items():
        if stream.backflow > 1e-6:
            text = f"{stream.backflow:.1%} of the flow comes back in at the outlet of '{name}'"
            found.append(Finding("check", name, text, "move the outlet further away from where the flow turns"))
        laminar = not problem.turbulent[np.isin(problem.grid.region, stream.regions)].any()
        if stream.reynolds >= TRANSITION_REYNOLDS and laminar:
            text = f"solved as laminar at a Reynolds number of {stream.reynolds:.0f} in '{name}'"
            by_number = Fix("choose by the number", path="physics.flow", value="automatic")
            found.append(Finding("stop", name, text, "let its flow be turbulent, or lower it", ORDER_OF_FLOW, by_number))
    found += findings_of_gases(problem, solution, evaluation, streams)
    found += findings_of_ends(resolved, section, problem, solution, evaluation, streams)
    found += findings_of_surfaces(resolved, problem, evaluation)
    found += findings_of_grids(problem, evaluation)
    turbulence = problem.physics.turbulence
    found += findings_of_layers(resolved, ledger, followed=turbulence is not None and turbulence.transition)
    found.extend(findings_of_internals(resolved, problem, solution, evaluation))
    found.extend(findings_of_radiation(resolved, problem, evaluation))
    solved = {row.key: row.solved for row in ledger if row.solved is not None}
    found.extend(findings_of_rooms(problem, evaluation, solved))
    found += findings_after_bodies(resolved, section, ledger, problem)
    found.extend(_still_fluids(problem, evaluation))
    found.extend(_beyond_what_is_given(problem, evaluation))
    for index, name in enumerate(problem.grid.region_names):
        table = problem.materials[index]
        t = evaluation.temperature[problem.grid.region == index]
        beyond = max(table.start_temperature - float(t.min()), float(t.max()) - table.end)
        if beyond > 0.5:
            text = f"temperatures in '{name}' leave the data of {table.label} by {beyond:.1f} K"
            severity: Literal["note", "check"] = "check" if table.fluid or beyond > 50.0 else "note"
            found.append(Finding(severity, name, text, "its end values were used beyond; choose another material or pressure"))
    if solution.converged and (last := solution.history[-1])["heat balance"] > 1e-6:
        kept = resolved.case.solve.flow == "kept"
        remedy = "the flow that was kept is of other temperatures: solve it anew" if kept else "report this case: it should close"
        found.append(Finding("check" if kept else "stop", "", f"the heat balance is open by {last['heat balance']:.1e}", remedy))
    found += disagreements(ledger, problem, evaluation.temperature, streams, [*before, *found])
    return found


def still_moving(history: Sequence[Mapping[str, float]]) -> tuple[str, float] | None:
    """What was watched and moved most in the last step, by its label, and by what share of itself; None where nothing did."""
    if len(history) < 2:
        return None
    before, last = history[-2], history[-1]
    moved = {
        name: abs(value - before[name]) / max(abs(value), 1e-300)
        for name, value in last.items()
        if name in before and name not in _NOT_WATCHED
    }
    name = max(moved, key=moved.__getitem__, default="")
    return (name, moved[name]) if name and moved[name] > WATCH_TOLERANCE else None


def _still_fluids(problem: Problem, evaluation: Evaluation) -> list[Finding]:
    """Closed bodies of fluid that would move by themselves, if the case had gravity."""
    found: list[Finding] = []
    if problem.physics.heavy:
        return found
    grid = problem.grid
    for index, name in enumerate(grid.region_names):
        table = problem.materials[index]
        mine = grid.region == index
        if not table.fluid or table.melting is not None or problem.cells.fluid[mine].any():
            continue
        t = evaluation.temperature[mine]
        mean, span = float(t.mean()), float(np.ptp(t))
        size = float(np.ptp(grid.centre[mine], axis=0).min())
        expansion = abs(float(table.density(mean + 0.5)) - float(table.density(mean - 0.5))) / float(table.density(mean))
        viscous, thermal = (float(x) / float(table.density(mean)) for x in (table.viscosity(mean), table.conductivity(mean)))
        thermal /= float(table.specific_heat(mean))
        rayleigh = 9.81 * expansion * span * size**3 / (viscous * thermal)
        if rayleigh > CRITICAL_RAYLEIGH:
            text = f"'{name}' is taken to be at rest, but its Rayleigh number is {rayleigh:.0f}: it would stir itself"
            found.append(Finding("check", name, text, "give the case gravity (Solve), make the gap narrower, or expect more heat"))
    return found


def _beyond_what_is_given(problem: Problem, evaluation: Evaluation) -> list[Finding]:
    """Places colder or hotter than conditions, sources and the start allow, in fluids and solids alike."""
    found = []
    t, cells, grid = evaluation.temperature, problem.cells, problem.grid
    span = spans(problem.heat_body, t, problem.scales.span)
    for beyond, word in ((cells.low - t, "colder"), (t - cells.high, "hotter")):
        worst = int(np.argmax(beyond / span))
        if beyond[worst] <= max(_UNDERSHOOT * span[worst], 0.05):
            continue
        part = grid.region_names[grid.region[worst]]
        x, y = 1000.0 * grid.centre[worst]
        text = f"'{part}' is up to {beyond[worst]:.2g} K {word} than anything given, at x {x:.3g} mm, y {y:.3g} mm"
        remedy = "steep temperatures swing in coarse cells: raise the fineness there; heat is still balanced"
        found.append(Finding("note", part, text, remedy))
    return found
