"""Ducts: the constants of Shah and London (1978) and thermal entry by the Graetz series, computed here."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from tests.support import HEATED, INSULATED, SYMMETRIC, WALL_AT_60, duct
from wattikos_core.physics.faces import INLET
from wattikos_core.read.streams import exchange_with, streams_of
from wattikos_core.studies import Result, solve_case

HEIGHT = 0.002
REYNOLDS = 100.0


def local_nusselt(run: Result, diameter: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Dimensionless position x* = x/(D Re Pr), local Nusselt number, and dimensionless bulk temperature along the wall."""
    stream = streams_of(run.problem, run.evaluation)["duct"]
    exchange = exchange_with(run.problem, run.evaluation, stream, "")
    assert exchange is not None
    heated = np.abs(exchange.heat) > 1e-12
    h = exchange.heat[heated] / exchange.area[heated] / (exchange.wall[heated] - exchange.bulk[heated])
    x_star = exchange.position[heated] / (diameter * REYNOLDS * 10.0)
    return x_star, h * diameter / 0.6, (333.15 - exchange.bulk[heated]) / 40.0


def graetz(x_star: np.ndarray, *, pipe: bool) -> np.ndarray:
    """Bulk temperature (wall - bulk)/(wall - inlet) in developed laminar flow, wall at one temperature.

    The Sturm-Liouville problem of Graetz (1883) on 1,500 finite volumes, its eigenfunctions by a dense symmetric
    eigensolver: the series with all its terms. Independent of the solver under test.
    """
    n = 1500
    edges = np.linspace(0.0, 1.0, n + 1)
    r = 0.5 * (edges[1:] + edges[:-1])
    measure = (edges[1:] ** 2 - edges[:-1] ** 2) / 2.0 if pipe else np.diff(edges)
    velocity = (2.0 if pipe else 1.5) * (1.0 - r**2)
    face = (edges if pipe else np.ones(n + 1))[1:] * n
    face[-1] *= 2.0
    matrix = np.diag(face + np.concatenate([[0.0], face[:-1]])) - np.diag(face[:-1], 1) - np.diag(face[:-1], -1)
    weight = velocity * measure
    root = np.sqrt(weight)
    eigenvalues, vectors = np.linalg.eigh(matrix / np.outer(root, root))
    start = vectors.T @ root
    # In half-gaps (radii), x/(a Pe_a) with a = D/4 (plates) or D/2 (pipe): the factor from x*.
    factor = 4.0 if pipe else 16.0
    return np.array([(start**2 * np.exp(-eigenvalues * factor * x)).sum() for x in x_star]) / weight.sum()


class Developed(unittest.TestCase):
    """Values for long ducts: 7.541, 8.235, 4.861, 5.385 between plates, 3.657 and 4.364 in the pipe."""

    def nusselt(self, diameter: float, axisymmetric: bool = False, **walls: Any) -> float:
        # Long enough to be developed, short enough that a temperature difference is left to divide by.
        case = duct(
            length=130.0 * diameter,
            height=HEIGHT,
            reynolds=REYNOLDS,
            diameter=diameter,
            axisymmetric=axisymmetric,
            fineness=1.5,
            **walls,
        )
        x_star, nusselt, _ = local_nusselt(solve_case(case), diameter)
        return float(np.interp(0.1, x_star, nusselt))

    def test_plates_both_sides(self) -> None:
        self.assertAlmostEqual(self.nusselt(4 * HEIGHT, bottom=WALL_AT_60, top=SYMMETRIC), 7.541, delta=0.015)
        self.assertAlmostEqual(self.nusselt(4 * HEIGHT, bottom=HEATED, top=SYMMETRIC), 8.235, delta=0.02)

    def test_plates_one_side_insulated(self) -> None:
        self.assertAlmostEqual(self.nusselt(2 * HEIGHT, bottom=WALL_AT_60, top=INSULATED), 4.861, delta=0.01)
        self.assertAlmostEqual(self.nusselt(2 * HEIGHT, bottom=HEATED, top=INSULATED), 5.385, delta=0.012)

    def test_pipe(self) -> None:
        self.assertAlmostEqual(self.nusselt(2 * HEIGHT, True, bottom=SYMMETRIC, top=WALL_AT_60), 3.657, delta=0.01)
        self.assertAlmostEqual(self.nusselt(2 * HEIGHT, True, bottom=SYMMETRIC, top=HEATED), 4.364, delta=0.012)


