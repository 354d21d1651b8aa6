"""Turbulence at a state of a problem."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from wattikos_core.physics.faces import Array, Faces, HeatWeights, Index
from wattikos_core.physics.gradients import Gradients
from wattikos_core.physics.properties import Properties, specific_heats
from wattikos_core.physics.state import State
from wattikos_core.physics.turbulence.closure import (
    Fluid,
    Motion,
    Turbulence,
    nothing_stirred,
    spare_stagnation,
    stir_cells,
    stir_faces,
    stir_walls,
    strain_cells,
)
from wattikos_core.physics.turbulence.constants import A1, ENERGY, INTERMITTENCY, PRANDTL_NEAR
from wattikos_core.physics.turbulence.rough_walls import MOVED_FULLY_ROUGH, rough_layer
from wattikos_core.physics.turbulence.transition import turn_cells
from wattikos_core.physics.turbulence.wall_layer import wall_layer

if TYPE_CHECKING:
    from wattikos_core.physics.problem import Problem


# What is left of turbulence between fins.
_BETWEEN_FINS = 1e-6


def turbulence_at(problem: Problem, state: State, properties: Properties, gradients: Gradients) -> Turbulence:
    """What turbulence adds to a state of a problem that has any."""
    model, first = problem.physics.turbulence, problem.unknowns.scalars.index(ENERGY)
    assert model is not None
    faces, cells = problem.faces, problem.cells._replace(fluid=problem.turbulent)
    fluid = Fluid(
        properties.density,
        properties.viscosity,
        properties.conductivity,
        specific_heats(cells, problem.tables, state.stretched),
        problem.wall_distance + MOVED_FULLY_ROUGH * problem.wall_roughness,
    )
    motion = Motion(
        np.ascontiguousarray(state.scalars[:, first]),
        np.ascontiguousarray(state.scalars[:, first + 1]),
        state.velocity,
        state.angular_velocity,
        gradients.velocity,
        gradients.angular_velocity,
        np.ascontiguousarray(gradients.scalars[:, first]),
        np.ascontiguousarray(gradients.scalars[:, first + 1]),
    )
    found = nothing_stirred(cells.fluid.size, faces.owner.size)
    stir_walls(faces, problem.given, cells, fluid, wall_layer(), rough_layer(), motion, found)
    strain_cells(faces, problem.flow_weights, cells, fluid, motion, found)
    near = PRANDTL_NEAR if model.prandtl == "kays" else 0.0
    stir_cells(cells, fluid, motion, near, A1 if model.limited else np.inf, found)
    if model.turning and not model.transition:
        # Where layers are followed it is so by itself.
        spare_stagnation(cells, found)
    for tubes in problem.tubes:
        # Between fins flow is laminar or has eddies of its own, which UA and the loss coefficient know.
        found.eddy_viscosity[tubes.drag.cells] *= _BETWEEN_FINS
        found.production[tubes.drag.cells] *= _BETWEEN_FINS
    if model.transition:
        share = np.ascontiguousarray(state.scalars[:, problem.unknowns.scalars.index(INTERMITTENCY)])
        turn_cells(cells, fluid, motion, problem.from_wall, share, model.followed, found)
    stir_faces(faces, cells, fluid, model.calming, found)
    for drag in problem.drags:
        if drag.given.exchange is not None:
            _mix_no_heat(faces, drag.cells, found)
    return found


def _mix_no_heat(faces: Faces, cells: Index, found: Turbulence) -> None:
    """Within a matrix eddies are no wider than its pores: what they mix is known as its dispersion."""
    inside = np.zeros(found.eddy_viscosity.size, dtype=bool)
    inside[cells] = True
    found.heat_owner[inside[faces.owner]] = 0.0
    found.heat_neighbour[inside[faces.neighbour] & (faces.neighbour >= 0)] = 0.0


def with_turbulence(faces: Faces, weights: HeatWeights, conductivity: Array, turbulence: Turbulence) -> HeatWeights:
    """How heat is conducted to faces where turbulence adds to it."""
    beyond = np.where(faces.neighbour >= 0, faces.neighbour, faces.owner)
    return weights._replace(
        share_owner=weights.share_owner + turbulence.heat_owner / conductivity[faces.owner],
        share_neighbour=weights.share_neighbour + turbulence.heat_neighbour / conductivity[beyond],
    )
