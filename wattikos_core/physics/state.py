"""The state of a problem: a value of every unknown in every cell, and what changes from module to module."""

from __future__ import annotations

from dataclasses import astuple, dataclass

import numpy as np

from wattikos_core.physics.faces import Array
from wattikos_core.physics.unknowns import Unknowns


@dataclass(frozen=True)
class Periodicity:
    """What changes from a module that repeats to the next one.

    Attributes:
        pressure_gradient: by which pressure falls along the module, Pa/m.
        ratio, rise: temperature differences change by the ratio, and temperatures by the rise (K) beside it.
        source: heat in every cell of the stream that stands in for a ratio not found yet, W/m3; 0 in an answer.
    """

    pressure_gradient: float = 0.0
    ratio: float = 1.0
    rise: float = 0.0
    source: float = 0.0


# Where nothing repeats.
NOT_PERIODIC = Periodicity()


@dataclass(frozen=True)
class State:
    """Cell values of all unknowns.

    Attributes:
        velocity: m/s, shape (n_cells, d).
        pressure: gauge, Pa, shape (n_cells,).
        stretched: temperature, K, shape (n_cells,); in a material that melts the stretched one (see `materials.melting`). An
            evaluation has the true one.
        angular_velocity: about the axis, rad/s, shape (n_cells,); zero without swirl.
        scalars: further transported quantities, SI, shape (n_cells, n_scalars).
        periodicity: of a module.
    """

    velocity: Array
    pressure: Array
    stretched: Array
    angular_velocity: Array
    scalars: Array
    periodicity: Periodicity = NOT_PERIODIC

    def columns(self, unknowns: Unknowns) -> Array:
        """All of them in the order of the unknowns, shape (n_cells, unknowns.size)."""
        swirl = [self.angular_velocity[:, None]] if unknowns.swirl else []
        return np.concatenate([self.velocity, self.pressure[:, None], self.stretched[:, None], *swirl, self.scalars], axis=1)

    @staticmethod
    def of(columns: Array, unknowns: Unknowns, periodicity: Periodicity = NOT_PERIODIC) -> State:
        """The inverse of `columns`."""
        d = unknowns.dimensions
        angular_velocity = np.ascontiguousarray(columns[:, d + 2]) if unknowns.swirl else np.zeros(len(columns))
        return State(
            np.ascontiguousarray(columns[:, :d]),
            np.ascontiguousarray(columns[:, d]),
            np.ascontiguousarray(columns[:, d + 1]),
            angular_velocity,
            np.ascontiguousarray(columns[:, list(unknowns.transported)]),
            periodicity,
        )

    @staticmethod
    def at_rest(n_cells: int, unknowns: Unknowns, stretched: Array) -> State:
        """Fluid at rest, without pressure, at (stretched) temperatures."""
        zero = np.zeros((n_cells, unknowns.size))
        zero[:, unknowns.temperature] = stretched
        return State.of(zero, unknowns)

    @property
    def speed(self) -> Array:
        """Magnitude of the velocity, m/s, shape (n_cells,)."""
        return np.asarray(np.linalg.norm(self.velocity, axis=1))

    def finite(self) -> bool:
        """Whether every value is a number."""
        values = (self.velocity, self.pressure, self.stretched, self.angular_velocity, self.scalars, astuple(self.periodicity))
        return all(bool(np.isfinite(value).all()) for value in values)
