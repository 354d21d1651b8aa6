"""Radiation between surfaces: left out where it matters, named for surfaces that are not there."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wattikos_core.case import ResolvedCase
from wattikos_core.case.radiation import transparent
from wattikos_core.evidence.finding import Finding, Fix
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import INTERFACE, WALL, Array
from wattikos_core.quantities.values import show
from wattikos_core.radiation import STEFAN_BOLTZMANN

# Radiation that carries more than this share of the heat of a gas's surfaces is no detail.
_MATTERS = 0.1
# Of common surfaces, painted or oxidised; bright metal has less. Common practice, no source.
_COMMON = 0.85


def findings_of_radiation(resolved: ResolvedCase, problem: Problem, evaluation: Evaluation) -> Iterator[Finding]:
    """What can be doubted of radiation across gases."""
    yield from _forgotten(resolved, problem, evaluation)
    yield from _not_there(resolved, problem)


def _forgotten(resolved: ResolvedCase, problem: Problem, evaluation: Evaluation) -> Iterator[Finding]:
    """Gases whose surfaces differ so much in temperature that radiation between them would count."""
    if problem.module is not None and problem.module.wall is not None:
        # That does not repeat: there is no remedy.
        return
    for part in resolved.bodies:
        if part.emitting is not None or part.internal is not None or not transparent(part.material):
            continue
        temperature, area, conducted = _around(problem, evaluation, problem.grid.region_names.index(part.name))
        if area.size == 0 or conducted <= 0.0:
            continue
        # Each as if it radiated to all of them together: a plain estimate, high by what they see of their own kind.
        emitted = STEFAN_BOLTZMANN * temperature**4
        exchanged = _COMMON / (2.0 - _COMMON) * 0.5 * float(area @ np.abs(emitted - float(area @ emitted) / float(area.sum())))
        if exchanged > _MATTERS * conducted:
            text = (
                f"the surfaces around '{part.name}' would radiate about {show(exchanged, 'power', None, 2)} to each other if they "
                f"were of emissivity {_COMMON}, {exchanged / conducted:.0%} of the heat that they give to it"
            )
            index = next(i for i, one in enumerate(resolved.case.section.parts) if one.name == part.origin)
            fix = Fix("let it radiate", path=f"section.parts[{index}].radiation.emissivity", value=f"{_COMMON}")
            yield Finding("check", part.name, text, "let radiation pass it, with the emissivities of its surfaces", fix=fix)


def _around(problem: Problem, evaluation: Evaluation, index: int) -> tuple[Array, Array, float]:
    """Temperatures (K) and areas (m2) of the faces around a region, and the heat that some of them give to it, W."""
    grid = problem.grid
    surface = np.isin(problem.faces.kind, (WALL, INTERFACE))
    inner = grid.neighbour >= 0
    owns = np.nonzero(surface & (grid.region[grid.owner] == index))[0]
    beyond = np.nonzero(surface & inner & (grid.region[np.maximum(grid.neighbour, 0)] == index))[0]
    temperature = np.concatenate([evaluation.face_temperature[owns], evaluation.beyond_temperature[beyond]])
    area = problem.faces.area[np.concatenate([owns, beyond])]
    into = np.concatenate(
        [evaluation.into_cells(owns, np.ones(owns.size, bool)), evaluation.into_cells(beyond, np.zeros(beyond.size, bool))]
    )
    return temperature, area, max(float(np.maximum(into, 0.0).sum()), float(np.maximum(-into, 0.0).sum()))


def _not_there(resolved: ResolvedCase, problem: Problem) -> Iterator[Finding]:
    """Surfaces with values of their own that the section does not have."""
    names = set(problem.grid.groups)
    for part in resolved.case.section.parts:
        bodies = [body for body in resolved.bodies if body.origin == part.name and body.emitting is not None]
        if part.radiation is None or not bodies or bodies[0].emitting is None:
            continue
        for surface in part.radiation.surfaces:
            first, bar, second = surface.surface.partition(" | ")
            general = {resolved.general_name(name) for name in names} | names
            copies = {_origins(resolved, name) for name in names if " | " in name}
            if bar and frozenset((first, second)) in copies:
                continue
            if not bar and surface.surface in general:
                continue
            text = f"'{part.name}' has values for its surface '{surface.surface}', which the section does not have"
            yield Finding("check", part.name, text, "choose one of its surfaces, or take the row out")


def _origins(resolved: ResolvedCase, name: str) -> frozenset[str]:
    """The two parts of an interface by their own names."""
    origin = {part.name: part.origin for part in resolved.parts}
    return frozenset(origin.get(side, side) for side in name.split(" | "))
