"""When a solve is finished: residuals, watched quantities and balances, all of them.

Residuals are L1 norms scaled by conditions and sources, never by the state (a state's own range can be zero).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wattikos_core.physics import Evaluation, Problem, bulk_temperatures
from wattikos_core.physics.faces import Array

# A watched quantity has settled when it moves by less than this share of its size between steps.
WATCH_TOLERANCE = 1e-6


@dataclass(frozen=True)
class Norms:
    """Scaled residuals; 1 is about the size of what drives the case.

    Attributes:
        momentum, mass, energy: sums over all cells.
        velocity, temperature: by how much those of any one cell are off its own balance, as shares of their scales; sums do not
            see the smallest cells, those next to an axis.
    """

    momentum: float
    mass: float
    energy: float
    velocity: float
    temperature: float

    @property
    def flow(self) -> float:
        """The larger of momentum and mass."""
        return max(self.momentum, self.mass)

    @property
    def worst(self) -> float:
        """The largest of the three."""
        return max(self.momentum, self.mass, self.energy)

    def as_dict(self) -> dict[str, float]:
        """By name, for events and records."""
        return {"momentum": self.momentum, "mass": self.mass, "energy": self.energy}


def norms(problem: Problem, state: Evaluation, momentum_diagonal: Array, energy_diagonal: Array) -> Norms:
    """Momentum: Σ|R| / Σ a_P U. Mass: Σ|ΣF| / inflow. Energy: Σ|R| / (inflow c_p ΔT, or Σ a_P ΔT without inflow).

    Velocity and temperature: the largest |R| / a_P U and |R| / a_P ΔT; where something melts, its latent heat counts as part of ΔT.
    """
    fluid = problem.cells.fluid == 1
    scales = problem.scales
    momentum = 0.0
    mass = 0.0
    velocity = 0.0
    spans = np.array([scales.temperature + table.stretch for table in problem.materials])
    temperature = float(np.max(np.abs(state.energy) / (energy_diagonal * spans[problem.grid.region])))
    if fluid.any():
        drive = float(momentum_diagonal[fluid].sum()) * scales.velocity
        left = float(np.abs(state.momentum_x[fluid]).sum() + np.abs(state.momentum_y[fluid]).sum())
        if problem.forces.swirl == 1:
            # Angular momentum over its lever is a force too.
            left += float((np.abs(state.swirl[fluid]) / problem.cells.radius[fluid]).sum())
        momentum = left / drive
        force = np.hypot(state.momentum_x, state.momentum_y)[fluid]
        velocity = float(np.max(force / momentum_diagonal[fluid])) / scales.velocity
        passing = problem.inflow if problem.inflow > 0.0 else problem.scales.mass
        mass = float(np.abs(state.mass[fluid]).sum()) / max(passing, 1e-300)
    rate = problem.inflow_capacity if problem.inflow > 0.0 and problem.storage is None else float(energy_diagonal.sum())
    energy = float(np.abs(state.energy).sum()) / (rate * scales.temperature)
    if problem.module is not None:
        mass += abs(flow_missing(problem, state))
        energy += abs(temperature_missing(problem, state, problem.forces.ratio, problem.forces.jump))
    return Norms(momentum, mass, energy, velocity, temperature)


def flow_missing(problem: Problem, evaluation: Evaluation) -> float:
    """By what share of the given mass flow more passes a module; 0 where the fall of pressure is given."""
    module = problem.module
    if module is None or module.mass_flow is None:
        return 0.0
    return float(evaluation.flow[module.faces].sum()) / module.mass_flow - 1.0


def temperature_missing(problem: Problem, evaluation: Evaluation, ratio: float, jump: float) -> float:
    """By how much the mixed-mean temperature at a module's upstream end is above the given one, as share of all temperatures."""
    module = problem.module
    assert module is not None
    table = problem.materials[module.region]
    upstream, _ = bulk_temperatures(module, table, evaluation.flow, evaluation.enthalpy_flow, ratio, jump)
    return (upstream - module.temperature) / problem.scales.temperature


def settled(before: dict[str, float], now: dict[str, float]) -> bool:
    """Whether every watched quantity has stopped moving, measured against its own size."""
    if not now:
        return True
    if before.keys() != now.keys():
        return False
    return all(abs(now[k] - before[k]) <= WATCH_TOLERANCE * max(abs(now[k]), 1e-300) for k in now)
