"""Whether inlets and outlets stand far enough away, and whether a stream is developed where it leaves."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np
from scipy.spatial import cKDTree

from wattikos_core.case import ResolvedCase
from wattikos_core.evidence.disagreements import ENTRY_LENGTH
from wattikos_core.evidence.finding import Finding
from wattikos_core.physics import Evaluation, Problem
from wattikos_core.physics.faces import INLET, Array, Index
from wattikos_core.quantities.values import show
from wattikos_core.read import Stream
from wattikos_core.read.streams import ends_of_streams
from wattikos_core.section import PaintedSection, bodies_in_streams
from wattikos_core.solve import Solution

# Flow turns back where it goes against an outlet's normal by this share of the mean speed there; it is too near where that reaches
# to within so many of the outlet's heights (common practice, no source).
_TURNS, _TOO_NEAR = 0.02, 1.0
# Pressure over the middle of an inlet may differ by this share of the head of what enters: a stream that enters evenly between
# near walls has up to 0.54 (our own starters), a block a tenth of a height behind the inlet 4.5.
_UNEVEN = 0.7
# Heat that is conducted out through an inlet, against what enters, as a share of what the stream gains (common practice, no
# source).
_CONDUCTED = 0.02
# Entry lengths of turbulent flow and heat, in hydraulic diameters (common practice, no source).
_TURBULENT_ENTRY = (25.0, 10.0)
# What enters over less than this share of the mean area it passes blows into a room: nothing develops there.
_ROOM = 0.4


def findings_of_ends(
    resolved: ResolvedCase,
    section: PaintedSection,
    problem: Problem,
    solution: Solution,
    evaluation: Evaluation,
    streams: Mapping[str, Stream],
) -> list[Finding]:
    """Findings about where streams enter and leave."""
    found: list[Finding] = []
    if problem.module is not None:
        return found
    for stream in streams.values():
        for name, faces in _ends(problem, evaluation, stream, leaving=True):
            found += _turning_back(problem, solution, evaluation, stream, name, faces)
        for name, faces in _ends(problem, evaluation, stream, leaving=False):
            found += _deflected(problem, evaluation, stream, name, faces)
            found += _conducted_back(evaluation, stream, name, faces)
    if not bodies_in_streams(resolved, section):
        for stream in streams.values():
            found += _still_developing(resolved, problem, evaluation, stream)
    return found


def _ends(problem: Problem, evaluation: Evaluation, stream: Stream, *, leaving: bool) -> Iterator[tuple[str, Index]]:
    """Named boundaries where a stream leaves, or enters, and their faces."""
    entering, left = ends_of_streams(problem, evaluation)
    for name, faces in problem.grid.groups.items():
        if problem.grid.region[problem.grid.owner[faces[0]]] not in stream.regions:
            continue
        if (left if leaving else entering)[faces[0]]:
            yield name, faces


def _normal_and_height(problem: Problem, faces: Index) -> tuple[Array, float]:
    """The mean unit normal of a boundary, outward, and its length in the section, m."""
    grid = problem.grid
    normal = grid.area[faces].sum(axis=0)
    ends = grid.nodes[grid.edges[faces]]
    return normal / np.linalg.norm(normal), float(np.hypot(*(ends[:, 1] - ends[:, 0]).T).sum())


def _turning_back(
    problem: Problem, solution: Solution, evaluation: Evaluation, stream: Stream, name: str, faces: Index
) -> Iterator[Finding]:
    """Eddies that reach to within a height of an outlet."""
    grid = problem.grid
    normal, height = _normal_and_height(problem, faces)
    density = float(stream.table.density(stream.mean_temperature))
    speed = float(evaluation.flow[faces].sum()) / (density * float(problem.faces.area[faces].sum()))
    mine = np.nonzero(np.isin(grid.region, stream.regions))[0]
    back = mine[solution.state.velocity[mine] @ normal < -_TURNS * speed]
    if not back.size or speed <= 0.0:
        return
    distance = cKDTree(grid.face_centre[faces]).query(grid.centre[back])[0]
    nearest = float(distance.min()) / height
    if nearest >= _TOO_NEAR or stream.backflow > 1e-6:
        return
    length = float(np.ptp(grid.centre[back[distance < 2.0 * _TOO_NEAR * height]] @ normal))
    text = f"the flow turns back up to {nearest:.2g} heights ahead of '{name}': the outlet is too near for its eddy"
    remedy = f"move it on by {show(max(length, height), 'length', 'mm', 2)} or more, the length of what turns back"
    yield Finding("check", name, text, remedy)


def _deflected(problem: Problem, evaluation: Evaluation, stream: Stream, name: str, faces: Index) -> Iterator[Finding]:
    """What stands so near an inlet that its pressure reaches back: in the middle half of an inlet it is even otherwise."""
    if problem.faces.kind[faces[0]] != INLET:
        return
    normal, height = _normal_and_height(problem, faces)
    centre = problem.grid.face_centre[faces]
    along = centre @ np.array([-normal[1], normal[0]])
    share = (along - along.min()) / max(float(np.ptp(along)), 1e-300)
    middle = evaluation.face_pressure[faces][(share > 0.25) & (share < 0.75)]
    t = stream.mean_temperature
    speed = stream.mass_flow / (float(stream.table.density(t)) * stream.cross_section)
    head = 0.5 * float(stream.table.density(t)) * speed**2 + 12.0 * float(stream.table.viscosity(t)) * speed / height
    uneven = float(np.ptp(middle)) / head if middle.size > 1 and head > 0.0 else 0.0
    if uneven > _UNEVEN:
        text = f"pressure differs by {uneven:.0%} of the head over the middle of '{name}': something stands too near to it"
        yield Finding("check", name, text, "move the inlet further ahead, or give the profile that enters there")


def _conducted_back(evaluation: Evaluation, stream: Stream, name: str, faces: Index) -> Iterator[Finding]:
    """Heat that is conducted out through an inlet because the stream is slow."""
    out = abs(float((evaluation.heat[faces] - evaluation.absorbed[faces, 0]).sum()))
    if stream.heat != 0.0 and out > _CONDUCTED * abs(stream.heat):
        text = (
            f"{show(out, 'power', None, 2)} is conducted through the inlet '{name}', {out / abs(stream.heat):.0%} of what is gained"
        )
        yield Finding("check", name, text, "move the inlet further ahead of where heat begins: the stream is slow")


def _still_developing(resolved: ResolvedCase, problem: Problem, evaluation: Evaluation, stream: Stream) -> Iterator[Finding]:
    """Entry lengths of a stream that enters evenly, against the length there is: Shah and London (1978), laminar ducts."""
    inlets = [name for name, _ in _ends(problem, evaluation, stream, leaving=False)]
    given = [resolved.condition(name) for name in inlets]
    if not given or any(c is None or c.developed or c.profile_given for c in given) or not np.isfinite(stream.hydraulic_diameter):
        return
    centre = problem.grid.face_centre
    both = (found for leaving in (False, True) for _, found in _ends(problem, evaluation, stream, leaving=leaving))
    ends = [centre[faces].mean(axis=0) for faces in both]
    length = float(np.ptp(np.array(ends) @ stream.direction))
    volume = float(problem.grid.volume[np.isin(problem.grid.region, stream.regions)].sum())
    if stream.cross_section * length < _ROOM * volume:
        return
    reynolds, diameter = stream.reynolds, stream.hydraulic_diameter
    flow = diameter * (0.6 / (1.0 + 0.035 * reynolds) + 0.056 * reynolds)
    t = stream.mean_temperature
    prandtl = float(stream.table.viscosity(t)) * float(stream.table.specific_heat(t)) / float(stream.table.conductivity(t))
    heat = 0.05 * reynolds * prandtl * diameter
    if problem.turbulent[np.isin(problem.grid.region, stream.regions)].any():
        flow, heat = _TURBULENT_ENTRY[0] * diameter, _TURBULENT_ENTRY[1] * diameter
    if max(flow, heat) <= length:
        return
    what = "flow and heat" if min(flow, heat) > length else "the flow" if flow > heat else "heat"
    develops = "develop" if min(flow, heat) > length else "develops"
    text = (
        f"{what} in '{stream.part}' still {develops} where it leaves: entry lengths are {show(flow, 'length', 'mm', 2)} (flow) and "
        f"{show(heat, 'length', 'mm', 2)} (heat), it is {show(length, 'length', 'mm', 3)} long"
    )
    yield Finding(
        "note", stream.part, text, "do not compare its means with developed values; they depend on its length", ENTRY_LENGTH
    )
