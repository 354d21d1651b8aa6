"""Cavities of a grid, whose surfaces radiate to each other: their faces, the pieces of their outlines, what these see."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid import Grid
from wattikos_core.physics.faces import (
    AS_IT_COMES,
    FLOW,
    INLET,
    INTERFACE,
    OUTLET,
    SOLID,
    SYMMETRY,
    Array,
    Faces,
    Given,
    Index,
)
from wattikos_core.physics.scales import bodies
from wattikos_core.radiation import (
    Emitting,
    Mirror,
    irradiation_matrix,
    joined_faces,
    modules_in_sight,
    pieces_of,
    view_factors,
    views_of_module,
    whole_pieces,
    with_reflections,
)

# The outline of a cavity is cut into about so many pieces.
_PIECES = 300
_MOST_PIECES = 1500
# On either side of a module that repeats.
_MOST_MODULES = 40
# What a face of a cavity is: a surface between a fluid and what holds it, an opening at a temperature given, at that of its own
# cell, or at that of the cell beyond.
SURFACE, GIVEN_TEMPERATURE, OWN_CELL, CELL_BEYOND = 0, 1, 2, 3


class OfFaces(NamedTuple):
    """The faces of a cavity, shape (n,) each.

    Attributes:
        face, side: faces of the grid, and on which side of them the cavity lies: 0 for the owner's, 1 for the neighbour's.
        what: surface or kind of opening.
        piece: of the outline.
        share: of the piece's area.
        emissivity, absorbed: see `Emitting`.
    """

    face: Index
    side: Index
    what: Index
    piece: Index
    share: Array
    emissivity: Array
    absorbed: Array


@dataclass(frozen=True)
class Cavity:
    """One connected room of radiating gas.

    Attributes:
        regions: it is made of.
        faces: that bound it.
        irradiation: H = M E of pieces, see `radiation.irradiation_matrix`.
        ahead: of a module that repeats, in how many modules' distance what arrives at pieces came from in the mean; None elsewhere.
    """

    regions: tuple[int, ...]
    faces: OfFaces
    irradiation: Array
    ahead: Array | None = None

    def shining(self, faces: Faces, chosen: Index) -> float:
        """What shines on some faces from elsewhere and is absorbed, W."""
        mine = np.isin(self.faces.face, chosen)
        return float((self.faces.absorbed * faces.area[self.faces.face])[mine].sum())


def cavities_in(grid: Grid, faces: Faces, given: Given, emitting: Mapping[int, Emitting]) -> list[Cavity]:
    """The cavities of a grid, with their view factors.

    Args:
        grid: cells and faces.
        faces: geometry and kinds of faces.
        given: what conditions give on faces.
        emitting: how the surfaces of regions radiate, by number of the region.
    """
    if not emitting:
        return []
    gas = np.isin(grid.region, list(emitting))
    inner = grid.neighbour >= 0
    beyond = np.where(inner, grid.neighbour, grid.owner)
    passes = inner & gas[grid.owner] & gas[beyond] & (faces.kind != INTERFACE)
    number = bodies(grid.n_cells, faces, passes)
    mirrored = _mirrors(grid, faces)
    found = []
    for body in np.unique(number[gas]):
        mine = gas & (number == body)
        sides = [
            np.nonzero(mine[grid.owner] & ~passes & (faces.kind != SYMMETRY) & (faces.area > 0.0))[0],
            np.nonzero(inner & mine[beyond] & ~passes & (faces.area > 0.0))[0],
        ]
        face = np.concatenate(sides)
        side = np.repeat([0, 1], [sides[0].size, sides[1].size])
        through = bool(mine[grid.owner[grid.joined]].any())
        found.append(_cavity(grid, faces, given, emitting, face, side, mirrored, through))
    return found


def _cavity(
    grid: Grid,
    faces: Faces,
    given: Given,
    emitting: Mapping[int, Emitting],
    face: Index,
    side: Index,
    mirrors: tuple[Mirror, ...],
    through: bool,
) -> Cavity:
    """The cavity that some faces bound; it goes `through` the ends of a module or not."""
    inside = np.where(side == 0, grid.owner[face], grid.neighbour[face])
    name_of = np.full(grid.n_faces, -1, dtype=np.int64)
    names: list[str] = list(grid.groups)
    for number, name in enumerate(names):
        name_of[grid.groups[name]] = number
    what = np.full(face.size, SURFACE, dtype=np.int64)
    kind = faces.kind[face]
    known = (kind == INLET) | ((kind == OUTLET) & (given.fed[face] != AS_IT_COMES))
    what[known] = GIVEN_TEMPERATURE
    what[(kind == OUTLET) & ~known] = OWN_CELL
    what[(kind == FLOW) | (kind == SOLID)] = CELL_BEYOND
    emissivity, absorbed = np.ones(face.size), np.zeros(face.size)
    for k in np.nonzero(what == SURFACE)[0].tolist():
        how = emitting[int(grid.region[inside[k]])]
        name = names[int(name_of[face[k]])] if name_of[face[k]] >= 0 else ""
        emissivity[k], absorbed[k] = how.emissivities.get(name, how.emissivity), how.absorbed.get(name, 0.0)
    start, end = _walked(grid, faces, face, side)
    surface = np.unique(np.stack([name_of[face], grid.region[inside], what], axis=1), axis=0, return_inverse=True)[1].ravel()
    perimeter = float(np.hypot(*(end - start).T).sum())
    modules = modules_in_sight(start, end, grid.period, _MOST_MODULES) if through else 0
    piece = whole_pieces(start, end, surface, perimeter / min(_PIECES, _MOST_PIECES // (2 * modules + 1)))
    count = int(piece.max()) + 1
    modules, most = min(modules, (_MOST_PIECES // count - 1) // 2), _MOST_PIECES // (3 if through else 1)
    if count > most:
        raise CaseError(
            InputProblem(
                "section",
                f"the outline of '{grid.region_names[grid.region[inside[0]]]}' has {count:,} pieces that do not lie in one line",
                f"radiation takes up to {most:,}: choose a coarser grid, or let no radiation pass it",
            )
        )
    area = np.bincount(piece, faces.area[face], count)
    of_piece = np.bincount(piece, emissivity * faces.area[face], count) / area
    ends, ahead = joined_faces(start, end, piece), None
    if grid.joined.size:
        factors, straight = views_of_module(*ends, grid.axisymmetric, mirrors, grid.period, modules)
        ahead = with_reflections(factors, of_piece, straight)
    else:
        factors = view_factors(pieces_of(*ends, grid.axisymmetric, mirrors))
    return Cavity(
        tuple(int(r) for r in np.unique(grid.region[inside])),
        OfFaces(face, side, what, piece, faces.area[face] / area[piece], emissivity, absorbed),
        irradiation_matrix(factors, of_piece),
        ahead,
    )


def _walked(grid: Grid, faces: Faces, face: Index, side: Index) -> tuple[Array, Array]:
    """Both ends of faces, in the order that has the cavity to the left, m, shape (n, 2) each."""
    one, other = grid.nodes[grid.edges[face, 0]], grid.nodes[grid.edges[face, 1]]
    way = other - one
    left = np.stack([-way[:, 1], way[:, 0]], axis=1)
    into = np.where(side == 0, -1.0, 1.0)[:, None] * faces.normal[face]
    turned = np.einsum("ij,ij->i", left, into)[:, None] < 0.0
    return np.where(turned, other, one), np.where(turned, one, other)


def _mirrors(grid: Grid, faces: Faces) -> tuple[Mirror, ...]:
    """The lines of symmetry of a section; its axis is none."""
    found: list[Mirror] = []
    chosen = (faces.kind == SYMMETRY) & (faces.area > 0.0)
    if grid.axisymmetric:
        chosen &= np.abs(faces.normal[:, 0]) > 0.5
    for f in np.nonzero(chosen)[0]:
        point, normal = grid.face_centre[f], faces.normal[f]
        size = float(np.ptp(grid.nodes, axis=0).max())
        if not any(abs(m.normal @ normal) > 1.0 - 1e-9 and abs((point - m.point) @ m.normal) < 1e-6 * size for m in found):
            found.append(Mirror(point, normal))
    return tuple(found)


def shine(cavities: Sequence[Cavity], faces: Faces, heat: Array) -> None:
    """Add what shines on surfaces from elsewhere to the heat given on faces, W."""
    for cavity in cavities:
        np.add.at(heat, cavity.faces.face, cavity.faces.absorbed * faces.area[cavity.faces.face])
