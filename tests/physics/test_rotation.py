"""Fluids that are turned: exact solutions and limits of narrow gaps."""

from __future__ import annotations

import unittest

import numpy as np

from tests.sections import circle, rectangle, section_case, wall
from tests.support import quads
from wattikos_core.materials import constant_table
from wattikos_core.physics import Condition, FlowPhysics, Problem, State, build_problem
from wattikos_core.solve import SolveSettings, solve_steady
from wattikos_core.solve.iterate import evaluate_state, look_at
from wattikos_core.studies import Result, solve_case

VISCOSITY = 2.0
FLUID = constant_table("fluid", density=0.5, specific_heat=3.0, viscosity=VISCOSITY, conductivity=0.7)


def annulus(inner: float, outer: float, cells: int, conditions: dict[str, Condition], heating: bool = False) -> Problem:
    grid = quads(np.linspace(0.0, 0.5, 4), np.linspace(inner, outer, cells + 1), axisymmetric=True)
    ends = {"fluid, left": Condition("symmetry"), "fluid, right": Condition("symmetry")}
    return build_problem(grid, [FLUID], {**ends, **conditions}, physics=FlowPhysics(friction_heat=heating))


class Couette(unittest.TestCase):
    """Between turning cylinders w = A r + B/r (for example White 2006, section 3-2.3), with the heat of its friction exact too."""

    a, b, rate = 1.0, 2.0, 3.0

    def solved(self, cells: int) -> tuple[Problem, State, np.ndarray, np.ndarray]:
        conditions = {
            "fluid, bottom": Condition("wall", angular_velocity=self.rate, temperature=300.0),
            "fluid, top": Condition("wall", temperature=300.0),
        }
        problem = annulus(self.a, self.b, cells, conditions, heating=True)
        solution = solve_steady(problem, SolveSettings(tolerance=1e-10, method="coupled"))
        self.assertTrue(solution.converged)
        e = evaluate_state(problem, solution.state, solution.interpolation)
        return problem, solution.state, e.temperature, e.torque[problem.grid.groups["fluid, bottom"]]

    def test_turning_torque_and_friction_heat(self) -> None:
        # w = c (b²/r - r) with c = Ω a²/(b² - a²); angular velocity w/r.
        c = self.rate * self.a**2 / (self.b**2 - self.a**2)
        errors = []
        for cells in (16, 32):
            problem, state, temperature, torque = self.solved(cells)
            r = problem.grid.centre[:, 1]
            exact = c * (self.b**2 / r**2 - 1.0)
            errors.append(float(np.abs(state.angular_velocity - exact).max()))
            # Torque 4π μ L c b² on the inner cylinder, against its turning.
            whole = 4.0 * np.pi * VISCOSITY * 0.5 * c * self.b**2
            self.assertAlmostEqual(-float(torque.sum()) / whole, 1.0, delta=0.01)
            # k (r T')' / r = -μ (r dω/dr)² = -4 μ c² b⁴ / r⁴, both walls at 300 K.
            source = VISCOSITY * c**2 * self.b**4 / 0.7
            log = np.log(r / self.a) / np.log(self.b / self.a)
            rise = source * (1.0 / self.a**2 - 1.0 / r**2 - log * (1.0 / self.a**2 - 1.0 / self.b**2))
            np.testing.assert_allclose(temperature - 300.0, rise, atol=0.03 * float(rise.max()))
        self.assertGreater(float(np.log2(errors[0] / errors[1])), 1.8)

    def test_power_is_friction_heat(self) -> None:
        """What turns the cylinder leaves as heat, exactly by the balance and closely by the two integrals."""
        problem, state, *_ = self.solved(32)
        now = look_at(problem, state, np.zeros(problem.grid.n_cells))
        power = -self.rate * float(now.evaluation.torque[problem.grid.groups["fluid, bottom"]].sum())
        self.assertAlmostEqual(float(now.evaluation.dissipation.sum()) / power, 1.0, delta=0.01)

    def test_solid_rotation_is_exact(self) -> None:
        """Everything turns alike: no torque, and pressure rises as ρ ω² r²/2."""
        turning = {f"fluid, {side}": Condition("wall", angular_velocity=2.0) for side in ("bottom", "top")}
        problem = annulus(0.5, 1.5, 8, turning)
        solution = solve_steady(problem, SolveSettings(tolerance=1e-10, method="coupled"))
        e = evaluate_state(problem, solution.state, solution.interpolation)
        np.testing.assert_allclose(solution.state.angular_velocity, 2.0, rtol=1e-9)
        self.assertLess(float(np.abs(e.torque).max()), 1e-8)
        r = problem.grid.centre[:, 1]
        rise = solution.state.pressure - 0.5 * 0.5 * 4.0 * r**2
        self.assertLess(float(np.ptp(rise)), 1e-7)


