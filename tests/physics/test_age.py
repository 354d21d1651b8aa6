"""The age of fluid against exact solutions: volume over flow at any outlet, the paraboloid of pipes and plates, time itself."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from tests.sections import rectangle, section_case
from tests.support import quads
from wattikos_core.case import read_case, starter_case
from wattikos_core.errors import CaseError
from wattikos_core.materials import constant_table
from wattikos_core.physics import Condition, FlowPhysics, build_problem, compact_blocks, evaluate, point_of
from wattikos_core.physics.pattern import build_pattern
from wattikos_core.read.age import age_field
from wattikos_core.solve import SolveSettings, TimeSettings, initial_state, solve_in_time, solve_steady
from wattikos_core.solve.iterate import evaluate_state
from wattikos_core.studies import Result, solve_case

FLUID = constant_table("fluid", density=900.0, specific_heat=2000.0, viscosity=0.05, conductivity=0.2)
OIL = {"oil": {"base": "water", "density": "900 kg/m^3", "viscosity": "0.05 Pa*s", "specific_heat": "2000 J/kg/K"}}
OPEN = {
    "fluid, left": Condition("inlet", mean_velocity=0.02, temperature=300.0),
    "fluid, right": Condition("outlet"),
    "fluid, bottom": Condition("wall"),
    "fluid, top": Condition("wall"),
}


def pipe(fineness: float, **physics: Any) -> Result:
    """Isothermal flow of constant properties that enters developed: 0.5 m of a pipe of 20 mm, mean 5 mm/s, mean age 100 s."""
    shape = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "500 mm", "height": "10 mm"}
    return solve_case(
        read_case(
            {
                "title": "pipe",
                "inputs": {},
                "materials": OIL,
                "section": {"extent": "axisymmetric", "parts": [{"name": "oil", "material": "oil", "shape": shape}]},
                "physics": {"age": True, "age_limit": "80 s", **physics},
                "conditions": [
                    {"type": "inlet", "boundaries": ["oil, left"], "velocity": "5 mm/s", "profile": "developed"},
                    {"type": "outlet", "boundaries": ["oil, right"]},
                    {"type": "symmetry", "boundaries": ["oil, bottom"]},
                    {"type": "wall", "boundaries": ["oil, top"]},
                ],
                "grid": {"fineness": fineness},
            }
        )
    )


class Steady(unittest.TestCase):
    def test_volume_over_flow(self) -> None:
        """Danckwerts (1953): exact to the tolerance of the solve, on any grid, for any flow, with diffusion or without."""
        for fineness, spread in ((0.5, ""), (1.0, ""), (1.0, "1e-5 m^2/s")):
            run = pipe(fineness, age_diffusivity=spread)
            self.assertTrue(run.solution.converged)
            volume = float(run.problem.grid.volume.sum())
            flow = -float(run.evaluation.flow[run.problem.grid.groups["oil, left"]].sum()) / 900.0
            self.assertAlmostEqual(run.value("oil mean age at the outlet") / (volume / flow), 1.0, delta=1e-7)
            self.assertAlmostEqual(volume / flow, 100.0, delta=1e-6)

    def test_a_stirred_flow_keeps_the_mean(self) -> None:
        """A flow that separates and goes round behind a step: fluid that stays for ever longer is made up for by what is quick."""
        lines = np.linspace(0.0, 0.1, 31)
        grid = quads(lines, np.linspace(0.0, 0.02, 13), shake=0.2)
        moving = OPEN | {"fluid, top": Condition("wall", velocity=(-0.01, 0.0))}
        problem = build_problem(grid, [FLUID], moving, physics=FlowPhysics(age_diffusivity=1e-6))
        solution = solve_steady(problem, SolveSettings(tolerance=1e-10))
        self.assertTrue(solution.converged)
        flow = evaluate_state(problem, solution.state, solution.interpolation).flow
        out = grid.groups["fluid, right"]
        age = solution.state.scalars[grid.owner[out], 0]
        mass = 900.0 * float(grid.volume.sum())
        leaving = float((flow[out] * age).sum())
        self.assertAlmostEqual(leaving / mass, 1.0, delta=1e-6)

    def test_the_fastest_part_stays_half_as_long(self) -> None:
        errors, shares = [], []
        for fineness in (1.0, 2.0):
            run = pipe(fineness)
            errors.append(abs(run.value("oil shortest age at the outlet") / 50.0 - 1.0))
            # 1 - (τ / 2t)² of a paraboloid leaves younger than t.
            shares.append(abs(run.value("oil share younger than asked") - (1.0 - (100.0 / 160.0) ** 2)))
        self.assertLess(errors[0], 0.01)
        self.assertGreater(errors[0] / errors[1], 2.5)
        self.assertLess(shares[1], 0.01)

    def test_ages_across_the_outlet_follow_the_profile(self) -> None:
        run = pipe(2.0)
        grid = run.problem.grid
        out = grid.groups["oil, right"]
        radius, age = grid.face_centre[out, 1], run.solution.state.scalars[grid.owner[out], 0]
        middle = radius < 0.008
        # The last centres stand half a cell before the outlet.
        along = grid.centre[grid.owner[out], 0]
        exact = along / (2.0 * 0.005 * (1.0 - (radius / 0.01) ** 2))
        np.testing.assert_allclose(age[middle], exact[middle], rtol=0.01)

    def test_turbulence_spreads_it(self) -> None:
        """Far down a channel age is x/U + f(y) with d/dy(D df/dy) = u/U - 1, D what stirs over a Schmidt number of 0.7."""
        shape = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "2 m", "height": "10 mm"}
        run = solve_case(
            read_case(
                {
                    "title": "channel",
                    "inputs": {},
                    "section": {"extent": "flat", "parts": [{"name": "air", "material": "air", "shape": shape}]},
                    "physics": {"flow": "turbulent", "age": True},
                    "conditions": [
                        {"type": "inlet", "boundaries": ["air, left"], "velocity": "15 m/s", "profile": "developed"},
                        {"type": "outlet", "boundaries": ["air, right"]},
                        {"type": "symmetry", "boundaries": ["air, bottom"]},
                        {"type": "wall", "boundaries": ["air, top"]},
                    ],
                    "grid": {"fineness": 0.5},
                }
            )
        )
        self.assertTrue(run.solution.converged)
        self.assertAlmostEqual(run.value("air mean age at the outlet"), 2.0 / 15.0, delta=2e-4)
        grid, state = run.problem.grid, run.solution.state
        x = np.unique(np.round(grid.centre[:, 0], 9))
        mine = np.nonzero(np.abs(grid.centre[:, 0] - x[np.argmin(np.abs(x - 1.8))]) < 1e-6)[0]
        mine = mine[np.argsort(grid.centre[mine, 1])]
        point = point_of(run.problem, state)
        y, age, u = grid.centre[mine, 1], state.scalars[mine, run.problem.unknowns.scalars.index("age")], state.velocity[mine, 0]
        stirred = (point.turbulence.eddy_viscosity[mine] / point.properties.density[mine]) / 0.7
        height = grid.volume[mine] / grid.volume[mine].sum() * 0.01
        # What passes upwards between two centres, and the steps of age that it makes.
        passing = np.cumsum((u / np.average(u, weights=height) - 1.0) * height)[:-1]
        between = 2.0 * stirred[1:] * stirred[:-1] / (stirred[1:] + stirred[:-1])
        middle = (y > 0.001) & (y < 0.008)
        steps = (passing / between * np.diff(y))[middle[1:] & middle[:-1]]
        self.assertAlmostEqual(float(np.ptp(age[middle]) / steps.sum()), 1.0, delta=0.05)

    def test_grains_leave_no_room_to_grow_old_in(self) -> None:
        """Oil between the grains of a bed has 40 % of its volume: what it takes through duct and bed is exact, in each of them."""
        bed = {"type": "porous", "porosity": "0.4", "viscous": "1e6 1/m^2", "inertial": "0 1/m"}
        duct = rectangle("duct", "oil", "0 m", "0 m", "2 m", "0.2 m")
        case = section_case(
            duct,
            rectangle("bed", "oil", "0.5 m", "0 m", "1 m", "0.2 m", internal=bed),
            materials=OIL,
            conditions=[
                {"type": "inlet", "boundaries": ["duct, left"], "velocity": "0.1 m/s", "temperature": "20 °C"},
                {"type": "outlet", "boundaries": ["duct, right"]},
                {"type": "symmetry", "boundaries": [f"{part}, {side}" for part in ("duct", "bed") for side in ("top", "bottom")]},
            ],
        )
        run = solve_case(read_case({**case.model_dump(mode="json"), "physics": {"age": True}}))
        self.assertTrue(run.solution.converged)
        self.assertAlmostEqual(run.value("duct mean age at the outlet"), 14.0, delta=1e-6)
        # A plug is half as old inside as where it leaves; of the bed, 5 s at its beginning and 9 s at its end.
        self.assertAlmostEqual(run.value("bed mean age inside"), 7.0, delta=0.02)
        self.assertAlmostEqual(run.value("duct mean age inside"), 7.0, delta=0.02)
        self.assertAlmostEqual(run.value("duct air change efficiency"), 1.0, delta=0.005)

    def test_the_starter_agrees_with_its_hand_calculation(self) -> None:
        run = solve_case(starter_case("holding_tube"))
        rows = {row.name: row for row in run.ledger}
        for name in ("mean age at the outlet", "shortest age at the outlet", "share younger than asked"):
            row = rows[f"product {name}"]
            assert row.hand is not None
            assert row.solved is not None
            self.assertAlmostEqual(row.solved / row.hand.value, 1.0, delta=0.03, msg=name)

    def test_refusals(self) -> None:
        with self.assertRaisesRegex(CaseError, "older for ever"):
            build_problem(
                quads(np.linspace(0.0, 1.0, 4), np.linspace(0.0, 1.0, 4)),
                [FLUID],
                {"fluid, top": Condition("wall", velocity=(1.0, 0.0))},
                physics=FlowPhysics(age_diffusivity=0.0),
            )
        module = starter_case("bundle_module")
        with self.assertRaisesRegex(CaseError, "does not repeat"):
            solve_case(module.model_copy(update={"physics": module.physics.model_copy(update={"age": True})}))


class InTime(unittest.TestCase):
    def test_closed_in_fluid_grows_as_old_as_the_time(self) -> None:
        grid = quads(np.linspace(0.0, 0.1, 7), np.linspace(0.0, 0.1, 7))
        lid = {"fluid, top": Condition("wall", velocity=(0.01, 0.0))}
        problem = build_problem(grid, [FLUID], lid, physics=FlowPhysics(in_time=True, age_diffusivity=0.0))
        done = solve_in_time(lambda t: problem, TimeSettings(end=7.0), (initial_state(problem), np.zeros(grid.n_cells)))
        age = age_field(point_of(problem, done.last.iterate.state))
        assert age is not None
        np.testing.assert_allclose(age, 7.0, rtol=1e-6)


class Jacobian(unittest.TestCase):
    def test_the_column_and_the_row_of_the_age(self) -> None:
        """Against differences of the residuals, upwind, as for the other unknowns."""
        grid = quads(np.linspace(0.0, 0.1, 6), np.linspace(0.0, 0.05, 6))
        problem = build_problem(grid, [FLUID], OPEN, physics=FlowPhysics(age_diffusivity=1e-4, blend=0.0))
        random = np.random.default_rng(2)
        state = initial_state(problem)
        columns = state.columns(problem.unknowns)
        columns += 0.1 * random.standard_normal(columns.shape)
        moved = type(state).of(columns, problem.unknowns)
        d = np.zeros(grid.n_cells)
        flow = evaluate(point_of(problem, moved), d).flow
        pattern = build_pattern(problem)
        matrix = pattern.matrix(compact_blocks(point_of(problem, moved), d, flow), np.zeros(0))
        row = pattern.position[:, problem.unknowns.transported[0]]
        for unknown in (*problem.unknowns.velocity, *problem.unknowns.transported):
            direction = np.zeros(pattern.size)
            direction[pattern.position[:, unknown]] = random.standard_normal(grid.n_cells)

            def residual(step: float, along: np.ndarray = direction) -> np.ndarray:
                there = type(state).of(pattern.unpack(pattern.pack(columns) + step * along), problem.unknowns)
                return pattern.pack(evaluate(point_of(problem, there), d).residual)

            numerical = (residual(1e-6) - residual(-1e-6)) / 2e-6
            exact = matrix @ direction
            np.testing.assert_allclose(exact[row], numerical[row], atol=2e-6 * float(np.abs(numerical[row]).max()))


class Plug(unittest.TestCase):
    def test_air_change_and_removal_of_heat(self) -> None:
        """Air that moves as a plug and is warmed evenly: an efficiency of one, an effectiveness of two, both exact."""
        shape = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "2 m", "height": "0.2 m"}
        air = {"base": "air", "density": "1.2 kg/m^3", "specific_heat": "1000 J/kg/K", "conductivity": "1e-9 W/m/K"}
        sides = [f"air, {side}" for side in ("top", "bottom")]
        document = {
            "title": "plug",
            "inputs": {},
            "materials": {"plain": air},
            "section": {"parts": [{"name": "air", "material": "plain", "shape": shape, "heat": "240 W"}]},
            "physics": {"age": True},
            "conditions": [
                {"type": "inlet", "boundaries": ["air, left"], "velocity": "0.1 m/s", "temperature": "20 °C", "profile": "uniform"},
                {"type": "outlet", "boundaries": ["air, right"]},
                {"type": "symmetry", "boundaries": sides},
            ],
        }
        run = solve_case(read_case(document))
        self.assertAlmostEqual(run.value("air outlet temperature"), 303.15, delta=1e-5)
        self.assertAlmostEqual(run.value("air air change efficiency"), 1.0, delta=0.02)
        self.assertAlmostEqual(run.value("air heat removal effectiveness"), 2.0, delta=0.04)
