"""What must hold for any state, converged or not: conservation, symmetry, frame; and special sections."""

from __future__ import annotations

import json
import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from tests.states import plane_state
from tests.support import HEATED, INSULATED, WALL_AT_60, duct, quads, triangles
from wattikos_core.boundaries.profiles import developed_profile
from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.grid import Grid
from wattikos_core.materials import constant_table, table_of
from wattikos_core.physics import Condition, Evaluation, FlowPhysics, Problem, State, build_problem
from wattikos_core.physics.faces import INLET, INTERFACE, OUTLET
from wattikos_core.solve.iterate import evaluate_state, look_at
from wattikos_core.studies import solve_case

WATER = table_of("water")
# As good as no gravity, but a closed fluid counts as one that moves.
FREE = FlowPhysics(gravity=(0.0, -1e-30))
OPEN = {
    "fluid, left": Condition("inlet", mass_flow=0.02, temperature=320.0),
    "fluid, right": Condition("outlet"),
    "fluid, bottom": Condition("wall", heat_flux=500.0),
    "fluid, top": Condition("wall", temperature=300.0),
}


def random_state(n: int, seed: int = 1) -> State:
    random = np.random.default_rng(seed)
    u, v = 0.01 * random.standard_normal((2, n))
    return plane_state(u, v, random.standard_normal(n), 310.0 + 5.0 * random.random(n), np.zeros(n))


def evaluated(problem: Problem, state: State) -> Evaluation:
    return evaluate_state(problem, state, look_at(problem, state, np.zeros(problem.grid.n_cells)).interpolation)


class AnyState(unittest.TestCase):
    grids = (
        quads(np.linspace(0, 0.1, 9), np.linspace(0, 0.02, 7)),
        quads(np.linspace(0, 0.1, 9), np.linspace(0, 0.1, 7), shake=0.3),
    )

    def test_mass_residuals_add_up_to_the_boundary_flow(self) -> None:
        for grid in self.grids:
            e = evaluated(build_problem(grid, [WATER], OPEN), random_state(grid.n_cells))
            outer = grid.neighbour < 0
            self.assertAlmostEqual(e.mass.sum(), e.flow[outer].sum(), delta=1e-12)

    def test_energy_residuals_add_up_to_the_boundary_heat(self) -> None:
        """ΣR = Σ(heat + enthalpy flow) over the outside, less h times each cell's own mass residual."""
        for grid in self.grids:
            state = random_state(grid.n_cells)
            e = evaluated(build_problem(grid, [WATER], OPEN), state)
            outer = grid.neighbour < 0
            total = e.heat[outer].sum() + e.enthalpy_flow[outer].sum()
            own = (WATER.enthalpy(state.stretched) * e.mass).sum()
            self.assertAlmostEqual(e.energy.sum() / (total - own), 1.0, delta=1e-9)

    def test_interface_heat_is_the_same_from_both_sides(self) -> None:
        """Two conductivities 50:1 side by side: T at the face lies where the fluxes meet."""
        one = quads(np.linspace(0.0, 1.0, 5), np.linspace(0.0, 1.0, 3))
        region = (one.centre[:, 0] > 0.5).astype(np.int64)
        grid = Grid(**{**one.__dict__, "region": region, "region_names": ("a", "b")})
        solids = [
            constant_table(n, density=1.0, specific_heat=1.0, viscosity=0.0, conductivity=k) for n, k in (("a", 50.0), ("b", 1.0))
        ]
        problem = build_problem(grid, solids, {})
        t = 300.0 + 100.0 * grid.centre[:, 0]
        zero = np.zeros(grid.n_cells)
        e = evaluated(problem, plane_state(zero, zero, zero, t, zero))
        faces = problem.faces.kind == INTERFACE
        self.assertEqual(int(faces.sum()), 2)
        # Half-cells of 0.125 m in series: q = 25 K / (0.125/50 + 0.125/1).
        np.testing.assert_allclose(e.heat[faces] / problem.faces.area[faces], -25.0 / 0.1275, rtol=1e-12)
        np.testing.assert_allclose(e.face_temperature[faces], 337.5 + 25.0 * 0.0025 / 0.1275, rtol=1e-12)

    def test_a_fluid_at_rest_stays_at_rest(self) -> None:
        for grid in (*self.grids, triangles(5)):
            problem = build_problem(grid, [WATER], {}, physics=FREE)
            zero = np.zeros(grid.n_cells)
            e = evaluated(problem, plane_state(zero, zero, zero, np.full(grid.n_cells, 300.0), zero))
            for residual in (e.momentum[:, 0], e.momentum[:, 1], e.mass, e.energy, e.flow):
                self.assertLess(float(np.abs(residual).max()), 1e-13)

    def test_uniform_flow_meets_no_resistance_between_symmetry_planes(self) -> None:
        conditions = {
            "fluid, left": Condition("inlet", mean_velocity=0.5, temperature=300.0),
            "fluid, right": Condition("outlet"),
            "fluid, bottom": Condition("symmetry"),
            "fluid, top": Condition("symmetry"),
        }
        grid = self.grids[1]
        problem = build_problem(grid, [WATER], conditions)
        ones = np.ones(grid.n_cells)
        e = evaluated(problem, plane_state(0.5 * ones, 0.0 * ones, 0.0 * ones, 300.0 * ones, 0.0 * ones))
        for residual in (e.momentum[:, 0], e.momentum[:, 1], e.mass):
            self.assertLess(float(np.abs(residual).max()), 1e-9)


