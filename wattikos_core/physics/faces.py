"""What the kernels need to know about faces: their geometry, what is given on them, and weights of least-squares gradients.

The geometry is that of vectors of any length; kernels loop over `Faces.axes`, a tuple, whose length they are compiled for.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattikos_core.boundaries.face_kinds import (
    AS_IT_COMES,
    FLOW,
    FLUX_GIVEN,
    INLET,
    INTERFACE,
    OPEN,
    OUTLET,
    SOLID,
    STATIC_PRESSURE,
    SYMMETRY,
    TEMPERATURE_GIVEN,
    TOTAL_PRESSURE,
    WALL,
)
from wattikos_core.grid import Grid

__all__ = [
    "AS_IT_COMES",
    "FLOW",
    "FLUX_GIVEN",
    "INLET",
    "INTERFACE",
    "OPEN",
    "OUTLET",
    "SOLID",
    "STATIC_PRESSURE",
    "SYMMETRY",
    "TEMPERATURE_GIVEN",
    "TOTAL_PRESSURE",
    "WALL",
    "Array",
    "Faces",
    "FlowWeights",
    "Given",
    "HeatWeights",
    "Index",
    "build_faces",
    "build_weights",
    "nothing_given",
]

Array = NDArray[np.float64]
Index = NDArray[np.int64]

# The foot of a centre is at least this share of the way from the centre to the face away from it: a share of the way between
# centres would move that of a thin cell beside a thick one.
_LEAST_DISTANCE = 0.05
# Shifts below this share of the distance are round-off of the geometry.
_NO_SHIFT = 1e-9


class Faces(NamedTuple):
    """Face geometry; arrays over faces, vectors of shape (n_faces, d).

    Attributes:
        axes: (0, …, d - 1).
        owner, neighbour: cells; neighbour -1 outside.
        kind: FLOW … SYMMETRY.
        normal, area: unit normal from the owner, and m2.
        near, far: distances from the face to the two cell centres along the normal, m (far is 0 outside).
        shift_owner, shift_neighbour: from a cell centre to its foot on the face's normal line, m.
        reach_owner, reach_neighbour: from a cell centre to the face centre, m.
        radius: of the face centre in axisymmetric sections, m (0 in flat ones).
        joined: 1 where the neighbour is the first cell of the next module, 0 elsewhere.
        edge: 1 where a force that stands in a part ends (see `physics.internals`), 0 elsewhere.
    """

    axes: tuple[int, ...]
    owner: Index
    neighbour: Index
    kind: Index
    normal: Array
    area: Array
    near: Array
    far: Array
    shift_owner: Array
    shift_neighbour: Array
    reach_owner: Array
    reach_neighbour: Array
    radius: Array
    joined: Index
    edge: Index


class Given(NamedTuple):
    """What conditions give on faces.

    Attributes:
        kind: of each face, FLOW … SYMMETRY.
        velocity (n_faces, d): of walls and at inlets, m/s; `mass_flow` at inlets, kg/s, outward positive.
        pressure: at outlets, Pa.
        fed: at outlets, AS_IT_COMES, or the temperature given is that of what enters, at a STATIC_PRESSURE, a
            TOTAL_PRESSURE, or from surroundings that are OPEN to.
        angular_velocity: about the axis at walls, interfaces and inlets of axisymmetric sections, rad/s.
        outlet: number of the outlet that a face belongs to, -1 elsewhere.
        thermal: FLUX_GIVEN or TEMPERATURE_GIVEN on outer faces.
        temperature, heat_flux: on outer faces, K and W/m2 into the section.
        coefficient, ambient: heat transfer coefficient (W/m2/K) to surroundings at a temperature (K), beside a given flux.
        emissivity, surroundings: radiation to surroundings at a temperature (K), beside flux and convection.
        contact: resistance between the two sides of an interface, or between an outer surface and what holds it, m2 K/W.
        roughness: equivalent sand roughness of walls, m.
        turbulence (n_faces, 2): k and g = (β* ω)^-½ of what enters, m2/s2 and √s.
    """

    kind: Index
    velocity: Array
    mass_flow: Array
    pressure: Array
    fed: Index
    angular_velocity: Array
    outlet: Index
    thermal: Index
    temperature: Array
    heat_flux: Array
    coefficient: Array
    ambient: Array
    emissivity: Array
    surroundings: Array
    contact: Array
    roughness: Array
    turbulence: Array


class FlowWeights(NamedTuple):
    """Least-squares weights (n_faces, d) of the gradients of velocity, pressure and transported scalars, for both cells of a face.

    Attributes:
        push_owner, push_neighbour: what pressure that rises across a face pushes its cells by, m2 (see `_pushes`).
    """

    velocity_owner: Array
    velocity_neighbour: Array
    pressure_owner: Array
    pressure_neighbour: Array
    push_owner: Array
    push_neighbour: Array
    scalar_owner: Array
    scalar_neighbour: Array


class HeatWeights(NamedTuple):
    """How heat is conducted to faces.

    Attributes:
        owner, neighbour: least-squares weights (n_faces, d) of the temperature gradient, 1/m.
        shift_owner, shift_neighbour (n_faces, d): from cell centres to where conduction to the face starts from, m.
        share_owner, share_neighbour: conductivity along the normal as a share of that along x (1 unless orthotropic).
    """

    owner: Array
    neighbour: Array
    shift_owner: Array
    shift_neighbour: Array
    share_owner: Array
    share_neighbour: Array


def nothing_given(n: int, dimensions: int = 2) -> Given:
    """Adiabatic walls at rest on n faces, to be filled in."""
    mass_flow, pressure, angular_velocity, temperature, heat_flux = np.zeros((5, n))
    coefficient, ambient, emissivity, surroundings, contact, roughness = np.zeros((6, n))
    return Given(
        kind=np.full(n, WALL, dtype=np.int64),
        velocity=np.zeros((n, dimensions)),
        mass_flow=mass_flow,
        pressure=pressure,
        fed=np.full(n, AS_IT_COMES, dtype=np.int64),
        angular_velocity=angular_velocity,
        outlet=np.full(n, -1, dtype=np.int64),
        thermal=np.full(n, FLUX_GIVEN, dtype=np.int64),
        temperature=temperature,
        heat_flux=heat_flux,
        coefficient=coefficient,
        ambient=ambient,
        emissivity=emissivity,
        surroundings=surroundings,
        contact=contact,
        roughness=roughness,
        turbulence=np.repeat([[0.0, 1.0]], n, axis=0),
    )


def build_faces(grid: Grid, given: Given) -> Faces:
    """Geometry of faces of the given kinds."""
    area = np.linalg.norm(grid.area, axis=1)
    normal = grid.area / area[:, None]
    inner = grid.neighbour >= 0
    reach_owner = grid.face_centre - grid.centre[grid.owner]
    between = grid.way_between()
    reach_neighbour = np.where(inner[:, None], reach_owner - between, 0.0)
    # On a distorted face a centre can lie beside or beyond it; any distance of the foot is exact for linear fields.
    near, far = (
        np.maximum(sign * np.einsum("ij,ij->i", reach, normal), _LEAST_DISTANCE * np.linalg.norm(reach, axis=1))
        for sign, reach in ((1.0, reach_owner), (-1.0, reach_neighbour))
    )
    far = np.where(inner, far, 0.0)
    shift_owner = reach_owner - near[:, None] * normal
    shift_neighbour = np.where(inner[:, None], reach_neighbour + far[:, None] * normal, 0.0)
    for shift, distance in ((shift_owner, near), (shift_neighbour, near + far)):
        shift[np.linalg.norm(shift, axis=1) < _NO_SHIFT * distance] = 0.0
    return Faces(
        axes=tuple(range(grid.dimensions)),
        owner=grid.owner.astype(np.int64),
        neighbour=grid.neighbour.astype(np.int64),
        kind=given.kind,
        normal=normal,
        area=area,
        near=near,
        far=far,
        shift_owner=shift_owner,
        shift_neighbour=shift_neighbour,
        reach_owner=reach_owner,
        reach_neighbour=reach_neighbour,
        radius=np.ascontiguousarray(grid.face_centre[:, 1]) if grid.axisymmetric else np.zeros(grid.n_faces),
        joined=np.isin(np.arange(grid.n_faces), grid.joined).astype(np.int64),
        edge=np.zeros(grid.n_faces, dtype=np.int64),
    )


def build_weights(grid: Grid, faces: Faces, given: Given, conductivity: Array | None = None) -> tuple[FlowWeights, HeatWeights]:
    """Weights of gradients for faces of the given kinds.

    Args:
        grid: cells and faces.
        faces: geometry of faces.
        given: what conditions give on faces.
        conductivity: along each axis as a share of that along x, per cell, shape (n_cells, d); 1 everywhere when None.
    """
    kind, shift_owner = given.kind, faces.shift_owner
    between = grid.way_between()
    heat = _heat_directions(grid, faces, conductivity)

    def weights(
        kinds: Index, beyond: tuple[int, ...], at_face: tuple[int, ...], along_normal: tuple[int, ...], shift: Array = shift_owner
    ) -> tuple[Array, Array]:
        """Which faces take part in a gradient, and where the value beyond the cell stands: neighbour, face, or foot."""
        offset_owner = np.zeros_like(between)
        offset_neighbour = np.zeros_like(between)
        foot = faces.reach_owner - shift
        groups = (
            (beyond, between, -between),
            (at_face, faces.reach_owner, faces.reach_neighbour),
            (along_normal, foot, 0.0 * foot),
        )
        for group, o, n in groups:
            chosen = np.isin(kinds, group)
            offset_owner[chosen] = o[chosen]
            offset_neighbour[chosen] = n[chosen]
        return _least_squares(grid, offset_owner, offset_neighbour)

    velocity = weights(kind, (FLOW,), (INTERFACE, WALL, INLET), (SYMMETRY,))
    pressure = weights(kind, (FLOW,), (OUTLET,), (SYMMETRY,))
    # At walls scalars have zero normal gradient.
    scalar = weights(kind, (FLOW,), (INLET,), (WALL, SYMMETRY))
    # For heat, a wall counts as a value at the face or as a slope along the normal, by what is given there.
    fixed = (kind >= WALL) & (given.thermal == TEMPERATURE_GIVEN)
    heat_kind = np.where(fixed, INLET, np.where(kind == SYMMETRY, WALL, kind))
    temperature = weights(heat_kind, (FLOW, SOLID), (INTERFACE, INLET), (WALL,), heat[0])
    return (
        FlowWeights(*velocity, *pressure, *_pushes(grid, faces, pressure), *scalar),
        HeatWeights(*temperature, *heat),
    )


def _pushes(grid: Grid, faces: Faces, gradient: tuple[Array, Array]) -> tuple[Array, Array]:
    """Coefficients of the force of pressure on cells: what rises across faces times areas, Σ A n (p_face - p_cell).

    Pressure on a face is the same for both its cells, so that what one gains the other loses: the force on a body is what
    the flow around it has lost, whatever the cells. To walls it is carried by the cell's own gradient. Exact for linear
    pressures, about an axis too, where areas do not close.
    """
    near, far = faces.near, faces.far
    flow, outlet = faces.kind == FLOW, faces.kind == OUTLET
    to_neighbour = np.divide(near, near + far, out=np.zeros_like(near), where=flow)[:, None]
    owner = np.where(flow[:, None], to_neighbour * grid.area, np.where(outlet[:, None], grid.area, 0.0))
    neighbour = np.where(flow[:, None], (to_neighbour - 1.0) * grid.area, 0.0)
    # Faces that enter the gradient of a cell: walls, and the remainder of areas that do not close.
    rest = grid.volume[:, None, None] * np.eye(grid.dimensions)
    for cells, reach, outward in ((grid.owner, faces.reach_owner, 1.0), (grid.neighbour, faces.reach_neighbour, -1.0)):
        used = (cells >= 0) & (flow | outlet)
        moments = outward * grid.area[used][:, :, None] * reach[used][:, None, :]
        np.add.at(rest, cells[used], -moments)
    inner = np.maximum(grid.neighbour, 0)
    owner += np.einsum("nij,nj->ni", rest[grid.owner], gradient[0])
    neighbour += np.where(grid.neighbour[:, None] >= 0, np.einsum("nij,nj->ni", rest[inner], gradient[1]), 0.0)
    return np.ascontiguousarray(owner), np.ascontiguousarray(neighbour)


def _heat_directions(grid: Grid, faces: Faces, conductivity: Array | None) -> tuple[Array, Array, Array, Array]:
    """Where conduction to a face starts from on both sides, and the conductivity along the normal.

    With conductivities K along the axes, n·K·∇T is the derivative along the vector K·n. It leads to the face not along the normal
    but aside by K·n / (n·K·n) - n for every length of it.
    """
    one = np.ones(grid.n_faces)
    if conductivity is None or np.all(conductivity == 1.0):
        return faces.shift_owner, faces.shift_neighbour, one, one
    shifts, shares = [], []
    for cells, distance, shift, sign in (
        (grid.owner, faces.near, faces.shift_owner, -1.0),
        (np.where(grid.neighbour >= 0, grid.neighbour, grid.owner), faces.far, faces.shift_neighbour, 1.0),
    ):
        along = conductivity[cells] * faces.normal
        share = np.einsum("ij,ij->i", along, faces.normal)
        shifts.append(shift + sign * distance[:, None] * (along / share[:, None] - faces.normal))
        shares.append(share)
    return shifts[0], shifts[1], shares[0], shares[1]


def _least_squares(grid: Grid, offset_owner: Array, offset_neighbour: Array) -> tuple[Array, Array]:
    """Weights w so that gradient = Σ w (value beyond - value in the cell), by inverse distance squared.

    Offsets of zero do not take part. A direction without any information gets a zero gradient (pseudo-inverse).
    """
    d = grid.dimensions
    matrix = np.zeros((grid.n_cells, d, d))
    by_distance = []
    for cells, offset in ((grid.owner, offset_owner), (grid.neighbour, offset_neighbour)):
        square = np.einsum("ij,ij->i", offset, offset)
        weight = np.divide(1.0, square, out=np.zeros_like(square), where=square > 0.0)
        by_distance.append(weight)
        used = cells >= 0
        for i in range(d):
            for j in range(d):
                matrix[:, i, j] += np.bincount(cells[used], (weight * offset[:, i] * offset[:, j])[used], grid.n_cells)
    inverse = np.linalg.pinv(matrix, rcond=1e-10, hermitian=True)
    result = []
    for cells, offset, weight in zip((grid.owner, grid.neighbour), (offset_owner, offset_neighbour), by_distance, strict=True):
        w = np.einsum("nij,nj->ni", inverse[np.maximum(cells, 0)], offset * weight[:, None])
        w[cells < 0] = 0.0
        result.append(np.ascontiguousarray(w))
    return result[0], result[1]
