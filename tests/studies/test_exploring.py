"""Around a sizing: maps, fronts and scatter, against exact ones."""

from __future__ import annotations

import unittest

import numpy as np
from django.test import tag
from scipy.optimize import brentq
from scipy.stats import norm

from wattikos_core.case import Case, starter_case
from wattikos_core.case.series import Varied
from wattikos_core.case.sizing import AimWish, ChosenWish, SizingWish, Spread
from wattikos_core.case.wanted import Wanted
from wattikos_core.errors import CaseError
from wattikos_core.ledger import Key
from wattikos_core.search.space_mapping import Trial
from wattikos_core.studies import read_wish
from wattikos_core.studies.exploring import feasible_map, pareto_front, proposal_by_hand, scatter
from wattikos_core.studies.search_space import SearchSpace
from wattikos_core.studies.series import by_hand

EFFECTIVENESS, DROP = Key("effectiveness"), Key("pressure_drop", "hot")
LENGTH = ChosenWish(varied=[Varied(input="length")], lower="300 mm", upper="2 m")
HEIGHT = ChosenWish(varied=[Varied(input="hot_height")], lower="0.8 mm", upper="3 mm")
GOALS = [Wanted(key=EFFECTIVENESS, target="0.8"), Wanted(key=DROP, target="15 Pa", sense="at_most")]


def space(**wish: object) -> SearchSpace:
    case = starter_case("plate_passage")
    return SearchSpace(case, read_wish(case, SizingWish.model_validate(wish)))


def effectiveness(case: Case, **inputs: float) -> float:
    """By hand, with inputs in SI."""
    varied = [Varied(input=name) for name in inputs]
    units = {"length": "m", "hot_flow": "kg/s"}
    return by_hand(case, varied, [tuple(f"{x!r} {units[name]}" for name, x in inputs.items())])[0].values[EFFECTIVENESS]


class Map(unittest.TestCase):
    def test_goals_are_met_where_their_quantities_say_so(self) -> None:
        search = space(chosen=[LENGTH, HEIGHT], goals=GOALS, aim=AimWish(expression="length"))
        found = feasible_map(search, [], 0, 1)
        self.assertEqual(found.missing.shape, (found.places[1].size, found.places[0].size))
        met = (found.quantities[0] >= 0.8) & (found.quantities[1] <= 15.0)
        sure = np.abs(found.missing) > 1e-3
        np.testing.assert_array_equal((found.missing <= 0.0)[sure], met[sure])
        self.assertTrue(met.any())
        # No place on the map is shorter than the one the search would try.
        best = proposal_by_hand(search)
        assert best is not None
        self.assertGreaterEqual(np.where(met, found.aim, np.inf).min(), best.aim - 1e-6)
        # Trials shift the borders by what the hand calculation lacks.
        place = best.place
        cheap = search.by_hand(place)
        assert cheap is not None
        corrected = feasible_map(search, [Trial(place, cheap, cheap + np.array([-0.05, 0.0]))], 0, 1)
        np.testing.assert_allclose(corrected.quantities[0], found.quantities[0] - 0.05, atol=1e-9)

    def test_where_nothing_is_known_nothing_is_drawn(self) -> None:
        """Nobody calculates it by hand and nothing is solved: no map, no front; what has been solved is learned from."""
        goal = Wanted(key=Key("mean_temperature", "plate"), target="40 °C", sense="at_most")
        aims = {"aim": AimWish(expression="length"), "second": AimWish(expression="hot_height")}
        search = space(chosen=[LENGTH, HEIGHT], goals=[goal], **aims)
        self.assertTrue(search.without_hand)
        for look in (lambda: feasible_map(search, [], 0, 1), lambda: pareto_front(search, [])):
            with self.assertRaisesRegex(CaseError, "nothing has been tried yet"):
                look()
        # Warmer with the length: 300 K and 40 K per metre, so that it is met below 0.329 m.
        places = [np.array([x, h]) for x in (0.3, 0.8, 1.4, 2.0) for h in (0.8e-3, 3e-3)]
        trials = [search.trial(place, np.array([300.0 + 40.0 * place[0]])) for place in places]
        found = feasible_map(search, trials, 0, 1)
        np.testing.assert_allclose(found.quantities[0][0], 300.0 + 40.0 * found.places[0], atol=0.5)

    def test_needs_two(self) -> None:
        search = space(chosen=[LENGTH], goals=GOALS[:1])
        with self.assertRaisesRegex(CaseError, "two of what is chosen"):
            feasible_map(search, [], 0, 1)


