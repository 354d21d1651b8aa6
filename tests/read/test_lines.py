"""Lines against exact fields: flow between plates and in a pipe, sheared flow, layers of a cylinder, thermal entry of a pipe."""

from __future__ import annotations

import unittest

import numpy as np

from tests.read.instants import instant_of, scales_of
from tests.read.test_derived import DEPTH, HEIGHT, SPEED, developed
from tests.sections import PLAIN, held, rectangle, section_case, wall
from wattikos_core.case.places import PlacedLine, placed_line
from wattikos_core.case.reading import ArcLine, ReadLine, StraightLine
from wattikos_core.errors import CaseError
from wattikos_core.physics.faces import Array
from wattikos_core.read import read_line
from wattikos_core.read.profiles import Profile
from wattikos_core.studies import solve_case


def straight(x0: float, y0: float, x1: float, y1: float) -> PlacedLine:
    return PlacedLine("line", np.array([[x0, y0], [x1, y1]]))


class Flow(unittest.TestCase):
    def across(self, axisymmetric: bool, fineness: float) -> Profile:
        return read_line(instant_of(developed(axisymmetric, fineness)), straight(0.01, 0.0, 0.01, HEIGHT))[0]

    def test_profiles_between_plates_and_in_a_pipe(self) -> None:
        """Poiseuille, and Hagen and Poiseuille: values, mean, mixed-mean, mass flow and extremes, on two grids."""
        for axisymmetric, mixed in ((False, 6.0 / 5.0), (True, 4.0 / 3.0)):
            errors = []
            for fineness in (0.6, 1.2):
                profile = self.across(axisymmetric, fineness)
                eta = profile.path.points[:, 1] / HEIGHT
                exact = 2.0 * SPEED * (1.0 - eta**2) if axisymmetric else 6.0 * SPEED * eta * (1.0 - eta)
                area = np.pi * HEIGHT**2 if axisymmetric else HEIGHT * DEPTH
                told = profile.statistics["velocity x"]
                density = float(developed(axisymmetric, fineness).problem.materials[0].density(293.15))
                assert told.flow_mean is not None
                assert profile.mass_flow is not None
                self.assertAlmostEqual(profile.area / area, 1.0, places=9)
                self.assertAlmostEqual(told.mean / SPEED, 1.0, delta=0.004)
                self.assertAlmostEqual(profile.mass_flow / (density * SPEED * area), 1.0, delta=0.004)
                self.assertAlmostEqual(told.flow_mean / (mixed * SPEED), 1.0, delta=0.005)
                self.assertAlmostEqual(told.at_wall, 0.0, delta=1e-6 * SPEED)
                self.assertAlmostEqual(told.highest / exact.max(), 1.0, delta=0.02)
                errors.append(float(np.abs(profile.fields["velocity x"] - exact).max()) / SPEED)
            self.assertLess(errors[0], 0.06)
            self.assertLess(errors[1], 0.3 * errors[0])

    def test_flow_has_a_sense(self) -> None:
        """Upwards, what flows to the right passes from the left of the line to its right; downwards the other way."""
        instant = instant_of(developed(False, 0.6))
        up, down = (read_line(instant, straight(0.01, a, 0.01, b))[0] for a, b in ((0.0, HEIGHT), (HEIGHT, 0.0)))
        assert up.mass_flow is not None
        assert down.mass_flow is not None
        self.assertGreater(up.mass_flow, 0.0)
        self.assertAlmostEqual(up.mass_flow, -down.mass_flow, places=12)

    def test_a_row_of_stations(self) -> None:
        """Five lines across a duct carry the same flow."""
        profiles = read_line(instant_of(developed(False, 0.6)), PlacedLine("row", part="duct", count=5))
        self.assertEqual(len(profiles), 5)
        places = [profile.path.points[0, 0] for profile in profiles]
        np.testing.assert_allclose(places, [0.002, 0.006, 0.010, 0.014, 0.018], rtol=1e-9)
        flows = [profile.mass_flow or 0.0 for profile in profiles]
        np.testing.assert_allclose(flows, flows[0], rtol=2e-3)

    def test_friction_along_a_wall(self) -> None:
        """τ = 6 µ U / H on both plates, against the stream for the wall and along it for who walks with it."""
        run = developed(False, 1.2)
        exact = 6.0 * float(run.problem.materials[0].viscosity(293.15)) * SPEED / HEIGHT
        for name in ("duct, top", "duct, bottom"):
            profile = read_line(instant_of(run), PlacedLine("wall", boundaries=(name,)))[0]
            self.assertAlmostEqual(profile.statistics["friction"].mean / exact, 1.0, delta=0.01)
            self.assertTrue((np.diff(profile.path.points[:, 0]) > 0.0).all())
            self.assertAlmostEqual(profile.path.length, 0.02, places=9)

    def test_sheared_flow(self) -> None:
        """Couette: between a wall at rest and one that slides, the velocity is linear, and lines meet it exactly."""
        conditions = [
            {
                "type": "inlet",
                "boundaries": ["gap, left"],
                "velocity": "y / (2 mm) * 0.02 m/s",
                "temperature": "20 °C",
            },
            {"type": "outlet", "boundaries": ["gap, right"]},
            wall("gap, top", slide_x="0.02 m/s"),
        ]
        gap = rectangle("gap", "water", "0 m", "0 m", "10 mm", "2 mm")
        run = solve_case(section_case(gap, conditions=conditions, fineness=0.5))
        profile = read_line(instant_of(run), straight(0.005, 0.0, 0.005, 0.002))[0]
        np.testing.assert_allclose(profile.fields["velocity x"], 10.0 * profile.path.points[:, 1], atol=2e-5)


