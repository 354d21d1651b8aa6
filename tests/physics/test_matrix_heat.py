"""Matrices with temperatures of their own against exact solutions: released heat, a decaying profile, a breakthrough in time."""

from __future__ import annotations

import itertools
import unittest
from dataclasses import replace
from typing import Any

import numpy as np
from scipy.integrate import quad
from scipy.special import i0e

from wattikos_core.case import Case, read_case
from wattikos_core.ledger import Key
from wattikos_core.physics import compact_blocks, evaluate, point_of
from wattikos_core.physics.unknowns import MATRIX
from wattikos_core.studies import Result, solve_case
from wattikos_core.studies.preparation import draft

LENGTH, HEIGHT, SPEED, DENSITY, HEAT = 0.2, 0.02, 0.5, 1.2, 1000.0
CARRIED = DENSITY * HEAT * SPEED
FLUID, SOLID, SOLID_HEAT = 0.4 * 0.02, 0.6 * 0.5, 0.6 * 2000.0 * 800.0
GAS = {
    "base": "air",
    "density": f"{DENSITY} kg/m^3",
    "specific_heat": f"{HEAT} J/kg/K",
    "viscosity": "2e-5 Pa*s",
    "conductivity": "0.02 W/m/K",
}
PLAIN = {"type": "symmetry", "boundaries": ["bed, top", "bed, bottom"]}


def bed(
    fineness: float,
    entering: str = "20 °C",
    *,
    internal: dict[str, str] | None = None,
    conducts: str = "0.5 W/m/K",
    heat: str = "",
    sides: dict[str, Any] | None = None,
    **more: Any,
) -> Case:
    """A bed of stones that a gas of constant properties passes."""
    stones = {"base": "glass", "density": "2000 kg/m^3", "specific_heat": "800 J/kg/K", "conductivity": conducts}
    told = {"type": "porous", "viscous": "1e6 1/m^2", "porosity": "40 percent", "matrix": "stones", "temperatures": "two"}
    rectangle = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": f"{LENGTH} m", "height": f"{HEIGHT} m"}
    part = {"name": "bed", "material": "gas", "internal": told | (internal or {}), "shape": rectangle, "heat": heat}
    return read_case(
        {
            "title": "bed",
            "inputs": {},
            "materials": {"gas": GAS, "stones": stones},
            "section": {"extent": "flat", "depth": "1 m", "parts": [part]},
            "conditions": [
                {"type": "inlet", "boundaries": ["bed, left"], "velocity": f"{SPEED} m/s", "temperature": entering},
                {"type": "outlet", "boundaries": ["bed, right"]},
                sides or PLAIN,
            ],
            "grid": {"fineness": fineness},
            **more,
        }
    )


def temperatures(run: Result) -> tuple[np.ndarray, np.ndarray]:
    """Of fluid and matrix in cells, K."""
    fluid = run.evaluation.temperature
    return fluid, fluid + run.solution.state.scalars[:, run.problem.unknowns.scalars.index(MATRIX)]


def profile(run: Result) -> tuple[float, float]:
    """How fast a cosine across falls along the bed, 1/m, and how large it is in the matrix beside that in the fluid."""
    grid = run.problem.grid
    wave = np.cos(np.pi * grid.centre[:, 1] / HEIGHT) * grid.volume
    x = np.round(grid.centre[:, 0], 9)
    places = np.unique(x[(x > 0.25 * LENGTH) & (x < 0.75 * LENGTH)])
    fluid, matrix = (
        np.array([((t - 293.15) * wave)[x == place].sum() / grid.volume[x == place].sum() for place in places])
        for t in temperatures(run)
    )
    return float(-np.polyfit(places, np.log(fluid), 1)[0]), float(np.mean(matrix / fluid))


def exact_profile(exchange: float) -> tuple[float, float]:
    """Both, from the balances of e^(-λx) cos(πy/H) in fluid and matrix: k (λ² - Q) + ρcuλ and the exchange."""
    across = np.poly1d([1.0, 0.0, -((np.pi / HEIGHT) ** 2)])
    fluid, matrix = FLUID * across + np.poly1d([CARRIED, -exchange]), SOLID * across - exchange
    roots = (fluid * matrix - exchange**2).roots
    least = min(float(root.real) for root in roots if abs(root.imag) < 1e-9 and root.real > 0.0)
    return least, float(-fluid(least) / exchange)


