"""Solids that are nearly of one temperature: a lumped estimate would do."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wattikos_core.evidence.finding import Finding
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import Index

# A body whose Biot number is below this has one temperature: Incropera et al. (2007), Fundamentals of Heat and Mass Transfer, 5.1.
_LUMPED = 0.1
_LEAST_DIFFERENCE = 1e-3


def findings_of_solids(problem: Problem, evaluation: Evaluation) -> list[Finding]:
    """Biot numbers of solids in a run in time, on volume over cooled area."""
    return [finding for index in range(len(problem.grid.region_names)) for finding in _lumped(problem, evaluation, index)]


def _lumped(problem: Problem, evaluation: Evaluation, index: int) -> Iterator[Finding]:
    table = problem.materials[index]
    if problem.fluid_regions[index] or table.melting is not None:
        return
    grid = problem.grid
    mine = grid.region == index
    surfaces = _cooled(problem, evaluation, mine)
    area = sum(a for a, _ in surfaces)
    if area <= 0.0:
        return
    coefficient = sum(a * h for a, h in surfaces) / area
    length = float(grid.volume[mine].sum()) / area
    biot = coefficient * length / float(table.conductivity(float(evaluation.temperature[mine].mean())))
    if 0.0 < biot < _LUMPED:
        name = grid.region_names[index]
        text = f"'{name}' is nearly of one temperature (Biot number {biot:.2g} on volume over cooled area)"
        yield Finding("note", name, text, "a lumped estimate would do for how fast it cools or warms")


def _cooled(problem: Problem, evaluation: Evaluation, mine: np.ndarray) -> list[tuple[float, float]]:
    """Areas (m2) of a solid's surfaces that are cooled or warmed, with their mean heat transfer coefficients, W/(m2 K)."""
    grid, given, faces = problem.grid, problem.given, problem.faces
    found = []
    for group in grid.groups.values():
        owner, other = grid.owner[group], grid.neighbour[group]
        inside = mine[owner] | ((other >= 0) & mine[np.maximum(other, 0)])
        if not inside.all():
            continue
        area = faces.area[group]
        if other[0] < 0:
            coefficient = float(given.coefficient[group] @ area / area.sum())
        else:
            coefficient = _to_fluid(problem, evaluation, group, owner if not mine[owner[0]] else other)
        if coefficient > 0.0:
            found.append((float(area.sum()), coefficient))
    return found


def _to_fluid(problem: Problem, evaluation: Evaluation, group: Index, beyond: Index) -> float:
    """Mean coefficient to the fluid beyond an interface, on its mean temperature; 0 where that is no fluid or nothing passes."""
    region = problem.grid.region[beyond[0]]
    if not problem.fluid_regions[region]:
        return 0.0
    fluid = problem.grid.region == region
    mean = float(np.average(evaluation.temperature[fluid], weights=problem.grid.volume[fluid]))
    area = problem.faces.area[group]
    difference = float(np.abs(evaluation.face_temperature[group] - mean) @ area)
    if difference < _LEAST_DIFFERENCE * float(area.sum()):
        return 0.0
    return float(np.abs(evaluation.heat[group]).sum()) / difference
