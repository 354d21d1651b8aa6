"""Findings about runs in time, and about fluids that move by their own weight."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.estimate.gaps import CRITICAL_RAYLEIGH
from wattikos_core.evidence.finding import Finding, Fix
from wattikos_core.evidence.ledger import LedgerRow
from wattikos_core.evidence.settling import time_to_settle
from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.quantities.values import show
from wattikos_core.read import heated_from_below
from wattikos_core.section import PaintedSection
from wattikos_core.solve import Solution

# Layers along heated walls turn turbulent about here: Bejan (2013), Convection Heat Transfer, 4th ed., chapter 6.
TURBULENT_RAYLEIGH = 1e9
# Layers heated from below lose their order long before (common practice, no source).
DISORDERED_RAYLEIGH = 1e6
# A fluid should not cross more cells in a step than this, or its plumes are smeared (common practice, no source).
_MOST_CELLS = 20.0
_STANDARD_GRAVITY = 9.80665
# A fluid whose Péclet number on its height is below this is at rest.
_STILL = 0.1
# Density may differ by this share where it varies in the weight alone: Gray and Giorgini (1976), Int. J. Heat Mass Transfer 19, 545
# (from memory).
_BOUSSINESQ = 0.1


def findings_of_weight(resolved: ResolvedCase, section: PaintedSection) -> list[Finding]:
    """Doubts about gravity that can be raised before anything is solved."""
    found: list[Finding] = []
    pull = float(np.linalg.norm(resolved.gravity))
    if pull == 0.0:
        return found
    if not 0.5 * _STANDARD_GRAVITY < pull < 2.0 * _STANDARD_GRAVITY:
        text = f"gravity is {pull:.3g} m/s², not the {_STANDARD_GRAVITY:.4g} m/s² of everyday life"
        found.append(Finding("check", "", text, "check the unit and the sign, unless a centrifuge or another planet is meant"))
    if not resolved.axisymmetric and resolved.gravity[1] > 0.0:
        found.append(
            Finding(
                "check", "", "gravity points upwards on the sketch", "give it a minus sign if up on the sketch is up in the room"
            )
        )
    if not any(section.fluid):
        found.append(Finding("note", "", "there is gravity, but no fluid that could rise", "nothing to do; it changes nothing"))
    return found


def findings_after_weight(
    problem: Problem, solution: Solution, evaluation: Evaluation, ledger: Sequence[LedgerRow]
) -> list[Finding]:
    """What a solution with gravity gives reason to doubt."""
    found: list[Finding] = []
    for row in ledger:
        if row.key.quantity != "rayleigh_number" or row.solved is None:
            continue
        part = row.key.place
        if (
            row.solved > TURBULENT_RAYLEIGH
            and not problem.turbulent[problem.grid.region == problem.grid.region_names.index(part)].any()
        ):
            text = f"the Rayleigh number of '{part}' is {row.solved:.1e}: its layers are turbulent"
            found.append(Finding("stop", part, text, "let its flow be turbulent, or make it lower or cooler"))
        elif row.solved > DISORDERED_RAYLEIGH and solution.time is None and _from_below(problem, evaluation, part):
            text = f"'{part}' is heated from below at a Rayleigh number of {row.solved:.1e}: its flow is hardly steady"
            found.append(Finding("note", part, text, "solve it in time to see whether it settles"))
        if row.solved > CRITICAL_RAYLEIGH and solution.time is None and _rests(problem, evaluation, part):
            beyond = f"a Rayleigh number of {row.solved:.3g}, beyond {CRITICAL_RAYLEIGH:.0f}"
            text = f"'{part}' is at rest though warm below at {beyond}: it would stir"
            remedy = (
                "start it disturbed: solve once with one wall a degree warmer at one end, then go on from there, or solve in time"
            )
            found.append(Finding("check", part, text, remedy))
    return found + _thins_out(problem, evaluation)


def _thins_out(problem: Problem, evaluation: Evaluation) -> list[Finding]:
    """Fluids whose density varies in the weight alone, though by more than that may be."""
    found: list[Finding] = []
    if not problem.physics.heavy or problem.physics.varying_density:
        return found
    for index, name in enumerate(problem.grid.region_names):
        mine = problem.grid.region == index
        if not problem.cells.fluid[mine].any():
            continue
        density = problem.materials[index].density(evaluation.temperature[mine])
        share = float(np.ptp(density) / density.mean())
        if share > _BOUSSINESQ:
            text = f"the density of '{name}' differs by {share:.0%}, and varies in its weight alone"
            fix = Fix("let density vary in all balances", path="physics.density", value="varying")
            remedy = "let density vary in all balances (Solve), or make the differences of temperature smaller"
            found.append(Finding("check", name, text, remedy, fix=fix))
    return found


def _rests(problem: Problem, evaluation: Evaluation, part: str) -> bool:
    """Whether a fluid that is warm below carries less heat than a tenth of what it conducts over its height."""
    grid, index = problem.grid, problem.grid.region_names.index(part)
    if not _from_below(problem, evaluation, part):
        return False
    inner = (grid.region[grid.owner] == index) & (grid.neighbour >= 0)
    mine = grid.region == index
    table, middle = problem.materials[index], float(evaluation.temperature[mine].mean())
    flux = float((np.abs(evaluation.flow[inner]) / problem.faces.area[inner]).max(initial=0.0))
    height = float(np.ptp(grid.centre[mine] @ (np.asarray(problem.physics.gravity) / np.linalg.norm(problem.physics.gravity))))
    return flux * height * float(table.specific_heat(middle)) < _STILL * float(table.conductivity(middle))


def _from_below(problem: Problem, evaluation: Evaluation, part: str) -> bool:
    return heated_from_below(problem, evaluation, problem.grid.region_names.index(part))


def unsteady(problem: Problem, solution: Solution) -> Finding | None:
    """Said of a steady solve with gravity that swings instead of converging."""
    if solution.converged or solution.stopped or solution.ended_by or solution.time is not None or not problem.physics.heavy:
        return None
    text = "the flow does not come to rest: buoyancy keeps it moving, or a plume swings"
    return Finding("stop", "", text, "solve it in time (Solve, regime 'in time'); a coarser grid may settle, but hides the swing")


def findings_in_time(problem: Problem, solution: Solution, unsettled: Sequence[Key], evaluation: Evaluation) -> list[Finding]:
    """What a run in time gives reason to doubt."""
    found: list[Finding] = []
    if unsettled and not solution.stopped and not solution.ended_by:
        names = ", ".join(key.label for key in unsettled[:3]) + (", …" if len(unsettled) > 3 else "")
        text = f"not settled at {solution.time:.4g} s: {names} still moves"
        found.append(_unsettled(solution, unsettled, text))
    crossed = _cells_crossed(problem, evaluation, solution)
    if problem.physics.heavy and crossed > _MOST_CELLS:
        text = f"in one of the last steps fluid crosses {crossed:.0f} cells: fast plumes are smeared"
        found.append(Finding("check", "", text, "ask for a smaller error of steps, or a shorter longest step"))
    return found


def _unsettled(solution: Solution, unsettled: Sequence[Key], text: str) -> Finding:
    """Said of what still moves, with the time it would take where that can be told."""
    history = solution.history
    time = [row["time"] for row in history]
    courses = [[row[key.label] for row in history] for key in unsettled if all(key.label in row for row in history)]
    more = [time_to_settle(time, course) for course in courses]
    known = [seconds for seconds in more if seconds is not None]
    if not known or len(known) < len(courses) or solution.time is None:
        return Finding("note", "", text, "extend the run if what it settles to is wanted")
    end = float(f"{solution.time + max(known):.2g}")
    if end <= solution.time:
        end = float(f"{1.1 * (solution.time + max(known)):.2g}")
    remedy = f"it would settle (within 1 %) after about {show(max(known), 'time', None, 2)} more: let it end at {show(end, 'time')}"
    fix = Fix(f"end at {show(end, 'time')}", path="time.end", value=f"{end:g} s")
    return Finding("note", "", text, remedy, fix=fix)


def _cells_crossed(problem: Problem, evaluation: Evaluation, solution: Solution) -> float:
    """How many cells the fluid crosses in the longest of the last steps, where it is fastest."""
    longest = max((row["step"] for row in solution.history[-10:]), default=0.0)
    outflow = np.zeros(problem.grid.n_cells)
    faces = problem.faces
    np.add.at(outflow, faces.owner, np.maximum(evaluation.flow, 0.0))
    inner = faces.neighbour >= 0
    np.add.at(outflow, faces.neighbour[inner], np.maximum(-evaluation.flow[inner], 0.0))
    density = np.array([float(m.density(problem.scales.reference)) for m in problem.materials])[problem.grid.region]
    return float((outflow * longest / (density * problem.grid.volume)).max(initial=0.0))
