"""When a solve is finished: sums over all cells, and every single cell."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from tests.states import plane_state
from tests.support import quads
from wattikos_core.ledger import Key
from wattikos_core.materials import constant_melting_table, constant_table
from wattikos_core.physics import Condition, FlowPhysics, Problem, State, beginning_at, build_problem
from wattikos_core.physics.terms.storage import Storage
from wattikos_core.solve import SolveSettings
from wattikos_core.solve.convergence import Norms, norms, settled
from wattikos_core.solve.iterate import Iterate, look_at, stored_in
from wattikos_core.solve.steady import _Journal


def rod() -> Problem:
    """A solid rod whose innermost cells are a millionth of a metre thick, between 300 and 310 K."""
    grid = quads(np.linspace(0.0, 0.1, 5), np.array([0.0, 1e-6, 0.05, 0.1]), axisymmetric=True)
    solid = replace(constant_table("steel", density=8000.0, specific_heat=500.0, viscosity=1.0, conductivity=15.0), fluid=False)
    ends = {"fluid, left": Condition("wall", temperature=310.0), "fluid, right": Condition("wall", temperature=300.0)}
    return build_problem(grid, [solid], ends)


def at(problem: Problem, t: np.ndarray) -> Iterate:
    zero = np.zeros(problem.grid.n_cells)
    return look_at(problem, plane_state(zero, zero, zero, t, zero), zero)


class EveryCell(unittest.TestCase):
    def test_sums_do_not_see_the_cells_next_to_an_axis(self) -> None:
        problem = rod()
        exact = 310.0 - 100.0 * problem.grid.centre[:, 0]
        self.assertLess(at(problem, exact).norms.temperature, 1e-10)
        smallest = int(problem.grid.volume.argmin())
        off = exact.copy()
        off[smallest] += 5.0
        found = at(problem, off).norms
        self.assertLess(found.energy, 1e-4)
        # Half of the 10 K that temperatures differ by, and what the gradient there adds.
        self.assertAlmostEqual(found.temperature, 0.5, delta=0.03)

    def test_what_melts_is_measured_by_its_latent_heat_too(self) -> None:
        """Melting takes as much heat as warming by 100 K: a cell off by 10 K of it is off by less than a tenth."""
        wax = constant_melting_table(
            "wax", melts=(299.9, 300.1), latent_heat=2e5, density=800.0, specific_heat=(2000.0, 2000.0), conductivity=(0.2, 0.2)
        )
        side = np.linspace(0.0, 0.02, 4)
        problem = build_problem(
            quads(side, side), [wax], {"fluid, left": Condition("wall", temperature=310.0)}, physics=FlowPhysics(in_time=True)
        )
        n = problem.grid.n_cells
        zero = np.zeros(n)
        assert wax.melting_range is not None
        start = plane_state(zero, zero, zero, np.full(n, wax.melting_range[0] + 50.0), zero)
        problem = beginning_at(problem, np.full(n, 300.0))
        problem = replace(problem, storage=Storage(stored_in(problem, start), 1e-3))
        moved = start.stretched.copy()
        moved[4] += 10.0
        found = norms_of(problem, replace(start, stretched=moved))
        # All of it is at the melting point, 10 K below the wall.
        scale = 10.0 + wax.stretch
        self.assertAlmostEqual(found.temperature, 10.0 / scale, delta=0.02 * 10.0 / scale)

    def test_a_velocity_that_is_off_in_one_cell(self) -> None:
        side = np.linspace(0.0, 1.0, 11)
        water = constant_table("water", density=1000.0, specific_heat=4000.0, viscosity=1e-3, conductivity=0.6)
        lid = {"fluid, top": Condition("wall", velocity=(0.01, 0.0))}
        problem = build_problem(quads(side, side), [water], lid)
        n = problem.grid.n_cells
        zero = np.zeros(n)
        now = look_at(problem, plane_state(zero, zero, zero, np.full(n, 293.15), zero), zero)
        quiet = replace(now.evaluation, residual=np.zeros_like(now.evaluation.residual))
        self.assertEqual(norms(problem, now.state, quiet, now.diagonals).velocity, 0.0)
        quiet.momentum[55, 1] = now.diagonals.momentum[55] * 0.002
        found = norms(problem, now.state, quiet, now.diagonals)
        self.assertAlmostEqual(found.velocity, 0.2)
        self.assertLess(found.momentum, 0.01)


def norms_of(problem: Problem, state: State) -> Norms:
    return look_at(problem, state, np.zeros(problem.grid.n_cells)).norms


class Enough(unittest.TestCase):
    """A steady solve ends when sums, single cells, watches and balances all agree."""

    settings = SolveSettings(tolerance=1e-8)

    def ends(self, norms: Norms, *, calls: int = 6, settings: SolveSettings | None = None, watch: float | None = None) -> bool:
        problem = rod()
        now = replace(at(problem, 310.0 - 100.0 * problem.grid.centre[:, 0]), norms=norms)
        drift = iter(range(1, 100))
        journal = _Journal(
            problem,
            settings or self.settings,
            lambda evaluation, state: {Key("duty"): 1.0 + (watch or 0.0) * next(drift)},
            lambda event: None,
            lambda: False,
            "solving",
        )
        return [journal.report(now, 1) for _ in range(calls)][-1]

    def test_all_agree(self) -> None:
        self.assertTrue(self.ends(Norms(1e-9, 1e-9, 1e-9, 1e-9, 1e-9)))

    def test_sums_that_are_too_large(self) -> None:
        for bad in (Norms(1e-7, 0.0, 0.0, 0.0, 0.0), Norms(0.0, 1e-7, 0.0, 0.0, 0.0), Norms(0.0, 0.0, 1e-7, 0.0, 0.0)):
            self.assertFalse(self.ends(bad))

    def test_one_cell_that_is_off(self) -> None:
        for bad in (Norms(0.0, 0.0, 0.0, 1e-5, 0.0), Norms(0.0, 0.0, 0.0, 0.0, 1e-5)):
            self.assertFalse(self.ends(bad))
        self.assertTrue(self.ends(Norms(0.0, 0.0, 0.0, 1e-7, 1e-7)))

    def test_a_watch_that_still_moves(self) -> None:
        good = Norms(1e-9, 1e-9, 1e-9, 1e-9, 1e-9)
        self.assertFalse(self.ends(good, watch=1e-3))
        self.assertTrue(self.ends(good, watch=1e-9))

    def test_a_grid_that_only_gives_a_start_need_not_settle(self) -> None:
        good = Norms(1e-9, 1e-9, 1e-9, 1e-9, 1e-9)
        self.assertTrue(self.ends(good, calls=1, settings=replace(self.settings, preliminary=True), watch=1e-3))
        self.assertFalse(self.ends(good, calls=1, watch=1e-3))

    def test_settled(self) -> None:
        one, two = Key("duty"), Key("ntu")
        self.assertTrue(settled({one: 100.0}, {one: 100.00005}))
        self.assertFalse(settled({one: 100.0}, {one: 100.001}))
        self.assertFalse(settled({one: 1.0}, {one: 1.0, two: 2.0}))
        self.assertTrue(settled({}, {}))
