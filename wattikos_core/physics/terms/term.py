"""What a term of the balances is: its residual, its share of the compact Jacobian and its diagonal, side by side in one file.

A residual is what leaves a cell less what comes about in it: zero when the balance holds. Balances of what is convected are written
Σ F (φ_f - φ_P), the balance of mass times φ_P taken out, so that an iterate whose mass is not balanced yet drags nothing along.

The compact Jacobian reaches from a cell to its face neighbours. Left out on purpose, since the Krylov iteration on the full
residual supplies them: the gradient half of Fromm's scheme, corrections for skewed faces, and the temperature dependence of
viscosity and of the density that flows.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import TYPE_CHECKING, ClassVar, NamedTuple

import numpy as np
from numpy.typing import NDArray

from wattikos_core.grid import Grid
from wattikos_core.physics.cells import Cells
from wattikos_core.physics.cores import Tubes
from wattikos_core.physics.faces import Array, Faces, Given, HeatWeights, Index
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.gradients import Gradients
from wattikos_core.physics.internals import Drag, Fan
from wattikos_core.physics.modules import Module
from wattikos_core.physics.properties import Properties, Tables
from wattikos_core.physics.state import State
from wattikos_core.physics.surfaces import NetRadiation, NextModule
from wattikos_core.physics.turbulence.closure import Turbulence
from wattikos_core.physics.unknowns import Unknowns

if TYPE_CHECKING:
    from wattikos_core.physics.problem import Problem


class Conducted(NamedTuple):
    """The temperature by which heat is conducted, K, shape (n_cells,), and its gradient, K/m, shape (n_cells, 1, d).

    That of cells, but where fluid and matrix have their own: there the mean of both, weighted by what each conducts.
    """

    temperature: Array
    gradient: Array


@dataclass(frozen=True)
class Point:
    """A state with all that its balances have in common.

    Attributes:
        force: on the fluid in cells, N/m3, shape (n_cells, d).
        heads: pressure on outlet faces beyond the one given, Pa (see `outlet_heads`); empty where there are none.
        change: of temperatures from module to module.
        turbulence: what it adds; nothing where all flow is laminar.
        heat_weights: how heat is conducted to faces, with what turbulence adds.
        radiation: what surfaces of cavities absorb from each other.
        conducted: by which temperature heat is conducted.
    """

    problem: Problem
    state: State
    properties: Properties
    force: Array
    heads: Array
    gradients: Gradients
    change: NextModule
    turbulence: Turbulence
    heat_weights: HeatWeights
    radiation: NetRadiation
    conducted: Conducted

    def beyond(self, faces: Index, temperature: Array) -> Array:
        """Temperatures on the neighbours' side of faces (K) as their owners see them: in the next module where they are joined."""
        change, joined = self.change, self.problem.faces.joined[faces] == 1
        further_on = change.about + change.ratio * (temperature - change.about) + change.rise
        return np.where(joined, further_on, temperature)

    def ratio_beyond(self, faces: Index) -> Array:
        """Size of temperature differences on the neighbours' side of faces as their owners see them, shape (n,)."""
        return np.where(self.problem.faces.joined[faces] == 1, self.change.ratio, 1.0)


@dataclass
class Evaluation:
    """Residuals and what passes faces, at a point.

    Attributes:
        residual: of every balance in the order of the unknowns, shape (n_cells, n_unknowns): momentum in N, mass in kg/s, energy in
            W, angular momentum in N m, scalars in kg/s times theirs.
        flow: mass flow through faces from the owner, kg/s.
        heat: heat conducted through faces from the owner, W.
        enthalpy_flow: enthalpy carried through faces from the owner, W.
        scalar_flow: scalars carried through faces from the owner, kg/s times theirs, shape (n_faces, n_scalars).
        face_temperature, face_pressure: on faces, K and Pa; with a contact the temperature on the owner's side.
        beyond_temperature: on faces, on the neighbour's side, K.
        temperature: in cells, K.
        dissipation: heat of friction in cells, W; `compression`: heat of what moves against or along the pressure, W.
        exchanged: heat that streams get in cells from what flows in the tubes of cores, W.
        torque: moment of friction about the axis that passes faces from the owner, N m.
        scalar_amounts: of each scalar, all that comes about in cells, in the unit of its residual, shape (n_scalars,).
        storing, gaining: heat and mass stored in cells, W and kg/s; zero in steady state.
    """

    unknowns: Unknowns
    residual: Array
    flow: Array
    heat: Array
    absorbed: Array
    enthalpy_flow: Array
    scalar_flow: Array
    face_temperature: Array
    face_pressure: Array
    beyond_temperature: Array
    temperature: Array
    dissipation: Array
    compression: Array
    exchanged: Array
    torque: Array
    storing: Array
    gaining: Array
    scalar_amounts: Array

    @staticmethod
    def empty(unknowns: Unknowns, temperature: Array, n_faces: int) -> Evaluation:
        """Nothing evaluated yet but the temperature in cells."""
        n = temperature.size
        face, cell = np.zeros((7, n_faces)), np.zeros((5, n))
        flows = np.zeros((n_faces, len(unknowns.scalars)))
        # One balance after the other: two threads can then add to different ones without getting in each other's way.
        residual = np.zeros((n, unknowns.size), order="F")
        return Evaluation(
            unknowns, residual, face[0], face[1], np.zeros((n_faces, 2)), face[2], flows, face[3], face[4], face[5], temperature,
            cell[0], cell[1], cell[4], face[6], cell[2], cell[3], np.zeros(len(unknowns.scalars)),
        )  # fmt: skip

    def into_cells(self, faces: Index, owns: NDArray[np.bool_]) -> Array:
        """Heat conducted from surfaces into the cells of their owners or, where not `owns`, of neighbours, W: not radiated."""
        heat, absorbed = self.heat[faces], self.absorbed[faces]
        return np.where(owns, absorbed[:, 0] - heat, absorbed[:, 1] + heat)

    @property
    def momentum(self) -> Array:
        """Residual of momentum, N, shape (n_cells, d)."""
        return self.residual[:, : self.unknowns.dimensions]

    @property
    def mass(self) -> Array:
        """Residual of mass, kg/s, shape (n_cells,)."""
        return self.residual[:, self.unknowns.pressure]

    @property
    def energy(self) -> Array:
        """Residual of energy, W, shape (n_cells,)."""
        return self.residual[:, self.unknowns.temperature]

    @property
    def angular_momentum(self) -> Array:
        """Residual of angular momentum, N m, shape (n_cells,); zero without swirl."""
        if not self.unknowns.swirl:
            return np.zeros(len(self.residual))
        return self.residual[:, self.unknowns.angular_velocity[0]]


