"""Fans and pumps: a force over the thickness of their part that raises the pressure by what their curve says at the flow through.

The flow is that through the whole part, so that a fan stands where its curve meets the system's, however uneven the speed is.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from typing_extensions import override

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import Array
from wattikos_core.physics.internals import Fan
from wattikos_core.physics.properties import Properties
from wattikos_core.physics.state import State
from wattikos_core.physics.terms.term import Evaluation, Point, Term
from wattikos_core.physics.unknowns import Unknowns


@dataclass(frozen=True)
class FanForce(Term):
    """Δp(Q)/t along the fan's direction, and the swirl it leaves: ρ u ω r² / t about the axis."""

    fans: tuple[Fan, ...]

    def with_share(self, share: float) -> FanForce:
        """The same fans with a share of their rise."""
        return FanForce(tuple(replace(fan, share=share) for fan in self.fans))

    @override
    def add_force(self, state: State, properties: Properties, cells: Cells, force: Array) -> None:
        for fan in self.fans:
            force[fan.cells] += fan.rise(fan.flow(state.velocity)) / fan.given.thickness * fan.direction

    @override
    def forced_by(self, unknowns: Unknowns) -> tuple[int, ...]:
        return unknowns.velocity if any(not fan.given.curve.flat for fan in self.fans) else ()

    @override
    def add_force_slopes(self, point: Point, slopes: Array) -> None:
        # As if each cell's own velocity were that of the whole fan: exact for changes that are even over it, all others
        # the Krylov iteration on the full residual sees.
        for fan in self.fans:
            slope = fan.rise_slope(fan.flow(point.state.velocity))
            if slope < 0.0:
                by_speed = slope * fan.area / fan.given.thickness
                for row in point.problem.unknowns.velocity:
                    slopes[fan.cells, row, :] += by_speed * fan.direction[row] * fan.direction

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        cells, unknowns = point.problem.cells, point.problem.unknowns
        for fan in self.fans:
            if fan.given.swirl and unknowns.swirl:
                passing = point.properties.density[fan.cells] * np.maximum(fan.speed(point.state.velocity), 0.0) * fan.volume
                torque = passing / fan.given.thickness * fan.given.swirl * cells.radius[fan.cells] ** 2
                out.residual[fan.cells, unknowns.angular_velocity[0]] -= torque


@dataclass(frozen=True)
class FanHeat(Term):
    """What the shaft gives becomes heat: all in the fan where friction heat is not followed, else what the fan itself loses."""

    of_energy = True

    fans: tuple[Fan, ...]
    friction_heat: bool

    @override
    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        for fan in self.fans:
            flow = fan.flow(point.state.velocity)
            power = fan.shaft_power(flow)
            if power is None or power <= 0.0:
                continue
            if self.friction_heat:
                power -= flow * fan.rise(flow)
            passing = fan.volume * np.maximum(fan.speed(point.state.velocity), 0.0)
            heat = power * passing / passing.sum()
            out.dissipation[fan.cells] += heat
            out.energy[fan.cells] -= heat