def breakthrough(x: float, time: float, exchange: float) -> tuple[float, float]:
    """Fluid and matrix, as shares of a step of the temperature that enters: Schumann (1929), J. Franklin Inst. 208, 405."""
    ahead, after = exchange * x / CARRIED, exchange / SOLID_HEAT * (time - 0.4 * x / SPEED)

    def kernel(s: float) -> float:
        return float(np.exp(-((np.sqrt(after) - np.sqrt(s)) ** 2)) * i0e(2.0 * np.sqrt(after * s)))

    fluid = 1.0 - quad(kernel, 0.0, ahead, limit=200)[0]
    return fluid, fluid - kernel(ahead)


class Steady(unittest.TestCase):
    def test_released_heat_warms_the_matrix_by_what_the_exchange_needs(self) -> None:
        """Without conduction θ = q/h_v everywhere; all of the heat is in the stream where it leaves."""
        run = solve_case(bed(1.0, internal={"exchange": "2000 W/m^3/K"}, conducts="1e-6 W/m/K", heat="100 W"))
        self.assertTrue(run.solution.converged)
        fluid, matrix = temperatures(run)
        np.testing.assert_allclose(matrix - fluid, 100.0 / (LENGTH * HEIGHT) / 2000.0, rtol=1e-4)
        self.assertAlmostEqual(run.value("bed outlet temperature") - 293.15, 100.0 / (CARRIED * HEIGHT), delta=2e-3)
        volume = run.problem.grid.volume
        self.assertAlmostEqual(run.value(Key("matrix_temperature", "bed")), float(volume @ matrix / volume.sum()), places=9)
        self.assertEqual(run.value(Key("hottest_matrix", "bed")), matrix.max())

    def test_conduction_does_not_leave_through_the_ends(self) -> None:
        """A matrix that conducts, warmer than its fluid, gives nothing to what enters but through the fluid."""
        run = solve_case(bed(1.0, internal={"exchange": "2000 W/m^3/K"}, heat="100 W"))
        self.assertAlmostEqual(run.value("bed outlet temperature") - 293.15, 100.0 / (CARRIED * HEIGHT), delta=2e-3)

    def test_a_profile_decays_as_it_must(self) -> None:
        decay, ratio = exact_profile(2000.0)
        found = [
            profile(solve_case(bed(fineness, "20 °C + 10 K*cos(pi*y/(20 mm))", internal={"exchange": "2000 W/m^3/K"})))
            for fineness in (0.5, 1.0, 2.0)
        ]
        for errors in ([one / decay - 1.0 for one, _ in found], [one / ratio - 1.0 for _, one in found]):
            for coarse, fine in itertools.pairwise(errors):
                self.assertAlmostEqual(coarse / fine, 4.0, delta=0.25)
            self.assertAlmostEqual((4.0 * errors[2] - errors[1]) / 3.0, 0.0, delta=3e-4)

    def test_with_much_exchange_both_are_as_warm(self) -> None:
        """A bed between warm walls, which give heat to both, and one on rock, which conducts."""
        warm = {"type": "wall", "boundaries": ["bed, top", "bed, bottom"], "thermal": "temperature", "temperature": "60 °C"}
        two = solve_case(bed(1.0, internal={"exchange": "1e9 W/m^3/K"}, sides=warm))
        one = solve_case(bed(1.0, internal={"temperatures": "one"}, sides=warm))
        self.assertNotIn(MATRIX, one.problem.unknowns.scalars)
        self.assertAlmostEqual(two.value("bed heat gained") / one.value("bed heat gained"), 1.0, delta=1e-3)
        apart = solve_case(bed(1.0, internal={"exchange": "5000 W/m^3/K"}, sides=warm))
        self.assertLess(apart.value("bed heat gained"), 0.97 * one.value("bed heat gained"))
        self.assertLess(abs(apart.value("heat balance")), 1e-9)

    def test_a_flow_that_still_holds_is_kept(self) -> None:
        """At other temperatures of entry both are found with the former flow, as from rest."""
        former = solve_case(bed(0.5, internal={"exchange": "5000 W/m^3/K"}, heat="100 W"))
        case = bed(0.5, "40 °C", internal={"exchange": "3000 W/m^3/K"}, heat="80 W")
        warm, cold = solve_case(case, start=former.solution.begins()), solve_case(case)
        self.assertTrue(any("kept" in note for note in warm.solution.notes))
        self.assertTrue(warm.solution.converged)
        for found, expected in zip(temperatures(warm), temperatures(cold), strict=True):
            np.testing.assert_allclose(found, expected, atol=1e-5)

    def test_grains_say_how_much_they_exchange(self) -> None:
        """Wakao, Kaguei and Funazkri (1979): Nu = 2 + 1.1 Pr^(1/3) Re^0.6 with 6 (1 - ε)/d of surface."""
        internal = {"grain_size": "5 mm", "viscous": ""}
        run = solve_case(bed(0.5, internal=internal, conducts="1e-6 W/m/K", heat="100 W"))
        reynolds, prandtl = SPEED * 0.005 * DENSITY / 2e-5, 2e-5 * HEAT / 0.02
        exchange = 6.0 * 0.6 / 0.005 * (2.0 + 1.1 * prandtl ** (1.0 / 3.0) * reynolds**0.6) * 0.02 / 0.005
        fluid, matrix = temperatures(run)
        np.testing.assert_allclose(matrix - fluid, 100.0 / (LENGTH * HEIGHT) / exchange, rtol=2e-4)

    def test_compact_jacobian(self) -> None:
        """How the matrix answers to both temperatures, and energy to it, against differences; exact where the grid is upright."""
        warm = {"type": "wall", "boundaries": ["bed, top", "bed, bottom"], "thermal": "temperature", "temperature": "60 °C"}
        run = solve_case(bed(0.5, internal={"exchange": "5000 W/m^3/K"}, sides=warm))
        problem, state, interpolation = run.problem, run.solution.state, run.solution.interpolation
        point = point_of(problem, state)
        here = evaluate(point, interpolation)
        blocks = compact_blocks(point, interpolation, here.flow)
        inner = np.nonzero(problem.faces.neighbour >= 0)[0]
        a, b = problem.faces.owner[inner], problem.faces.neighbour[inner]
        t, own = problem.unknowns.temperature, problem.unknowns.matrix
        change = np.random.default_rng(4).standard_normal(problem.grid.n_cells)
        for row, column in ((own, own), (own, t), (t, own)):
            columns = state.columns(problem.unknowns)
            columns[:, column] += 1e-3 * change
            moved = point_of(problem, replace(type(state).of(columns, problem.unknowns)))
            found = (evaluate(moved, interpolation).residual[:, row] - here.residual[:, row]) / 1e-3
            expected = blocks.diagonal[:, row, column] * change
            np.add.at(expected, a, blocks.off[inner, 0, row, column] * change[b])
            np.add.at(expected, b, blocks.off[inner, 1, row, column] * change[a])
            np.testing.assert_allclose(found, expected, atol=2e-4 * np.abs(expected).max())


