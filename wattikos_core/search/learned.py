"""The best place under limits for expensive quantities that no cheap model leads to: learned from trials alone.

Each quantity is a Gaussian process over the trials (scikit-learn). The next place is that of the most expected improvement, times
the probability that all limits are kept (Jones, Schonlau and Welch 1998, J. Glob. Optim. 13, 455; Schonlau, Welch and Jones 1998,
IMS Lect. Notes 34, 11). Once little improvement is expected, the best place of the means is tried until it has been.
"""

from __future__ import annotations

import warnings
from collections.abc import Sequence

import numpy as np
from scipy.stats import norm, qmc

from wattikos_core.search.space_mapping import SAME, Aim, Array, Limit, MappedModel, Trial, Variable

# Places that improvement is looked for at, and those in the middle of what was tried, around the best, per variable.
_LOOKED_AT = 1024
# Improvement expected, as a share of the size of the aim, that is not worth a trial.
_LITTLE = 2e-3
# Trials that only learn, at the most.
_MOST_LEARNT = 14


class LearnedModel(MappedModel):
    """As `MappedModel`, whose quantities are learned: the cheap model is nought everywhere, and its correction all there is.

    Example:
        >>> model = LearnedModel([Variable(0.0, 1.0)], [], lambda x, q: float(q[0]), count=1)
        >>> trials = []
        >>> while (place := model.next_place(trials)) is not None:
        ...     trials.append(Trial(place, np.zeros(1), np.array([(place[0] - 0.3) ** 2])))
        >>> bool(abs(min(trials, key=lambda t: t.found[0]).place[0] - 0.3) < 1e-3)
        True
    """

    def __init__(
        self, variables: Sequence[Variable], limits: Sequence[Limit], aim: Aim, *, count: int, margin: float = 0.0, seed: int = 1
    ) -> None:
        super().__init__(lambda place: np.zeros(count), variables, limits, aim, margin=margin, seed=seed)
        self._count = count
        self._taught: tuple[int, list[object]] = (0, [])

    def next_place(self, trials: Sequence[Trial], tolerance: float = 1e-3) -> Array | None:
        """Where to try next; None at the end, see `MappedModel`."""
        first = self._first()
        if len(trials) < len(first):
            return first[len(trials)]
        if len(trials) < max(_MOST_LEARNT, len(first) + 2):
            place, improvement = self._most_promising(trials, tolerance)
            if improvement > _LITTLE * self._scale(trials):
                return place
        proposal = self.propose(trials)
        if proposal is None:
            return None
        there = self.shares(proposal.place)
        away = min(float(np.abs(self.shares(trial.place) - there).max()) for trial in trials)
        return proposal.place if away > SAME else None

    def predicted(self, shares: Array, trials: Sequence[Trial]) -> tuple[Array, Array]:
        """Mean and standard deviation of the quantities at places in shares, each of shape (n_places, n_quantities)."""
        means, spreads = zip(*(self._at(one, shares) for one in self._processes(trials)), strict=True)
        return np.column_stack(means), np.column_stack(spreads)

    def _correction(self, place: Array, trials: Sequence[Trial]) -> Array:
        if not trials:
            return np.zeros(self._count)
        return np.asarray(self.predicted(self.shares(place)[None], trials)[0][0])

    def _first(self) -> list[Array]:
        """Places to begin with: a Latin hypercube, and the middle."""
        n = len(self.variables)
        shares = np.vstack([np.full((1, n), 0.5), qmc.LatinHypercube(n, rng=self._seed).random(2 * n + 1)])
        return [self._place(row) for row in shares]

    def _processes(self, trials: Sequence[Trial]) -> list[object]:
        from sklearn.gaussian_process import GaussianProcessRegressor
        from sklearn.gaussian_process.kernels import ConstantKernel, Matern

        if self._taught[0] != len(trials):
            places = np.array([self.shares(trial.place) for trial in trials])
            found = np.array([trial.found for trial in trials])
            models: list[object] = []
            for column in found.T:
                kernel = ConstantKernel(1.0, (1e-3, 1e4)) * Matern(np.ones(places.shape[1]), (0.05, 50.0), nu=2.5)
                model = GaussianProcessRegressor(
                    kernel, alpha=1e-9, normalize_y=True, n_restarts_optimizer=2, random_state=self._seed
                )
                with warnings.catch_warnings():
                    # A length scale at its bound says that a quantity hardly depends on a variable.
                    warnings.simplefilter("ignore")
                    models.append(model.fit(places, column))
            self._taught = len(trials), models
        return self._taught[1]

    @staticmethod
    def _at(model: object, shares: Array) -> tuple[Array, Array]:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            mean, spread = model.predict(shares, return_std=True)  # type: ignore[attr-defined]
        return np.asarray(mean), np.asarray(spread)

    def _scale(self, trials: Sequence[Trial]) -> float:
        aims = [self.aim(trial.place, trial.found) for trial in trials]
        return max(float(np.ptp(aims)), 1e-9 * max(abs(aims[0]), 1e-300))

    def _most_promising(self, trials: Sequence[Trial], tolerance: float) -> tuple[Array, float]:
        """The place of the most expected improvement within the limits, and how much of the aim that is."""
        rng = np.random.default_rng(self._seed + len(trials))
        n = len(self.variables)
        wide = qmc.Sobol(n, rng=rng).random(_LOOKED_AT)
        kept = [t for t in trials if all(limit.missing(t.found) <= tolerance for limit in self.limits)]
        best = min(kept, key=lambda t: self.aim(t.place, t.found)) if kept else min(trials, key=self._worst)
        near = self.shares(best.place) + 0.1 * rng.standard_normal((_LOOKED_AT // 2, n))
        places = [self._place(row) for row in np.clip(np.vstack([wide, near]), 0.0, 1.0)]
        shares = np.array([self.shares(place) for place in places])
        mean, spread = self.predicted(shares, trials)
        likely = np.ones(len(places))
        for limit in self.limits:
            value, width = mean[:, limit.quantity], np.maximum(spread[:, limit.quantity], 1e-12 * limit.size)
            likely *= norm.cdf((limit.upper - value) / width) - norm.cdf((limit.lower - value) / width)
        if not kept:
            # Nothing keeps the limits yet: what most likely does is as good as any improvement.
            i = int(np.argmax(likely))
            return places[i], (np.inf if likely[i] > _LITTLE else 0.0)
        goal = self.aim(best.place, best.found)
        aims = np.array([self.aim(place, q) for place, q in zip(places, mean, strict=True)])
        step = np.array([self.aim(place, q) for place, q in zip(places, mean + spread, strict=True)])
        width = np.maximum(np.abs(step - aims), 1e-12 * max(abs(goal), 1e-300))
        better = (goal - aims) / width
        improvement = ((goal - aims) * norm.cdf(better) + width * norm.pdf(better)) * likely
        tried = np.array([self.shares(trial.place) for trial in trials])
        improvement[np.abs(shares[:, None] - tried[None]).max(axis=2).min(axis=1) < SAME] = 0.0
        i = int(np.argmax(improvement))
        return places[i], float(improvement[i])

    def _worst(self, trial: Trial) -> float:
        return max(limit.missing(trial.found) for limit in self.limits)
