"""Searches under limits, led by a cheap model: optima that are known exactly, with few trials of what is expensive."""

from __future__ import annotations

import unittest
from collections.abc import Callable

import numpy as np

from wattikos_core.search.space_mapping import Array, Limit, MappedModel, Trial, Variable

Function = Callable[[Array], Array]


def search(model: MappedModel, found: Function, most: int = 12) -> list[Trial]:
    """Trials until the search has come to its end."""
    trials: list[Trial] = []
    while len(trials) < most and (place := model.next_place(trials)) is not None:
        cheap = model.cheap(place)
        assert cheap is not None
        trials.append(Trial(place, cheap, found(place)))
    return trials


class Search(unittest.TestCase):
    def test_a_box_of_least_surface(self) -> None:
        """Least surface for a volume of 8 without a lid: base 2^(4/3), height half of it; the cheap volume is 15 % off."""

        def volume(x: Array) -> Array:
            return np.array([x[0] ** 2 * x[1]])

        def cheap(x: Array) -> Array:
            return volume(x) * 0.85 + 0.1 * x[1]

        limits = [Limit(0, 8.0, np.inf, 8.0)]
        model = MappedModel(
            cheap, [Variable(0.5, 8.0), Variable(0.2, 8.0)], limits, lambda x, q: float(x[0] ** 2 + 4.0 * x[0] * x[1])
        )
        trials = search(model, volume)
        base = 16.0 ** (1.0 / 3.0)
        np.testing.assert_allclose(trials[-1].place, [base, base / 2.0], rtol=5e-3)
        self.assertLessEqual(len(trials), 7)
        self.assertAlmostEqual(float(trials[-1].found[0]), 8.0, delta=0.01)
        # One more unit of volume costs surface: d/dV of 3 (4 V)^(2/3) / ... by hand from the exact optimum 3 (2V)^(2/3).
        last = model.propose(trials)
        assert last is not None
        exact = 2.0 * 2.0 ** (2.0 / 3.0) * 8.0 ** (-1.0 / 3.0)
        self.assertAlmostEqual(model.multipliers(last, trials)[0] / exact, 1.0, delta=0.05)

    def test_critical_radius_of_insulation(self) -> None:
        """Most heat leaves a thin pipe at a radius of k/h (exact); the cheap film is 30 % off, and not even along the radius."""
        k, h, inner = 0.2, 5.0, 0.02

        def heat(film: float) -> Function:
            return lambda x: np.array([1.0 / (np.log(x[0] / inner) / k + 1.0 / (film * x[0]))])

        model = MappedModel(heat(0.7 * h), [Variable(inner, 10.0 * inner)], [], lambda x, q: -float(q[0]))
        trials = search(model, heat(h))
        self.assertAlmostEqual(float(trials[-1].place[0]) / (k / h), 1.0, delta=0.04)
        self.assertAlmostEqual(float(trials[-1].found[0]) / float(heat(h)(np.array([k / h]))[0]), 1.0, delta=1e-3)

    def test_whole_numbers_and_two_limits(self) -> None:
        """Fewest fins that keep 60 K with no more than 20 Pa; exact by trying all of them."""

        def found(x: Array) -> Array:
            return np.array([400.0 / x[0] ** 0.8 / x[1] ** 0.3, 0.5 * x[0] ** 1.2 * x[1]])

        limits = [Limit(0, -np.inf, 60.0, 60.0), Limit(1, -np.inf, 20.0, 20.0)]
        variables = [Variable(2.0, 20.0, whole=True), Variable(0.5, 3.0)]
        model = MappedModel(lambda x: found(x) * np.array([1.1, 0.9]), variables, limits, lambda x, q: float(x[0]))
        trials = search(model, found)
        fits = [
            n
            for n in range(2, 21)
            if any(found(np.array([n, y]))[0] <= 60.0 and found(np.array([n, y]))[1] <= 20.0 for y in np.linspace(0.5, 3.0, 2001))
        ]
        self.assertEqual(int(trials[-1].place[0]), min(fits))
        self.assertLessEqual(max(limit.missing(trials[-1].found) for limit in limits), 2e-3)

    def test_what_cannot_be_met_is_come_as_near_to_as_can_be(self) -> None:
        model = MappedModel(lambda x: x[:1] * 1.0, [Variable(0.0, 1.0)], [Limit(0, 2.0, np.inf, 2.0)], lambda x, q: float(x[0]))
        proposal = model.propose([])
        assert proposal is not None
        self.assertAlmostEqual(float(proposal.place[0]), 1.0, places=6)
        self.assertAlmostEqual(proposal.missing, 0.5, places=6)

    def test_a_model_without_answers(self) -> None:
        self.assertIsNone(MappedModel(lambda x: None, [Variable(0.0, 1.0)], [], lambda x, q: 0.0).propose([]))


class Choices(unittest.TestCase):
    def test_each_choice_is_corrected_by_its_own_trials(self) -> None:
        """Of three kinds the cheap model takes the second for the best; it is 1 too good there alone, and the third one is."""
        offsets = {0: 0.0, 1: 1.0, 2: 0.0}

        def cheap(x: Array) -> Array:
            return np.array([(x[0] - 0.4) ** 2 + {0: 0.9, 1: 0.1, 2: 0.3}[int(x[1])]])

        def found(x: Array) -> Array:
            return cheap(x) + offsets[int(x[1])]

        model = MappedModel(cheap, [Variable(0.0, 1.0), Variable(0.0, 2.0, whole=True, choice=True)], [], lambda x, q: float(q[0]))
        trials = search(model, found)
        best = min(trials, key=lambda trial: float(trial.found[0]))
        self.assertEqual(best.place[1], 2.0)
        self.assertAlmostEqual(float(best.place[0]), 0.4, delta=1e-2)
        self.assertLessEqual(len(trials), 8)

    def test_spacing_of_plates_in_free_convection(self) -> None:
        """The most heat from a stack of isothermal plates is given at 2.714 P^(-1/4), P = cp rho^2 g beta dT / (mu k L).

        Bar-Cohen and Rohsenow 1984, J. Heat Transfer 106, 116: Nu = (576 / El^2 + 2.873 / El^(1/2))^(-1/2) with El = P s^4.
        The cheap model is of the two limits the smaller one, which lies 20 % off where they meet.
        """
        strength = 2.0e9

        def heat(spacing: float, nusselt: float) -> float:
            return nusselt / spacing / spacing

        def found(x: Array) -> Array:
            elenbaas = strength * x[0] ** 4
            return np.array([heat(x[0], (576.0 / elenbaas**2 + 2.873 / elenbaas**0.5) ** -0.5)])

        def cheap(x: Array) -> Array:
            elenbaas = strength * x[0] ** 4
            return np.array([0.9 * heat(x[0], ((elenbaas / 24.0) ** -4 + (elenbaas**0.25 / 1.695) ** -4) ** -0.25)])

        model = MappedModel(cheap, [Variable(3e-3, 4e-2)], [], lambda x, q: -float(q[0]))
        best = min(search(model, found), key=lambda trial: -float(trial.found[0]))
        self.assertAlmostEqual(float(best.place[0]) * strength**0.25 / 2.714, 1.0, delta=0.02)
