"""Which fluid anything can move, in which connected bodies it is, and where its pressure has no level of its own."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattikos_core.internals import ResolvedFan
from wattikos_core.physics.faces import FLOW, INLET, OUTLET, Faces, Given, Index
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.modules import Module
from wattikos_core.physics.scales import bodies


def moves(faces: Faces, given: Given, body: Index, physics: FlowPhysics, module: Module | None, region: Index) -> NDArray[np.bool_]:
    """Whether anything can move the fluid of each cell: a stream, gravity, a fan, or a wall."""
    if physics.heavy:
        return np.ones(body.size, dtype=bool)
    fans = [region for region, given_there in physics.internals if isinstance(given_there, ResolvedFan)]
    pushes = (
        np.isin(faces.kind, (INLET, OUTLET))
        | np.isin(region[faces.owner], fans)
        | given.velocity.any(axis=1)
        | (given.angular_velocity != 0.0)
    )
    if module is not None:
        pushes[module.faces] = True
    beyond = np.where(faces.neighbour >= 0, faces.neighbour, faces.owner)
    moved = set(body[faces.owner[pushes]].tolist()) | set(body[beyond[pushes]].tolist())
    return np.isin(body, [number for number in moved if number >= 0])


def bodies_of_fluid(faces: Faces, fluid: NDArray[np.bool_]) -> Index:
    """The connected body of fluid each cell belongs to, -1 in solids."""
    found = bodies(fluid.size, faces, faces.kind == FLOW)
    body = np.full(fluid.size, -1, dtype=np.int64)
    body[fluid] = np.unique(found[fluid], return_inverse=True)[1]
    return body


def pins_of(faces: Faces, body: Index) -> Index:
    """One cell per body of fluid without an outlet, where the pressure level is fixed at zero."""
    pin = np.zeros(body.size, dtype=np.int64)
    open_bodies = set(body[faces.owner[faces.kind == OUTLET]].tolist())
    for number in np.unique(body[body >= 0]):
        if int(number) not in open_bodies:
            pin[np.nonzero(body == number)[0][0]] = 1
    return pin
