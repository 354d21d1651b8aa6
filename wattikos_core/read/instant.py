"""What a solution is at one instant, as it is read: fields in cells and on surfaces, and what lies between them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid import Grid
from wattikos_core.physics.faces import Array, Index
from wattikos_core.read.interpolation import Interpolant
from wattikos_core.read.surface_fields import surface_faces


@dataclass(frozen=True)
class Instant:
    """Fields of a grid at one time.

    Attributes:
        between: the interpolant of the grid; one serves all instants of a run.
        fields: in cells by name, SI, shape (n_cells,) each, NaN where there is none.
        surfaces: on `surface_faces` by name, see `surface_fields`; empty where they were not kept.
    """

    between: Interpolant
    fields: Mapping[str, Array]
    surfaces: Mapping[str, Array] = field(default_factory=dict)
    _corners: dict[str, Array] = field(default_factory=dict, repr=False, compare=False)

    @property
    def grid(self) -> Grid:
        """Its grid."""
        return self.between.grid

    def corners(self, name: str) -> Array:
        """Corner values of a field, shape (n_cell_nodes,), reckoned once."""
        if name not in self._corners:
            self._corners[name] = self.between.corners(name, self.fields[name], self.surfaces)
        return self._corners[name]

    def at(self, points: Array, cells: Index, name: str) -> Array:
        """A field at points (n, 2) in their cells; speeds are those of the velocity that is there."""
        if name == "speed" and {"velocity x", "velocity y"} <= self.fields.keys():
            found = [self.at(points, cells, f"velocity {axis}") for axis in "xy"]
            return np.asarray(np.hypot(*found))
        return self.between.sample(points, cells, self.fields[name], self.corners(name))

    @cached_property
    def flows(self) -> NDArray[np.bool_]:
        """Whether fluid that may move is in each part, in the order of the grid's."""
        there = np.isfinite(self.fields["speed"]) if "speed" in self.fields else np.zeros(self.grid.n_cells, dtype=bool)
        return np.bincount(self.grid.region, weights=there, minlength=len(self.grid.region_names)) > 0.0

    @cached_property
    def kept(self) -> Index:
        """The faces that `surfaces` are on."""
        return surface_faces(self.grid)

    def on_faces(self, name: str, faces: Index) -> Array:
        """A field of surfaces on some of their faces."""
        return np.asarray(self.surfaces[name][np.searchsorted(self.kept, faces)])
