"""What boundaries and interfaces have at an instant, face by face: kept with the fields of cells, for lines along walls."""

from __future__ import annotations

import numpy as np

from wattikos_core.grid import Grid
from wattikos_core.physics import Evaluation, Problem, State, point_of
from wattikos_core.physics.faces import INLET, INTERFACE, WALL, Array, Index
from wattikos_core.read.shear import friction_on_walls
from wattikos_core.read.turbulence import distances_plus


def surface_faces(grid: Grid) -> Index:
    """The faces of all named boundaries and interfaces, in ascending order."""
    return np.unique(np.concatenate([*grid.groups.values(), np.zeros(0, dtype=np.int64)]))


def surface_fields(problem: Problem, state: State, evaluation: Evaluation, *, friction: bool = True) -> dict[str, Array]:
    """Fields on `surface_faces` by name, SI, shape (n_surface_faces,) each.

    `temperature` is that on the owner's side and `temperature beyond` that on the neighbour's, which differ at a contact; `heat
    flux` is what is conducted from the owner outwards, W/m2. Around radiating gases `absorbed` and `absorbed beyond` are what the
    two sides absorb from other surfaces, W/m2, which `heat flux` counts where it is conducted on. Where something flows, `velocity
    x` and `velocity y` are those on the surface, and, with `friction`, `friction x` and `friction y` those of the fluid on it,
    N/m2; `y plus` where it is turbulent.
    """
    grid, faces = problem.grid, problem.faces
    kept = surface_faces(grid)
    fields = {
        "temperature": evaluation.face_temperature[kept],
        "temperature beyond": evaluation.beyond_temperature[kept],
        "heat flux": evaluation.heat[kept] / np.maximum(faces.area[kept], 1e-300),
    }
    if problem.cavities:
        fields |= {
            name: evaluation.absorbed[kept, side] / np.maximum(faces.area[kept], 1e-300)
            for side, name in enumerate(("absorbed", "absorbed beyond"))
        }
    if not problem.cells.fluid.any() or grid.dimensions != 2:
        return fields
    kind, owner = faces.kind[kept], grid.owner[kept]
    velocity = state.velocity[owner].copy()
    # What symmetry leaves is along it; where fluid leaves, it has the velocity of the last cell.
    velocity -= np.einsum("ij,ij->i", velocity, faces.normal[kept])[:, None] * faces.normal[kept]
    leaves = evaluation.flow[kept] != 0.0
    velocity[leaves] = state.velocity[owner[leaves]]
    given = np.isin(kind, (WALL, INTERFACE, INLET))
    velocity[given] = problem.given.velocity[kept][given]
    fields |= {f"velocity {name}": velocity[:, axis] for axis, name in enumerate("xy")}
    if friction:
        point = point_of(problem, state)
        if problem.turbulent.any():
            fields["y plus"] = distances_plus(point)[kept]
        onto = friction_on_walls(point)[kept] / np.maximum(faces.area[kept], 1e-300)[:, None]
        fields |= {f"friction {name}": onto[:, axis] for axis, name in enumerate("xy")}
    return fields
