"""Balances of k and g on smooth manufactured fields, against the differential equations they stand for."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from tests.support import quads
from wattikos_core.boundaries.on_faces import FaceCondition
from wattikos_core.materials import constant_table
from wattikos_core.physics import FlowPhysics, State, build_problem, evaluate, point_of
from wattikos_core.physics.flow_physics import TurbulenceModel

Field = Callable[[np.ndarray, np.ndarray], np.ndarray]
NU, STEP = 1e-3, 2e-3


def energy(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    return np.asarray(0.02 * (1.0 + 0.3 * np.sin(2.0 * x + 1.0) * np.cos(1.5 * y)))


def length(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    return np.asarray(1.0 + 0.3 * np.cos(1.3 * x + 0.2) * np.sin(1.7 * y + 0.5))


def along(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    return np.asarray(1.0 + 0.4 * y + 0.2 * np.sin(2.0 * x + 0.5) * np.cos(2.0 * y + 0.3))


def across(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    return np.asarray(-0.2 * np.cos(2.0 * x + 0.5) * np.sin(2.0 * y + 0.3))


def distance(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """From walls that are not there: inner and outer constants both count."""
    return np.asarray(0.23 + 0.05 * y + 0.03 * x)


def slope(field: Field, axis: int) -> Field:
    """By differences of fourth order."""

    def value(x: np.ndarray, y: np.ndarray) -> np.ndarray:
        def at(steps: float) -> np.ndarray:
            return field(x + steps * STEP, y) if axis == 0 else field(x, y + steps * STEP)

        return (8.0 * (at(1.0) - at(-1.0)) - (at(2.0) - at(-2.0))) / (12.0 * STEP)

    return value


def omega(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    return np.asarray(1.0 / (0.09 * length(x, y) ** 2))


def crossing(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """∇k·∇ω."""
    return np.asarray(sum(slope(energy, axis)(x, y) * slope(omega, axis)(x, y) for axis in (0, 1)))


def inner(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """F₁ of Menter, Kuntz and Langtry (2003), density one."""
    away, k, w = distance(x, y), energy(x, y), omega(x, y)
    cross = np.maximum(2.0 * 0.856 / w * crossing(x, y), 1e-10)
    wall = np.maximum(np.sqrt(k) / (0.09 * w * away), 500.0 * NU / (away**2 * w))
    return np.asarray(np.tanh(np.minimum(wall, 4.0 * 0.856 * k / (cross * away**2)) ** 4))


def blended(near: float, far: float) -> Field:
    return lambda x, y: inner(x, y) * near + (1.0 - inner(x, y)) * far


def strain_squared(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    sheared = slope(along, 1)(x, y) + slope(across, 0)(x, y)
    return np.asarray(2.0 * slope(along, 0)(x, y) ** 2 + 2.0 * slope(across, 1)(x, y) ** 2 + sheared**2)


def left_over(x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """What is left of the balances of k and ω, as the paper has them; where neither limiter acts."""
    k, w = energy(x, y), omega(x, y)

    def spread(field: Field, sigma: Field) -> np.ndarray:
        def flux(axis: int) -> Field:
            def through(a: np.ndarray, b: np.ndarray) -> np.ndarray:
                return (NU + sigma(a, b) * energy(a, b) / omega(a, b)) * slope(field, axis)(a, b)

            return through

        return np.asarray(slope(flux(0), 0)(x, y) + slope(flux(1), 1)(x, y))

    def carried(field: Field) -> np.ndarray:
        return np.asarray(along(x, y) * slope(field, 0)(x, y) + across(x, y) * slope(field, 1)(x, y))

    strain = strain_squared(x, y)
    of_k = carried(energy) - spread(energy, blended(0.85, 1.0)) - k / w * strain + 0.09 * k * w
    of_omega = carried(omega) - spread(omega, blended(0.5, 0.856)) - blended(5.0 / 9.0, 0.44)(x, y) * strain
    of_omega += blended(0.075, 0.0828)(x, y) * w**2 - (1.0 - inner(x, y)) * 2.0 * 0.856 / w * crossing(x, y)
    return of_k, of_omega


def errors(cells: int) -> tuple[float, float]:
    """Largest of both balances on so many cells a side, away from what is given at the sides."""
    table = constant_table("fluid", density=1.0, specific_heat=1000.0, viscosity=NU, conductivity=1.0)
    grid = quads(np.linspace(0.0, 1.0, cells + 1), np.linspace(0.0, 1.0, cells + 1))
    conditions = {
        "fluid, left": FaceCondition("inlet", mean_velocity=1.0, temperature=300.0),
        "fluid, right": FaceCondition("outlet"),
        "fluid, top": FaceCondition("symmetry"),
        "fluid, bottom": FaceCondition("symmetry"),
    }
    problem = build_problem(grid, [table], conditions, physics=FlowPhysics(turbulence=TurbulenceModel((0,))))
    x, y = grid.centre.T
    problem = replace(problem, wall_distance=distance(x, y))
    state = replace(
        State.at_rest(grid.n_cells, problem.unknowns, np.full(grid.n_cells, 300.0)),
        velocity=np.column_stack([along(x, y), across(x, y)]),
        scalars=np.column_stack([energy(x, y), length(x, y)]),
    )
    residual = evaluate(point_of(problem, state), np.zeros(grid.n_cells)).residual[:, list(problem.unknowns.transported)]
    inside = (np.abs(grid.centre - 0.5) < 0.2).all(axis=1)
    k, w = left_over(x[inside], y[inside])
    # g follows ω by dg = -½ g dω/ω.
    exact = np.column_stack([k, -0.5 * length(x, y)[inside] / omega(x, y)[inside] * w])
    off = np.abs(residual[inside] / grid.volume[inside, None] - exact).max(axis=0) / np.abs(exact).max(axis=0)
    return float(off[0]), float(off[1])


class Manufactured(unittest.TestCase):
    def test_both_sets_of_constants_count(self) -> None:
        x, y = np.meshgrid(np.linspace(0.3, 0.7, 9), np.linspace(0.3, 0.7, 9))
        share = inner(x, y)
        self.assertGreater(float(share.max()), 0.5)
        self.assertLess(float(share.min()), 0.5)
        # Neither the limiter of stress nor that of production acts.
        self.assertLess(float(np.sqrt(strain_squared(x, y)).max()), 0.31 * float(omega(x, y).min()))

    def test_balances_are_of_second_order(self) -> None:
        coarse, middle, fine = (errors(cells) for cells in (24, 48, 96))
        for before, between, after in zip(coarse, middle, fine, strict=True):
            self.assertLess(after, 2e-3)
            self.assertGreater(np.log2(before / between), 1.8)
            self.assertGreater(np.log2(between / after), 1.8)
