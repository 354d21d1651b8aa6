"""Radiation in modules that repeat: plates against the exact solution, what pieces see of the modules around them."""

from __future__ import annotations

import itertools
import unittest

import numpy as np
from scipy.optimize import brentq

from tests.sections import held, rectangle, section_case, wall
from wattikos_core.case import Case, resolve
from wattikos_core.errors import CaseError
from wattikos_core.radiation import STEFAN_BOLTZMANN, views_of_module
from wattikos_core.studies import solve_case

HEIGHT, LENGTH, SPEED, FLUX, ENTERS = 0.01, 0.02, 0.3, 200.0, 673.15
CONDUCTS, DENSITY, HEAT = 0.03, 1.0, 1000.0
GAS = {
    "gas": {
        "base": "air",
        "conductivity": f"{CONDUCTS} W/m/K",
        "density": f"{DENSITY} kg/m^3",
        "specific_heat": f"{HEAT} J/kg/K",
        "viscosity": "2e-5 Pa*s",
    }
}
FLOOR, CEILING = 0.8, 0.6


def plates(fineness: float, floor: dict[str, object], ceiling: dict[str, object]) -> Case:
    """A module of a channel whose floor is heated, and whose ceiling is warmed by radiation alone."""
    surfaces = [{"surface": "gas, bottom", "emissivity": f"{FLOOR}"}, {"surface": "gas, top", "emissivity": f"{CEILING}"}]
    radiation = {"emissivity": "1", "surfaces": surfaces}
    gas = rectangle("gas", "gas", "0 m", "0 m", f"{LENGTH} m", f"{HEIGHT} m", radiation=radiation)
    ends = {"type": "periodic", "boundaries": ["gas, left"], "downstream": ["gas, right"]}
    ends |= {"velocity": f"{SPEED} m/s", "temperature": f"{ENTERS} K"}
    return section_case(gas, conditions=[ends, floor, ceiling], materials=GAS, fineness=fineness)


def exact() -> tuple[float, float]:
    """Heat that is radiated, W/m2, and the mean temperature of the floor, K.

    Plates that each give heat to a developed laminar stream, 2H (26 q1 - 9 q2)/(140 k) above its bulk (Shah and London 1978,
    chapter VI); radiation is linear about the mean of both.
    """
    bulk = ENTERS + 0.5 * FLUX * LENGTH / (DENSITY * HEAT * SPEED * HEIGHT)

    def temperatures(radiated: float) -> tuple[float, float]:
        one, other, per = FLUX - radiated, radiated, 2.0 * HEIGHT / (140.0 * CONDUCTS)
        return bulk + per * (26.0 * one - 9.0 * other), bulk + per * (26.0 * other - 9.0 * one)

    def missing(radiated: float) -> float:
        floor, ceiling = temperatures(radiated)
        conductance = 4.0 * STEFAN_BOLTZMANN * (0.5 * (floor + ceiling)) ** 3 / (1.0 / FLOOR + 1.0 / CEILING - 1.0)
        return conductance * (floor - ceiling) - radiated

    radiated = float(brentq(missing, 0.0, FLUX))
    return radiated, temperatures(radiated)[0]


