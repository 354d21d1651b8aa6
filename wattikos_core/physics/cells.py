"""What the kernels need to know about cells."""

from __future__ import annotations

from typing import NamedTuple

from wattikos_core.physics.faces import Array, Index


class Cells(NamedTuple):
    """Cell data for the kernels; arrays of shape (n_cells,).

    Attributes:
        volume, radius: m3, m (0 in flat sections).
        material: index of the property table of each cell.
        fluid: 1 where there is fluid that moves.
        pin: 1 where the pressure level is fixed in place of a balance of mass.
        source: W/m3.
        body: number of the connected body of fluid, -1 in solids.
        low, high: temperatures that nothing here can leave, by what is given, K; infinite where there is no such bound.
    """

    volume: Array
    radius: Array
    material: Index
    fluid: Index
    pin: Index
    source: Array
    body: Index
    low: Array
    high: Array
