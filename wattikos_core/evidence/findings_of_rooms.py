"""Rooms that are ventilated: jets that their weight bends, air that leaves before it has been everywhere."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wattikos_core.evidence.finding import Finding
from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import INLET

# An inlet narrower than this share of its part's extent across it blows a jet.
_JET = 0.4
# Archimedes number beyond which a jet is bent within a few of its heights (common practice, no source).
_BENT = 0.01
# Half where air is fully mixed; below this much goes straight from inlet to outlet (common practice, no source).
_SHORT = 0.4


def findings_of_rooms(problem: Problem, evaluation: Evaluation, values: dict[Key, float]) -> Iterator[Finding]:
    """What can be doubted, or should be known, of ventilated rooms."""
    yield from _jets(problem, evaluation)
    for key, value in values.items():
        if key.quantity == "air_change_efficiency" and value < _SHORT:
            text = f"air of '{key.place}' has an air change efficiency of {value:.0%} (50% where mixed): part goes straight out"
            yield Finding("check", key.place, text, "move the outlet away from the way of what enters, or give it more speed")


def _jets(problem: Problem, evaluation: Evaluation) -> Iterator[Finding]:
    grid, faces = problem.grid, problem.faces
    if not problem.physics.heavy:
        return
    pull = np.asarray(problem.physics.gravity)
    for name, group in grid.groups.items():
        if faces.kind[group[0]] != INLET:
            continue
        region = int(grid.region[grid.owner[group[0]]])
        table, mine = problem.materials[region], grid.region == region
        across = np.array([-faces.normal[group[0], 1], faces.normal[group[0], 0]])
        height = float(np.ptp(grid.nodes[np.unique(grid.edges[group])] @ across))
        whole = float(np.ptp(grid.centre[mine] @ across))
        passing = float(-evaluation.flow[group].sum())
        if height >= _JET * whole or passing <= 0.0:
            continue
        enters = float(np.average(problem.given.temperature[group], weights=faces.area[group]))
        room = float(np.average(evaluation.temperature[mine], weights=grid.volume[mine]))
        heavier = float(table.heavy_density(enters)) / float(table.heavy_density(room)) - 1.0
        speed = passing / (float(table.density(enters)) * float(faces.area[group].sum()))
        number = float(np.linalg.norm(pull)) * abs(heavier) * height / speed**2
        if number > _BENT:
            way = "sinks" if heavier > 0.0 else "rises"
            text = f"the jet from '{name}' has an Archimedes number of {number:.2g}: it {way} after a few heights"
            yield Finding("note", name, text, "more speed or a smaller difference of temperature carries it further")
