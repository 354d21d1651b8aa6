"""The coupled Newton-Krylov method: all unknowns in one system, with pseudo-transient continuation.

The compact Jacobian, factored directly, preconditions FGMRES on the full residual with finite-difference products.
Early steps carry a pseudo-time term a_P/CFL that grows away with the residual (Kelley and Keyes 1998, SIAM J. Numer.
Anal. 35, 508); steps that make things worse are taken back.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from wattikos_core.physics import Evaluation, Problem, State, compact_blocks
from wattikos_core.physics.faces import Array
from wattikos_core.physics.pattern import build_pattern, wide_pressure
from wattikos_core.physics.scales import spans
from wattikos_core.physics.terms.continuity import pin_scales, pressure_conductance
from wattikos_core.physics.turbulence.closure import as_frozen
from wattikos_core.physics.unknowns import MATRIX
from wattikos_core.solve.convergence import Norms
from wattikos_core.solve.iterate import Iterate, evaluate_state, look_at, look_at_heat
from wattikos_core.solve.linear import DirectSolver, flexible_gmres
from wattikos_core.solve.nonlocal_unknowns import NonlocalUnknown, bordered
from wattikos_core.solve.turbulence import (
    kept_possible,
    pace_of_turbulence,
    row_scales_of_turbulence,
    sizes_of_turbulence,
    turbulence_columns,
)

# First pseudo-time steps: large at first; after a failure the solve starts again with the next, smaller one.
FIRST_CFL = (1e3, 20.0, 2.0)
UNLIMITED = 1e9
# Below this residual, and while the Krylov iteration stays short, the last factors precondition the next step too.
_KEEP_FACTORS_BELOW = 1e-2
# The same for buoyant flows, whose scales exceed their speeds.
_KEEP_FACTORS_OF_WEIGHT_BELOW = 1e-5
_SHORT_KRYLOV = 8
_SHORT_KRYLOV_IN_TIME = 5
_MOST_REJECTED = 3
FLOW_IS_THERE = 1e-3
# Pseudo-time grows as residuals fall, within these factors a step; a plume that is still rising may slow it down.
_GROWTH, _GROWTH_OF_WEIGHT = (1.5, 10.0), (0.5, 5.0)
# Below this change in a step pseudo-time itself limits the solution (heat from sources alone, at first): it is enlarged.
_STANDSTILL, _GROWTH_AT_STANDSTILL = 0.02, 3.0
# Where so few Krylov iterations do and residuals do not rise, pseudo-time alone holds the flow back.
EASY_KRYLOV, STILL, GROWTH_WHEN_EASY = 3, 0.8, 3.0
# Residuals may rise by this factor in the first steps of a flow, and where a melting front passes a cell.
_FIRST_GROWTH = 200.0
# Below this residual a flow that a pressure drives changes no more.
_ANSWER_IN_SIGHT = 1e-6
_KRYLOV_TOLERANCE = 0.02
_KRYLOV_TOLERANCE_SOLIDS = 1e-5
# Heat alone may take more: they are cheap, and what it has in closed eddies is found slowly.
MOST_KRYLOV, _MOST_KRYLOV_OF_HEAT = 25, 75
# Steady problems of up to so many cells are factored with the wide part of momentum interpolation; larger ones fill in too much.
# Not where weight alone drives: its own wide part is not in the matrix, and in still layers only both together are nothing.
_WIDE_UP_TO = 8_000
# A step in temperature alone causes residuals of the flow; up to this size one more flow step removes them.
_HARMLESS = 1e-3
_HEAD_SHARE = 0.01
# Differences are taken of temperatures that are at least this far apart, K: those of smaller ones would be round-off.
_LEAST_KELVINS = 0.1
# Share of a cell that one iteration may melt or freeze where the melt moves.
_MOST_MELTING = 0.08
# Guesses and iterations stop this far beyond where melting begins or ends, K: right there the equations have no derivative.
BESIDE_THE_KINK = 1e-3
_FARTHEST_SPEED, _LEAST_TAKEN = 0.5, 0.3
# Residuals of the flow that rise by the inverse of this hold pseudo-time back, however much smaller those of turbulence become.
_ASTRAY = 0.3
# Factors whose solution leaves more than this share of the right-hand side are discarded.
_POOR_FACTORS = 0.01


class CoupledSolver:
    """Steps of the coupled method on one problem; `step` takes an iterate to a better one.

    Args:
        only: columns of the unknowns that are sought, all others are kept as they are; all when None.
        further: non-local unknowns beside those of the cells.
    """

    def __init__(self, problem: Problem, only: Sequence[int] | None = None, further: Sequence[type[NonlocalUnknown]] = ()) -> None:
        self.problem = problem
        self.only = tuple(range(problem.unknowns.size)) if only is None else tuple(only)
        self.heat_only = self.only == problem.unknowns.heat
        cells = problem.cells
        # In short steps in time inertia is not part of V/a_P, so that it does not bound the effect of pressure on smooth flows.
        wide = None
        if (
            problem.unknowns.pressure in self.only
            and cells.fluid.any()
            and (problem.storage is not None or (problem.grid.n_cells <= _WIDE_UP_TO and not driven_by_weight(problem)))
        ):
            wide = wide_pressure(problem.faces, problem.flow_weights, problem.grid.n_cells)
        self.pattern = build_pattern(problem, wide, self.only)
        self.further = tuple(unknown(problem, self.pattern) for unknown in further)
        self.direct = DirectSolver(matching=bool(self.further))
        self.cfl = FIRST_CFL[0]
        # Heat alone is nearly linear: each linear system is solved to a tighter tolerance.
        self.conduction = self.heat_only or not problem.cells.fluid.any()
        self.krylov_tolerance = _KRYLOV_TOLERANCE_SOLIDS if self.conduction else _KRYLOV_TOLERANCE
        self.most_krylov = _MOST_KRYLOV_OF_HEAT if self.heat_only else MOST_KRYLOV
        self.best = np.inf
        # Whether a step takes turbulence for what it is where the step begins, all but what k and g lose by themselves.
        self.freeze = False
        # Share of the speed of a stream that a turbulent flow may change by in one step.
        self.farthest_speed = _FARTHEST_SPEED
        self.krylov = 0
        self._factored = False
        self._farthest = self._farthest_changes()
        self._by_pressure = bool((problem.driven & ~problem.fed).any()) and problem.storage is None

    def close(self) -> None:
        """Release the factors."""
        self.direct.close()

    def forget_factors(self) -> None:
        """Factor anew before the next step, whatever the residuals."""
        self._factored = False

    def step(self, now: Iterate, hold: Sequence[int] = ()) -> tuple[Iterate, bool]:
        """One continuation step. Returns the next iterate, and whether the step was accepted.

        Args:
            now: the iterate to begin with.
            hold: columns of unknowns that are left as they are; the step is judged by all the others.
        """
        problem, pattern = self.problem, self.pattern
        state, interpolation = now.state, now.interpolation
        pseudo = self._pseudo_time(now)
        if not self._factors_serve(now):
            self._factor(now, pseudo)
        residual = self._residual(now.evaluation, state)
        row_scale = self._row_scales(now)
        pseudo_vector = self._with_further(pattern.pack(pseudo), [0.0] * len(self.further))
        frozen = now.point.turbulence if self.freeze else None
        base = self._with_further(pattern.pack(state.columns(problem.unknowns)), [one.value(state) for one in self.further])
        size = self._sizes(now)

        held = pattern.position[:, list(hold)].ravel()
        held = held[held >= 0]
        # Differences of turbulence are small beside those of what is held: it must not take part in them.
        apart = held if problem.turbulent.any() else held[:0]

        def apply(direction: Array) -> Array:
            largest = float(np.max(np.abs(direction) / size))
            if largest == 0.0:
                return np.zeros_like(direction)
            epsilon = 1e-7 / largest
            moved = self._state(base + epsilon * direction, state)
            change = (self._residual(evaluate_state(problem, moved, interpolation, frozen), moved) - residual) / epsilon
            product = np.asarray((change + pseudo_vector * direction) / row_scale)
            product[apart] = 0.0
            return product

        def precondition(vector: Array) -> Array:
            direction = self.direct.solve(vector * row_scale)
            direction[apart] = 0.0
            return direction

        right = -residual / row_scale
        # What is held must not set the linear tolerance.
        right[held] = 0.0
        change, self.krylov = flexible_gmres(apply, precondition, right, self.krylov_tolerance, self.most_krylov)
        for k, one in enumerate(self.further, pattern.size):
            change *= one.share(float(base[k]), float(change[k]))
        change[held] = 0.0
        taken = self._share_taken(change)
        change *= taken
        if self._farthest is not None:
            change = np.clip(change, -self._farthest, self._farthest)
        moved = kept_possible(now, self._state(base + change, state))
        if self.conduction and problem.storage is not None and problem.tables.melts.any():
            moved = replace(moved, stretched=_stopped_at_kinks(problem, state.stretched, moved.stretched))
        trial = self._look_at(moved, now) if moved.finite() else None
        if trial is not None and self._accepts(now, trial, hold):
            self._slow_down(taken)
            return trial, True
        self.cfl *= 0.1
        self._factored = False
        return now, False

    def _slow_down(self, taken: float) -> None:
        """Shorter pseudo-time after a step of which but a share was taken."""
        self.cfl *= max(taken, _LEAST_TAKEN) if taken < 1.0 else 1.0

    def _share_taken(self, change: Array) -> float:
        """How much of a step is taken: where turbulence follows the flow, speeds move no further than a share of their scale."""
        problem = self.problem
        if not problem.turbulent.any() or problem.unknowns.pressure not in self.only:
            return 1.0
        moved = np.linalg.norm(self.pattern.unpack(change[: self.pattern.size])[:, problem.unknowns.velocity], axis=1)
        most = float(np.max(moved / problem.scales.velocity, where=problem.turbulent == 1, initial=0.0))
        return min(1.0, self.farthest_speed / most) if most > 0.0 else 1.0

    def _factors_serve(self, now: Iterate) -> bool:
        """Whether the last factors precondition the next step well enough."""
        problem = self.problem
        below = _KEEP_FACTORS_OF_WEIGHT_BELOW if problem.physics.heavy else _KEEP_FACTORS_BELOW
        short = _SHORT_KRYLOV
        if problem.storage is not None:
            below, short = np.inf, _SHORT_KRYLOV_IN_TIME
        if self.conduction and problem.tables.melts.any():
            # A moving melting front changes the matrix at each iteration; a matrix of temperatures alone is cheap to factor.
            short = 0
        return self._factored and self._judged(now) < below and self.krylov <= short

    def _look_at(self, moved: State, before: Iterate) -> Iterate:
        """Evaluate where a step has led."""
        problem, interpolation = self.problem, before.interpolation
        if self.heat_only and (problem.storage is not None or problem.module is not None):
            return look_at_heat(problem, moved, interpolation)
        # Within a step in time the flow changes little: coefficients of momentum interpolation are kept.
        flow = None if problem.storage is None else before.evaluation.flow
        return look_at(problem, moved, interpolation, flow, before.point.turbulence if self.freeze else None)

    def _accepts(self, now: Iterate, trial: Iterate, hold: Sequence[int]) -> bool:
        """Whether a step is taken, and how pseudo-time goes on then."""
        problem = self.problem
        before, after = self._judged_holding(now, hold), self._judged_holding(trial, hold)
        # A fluid at rest is in balance with all but its weight: that is no answer to come near to.
        if not (problem.physics.heavy and not now.state.velocity.any()):
            self.best = min(self.best, before)
        # Far from the answer residuals may rise for a step or two; near it they must not.
        allowed = 20.0 if self.best > 1e-3 else 2.0
        # A pressure drives more or less through as viscosity follows the temperatures: then the whole flow changes.
        if hold or problem.tables.melts.any() or (self._by_pressure and self.best > _ANSWER_IN_SIGHT):
            allowed = _FIRST_GROWTH
        if not np.isfinite(trial.norms.worst) or after > allowed * self.best + _HARMLESS:
            return False
        ratio = before / max(after, 1e-300)
        if problem.turbulent.any() and len(self.only) == problem.unknowns.size and not hold:
            # Turbulence far from its balance must not hide a flow that goes astray.
            astray = max(now.norms.flow, _HARMLESS) / max(trial.norms.flow, _HARMLESS)
            ratio = min(ratio, astray) if astray < _ASTRAY else ratio
        slowed = problem.physics.heavy or problem.turbulent.any()
        growth = float(np.clip(ratio, *(_GROWTH_OF_WEIGHT if slowed else _GROWTH)))
        if abs(ratio - 1.0) < _STANDSTILL:
            growth = _GROWTH_AT_STANDSTILL
        if slowed and self.krylov <= EASY_KRYLOV and ratio > STILL:
            growth = max(growth, GROWTH_WHEN_EASY)
        self.cfl = min(self.cfl * growth, UNLIMITED)
        return True

    def _farthest_changes(self) -> Array | None:
        """How far a step in time may move each unknown at once; None where there is no limit.

        More melt flows faster and brings more heat, which makes the equations nearly singular where a melt convects: a step
        goes astray there unless it is kept from melting or freezing more than a small share of a cell.
        """
        problem = self.problem
        if problem.storage is None or self.conduction:
            return None
        reach = np.full(problem.grid.n_cells, np.inf)
        for index, table in enumerate(problem.materials):
            if table.melting_range is not None:
                begins, ends = table.melting_range
                mine = (problem.grid.region == index) & (problem.cells.fluid == 1)
                reach[mine] = _MOST_MELTING * (ends - begins)
        if not np.isfinite(reach).any():
            return None
        limits = np.full((reach.size, problem.unknowns.size), np.inf)
        limits[:, problem.unknowns.temperature] = reach
        return self.pattern.pack(limits)

    def _state(self, vector: Array, now: State) -> State:
        columns = now.columns(self.problem.unknowns)
        columns[:, self.only] = self.pattern.unpack(vector[: self.pattern.size])[:, self.only]
        moved = State.of(columns, self.problem.unknowns, now.periodicity)
        for k, one in enumerate(self.further, self.pattern.size):
            moved = one.moved(moved, float(vector[k]))
        return moved

    def _with_further(self, vector: Array, values: Sequence[float]) -> Array:
        return np.append(vector, values) if self.further else vector

    def _judged(self, iterate: Iterate) -> float:
        if self.heat_only:
            return iterate.norms.heat
        if len(self.only) == self.problem.unknowns.size:
            return iterate.norms.pace
        return judged_of(self.problem, iterate.norms, [c for c in range(self.problem.unknowns.size) if c not in self.only])

    def _judged_holding(self, iterate: Iterate, hold: Sequence[int]) -> float:
        return judged_of(self.problem, iterate.norms, hold) if hold else self._judged(iterate)

    def _factor(self, now: Iterate, pseudo: Array) -> None:
        matrix = self._matrix(now, pseudo)
        self.direct.factor(matrix)
        if self.direct.error(self._residual(now.evaluation, now.state)) > _POOR_FACTORS:
            self.direct.close()
            self.direct = DirectSolver(matching=not self.direct.matching)
            self.direct.factor(matrix)
        self._factored = True

    def _matrix(self, now: Iterate, pseudo: Array) -> Any:
        state, problem, pins = now.state, self.problem, self.problem.pins
        point = replace(now.point, turbulence=as_frozen(now.point.turbulence)) if self.freeze else now.point
        blocks = compact_blocks(point, now.interpolation, now.evaluation.flow)
        m = np.arange(problem.unknowns.size)
        blocks.diagonal[:, m, m] += pseudo
        density = now.point.properties.density
        pins = pins[self.pattern.position[pins, problem.unknowns.pressure] >= 0]
        matrix = self.pattern.matrix(
            blocks,
            pin_scales(pins, now.interpolation, density, problem.cells.volume),
            pressure_conductance(problem.faces, now.interpolation, density) if self.pattern.wide is not None else None,
        )
        if not self.further:
            return matrix
        here, columns = self._residual(now.evaluation, state), []
        for one in self.further:
            beyond = one.further(state)
            there = self._residual(evaluate_state(problem, beyond, now.interpolation), beyond)
            columns.append((there - here) / (one.value(beyond) - one.value(state)))
        rows = [one.row(blocks, now.evaluation.flow, state) for one in self.further]
        return bordered(matrix, np.stack(columns, axis=1), rows)

    def _pseudo_time(self, now: Iterate) -> Array:
        """What pseudo-time adds to the diagonal, shape (n_cells, n_unknowns)."""
        problem, unknowns = self.problem, self.problem.unknowns
        held = np.zeros((problem.grid.n_cells, unknowns.size))
        if self.cfl >= UNLIMITED:
            return held
        # Heat in solids is nearly linear: no damping.
        fluid = problem.cells.fluid == 1
        flow, heat = (np.where(fluid, diagonal / self.cfl, 0.0) for diagonal in now.diagonals[:2])
        held[:] = flow[:, None]
        held[:, unknowns.pressure], held[:, unknowns.temperature] = 0.0, heat
        held[:, unknowns.angular_velocity] *= problem.cells.radius[:, None] ** 2
        if problem.turbulent.any():
            held[:, turbulence_columns(problem)] += pace_of_turbulence(now)[:, None] / self.cfl
        return held

    def _residual(self, evaluation: Evaluation, state: State) -> Array:
        balances = self.pattern.pack(evaluation.residual)
        return self._with_further(balances, [one.missing(evaluation, state) for one in self.further])

    def _row_scales(self, now: Iterate) -> Array:
        """What each balance is measured in, so that the Krylov iteration sees comparable numbers."""
        problem, diagonals = self.problem, now.diagonals
        fluid = problem.cells.fluid == 1
        unknowns, one = problem.unknowns, np.ones(problem.grid.n_cells)
        if problem.storage is not None:
            # In time the norm is the largest error of any cell, in its own unknowns, so that the smallest cells count too.
            by_cell, heat = diagonals.momentum, diagonals.energy
        else:
            by_cell = one * (float(diagonals.momentum[fluid].mean()) if fluid.any() else 1.0)
            heat = one * float(diagonals.energy.mean())
        momentum = by_cell * problem.scales.velocity
        mass = problem.scales.mass
        cells = np.maximum(np.bincount(problem.body[fluid], minlength=mass.size), 1)
        scales = np.repeat(momentum[:, None], unknowns.size, axis=1)
        scales[:, unknowns.pressure] = np.append(np.where(mass > 0.0, mass, 1e-6) / cells, 1.0)[problem.body]
        scales[:, unknowns.temperature] = heat * self._span(now)
        scales[:, unknowns.angular_velocity] *= max(float(problem.cells.radius.max()), 1e-30)
        scales[:, unknowns.transported] = by_cell[:, None] * self._scalar_sizes(now)
        if MATRIX in unknowns.scalars:
            scales[:, unknowns.matrix] = scales[:, unknowns.temperature]
        if problem.turbulent.any():
            scales[:, turbulence_columns(problem)] = row_scales_of_turbulence(problem, now.evaluation)
        packed = self.pattern.pack(scales)
        # The equation of a non-local unknown weighs as much as the same residual in every cell would.
        return self._with_further(packed, [1.0 / np.sqrt(packed.size)] * len(self.further))

    def _span(self, now: Iterate) -> Array:
        return spans(self.problem.heat_body, now.evaluation.temperature, self.problem.scales.span)

    def _scalar_sizes(self, now: Iterate) -> Array:
        """Typical magnitudes of transported scalars, shape (n_scalars,): what comes about over the flow that takes it away."""
        passing = max(float(self.problem.scales.mass.sum()), 1e-300)
        found = np.ptp(now.state.scalars, axis=0) if now.state.scalars.size else np.zeros(0)
        sizes = np.maximum(np.maximum(now.evaluation.scalar_amounts / passing, found), 1e-300)
        if MATRIX in self.problem.unknowns.scalars:
            sizes[self.problem.unknowns.scalars.index(MATRIX)] = max(float(self._span(now).max()), _LEAST_KELVINS)
        return sizes

    def _sizes(self, now: Iterate) -> Array:
        """Typical magnitudes of the unknowns, for the finite-difference step."""
        problem, state, unknowns = self.problem, now.state, self.problem.unknowns
        velocity = np.maximum(problem.scales.velocity, 1e-12)
        # A fluid at rest has no pressure scale yet: a small part of the dynamic pressure is used.
        head = _HEAD_SHARE * float(np.max(now.point.properties.density)) * float(velocity.max()) ** 2
        sizes = np.repeat(velocity[:, None], unknowns.size, axis=1)
        sizes[:, unknowns.pressure] = max(float(np.ptp(state.pressure)), head, 1e-6)
        sizes[:, unknowns.temperature] = np.maximum(self._span(now), _LEAST_KELVINS)
        sizes[:, unknowns.angular_velocity] /= max(float(problem.cells.radius.max()), 1e-30)
        sizes[:, unknowns.transported] = self._scalar_sizes(now)
        if problem.turbulent.any():
            sizes[:, turbulence_columns(problem)] = sizes_of_turbulence(problem, state)
        packed = np.maximum(self.pattern.pack(sizes), 1e-300)
        return self._with_further(packed, [one.size(state) for one in self.further])


def _stopped_at_kinks(problem: Problem, before: Array, after: Array) -> Array:
    """Stretched temperatures after an iteration, where what came to an end of its melting range has stopped just beyond it.

    Temperature follows the stretched one in straight pieces: what an iteration finds beyond the end of a piece is of the
    wrong one, and
    without a stop there iterations go to and fro between the two.
    """
    result = after.copy()
    for index, table in enumerate(problem.materials):
        if table.melting_range is None:
            continue
        mine = problem.grid.region == index
        was, now = before[mine], after[mine]
        for end in table.melting_range:
            now = np.where((was < end) & (now > end + BESIDE_THE_KINK), end + BESIDE_THE_KINK, now)
            now = np.where((was > end) & (now < end - BESIDE_THE_KINK), end - BESIDE_THE_KINK, now)
        result[mine] = now
    return result


def driven_by_weight(problem: Problem) -> bool:
    """Whether nothing but differences of temperature moves the fluid."""
    return problem.physics.heavy and not problem.driven.any() and problem.module is None


def judged_of(problem: Problem, norms: Norms, hold: Sequence[int]) -> float:
    """What a step is judged by that holds some of the unknowns."""
    unknowns = problem.unknowns
    if unknowns.velocity[0] in hold:
        return norms.scalars
    return norms.flow if set(unknowns.transported) <= set(hold) else max(norms.flow, norms.scalars)


Report = Callable[[Iterate, int], bool]


def run_heat(
    problem: Problem,
    start: State,
    interpolation: Array,
    most_steps: int,
    report: Report,
    further: Sequence[type[NonlocalUnknown]] = (),
) -> Iterate:
    """Iterate on temperatures alone, the flow kept as it is; see `laminar_start`. A module has `further` unknowns beside them."""
    now = look_at_heat(problem, start, interpolation) if further else look_at(problem, start, interpolation)
    solver = CoupledSolver(problem, problem.unknowns.heat, further)
    solver.cfl = UNLIMITED
    rejected = 0
    try:
        for _ in range(most_steps):
            now, accepted = solver.step(now)
            rejected = 0 if accepted else rejected + 1
            if report(now, solver.krylov) or rejected > _MOST_REJECTED:
                break
        return now
    finally:
        solver.close()
