"""The best place under limits for expensive quantities, led by a cheap model that the trials made so far correct.

Output space mapping (Bandler et al. 2004, IEEE Trans. Microwave Theory Tech. 52, 337): what was found less what the cheap model
says is carried from the trials as a plane through the last of them, of the least slope that fits (Broyden's update for two, a plane
of least squares for many); the corrected model is minimised under the limits, tried, corrected again.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import product

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import minimize, nnls
from scipy.stats import qmc

Array = NDArray[np.float64]
# The cheap model: quantities at a place; None where it has no answer.
Model = Callable[[Array], Array | None]
# What is to be small, of a place and its quantities.
Aim = Callable[[Array, Array], float]

_SCREENED, _STARTS = 32, 2
# So many combinations of whole numbers are looked at one by one: at fewer places each from so many on, and searched from there
# for the best of them alone.
_MOST_COMBINATIONS, _MANY, _SCREENED_OF_MANY, _SEARCHED = 200, 8, 6, 12
_STEP = 1e-4
# Places this near to one another, in shares of what lies between the bounds, are the same.
SAME = 5e-4
# Trials this far apart tell how the correction changes between them; where none are, one is made so far aside.
_APART, _ASIDE = 0.012, 0.06
# A limit within this share of its size counts as active.
_ACTIVE = 5e-3
_NOWHERE = 1e6
# What a trial of another choice weighs, beside one of the same.
_OF_OTHERS = 1e-3


@dataclass(frozen=True)
class Variable:
    """What is chosen, between bounds; whole numbers alone where `whole`, which number things without an order in a `choice`."""

    lower: float
    upper: float
    whole: bool = False
    choice: bool = False

    @property
    def logarithmic(self) -> bool:
        """Whether it is varied in ratios: where its bounds are far apart."""
        return not self.whole and self.lower > 0.0 and self.upper / self.lower > 20.0

    def at(self, share: float) -> float:
        """The value at a share of the way from bound to bound."""
        if self.logarithmic:
            return float(self.lower * (self.upper / self.lower) ** share)
        return self.lower + share * (self.upper - self.lower)

    def share(self, value: float) -> float:
        """The inverse of `at`."""
        if self.logarithmic:
            return float(np.log(value / self.lower) / np.log(self.upper / self.lower))
        return (value - self.lower) / (self.upper - self.lower)


@dataclass(frozen=True)
class Limit:
    """Between what a quantity, by its number, must lie; `size` is what its distance from a limit is measured in."""

    quantity: int
    lower: float
    upper: float
    size: float

    def missing(self, quantities: Array) -> float:
        """By how much it is missed, over its size; negative by how much it is kept."""
        value = quantities[self.quantity]
        return float(max(self.lower - value, value - self.upper) / self.size)


@dataclass(frozen=True)
class Trial:
    """A place that was tried: its quantities by the cheap model, and as they were found."""

    place: Array
    cheap: Array
    found: Array


@dataclass(frozen=True)
class Proposal:
    """Where to try next, and what the corrected model expects there; `missing` is the worst miss of a limit, over its size."""

    place: Array
    aim: float
    quantities: Array
    missing: float


class MappedModel:
    """A cheap model, corrected by trials, with limits and an aim.

    Args:
        cheap: quantities at a place.
        variables: what is chosen.
        limits: on the quantities.
        aim: what is to be small.
        margin: limits are aimed at from this far inside, over their sizes, so that what is found does not overstep them.
        begin: a place that is looked at beside those, to the last digit: where things stand.
        seed: of the places that are looked at first.

    Example:
        >>> import numpy as np
        >>> model = MappedModel(
        ...     lambda x: np.array([x[0] * x[1]]),
        ...     [Variable(0.1, 10.0)] * 2,
        ...     [Limit(0, 4.0, np.inf, 4.0)],
        ...     lambda x, q: float(x.sum()),
        ... )
        >>> model.propose([]).place.round(2).tolist()
        [2.0, 2.0]
    """

    def __init__(
        self,
        cheap: Model,
        variables: Sequence[Variable],
        limits: Sequence[Limit],
        aim: Aim,
        *,
        margin: float = 0.0,
        begin: Array | None = None,
        seed: int = 1,
    ) -> None:
        self.cheap, self.variables, self.limits, self.aim = cheap, list(variables), list(limits), aim
        self.margin, self._begin, self._seed = margin, begin, seed
        self._size = 1.0
        self._known: dict[bytes, Array | None] = {}

    def quantities(self, place: Array, trials: Sequence[Trial]) -> Array | None:
        """Of the corrected model."""
        cheap = self._cheap(place)
        return None if cheap is None else np.asarray(cheap + self._correction(place, trials))

    def propose(self, trials: Sequence[Trial]) -> Proposal | None:
        """The best place of the corrected model: within the limits, or nearest to them; None where the model has no answer."""
        return self._best_of(self._combinations(), trials)

    def _best_of(self, combinations: list[dict[int, float]], trials: Sequence[Trial]) -> Proposal | None:
        many = len(combinations) > _MANY
        screened = [self._screen(fixed, trials, _SCREENED_OF_MANY if many else _SCREENED) for fixed in combinations]
        seen = [one for places in screened for _, one in places]
        if not seen:
            return None
        self._size = max(abs(float(np.median([one.aim for one in seen]))), 1e-300)
        order = sorted(
            range(len(combinations)), key=lambda i: min((self._penalised(one) for _, one in screened[i]), default=np.inf)
        )
        starts = 1 if len(combinations) > _STARTS else _STARTS
        found = [one for i in order[:_SEARCHED] for one in self._best(combinations[i], screened[i], trials, starts)]
        within = [one for one in found if one.missing <= -self.margin + 1e-6]
        if within:
            return min(within, key=lambda one: one.aim)
        return min(found, key=lambda one: (round(one.missing, 6), one.aim))

    def multipliers(self, at: Proposal, trials: Sequence[Trial]) -> list[float]:
        """By how much the aim would fall for each limit relaxed by one unit of its quantity (Lagrange); 0 where it is slack."""
        here = self.shares(at.place)
        free = [i for i, v in enumerate(self.variables) if not v.whole]
        active = [i for i, limit in enumerate(self.limits) if abs(limit.missing(at.quantities)) < _ACTIVE + self.margin]
        result = [0.0] * len(self.limits)
        if not free or not active:
            return result

        def slopes(of: Callable[[Array, Array], float]) -> Array:
            found = []
            for i in free:
                ends = []
                for way in (-1.0, 1.0):
                    u = here.copy()
                    u[i] = np.clip(u[i] + way * _STEP, 0.0, 1.0)
                    place = self._place(u)
                    quantities = self.quantities(place, trials)
                    ends.append((u[i], np.nan if quantities is None else of(place, quantities)))
                found.append((ends[1][1] - ends[0][1]) / max(ends[1][0] - ends[0][0], 1e-12))
            return np.asarray(np.nan_to_num(np.array(found)))

        # At the best place the slope of the aim is met by those of the limits that hold it, and of the bounds it lies on.
        walls = [
            np.eye(len(free))[k] * (1.0 if here[i] > 0.5 else -1.0) for k, i in enumerate(free) if not 1e-3 < here[i] < 1.0 - 1e-3
        ]
        holding = [slopes(lambda x, q, limit=self.limits[i]: limit.missing(q)) for i in active]  # type: ignore[misc]
        matrix = np.column_stack([*holding, *walls])
        shares, _ = nnls(matrix, -slopes(self.aim))
        for share, i in zip(shares, active, strict=False):
            result[i] = float(share / self.limits[i].size)
        return result

    def shares(self, place: Array) -> Array:
        """A place in shares of what lies between the bounds."""
        return np.array([v.share(float(x)) for v, x in zip(self.variables, place, strict=True)])

    def next_place(self, trials: Sequence[Trial], tolerance: float = 1e-3) -> Array | None:
        """Where to try next; None where the search is at its end: the best place has been tried, and nothing is left to learn.

        Args:
            trials: so far, the last one last.
            tolerance: a limit may be missed by this share of its size.
        """
        proposal = self.propose(trials)
        if proposal is None or not trials:
            return None if proposal is None else proposal.place
        tried = np.array([self.shares(trial.place) for trial in trials])
        there = self.shares(proposal.place)
        away = np.abs(tried - there).max(axis=1)
        nearest = trials[int(np.argmin(away))]
        if away.min() > SAME:
            return proposal.place
        # Where limits and bounds do not hold a place by themselves, it depends on how the correction changes around it.
        holding = sum(abs(limit.missing(proposal.quantities)) < _ACTIVE + self.margin for limit in self.limits)
        free = [i for i, v in enumerate(self.variables) if not v.whole and SAME < there[i] < 1.0 - SAME]
        for i in free if holding < len(free) else []:
            if np.ptp(tried[:, i]) < _APART:
                aside = there.copy()
                aside[i] += _ASIDE if there[i] < 0.5 else -_ASIDE
                return self._place(aside)
        missing = max((limit.missing(nearest.found) for limit in self.limits), default=0.0)
        moved = away.min() > 1e-6
        return proposal.place if missing > tolerance and moved else self._rival(trials, tolerance)

    def _rival(self, trials: Sequence[Trial], tolerance: float) -> Array | None:
        """The best place of a choice that has not been tried and, uncorrected, would be better than what was found."""
        picked = [i for i, v in enumerate(self.variables) if v.choice]
        tried = {tuple(trial.place[picked]) for trial in trials}
        others = [one for one in self._combinations() if tuple(one[i] for i in picked) not in tried] if picked else []
        proposal = self._best_of(others, []) if others else None
        if proposal is None:
            return None

        def kept(quantities: Array) -> bool:
            return all(limit.missing(quantities) <= tolerance for limit in self.limits)

        reached = min((self.aim(trial.place, trial.found) for trial in trials if kept(trial.found)), default=np.inf)
        return proposal.place if kept(proposal.quantities) and proposal.aim < reached else None

    @cached_property
    def _screened(self) -> Array:
        return np.array(qmc.Sobol(len(self.variables), rng=self._seed).random(_SCREENED))

    def _cheap(self, place: Array) -> Array | None:
        key = place.tobytes()
        if key not in self._known:
            self._known[key] = self.cheap(place)
        return self._known[key]

    def _correction(self, place: Array, trials: Sequence[Trial]) -> Array:
        if not trials:
            return np.zeros(1)
        # What was tried last with the same choices; the others say less.
        picked = [i for i, v in enumerate(self.variables) if v.choice]
        alike = [trial for trial in trials if np.array_equal(trial.place[picked], place[picked])]
        last = alike[-1] if alike else trials[-1]
        off = last.found - last.cheap
        if len(trials) == 1:
            return np.asarray(off)
        others = [trial for trial in trials if trial is not last]
        ordered = np.array([not v.choice for v in self.variables])
        apart = (np.array([self.shares(trial.place) for trial in others]) - self.shares(last.place)) * ordered
        errors = np.array([trial.found - trial.cheap - off for trial in others])
        # Near trials say more of the slope than far ones, and those of other choices next to nothing.
        far = np.array([not np.array_equal(trial.place[picked], last.place[picked]) for trial in others])
        weight = 1.0 / np.maximum(np.linalg.norm(apart, axis=1), 1e-6) * np.where(far, _OF_OTHERS, 1.0)
        slope = np.linalg.lstsq(apart * weight[:, None], errors * weight[:, None], rcond=1e-6)[0]
        return np.asarray(off + ((self.shares(place) - self.shares(last.place)) * ordered) @ slope)

    def _place(self, shares: Array) -> Array:
        values = [v.at(float(s)) for v, s in zip(self.variables, shares, strict=True)]
        return np.array([round(x) if v.whole else x for v, x in zip(self.variables, values, strict=True)], dtype=float)

    def _combinations(self) -> list[dict[int, float]]:
        """Whole numbers one by one, where they are not too many."""
        whole = [i for i, v in enumerate(self.variables) if v.whole]
        ranges = [np.arange(np.ceil(self.variables[i].lower), np.floor(self.variables[i].upper) + 1.0) for i in whole]
        count = int(np.prod([len(r) for r in ranges])) if ranges else 1
        while count > _MOST_COMBINATIONS:
            longest = max(range(len(ranges)), key=lambda k: len(ranges[k]))
            ranges[longest] = ranges[longest][::2]
            count = int(np.prod([len(r) for r in ranges]))
        return [dict(zip(whole, (float(x) for x in values), strict=True)) for values in product(*ranges)]

    def _look(self, fixed: dict[int, float], shares: Array, trials: Sequence[Trial]) -> Proposal | None:
        """The corrected model with some variables fixed and the others at shares of what lies between their bounds."""
        at = np.clip(shares, 0.0, 1.0)
        for i, value in fixed.items():
            at[i] = self.variables[i].share(value)
        place = self._place(at)
        quantities = self.quantities(place, trials)
        if quantities is None or not np.isfinite(quantities).all():
            return None
        missing = max((limit.missing(quantities) for limit in self.limits), default=-1.0)
        return Proposal(place, self.aim(place, quantities), quantities, missing)

    def _penalised(self, one: Proposal) -> float:
        return one.aim / self._size + 10.0 * max(one.missing + self.margin, 0.0)

    def _screen(self, fixed: dict[int, float], trials: Sequence[Trial], count: int) -> list[tuple[Array, Proposal]]:
        """Places all over what may be chosen, with some variables fixed, best first."""
        if len(fixed) == len(self.variables):
            count = 1
        places = list(self._screened[:count])
        if trials:
            places.append(self.shares(trials[-1].place))
        if self._begin is not None:
            places.append(self.shares(self._begin))
        seen = [(shares, one) for shares in places if (one := self._look(fixed, shares, trials)) is not None]
        return sorted(seen, key=lambda pair: self._penalised(pair[1]))

    def _best(
        self, fixed: dict[int, float], seen: list[tuple[Array, Proposal]], trials: Sequence[Trial], starts: int
    ) -> list[Proposal]:
        """The best places with some variables fixed, from those that were seen."""
        found = [one for _, one in seen[:starts]]
        free = [i for i in range(len(self.variables)) if i not in fixed]
        if not free:
            return found
        seen.sort(key=lambda pair: self._penalised(pair[1]))
        for shares, _ in seen[:starts]:

            def look(u: Array, shares: Array = shares) -> Proposal | None:
                at = shares.copy()
                at[free] = u
                return self._look(fixed, at, trials)

            def aim(u: Array) -> float:
                one = look(u)
                return _NOWHERE if one is None else one.aim / self._size

            def kept(u: Array) -> Array:
                one = look(u)
                if one is None:
                    return np.full(len(self.limits), -_NOWHERE)
                return np.array([-limit.missing(one.quantities) - self.margin for limit in self.limits])

            constraints = [{"type": "ineq", "fun": kept}] if self.limits else []
            options = {"eps": _STEP, "maxiter": 60, "ftol": 1e-9}
            bounds = [(0.0, 1.0)] * len(free)
            end = minimize(aim, shares[free], method="SLSQP", bounds=bounds, constraints=constraints, options=options)
            one = look(np.asarray(end.x))
            found += [one] if one is not None else []
        return found
