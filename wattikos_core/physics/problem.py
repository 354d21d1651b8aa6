"""A discrete problem: a grid, materials per region and conditions per boundary, ready for the solvers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from wattikos_core.boundaries import FaceCondition
from wattikos_core.grid import Grid
from wattikos_core.materials import PropertyTable
from wattikos_core.physics.cavities import Cavity
from wattikos_core.physics.cells import Cells
from wattikos_core.physics.cores import Tubes
from wattikos_core.physics.faces import (
    AS_IT_COMES,
    OUTLET,
    Array,
    Faces,
    FlowWeights,
    Given,
    HeatWeights,
    Index,
)
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.internals import Drag, Fan
from wattikos_core.physics.modules import Module
from wattikos_core.physics.properties import Gases, Properties, Tables
from wattikos_core.physics.scales import Scales, Totals
from wattikos_core.physics.state import Periodicity
from wattikos_core.physics.terms import Term
from wattikos_core.physics.terms.storage import Storage
from wattikos_core.physics.unknowns import Unknowns


@dataclass(frozen=True)
class Problem:
    """What the solvers work on.

    Attributes:
        faces, given, flow_weights, heat_weights: see `physics.faces`.
        unknowns, terms: what is sought in cells, and the terms of the balances that decide it.
        pins: cells whose pressure level is fixed.
        body: number of the connected body of fluid of each cell, -1 in solids.
        heat_body: number of the connected body that heat passes, of each cell.
        fed: whether a stream enters each body of fluid by a mass flow or velocity given, shape (n_bodies,).
        orthogonal: whether no face needs corrections for skewness.
        blend: 1 for Fromm's scheme, 0 for upwind.
        rotating: interfaces of solids that turn, with angular velocity (rad/s) and velocity of faces (m/s).
        totals: what conditions add up to, by face.
        entering: values of scalars at inlets, shape (n_faces, n_scalars); `vanishing`: 1 for each that is zero on walls.
        turbulent: 1 in cells whose flow is turbulent; `wall_distance` of their centres, `wall_roughness` of the walls next to them,
            m, `from_wall`, the direction away from them, and `extent`, m2 (see `turbulence.wall_distance`); empty where nothing
            is.
        storage: the step in time that is being taken; None in steady state.
        module: what repeats along a stream; None where nothing does.
        start: temperatures that a run in time begins with, K.
        internals: what stands in streams.
        cavities: whose surfaces radiate to each other.
        tubes: of cores.
    """

    grid: Grid
    faces: Faces
    given: Given
    flow_weights: FlowWeights
    heat_weights: HeatWeights
    cells: Cells
    tables: Tables
    gases: Gases
    unknowns: Unknowns
    terms: tuple[Term, ...]
    pins: Index
    materials: tuple[PropertyTable, ...]
    conditions: Mapping[str, FaceCondition]
    scales: Scales
    body: Index
    heat_body: Index
    fed: NDArray[np.bool_]
    orthogonal: bool
    blend: float
    physics: FlowPhysics
    rotating: Mapping[str, tuple[float, Array]]
    totals: Totals
    entering: Array
    vanishing: tuple[int, ...]
    turbulent: Index
    wall_distance: Array
    from_wall: Array
    wall_roughness: Array
    extent: Array
    storage: Storage | None = None
    module: Module | None = None
    start: Array | None = None
    internals: tuple[Fan | Drag, ...] = ()
    cavities: tuple[Cavity, ...] = ()
    tubes: tuple[Tubes, ...] = ()

    @property
    def fans(self) -> tuple[Fan, ...]:
        """The fans among what stands in streams."""
        return tuple(one for one in self.internals if isinstance(one, Fan))

    @property
    def drags(self) -> tuple[Drag, ...]:
        """Resistances and porous parts among what stands in streams."""
        return tuple(one for one in self.internals if isinstance(one, Drag))

    @property
    def voids(self) -> Array:
        """Of the volume of cells, the share that fluid has, shape (n_cells,); one where no porous part stands."""
        share = np.ones(self.grid.n_cells)
        for drag in self.drags:
            share[drag.cells] = drag.given.porosity
        return share

    def matrix_share(self, properties: Properties) -> Array:
        """Of what is conducted in cells, the share of a matrix that has its own temperature, shape (n_cells,); zero elsewhere."""
        share = np.zeros(self.grid.n_cells)
        for drag in self.drags:
            if drag.given.exchange is not None:
                share[drag.cells] = drag.matrix_share(properties.temperature, properties.conductivity)
        return share

    @property
    def all_terms(self) -> tuple[Term, ...]:
        """The terms, with what cells store where a step in time is taken."""
        return self.terms if self.storage is None else (*self.terms, self.storage)

    def source_in(self, periodicity: Periodicity) -> Array:
        """Heat released in cells, W/m3: sources, and in a module's stream what stands in for a ratio that is not found yet."""
        if self.module is None or not periodicity.source:
            return self.cells.source
        streaming = self.cells.material == self.module.region
        return np.where(streaming, self.cells.source + periodicity.source, self.cells.source)

    def drive_in(self, periodicity: Periodicity) -> Array:
        """Force that stands for the pressure that falls along a module, N/m3, shape (d,); zero where nothing repeats."""
        return np.zeros(self.grid.dimensions) if self.module is None else periodicity.pressure_gradient * self.module.along

    @property
    def fluid_regions(self) -> NDArray[np.bool_]:
        """Which regions are of a fluid, shape (n_regions,)."""
        return np.array([m.fluid for m in self.materials])

    @property
    def table_pressure(self) -> Array:
        """Pressure of each cell's table where it is a closed gas, 0 elsewhere, Pa."""
        of_region = np.array([m.pressure if m.gas else 0.0 for m in self.materials])
        return np.asarray(of_region[self.grid.region])

    @property
    def streams_enter(self) -> bool:
        """Whether a stream enters anywhere by a mass flow or velocity given."""
        return bool(self.fed.any())

    @property
    def driven(self) -> NDArray[np.bool_]:
        """Whether a stream is driven through each body of fluid: by what enters, by a pressure at an inlet, or by a fan."""
        by_pressure = self.fed.copy()
        inlets = (self.faces.kind == OUTLET) & (self.given.fed != AS_IT_COMES)
        by_pressure[self.body[self.faces.owner[inlets]]] = True
        for fan in self.fans:
            by_pressure[self.body[fan.cells]] = True
        return by_pressure

    @property
    def passes(self) -> int:
        """Gradient passes the temperature needs."""
        return 1 if self.orthogonal else 2

    @property
    def has_flow(self) -> bool:
        """Whether any fluid cell exists."""
        return bool(self.cells.fluid.any())

    def table_of_region(self, name: str) -> PropertyTable:
        """The property table of a region."""
        return self.materials[self.grid.region_names.index(name)]
