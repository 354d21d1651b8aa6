"""Solving until it is good enough: the ± that is asked for is met and holds the true error, or it is said what it would take."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np

from wattikos_core.case import Case, read_case, starter_case
from wattikos_core.case.document import GoodEnough
from wattikos_core.errors import CaseError
from wattikos_core.grid.places import Place
from wattikos_core.solve import Event
from wattikos_core.studies import solve_case
from wattikos_core.studies.trials import best_factors


def to_within(case: Case, within: float, most_cells: int = 100_000) -> Case:
    """The case with a wish."""
    wish = GoodEnough(within=within, most_cells=most_cells)
    return case.model_copy(update={"solve": case.solve.model_copy(update={"good_enough": wish})})


def pipe_wall() -> Case:
    """A pipe wall of 20 and 40 mm radius and k 15 W/(m K), inside at 100 °C, outside 200 W/(m2 K) to 20 °C."""
    circle = {"type": "circle", "x": "0 mm", "y": "0 mm"}
    document: dict[str, Any] = {
        "title": "pipe wall",
        "inputs": {},
        "section": {
            "extent": "flat",
            "depth": "1 m",
            "parts": [
                {"name": "wall", "material": "s", "shape": {**circle, "diameter": "80 mm"}},
                {"name": "bore", "material": "void", "shape": {**circle, "diameter": "40 mm"}},
            ],
        },
        "materials": {"s": {"base": "aluminium", "conductivity": "15 W/m/K"}},
        "conditions": [
            {"type": "wall", "boundaries": ["wall, bore outside"], "thermal": "temperature", "temperature": "100 degC"},
            {
                "type": "wall",
                "boundaries": ["wall, outside"],
                "thermal": "convection",
                "heat_transfer_coefficient": "200 W/m²/K",
                "ambient_temperature": "20 degC",
            },
        ],
        "wanted": [{"key": {"quantity": "heat_out", "place": "wall, outside"}}],
    }
    return read_case(document)


class GoodEnoughTest(unittest.TestCase):
    def test_heat_through_a_pipe_wall(self) -> None:
        """Exact: 2 π k ΔT / (ln(r2/r1) + k/(h r2)); the ± that was asked for is met and holds the error."""
        run = solve_case(to_within(pipe_wall(), 2e-4))
        exact = 2.0 * math.pi * 15.0 * 80.0 / (math.log(2.0) + 15.0 / (200.0 * 0.04))
        row = next(row for row in run.ledger if row.wanted)
        assert row.solved is not None
        assert row.plus_minus is not None
        self.assertTrue(run.good_enough)
        self.assertLessEqual(row.plus_minus, 2e-4 * row.solved)
        self.assertLessEqual(abs(row.solved - exact), row.plus_minus)
        self.assertGreater(abs(row.solved - exact), 0.0)

    def test_a_sink_needs_few_cells(self) -> None:
        """Its temperatures within 0.1 % of their span; reference: even grids of up to 60,000 cells, extrapolated (our own)."""
        run = solve_case(to_within(starter_case("plate_sink"), 1e-3))
        self.assertTrue(run.good_enough)
        self.assertLess(run.field.quality.cells, 12_000)
        for row, reference in zip([row for row in run.ledger if row.wanted], (346.6337, 346.7810), strict=True):
            assert row.solved is not None
            assert row.plus_minus is not None
            self.assertLessEqual(abs(row.solved - reference), row.plus_minus)

    def test_what_it_would_take(self) -> None:
        """Where the cells do not suffice the ± that was reached is said, and a remedy allows more."""
        run = solve_case(to_within(starter_case("plate_sink"), 1e-5, 12_000))
        self.assertFalse(run.good_enough)
        finding = next(f for f in run.findings if f.about == "good_enough")
        self.assertIn("times too much", finding.text)
        self.assertRegex(finding.remedy, r"about [\d,]+ cells")
        assert finding.fix is not None
        self.assertEqual((finding.fix.path, finding.fix.value), ("solve.good_enough.most_cells", 48_000))

    def test_nothing_wanted(self) -> None:
        """Good enough for what? The field and the remedy are said."""
        case = starter_case("plate_sink").model_copy(update={"wanted": []})
        with self.assertRaises(CaseError) as caught:
            solve_case(to_within(case, 0.01))
        self.assertEqual(caught.exception.problems[0].field, "solve.good_enough")
        self.assertIn("wanted", caught.exception.problems[0].remedy)

    def test_stopped_among_its_trials(self) -> None:
        """What there is so far is the answer, and that it is not finished is told."""
        stages: list[str] = []

        def listen(event: Event) -> None:
            stages.append(event.stage)

        run = solve_case(to_within(starter_case("plate_sink"), 0.01), listen=listen, cancel=lambda: "depends" in stages[-1])
        self.assertFalse(run.good_enough)
        self.assertIsNotNone(run.value("hottest metal"))
        self.assertIn("stopped", next(f for f in run.findings if f.about == "good_enough").text)

    def test_a_solve_that_does_not_converge(self) -> None:
        """With one step allowed nothing is known well enough, whatever its grids say."""
        case = starter_case("pin_channel")
        case = case.model_copy(update={"solve": case.solve.model_copy(update={"max_steps": 1, "method": "coupled"})})
        run = solve_case(to_within(case, 0.5))
        self.assertFalse(run.good_enough)
        self.assertTrue(all(row.plus_minus is None for row in run.ledger))
        self.assertIn("did not converge", next(f for f in run.findings if f.about == "good_enough").text)


class Sharing(unittest.TestCase):
    def test_least_error_for_the_cells(self) -> None:
        """The factors are the minimum: any other way to share out the same cells leaves more error."""
        places = [Place(np.zeros(0, dtype=np.int64)) for _ in range(3)]
        errors, sizes = np.array([8.0, 3.0, 6.0]), np.array([100.0, 200.0, 200.0])
        best = best_factors(places, errors[:, None], sizes)
        self.assertAlmostEqual(float(sizes @ best**2), 500.0, delta=0.1)
        least = float((errors / best**2).sum())
        for change in np.random.default_rng(1).normal(0.0, 0.1, (50, 3)):
            other = best * np.exp(change)
            other *= np.sqrt(500.0 / (sizes @ other**2))
            self.assertGreaterEqual(float((errors / other**2).sum()), least - 1e-6)

    def test_places_that_take_from_each_other(self) -> None:
        """What two places make of opposite signs is no reason to refine one of them: a third one is refined."""
        places = [Place(np.zeros(0, dtype=np.int64)) for _ in range(3)]
        together = best_factors(places, np.array([[4.0], [-4.0], [2.0]]), np.full(3, 100.0))
        self.assertAlmostEqual(float((np.array([4.0, -4.0, 2.0]) / together**2).sum()), 0.0, delta=0.01)
        self.assertGreater(together[0], together[1])

    def test_the_worst_of_several(self) -> None:
        """Cells go to the quantity that is furthest off, not to one that is near enough anyhow."""
        places = [Place(np.zeros(0, dtype=np.int64)) for _ in range(2)]
        factors = best_factors(places, np.array([[8.0, 0.0], [0.0, 1.0]]), np.full(2, 100.0))
        self.assertGreater(factors[0], 1.25)
        self.assertLess(factors[1], 0.75)

    def test_both_directions_leave_the_same(self) -> None:
        """Lines: with as many cells, the error along both axes becomes the same."""
        places = [Place(np.zeros(0, dtype=np.int64), axis, ((0.0, 1.0),)) for axis in (0, 1)]
        factors = best_factors(places, np.array([[4.0], [1.0]]), np.array([50.0, 50.0]))
        self.assertAlmostEqual(float(factors.prod()), 1.0, places=6)
        self.assertAlmostEqual(4.0 / factors[0] ** 2, 1.0 / factors[1] ** 2, delta=1e-3)
