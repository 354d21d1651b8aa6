"""When a solve is finished: residuals, watched quantities and balances, all of them.

Residuals are L1 norms, body by body, scaled by what drives the flow and by the heat that passes; the worst body counts.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from wattikos_core.ledger import Key
from wattikos_core.physics import Evaluation, Periodicity, Problem, State, bulk_temperatures
from wattikos_core.physics.faces import Array
from wattikos_core.physics.scales import LEAST_SPAN, per_body, spans
from wattikos_core.physics.state import NOT_PERIODIC
from wattikos_core.physics.unknowns import MATRIX

# Heat that passes surfaces.
_HEAT = ("heat_between", "heat_out", "heat_in")
# A watched quantity has settled when it moves by less than this share of its size between steps.
WATCH_TOLERANCE = 1e-6
_EPSILON = float(np.finfo(float).eps)


# Sums of this many ulps of what makes them up are round-off.
_ULPS = 8.0


@dataclass(frozen=True)
class Norms:
    """Scaled residuals; 1 is about the size of what drives the case. Each is of the body that is worst.

    Attributes:
        momentum, mass, energy: sums over all cells of a body.
        velocity, temperature: by how much those of any one cell are off, as shares of their scales. In steady state this is
        what the
            cell's own balance would change, which sums do not see in the smallest cells, those next to an axis; in time it bounds
            the error: what is open over what the cell stores in the step.
        scalars: sums over all cells, of further transported quantities; `turbulence` of k and g, None where all flow is laminar;
            `matrix` of what matrices exchange that have a temperature of their own.
        pace: momentum, mass, and heat against all that cells could exchange: how far there is to go, which is what steps on the way
            are led by. It falls short of telling how exact an answer is.
    """

    momentum: float
    mass: float
    energy: float
    velocity: float
    temperature: float
    pace: float = 0.0
    scalars: float = 0.0
    turbulence: float | None = None
    matrix: float = 0.0

    @property
    def heat(self) -> float:
        """Of all temperatures."""
        return max(self.energy, self.matrix)

    @property
    def flow(self) -> float:
        """The larger of momentum and mass."""
        return max(self.momentum, self.mass)

    @property
    def worst(self) -> float:
        """The largest of all."""
        return max(self.momentum, self.mass, self.energy, self.scalars, self.matrix)

    def as_dict(self) -> dict[str, float]:
        """By name, for events and records."""
        told = {"momentum": self.momentum, "mass": self.mass, "energy": self.energy}
        return told | {"turbulence": self.turbulence} if self.turbulence is not None else told


class Diagonals(NamedTuple):
    """How the balances of each cell answer to its own unknowns, shape (n_cells,) each.

    Attributes:
        momentum, energy: kg/s and W/K, with what is stored over a step in time.
        inertia, storage: the part of it that is stored; zero in steady state.
        passing: mass flow of the scale of speeds through a cell, kg/s; zero in steady state.
    """

    momentum: Array
    energy: Array
    inertia: Array
    storage: Array
    passing: Array


def norms(problem: Problem, state: State, evaluation: Evaluation, diagonals: Diagonals) -> Norms:
    """Momentum: Σ|R| / Σ a_P U. Mass: Σ|ΣF| over what passes. Energy: Σ|R| over the heat that passes (see `heat_passing`).

    Velocity and temperature: the largest |R| / a_P U and |R| / a_P ΔT in steady state. In time the largest |R| / S U and |R|
    / S ΔT, with
    the storage S of the cell over the step: since no sum of the coefficients of an implicit balance in a row is less than S,
    no cell is
    further from the solution of its stage than this (for conduction this is a bound, whatever the grid). Where something melts,
    its latent heat counts as part of ΔT.
    """
    scales, in_time = problem.scales, problem.storage is not None
    momentum = mass = velocity = 0.0
    stretch = np.array([table.stretch for table in problem.materials])[problem.grid.region]
    span = spans(problem.heat_body, evaluation.temperature, scales.span)
    noise = _ULPS * _EPSILON * diagonals.energy * np.abs(evaluation.temperature)
    off = np.maximum(np.abs(evaluation.energy) - noise, 0.0)
    answer = diagonals.storage if in_time else diagonals.energy
    temperature = float(np.max(off / (answer * (span + stretch))))
    fluid = problem.cells.fluid == 1
    if fluid.any():
        body = np.where(fluid, problem.body, -1)
        count = scales.mass.size
        there = np.bincount(body[fluid], minlength=count) > 0
        force = np.linalg.norm(evaluation.momentum, axis=1)
        left = np.abs(evaluation.momentum).sum(axis=1)
        if problem.unknowns.swirl:
            # Angular momentum over its lever is a force too.
            left = left + np.abs(evaluation.angular_momentum) / np.where(problem.cells.radius > 0.0, problem.cells.radius, 1.0)
        drive = per_body(body, diagonals.momentum * scales.velocity, count)
        momentum = float(np.max(per_body(body, left, count)[there] / drive[there]))
        passing = np.maximum(scales.mass, 1e-300)
        mass = float(np.max((per_body(body, np.abs(evaluation.mass), count) / passing)[there]))
        inert = diagonals.inertia if in_time else diagonals.momentum
        velocity = float(np.max((force / (inert * scales.velocity))[fluid]))
        if in_time:
            # The continuity residual of a cell is judged against the mass flow through the cell.
            velocity = max(velocity, float(np.max(np.abs(evaluation.mass[fluid]) / diagonals.passing[fluid])))
    number = problem.heat_body
    left = per_body(number, off, scales.span.size)
    energy = float(np.max(left / heat_passing(problem, evaluation, state.periodicity)))
    if problem.module is not None:
        mass += abs(flow_missing(problem, evaluation))
        energy += abs(temperature_missing(problem, evaluation, state.periodicity))
    exchanged = float(np.sum(diagonals.energy * (span + stretch)))
    pace = max(momentum, mass, float(np.sum(off)) / exchanged)
    scalars = matrix = 0.0
    names = problem.unknowns.scalars
    for name, column, amount in zip(names, problem.unknowns.transported, evaluation.scalar_amounts, strict=True):
        # The imbalance of a scalar is judged against its sources.
        own = float(np.abs(evaluation.residual[fluid, column]).sum()) / max(float(amount), 1e-300)
        if name == MATRIX:
            matrix = own
        else:
            scalars = max(scalars, own)
    turbulence = None
    if problem.turbulent.any():
        pace, turbulence = max(pace, scalars), scalars
    return Norms(momentum, mass, energy, velocity, temperature, pace, scalars, turbulence, matrix)


def heat_passing(problem: Problem, evaluation: Evaluation, periodicity: Periodicity) -> Array:
    """Heat that passes each body of heat, W, shape (n_heat_bodies,): what its residuals are measured against.

    The larger of half of all that passes outer faces, sources and the storage of cells, what sources and fluxes give, and what the
    streams that enter would take on over the temperatures given. All of it is there in an answer, or given.
    """
    scales, number = problem.scales, problem.heat_body
    _, amounts, level = heat_account(problem, evaluation, periodicity)
    amounts = amounts + per_body(number, np.abs(evaluation.storing - level[number] * evaluation.gaining), amounts.size)
    streams = scales.capacity * np.maximum(scales.span, LEAST_SPAN)
    return np.asarray(np.maximum.reduce([0.5 * amounts, scales.heat, streams, np.full(amounts.size, 1e-300)]))


def heat_account(problem: Problem, evaluation: Evaluation, periodicity: Periodicity = NOT_PERIODIC) -> tuple[Array, Array, Array]:
    """The account of heat of each body of heat, shape (n_heat_bodies,) each.

    Returns:
        what leaves over its outer faces, plus what is stored, less all sources, W; the sum of all these amounts, W; the mean
        enthalpy of what enters, J/kg, against which enthalpies are taken, so that the level chosen for them hides no imbalance.
    """
    count, number = problem.scales.span.size, problem.heat_body
    outer = problem.grid.neighbour < 0
    of_face = number[problem.faces.owner[outer]]
    flow, heat, carried = evaluation.flow[outer], evaluation.heat[outer], evaluation.enthalpy_flow[outer]
    entering = flow < 0.0
    total = per_body(of_face, np.where(entering, flow, 0.0), count)
    level = per_body(of_face, np.where(entering, carried, 0.0), count)
    level = np.divide(level, total, out=np.zeros(count), where=total != 0.0)
    net = carried - level[of_face] * flow
    released = problem.source_in(periodicity) * problem.grid.volume + evaluation.dissipation + evaluation.compression
    released = released + evaluation.exchanged
    source = per_body(number, released, count)
    # What surfaces absorb from each other comes to nothing: what is left shines on them from elsewhere.
    source += per_body(number[problem.faces.owner], evaluation.absorbed.sum(axis=1), count)
    stored = per_body(number, evaluation.storing - level[number] * evaluation.gaining, count)
    repeated = np.zeros(count)
    if problem.module is not None:
        repeated[number[problem.faces.owner[problem.module.faces[0]]]] = _kept_by_module(problem, evaluation, periodicity)
    leaving = per_body(of_face, net + heat, count) - source + stored + repeated
    amounts = per_body(of_face, np.abs(net) + np.abs(heat), count) + np.abs(source) + np.abs(stored) + np.abs(repeated)
    return leaving, amounts, level


def heat_sum(problem: Problem, evaluation: Evaluation, periodicity: Periodicity = NOT_PERIODIC) -> tuple[float, float]:
    """Heat that leaves over all boundaries, plus what is stored, less all sources, W; and half the sum of all amounts, W."""
    leaving, amounts, _ = heat_account(problem, evaluation, periodicity)
    return float(leaving.sum()), 0.5 * float(amounts.sum())


def imbalances(problem: Problem, evaluation: Evaluation, periodicity: Periodicity) -> tuple[float, float]:
    """Imbalance of mass (share of what passes) and of heat (share of the heat that passes, or is stored), of the worst body.

    What is below the round-off of the temperatures themselves is no imbalance, however little passes.
    """
    scales, body = problem.scales, problem.body
    outer = problem.grid.neighbour < 0
    count = scales.mass.size
    of_face, flow = body[problem.faces.owner[outer]], evaluation.flow[outer]
    gained = per_body(body, evaluation.gaining, count)
    through = np.maximum(0.5 * per_body(of_face, np.abs(flow), count) + np.abs(gained), np.maximum(scales.mass, 1e-300))
    mass = float(np.max(np.abs(per_body(of_face, flow, count) + gained) / through, initial=0.0))
    leaving, amounts, _ = heat_account(problem, evaluation, periodicity)
    noise = _ULPS * _EPSILON * (scales.capacity + scales.conductance) * float(np.abs(evaluation.temperature).max())
    # Heat that would change the streams by less than a microkelvin counts as zero.
    passing = np.maximum(0.5 * amounts, np.maximum(1e-6 * scales.capacity, 1e-300))
    return mass, float(np.max(np.maximum(np.abs(leaving) - noise, 0.0) / passing))


def _kept_by_module(problem: Problem, evaluation: Evaluation, periodicity: Periodicity) -> float:
    """Heat that leaves a module at its downstream end less what enters it upstream, W."""
    module, joined = problem.module, problem.grid.joined
    assert module is not None
    table = problem.materials[module.region]
    flow, carried = evaluation.flow, evaluation.enthalpy_flow
    upstream, downstream = bulk_temperatures(module, table, flow, carried, periodicity.ratio, periodicity.rise)
    warmed = float(flow[module.faces].sum()) * float(table.enthalpy(downstream) - table.enthalpy(upstream))
    return warmed + float(evaluation.heat[joined].sum()) * (1.0 - 1.0 / periodicity.ratio)


def flow_missing(problem: Problem, evaluation: Evaluation) -> float:
    """By what share of the given mass flow more passes a module; 0 where the fall of pressure is given."""
    module = problem.module
    if module is None or module.mass_flow is None:
        return 0.0
    return float(evaluation.flow[module.faces].sum()) / module.mass_flow - 1.0


def temperature_missing(problem: Problem, evaluation: Evaluation, periodicity: Periodicity) -> float:
    """By how much the mixed-mean temperature at a module's upstream end is above the given one, as share of all temperatures."""
    module = problem.module
    assert module is not None
    table = problem.materials[module.region]
    upstream, _ = bulk_temperatures(module, table, evaluation.flow, evaluation.enthalpy_flow, periodicity.ratio, periodicity.rise)
    return (upstream - module.temperature) / module_span(problem)


def module_span(problem: Problem) -> float:
    """Temperature scale of a module, K: what is given in it, or one where nothing differs."""
    given = float(problem.scales.span.max())
    return given if given > LEAST_SPAN else 1.0


def settled(before: Mapping[Key, float], now: Mapping[Key, float]) -> bool:
    """Whether every watched quantity has stopped moving, measured against its own size.

    Heat of one boundary is measured against that of the largest: what is left between two large amounts has none of its own.
    """
    if not now:
        return True
    if before.keys() != now.keys():
        return False
    most = max((abs(value) for key, value in now.items() if key.quantity in _HEAT), default=0.0)
    sizes = {key: most if key.quantity in _HEAT else abs(value) for key, value in now.items()}
    return all(abs(now[k] - before[k]) <= WATCH_TOLERANCE * max(sizes[k], 1e-300) for k in now)
