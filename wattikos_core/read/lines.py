"""The lines of a case in a solution: one entry for all kinds."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from wattikos_core.case.places import PlacedLine
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.physics.faces import Array
from wattikos_core.quantities.values import show
from wattikos_core.read.instant import Instant
from wattikos_core.read.profiles import Path, Profile, path_along, profile_along
from wattikos_core.read.walls import Reference, StreamScales, wall_profiles

# The outermost of a row of stations stand this share of their distance from the ends of the part.
_FROM_END = 0.5


def read_line(
    instant: Instant, line: PlacedLine, reference: Reference = "", streams: Mapping[str, StreamScales] | None = None
) -> list[Profile]:
    """Profiles along a line: one, one for each piece of a surface, or one for each of a row of stations.

    Args:
        instant: what is read.
        line: where.
        reference: of local coefficients along walls, see `wall_profiles`.
        streams: scales of the streams by fluid part.

    Raises:
        CaseError: the line does not meet this section.
    """
    if line.boundaries:
        return wall_profiles(instant, list(line.boundaries), line.side, reference, streams)
    return [profile_along(instant, path) for path in paths_of(instant, line)]


def paths_of(instant: Instant, line: PlacedLine) -> list[Path]:
    """Where a line that is no surface is read; the lines of a row of stations are called after where they are."""
    if line.corners is not None:
        paths = [path_along(line.name, instant.between, line.corners)]
    elif line.count:
        paths = [path_along(_station(line, corners), instant.between, corners) for corners in _across(instant, line)]
    else:
        paths = [path_along(line.name, instant.between, _middle(instant, line.part))]
    if all((path.cells < 0).all() for path in paths):
        raise CaseError(InputProblem("line", f"'{line.name}' lies outside the section", "move it into the section"))
    return paths


def _box_of(instant: Instant, part: str) -> tuple[Array, Array]:
    """The corners of the box around a part."""
    grid = instant.grid
    if part not in grid.region_names:
        remedy = f"choose one of {', '.join(grid.region_names[:12])}"
        raise CaseError(InputProblem("line.along.part", f"'{part}' is no part of this run", remedy))
    mine = np.repeat(grid.region == grid.region_names.index(part), np.diff(grid.cell_start))
    nodes = grid.nodes[grid.cell_nodes[mine]]
    return nodes.min(axis=0), nodes.max(axis=0)


def _middle(instant: Instant, part: str) -> Array:
    low, high = _box_of(instant, part)
    middle = 0.5 * (low + high)
    if instant.grid.axisymmetric and low[1] <= 1e-9 * high[1]:
        return np.array([[low[0], 0.0], [high[0], 0.0]])
    if high[0] - low[0] >= high[1] - low[1]:
        return np.array([[low[0], middle[1]], [high[0], middle[1]]])
    return np.array([[middle[0], low[1]], [middle[0], high[1]]])


def _station(line: PlacedLine, corners: Array) -> str:
    axis = "x" if corners[0, 0] == corners[1, 0] else "y"
    return f"{line.name} at {axis} {show(float(corners[0, 0 if axis == 'x' else 1]), 'length', digits=3)}"


def _across(instant: Instant, line: PlacedLine) -> list[Array]:
    low, high = _box_of(instant, line.part)
    long = 0 if high[0] - low[0] >= high[1] - low[1] else 1
    places = low[long] + (np.arange(line.count) + _FROM_END) / line.count * (high[long] - low[long])
    ends = []
    for place in places:
        corners = np.array([low, high])
        corners[:, long] = place
        ends.append(corners)
    return ends
