"""Cell fields for pictures and files."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from wattikos_core.physics import Evaluation, Problem, State, point_of
from wattikos_core.physics.faces import Array
from wattikos_core.physics.properties import liquid_fractions
from wattikos_core.physics.terms.age import AGE
from wattikos_core.physics.unknowns import MATRIX
from wattikos_core.read.derived import derived_fields
from wattikos_core.read.internals import matrix_temperature
from wattikos_core.read.turbulence import turbulence_fields

# Name and kind of quantity.
FIELDS: dict[str, str] = {
    "temperature": "temperature",
    "speed": "velocity",
    "pressure": "pressure",
    "velocity x": "velocity",
    "velocity y": "velocity",
    "swirl": "velocity",
    "liquid fraction": "ratio",
    "age": "time",
    "temperature in tubes": "temperature",
    "temperature of the matrix": "temperature",
    "turbulence energy": "turbulence_energy",
    "turbulence frequency": "rate",
    "eddy viscosity ratio": "number",
    "intermittency": "ratio",
    "total pressure": "pressure",
    "heat flux": "heat_flux",
    "stream function": "mass_flow",
    "vorticity": "rate",
    "density": "density",
    "viscosity": "viscosity",
    "conductivity": "conductivity",
    "Péclet number": "number",
    "Courant number": "number",
    "cell size": "length",
}


def cell_fields(problem: Problem, state: State, evaluation: Evaluation) -> dict[str, Array]:
    """The fields a case has, by name, shape (n_cells,) each; NaN where only moving fluids, or what melts, have them."""
    point = point_of(problem, state)
    fields = {"temperature": point.properties.temperature}
    flows = problem.cells.fluid == 1
    if flows.any():
        fields |= flow_fields(state, flows)
        # In a module pressure falls along the stream beside what repeats.
        fields["pressure"] = fields["pressure"] - problem.grid.centre @ problem.drive_in(state.periodicity)
    if problem.unknowns.swirl:
        fields["swirl"] = np.where(flows, state.angular_velocity * problem.cells.radius, np.nan)
    if problem.tables.melts.any():
        fields["liquid fraction"] = liquid_fractions(problem.cells, problem.tables, state.stretched)
    if AGE in problem.unknowns.scalars:
        fields[AGE] = np.where(flows, state.scalars[:, problem.unknowns.scalars.index(AGE)], np.nan)
    if MATRIX in problem.unknowns.scalars:
        fields["temperature of the matrix"] = matrix_temperature(point)
    if problem.tubes:
        fields["temperature in tubes"] = in_tubes = np.full(problem.grid.n_cells, np.nan)
        for tubes in problem.tubes:
            in_tubes[tubes.drag.cells] = tubes.exchange(state.velocity, point.properties.temperature)[1]
    return fields | turbulence_fields(point) | derived_fields(point, evaluation, fields.get("pressure"))


def flow_fields(state: State, flows: NDArray[np.bool_]) -> dict[str, Array]:
    """Speed, pressure and velocities where fluid flows, NaN elsewhere."""
    values = {"speed": state.speed, "pressure": state.pressure}
    values |= {f"velocity {axis}": component for axis, component in zip("xyz", state.velocity.T, strict=False)}
    return {name: np.where(flows, value, np.nan) for name, value in values.items()}