@dataclass(frozen=True)
class Blocks:
    """Derivatives of the balances in cells.

    Attributes:
        diagonal: (n_cells, m, m), of each cell's balances by its own unknowns.
        off: (n_faces, 2, m, m), of the owner's balances by the neighbour's unknowns, and the other way round.
        flow_by_owner, flow_by_neighbour: (n_faces, m), of a face's mass flow by the unknowns on both sides.
        force_slopes: (n_cells, m, d), of the force on a cell's fluid by its unknowns; `forced` those columns in which it has any.
    """

    diagonal: Array
    off: Array
    flow_by_owner: Array
    flow_by_neighbour: Array
    force_slopes: Array
    forced: np.ndarray


@dataclass
class Coefficients:
    """How the balances of cells answer to their own unknowns by what comes in from their neighbours: a_P, without anything stored.

    Attributes:
        momentum: kg/s, shape (n_cells,), without any sink; `energy`: W/K, shape (n_cells,).
        sink: what holds fluid back in cells themselves, kg/s, shape (n_cells,).
    """

    momentum: Array
    energy: Array
    sink: Array


@dataclass(frozen=True)
class Ingredients:
    """What a problem is put together from, for terms that are chosen by it or refuse it.

    Attributes:
        level: density of each cell that weight is counted against, kg/m3, shape (n_cells,).
        internals: what stands in streams; `tubes` of cores among it.
    """

    grid: Grid
    faces: Faces
    given: Given
    cells: Cells
    physics: FlowPhysics
    level: Array
    tables: Tables
    module: Module | None
    internals: tuple[Fan | Drag, ...] = ()
    tubes: tuple[Tubes, ...] = ()


class Term:
    """A share of the balances; a term overrides what it has a share in.

    Attributes:
        of_energy: whether it adds to the balance of energy alone; such terms and all others are evaluated side by side.
    """

    of_energy: ClassVar[bool] = False

    def check(self, ingredients: Ingredients) -> None:
        """Raise CaseError where the term makes no sense."""

    def couplings(self, unknowns: Unknowns) -> Iterable[tuple[int, int]]:
        """Which unknown (second) enters which balance (first) of its own cell or the next, in this term's compact Jacobian."""
        return ()

    def carried(self, unknowns: Unknowns) -> tuple[int, ...]:
        """Balances that answer to the flow through faces, and with it to velocity, pressure, and what the forces depend on."""
        return ()

    def add_force(self, state: State, properties: Properties, cells: Cells, force: Array) -> None:
        """Add to the force on the fluid of cells, N/m3, shape (n_cells, d)."""

    def forced_by(self, unknowns: Unknowns) -> tuple[int, ...]:
        """Columns of the unknowns on which the term's force on the fluid depends."""
        return ()

    def add_force_slopes(self, point: Point, slopes: Array) -> None:
        """Add the derivatives of that force by the cell's own unknowns, shape (n_cells, m, d)."""

    def add_residual(self, point: Point, interpolation: Array, out: Evaluation) -> None:
        """Add to the residuals, and write what passes faces.

        Args:
            point: the state with what its balances have in common.
            interpolation: V/a_P of momentum interpolation, m3 s/kg, shape (n_cells,).
            out: where it is added.
        """

    def add_jacobian(self, point: Point, interpolation: Array, flow: Array, out: Blocks) -> None:
        """Add to the compact Jacobian, with the mass flow through faces of the same point."""

    def add_coefficients(self, point: Point, flow: Array, out: Coefficients) -> None:
        """Add to a_P."""
