"""Around a sizing, by the corrected hand calculation: where goals can be met, what two aims cost one another, what scatter does.

The model is that which leads the search, corrected by the trials made so far; without trials it is the plain hand calculation.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.stats import qmc

from wattikos_core.case import Case, evaluate_inputs
from wattikos_core.case.sizing import Spread
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities import KINDS, QuantityError, evaluate_in
from wattikos_core.search.space_mapping import Array, Limit, MappedModel, Proposal, Trial
from wattikos_core.studies.optimising import best_of, model_of
from wattikos_core.studies.search_space import TOLERANCE, Aim, SearchSpace
from wattikos_core.studies.series import Values
from wattikos_core.studies.sizing_task import with_input

_STEPS, _FRONT = 21, 9
# Cases that scatter is told from, and those that a place is moved by until enough of them meet the goals.
_DRAWN, _DRAWN_TO_MOVE = 1024, 256
_SEED, _HALVINGS, _MOST_TIGHTENED = 7, 6, 4.0


@dataclass(frozen=True)
class FeasibleMap:
    """Two of what is chosen over what lies between their bounds; all else as at the best trial, or as it stands.

    Attributes:
        places: of each, its values, SI.
        quantities: of the goals, each of shape (n_second, n_first), SI; NaN where nothing is known.
        aim: its value, likewise.
        missing: by how much the worst goal is missed, over its size.
    """

    first: int
    second: int
    places: tuple[Array, Array]
    quantities: list[Array]
    aim: Array
    missing: Array


@dataclass(frozen=True)
class FrontPoint:
    """A place where neither of two aims can be better without the other being worse; their values, SI."""

    values: Values
    place: tuple[float, ...]
    aim: float
    second: float


@dataclass(frozen=True)
class Scatter:
    """What scattering inputs do to the goals.

    Attributes:
        centre: what is chosen where that is told: at the best trial, or where the search would begin.
        share: of the cases that meet all goals there; `shares` of each alone.
        quantiles: of each goal's quantity, the 5, 50 and 95 % quantiles, SI.
        values: what is chosen where the asked share meets them, as it is entered; None where none does.
        place: of those, SI; `share_there` and the value of the aim there.
    """

    centre: Values
    share: float
    shares: list[float]
    quantiles: list[tuple[float, float, float]]
    values: Values | None
    place: tuple[float, ...] | None
    share_there: float
    aim_there: float


def proposal_by_hand(space: SearchSpace, trials: Sequence[Trial] = ()) -> Proposal | None:
    """The best place of the corrected model: what the search would try next."""
    return model_of(space).propose(trials)


def feasible_map(space: SearchSpace, trials: Sequence[Trial], first: int, second: int) -> FeasibleMap:
    """See `FeasibleMap`.

    Args:
        space: the search.
        trials: made so far.
        first: one of what is chosen, by its number.
        second: another one.
    """
    if first == second or max(first, second) >= len(space.chosen):
        raise CaseError(InputProblem("sizing.chosen", "a map lies over two of what is chosen", "choose two"))
    _refuse_unknown(space, trials)
    model = model_of(space)
    base = _centre(space, model, trials)
    spans = tuple(_values_along(space, i) for i in (first, second))
    shape = (spans[1].size, spans[0].size)
    found = np.full((len(space.keys), *shape), np.nan)
    aim, missing = np.full(shape, np.nan), np.full(shape, np.nan)
    for row, y in enumerate(spans[1]):
        for column, x in enumerate(spans[0]):
            place = base.copy()
            place[[first, second]] = x, y
            quantities = model.quantities(place, trials)
            if quantities is not None:
                found[:, row, column] = quantities
                aim[row, column], missing[row, column] = space.value(place, quantities), space.missing(quantities)
    of_goals = [found[space.index[goal.key]] for goal in space.goals]
    return FeasibleMap(first, second, (spans[0], spans[1]), of_goals, aim, missing)


def _refuse_unknown(space: SearchSpace, trials: Sequence[Trial]) -> None:
    """Raise CaseError where nothing is known yet: by hand nobody calculates it, and nothing has been solved."""
    if space.without_hand and not trials:
        problem = f"no hand calculation of this case gives {space.without_hand[0].label}, and nothing has been tried yet"
        raise CaseError(InputProblem("sizing.goals", problem, "find the size first: what is solved for it is used here"))


def _values_along(space: SearchSpace, i: int) -> Array:
    one, variable = space.chosen[i], space.variables[i]
    if variable.whole:
        values = np.arange(np.ceil(one.lower), np.floor(one.upper) + 1.0)
        return values[:: max(1, -(-values.size // _STEPS))]
    return np.array([variable.at(share) for share in np.linspace(0.0, 1.0, _STEPS)])


def _centre(space: SearchSpace, model: MappedModel, trials: Sequence[Trial]) -> Array:
    """The best trial, or where the model would begin."""
    if trials:
        return best_of(space, trials)[0].place.copy()
    proposal = model.propose([])
    if proposal is None:
        problem = "the hand calculation has no answer anywhere between the bounds"
        raise CaseError(InputProblem("sizing.chosen", problem, "give other bounds"))
    return proposal.place.copy()


def pareto_front(space: SearchSpace, trials: Sequence[Trial]) -> list[FrontPoint]:
    """The front of the first two aims of a search, from the best of the first to that of the second.

    Each point is the best of the first aim where the second is no worse than a level (Haimes, Lasdon and Wismer 1971, IEEE Trans.
    Syst. Man Cybern. 1, 296).
    """
    if len(space.aims) < 2:
        raise CaseError(InputProblem("sizing.second", "there is one aim", "say what it is weighed against"))
    _refuse_unknown(space, trials)
    first, second = space.aims[:2]
    wider = _WithCost(space, second, trials)
    # What is learned from trials needs no correction by them.
    widened = [] if space.without_hand else [wider.trial(trial) for trial in trials]
    ends = [wider.best(lambda place, q, aim=aim: space.cost(place, q[:-1], aim), [], widened) for aim in (first, second)]
    if ends[0] is None or ends[1] is None:
        return []
    worst, best = float(ends[0].quantities[-1]), float(ends[1].quantities[-1])
    found = [ends[0]]
    size = max(abs(worst - best), 1e-9 * max(abs(worst), 1e-300))
    for level in np.linspace(worst, best, _FRONT)[1:]:
        limit = Limit(len(space.keys), -np.inf, float(level) + 1e-6 * size, size)
        one = wider.best(lambda place, q: space.cost(place, q[:-1], first), [limit], widened)
        found += [one] if one is not None and one.missing <= TOLERANCE else []
    found.append(ends[1])
    points = [_front_point(space, one, first, second) for one in found]
    return _undominated(points, first, second)


def _front_point(space: SearchSpace, one: Proposal, first: Aim, second: Aim) -> FrontPoint:
    q = one.quantities[:-1]
    values = (space.value(one.place, q, aim) for aim in (first, second))
    return FrontPoint(space.texts(one.place), tuple(float(x) for x in one.place), *values)


def _undominated(points: list[FrontPoint], first: Aim, second: Aim) -> list[FrontPoint]:
    def costs(point: FrontPoint) -> tuple[float, float]:
        return (-point.aim if first.most else point.aim), (-point.second if second.most else point.second)

    kept: list[FrontPoint] = []
    for point in sorted(points, key=costs):
        if not kept or costs(point)[1] < costs(kept[-1])[1] - 1e-9 * abs(costs(kept[-1])[1]):
            kept.append(point)
    return kept


class _WithCost:
    """The model of a search with a second aim as one more quantity, that can be limited."""

    def __init__(self, space: SearchSpace, aim: Aim, trials: Sequence[Trial]) -> None:
        self.space, self.aim = space, aim
        self._taught = list(trials) if space.without_hand else []
        self._plain = model_of(space)

    def trial(self, trial: Trial) -> Trial:
        cheap, found = (np.append(q, self.space.cost(trial.place, q, self.aim)) for q in (trial.cheap, trial.found))
        return Trial(trial.place, cheap, found)

    def best(self, cost: object, limits: list[Limit], trials: Sequence[Trial]) -> Proposal | None:
        space = self.space

        def cheap(place: Array) -> Array | None:
            quantities = self._plain.quantities(place, self._taught)
            return None if quantities is None else np.append(quantities, space.cost(place, quantities, self.aim))

        model = MappedModel(cheap, space.variables, [*space.limits, *limits], cost, margin=0.5 * TOLERANCE)  # type: ignore[arg-type]
        return model.propose(trials)


def scatter(space: SearchSpace, trials: Sequence[Trial], spreads: Sequence[Spread], share: float) -> Scatter:
    """What scattering inputs do at the best trial (or where the search would begin), and where enough cases meet the goals.

    Inputs are drawn from normal distributions around their values; quantities are by hand, corrected as at the centre. The place
    that enough cases meet the goals at is the best one under goals drawn in by the spread that each quantity has.

    Args:
        space: the search.
        trials: made so far.
        spreads: of inputs, two standard deviations each.
        share: of cases that is to meet all goals.

    Raises:
        CaseError: a spread that cannot be read.
    """
    model = model_of(space)
    draw = _Draw(space, model, trials, spreads)
    centre = _centre(space, model, trials)
    # Spread evenly over the distribution: a thousand random ones would tell a share to 3 % alone.
    normal = qmc.MultivariateNormalQMC(np.zeros(len(spreads)), rng=_SEED).random(_DRAWN)
    found = draw.at(centre, normal)
    inside = np.array([[limit.missing(q) <= TOLERANCE for limit in space.limits] for q in found]).reshape(len(found), -1)
    columns = [found[:, limit.quantity] for limit in space.limits]
    quantiles = [tuple(float(x) for x in np.nanquantile(column, [0.05, 0.5, 0.95])) for column in columns]
    moved = draw.moved(centre, normal[:_DRAWN_TO_MOVE], share)
    alone = Scatter(
        space.texts(centre),
        float(inside.all(axis=1).mean()),
        [float(x) for x in inside.mean(axis=0)],
        [(a, b, c) for a, b, c in quantiles],
        None,
        None,
        0.0,
        np.nan,
    )
    if moved is None:
        return alone
    there, reached = moved
    return replace(
        alone,
        values=space.texts(there.place),
        place=tuple(float(x) for x in there.place),
        share_there=reached,
        aim_there=space.value(there.place, there.quantities),
    )


class _Draw:
    """Cases around a place whose inputs scatter."""

    def __init__(self, space: SearchSpace, model: MappedModel, trials: Sequence[Trial], spreads: Sequence[Spread]) -> None:
        self.space, self.model, self.trials = space, model, list(trials)
        self.spreads = [(one.input, _spread(space.case, one, i)) for i, one in enumerate(spreads)]
        if not self.spreads:
            raise CaseError(InputProblem("sizing.spreads", "no input scatters", "give an input and its ±"))
        if space.without_hand:
            problem = f"no hand calculation of this case gives {space.without_hand[0].label}, which scatter is told by"
            raise CaseError(InputProblem("sizing.spreads", problem, "add a hand calculation that gives it"))

    def at(self, place: Array, normal: NDArray[np.float64]) -> Array:
        """Quantities of cases around a place, shape (n_cases, n_quantities); NaN where there is no answer."""
        space = self.space
        case = space.case_at(place)
        centre, corrected = space.by_hand(place), self.model.quantities(place, self.trials)
        assert centre is not None
        assert corrected is not None
        values = evaluate_inputs(case)[0]
        other = SearchSpace(case, space.search)
        found = np.full((len(normal), len(space.keys)), np.nan)
        for row, draws in enumerate(normal):
            there = case
            for (name, width), z in zip(self.spreads, draws, strict=True):
                item = case.inputs[name]
                there = with_input(there, name, values[name].magnitude + 0.5 * width * float(z), KINDS[item.kind].si)
            known = other.known(there)
            if all(key in known for key in space.keys):
                found[row] = np.array([known[key] for key in space.keys]) - centre + corrected
        return found

    def moved(self, centre: Array, normal: NDArray[np.float64], share: float) -> tuple[Proposal, float] | None:
        """The best place at which a share of cases meets all goals, and that share; None where there is none."""
        space = self.space
        middle = self.model.quantities(centre, self.trials)
        assert middle is not None
        widths = np.nanstd(self.at(centre, normal), axis=0)

        def tried(tightened: float) -> tuple[Proposal, float] | None:
            limits = [
                replace(
                    limit,
                    lower=limit.lower + tightened * widths[limit.quantity],
                    upper=limit.upper - tightened * widths[limit.quantity],
                )
                for limit in space.limits
            ]
            if any(limit.lower > limit.upper for limit in limits):
                return None
            model = MappedModel(space.by_hand, space.variables, limits, space.cost, margin=0.5 * TOLERANCE)
            one = model.propose(self.trials)
            if one is None or one.missing > TOLERANCE:
                return None
            met = [space.missing(q) <= TOLERANCE for q in self.at(one.place, normal)]
            return one, float(np.mean(met))

        low, high, best = 0.0, _MOST_TIGHTENED, None
        for step in range(_HALVINGS + 1):
            at = low if step == 0 else 0.5 * (low + high)
            found = tried(at)
            if found is not None and found[1] >= share:
                best, high = found, at
                if step == 0:
                    break
            elif found is None:
                high = at
                if step == 0:
                    break
            else:
                low = at
        return best


def _spread(case: Case, one: Spread, i: int) -> float:
    """Two standard deviations, SI."""
    field = f"sizing.spreads[{i}]"
    if one.input not in case.inputs:
        raise CaseError(InputProblem(field, f"there is no input '{one.input}'", f"choose one of {', '.join(case.inputs)}"))
    values = evaluate_inputs(case)[0]
    kind = case.inputs[one.input].kind
    text = one.plus_minus.strip()
    try:
        if text.endswith("%"):
            width = abs(values[one.input].magnitude) * evaluate_in("number", text[:-1], values) / 100.0
        else:
            width = evaluate_in("temperature_difference" if kind == "temperature" else kind, text, values)
    except QuantityError as error:
        raise CaseError(InputProblem(f"{field}.plus_minus", error.problem, error.remedy)) from error
    if width <= 0.0:
        raise CaseError(
            InputProblem(f"{field}.plus_minus", f"± {one.plus_minus} is no spread", "give one above zero, as 5 % or 2 K")
        )
    return width
