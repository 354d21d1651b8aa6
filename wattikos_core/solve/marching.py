"""Pseudo-time that goes as time does: how rooms are found from rest.

Pseudo-time by a_P alone is endless in a fluid at rest, and after it, short in thin cells and long in large ones: jets, warmth and
turbulence then come about in an order that no real flow knows, and go astray. Here all cells also store what they would over one
step in time that takes the fastest stream past a cell of mean size, times the CFL number; steps lengthen while all residuals
fall, and are taken back when one of them leaps. What is found so is what would be there after the same time from rest.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from typing_extensions import override

from wattikos_core.physics import Problem
from wattikos_core.physics.faces import Array
from wattikos_core.physics.properties import specific_heats
from wattikos_core.solve.coupled import EASY_KRYLOV, GROWTH_WHEN_EASY, STILL, UNLIMITED, CoupledSolver
from wattikos_core.solve.iterate import Iterate
from wattikos_core.solve.nonlocal_unknowns import NonlocalUnknown


class Pace(NamedTuple):
    """The CFL number one begins with, and how much longer each step is than the one before while all goes well."""

    cfl: float
    longer: float


FROM_REST, FROM_COARSER, SLOWER_FROM_COARSER = Pace(0.5, 1.3), Pace(10.0, 1.5), Pace(1.0, 1.3)
# Between what CFL numbers stay.
_LEAST_CFL, _MOST_CFL = 0.02, 1e4
# So many steps in a row that are as short as can be lead nowhere.
_MOST_SHORT = 8
_SHORTER, _MUCH_SHORTER = 0.8, 0.7
# Steps that take more Krylov iterations than this are too long.
_MANY_KRYLOV = 15
# Residuals that grow by the first of these ask for shorter steps; those that grow by the second have leapt, once begun.
_RISES, _LEAPS, _FIRST_STEPS = 1.2, 3.0, 5
# Residuals below these are no reason for anything. Those of turbulence are about one until it is there.
_SMALL, _FOLLOWS, _ORDINARY = 1e-3, 0.1, 1.0
# From here on pseudo-time goes with the residuals, and is not limited.
_IN_SIGHT = 1e-2
# There each step leaves a third of the residuals, whatever the linear system is solved to, and old factors do as well as new ones.
_KRYLOV_IN_SIGHT = 0.1
_GROWTH_IN_SIGHT = (0.5, 5.0)
# Share of the scale of speeds by which a step may change them.
_FARTHEST_SPEED = 1.0


class MarchingSolver(CoupledSolver):
    """Steps as above; see `CoupledSolver`."""

    def __init__(self, problem: Problem, pace: Pace, further: Sequence[type[NonlocalUnknown]] = ()) -> None:
        super().__init__(problem, further=further)
        self.cfl, self.longer, self.farthest_speed = pace.cfl, pace.longer, _FARTHEST_SPEED
        self._taken, self._usual_krylov = 0, self.krylov_tolerance
        fluid = problem.cells.fluid == 1
        # Steps per second at a CFL number of one, shape (n_cells,).
        self._rate = np.where(fluid, problem.scales.velocity / _mean_size(problem), 0.0)

    @override
    def _pseudo_time(self, now: Iterate) -> Array:
        held = super()._pseudo_time(now)
        if self.cfl >= UNLIMITED:
            return held
        problem, unknowns = self.problem, self.problem.unknowns
        stored = now.point.properties.density * problem.cells.volume * self._rate / self.cfl
        held[:, list(unknowns.velocity)] += stored[:, None]
        held[:, list(unknowns.transported)] += stored[:, None]
        held[:, unknowns.angular_velocity] += (stored * problem.cells.radius**2)[:, None]
        held[:, unknowns.temperature] += stored * specific_heats(problem.cells, problem.tables, now.state.stretched)
        return held

    @override
    def _accepts(self, now: Iterate, trial: Iterate, hold: Sequence[int]) -> bool:
        if not np.isfinite(trial.norms.worst):
            return False
        self._taken += 1
        flow, turbulence = self._growth(now, trial, hold)
        if self._taken > _FIRST_STEPS and max(flow, turbulence) > _LEAPS:
            return False
        before, after = self._judged_holding(now, hold), self._judged_holding(trial, hold)
        self.krylov_tolerance = _KRYLOV_IN_SIGHT if after < _IN_SIGHT else self._usual_krylov
        if after < _IN_SIGHT:
            ratio = before / max(after, 1e-300)
            factor = float(np.clip(ratio, *_GROWTH_IN_SIGHT))
            if self.krylov <= EASY_KRYLOV and ratio > STILL:
                factor = max(factor, GROWTH_WHEN_EASY)
            self.cfl = min(self.cfl * factor, UNLIMITED)
            return True
        factor = _SHORTER if max(flow, turbulence) > _RISES else self.longer
        factor = _MUCH_SHORTER if self.krylov >= _MANY_KRYLOV else factor
        self.cfl = float(np.clip(self.cfl * factor, _LEAST_CFL, _MOST_CFL))
        return True

    @override
    def _factors_serve(self, now: Iterate) -> bool:
        return self._factored and self._judged(now) < _IN_SIGHT and self.krylov <= _MANY_KRYLOV

    @override
    def _slow_down(self, taken: float) -> None:
        """A jet that has just entered goes far in its first steps, however short they are."""

    def _growth(self, now: Iterate, trial: Iterate, hold: Sequence[int]) -> tuple[float, float]:
        """By which factors residuals of flow and heat, and those of turbulence, have grown."""
        heat = self.problem.unknowns.temperature not in hold
        # A flow that is all but found moves when turbulence does.
        least = max(_SMALL, _FOLLOWS * now.norms.scalars)

        def of_flow(iterate: Iterate) -> float:
            return max(iterate.norms.flow, iterate.norms.energy if heat else 0.0, least)

        return of_flow(trial) / of_flow(now), trial.norms.scalars / max(now.norms.scalars, _ORDINARY)


def march(
    problem: Problem,
    first: Iterate,
    pace: Pace,
    steps: int,
    ends: Callable[[Iterate, int], bool],
    further: Sequence[type[NonlocalUnknown]] = (),
    hold: Sequence[int] = (),
) -> tuple[Iterate, bool]:
    """Step as time goes until `ends` says so, and whether it has; given up where steps stay as short as they may be.

    Args:
        problem: the discrete problem.
        first: the iterate to begin with.
        pace: from rest, or from the solution of a coarser grid.
        steps: the most that are taken.
        ends: told of every iterate and the Krylov iterations that led to it.
        further: non-local unknowns beside those of the cells.
        hold: columns of unknowns that stay as they are.
    """
    solver, now, short = MarchingSolver(problem, pace, further), first, 0
    try:
        for _ in range(steps):
            now, accepted = solver.step(now, hold)
            short = short + 1 if not accepted or solver.cfl <= _LEAST_CFL else 0
            solver.cfl = max(solver.cfl, _LEAST_CFL)
            if ends(now, solver.krylov):
                return now, True
            if short > _MOST_SHORT:
                break
        return now, False
    finally:
        solver.close()


def _mean_size(problem: Problem) -> float:
    """Side of a square as large as the cells of fluid are on the mean, m."""
    grid, fluid = problem.grid, problem.cells.fluid == 1
    breadth = 2.0 * np.pi * grid.centre[fluid, 1] if grid.axisymmetric else grid.depth
    return float(np.sqrt(np.mean(grid.volume[fluid] / breadth)))
