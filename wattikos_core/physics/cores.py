"""What flows in the tubes of a core, marched from where it enters to where it leaves, cell by cell.

A core is cut into lanes across and stations along its tubes; each bin holds the cells of the stream whose centres lie in it. In a
bin the liquid comes nearer to its cells' temperature by exp(-NTU), the exact answer where these do not change along it; the heat is
shared out among the cells by what each of them conducts. Between two passes what is in the tubes mixes. A liquid stores nothing: in
time it is taken as steady at every instant.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.grid import Grid
from wattikos_core.internals import LiquidSide
from wattikos_core.physics.faces import Array, Index
from wattikos_core.physics.internals import Drag

_SAME_PLACE = 1e-6


@dataclass(frozen=True)
class Tubes:
    """The tubes of a core on the cells of its part.

    Attributes:
        drag: of the core, whose cells these are.
        bins: of each cell, lane by lane: lane times stations plus station, shape (n,).
        lanes: how many, and the pass that each belongs to counted along the core's first axis, shape (n_lanes,).
        widths: share of each lane in its pass, shape (n_lanes,).
        stations: how many.
    """

    drag: Drag
    bins: Index
    lanes: Index
    widths: Array
    stations: int

    @property
    def liquid(self) -> LiquidSide:
        """What flows in the tubes."""
        assert self.drag.given.liquid is not None
        return self.drag.given.liquid

    def speed(self, velocity: Array) -> float:
        """Ahead of the core, along its first axis, m/s."""
        return float(self.drag.volume @ (velocity[self.drag.cells] @ self.drag.axes[0]) / self.drag.volume.sum())

    def exchange(self, velocity: Array, temperature: Array) -> tuple[Array, Array, float]:
        """Heat to the stream in each cell, W, the liquid's temperature in it, K, and that at which it leaves, K.

        Args:
            velocity: of all cells, m/s.
            temperature: of all cells, K.
        """
        liquid, volume = self.liquid, self.drag.volume
        speed = self.speed(velocity)
        ua = self._conductances(velocity, speed)
        there = temperature[self.drag.cells]
        if liquid.table is None:
            heat = ua * (liquid.temperature - there)
            return heat, np.full(volume.size, liquid.temperature), liquid.temperature
        count = self.lanes.size * self.stations
        of_bin = np.bincount(self.bins, ua, count)
        mean = np.divide(np.bincount(self.bins, ua * there, count), of_bin, out=np.zeros(count), where=of_bin > 0.0)
        # The first pass stands where the stream leaves, or where it enters, whichever way the stream goes.
        last_first = liquid.counter == (speed >= 0.0)
        shape = (self.lanes.size, self.stations)
        inside, leaves = _marched(
            of_bin.reshape(shape),
            mean.reshape(shape),
            self.lanes,
            self.widths,
            liquid.capacity_rate,
            liquid.temperature,
            last_first,
            liquid.from_start,
        )
        in_cells = inside.ravel()[self.bins]
        return ua * (in_cells - there), in_cells, float(leaves)

    def conductances(self, velocity: Array) -> Array:
        """UA of each cell, W/K, shape (n,)."""
        return self._conductances(velocity, self.speed(velocity))

    def _conductances(self, velocity: Array, speed: float) -> Array:
        liquid, volume = self.liquid, self.drag.volume
        share = volume / volume.sum()
        if liquid.curve is None:
            return np.asarray(liquid.conductance * share)
        # By the speed in each cell: where little passes, little is exchanged.
        own = np.abs(velocity[self.drag.cells] @ self.drag.axes[0])
        return np.asarray(np.maximum(liquid.curve(own), 0.0) * share)


def tubes_of(grid: Grid, drag: Drag) -> Tubes:
    """The tubes of a core on the grid of its part; CaseError where there are fewer cells across than passes."""
    liquid = drag.given.liquid
    assert liquid is not None
    centre = grid.centre[drag.cells]
    across, along = _binned(centre @ drag.axes[0], drag.cells.size), _binned(centre @ drag.axes[1], drag.cells.size)
    if across[1] * along[1] != drag.cells.size:
        # Of any cells: bins of about their size.
        extent = [float(np.ptp(centre @ axis)) for axis in drag.axes]
        size = np.sqrt(extent[0] * extent[1] / drag.cells.size)
        across, along = (
            _even(centre @ axis, max(2, round(length / size) + 1)) for axis, length in zip(drag.axes, extent, strict=True)
        )
    number, lanes = across
    width = np.bincount(number, drag.volume, lanes)
    middle = (np.cumsum(width) - 0.5 * width) / width.sum()
    of_pass = np.minimum((middle * liquid.passes).astype(np.int64), liquid.passes - 1)
    if np.unique(of_pass).size < liquid.passes:
        name = grid.region_names[drag.region]
        problem = f"'{name}' has {lanes} cells across and {liquid.passes} passes"
        raise CaseError(InputProblem(f"{drag.given.field}.passes", problem, f"make cells finer in '{name}', or passes fewer"))
    shares = width / np.bincount(of_pass, width)[of_pass]
    return Tubes(drag, number * along[1] + along[0], of_pass, shares, along[1])


def _binned(place: Array, most: int) -> tuple[Index, int]:
    """Number of the row of cells that each place lies in, and how many there are."""
    order = np.argsort(place)
    step = np.diff(place[order], prepend=place[order[0]]) > _SAME_PLACE * max(float(np.ptp(place)), 1e-300)
    number = np.zeros(place.size, dtype=np.int64)
    number[order] = np.cumsum(step)
    return number, int(number.max()) + 1


def _even(place: Array, count: int) -> tuple[Index, int]:
    share = (place - place.min()) / max(float(np.ptp(place)), 1e-300)
    return np.minimum((share * count).astype(np.int64), count - 1), count


@njit(cache=True, error_model="numpy", nogil=True)
def _marched(
    ua: Array,
    temperature: Array,
    of_pass: Index,
    widths: Array,
    capacity: float,
    enters: float,
    last_first: bool,
    from_start: bool,
) -> tuple[Array, float]:
    """Mean temperature of the liquid in bins, K, shape (n_lanes, n_stations), and that at which it leaves."""
    lanes, stations = ua.shape
    passes = int(of_pass.max()) + 1
    inside = np.full((lanes, stations), enters)
    entering = enters
    for k in range(passes):
        current = passes - 1 - k if last_first else k
        forwards = from_start == (k % 2 == 0)
        leaving = 0.0
        for lane in range(lanes):
            if of_pass[lane] != current:
                continue
            rate, t = capacity * widths[lane], entering
            for j in range(stations):
                i = j if forwards else stations - 1 - j
                if ua[lane, i] <= 0.0:
                    inside[lane, i] = t
                    continue
                after = temperature[lane, i] + (t - temperature[lane, i]) * np.exp(-ua[lane, i] / rate)
                inside[lane, i] = temperature[lane, i] + rate * (t - after) / ua[lane, i]
                t = after
            leaving += widths[lane] * t
        entering = leaving
    return inside, entering