class Turbulent(unittest.TestCase):
    def test_eddies_mix_no_heat_within_a_matrix(self) -> None:
        """A stream that enters with eddies a hundred times as viscous as itself: the profile decays as in a laminar one."""
        case = bed(1.0, "20 °C + 10 K*cos(pi*y/(20 mm))", internal={"exchange": "2000 W/m^3/K"}).model_dump(mode="json")
        case["conditions"][0] |= {"turbulence_intensity": "20 percent", "eddy_size": "20 mm"}
        found = []
        for flow in ("laminar", "turbulent"):
            run = solve_case(read_case({**case, "physics": {"flow": flow}}))
            self.assertTrue(run.solution.converged)
            found.append(profile(run))
        stirred = point_of(run.problem, run.solution.state).turbulence.eddy_viscosity
        self.assertGreater(stirred.max(), 20.0 * 2e-5)
        np.testing.assert_allclose(found[1], found[0], rtol=2e-4)
        np.testing.assert_allclose(found[1], exact_profile(2000.0), rtol=0.02)


class Repeating(unittest.TestCase):
    """Modules of a bed: what repeats along a long one."""

    def solved(self, fineness: float, **given: Any) -> Result:
        case = bed(fineness, **given).model_dump(mode="json")
        case["section"]["parts"][0]["shape"]["width"] = "10 mm"
        ends = {"type": "periodic", "boundaries": ["bed, left"], "downstream": ["bed, right"]}
        case["conditions"][:2] = [ends | {"velocity": f"{SPEED} m/s", "temperature": "20 °C"}]
        run = solve_case(read_case(case))
        self.assertTrue(run.solution.converged)
        return run

    def test_released_heat(self) -> None:
        """It warms the stream by the same amount in each, and the matrix by what the exchange needs."""
        run = self.solved(1.0, internal={"exchange": "2000 W/m^3/K"}, heat="5 W")
        fluid, matrix = temperatures(run)
        np.testing.assert_allclose(matrix - fluid, 5.0 / (0.01 * HEIGHT) / 2000.0, rtol=1e-6)
        self.assertAlmostEqual(run.value("bed rise per module"), 5.0 / (CARRIED * HEIGHT), places=6)

    def test_between_walls_of_one_temperature(self) -> None:
        """Differences from it shrink by e^(-λL): flow is uniform where grains hold it back that much."""
        walls = {"type": "wall", "boundaries": ["bed, top", "bed, bottom"], "thermal": "temperature", "temperature": "60 °C"}
        internal = {"exchange": "2000 W/m^3/K", "viscous": "1e12 1/m^2"}
        exact = np.exp(-0.01 * exact_profile(2000.0)[0])
        found = [self.solved(f, internal=internal, sides=walls).value("bed ratio per module") for f in (0.5, 1.0, 2.0)]
        errors = [ratio / exact - 1.0 for ratio in found]
        for coarse, fine in itertools.pairwise(errors):
            self.assertAlmostEqual(coarse / fine, 4.0, delta=0.3)
        self.assertAlmostEqual(errors[2], 0.0, delta=1e-5)


