"""What the kernels need to know about faces: distances, weights, kinds, and least-squares gradient coefficients."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid import Grid

Array = NDArray[np.float64]
Index = NDArray[np.int64]

# Kinds of faces. Internal ones first; what lies between different regions with a solid on either side is an interface.
FLOW, SOLID, INTERFACE, WALL, INLET, OUTLET, SYMMETRY = range(7)
# Thermal kinds of outer faces.
FLUX_GIVEN, TEMPERATURE_GIVEN = range(2)
# What an outlet feeds when fluid comes in there: what it finds, or fluid at a static or a total pressure.
AS_IT_COMES, STATIC_PRESSURE, TOTAL_PRESSURE = range(3)


class Faces(NamedTuple):
    """Face geometry and boundary values; arrays over faces.

    Attributes:
        owner, neighbour: cells; neighbour -1 outside.
        kind: FLOW … SYMMETRY.
        normal (n, 2), area (n,): unit normal from the owner, m2.
        near, far: distances from the face to the two cell centres along the normal, m (far is 0 outside).
        shift_owner, shift_neighbour (n, 2): from a cell centre to its foot on the face's normal line, m.
        reach_owner, reach_neighbour (n, 2): from a cell centre to the face centre, m.
        velocity (n, 2), mass_flow (n,): given at walls and inlets, m/s and kg/s (outward positive).
        pressure: given at outlets, Pa.
        fed: at outlets, AS_IT_COMES, or the temperature given is that of what enters, at a static or TOTAL_PRESSURE.
        spin: rate of turning about the axis given at walls, interfaces and inlets of axisymmetric sections, rad/s.
        outlet: number of the outlet that a face belongs to, -1 elsewhere.
        radius: of the face centre in axisymmetric sections, m (0 in flat ones).
        thermal: FLUX_GIVEN or TEMPERATURE_GIVEN on outer faces.
        temperature, heat_flux: given on outer faces, K and W/m2 into the section.
        film, ambient: heat transfer coefficient (W/m2/K) to surroundings at a temperature (K), beside a given flux.
        emissivity, surroundings: radiation to surroundings at a temperature (K), beside film and flux.
        contact: resistance between the two sides of an interface, or between an outer surface and what holds it, m2 K/W.
        heat_shift_owner, heat_shift_neighbour (n, 2): as the shifts, along the direction heat flows to the face.
        share_owner, share_neighbour: conductivity along the normal as a share of that along x (1 unless orthotropic).
        joined: 1 where the neighbour is the first cell of the next module, 0 elsewhere.
        velocity_owner …: least-squares coefficients (n, 2) of the gradients of velocity, pressure and temperature.
    """

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
    velocity: Array
    mass_flow: Array
    pressure: Array
    thermal: Index
    temperature: Array
    heat_flux: Array
    film: Array
    ambient: Array
    emissivity: Array
    surroundings: Array
    contact: Array
    fed: Index
    spin: Array
    outlet: Index
    radius: Array
    joined: Index
    velocity_owner: Array
    velocity_neighbour: Array
    pressure_owner: Array
    pressure_neighbour: Array
    push_owner: Array
    push_neighbour: Array
    temperature_owner: Array
    temperature_neighbour: Array
    heat_shift_owner: Array
    heat_shift_neighbour: Array
    share_owner: Array
    share_neighbour: Array


class Given(NamedTuple):
    """What is given on faces; see `Faces` for the meaning of each array."""

    kind: Index
    velocity: Array
    mass_flow: Array
    pressure: Array
    thermal: Index
    temperature: Array
    heat_flux: Array
    film: Array
    ambient: Array
    emissivity: Array
    surroundings: Array
    contact: Array
    fed: Index
    spin: Array
    outlet: Index


def nothing_given(n: int) -> Given:
    """Adiabatic walls at rest on n faces, to be filled in."""
    kind, thermal = np.full(n, WALL, dtype=np.int64), np.full(n, FLUX_GIVEN, dtype=np.int64)
    mass_flow, pressure, temperature, heat_flux, film, ambient, emissivity, surroundings, contact = np.zeros((9, n))
    return Given(
        kind,
        np.zeros((n, 2)),
        mass_flow,
        pressure,
        thermal,
        temperature,
        heat_flux,
        film,
        ambient,
        emissivity,
        surroundings,
        contact,
        np.zeros(n, dtype=np.int64),
        np.zeros(n),
        np.full(n, -1, dtype=np.int64),
    )


def build_faces(grid: Grid, given: Given, ratio: Array | None = None) -> Faces:
    """Geometry and gradient coefficients for faces of the given kinds and boundary values.

    Args:
        ratio: conductivity along y over that along x per cell, shape (n_cells,); 1 everywhere when None.
    """
    kind, thermal = given.kind, given.thermal
    area = np.hypot(*grid.area.T)
    normal = grid.area / area[:, None]
    inner = grid.neighbour >= 0
    reach_owner = grid.face_centre - grid.centre[grid.owner]
    between = grid.way_between()
    reach_neighbour = np.where(inner[:, None], reach_owner - between, 0.0)
    # On a distorted face a centre can lie beside or beyond it; any distance of the foot is exact for linear fields.
    least = 0.05 * np.where(inner, np.hypot(*between.T), np.hypot(reach_owner[:, 0], reach_owner[:, 1]))
    near = np.maximum(np.einsum("ij,ij->i", reach_owner, normal), least)
    far = np.where(inner, np.maximum(-np.einsum("ij,ij->i", reach_neighbour, normal), least), 0.0)
    shift_owner = reach_owner - near[:, None] * normal
    shift_neighbour = np.where(inner[:, None], reach_neighbour + far[:, None] * normal, 0.0)
    # Shifts below round-off of the geometry are none: the grid is orthogonal there.
    for shift, distance in ((shift_owner, near), (shift_neighbour, near + far)):
        shift[np.hypot(*shift.T) < 1e-9 * distance] = 0.0

    heat = _heat_directions(grid, normal, near, far, shift_owner, shift_neighbour, ratio)

    def coefficients(
        kinds: Index, beyond: tuple[int, ...], at_face: tuple[int, ...], along_normal: tuple[int, ...], shift: Array = shift_owner
    ) -> tuple[Array, Array]:
        """Which faces take part in a gradient, and where the value beyond the cell stands: neighbour, face, or foot."""
        offset_owner = np.zeros_like(between)
        offset_neighbour = np.zeros_like(between)
        foot = reach_owner - shift
        for group, o, n in ((beyond, between, -between), (at_face, reach_owner, reach_neighbour), (along_normal, foot, 0.0 * foot)):
            chosen = np.isin(kinds, group)
            offset_owner[chosen] = o[chosen]
            offset_neighbour[chosen] = n[chosen]
        return _least_squares(grid, offset_owner, offset_neighbour)

    velocity_c = coefficients(kind, (FLOW,), (INTERFACE, WALL, INLET), (SYMMETRY,))
    pressure_c = coefficients(kind, (FLOW,), (OUTLET,), (SYMMETRY,))
    # For heat, a wall counts as a value at the face or as a slope along the normal, by what is given there.
    fixed = (kind >= WALL) & (thermal == TEMPERATURE_GIVEN)
    heat_kind = np.where(fixed, INLET, np.where(kind == SYMMETRY, WALL, kind))
    temperature_c = coefficients(heat_kind, (FLOW, SOLID), (INTERFACE, INLET), (WALL,), heat[0])
    return Faces(
        grid.owner.astype(np.int64),
        grid.neighbour.astype(np.int64),
        kind,
        normal,
        area,
        near,
        far,
        shift_owner,
        shift_neighbour,
        reach_owner,
        reach_neighbour,
        *given[1:],
        np.ascontiguousarray(grid.face_centre[:, 1]) if grid.axisymmetric else np.zeros(grid.n_faces),
        np.isin(np.arange(grid.n_faces), grid.joined).astype(np.int64),
        *velocity_c,
        *pressure_c,
        *_pushes(grid, kind, near, far, reach_owner, reach_neighbour, pressure_c),
        *temperature_c,
        *heat,
    )


def _pushes(
    grid: Grid, kind: Index, near: Array, far: Array, reach_owner: Array, reach_neighbour: Array, gradient: tuple[Array, Array]
) -> tuple[Array, Array]:
    """Coefficients of the force of pressure on cells: what rises across faces times areas, Σ A n (p_face - p_cell).

    Pressure on a face is the same for both its cells, so that what one gains the other loses: the force on a body is what
    the flow around it has lost, whatever the cells. To walls it is carried by the cell's own gradient. Exact for linear
    pressures, about an axis too, where areas do not close.
    """
    flow, outlet = kind == FLOW, kind == OUTLET
    to_neighbour = np.divide(near, near + far, out=np.zeros_like(near), where=flow)[:, None]
    owner = np.where(flow[:, None], to_neighbour * grid.area, np.where(outlet[:, None], grid.area, 0.0))
    neighbour = np.where(flow[:, None], (to_neighbour - 1.0) * grid.area, 0.0)
    # What the gradient of a cell counts: walls, and what areas that do not close leave over.
    rest = np.zeros((grid.n_cells, 2, 2))
    rest[:, 0, 0] = rest[:, 1, 1] = grid.volume
    for cells, reach, outward in ((grid.owner, reach_owner, 1.0), (grid.neighbour, reach_neighbour, -1.0)):
        used = (cells >= 0) & (flow | outlet)
        moments = outward * grid.area[used][:, :, None] * reach[used][:, None, :]
        np.add.at(rest, cells[used], -moments)
    inner = np.maximum(grid.neighbour, 0)
    owner += np.einsum("nij,nj->ni", rest[grid.owner], gradient[0])
    neighbour += np.where(grid.neighbour[:, None] >= 0, np.einsum("nij,nj->ni", rest[inner], gradient[1]), 0.0)
    return np.ascontiguousarray(owner), np.ascontiguousarray(neighbour)


def _heat_directions(
    grid: Grid, normal: Array, near: Array, far: Array, shift_owner: Array, shift_neighbour: Array, ratio: Array | None
) -> tuple[Array, Array, Array, Array]:
    """Where conduction to a face starts from on both sides, and the conductivity along the normal.

    With the conductivities k and r k along x and y, n·K·∇T is the derivative along the vector K·n. It leads from the
    face not along the normal but aside by (r - 1) n_x n_y / (n_x² + r n_y²) along the face for every length of it.
    """
    one = np.ones(grid.n_faces)
    if ratio is None or np.all(ratio == 1.0):
        return shift_owner, shift_neighbour, one, one
    along = np.stack([-normal[:, 1], normal[:, 0]], axis=1)
    result = []
    for cells, distance, shift, sign in (
        (grid.owner, near, shift_owner, -1.0),
        (np.where(grid.neighbour >= 0, grid.neighbour, grid.owner), far, shift_neighbour, 1.0),
    ):
        r = ratio[cells]
        share = normal[:, 0] ** 2 + r * normal[:, 1] ** 2
        aside = (r - 1.0) * normal[:, 0] * normal[:, 1] / share
        result.append((shift + sign * (distance * aside)[:, None] * along, share))
    return result[0][0], result[1][0], result[0][1], result[1][1]


def _least_squares(grid: Grid, offset_owner: Array, offset_neighbour: Array) -> tuple[Array, Array]:
    """Coefficients c so that gradient = Σ c (value beyond - value in the cell), weighted by inverse distance squared.

    Offsets of zero do not take part. A direction without any information gets a zero gradient (pseudo-inverse).
    """
    matrix = np.zeros((grid.n_cells, 2, 2))
    weights = []
    for cells, offset in ((grid.owner, offset_owner), (grid.neighbour, offset_neighbour)):
        square = np.einsum("ij,ij->i", offset, offset)
        weight = np.divide(1.0, square, out=np.zeros_like(square), where=square > 0.0)
        weights.append(weight)
        used = cells >= 0
        for i in (0, 1):
            for j in (0, 1):
                matrix[:, i, j] += np.bincount(cells[used], (weight * offset[:, i] * offset[:, j])[used], grid.n_cells)
    inverse = np.linalg.pinv(matrix, rcond=1e-10, hermitian=True)
    result = []
    for cells, offset, weight in zip((grid.owner, grid.neighbour), (offset_owner, offset_neighbour), weights, strict=True):
        c = np.einsum("nij,nj->ni", inverse[np.maximum(cells, 0)], offset * weight[:, None])
        c[cells < 0] = 0.0
        result.append(np.ascontiguousarray(c))
    return result[0], result[1]