class Terms(unittest.TestCase):
    """Single terms of the residual against what they stand for, away from the edges of a uniform grid."""

    lines = np.linspace(0.0, 1.0, 9)

    def inner(self, grid: Grid) -> np.ndarray:
        return np.all(np.abs(grid.centre - 0.5) < 0.3, axis=1)

    def test_viscosity_that_varies_strains_twice(self) -> None:
        """For u = (ax, -ay) the stress divergence is 2a(∂μ/∂x, -∂μ/∂y); the Laplacian alone would give half of it."""
        slope = 0.004
        table = constant_table("fluid", density=3.0, specific_heat=1.0, viscosity=1.0, conductivity=1.0)
        coefficients = table.coefficients.copy()
        coefficients[2, :, 2] = slope
        coefficients[2, :, 3] = 0.5 + slope * table.step * np.arange(coefficients.shape[1])
        grid = quads(self.lines, self.lines)
        problem = build_problem(grid, [replace(table, coefficients=coefficients)], {}, physics=FREE)
        x, y = grid.centre.T
        a = 0.7
        state = plane_state(a * x, -a * y, np.zeros(grid.n_cells), 300.0 + 40.0 * x + 25.0 * y, 0.0 * x)
        e = evaluate_state(problem, state, np.zeros(grid.n_cells))
        inner = self.inner(grid)
        volume = grid.volume[inner]
        expected_x = 3.0 * a**2 * x[inner] - 2.0 * a * slope * 40.0
        expected_y = 3.0 * a**2 * y[inner] + 2.0 * a * slope * 25.0
        # Viscosities in series between two cells lie below their mean by (Δμ)²/4μ: here 1e-5 of it.
        np.testing.assert_allclose(e.momentum[:, 0][inner] / volume, expected_x, rtol=5e-5)
        np.testing.assert_allclose(e.momentum[:, 1][inner] / volume, expected_y, rtol=5e-5)

    def test_pressure_that_alternates_drives_flow_through_faces(self) -> None:
        """The momentum interpolation sees a checkerboard that cell gradients cannot: F = ρ A D (p_P - p_N) / δ."""
        grid = quads(self.lines, self.lines)
        fluid = constant_table("fluid", density=3.0, specific_heat=1.0, viscosity=1.0, conductivity=1.0)
        problem = build_problem(grid, [fluid], {}, physics=FREE)
        zero = np.zeros(grid.n_cells)
        checker = np.where((np.round(grid.centre * 8.0 - 0.5).sum(axis=1) % 2) == 0, 1.0, -1.0)
        d = np.full(grid.n_cells, 0.02)
        e = evaluate_state(problem, plane_state(zero, zero, checker, zero + 300.0, zero), d)
        faces = problem.faces
        chosen = np.nonzero((faces.neighbour >= 0) & np.all(np.abs(grid.face_centre - 0.5) < 0.3, axis=1))[0]
        jump = checker[faces.owner[chosen]] - checker[faces.neighbour[chosen]]
        np.testing.assert_allclose(e.flow[chosen], 3.0 * faces.area[chosen] * 0.02 * jump / 0.125, rtol=1e-9)

    def test_linear_pressure_drives_no_flow_through_faces(self) -> None:
        grid = quads(self.lines, self.lines)
        problem = build_problem(grid, [WATER], {}, physics=FREE)
        zero = np.zeros(grid.n_cells)
        state = plane_state(zero, zero, 5.0 * grid.centre[:, 0] - 2.0 * grid.centre[:, 1], zero + 300.0, zero)
        e = evaluate_state(problem, state, np.full(grid.n_cells, 0.02))
        self.assertLess(float(np.abs(e.flow).max()), 1e-12)
        np.testing.assert_allclose(e.momentum[:, 0] / grid.volume, 5.0, rtol=1e-10)


