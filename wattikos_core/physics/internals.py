"""What stands in a stream, on the cells of its part: how much flows through a fan, what holds the fluid back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid import Grid
from wattikos_core.internals import ResolvedDrag, ResolvedFan, ResolvedInternal
from wattikos_core.physics.faces import Array, Index

# A matrix neither grows nor shrinks: its density is that at room temperature, K.
_WEIGHED_AT = 293.15


@dataclass(frozen=True)
class Fan:
    """A fan on the cells of its part.

    Attributes:
        cells: of the part, shape (n,); `volume` of them, m3.
        direction: in which it drives, unit vector, shape (d,).
        given: the fan in SI.
        share: of its rise that is there on the way to a solution; 1 in an answer.
    """

    region: int
    cells: Index
    volume: Array
    direction: Array
    given: ResolvedFan
    share: float = 1.0

    @property
    def area(self) -> float:
        """Face of the fan: volume over thickness, m2."""
        return float(self.volume.sum()) / self.given.thickness

    def speed(self, velocity: Array) -> Array:
        """Along the fan's direction in its cells, m/s, from that of all cells, shape (n_cells, d)."""
        return np.asarray(velocity[self.cells] @ self.direction)

    def flow(self, velocity: Array) -> float:
        """Volume flow through the part, m3/s, against its direction if negative."""
        return float(self.volume @ self.speed(velocity)) / self.given.thickness

    def rise(self, flow: float) -> float:
        """Pressure rise at a volume flow through the part, Pa."""
        return self.share * float(self.given.curve(flow / self.given.stands_for))

    def rise_slope(self, flow: float) -> float:
        """How the rise answers to the flow, Pa s/m3."""
        return self.share * float(self.given.curve.slope(flow / self.given.stands_for)) / self.given.stands_for

    def shaft_power(self, flow: float) -> float | None:
        """What the shaft gives, W; None where no efficiency is told."""
        if self.given.efficiency is None:
            return None
        return max(flow * self.rise(flow), 0.0) / self.given.efficiency


