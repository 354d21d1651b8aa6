"""The segregated method: SIMPLEC in corrections, with Anderson acceleration.

SIMPLEC after Van Doormaal and Raithby (1984, Numer. Heat Transfer 7, 147), written as corrections to the same residuals
the coupled method drives to zero, so that both methods give the same answer. Anderson acceleration after Walker and
Ni (2011, SIAM J. Numer. Anal. 49, 1715); its weights sum to one. It begins when the residuals are small, since mixing
states from far away hurts.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from wattikos_core.physics import Problem, State, compact_blocks
from wattikos_core.physics.faces import FLOW, OUTLET, Array
from wattikos_core.physics.gradients import pressure_gradients
from wattikos_core.physics.scales import spans
from wattikos_core.physics.terms import Blocks
from wattikos_core.solve.coupled import Report
from wattikos_core.solve.iterate import Iterate, evaluate_state, look_at

_RELAX_MOMENTUM = 0.85
_RELAX_ENERGY = 0.97
_DEPTH = 8
_EVERY = 4
_START_BELOW = 0.1
# Residuals of so many times their scales come back from nowhere.
_FAR_ASTRAY = 1e6


class RanAway(RuntimeError):
    """The iteration went so far astray that its equations have no solution."""


class _Anderson:
    """Mixes the last states so that their changes cancel best."""

    def __init__(self, scale: Array) -> None:
        self.scale = scale
        self.before: list[Array] = []
        self.after: list[Array] = []

    def mix(self, before: Array, after: Array, now: bool) -> Array:
        """Remember a step; when `now`, return the combination of the remembered results with the smallest change."""
        self.before.append(before / self.scale)
        self.after.append(after / self.scale)
        if len(self.before) > _DEPTH + 1:
            self.before.pop(0)
            self.after.pop(0)
        if not now or len(self.before) < 3:
            return after
        changes = np.array([a - b for a, b in zip(self.after, self.before, strict=True)])
        differences = np.diff(changes, axis=0).T
        gamma = np.linalg.lstsq(differences, changes[-1], rcond=1e-10)[0]
        mixed = self.after[-1] - np.diff(np.array(self.after), axis=0).T @ gamma
        return np.asarray(mixed * self.scale)


def run_segregated(problem: Problem, start: State, interpolation: Array, most_steps: int, report: Report) -> Iterate:
    """Iterate until `report` says that it is enough, or `most_steps` are done; see `run_laminar`."""
    now, unknowns = look_at(problem, start, interpolation), problem.unknowns
    scale = _scales(problem, now)
    mixer = _Anderson(scale)
    pressure = _PressureSolver()
    for count in range(most_steps):
        before = now.state.columns(unknowns)
        after = _simplec(problem, now, pressure).columns(unknowns)
        ready = now.norms.worst < _START_BELOW and count % _EVERY == _EVERY - 1
        trial = State.of(mixer.mix(before.ravel(), after.ravel(), ready).reshape(after.shape), unknowns)
        if not trial.finite():
            trial = State.of(after, unknowns)
        nxt = look_at(problem, trial, now.interpolation)
        if ready and nxt.norms.worst > 10.0 * now.norms.worst:
            mixer = _Anderson(scale)
            nxt = look_at(problem, State.of(after, unknowns), now.interpolation)
        now = nxt
        if report(now, 1):
            break
        if not now.norms.worst < _FAR_ASTRAY:
            raise RanAway("the iteration ran away from any solution")
    return now


def _scales(problem: Problem, now: Iterate) -> Array:
    """Magnitudes of all unknowns for the mixing, one per entry of the columns of a state."""
    unknowns, velocity = problem.unknowns, problem.scales.velocity
    density = float(now.point.properties.density.mean())
    scales = np.repeat(velocity[:, None], unknowns.size, axis=1)
    scales[:, unknowns.pressure] = max(float(np.ptp(now.state.pressure)), density * float(velocity.max()) ** 2)
    scales[:, unknowns.temperature] = spans(problem.heat_body, now.evaluation.temperature, problem.scales.span)
    scales[:, unknowns.angular_velocity] /= max(float(problem.cells.radius.max()), 1e-30)
    return scales.ravel()


def _simplec(problem: Problem, now: Iterate, pressure: _PressureSolver) -> State:
    """One sweep: momentum, pressure correction, what the flow carries, energy."""
    cells, unknowns = problem.cells, problem.unknowns
    state, interpolation, e = now.state, now.interpolation, now.evaluation
    fluid = cells.fluid == 1
    # Upwind, for matrices of single unknowns whose off-diagonals are all of one sign.
    blocks = compact_blocks(replace(now.point, problem=replace(problem, blend=0.0)), interpolation, e.flow)
    momentum, energy = now.diagonals.momentum, now.diagonals.energy
    moved = state
    if fluid.any():
        velocity = state.velocity.copy()
        extra = (1.0 / _RELAX_MOMENTUM - 1.0) * momentum
        for i in unknowns.velocity:
            velocity[fluid, i] += _solve(_scalar_matrix(problem, blocks, i, extra, fluid), -e.residual[fluid, i])
        # SIMPLEC: neighbours are taken to be corrected alike, so only the row sum remains.
        reach = np.where(fluid, cells.volume / (momentum * (1.0 / _RELAX_MOMENTUM - 1.0 + 0.05)), 0.0)
        mass = evaluate_state(problem, replace(state, velocity=velocity), interpolation).mass
        correction = pressure.solve(problem, reach, now.point.properties.density, mass)
        velocity = np.where(fluid[:, None], velocity - reach[:, None] * _slope(problem, now, correction), 0.0)
        level = state.pressure + correction
        for cell in problem.pins:
            alike = problem.body == problem.body[cell]
            level[alike] -= level[cell]
        columns = state.columns(unknowns)
        for i in (*unknowns.angular_velocity, *unknowns.transported):
            columns[fluid, i] += _solve(_scalar_matrix(problem, blocks, i, 0.0 * momentum, fluid), -e.residual[fluid, i])
        moved = replace(State.of(columns, unknowns, state.periodicity), velocity=velocity, pressure=level)
    e = evaluate_state(problem, moved, interpolation)
    everywhere = np.ones(problem.grid.n_cells, dtype=bool)
    # Heat in solids needs no relaxing, which would hold it back most where conduction is stiff.
    relaxing = np.where(fluid, (1.0 / _RELAX_ENERGY - 1.0) * energy, 0.0)
    matrix = _scalar_matrix(problem, blocks, unknowns.temperature, relaxing, everywhere)
    return replace(moved, stretched=state.stretched + _solve(matrix, -e.energy))


def _slope(problem: Problem, now: Iterate, correction: Array) -> Array:
    """Gradient of a correction of pressure, which is none on outlets, shape (n_cells, d)."""
    still = problem.given._replace(pressure=np.zeros_like(problem.given.pressure))
    zero = np.zeros_like(now.state.velocity)
    density = now.point.properties.density
    slope = np.zeros_like(zero)
    pressure_gradients(problem.faces, still, problem.flow_weights, density, zero, correction, zero, np.zeros(0), slope)
    return slope


def _solve(matrix: Any, right: Array) -> Array:
    from scipy.sparse.linalg import splu

    try:
        return np.asarray(splu(matrix.tocsc()).solve(right))
    except RuntimeError as error:
        raise RanAway("the equations became singular") from error


def _scalar_matrix(problem: Problem, blocks: Blocks, i: int, extra: Array, used: Array) -> Any:
    """The matrix of one unknown by itself over the `used` cells, with `extra` on the diagonal."""
    from scipy.sparse import coo_matrix

    diagonal, off = blocks.diagonal, blocks.off
    faces = problem.faces
    inner = faces.neighbour >= 0
    if i != problem.unknowns.temperature:
        inner = faces.kind == FLOW
    number = np.cumsum(used) - 1
    a, b = number[faces.owner[inner]], number[faces.neighbour[inner]]
    cells = number[used]
    size = int(used.sum())
    rows = np.concatenate([cells, a, b])
    columns = np.concatenate([cells, b, a])
    values = np.concatenate([(diagonal[:, i, i] + extra)[used], off[inner, 0, i, i], off[inner, 1, i, i]])
    return coo_matrix((values, (rows, columns)), shape=(size, size)).tocsr()


class _PressureSolver:
    """Conjugate gradients on the pressure correction, with an algebraic multigrid hierarchy kept between sweeps."""

    def __init__(self) -> None:
        self._hierarchy: Any = None
        self._iterations = 0

    def solve(self, problem: Problem, reach: Array, density: Array, mass: Array) -> Array:
        """The pressure correction that takes the mass residuals away when velocities answer with `reach`·slope."""
        from scipy.sparse import coo_matrix
        from scipy.sparse.linalg import LinearOperator, cg

        faces, cells = problem.faces, problem.cells
        fluid = cells.fluid == 1
        inner = faces.kind == FLOW
        a, b = faces.owner[inner], faces.neighbour[inner]
        span = faces.near[inner] + faces.far[inner]
        g = 0.5 * (density[a] + density[b]) * faces.area[inner] / span
        g = g * (faces.far[inner] * reach[a] + faces.near[inner] * reach[b]) / span
        out = faces.kind == OUTLET
        edge = density[faces.owner[out]] * faces.area[out] * reach[faces.owner[out]] / faces.near[out]
        n = problem.grid.n_cells
        diagonal = np.bincount(a, g, n) + np.bincount(b, g, n) + np.bincount(faces.owner[out], edge, n)
        # A body of fluid without an outlet has no pressure level: one cell holds it.
        diagonal = np.where(cells.pin == 1, 2.0 * diagonal, diagonal)
        number = np.cumsum(fluid) - 1
        rows = np.concatenate([number[fluid], number[a], number[b]])
        columns = np.concatenate([number[fluid], number[b], number[a]])
        values = np.concatenate([diagonal[fluid], -g, -g])
        size = int(fluid.sum())
        matrix = coo_matrix((values, (rows, columns)), shape=(size, size)).tocsr()
        if self._hierarchy is None or self._iterations > 25:
            from pyamg import ruge_stuben_solver

            self._hierarchy = ruge_stuben_solver(matrix)
        cycle = self._hierarchy.aspreconditioner()
        steps = [0]

        def count(_: Array) -> None:
            steps[0] += 1

        # In the cell with a fixed pressure the residual is that of the level; its mass balance follows from those of all others.
        mass = mass.copy()
        for cell in problem.pins:
            mass[cell] = 0.0
            mass[cell] = -float(mass[problem.body == problem.body[cell]].sum())
        right = -mass[fluid]
        precondition = LinearOperator(matrix.shape, matvec=lambda x: cycle.matvec(x))
        answer, _ = cg(matrix, right, rtol=1e-3, maxiter=200, M=precondition, callback=count)
        self._iterations = steps[0]
        correction = np.zeros(n)
        correction[fluid] = answer
        return correction