class Friction(unittest.TestCase):
    def friction_reynolds(self, diameter: float, **walls: Any) -> float:
        case = duct(length=40.0 * diameter, height=HEIGHT, reynolds=REYNOLDS, diameter=diameter, fineness=1.5, **walls)
        run = solve_case(case)
        speed = REYNOLDS * 0.0015 / (1000.0 * diameter)
        return run.value("duct pressure drop") * diameter / (40.0 * diameter) / (500.0 * speed**2) * REYNOLDS

    def test_plates_96_and_pipe_64(self) -> None:
        self.assertAlmostEqual(self.friction_reynolds(4 * HEIGHT, bottom=INSULATED, top=SYMMETRIC), 96.0, delta=0.4)
        self.assertAlmostEqual(self.friction_reynolds(2 * HEIGHT, bottom=INSULATED, top=INSULATED), 96.0, delta=0.4)
        self.assertAlmostEqual(
            self.friction_reynolds(2 * HEIGHT, bottom=SYMMETRIC, top=INSULATED, axisymmetric=True), 64.0, delta=0.3
        )


class ThermalEntry(unittest.TestCase):
    def compare(self, diameter: float, *, pipe: bool, **walls: Any) -> None:
        case = duct(
            length=100.0 * diameter, height=HEIGHT, reynolds=REYNOLDS, diameter=diameter, axisymmetric=pipe, fineness=1.5, **walls
        )
        x_star, _, bulk = local_nusselt(solve_case(case), diameter)
        wanted = np.array([0.005, 0.01, 0.02, 0.05, 0.08])
        found = np.interp(wanted, x_star, bulk)
        np.testing.assert_allclose(found, graetz(wanted, pipe=pipe), rtol=0.006)

    def test_plates_follow_graetz(self) -> None:
        self.compare(4 * HEIGHT, pipe=False, bottom=WALL_AT_60, top=SYMMETRIC)

    def test_pipe_follows_graetz(self) -> None:
        self.compare(2 * HEIGHT, pipe=True, bottom=SYMMETRIC, top=WALL_AT_60)

    def test_the_series_here_has_the_known_eigenvalue(self) -> None:
        """Far downstream the Graetz series decays with 4 Nu x*: its Nu must be the known constant."""
        x = np.array([0.3, 0.4])
        for pipe, nusselt in ((True, 3.657), (False, 7.541)):
            decay = np.log(graetz(x, pipe=pipe))
            self.assertAlmostEqual((decay[0] - decay[1]) / 0.4, nusselt, delta=0.002)


class Inlets(unittest.TestCase):
    def test_profiles_carry_exactly_the_flow_given(self) -> None:
        for axisymmetric, bottom in ((False, INSULATED), (False, SYMMETRIC), (True, SYMMETRIC)):
            case = duct(
                length=0.02, height=HEIGHT, reynolds=50.0, diameter=HEIGHT, axisymmetric=axisymmetric, bottom=bottom, top=INSULATED
            )
            run = solve_case(case)
            faces = run.problem.faces
            inlet = faces.kind == INLET
            area = faces.area[inlet].sum()
            self.assertAlmostEqual(-run.problem.given.mass_flow[inlet].sum() / (50.0 * 0.0015 / HEIGHT * area), 1.0, places=12)
            ratio = {(False, True): 1.5, (False, False): 1.5, (True, False): 2.0}[axisymmetric, bottom is INSULATED]
            top_speed = np.hypot(*run.problem.given.velocity[inlet].T).max() / (50.0 * 0.0015 / (1000.0 * HEIGHT))
            self.assertAlmostEqual(top_speed, ratio, delta=0.02)
