"""States of a plane section from the values of their unknowns."""

from __future__ import annotations

import numpy as np

from wattikos_core.physics import State
from wattikos_core.physics.faces import Array


def plane_state(u: Array, v: Array, pressure: Array, stretched: Array, angular_velocity: Array) -> State:
    """A state without further scalars; all arrays of shape (n_cells,)."""
    return State(np.stack([u, v], axis=1), pressure, stretched, angular_velocity, np.zeros((u.size, 0)))