class Nearest(unittest.TestCase):
    def test_with_nothing_to_be_best_the_nearest_row_and_values_are_taken(self) -> None:
        """Of plates 0.4, 0.7 and 2 mm thick that nearest to 0.6 mm, and of lengths that which just does."""
        rows = ChosenWish(varied=[Varied(input="plate", values="0.4, 0.7, 2 mm")])
        best = proposal_by_hand(space(chosen=[rows, LENGTH], goals=GOALS[:1]))
        assert best is not None
        self.assertEqual(best.place[0], 1.0)
        self.assertAlmostEqual(float(best.quantities[0]), 0.8, delta=1e-3)


class Front(unittest.TestCase):
    def test_of_an_analytic_pair(self) -> None:
        """(x - 0.6)^2 and (x - 1.4)^2: on the front the roots of both add up to 0.8; beyond 0.6 and 1.4 lies none of it."""
        pair = {"aim": AimWish(expression="(length/(1 m) - 0.6)**2"), "second": AimWish(expression="(length/(1 m) - 1.4)**2")}
        points = pareto_front(space(chosen=[LENGTH], **pair), [])
        self.assertGreater(len(points), 6)
        for point in points:
            self.assertAlmostEqual(point.aim**0.5 + point.second**0.5, 0.8, delta=2e-3)
            self.assertTrue(0.599 < point.place[0] < 1.401)
        spacing = np.diff([point.place[0] for point in points])
        self.assertTrue((spacing > 0.0).all())

    def test_goals_hold_on_it(self) -> None:
        wish = {"aim": AimWish(expression="length"), "second": AimWish(key=DROP)}
        search = space(chosen=[LENGTH, HEIGHT], goals=GOALS, **wish)
        for point in pareto_front(search, []):
            quantities = search.by_hand(np.array(point.place))
            assert quantities is not None
            self.assertLessEqual(search.missing(quantities), 5e-4)
            self.assertAlmostEqual(point.second, float(quantities[1]), delta=1e-6 * point.second)


class Scattering(unittest.TestCase):
    @tag("slow")
    def test_share_and_size_against_exact_propagation(self) -> None:
        """One input scatters, and the effectiveness falls with it: the share is that of flows below the one that just does."""
        search = space(
            chosen=[LENGTH], goals=GOALS[:1], aim=AimWish(expression="length"), spreads=[Spread(input="hot_flow", plus_minus="5 %")]
        )
        case, middle, deviation = search.case, 4.6e-3, 0.5 * 0.05 * 4.6e-3

        def share_at(length: float) -> float:
            just = brentq(lambda flow: effectiveness(case, length=length, hot_flow=flow) - 0.8, 3.5e-3, 5e-3)
            return float(norm.cdf((just - middle) / deviation))

        best = proposal_by_hand(search)
        assert best is not None
        found = scatter(search, [], [Spread(input="hot_flow", plus_minus="5 %")], 0.95)
        # What counts as met is a little wider than the goal: 4e-4 of it.
        self.assertAlmostEqual(found.share, share_at(float(best.place[0])), delta=0.025)
        self.assertEqual(found.centre, search.texts(best.place))
        assert found.place is not None
        self.assertGreaterEqual(found.share_there, 0.95)
        self.assertAlmostEqual(share_at(found.place[0]), 0.95, delta=0.03)
        exact = brentq(lambda length: share_at(length) - 0.95, 0.74, 0.85)
        self.assertAlmostEqual(found.place[0] / exact, 1.0, delta=0.01)

    def test_what_makes_no_sense(self) -> None:
        search = space(chosen=[LENGTH], goals=GOALS[:1])
        for words, spreads in (
            ("no input scatters", []),
            ("no input 'flow'", [Spread(input="flow", plus_minus="1 g/s")]),
            ("no spread", [Spread(input="hot_flow", plus_minus="0 g/s")]),
            ("", [Spread(input="hot_flow", plus_minus="1 m")]),
        ):
            with self.subTest(words), self.assertRaisesRegex(CaseError, words):
                scatter(search, [], spreads, 0.95)
