"""Modules that repeat along a stream: developed ducts, long ducts that become them, and bundles."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from django.test import tag

from tests.sections import circle, held, rectangle, section_case, wall
from tests.support import LIQUID
from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.errors import SolveError
from wattikos_core.solve.checkpoint import unpack_checkpoint
from wattikos_core.studies import Result, solve_case

# Shah and London (1978), Laminar Flow Forced Convection in Ducts: Nusselt number at one wall temperature and at one heat
# flux, and Darcy's friction factor times the Reynolds number, of parallel plates (chapter VI) and of a round pipe (chapter V).
PLATES = (7.541, 8.235, 96.0)
PIPE = (3.657, 4.364, 64.0)
HEIGHT = 0.01


def periodic(upstream: str, downstream: str, **values: str) -> dict[str, Any]:
    return {"type": "periodic", "boundaries": [upstream], "downstream": [downstream], "temperature": "20 °C", **values}


def duct(wall_gives: dict[str, Any], *, fineness: float = 1.0, round_: bool = False, length: str = "4 mm", **drive: str) -> Case:
    """A piece of a duct of plates 10 mm apart, or of a pipe of 20 mm, fast enough for conduction along it not to count."""
    walls = ["water, top"] if round_ else ["water, top", "water, bottom"]
    return section_case(
        rectangle("water", "liquid", "0 m", "0 m", length, f"{HEIGHT} m"),
        conditions=[
            periodic("water, left", "water, right", **(drive or {"velocity": "20 mm/s"})),
            {**wall_gives, "boundaries": walls},
        ],
        axisymmetric=round_,
        fineness=fineness,
        materials={"liquid": LIQUID},
    )


def long_sought(run: Result) -> tuple[float, float]:
    """Nusselt number, and friction factor times Reynolds number."""
    return run.value("water Nusselt number"), run.value("water friction factor") * run.value("water Reynolds number")


class Ducts(unittest.TestCase):
    def check_duct(self, round_: bool, known: tuple[float, float, float]) -> None:
        ways = (held("x", at="50 °C"), wall("x", thermal="heat_flux", heat_flux="500 W/m^2"))
        for gives, nusselt in zip(ways, known[:2], strict=True):
            found = [long_sought(solve_case(duct(gives, fineness=f, round_=round_))) for f in (1.0, 2.0)]
            for value, exact in ((0, nusselt), (1, known[2])):
                coarse, fine = found[0][value], found[1][value]
                self.assertAlmostEqual(fine / exact, 1.0, delta=3e-3)
                # Of second order: the rest of the error is a third of what halving the cells took away.
                self.assertAlmostEqual((fine + (fine - coarse) / 3.0) / exact, 1.0, delta=1e-3)

    def test_parallel_plates(self) -> None:
        self.check_duct(False, PLATES)

    def test_round_pipe(self) -> None:
        self.check_duct(True, PIPE)

    def test_slanting_plates_in_body_fitted_cells(self) -> None:
        # The same duct turned by 30°: the period is aslant, and nothing is rectangular for the gridder.
        case = section_case(
            rectangle("water", "liquid", "0 m", "0 m", "20 mm", f"{HEIGHT} m", angle="30 deg"),
            conditions=[
                periodic("water, left", "water, right", velocity="20 mm/s"),
                held("water, top", "water, bottom", at="50 °C"),
            ],
            fineness=1.5,
            materials={"liquid": LIQUID},
        )
        run = solve_case(case)
        self.assertTrue(run.solution.converged)
        nusselt, friction = long_sought(run)
        self.assertAlmostEqual(nusselt / PLATES[0], 1.0, delta=5e-3)
        self.assertAlmostEqual(friction / PLATES[2], 1.0, delta=5e-3)

    def test_twice_as_long_is_twice_over(self) -> None:
        # Two modules are one of twice the length, on cells of other lengths.
        one, two = (solve_case(duct(held("x", at="50 °C"), length=f"{n} mm", velocity="0.5 mm/s")) for n in (20, 40))
        ratio, twice = one.value("water ratio per module"), two.value("water ratio per module")
        self.assertLess(ratio, 0.8)
        self.assertAlmostEqual(twice / ratio**2, 1.0, delta=5e-4)
        self.assertAlmostEqual(two.value("water pressure drop") / one.value("water pressure drop"), 2.0, delta=1e-6)

    def test_a_gradient_drives_the_flow_it_belongs_to(self) -> None:
        gives = wall("x", thermal="heat_flux", heat_flux="500 W/m^2")
        by_velocity = solve_case(duct(gives))
        fall = by_velocity.value("water pressure drop") / 0.004
        by_gradient = solve_case(duct(gives, pressure_gradient=f"{fall!r} Pa/m"))
        self.assertAlmostEqual(
            by_gradient.value("water Reynolds number") / by_velocity.value("water Reynolds number"), 1.0, places=6
        )
        self.assertAlmostEqual(
            by_gradient.value("water rise per module") / by_velocity.value("water rise per module"), 1.0, places=6
        )

    def test_heat_along_the_stream_at_low_peclet_numbers(self) -> None:
        # Where conduction along the stream counts Nu rises from 7.541 to 8.117 (Shah and London 1978, chapter VI).
        slow = solve_case(duct(held("x", at="50 °C"), fineness=2.0, length="2 mm", velocity="0.002 mm/s"))
        self.assertTrue(slow.solution.converged)
        # The account of a module has conduction through both of its ends in it.
        self.assertLess(slow.value("heat balance"), 1e-9)
        heat = -slow.value("heat out through water, top") - slow.value("heat out through water, bottom")
        k, bulk, ratio = 0.6, 20.0, slow.value("water ratio per module")
        # The mixed-mean difference decays like exp(-x ln(1/ratio)/L): its mean over the module is exact.
        mean = (bulk - 50.0) * (1.0 - ratio) / np.log(1.0 / ratio)
        nusselt = heat / (2.0 * 0.002 * -mean) * 2.0 * HEIGHT / k
        self.assertAlmostEqual(nusselt / 8.117, 1.0, delta=0.01)


def ribs(count: int, conditions: list[dict[str, Any]]) -> Case:
    """A duct with ribs on its lower wall, 40 mm apart."""
    parts = [rectangle("water", "liquid", "0 m", "0 m", f"{40 * count} mm", f"{HEIGHT} m")]
    parts += [rectangle(f"rib {i + 1}", "copper", f"{40 * i + 20} mm", "0 m", "4 mm", "4 mm") for i in range(count)]
    gives = wall("water, bottom", *(f"rib {i + 1}, bottom" for i in range(count)), thermal="heat_flux", heat_flux="200 W/m^2")
    return section_case(*parts, conditions=[*conditions, gives], materials={"liquid": LIQUID}, fineness=0.8)


class LongDucts(unittest.TestCase):
    @tag("slow")
    def test_the_later_ribs_of_a_long_duct_are_modules(self) -> None:
        module = solve_case(ribs(1, [periodic("water, left", "water, right", velocity="0.5 mm/s")]))
        enters = {
            "type": "inlet",
            "boundaries": ["water, left"],
            "velocity": "0.5 mm/s",
            "temperature": "20 °C",
            "profile": "developed",
        }
        long = solve_case(ribs(6, [enters, {"type": "outlet", "boundaries": ["water, right"]}]))
        rise = module.value("water rise per module")
        # At a Péclet number of 70 heat has developed behind three ribs; the last one feels the outlet.
        later = [long.value(f"mean temperature of rib {i}") for i in (3, 4, 5)]
        for step in np.diff(later):
            self.assertAlmostEqual(step / rise, 1.0, delta=0.02)
        self.assertAlmostEqual(
            (long.value("drag on rib 4") + long.value("drag on rib 5")) / 2.0 / module.value("drag on rib 1"), 1.0, delta=0.02
        )

    def test_many_modules_follow_from_one(self) -> None:
        run = solve_case(duct(held("x", at="50 °C"), velocity="2 mm/s", modules="30"))
        ratio = run.value("water ratio per module")
        self.assertAlmostEqual(run.value("water last outlet temperature") - 323.15, -30.0 * ratio**30, delta=1e-6)
        heat = 2e-3 * HEIGHT * 1000.0 * 4000.0 * 30.0 * (1.0 - ratio**30)
        self.assertAlmostEqual(run.value("water total heat gained") / heat, 1.0, delta=1e-6)
        self.assertAlmostEqual(run.value("water total pressure drop") / (30.0 * run.value("water pressure drop")), 1.0, places=9)


def bundle(reynolds: float, pitch: float, material: str = "water", viscosity: float = 1.0034e-6) -> Case:
    """Two rows of a staggered bundle of 12 mm tubes with equal pitches, at a Reynolds number in its narrowest gap."""
    # Kinematic viscosity of water at 20 °C; across the stream the gap is narrower than aslant for equal pitches above 1.2.
    speed = reynolds * viscosity / 0.012 * (pitch - 1.0) / pitch
    p = 12.0 * pitch
    return section_case(
        rectangle("water", material, "0 m", "0 m", f"{2 * p} mm", f"{p / 2} mm"),
        circle("first", "void", f"{p / 2} mm", "0 m", "12 mm"),
        circle("second", "void", f"{1.5 * p} mm", f"{p / 2} mm", "12 mm"),
        conditions=[
            periodic("water, left", "water, right", velocity=f"{speed} m/s"),
            {"type": "symmetry", "boundaries": ["water, top", "water, bottom"]},
            held("water, first outside", "water, second outside", at="22 °C"),
        ],
    )


class Bundles(unittest.TestCase):
    def test_staggered_bundles_against_zukauskas(self) -> None:
        # Zukauskas (1972), Adv. Heat Transfer 8, 93: Nu = 0.90 Re^0.4 Pr^0.36 for Re from 10 to 100 in the narrowest gap
        # (constants from memory), with a usual scatter of 25 %.
        prandtl, conductivity = 7.0, 0.598
        for reynolds, pitch in ((50.0, 2.0), (100.0, 2.0), (100.0, 1.5)):
            with self.subTest(reynolds=reynolds, pitch=pitch):
                run = solve_case(bundle(reynolds, pitch))
                self.assertTrue(run.solution.converged)
                nusselt = run.value("water h") * 0.012 / conductivity
                self.assertAlmostEqual(nusselt / (0.90 * reynolds**0.4 * prandtl**0.36), 1.0, delta=0.25)

    def test_drag_takes_up_the_pressure(self) -> None:
        run = solve_case(starter_case("bundle_module"))
        drag = run.value("drag on lower tube") + run.value("drag on upper tube")
        area = 0.012 * 0.4
        self.assertAlmostEqual(drag / (run.value("whey pressure drop") * area), 1.0, delta=0.02)

    def test_differences_that_all_but_vanish_within_a_module(self) -> None:
        # A stream that gives most of its heat in two rows: the ratio is far from one, where it is looked for from.
        run = solve_case(bundle(20.0, 1.5, material="air", viscosity=1.51e-5))
        self.assertTrue(run.solution.converged)
        self.assertLess(run.value("water ratio per module"), 0.05)
        t = run.evaluation.temperature
        self.assertLess(float(t.max()), 295.15 + 1e-3)

    def test_a_stream_that_comes_to_the_walls_temperature_is_refused(self) -> None:
        with self.assertRaisesRegex(SolveError, "nothing left that could repeat"):
            solve_case(duct(held("x", at="50 °C"), length="400 mm", velocity="0.1 mm/s"))

    def test_a_former_run_is_where_it_goes_on(self) -> None:
        first = solve_case(bundle(50.0, 2.0))
        checkpoint = first.solution.checkpoint()
        former = unpack_checkpoint(checkpoint)
        self.assertEqual(former.state.periodicity, first.solution.state.periodicity)
        self.assertTrue(np.array_equal(former.grid.joined, first.problem.grid.joined))
        again = solve_case(bundle(50.5, 2.0), start=checkpoint)
        self.assertTrue(again.solution.converged)
        self.assertLess(len(again.solution.history), len(first.solution.history))


class Findings(unittest.TestCase):
    def test_viscosity_that_changes_is_doubted(self) -> None:
        document = starter_case("bundle_module").model_dump(mode="json")
        document["inputs"]["heating"]["value"] = "80 °C"
        texts = [finding.text for finding in solve_case(read_case(document)).findings]
        self.assertTrue(any("its viscosity differs by up to" in text for text in texts), texts)

    def test_a_last_outlet_beyond_the_data_is_a_fault(self) -> None:
        case = duct(wall("x", thermal="heat_flux", heat_flux="5 kW/m^2"), velocity="2 mm/s", modules="10000")
        found = [f for f in solve_case(case).findings if "would leave the last module at" in f.text]
        self.assertEqual([f.severity for f in found], ["stop"])
