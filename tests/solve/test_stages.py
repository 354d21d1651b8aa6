"""One step in time: what its stages are guessed from, how far an iteration may go, and how long the next step is to be."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from django.test import tag

from tests.support import quads
from wattikos_core.materials import constant_melting_table
from wattikos_core.physics import Condition, FlowPhysics, Problem, State, beginning_at, build_problem
from wattikos_core.physics.terms.storage import Storage
from wattikos_core.solve import Instant, TimeSettings, solve_in_time
from wattikos_core.solve.convergence import heat_sum
from wattikos_core.solve.coupled import UNLIMITED, CoupledSolver
from wattikos_core.solve.iterate import look_at, stored_in
from wattikos_core.solve.stages import _at_the_front
from wattikos_core.solve.start import initial_state, stretched
from wattikos_core.solve.transient import _next_step

# Melting takes as much heat as warming by 100 K.
WAX = constant_melting_table(
    "wax",
    melts=(299.9, 300.1),
    latent_heat=2e5,
    density=800.0,
    specific_heat=(2000.0, 2000.0),
    conductivity=(0.3, 0.15),
    viscosity=4e-3,
    expansion=1e-3,
)
assert WAX.melting is not None
BEGINS, ENDS = (float(WAX.stretched(t)) for t in (WAX.melting.begins, WAX.melting.ends))


def enclosure(cells: int = 12) -> Problem:
    """A square of wax of 2 cm, heated from its left."""
    side = np.linspace(0.0, 0.02, cells + 1)
    physics = FlowPhysics(gravity=(0.0, -9.81), in_time=True, mush=1e6)
    problem = build_problem(quads(side, side), [WAX], {"fluid, left": Condition("wall", temperature=320.0)}, physics=physics)
    return beginning_at(problem, np.full(problem.grid.n_cells, 299.0))


def begin(problem: Problem, temperature: float) -> State:
    return replace(initial_state(problem), stretched=stretched(problem, np.full(problem.grid.n_cells, temperature)))


class Guesses(unittest.TestCase):
    def led(self, before: float, guess: float) -> float:
        problem = enclosure(2)
        n = problem.grid.n_cells
        return float(_at_the_front(problem, np.full(n, before), np.full(n, guess))[0])

    def test_what_melts_is_led_to_the_end_of_its_range(self) -> None:
        """And to just beyond it: right on it the equations have no derivative."""
        middle = 0.5 * (BEGINS + ENDS)
        self.assertEqual(self.led(middle, middle + 10.0), middle + 10.0)
        beyond = self.led(middle, ENDS + 40.0)
        self.assertGreater(beyond, ENDS)
        self.assertLess(beyond, ENDS + 0.01)
        before = self.led(middle, BEGINS - 40.0)
        self.assertLess(before, BEGINS)
        self.assertGreater(before, BEGINS - 0.01)

    def test_what_has_molten_is_led_no_further_than_it_stands(self) -> None:
        self.assertAlmostEqual(self.led(ENDS + 2.0, ENDS + 50.0), ENDS + 4.0)
        self.assertAlmostEqual(self.led(ENDS + 2.0, ENDS + 3.0), ENDS + 3.0)
        self.assertAlmostEqual(self.led(BEGINS - 2.0, BEGINS - 50.0), BEGINS - 4.0)


class Iterations(unittest.TestCase):
    def moved(self, temperature: float, *, heat_only: bool) -> float:
        """How far the first iteration of a long step moves the stretched temperatures of an enclosure, at most."""
        problem = enclosure()
        start = begin(problem, temperature)
        problem = replace(problem, storage=Storage(stored_in(problem, start), 100.0))
        solver = CoupledSolver(problem, (problem.unknowns.temperature,) if heat_only else None)
        solver.cfl = UNLIMITED
        after, accepted = solver.step(look_at(problem, start, np.zeros(problem.grid.n_cells)))
        solver.close()
        self.assertTrue(accepted)
        return float(np.abs(after.state.stretched - start.stretched).max())

    def test_no_iteration_melts_more_than_a_share_of_a_cell(self) -> None:
        """From a solid that is to melt within a second, where the melt moves."""
        self.assertAlmostEqual(self.moved(299.0, heat_only=False), 0.08 * (ENDS - BEGINS), delta=1e-6)

    def test_heat_alone_stops_where_melting_begins_and_may_then_melt_at_once(self) -> None:
        self.assertAlmostEqual(self.moved(299.0, heat_only=True), BEGINS + 1e-3 - 299.0, delta=1e-6)
        self.assertGreater(self.moved(299.95, heat_only=True), 0.2 * (ENDS - BEGINS))

    @tag("slow")
    def test_a_melt_that_convects(self) -> None:
        """Some sixteen iterations a step at the error asked for by default; few steps are taken back."""
        problem = enclosure(20)
        wishes = TimeSettings(end=500.0, tolerance=4e-5)
        done = solve_in_time(lambda time: problem, wishes, (begin(problem, 299.9), np.zeros(problem.grid.n_cells)))
        iterations = [row["inner iterations"] for row in done.history[1:]]
        self.assertLess(float(np.mean(iterations)), 20.0)
        self.assertLess(done.rejected, 0.1 * len(iterations))
        self.assertLess(done.history[-1]["heat balance"], 1e-8)
        # Heat has carried the melt further at the top than at the bottom.
        molten, high = done.last.iterate.state.stretched > ENDS, problem.grid.centre[:, 1] > 0.01
        self.assertGreater(molten[high].mean(), 2.0 * molten[~high].mean())

    def test_heat_of_every_stage_closes(self) -> None:
        problem = enclosure(8)
        kept: list[Instant] = []
        wishes = TimeSettings(end=60.0, stops=(20.0, 40.0), tolerance=4e-5)
        solve_in_time(lambda time: problem, wishes, (begin(problem, 299.9), np.zeros(problem.grid.n_cells)), keep=kept.append)
        for instant in kept[1:]:
            open_by, passing = heat_sum(instant.problem, instant.iterate.evaluation)
            self.assertLess(abs(open_by), 1e-8 * passing)


class Steps(unittest.TestCase):
    settings = TimeSettings(end=100.0, accuracy=1e-3)

    def test_steps_follow_their_error(self) -> None:
        """Half of the error that is wanted lets a step of second order grow by √2, less some safety."""
        self.assertAlmostEqual(_next_step(1.0, 1.0, 5e-4, 0.0, self.settings), 0.9 * 2.0**0.5)
        self.assertAlmostEqual(_next_step(1.0, 1.0, 0.0, 0.0, self.settings), 2.0)

    def test_hard_steps_are_followed_by_shorter_ones(self) -> None:
        self.assertAlmostEqual(_next_step(1.0, 1.0, 5e-4, 4.0, self.settings), 0.5)
        self.assertAlmostEqual(_next_step(1.0, 1.0, 5e-4, 0.25, self.settings), 0.9 * 2.0**0.5)

    def test_what_is_hard_anyway_is_not_made_ever_shorter(self) -> None:
        allowed = 0.9 * 10.0
        self.assertAlmostEqual(_next_step(1.0, 1.0, 1e-5, 100.0, self.settings), min(2.0, 0.3 * allowed))
        self.assertAlmostEqual(_next_step(1.0, 1.0, 1e-3, 100.0, self.settings), 0.27)

    def test_a_step_cut_short_for_a_frame_says_little(self) -> None:
        self.assertAlmostEqual(_next_step(1.0, 0.1, 1e-9, 0.0, self.settings), 1.0)

    def test_fixed_steps_stay(self) -> None:
        fixed = replace(self.settings, step=0.5, fixed=True)
        self.assertEqual(_next_step(0.5, 0.25, 1.0, 100.0, fixed), 0.5)