class Heat(unittest.TestCase):
    """A cylinder of two layers between 100 °C within and 20 °C around: logarithms of the radius (exact)."""

    INNER, BETWEEN, OUTER, SHELL = 0.01, 0.02, 0.04, 1.0

    def setUp(self) -> None:
        parts = [
            rectangle("inner", "own", "0 m", "10 mm", "20 mm", "10 mm"),
            rectangle("outer", "soft", "0 m", "20 mm", "20 mm", "20 mm"),
        ]
        soft = {"base": "aluminium", "conductivity": f"{self.SHELL} W/m/K"}
        conditions = [held("inner, bottom", at="100 °C"), held("outer, top", at="20 °C")]
        contacts = [{"between": ["inner", "outer"], "resistance": "1e-3 m^2*K/W"}]
        case = section_case(
            *parts,
            conditions=conditions,
            axisymmetric=True,
            materials={"own": PLAIN, "soft": soft},
            contacts=contacts,
            fineness=0.8,
        )
        self.instant = instant_of(solve_case(case))
        layers = np.log(self.BETWEEN / self.INNER) / 10.0 + np.log(self.OUTER / self.BETWEEN) / self.SHELL
        self.per_length = 80.0 * 2.0 * np.pi / (layers + 1e-3 / self.BETWEEN)

    def exact(self, radius: Array) -> Array:
        inner = 373.15 - self.per_length / (2.0 * np.pi) * np.log(radius / self.INNER) / 10.0
        outer = 293.15 + self.per_length / (2.0 * np.pi) * np.log(self.OUTER / radius) / self.SHELL
        return np.where(radius < self.BETWEEN, inner, outer)

    def test_through_both_layers(self) -> None:
        profile = read_line(self.instant, straight(0.01, self.INNER, 0.01, self.OUTER))[0]
        radius = profile.path.points[:, 1]
        np.testing.assert_allclose(profile.fields["temperature"], self.exact(radius), atol=0.25)
        self.assertAlmostEqual(float(profile.fields["temperature"][0]), 373.15, delta=0.02)
        self.assertAlmostEqual(float(profile.fields["temperature"][-1]), 293.15, delta=0.02)
        # The contact's jump stands in one place.
        jump = -np.diff(profile.fields["temperature"])[np.argmin(np.abs(radius[1:] + radius[:-1] - 2.0 * self.BETWEEN))]
        self.assertAlmostEqual(jump, self.per_length / (2.0 * np.pi * self.BETWEEN) * 1e-3, delta=0.05)

    def test_heat_along_surfaces(self) -> None:
        """All heat passes every surface; its flux falls with the radius."""
        for name, radius in (("inner, bottom", self.INNER), ("inner | outer", self.BETWEEN), ("outer, top", self.OUTER)):
            profile = read_line(self.instant, PlacedLine("surface", boundaries=(name,)))[0]
            told = profile.statistics["heat flux into it"]
            sign = 1.0 if name == "inner, bottom" else -1.0
            self.assertAlmostEqual(told.mean * sign / (self.per_length / (2.0 * np.pi * radius)), 1.0, delta=2e-3)
            self.assertAlmostEqual(told.integral * sign / (self.per_length * 0.02), 1.0, delta=2e-3)

    def test_sides_of_an_interface(self) -> None:
        """Both sides have their own temperature, and what leaves one enters the other."""
        inner, outer = (
            read_line(self.instant, PlacedLine("surface", boundaries=("inner | outer",), side=side))[0]
            for side in ("inner", "outer")
        )
        drop = self.per_length / (2.0 * np.pi * self.BETWEEN) * 1e-3
        self.assertAlmostEqual(inner.statistics["temperature"].mean - outer.statistics["temperature"].mean, drop, delta=0.02 * drop)
        self.assertAlmostEqual(inner.statistics["heat flux into it"].mean, -outer.statistics["heat flux into it"].mean, places=6)


