"""Radiation between the surfaces of cavities: their pieces on a grid, and what every face of them absorbs at given temperatures.

A surface is where conduction from both its sides meets what it absorbs: q = ε (H - σ T⁴) and what else shines on it. Irradiations H
of pieces and temperatures of faces are found together, by a fixed point where gas insulates little, else by Newton's method.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numba import njit

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
    TEMPERATURE_GIVEN,
    Array,
    Faces,
    Given,
    HeatWeights,
    Index,
)
from wattikos_core.physics.gradients import heat_foot_neighbour, heat_foot_owner
from wattikos_core.physics.scales import bodies
from wattikos_core.physics.surfaces import (
    NetRadiation,
    no_radiation,
    outer_flux,
    surface_conductance,
    surface_temperature,
)
from wattikos_core.radiation import (
    STEFAN_BOLTZMANN,
    Emitting,
    Mirror,
    irradiation_matrix,
    joined_faces,
    pieces_of,
    view_factors,
    whole_pieces,
)

# The outline of a cavity is cut into about so many pieces.
_PIECES = 300
_MOST_PIECES = 1500
_MOST_FIXED_POINTS, _MOST_NEWTON = 60, 30
_CONVERGED = 1e-13
_MOST_OF_ONE_FACE = 50
# Up to this share of its irradiation that a change of it brings about again, a fixed point is found without a matrix.
_WEAK = 0.25
# What a face of a cavity is: a surface between a fluid and what holds it, an opening at a temperature given, at that of its own
# cell, or at that of the cell beyond.
_SURFACE, _GIVEN_TEMPERATURE, _OWN_CELL, _CELL_BEYOND = 0, 1, 2, 3


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
    """

    regions: tuple[int, ...]
    faces: OfFaces
    irradiation: Array

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
        found.append(_cavity(grid, faces, given, emitting, face, side, mirrored))
    return found