@dataclass(frozen=True)
class Drag:
    """What holds the fluid back, on the cells of its part.

    Attributes:
        cells: of the part, shape (n,); `volume` of them, m3.
        axes: unit vectors along which it acts, one per row, shape (2, d).
        given: the same in SI.
    """

    region: int
    cells: Index
    volume: Array
    axes: Array
    given: ResolvedDrag

    def matrix_heat(self, temperature: Array) -> Array:
        """Heat that the matrix holds, J, shape (n,), from temperatures (K) of all cells."""
        matrix = self.given.matrix
        assert matrix is not None
        mass = (1.0 - self.given.porosity) * matrix.density(_WEIGHED_AT) * self.volume
        return np.asarray(mass * matrix.enthalpy(temperature[self.cells]))

    def matrix_capacity(self, temperature: Array) -> Array:
        """Its heat capacity, J/K, shape (n,)."""
        matrix = self.given.matrix
        assert matrix is not None
        mass = (1.0 - self.given.porosity) * matrix.density(_WEIGHED_AT) * self.volume
        return np.asarray(mass * matrix.specific_heat(temperature[self.cells]))

    def matrix_share(self, temperature: Array, conductivity: Array) -> Array:
        """Of what fluid and matrix conduct together in its cells, the share of the matrix, shape (n,); from values of all cells."""
        exchange = self.given.exchange
        assert exchange is not None
        of_fluid = self.given.porosity * exchange.fluid.conductivity(temperature[self.cells])
        return np.asarray(np.clip(1.0 - of_fluid / conductivity[self.cells], 0.0, 1.0))

    def exchange_rate(self, velocity: Array, density: Array, temperature: Array) -> Array:
        """Heat that passes between matrix and fluid for each kelvin in its cells, W/K, shape (n,); from values of all cells."""
        exchange = self.given.exchange
        assert exchange is not None
        flux = density[self.cells] * np.linalg.norm(velocity[self.cells], axis=1)
        return np.asarray(self.volume * exchange.between(self.given.porosity, flux, temperature[self.cells]))

    def force(self, velocity: Array, density: Array, viscosity: Array) -> Array:
        """Force on the fluid of the part's cells, N/m3, shape (n, d), from values of all cells."""
        along = velocity[self.cells] @ self.axes.T
        return np.asarray(-(self.coefficients(velocity, density, viscosity) * along) @ self.axes)

    def coefficients(self, velocity: Array, density: Array, viscosity: Array) -> Array:
        """Force over velocity along both axes, kg/m3/s, shape (n, 2)."""
        given, along = self.given, velocity[self.cells] @ self.axes.T
        if given.curve is not None:
            speed = np.abs(along[:, 0])
            # Towards rest a drop over a speed is the slope of the curve.
            drop = np.where(speed > 0.0, given.curve(speed) / np.maximum(speed, 1e-300), given.curve.slope(0.0))
            aside = 0.5 * density[self.cells] * given.inertial[1] * np.abs(along[:, 1])
            return np.stack([drop / given.thickness, aside], axis=1)
        magnitude = np.abs(along) if given.by_component else np.linalg.norm(along, axis=1, keepdims=True)
        viscous = viscosity[self.cells, None] * np.array(given.viscous)
        return np.asarray(viscous + 0.5 * density[self.cells, None] * np.array(given.inertial) * magnitude)

    def slopes(self, velocity: Array, density: Array, viscosity: Array) -> Array:
        """Derivatives of the force by the velocity, kg/m3/s, shape (n, d, d): of component [1] by component [2]."""
        given, along = self.given, velocity[self.cells] @ self.axes.T
        by_own = np.zeros((self.cells.size, 2, 2))
        coefficients = self.coefficients(velocity, density, viscosity)
        if given.curve is not None:
            by_own[:, 0, 0] = given.curve.slope(np.abs(along[:, 0])) / given.thickness
            by_own[:, 1, 1] = 2.0 * coefficients[:, 1]
        else:
            inertial = 0.5 * density[self.cells, None] * np.array(given.inertial)
            for i in range(2):
                by_own[:, i, i] = coefficients[:, i]
            if given.by_component:
                for i in range(2):
                    by_own[:, i, i] += inertial[:, i] * np.abs(along[:, i])
            else:
                magnitude = np.maximum(np.linalg.norm(along, axis=1), 1e-300)
                by_own += (inertial * along)[:, :, None] * (along / magnitude[:, None])[:, None, :]
        return np.asarray(-np.einsum("ix,nij,jy->nxy", self.axes, by_own, self.axes))


def internals_in(grid: Grid, internals: Sequence[tuple[int, ResolvedInternal]], moving: NDArray[np.bool_]) -> list[Fan | Drag]:
    """What stands in the streams of a grid, by number of the region, where the fluid moves."""
    found: list[Fan | Drag] = []
    for region, given in internals:
        cells = np.nonzero((grid.region == region) & moving)[0]
        if not cells.size:
            continue
        direction = np.zeros(grid.dimensions)
        direction[:2] = given.direction
        if isinstance(given, ResolvedFan):
            found.append(Fan(region, cells, grid.volume[cells], direction, given))
            continue
        across = np.zeros(grid.dimensions)
        across[:2] = -given.direction[1], given.direction[0]
        found.append(Drag(region, cells, grid.volume[cells], np.stack([direction, across]), given))
    return found


def edges_of(grid: Grid, internals: Sequence[Fan | Drag]) -> Index:
    """1 on faces where a force that stands in a part ends, shape (n_faces,)."""
    inside = np.isin(grid.region, [one.region for one in internals])
    other = np.where(grid.neighbour >= 0, grid.neighbour, grid.owner)
    ends = (grid.region[grid.owner] != grid.region[other]) & (inside[grid.owner] | inside[other])
    return np.asarray(ends, dtype=np.int64)