class InTime(unittest.TestCase):
    def test_a_step_breaks_through(self) -> None:
        """Both temperatures along the bed after two minutes, within 0.03 % of the step but where it enters and leaves."""
        time, exchange = 120.0, 20_000.0
        case = bed(
            1.0,
            "30 °C",
            internal={"exchange": f"{exchange} W/m^3/K"},
            conducts="1e-4 W/m/K",
            physics={"regime": "time"},
            time={"end": f"{time} s", "temperature": "20 °C"},
        )
        run = solve_case(case)
        x = np.round(run.problem.grid.centre[:, 0], 9)
        fluid, matrix = temperatures(run)
        for place in np.unique(x[(x > 0.05 * LENGTH) & (x < 0.95 * LENGTH)])[::6]:
            for found, exact in zip((fluid, matrix), breakthrough(place, time, exchange), strict=True):
                self.assertAlmostEqual((float(found[x == place].mean()) - 293.15) / 10.0, exact, delta=3e-4)


class Told(unittest.TestCase):
    def problems(self, internal: dict[str, str]) -> list[str]:
        return [problem.field for problem in draft(bed(1.0, internal=internal)).problems]

    def test_what_is_missing_is_said(self) -> None:
        self.assertEqual(self.problems({"exchange": "2000 W/m^3/K"}), [])
        self.assertEqual(self.problems({}), ["section.parts[0].internal.exchange"])
        self.assertEqual(self.problems({"matrix": ""}), ["section.parts[0].internal.matrix"])
        self.assertEqual(self.problems({"temperatures": "one", "exchange": "1 W/m^3/K"}), ["section.parts[0].internal.exchange"])
        self.assertEqual(self.problems({"exchange": "-1 W/m^3/K"}), ["section.parts[0].internal.exchange"])
