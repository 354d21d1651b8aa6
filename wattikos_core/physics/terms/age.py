"""The mean age of fluid: how long ago what is at a place entered, a second older every second.

Danckwerts (1953, Chem. Eng. Sci. 2, 1) for vessels, Sandberg (1981, Building and Environment 16, 123) for rooms. The flow-weighted
mean at an outlet is the volume of fluid over the flow, whatever the flow is like.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from typing_extensions import override

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.physics.faces import AS_IT_COMES, INLET, OUTLET, Array
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.terms.scalars import Scalar
from wattikos_core.physics.terms.term import Ingredients, Point

AGE = "age"
# Turbulent Schmidt number; measured ones are 0.2 to 1.3: Tominaga and Stathopoulos (2007), Atmos. Environ. 41, 8091 (from memory).
_SCHMIDT = 0.7


@dataclass(frozen=True)
class AgeOfFluid(Scalar):
    """∇·(ρ u a) = ε ρ + ∇·((ρ D + μ_t/Sc_t) ∇a), zero where fluid enters; in porous parts fluid has the share ε of the volume."""

    @override
    def released(self, point: Point) -> Array:
        return point.problem.voids * point.properties.density * point.problem.cells.volume

    @override
    def conducts(self, point: Point) -> tuple[Array, Array]:
        return super().conducts(point)[0], point.turbulence.stir_owner / _SCHMIDT

    @override
    def check(self, ingredients: Ingredients) -> None:
        grid, given, cells = ingredients.grid, ingredients.given, ingredients.cells
        if grid.joined.size:
            remedy = "leave the age of fluid out, or solve a length with an inlet and an outlet"
            raise CaseError(InputProblem("physics.age", "fluid ages from module to module: its age does not repeat", remedy))
        enters = (given.kind == INLET) | ((given.kind == OUTLET) & (given.fed != AS_IT_COMES))
        closed = np.setdiff1d(cells.body[cells.fluid == 1], cells.body[grid.owner[enters]])
        if closed.size and not ingredients.physics.in_time:
            name = grid.region_names[grid.region[int(np.argmax(cells.body == closed[0]))]]
            problem = f"nothing enters '{name}': its fluid grows older for ever"
            raise CaseError(InputProblem("physics.age", problem, "leave the age of fluid out, or solve in time"))


def age_of_fluid(physics: FlowPhysics) -> Scalar | None:
    """The term where the age of fluid is wanted."""
    return None if physics.age_diffusivity is None else AgeOfFluid(AGE, diffusivity=physics.age_diffusivity)
