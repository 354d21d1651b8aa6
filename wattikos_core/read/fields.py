"""Cell fields for pictures and files."""

from __future__ import annotations

import numpy as np

from wattikos_core.physics.faces import Array
from wattikos_core.solve import State

# Name, kind of quantity, and whether solids have it.
FIELDS: dict[str, tuple[str, bool]] = {
    "temperature": ("temperature", True),
    "speed": ("velocity", False),
    "pressure": ("pressure", False),
    "velocity x": ("velocity", False),
    "velocity y": ("velocity", False),
}


def cell_fields(state: State, fluid: np.ndarray) -> dict[str, Array]:
    """The fields of a state by name, NaN in solids for what only fluids have; shape (n_cells,) each."""
    values = {
        "temperature": state.t,
        "speed": np.hypot(state.u, state.v),
        "pressure": state.p,
        "velocity x": state.u,
        "velocity y": state.v,
    }
    return {name: values[name] if everywhere else np.where(fluid, values[name], np.nan) for name, (_, everywhere) in FIELDS.items()}