class Mirrors(unittest.TestCase):
    def passage(self, change: Any) -> Case:
        data = json.loads(starter_case("plate_passage").model_dump_json())
        data["grid"]["fineness"] = 0.4
        change(data)
        return read_case(data)

    def test_a_mirrored_passage_gives_the_same_numbers(self) -> None:
        def mirror(data: dict[str, Any]) -> None:
            for condition, side in zip(data["conditions"][:4], ("right", "left", "left", "right"), strict=True):
                part = condition["boundaries"][0].split(",")[0]
                condition["boundaries"] = [f"{part}, {side}"]

        straight, mirrored = solve_case(self.passage(lambda data: None)), solve_case(self.passage(mirror))
        for name in ("duty", "hot pressure drop", "hottest metal", "cold h", "effectiveness"):
            self.assertAlmostEqual(straight.value(name) / mirrored.value(name), 1.0, places=7)

    def test_a_moved_passage_gives_the_same_numbers(self) -> None:
        def move(data: dict[str, Any]) -> None:
            for part in data["section"]["parts"]:
                part["shape"]["x"] = "-3 m"
                part["shape"]["y"] = f"({part['shape']['y']}) + 40 mm"

        straight, moved = solve_case(self.passage(lambda data: None)), solve_case(self.passage(move))
        self.assertAlmostEqual(straight.value("duty") / moved.value("duty"), 1.0, places=7)

    def test_a_deeper_passage_scales(self) -> None:
        def double(data: dict[str, Any]) -> None:
            data["inputs"]["width"]["value"] = "360 mm"
            for name, value in (("hot_flow", "9.2 g/s"), ("cold_flow", "10 g/s")):
                data["inputs"][name]["value"] = value

        single, twice = solve_case(self.passage(lambda data: None)), solve_case(self.passage(double))
        self.assertAlmostEqual(2.0 * single.value("duty") / twice.value("duty"), 1.0, places=7)
        self.assertAlmostEqual(single.value("hot pressure drop") / twice.value("hot pressure drop"), 1.0, places=7)


