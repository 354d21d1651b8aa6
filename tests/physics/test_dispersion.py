"""Thermal dispersion in porous parts against the exact decay of a temperature profile."""

from __future__ import annotations

import itertools
import math
import unittest
from dataclasses import replace

import numpy as np

from wattikos_core.case import read_case
from wattikos_core.physics import Evaluation, compact_blocks, evaluate, point_of
from wattikos_core.physics.terms.dispersion import HeatDispersion
from wattikos_core.studies import Result, solve_case

HEIGHT, SPEED, MIXING, CONDUCTIVITY, DENSITY, HEAT = 0.02, 0.5, 0.005, 0.1, 1.2, 1000.0


def bed(fineness: float, mixing: str = "5 mm", module: str = "") -> Result:
    """A bed that a gas of constant properties passes, as warm as a cosine across it where it enters.

    Or a `module` of it that is so long, between walls of one temperature; grains hold the gas back so much that it moves evenly.
    """
    gas = {
        "base": "air",
        "density": f"{DENSITY} kg/m^3",
        "specific_heat": f"{HEAT} J/kg/K",
        "viscosity": "2e-5 Pa*s",
        "conductivity": "0.02 W/m/K",
    }
    internal = {
        "type": "porous",
        "viscous": "1e12 1/m^2" if module else "1e6 1/m^2",
        "conductivity": f"{CONDUCTIVITY} W/m/K",
        "mixing_length": mixing,
    }
    rectangle = {"type": "rectangle", "x": "0 m", "y": "0 m", "width": module or "200 mm", "height": "20 mm"}
    sides = ["bed, top", "bed, bottom"]
    speed: dict[str, object] = {"velocity": f"{SPEED} m/s"}
    through: list[dict[str, object]] = [
        {"type": "inlet", "boundaries": ["bed, left"], "temperature": "20 degC + 10 K*cos(pi*y/(20 mm))"} | speed,
        {"type": "outlet", "boundaries": ["bed, right"]},
        {"type": "symmetry", "boundaries": sides},
    ]
    if module:
        through = [
            {"type": "periodic", "boundaries": ["bed, left"], "downstream": ["bed, right"], "temperature": "20 °C"} | speed,
            {"type": "wall", "boundaries": sides, "thermal": "temperature", "temperature": "60 °C"},
        ]
    return solve_case(
        read_case(
            {
                "title": "bed",
                "inputs": {},
                "materials": {"gas": gas},
                "section": {
                    "extent": "flat",
                    "parts": [{"name": "bed", "material": "gas", "internal": internal, "shape": rectangle}],
                },
                "conditions": through,
                "grid": {"fineness": fineness},
            }
        )
    )


def decay(run: Result) -> float:
    """How fast the cosine falls along the bed, 1/m, between a quarter and three quarters of it."""
    grid, t = run.problem.grid, run.evaluation.temperature - 293.15
    part = t * np.cos(np.pi * grid.centre[:, 1] / HEIGHT) * grid.volume
    x = np.round(grid.centre[:, 0], 9)
    places = np.unique(x[(x > 0.05) & (x < 0.15)])
    sums = np.array([part[x == place].sum() / grid.volume[x == place].sum() for place in places])
    return float(-np.polyfit(places, np.log(sums), 1)[0])


def exact(mixing: float) -> float:
    """The positive root of k_x λ² + ρ c u λ = k_y (π/H)²."""
    carried = DENSITY * HEAT * SPEED
    along, across = (CONDUCTIVITY + share * carried * mixing for share in (0.5, 0.1))
    q = (math.pi / HEIGHT) ** 2
    return (-carried + math.sqrt(carried**2 + 4.0 * along * across * q)) / (2.0 * along)


class Dispersion(unittest.TestCase):
    def test_a_profile_decays_as_it_must(self) -> None:
        """On three grids, of second order; without mixing by what the matrix conducts alone."""
        errors = [decay(bed(fineness)) / exact(MIXING) - 1.0 for fineness in (0.5, 1.0, 2.0)]
        for coarse, fine in itertools.pairwise(errors):
            self.assertAlmostEqual(coarse / fine, 4.0, delta=0.2)
        self.assertAlmostEqual((4.0 * errors[2] - errors[1]) / 3.0, 0.0, delta=1e-4)
        without = [decay(bed(fineness, "")) / exact(0.0) - 1.0 for fineness in (1.0, 2.0)]
        self.assertAlmostEqual((4.0 * without[1] - without[0]) / 3.0, 0.0, delta=1e-4)
        self.assertGreater(exact(MIXING), 3.0 * exact(0.0))

    def test_heat_is_kept(self) -> None:
        run = bed(1.0)
        self.assertTrue(run.solution.converged)
        self.assertAlmostEqual(run.value("bed outlet temperature"), 293.15, delta=1e-5)

    def test_modules_that_repeat_mix_into_each_other(self) -> None:
        """Differences shrink by e^(-λL); of first order, since next to walls nothing mixes in half a cell."""
        rates = [-math.log(bed(f, module="10 mm").value("bed ratio per module")) / 0.01 for f in (1.0, 2.0)]
        self.assertAlmostEqual((2.0 * rates[1] - rates[0]) / exact(MIXING), 1.0, delta=1e-3)

    def test_compact_jacobian(self) -> None:
        """Against what the term makes of other temperatures; in even flow along the grid it is exact."""
        run = bed(0.5)
        problem, state, interpolation = run.problem, run.solution.state, run.solution.interpolation
        column = problem.unknowns.temperature
        term = next(one for one in problem.terms if isinstance(one, HeatDispersion))
        change = np.random.default_rng(3).standard_normal(problem.grid.n_cells)

        def residual(moved: float) -> np.ndarray:
            there = replace(state, stretched=state.stretched + moved * change)
            out = Evaluation.empty(problem.unknowns, there.stretched, problem.grid.n_faces)
            term.add_residual(point_of(problem, there), interpolation, out)
            return np.asarray(out.residual[:, column])

        point = point_of(problem, state)
        blocks = compact_blocks(point, interpolation, evaluate(point, interpolation).flow)
        blocks.diagonal[:] = blocks.off[:] = 0.0
        term.add_jacobian(point, interpolation, np.zeros(problem.grid.n_faces), blocks)
        owner, neighbour = problem.faces.owner[term.inside], problem.faces.neighbour[term.inside]
        expected = blocks.diagonal[:, column, column] * change
        np.add.at(expected, owner, blocks.off[term.inside, 0, column, column] * change[neighbour])
        np.add.at(expected, neighbour, blocks.off[term.inside, 1, column, column] * change[owner])
        np.testing.assert_allclose(residual(1.0) - residual(0.0), expected, atol=1e-6 * np.abs(expected).max())