class Graetz(unittest.TestCase):
    """The local Nusselt number along an isothermal pipe with developed flow."""

    # Eigenvalues squared and constants of the Graetz problem (Kays and Crawford, Convective Heat and Mass Transfer; from memory).
    SQUARES = np.array([7.313, 44.61, 113.9, 215.2, 348.6])
    WEIGHTS = np.array([0.749, 0.544, 0.463, 0.415, 0.383])

    def test_local_nusselt_number(self) -> None:
        """Re 100, Pr 7, so that what is conducted along the pipe is nothing; from x+ = 0.02 to 0.25, on two grids."""
        viscosity, diameter, conductivity, capacity, density = 1e-3, 0.01, 0.6, 4200.0, 1000.0
        own = {
            "base": "water",
            "density": f"{density} kg/m^3",
            "viscosity": f"{viscosity} Pa*s",
            "conductivity": f"{conductivity} W/m/K",
            "specific_heat": f"{capacity} J/kg/K",
        }
        speed = 100.0 * viscosity / (density * diameter)
        conditions = [
            {
                "type": "inlet",
                "boundaries": ["pipe, left"],
                "velocity": f"{speed} m/s",
                "temperature": "20 °C",
                "profile": "developed",
            },
            {"type": "outlet", "boundaries": ["pipe, right"]},
            held("pipe, top", at="60 °C"),
        ]
        errors = []
        for fineness in (0.7, 1.4):
            pipe = rectangle("pipe", "own", "0 m", "0 m", "1 m", "5 mm")
            run = solve_case(
                section_case(pipe, conditions=conditions, axisymmetric=True, materials={"own": own}, fineness=fineness)
            )
            profile = read_line(instant_of(run), PlacedLine("wall", boundaries=("pipe, top",)), streams=scales_of(run))[0]
            x_plus = 2.0 * profile.path.points[:, 0] / diameter / (100.0 * viscosity * capacity / conductivity)
            decay = self.WEIGHTS * np.exp(-np.outer(x_plus, self.SQUARES))
            exact = decay.sum(axis=1) / (2.0 * (decay / self.SQUARES).sum(axis=1))
            there = (x_plus > 0.02) & (x_plus < 0.25)
            errors.append(float(np.abs(profile.fields["local Nusselt number"][there] / exact[there] - 1.0).max()))
            # From the entering temperature it is lower.
            other = read_line(instant_of(run), PlacedLine("wall", boundaries=("pipe, top",)), "entering", scales_of(run))[0]
            self.assertTrue((other.fields["local h"][there] < profile.fields["local h"][there]).all())
        self.assertLess(errors[0], 0.03)
        self.assertLess(errors[1], 0.012)


class Places(unittest.TestCase):
    def test_an_arc_and_a_line_by_the_inputs(self) -> None:
        case = section_case(rectangle("slab", "iron", "0 m", "0 m", "20 mm", "10 mm"), conditions=[])
        arc = placed_line(case, ReadLine(name="arc", along=ArcLine(x="10 mm", y="5 mm", radius="2 mm", end="180 deg")))
        assert arc.corners is not None
        np.testing.assert_allclose(np.hypot(*(arc.corners - (0.01, 0.005)).T), 0.002)
        self.assertAlmostEqual(float(np.hypot(*np.diff(arc.corners, axis=0).T).sum()), np.pi * 0.002, delta=1e-6)

    def test_what_is_no_line_is_told(self) -> None:
        case = section_case(rectangle("slab", "iron", "0 m", "0 m", "20 mm", "10 mm"), conditions=[])
        for along, field in (
            (StraightLine(x0="0 m", y0="0 m", x1="0 m", y1="0 mm"), "line.along.x1"),
            (StraightLine(x0="wide", y0="0 m", x1="1 m", y1="0 mm"), "line.along.x0"),
            (ArcLine(x="0 m", y="0 m", radius="-1 mm"), "line.along.radius"),
        ):
            with self.assertRaises(CaseError) as caught:
                placed_line(case, ReadLine(name="wrong", along=along))
            self.assertEqual(caught.exception.problems[0].field, field)

    def test_lines_that_miss_the_section(self) -> None:
        instant = instant_of(developed(False, 0.6))
        for line in (
            straight(1.0, 1.0, 2.0, 2.0),
            PlacedLine("wall", boundaries=("duct, beyond",)),
            PlacedLine("middle", part="pipe"),
        ):
            with self.assertRaises(CaseError):
                read_line(instant, line)
