"""What surfaces give reason to doubt: cells too coarse for the layer on them, contacts that may have been forgotten."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.evidence.finding import Finding, refine
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import INTERFACE, WALL, Index
from wattikos_core.physics.scales import LEAST_SPAN
from wattikos_core.quantities.values import show

# The first cell may take this share of the whole difference between a surface and its fluid (common practice, no source).
_FIRST_CELL = 0.4
# Bare metal on metal, dry: 1e-4 m2 K/W at the least (common practice, no source); told where it would take this share of all
# differences of temperature.
_DRY_CONTACT, _COUNTS = 1e-4, 0.02


def findings_of_surfaces(resolved: ResolvedCase, problem: Problem, evaluation: Evaluation) -> list[Finding]:
    """Findings about walls and interfaces of a solution."""
    t = evaluation.temperature
    span = float(np.ptp(t))
    if span < LEAST_SPAN:
        return []
    return [
        *_coarse_layers(problem, evaluation, resolved.case.grid.layers == "coarse"),
        *_forgotten_contacts(resolved, problem, evaluation, span),
    ]


def _coarse_layers(problem: Problem, evaluation: Evaluation, coarse: bool) -> Iterator[Finding]:
    """Surfaces whose fluid's temperature changes most within the first cell; `coarse` whether those of turbulent streams may."""
    grid, faces = problem.grid, problem.faces
    for name, group in grid.groups.items():
        if faces.kind[group[0]] not in (WALL, INTERFACE):
            continue
        for cells, surface in (
            (grid.owner[group], evaluation.face_temperature[group]),
            (grid.neighbour[group], evaluation.beyond_temperature[group]),
        ):
            if cells[0] < 0 or problem.cells.fluid[cells[0]] == 0 or problem.materials[grid.region[cells[0]]].melting is not None:
                continue
            if problem.turbulent[cells[0]] == 1 and coarse:
                # The wall treatment stands for what lies within; whether it may, y⁺ tells.
                continue
            share = _within_first_cell(problem, evaluation, group, cells, surface)
            if share > _FIRST_CELL:
                text = (
                    f"the first cells on '{name}' take {share:.0%} of the difference to its fluid: too coarse for the layer there"
                )
                yield Finding("check", name, text, "make cells finer along it", fix=refine(name))


def _within_first_cell(problem: Problem, evaluation: Evaluation, group: Index, cells: Index, surface: np.ndarray) -> float:
    """Share of the difference between a surface and the fluid that lies within the first cells, by area."""
    area = problem.faces.area[group]
    mine = problem.grid.region == problem.grid.region[cells[0]]
    fluid = float(np.average(evaluation.temperature[mine], weights=problem.grid.volume[mine]))
    whole = float(np.abs(surface - fluid) @ area)
    if whole < LEAST_SPAN * float(area.sum()):
        return 0.0
    return float(np.abs(surface - evaluation.temperature[cells]) @ area) / whole


def _forgotten_contacts(resolved: ResolvedCase, problem: Problem, evaluation: Evaluation, span: float) -> Iterator[Finding]:
    """Solids of other materials that touch as if they were one, where a bare contact would count."""
    grid = problem.grid
    for name, group in grid.groups.items():
        first, bar, second = name.partition(" | ")
        if not bar or problem.faces.kind[group[0]] != INTERFACE or float(problem.given.contact[group].max()) > 0.0:
            continue
        owner, other = grid.owner[group[0]], grid.neighbour[group[0]]
        if problem.cells.fluid[owner] or problem.cells.fluid[other]:
            continue
        if problem.materials[grid.region[owner]].label == problem.materials[grid.region[other]].label:
            continue
        flux = float(np.abs(evaluation.heat[group]).sum() / problem.faces.area[group].sum())
        if flux * _DRY_CONTACT > _COUNTS * span:
            drop = show(flux * _DRY_CONTACT, "temperature_difference", digits=2)
            text = f"'{first}' and '{second}' touch as if they were one; a bare dry contact would take {drop} at this heat flux"
            yield Finding(
                "note", name, text, "give the contact between them (Conditions, inside the section) unless they are joined"
            )
