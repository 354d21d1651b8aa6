"""What cells store: mass, momentum, heat and angular momentum, and how a step in time adds it to their balances."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from wattikos_core.physics.faces import Array, Index
from wattikos_core.physics.properties import Properties
from wattikos_core.physics.residual import Evaluation


@dataclass(frozen=True)
class Stored:
    """Amounts in cells, shape (n_cells,) each: kg, N s (both directions), J, and N m s.

    The heat of a closed gas is its enthalpy less its pressure times its volume.
    """

    mass: Array
    momentum_x: Array
    momentum_y: Array
    heat: Array
    swirl: Array

    def ahead(self, other: Stored, factor: float) -> Stored:
        """`self` plus `factor` times what `other` has more."""
        return Stored(*(a + factor * (b - a) for a, b in zip(self.arrays(), other.arrays(), strict=True)))

    def arrays(self) -> tuple[Array, Array, Array, Array, Array]:
        """All five."""
        return self.mass, self.momentum_x, self.momentum_y, self.heat, self.swirl


@dataclass(frozen=True)
class Storage:
    """A step in time: what was stored at its beginning, and its effective length in s.

    A stage of a diagonally implicit Runge-Kutta method is such a step, from a beginning that carries what earlier
    stages have brought.
    """

    before: Stored
    interval: float


def stored(properties: Properties, volume: Array, radius: Array, state: Any, pressure: Array) -> Stored:
    """What the cells of a state hold; `pressure` (Pa) is that of each cell's property table, 0 where it does no work."""
    mass = properties.density * volume
    heat = mass * properties.enthalpy - (properties.filling - 1.0) * pressure * volume
    return Stored(mass, mass * state.u, mass * state.v, heat, mass * radius**2 * state.spin)


def with_storage(
    evaluation: Evaluation, storage: Storage, now: Stored, properties: Properties, radius: Array, state: Any, pin: Index
) -> Evaluation:
    """The evaluation with what cells store, in the form Σ F (φ_f - φ_P) of the balances."""
    before, per = storage.before, 1.0 / storage.interval
    gaining = (now.mass - before.mass) * per
    storing = (now.heat - before.heat) * per
    return evaluation._replace(
        momentum_x=evaluation.momentum_x + (now.momentum_x - before.momentum_x) * per - state.u * gaining,
        momentum_y=evaluation.momentum_y + (now.momentum_y - before.momentum_y) * per - state.v * gaining,
        mass=np.where(pin == 1, evaluation.mass, evaluation.mass + gaining),
        energy=evaluation.energy + storing - properties.carried * gaining,
        swirl=evaluation.swirl + (now.swirl - before.swirl) * per - radius**2 * state.spin * gaining,
        storing=storing,
        gaining=gaining,
    )