class Plates(unittest.TestCase):
    def test_a_ceiling_warmed_by_radiation_alone(self) -> None:
        """Of second order, extrapolated to 0.01 %."""
        radiated, floor = exact()
        self.assertGreater(radiated, 0.3 * FLUX)
        errors = []
        for fineness in (0.5, 1.0, 2.0):
            heated = wall("gas, bottom", thermal="heat_flux", heat_flux=f"{FLUX} W/m^2")
            run = solve_case(plates(fineness, heated, wall("gas, top")))
            self.assertTrue(run.solution.converged)
            absorbed = run.evaluation.absorbed.sum(axis=1)
            groups = run.problem.grid.groups
            found = float(absorbed[groups["gas, top"]].sum()) / LENGTH
            self.assertAlmostEqual(float(absorbed[groups["gas, bottom"]].sum()) / LENGTH, -found, delta=1e-9 * FLUX)
            warm = float(np.mean(run.evaluation.face_temperature[groups["gas, bottom"]]))
            self.assertAlmostEqual(run.value("gas rise per module"), FLUX * LENGTH / (DENSITY * HEAT * SPEED * HEIGHT), places=6)
            errors.append((found / radiated - 1.0, (warm - floor) / (floor - ENTERS)))
        for coarse, fine in itertools.pairwise(errors):
            for before, after in zip(coarse, fine, strict=True):
                self.assertAlmostEqual(before / after, 4.0, delta=0.5)
        np.testing.assert_allclose((4.0 * np.array(errors[2]) - errors[1]) / 3.0, 0.0, atol=1e-4)

    def test_walls_of_one_temperature_are_refused(self) -> None:
        with self.assertRaises(CaseError) as refused:
            resolve(plates(1.0, held("gas, bottom", at="500 °C"), wall("gas, top")))
        self.assertEqual(refused.exception.problems[0].field, "section.parts[0].radiation")


class Views(unittest.TestCase):
    def outline(self, pieces: int, rib: float) -> tuple[np.ndarray, np.ndarray]:
        """Floor and ceiling of a module of 1 m, 0.5 m apart; a rib stands on the floor, from 0.4 to 0.6 m."""
        cuts = np.linspace(0.0, 1.0, pieces + 1)
        ceiling = np.stack([cuts[::-1], np.full(cuts.size, 0.5)], axis=1)
        floor = np.stack([cuts, np.zeros(cuts.size)], axis=1)
        if rib:
            floor = np.array([[0.0, 0.0], [0.2, 0.0], [0.4, 0.0], [0.4, rib], [0.6, rib], [0.6, 0.0], [0.8, 0.0], [1.0, 0.0]])
        return np.concatenate([floor[:-1], ceiling[:-1]]), np.concatenate([floor[1:], ceiling[1:]])

    def test_what_rises_evenly_shines_as_itself(self) -> None:
        """On a plate or in a pipe whose radiosity is linear as much arrives as leaves, but for (h/d)²/2 of what lies beyond."""
        for axisymmetric in (False, True):
            start, end = self.outline(20, 0.0)
            if axisymmetric:
                start, end = start[20:], end[20:]
            factors, ahead = views_of_module(start, end, axisymmetric, (), np.array([1.0, 0.0]), 8)
            np.testing.assert_allclose(factors.sum(axis=1), 1.0, atol=1e-12)
            middle = 0.5 * (start + end)[:, 0]
            np.testing.assert_allclose(factors @ middle + ahead, middle, atol=3e-3)
            # Half of what is seen aslant lies in other modules.
            self.assertGreater(np.abs(ahead).max(), 0.05)

    def test_two_modules_are_one_of_twice_the_length(self) -> None:
        start, end = self.outline(4, 0.2)
        period = np.array([1.0, 0.0])
        one, ahead_of_one = views_of_module(start, end, False, (), period, 8)
        twice = np.concatenate([start, start + period]), np.concatenate([end, end + period])
        two, ahead_of_two = views_of_module(*twice, False, (), 2.0 * period, 4)
        n = len(start)
        np.testing.assert_allclose(two[:n, :n] + two[:n, n:], one, atol=2e-3)
        # In modules of one: those of two count twice, and the second half lies one further.
        np.testing.assert_allclose(2.0 * ahead_of_two[:n] + two[:n, n:].sum(axis=1), ahead_of_one, atol=5e-3)
        area = np.hypot(*(end - start).T)
        np.testing.assert_allclose(one * area[:, None], (one * area[:, None]).T, atol=1e-12)
        self.assertAlmostEqual(float(area @ ahead_of_one), 0.0, places=12)


if __name__ == "__main__":
    unittest.main()