class NarrowGaps(unittest.TestCase):
    def test_disc_near_a_wall(self) -> None:
        """Slow and narrow: torque π μ Ω R⁴ / 2s on each side (exact limit of lubrication)."""
        gap, radius, rate = 0.02, 1.0, 0.5
        grid = quads(np.linspace(0.0, gap, 9), np.linspace(0.0, radius, 41), axisymmetric=True)
        conditions = {
            "fluid, left": Condition("wall", angular_velocity=rate),
            "fluid, right": Condition("wall"),
            "fluid, bottom": Condition("symmetry"),
            "fluid, top": Condition("symmetry"),
        }
        problem = build_problem(grid, [FLUID], conditions)
        solution = solve_steady(problem, SolveSettings(tolerance=1e-9, method="coupled"))
        self.assertTrue(solution.converged)
        e = evaluate_state(problem, solution.state, solution.interpolation)
        torque = -float(e.torque[grid.groups["fluid, left"]].sum())
        self.assertAlmostEqual(torque / (np.pi * VISCOSITY * rate * radius**4 / (2.0 * gap)), 1.0, delta=0.01)

    def test_rotating_cylinder_in_a_flat_section(self) -> None:
        """A rod that turns in a round casing, across its axis: torque 4π μ Ω L / (1/a² - 1/b²)."""
        case = section_case(
            circle("oil", "oil", "0 m", "0 m", "80 mm"),
            circle("rod", "void", "0 m", "0 m", "40 mm"),
            conditions=[
                wall("oil, rod outside", angular_velocity="30 rpm", thermal="temperature", temperature="20 °C"),
                wall("oil, outside"),
            ],
            materials={"oil": {"base": "water", "viscosity": "50 mPa*s"}},
            fineness=2.0,
        )
        run = solve_case(case)
        rate = 30.0 * 2.0 * np.pi / 60.0
        exact = 4.0 * np.pi * 0.05 * rate / (1.0 / 0.02**2 - 1.0 / 0.04**2)
        self.assertAlmostEqual(run.value("torque to turn oil, rod outside") / exact, 1.0, delta=0.02)
        self.assertAlmostEqual(run.value("power to turn oil, rod outside") / (exact * rate), 1.0, delta=0.02)

    def test_a_wall_may_not_leave_its_surface(self) -> None:
        from wattikos_core.errors import CaseError

        case = section_case(
            rectangle("oil", "water", "0 m", "0 m", "20 mm", "10 mm"),
            conditions=[wall("oil, top", slide_y="1 m/s", thermal="temperature", temperature="20 °C")],
        )
        with self.assertRaisesRegex(CaseError, "out of its own surface"):
            solve_case(case)

    def test_turning_by_the_document(self) -> None:
        """The ledger of a section about an axis has torque and power, and friction heat where it is asked for."""
        case = section_case(
            rectangle("oil", "water", "0 m", "20 mm", "50 mm", "1 mm"),
            axisymmetric=True,
            conditions=[
                wall("oil, bottom", angular_velocity="60 rpm", thermal="temperature", temperature="20 °C"),
                wall("oil, top", thermal="temperature", temperature="20 °C"),
                {"type": "symmetry", "boundaries": ["oil, left", "oil, right"]},
            ],
            physics={"friction_heat": True},
        )
        run = solve_case(case)
        values = solved_quantities_of(run)
        self.assertAlmostEqual(values["friction heat in oil"] / values["power to turn oil, bottom"], 1.0, delta=0.02)
        self.assertAlmostEqual(
            values["torque to turn oil, bottom"], values["torque on oil, top"], delta=1e-6 * abs(values["torque on oil, top"])
        )


def solved_quantities_of(run: object) -> dict[str, float]:
    return {row.name: row.solved for row in run.ledger if row.solved is not None}  # type: ignore[attr-defined]


class TurningStreams(unittest.TestCase):
    def test_a_stream_that_turns_like_a_solid_leaves_as_one_at_rest_would(self) -> None:
        """Between cylinders that turn at one rate: pressure rises by ρω²r along the radius, at the outlet too (exact)."""

        def run(rate: str) -> Result:
            walls = {"angular_velocity": rate} if rate else {}
            case = section_case(
                rectangle("oil", "heavy", "0 m", "20 mm", "60 mm", "5 mm"),
                axisymmetric=True,
                conditions=[
                    {
                        "type": "inlet",
                        "boundaries": ["oil, left"],
                        "velocity": "50 mm/s",
                        "profile": "developed",
                        "angular_velocity": rate,
                    },
                    {"type": "outlet", "boundaries": ["oil, right"]},
                    wall("oil, bottom", "oil, top", **walls),
                ],
                materials={"heavy": {"base": "water", "viscosity": "20 mPa*s", "density": "1000 kg/m^3"}},
            )
            return solve_case(case)

        still, turning = run(""), run("600 rpm")
        self.assertFalse([f.text for f in turning.findings if "comes back" in f.text])
        self.assertAlmostEqual(turning.value("oil pressure drop") / still.value("oil pressure drop"), 1.0, delta=2e-3)
        # The head across the gap is some fifteen times the pressure drop.
        head = 0.5 * 1000.0 * (600.0 * 2.0 * np.pi / 60.0) ** 2 * (0.025**2 - 0.020**2)
        self.assertGreater(head, 10.0 * turning.value("oil pressure drop"))
        across = np.ptp(turning.evaluation.face_pressure[turning.problem.grid.groups["oil, right"]])
        self.assertAlmostEqual(across / head, 1.0, delta=0.05)