def _cavity(
    grid: Grid,
    faces: Faces,
    given: Given,
    emitting: Mapping[int, Emitting],
    face: Index,
    side: Index,
    mirrors: tuple[Mirror, ...],
) -> Cavity:
    inside = np.where(side == 0, grid.owner[face], grid.neighbour[face])
    name_of = np.full(grid.n_faces, -1, dtype=np.int64)
    names: list[str] = list(grid.groups)
    for number, name in enumerate(names):
        name_of[grid.groups[name]] = number
    what = np.full(face.size, _SURFACE, dtype=np.int64)
    kind = faces.kind[face]
    known = (kind == INLET) | ((kind == OUTLET) & (given.fed[face] != AS_IT_COMES))
    what[known] = _GIVEN_TEMPERATURE
    what[(kind == OUTLET) & ~known] = _OWN_CELL
    what[(kind == FLOW) | (kind == SOLID)] = _CELL_BEYOND
    emissivity, absorbed = np.ones(face.size), np.zeros(face.size)
    for k in np.nonzero(what == _SURFACE)[0].tolist():
        how = emitting[int(grid.region[inside[k]])]
        name = names[int(name_of[face[k]])] if name_of[face[k]] >= 0 else ""
        emissivity[k], absorbed[k] = how.emissivities.get(name, how.emissivity), how.absorbed.get(name, 0.0)
    start, end = _walked(grid, faces, face, side)
    surface = np.unique(np.stack([name_of[face], grid.region[inside], what], axis=1), axis=0, return_inverse=True)[1].ravel()
    perimeter = float(np.hypot(*(end - start).T).sum())
    piece = whole_pieces(start, end, surface, perimeter / _PIECES)
    count = int(piece.max()) + 1
    if count > _MOST_PIECES:
        raise CaseError(
            InputProblem(
                "section",
                f"the outline of '{grid.region_names[grid.region[inside[0]]]}' has {count:,} pieces that do not lie in one line",
                f"radiation takes up to {_MOST_PIECES:,}: choose a coarser grid, or let no radiation pass it",
            )
        )
    outline = pieces_of(*joined_faces(start, end, piece), grid.axisymmetric, mirrors)
    area = np.bincount(piece, faces.area[face], count)
    of_piece = np.bincount(piece, emissivity * faces.area[face], count) / area
    matrix = irradiation_matrix(view_factors(outline), of_piece)
    return Cavity(
        tuple(int(r) for r in np.unique(grid.region[inside])),
        OfFaces(face, side, what, piece, faces.area[face] / area[piece], emissivity, absorbed),
        matrix,
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


def radiated(
    cavities: Sequence[Cavity],
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    temperature: Array,
    conductivity: Array,
    gradient: Array,
) -> NetRadiation:
    """What surfaces absorb by radiation on the balance at temperatures of cells.

    Args:
        cavities: of the problem.
        faces: geometry of faces.
        given: what conditions give on faces.
        weights: how heat is conducted to faces.
        temperature: of cells, K.
        conductivity: of cells, W/m/K.
        gradient: of the temperature in cells, K/m, shape (n_cells, 1, d).
    """
    found = no_radiation(faces.owner.size)
    for cavity in cavities:
        count = len(cavity.irradiation)
        arriving = np.zeros(count)
        for step in range(_MOST_FIXED_POINTS + _MOST_NEWTON):
            emitted, slope = np.zeros(count), np.zeros(count)
            first = step == 0
            moved = _absorb(
                faces,
                given,
                weights,
                cavity.faces,
                temperature,
                conductivity,
                gradient,
                arriving,
                first,
                *found,
                emitted,
                slope,
            )
            missing: Array = cavity.irradiation @ emitted - arriving
            if not first and max(float(np.abs(missing).max()), moved) <= _CONVERGED * float(arriving.max()):
                break
            if not np.isfinite(missing).all():
                # Of temperatures that are none: the step that led there is taken back.
                break
            strongest = float((cavity.irradiation @ slope).max())
            if not first and (strongest > _WEAK or step > _MOST_FIXED_POINTS):
                missing[:] = np.linalg.solve(np.eye(count) - cavity.irradiation * slope, missing)
            arriving += missing
    return found


@njit(cache=True, error_model="numpy", nogil=True)
def _absorb(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    cavity: OfFaces,
    temperature: Array,
    conductivity: Array,
    gradient: Array,
    arriving: Array,
    first: bool,
    flux: Array,
    conductance: Array,
    emitted: Array,
    slope: Array,
) -> float:
    """Balance of every face at irradiations of pieces: what it absorbs, how much less where it is warmer, what pieces emit.

    Returns:
        the largest change of a flux, W/m2.
    """
    largest = 0.0
    for k in range(cavity.face.size):
        f, side, p, e = cavity.face[k], cavity.side[k], cavity.piece[k], cavity.emissivity[k] * STEFAN_BOLTZMANN
        share, absorbs = cavity.share[k], cavity.emissivity[k] * arriving[p] + cavity.absorbed[k]
        if cavity.what[k] != _SURFACE:
            a, b = faces.owner[f], faces.neighbour[f]
            t = given.temperature[f]
            if cavity.what[k] == _OWN_CELL or (cavity.what[k] == _CELL_BEYOND and side == 1):
                t = temperature[a]
            elif cavity.what[k] == _CELL_BEYOND:
                t = temperature[b]
            flux[f, side] = absorbs - e * t**4
            emitted[p] += share * e * t**4
            continue
        q = 0.0 if first else flux[f, side]
        before = q
        t = resistance = 0.0
        if first:
            # Before anything is known to arrive, a face emits at the temperature it has without radiation.
            t, resistance = _surface(faces, given, weights, temperature, conductivity, gradient, f, side, 0.0, flux)
        else:
            for _ in range(_MOST_OF_ONE_FACE):
                t, resistance = _surface(faces, given, weights, temperature, conductivity, gradient, f, side, q, flux)
                change = (absorbs - e * t**4 - q) / (1.0 + 4.0 * e * abs(t) ** 3 * resistance)
                q += change
                if abs(change) <= 1e-14 * (abs(absorbs) + e * t**4):
                    break
        flux[f, side] = q
        conductance[f, side] = 4.0 * e * abs(t) ** 3
        emitted[p] += share * e * t**4
        by_arriving = resistance * cavity.emissivity[k] / (1.0 + conductance[f, side] * resistance)
        slope[p] += share * conductance[f, side] * by_arriving
        largest = max(largest, abs(q - before))
    return largest


@njit(cache=True, error_model="numpy", nogil=True)
def _surface(
    faces: Faces,
    given: Given,
    weights: HeatWeights,
    temperature: Array,
    conductivity: Array,
    gradient: Array,
    f: int,
    side: int,
    q: float,
    flux: Array,
) -> tuple[float, float]:
    """Temperature of a surface that absorbs q (W/m2), K, and by how much it rises with q, m2 K/W."""
    a, b = faces.owner[f], faces.neighbour[f]
    ta = heat_foot_owner(faces, weights, f, a, temperature, gradient)
    ka = conductivity[a] * weights.share_owner[f]
    near = faces.near[f] / ka
    if b < 0:
        foot = ta + q * near
        t = foot - outer_flux(faces, given, f, foot, ka) * near
        if given.thermal[f] == TEMPERATURE_GIVEN:
            outside = given.contact[f]
            return t, near * outside / (near + outside)
        skin = surface_temperature(faces, given, f, foot, ka)
        seen = surface_conductance(faces, given, f, skin, ka)
        return t, near - near * near * seen
    tb = heat_foot_neighbour(faces, weights, f, b, temperature, gradient)
    far = faces.far[f] / (conductivity[b] * weights.share_neighbour[f])
    # What the surface on the other side absorbs, where two gases meet at a thin wall.
    if side == 0:
        tb += flux[f, 1] * far
        own, other, one, two = near, far + given.contact[f], ta, tb
    else:
        ta += flux[f, 0] * near
        own, other, one, two = far, near + given.contact[f], tb, ta
    both = own * other / (own + other)
    return both * (one / own + two / other + q), both