class Sections(unittest.TestCase):
    def test_annulus_friction(self) -> None:
        """Concentric annulus, r1/r2 = 0.5: f·Re = 95.25 (Shah and London 1978, chapter XIV, 4 x 23.813)."""
        case = duct(
            length=0.3,
            height=0.002,
            reynolds=100.0,
            diameter=0.004,
            axisymmetric=True,
            bottom=INSULATED,
            top=INSULATED,
            fineness=1.5,
        )
        shape = case.section.parts[0].shape.model_copy(update={"y": "2 mm"})
        section = case.section.model_copy(update={"parts": [case.section.parts[0].model_copy(update={"shape": shape})]})
        run = solve_case(case.model_copy(update={"section": section}))
        speed = 100.0 * 0.0015 / (1000.0 * 0.004)
        friction = run.value("duct pressure drop") * 0.004 / 0.3 / (500.0 * speed**2)
        self.assertAlmostEqual(friction * 100.0, 95.25, delta=0.5)

    def test_heat_flux_is_what_leaves_with_the_stream(self) -> None:
        case = duct(length=0.1, height=0.002, reynolds=100.0, diameter=0.004, bottom=HEATED, top=INSULATED)
        run = solve_case(case)
        self.assertAlmostEqual(run.value("heat out through duct, bottom"), -1000.0 * 0.1, places=9)
        inlet = run.problem.faces.kind == INLET
        conducted = float(run.evaluation.heat[inlet].sum())
        self.assertAlmostEqual(run.value("duct heat gained") + conducted, 100.0, delta=1e-6)

    def test_backflow_is_found(self) -> None:
        """A step so near to the outlet that fluid comes back in."""
        data = json.loads(
            duct(length=0.02, height=0.004, reynolds=300.0, diameter=0.008, bottom=INSULATED, top=INSULATED).model_dump_json()
        )
        block = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": "16 mm", "height": "3 mm"}
        data["section"]["parts"].append({"name": "step", "material": "pvc", "shape": block, "present": "1"})
        run = solve_case(read_case(data))
        self.assertTrue(any("comes back in" in f.text for f in run.findings), [f.text for f in run.findings])

    def test_pressure_at_the_outlet_is_a_level(self) -> None:
        case = duct(length=0.02, height=0.002, reynolds=50.0, diameter=0.004, bottom=WALL_AT_60, top=INSULATED)
        outlet = case.conditions[1].model_copy(update={"pressure": "2 kPa"})
        raised = case.model_copy(update={"conditions": [case.conditions[0], outlet, *case.conditions[2:]]})
        low, high = solve_case(case), solve_case(raised)
        self.assertAlmostEqual(low.value("duct pressure drop") / high.value("duct pressure drop"), 1.0, places=6)
        np.testing.assert_allclose(high.solution.state.pressure - low.solution.state.pressure, 2000.0, rtol=1e-8)
        out = high.problem.faces.kind == OUTLET
        np.testing.assert_allclose(high.evaluation.face_pressure[out], 2000.0)


class Profiles(unittest.TestCase):
    edges = np.linspace(0.001, 0.003, 41)

    def test_all_profiles_have_the_mean_one(self) -> None:
        for axisymmetric in (False, True):
            for walls in ((True, True), (True, False), (False, True), (False, False)):
                profile = developed_profile(self.edges[:-1], self.edges[1:], *walls, axisymmetric)
                middle = 0.5 * (self.edges[1:] + self.edges[:-1]) if axisymmetric else 1.0
                weight = np.diff(self.edges) * middle
                self.assertAlmostEqual((profile * weight).sum() / weight.sum(), 1.0, places=12)

    def test_slip_free_ends_are_slow_and_free_ends_fast(self) -> None:
        profile = developed_profile(self.edges[:-1], self.edges[1:], True, False, False)
        self.assertLess(profile[0], 0.1)
        self.assertAlmostEqual(profile[-1], 1.5, delta=0.01)
        ring = developed_profile(self.edges[:-1], self.edges[1:], True, True, True)
        # In an annulus the fastest place lies nearer to the inner wall than the middle.
        self.assertLess(int(ring.argmax()), 20)
