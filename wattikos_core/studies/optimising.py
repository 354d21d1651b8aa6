"""Several inputs at once: the best case under limits on *solved* quantities.

Where the hand calculations of the case give all that is asked for, they lead the search, corrected by the field solves made so far
(see `search.space_mapping`); elsewhere it learns from the solves alone (see `search.learned`). The best place is solved with its
Grid ±, and every limit is told with its margin and what relaxing it would bring.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from wattikos_core.case import Case, evaluate_inputs
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.ledger import Key
from wattikos_core.quantities import KINDS, QuantityError, difference_from_si, evaluate_in, parse_literal, unit_label
from wattikos_core.quantities.values import show
from wattikos_core.search.learned import LearnedModel
from wattikos_core.search.space_mapping import Array, MappedModel, Proposal, Trial
from wattikos_core.solve import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.studies.result import Result
from wattikos_core.studies.search_space import TOLERANCE, Aim, Goal, Search, SearchSpace
from wattikos_core.studies.series import Values
from wattikos_core.studies.sizing_task import with_input
from wattikos_core.studies.solving import solve_case

MOST_SOLVES = 25
# Of an input that is not chosen, so many values are looked at for a way out.
_LOOKED_AT = 13


@dataclass(frozen=True)
class Margin:
    """How a goal is kept at the end, SI.

    Attributes:
        value: of its quantity, solved; `plus_minus` its Grid ±, where there is one.
        kept_by: distance inside the nearer bound; negative where it is missed.
        saves: by how much the aim would improve for one unit of the quantity more room; 0 where the goal does not hold it back.
    """

    goal: Goal
    value: float
    plus_minus: float | None
    kept_by: float
    saves: float


@dataclass(frozen=True)
class Optimum:
    """The outcome.

    Attributes:
        outcome: `met`, `unreachable`, `stopped`, or `unsolved` where a trial did not converge.
        values: what was found for each of what is chosen, as it is entered.
        suggestions: what would let all goals be met, by the corrected model.
        case, run: the case there, and its solution.
        aim: what was reached, SI.
        led: whether hand calculations led the search.
    """

    outcome: Literal["met", "unreachable", "stopped", "unsolved"]
    text: str
    values: Values
    case: Case
    run: Result
    search: Search
    trials: list[Trial]
    margins: list[Margin] = field(default_factory=list)
    aim: float = np.nan
    suggestions: list[str] = field(default_factory=list)
    led: bool = True


def in_words(margin: Margin, aim: Aim, reached: float) -> str:
    """How a goal is kept, and what more room for it would bring to an aim that has reached a value (SI)."""
    goal, kind = margin.goal, margin.goal.key.kind
    bound = goal.lower if margin.value - goal.lower < goal.upper - margin.value else goal.upper
    spread = f" ± {_difference(margin.plus_minus, kind)}" if margin.plus_minus is not None else ""
    kept = "kept by" if margin.kept_by >= 0.0 else "missed by"
    if goal.lower == goal.upper:
        kept = "off by"
    text = f"{goal.key.label} {show(margin.value, kind)}{spread}, {kept} {_difference(abs(margin.kept_by), kind)}"
    if margin.saves <= 0.0 or reached == 0.0 or not (aim.key or aim.expression):
        return text
    step = 1.0 if kind == "temperature" else 0.01 * abs(bound)
    share = abs(100.0 * margin.saves * step / reached)
    return (
        f"{text}; {_difference(step, kind)} more room for it would make {aim.label} {share:.2g} % {'more' if aim.most else 'less'}"
    )


def _difference(value: float, kind: str) -> str:
    """A difference of values as people read it."""
    unit = "K" if kind == "temperature" else KINDS[kind].unit
    return f"{difference_from_si(value, unit, kind):.2g} {unit_label(unit)}".strip()


def model_of(space: SearchSpace, limits: Sequence[int] | None = None) -> MappedModel:
    """The model that leads a search: the corrected hand calculation, or one that learns; with some of the limits, or all."""
    kept = space.limits if limits is None else [space.limits[i] for i in limits]
    if space.without_hand:
        return LearnedModel(space.variables, kept, space.cost, count=len(space.keys), margin=0.5 * TOLERANCE)
    return MappedModel(space.by_hand, space.variables, kept, space.cost, margin=0.5 * TOLERANCE, begin=space.as_it_stands)


def optimise(
    case: Case,
    search: Search,
    *,
    known: Sequence[tuple[Values, Mapping[Key, float]]] = (),
    grid_file: bytes | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
    on_trial: Callable[[SearchSpace, Trial], None] | None = None,
) -> Optimum:
    """Find the inputs at which the aim is best and all goals are met, by field solves.

    Args:
        case: as it stands.
        search: what is chosen, asked for, to be best.
        known: trials of an earlier search: places as entered, and what was found there; those that tell enough are used.
        grid_file: content of the grid file, for a case that uses one.
        listen: told of every step.
        cancel: asked at every step whether to stop.
        on_trial: called with each trial.

    Raises:
        CaseError: nothing to choose, a quantity that is no result of the case, an aim that cannot be evaluated.
    """
    space = SearchSpace(case, search)
    model = model_of(space)
    trials = space.trials_known(known)
    before = len(trials)
    start: bytes | None = None

    def ended(outcome: Literal["stopped", "unsolved"], text: str, place: Array, run: Result) -> Optimum:
        texts, there = space.texts(place), space.case_at(place)
        return Optimum(outcome, text, texts, there, run, search, trials, led=not space.without_hand)

    while len(trials) - before < MOST_SOLVES and (place := model.next_place(trials, TOLERANCE)) is not None:
        place = space.written(place)
        here = space.case_at(place)
        run = solve_case(here, start=start, grid_file=grid_file, listen=_counted(listen, len(trials)), cancel=cancel)
        if run.solution.stopped:
            return ended("stopped", "the search was stopped; 'Find it' goes on with what has been tried", place, run)
        if not run.solution.converged:
            return ended(
                "unsolved", f"the field solve at {space.told(place)} did not converge: what it gives is not used", place, run
            )
        trials.append(space.trial(place, space.found(run)))
        start = run.solution.checkpoint() if run.solution.time is None else None
        if on_trial is not None:
            on_trial(space, trials[-1])
    if not trials:
        problem = "the hand calculation has no answer anywhere between the bounds"
        raise CaseError(InputProblem("sizing.chosen", problem, "give other bounds, or look at what it says under 'by hand'"))
    return _verified(space, model, trials, grid_file, listen, cancel)


def best_of(space: SearchSpace, trials: Sequence[Trial]) -> tuple[Trial, bool]:
    """The best trial, and whether it meets all goals; the nearest one where none does."""
    good = [trial for trial in trials if space.missing(trial.found) <= TOLERANCE]
    if good:
        return min(good, key=lambda t: space.cost(t.place, t.found)), True
    return min(trials, key=lambda t: space.missing(t.found)), False


def _verified(
    space: SearchSpace, model: MappedModel, trials: list[Trial], grid_file: bytes | None, listen: Listen, cancel: Cancel
) -> Optimum:
    """The best trial, solved once more with its Grid ±."""
    best, good = best_of(space, trials)
    case, texts = space.case_at(best.place), space.texts(best.place)
    wishes = case.solve.model_copy(update={"grid_check": case.physics.regime == "steady" and grid_file is None})
    run = solve_case(case.model_copy(update={"solve": wishes}), grid_file=grid_file, listen=_last(listen), cancel=cancel)
    at = Proposal(best.place, space.cost(best.place, best.found), best.found, space.missing(best.found))
    ordered = [*[t for t in trials if t is not best], best]
    saves = model.multipliers(at, ordered) if good else [0.0] * len(space.goals)
    margins = [_margin(run, goal, save) for goal, save in zip(space.goals, saves, strict=True)]
    value, aim = space.value(best.place, best.found), space.aims[0]
    text = "the search was stopped; 'Find it' goes on with what has been tried"
    found = Optimum("stopped", text, texts, case, run, space.search, trials, margins, value, led=not space.without_hand)
    if run.solution.stopped:
        return found
    if good:
        text = f"{space.told(best.place)}: {aim.label} is {'most' if aim.most else 'least'} there"
        text += f", {space.shown(value)}" if aim.key is not None or aim.expression else ""
        text += f" ({len(trials)} field solve{'s' if len(trials) > 1 else ''}, and one for the Grid ±)"
        return replace(found, outcome="met", text=text)
    worst = max(space.limits, key=lambda limit: limit.missing(best.found))
    key = space.goals[space.limits.index(worst)].key
    text = f"not all that is asked for can be met between these bounds: the nearest is {space.told(best.place)}, where "
    text += f"{key.label} is {show(float(best.found[worst.quantity]), key.kind)}"
    return replace(found, outcome="unreachable", text=text, suggestions=_ways_out(space, model, ordered))


def _margin(run: Result, goal: Goal, saves: float) -> Margin:
    """How a goal is kept by a solution."""
    row = next(row for row in run.ledger if row.key == goal.key or row.key.opposite == goal.key)
    value = run.value(goal.key)
    return Margin(goal, value, row.plus_minus, min(value - goal.lower, goal.upper - value), saves)


def _ways_out(space: SearchSpace, model: MappedModel, trials: Sequence[Trial]) -> list[str]:
    """What would let all goals be met, by the corrected model: wider bounds, another input, or one goal less."""
    best = trials[-1]
    found = []
    for one, variable, x in zip(space.chosen, space.variables, best.place, strict=True):
        for bound, side in ((one.lower, "lower"), (one.upper, "upper")):
            if not one.rows and abs(variable.share(float(x)) - variable.share(bound)) < 1e-3:
                found.append(f"{one.name} is at its {side} bound: a wider one may help")
    if not space.without_hand:
        found += _other_inputs(space, best)
    for i, goal in enumerate(space.goals if len(space.goals) > 1 else []):
        others = [j for j in range(len(space.goals)) if j != i]
        proposal = model_of(space, others).propose(trials)
        if proposal is not None and proposal.missing <= TOLERANCE:
            there = show(float(proposal.quantities[space.index[goal.key]]), goal.key.kind)
            found.append(
                f"without what is asked of {goal.key.label} the rest can be met, with {there} at {space.told(proposal.place)}"
            )
    return found


def _other_inputs(space: SearchSpace, best: Trial) -> list[str]:
    """Other inputs with bounds at whose values all goals are met, by hand with what the solve added; nearest change first."""
    case = space.case_at(best.place)
    values = evaluate_inputs(case)[0]
    offset = best.found - best.cheap
    ways: list[tuple[float, str]] = []
    for name, item in case.inputs.items():
        taken = any(varied.input == name for varied in space.varied)
        if taken or not (item.lower.strip() and item.upper.strip()) or parse_literal(item.value, item.kind) is None:
            continue
        try:
            low, high = (evaluate_in(item.kind, text, values) for text in (item.lower, item.upper))
        except QuantityError:
            continue
        now, unit = values[name].magnitude, item.unit or KINDS[item.kind].unit
        spaced = np.geomspace if low > 0.0 else np.linspace
        for x in sorted(spaced(low, high, _LOOKED_AT), key=lambda x: abs(x - now)):
            changed = with_input(case, name, float(x), unit)
            there = SearchSpace(changed, space.search).by_hand(best.place)
            if there is not None and space.missing(there + offset) <= TOLERANCE:
                told = f"{name} near {show(float(x), item.kind, unit, 3)} instead of {item.value}, by hand"
                ways.append((abs(float(x) - now) / max(abs(now), 1e-300), told))
                break
    return [text for _, text in sorted(ways)]


def _counted(listen: Listen, done: int) -> Listen:
    def tell(event: Event) -> None:
        fraction = min((done + event.fraction) / max(4.0, done + 2.0), 0.9)
        listen(Event(f"trial {done + 1}: {event.stage}", event.step, event.residuals, event.watches, fraction))

    return tell


def _last(listen: Listen) -> Listen:
    def tell(event: Event) -> None:
        fraction = 0.9 + 0.09 * event.fraction
        listen(Event(f"the best of them with its Grid ±: {event.stage}", event.step, event.residuals, event.watches, fraction))

    return tell
