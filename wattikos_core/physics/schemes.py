"""Values on faces: at the feet of cell centres, and as they are convected.

All take values of shape (n_cells, k) and gradients of shape (n_cells, k, d). Between the feet of two
centres on a face's normal line (its points nearest to the centres), differences lie along the normal: diffusion between
them is corrected for non-orthogonality and skewness together. Convected values are by Fromm's scheme, half central and half
linear upwind; quantities that cannot leave bounds are kept within them.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from wattikos_core.physics.faces import Array, Faces


@njit(cache=True, error_model="numpy", inline="always")
def dot(faces: Faces, vectors: Array, row: int, ways: Array, f: int) -> float:
    """Scalar product of a row of (n, d) vectors with a face's way."""
    total = 0.0
    for x in range(len(faces.axes)):
        total += vectors[row, x] * ways[f, x]
    return total


@njit(cache=True, error_model="numpy", inline="always")
def change_along(faces: Faces, gradients: Array, c: int, i: int, ways: Array, f: int) -> float:
    """By how much component i changes from the centre of a cell along a face's way."""
    total = 0.0
    for x in range(len(faces.axes)):
        total += gradients[c, i, x] * ways[f, x]
    return total


@njit(cache=True, error_model="numpy", inline="always")
def owner_foot(faces: Faces, f: int, a: int, i: int, values: Array, gradients: Array) -> float:
    """Component i at the foot of the owner's centre on the face's normal line."""
    return float(values[a, i] + change_along(faces, gradients, a, i, faces.shift_owner, f))


@njit(cache=True, error_model="numpy", inline="always")
def neighbour_foot(faces: Faces, f: int, b: int, i: int, values: Array, gradients: Array) -> float:
    """Component i at the foot of the neighbour's centre on the face's normal line."""
    return float(values[b, i] + change_along(faces, gradients, b, i, faces.shift_neighbour, f))


@njit(cache=True, error_model="numpy", inline="always")
def fromm_correction(
    faces: Faces, f: int, a: int, b: int, flow: float, i: int, values: Array, gradients: Array, blend: float
) -> float:
    """What Fromm's scheme (1968, J. Comput. Phys. 3, 176), times `blend`, adds to the upwind value on an internal face."""
    at_a, at_b = owner_foot(faces, f, a, i, values, gradients), neighbour_foot(faces, f, b, i, values, gradients)
    linear = (faces.far[f] * at_a + faces.near[f] * at_b) / (faces.near[f] + faces.far[f])
    if flow >= 0.0:
        return float(blend * 0.5 * (change_along(faces, gradients, a, i, faces.reach_owner, f) + linear - values[a, i]))
    return float(blend * 0.5 * (change_along(faces, gradients, b, i, faces.reach_neighbour, f) + linear - values[b, i]))


@njit(cache=True, error_model="numpy", inline="always")
def convected_value(
    faces: Faces, f: int, a: int, b: int, flow: float, i: int, values: Array, gradients: Array, blend: float
) -> float:
    """Convected value on an internal face: upwind plus `blend` times Fromm's correction."""
    upwind = values[a, i] if flow >= 0.0 else values[b, i]
    return float(upwind + fromm_correction(faces, f, a, b, flow, i, values, gradients, blend))


@njit(cache=True, error_model="numpy", inline="always")
def convected_shares(faces: Faces, f: int, flow: float, blend: float) -> tuple[float, float]:
    """Derivatives of the convected value by the owner's and the neighbour's, without those of the gradients; they add up to one."""
    near, far = faces.near[f], faces.far[f]
    if flow >= 0.0:
        by_neighbour = 0.5 * blend * near / (near + far)
        return 1.0 - by_neighbour, by_neighbour
    by_owner = 0.5 * blend * far / (near + far)
    return by_owner, 1.0 - by_owner


@njit(cache=True, error_model="numpy", nogil=True)
def bounded(correction: float, room: float) -> float:
    """Correction of a scalar that cannot leave its bounds: hardly changed where it is small beside the room left, never larger.

    Room is the distance of the upwind cell from its nearer bound. Then no face carries a value from beyond the bounds, and a cell
    that has come to a bound is left by nothing beyond it, so that its balance cannot take it further. Where the solution is smooth
    and away from its bounds the scheme is what it was, of second order.
    """
    if correction == 0.0 or room <= 0.0:
        return 0.0
    if room == np.inf:
        return float(correction)
    square = (correction / room) * (correction / room)
    return float(correction / np.sqrt(np.sqrt(1.0 + square * square)))


@njit(cache=True, error_model="numpy", nogil=True)
def bounded_slopes(correction: float, below: float, above: float) -> tuple[float, float]:
    """Derivatives of `bounded` by the correction, and by the upwind value that stands `below` above and `above` below its bounds.

    The latter only where it is positive: a negative one would take the matrix its diagonal.
    """
    room = min(below, above)
    if room <= 0.0:
        return 0.0, 0.0
    if room == np.inf:
        return 1.0, 0.0
    share = correction / room
    fourth = share * share * share * share
    by_correction = 1.0 / ((1.0 + fourth) * np.sqrt(np.sqrt(1.0 + fourth)))
    by_room = by_correction * fourth * share
    return by_correction, max(by_room if below < above else -by_room, 0.0)


@njit(cache=True, error_model="numpy", inline="always")
def add_by_flow(
    f: int,
    a: int,
    b: int,
    row: int,
    step_a: float,
    step_b: float,
    by_owner: Array,
    by_neighbour: Array,
    diagonal: Array,
    off: Array,
) -> None:
    """What convection through a face changes with the flow itself: the carried value less that of each cell, times ∂F.

    `by_owner` and `by_neighbour` (n_faces, m) are the derivatives of the flow by the unknowns of the two cells.
    """
    for j in range(by_owner.shape[1]):
        diagonal[a, row, j] += step_a * by_owner[f, j]
        off[f, 0, row, j] += step_a * by_neighbour[f, j]
        diagonal[b, row, j] -= step_b * by_neighbour[f, j]
        off[f, 1, row, j] -= step_b * by_owner[f, j]
