"""Several inputs at once: the best case under limits on *solved* quantities, led by the hand calculation.

The corrected hand calculation proposes (see `search.space_mapping`), a field solve answers, until the best place has been tried;
that one is solved with its Grid ±, and every limit is told with its margin and what relaxing it would bring.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from wattikos_core.case import Case, evaluate_inputs, resolve
from wattikos_core.case.series import Varied
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.ledger import Key
from wattikos_core.quantities import (
    KINDS,
    QuantityError,
    difference_from_si,
    evaluate,
    evaluate_in,
    from_si,
    parse_literal,
    unit_label,
)
from wattikos_core.quantities.values import show
from wattikos_core.search.space_mapping import Array, Limit, MappedModel, Proposal, Trial, Variable
from wattikos_core.solve import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.studies.result import Result
from wattikos_core.studies.series import by_hand, case_at
from wattikos_core.studies.sizing_task import DIGITS
from wattikos_core.studies.solving import solve_case

MOST_SOLVES = 25
MOST_INPUTS = 6
# A limit is met when it is missed by no more than this share of its size; it is aimed at from half of that inside.
_TOLERANCE = 4e-4
_LEAST_SPAN = 1.0


@dataclass(frozen=True)
class Chosen:
    """An input that is chosen between bounds, SI; `unit` is what it is written in."""

    name: str
    lower: float
    upper: float
    kind: str
    unit: str
    whole: bool = False


@dataclass(frozen=True)
class Goal:
    """Between what a quantity must lie, SI; infinite where it has no bound on that side."""

    key: Key
    lower: float = -np.inf
    upper: float = np.inf


@dataclass(frozen=True)
class Aim:
    """What is to be least, or most: a quantity of the ledger, or an expression in the inputs (a cost formula)."""

    most: bool
    key: Key | None = None
    expression: str = ""

    @property
    def label(self) -> str:
        """How it is called."""
        return self.key.label if self.key is not None else self.expression


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
    """The outcome: `met`, `unreachable`, `stopped`, or `unsolved` where a trial did not converge; `aim` is what was reached, SI."""

    outcome: Literal["met", "unreachable", "stopped", "unsolved"]
    text: str
    case: Case
    run: Result
    trials: list[Trial]
    margins: list[Margin] = field(default_factory=list)
    aim: float = np.nan


def in_words(margin: Margin, aim: float) -> str:
    """How a goal is kept, and what more room for it would bring to an aim that stands at `aim` (SI)."""
    goal, kind = margin.goal, margin.goal.key.kind
    bound = goal.lower if margin.value - goal.lower < goal.upper - margin.value else goal.upper
    spread = f" ± {_difference(margin.plus_minus, kind)}" if margin.plus_minus is not None else ""
    kept = "kept by" if margin.kept_by >= 0.0 else "missed by"
    if goal.lower == goal.upper:
        kept = "off by"
    text = f"{goal.key.label} {show(margin.value, kind)}{spread}, {kept} {_difference(abs(margin.kept_by), kind)}"
    if margin.saves <= 0.0 or aim == 0.0:
        return text
    step = 1.0 if kind == "temperature" else 0.01 * abs(bound)
    share = abs(100.0 * margin.saves * step / aim)
    return f"{text}; {_difference(step, kind)} more room for it improves what is asked for by {share:.2g} %"


def _difference(value: float, kind: str) -> str:
    """A difference of values as people read it."""
    unit = "K" if kind == "temperature" else KINDS[kind].unit
    return f"{difference_from_si(value, unit, kind):.2g} {unit_label(unit)}".strip()


def optimise(
    case: Case,
    chosen: Sequence[Chosen],
    goals: Sequence[Goal],
    aim: Aim,
    *,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
    on_trial: Callable[[Trial], None] | None = None,
) -> Optimum:
    """Find the inputs at which the aim is best and all goals are met, by field solves.

    Args:
        case: as it stands.
        chosen: the inputs; the others keep their values.
        goals: limits on quantities of the ledger.
        aim: what is to be least or most.
        listen: told of every step.
        cancel: asked at every step whether to stop.
        on_trial: called with each trial.

    Raises:
        CaseError: nothing to choose, a quantity that no hand calculation of the case gives, an aim that cannot be evaluated.
    """
    task = _Task(case, chosen, goals, aim)
    model = MappedModel(task.by_hand, task.variables, task.limits, task.cost, margin=0.5 * _TOLERANCE)
    trials: list[Trial] = []
    start: bytes | None = None
    run: Result | None = None
    while len(trials) < MOST_SOLVES and (place := model.next_place(trials, _TOLERANCE)) is not None:
        place = task.written(place)
        run = solve_case(task.case_at(place), start=start, listen=_counted(listen, len(trials)), cancel=cancel)
        if run.solution.stopped:
            return Optimum("stopped", "the search was stopped", task.case_at(place), run, trials)
        if not run.solution.converged:
            text = f"the field solve at {task.told(place)} did not converge: what it gives is not used"
            return Optimum("unsolved", text, task.case_at(place), run, trials)
        cheap = task.by_hand(place)
        assert cheap is not None
        trials.append(Trial(place, cheap, task.found(run)))
        start = run.solution.checkpoint() if run.solution.time is None else None
        if on_trial is not None:
            on_trial(trials[-1])
    if run is None:
        problem = "the hand calculation has no answer anywhere between the bounds"
        raise CaseError(InputProblem("sizing.inputs", problem, "give other bounds, or look at what it says under 'by hand'"))
    return _verified(task, model, trials, listen, cancel)


def _verified(task: _Task, model: MappedModel, trials: list[Trial], listen: Listen, cancel: Cancel) -> Optimum:
    """The best trial, solved once more with its Grid ±."""

    def missing(trial: Trial) -> float:
        return max((limit.missing(trial.found) for limit in task.limits), default=-1.0)

    good = [trial for trial in trials if missing(trial) <= _TOLERANCE]
    best = min(good, key=lambda t: task.cost(t.place, t.found)) if good else min(trials, key=missing)
    case = task.case_at(best.place)
    checked = case.model_copy(update={"solve": case.solve.model_copy(update={"grid_check": case.physics.regime == "steady"})})
    run = solve_case(checked, listen=listen, cancel=cancel)
    at = Proposal(best.place, task.cost(best.place, best.found), best.found, missing(best))
    saves = model.multipliers(at, [*[t for t in trials if t is not best], best]) if good else [0.0] * len(task.goals)
    margins = [task.margin(run, goal, save) for goal, save in zip(task.goals, saves, strict=True)]
    value = task.cost(best.place, best.found) * (-1.0 if task.aim.most else 1.0)
    if good:
        text = f"{task.told(best.place)}: {task.aim.label} is {'most' if task.aim.most else 'least'} there, {task.shown(value)}"
        text += f" ({len(trials)} field solves, and one for the Grid ±)"
        return Optimum("met", text, case, run, trials, margins, value)
    worst = max(task.limits, key=lambda limit: limit.missing(best.found))
    key = task.goals[task.limits.index(worst)].key
    text = f"not all that is asked for can be met between these bounds: the nearest is {task.told(best.place)}, where "
    text += f"{key.label} is {show(float(best.found[worst.quantity]), key.kind)}"
    return Optimum("unreachable", text, case, run, trials, margins, value)


class _Task:
    """The search in numbers: places are SI values of the chosen inputs, quantities those of goals and aim."""

    def __init__(self, case: Case, chosen: Sequence[Chosen], goals: Sequence[Goal], aim: Aim) -> None:
        if not 0 < len(chosen) <= MOST_INPUTS:
            remedy = f"choose 1 to {MOST_INPUTS}"
            raise CaseError(InputProblem("sizing.inputs", f"{len(chosen)} inputs to choose", remedy))
        plain = case.solve.model_copy(update={"grid_check": False, "good_enough": None})
        self.case = case.model_copy(update={"solve": plain})
        self.chosen, self.goals, self.aim = list(chosen), list(goals), aim
        self.varied = [Varied(input=one.name) for one in chosen]
        self.variables = [Variable(one.lower, one.upper, one.whole) for one in chosen]
        self.keys = list(dict.fromkeys([goal.key for goal in goals] + ([aim.key] if aim.key is not None else [])))
        span = float(np.ptp(resolve(case).temperatures_given)) if resolve(case).temperatures_given else _LEAST_SPAN
        self.limits = [self._limit(goal, max(span, _LEAST_SPAN)) for goal in goals]
        self._refuse()

    def _limit(self, goal: Goal, span: float) -> Limit:
        bounds = [abs(bound) for bound in (goal.lower, goal.upper) if np.isfinite(bound)]
        size = span if goal.key.kind == "temperature" else max(max(bounds, default=1.0), 1e-30)
        low, high = goal.lower, goal.upper
        if low == high:
            # Just that: within what counts as met.
            low, high = low - _TOLERANCE * size, high + _TOLERANCE * size
        return Limit(self.keys.index(goal.key), low, high, size)

    def _refuse(self) -> None:
        here = by_hand(self.case, [], [()])[0].values
        missing = [key.label for key in self.keys if key not in here]
        if missing:
            problem = f"no hand calculation of this case gives {', '.join(missing)}, which is to lead the search"
            raise CaseError(InputProblem("sizing.goals", problem, "add a hand calculation that gives it, or size one input"))
        if self.aim.key is None:
            try:
                evaluate(self.aim.expression, evaluate_inputs(self.case)[0])
            except QuantityError as error:
                raise CaseError(InputProblem("sizing.aim", error.problem, error.remedy)) from error

    def texts(self, place: Array) -> tuple[str, ...]:
        """A place as it is entered."""
        return tuple(
            f"{from_si(float(x), one.unit, one.kind):.{DIGITS}g} {unit_label(one.unit)}".strip()
            for x, one in zip(place, self.chosen, strict=True)
        )

    def written(self, place: Array) -> Array:
        """A place in the digits it is entered with, so that what is solved is what is written."""
        return np.array([evaluate_in(one.kind, text, {}) for text, one in zip(self.texts(place), self.chosen, strict=True)])

    def told(self, place: Array) -> str:
        """A place in words."""
        return ", ".join(f"{one.name} = {text}" for text, one in zip(self.texts(place), self.chosen, strict=True))

    def case_at(self, place: Array) -> Case:
        """The case there."""
        return case_at(self.case, self.varied, self.texts(place))

    def by_hand(self, place: Array) -> Array | None:
        """The quantities by hand; None where one is missing."""
        values = by_hand(self.case, self.varied, [self.texts(place)])[0].values
        return np.array([values[key] for key in self.keys]) if all(key in values for key in self.keys) else None

    def found(self, run: Result) -> Array:
        """The quantities of a solution."""
        try:
            return np.array([run.value(key) for key in self.keys])
        except KeyError as error:
            raise CaseError(
                InputProblem("sizing.goals", f"{error.args[0]} is not a result of this case", "choose one from the ledger")
            ) from None

    def cost(self, place: Array, quantities: Array) -> float:
        """What is to be small."""
        sign = -1.0 if self.aim.most else 1.0
        if self.aim.key is not None:
            return sign * float(quantities[self.keys.index(self.aim.key)])
        values = evaluate_inputs(self.case_at(place))[0]
        return sign * evaluate(self.aim.expression, values).magnitude

    def shown(self, value: float) -> str:
        """A value of the aim as people read it."""
        if self.aim.key is not None:
            return show(value, self.aim.key.kind)
        one = next((c for c in self.chosen if c.name == self.aim.expression.strip()), None)
        return show(value, one.kind, one.unit) if one is not None else f"{value:.5g} (SI)"

    def margin(self, run: Result, goal: Goal, saves: float) -> Margin:
        """How a goal is kept by a solution."""
        row = next(row for row in run.ledger if row.key == goal.key or row.key.opposite == goal.key)
        value = run.value(goal.key)
        return Margin(goal, value, row.plus_minus, min(value - goal.lower, goal.upper - value), saves)


def _counted(listen: Listen, done: int) -> Listen:
    def tell(event: Event) -> None:
        fraction = min((done + event.fraction) / max(4.0, done + 2.0), 0.97)
        listen(Event(f"trial {done + 1}: {event.stage}", event.step, event.residuals, event.watches, fraction))

    return tell


def read_chosen(case: Case, name: str, lower: str = "", upper: str = "", *, whole: bool | None = None) -> Chosen:
    """An input that is chosen, with its bounds as they are entered; its own bounds where they are empty.

    Raises:
        CaseError: no such input, an expression, bounds that are missing or make no sense.
    """
    if name not in case.inputs:
        raise CaseError(InputProblem("sizing.inputs", f"there is no input '{name}'", f"choose one of {', '.join(case.inputs)}"))
    item = case.inputs[name]
    if parse_literal(item.value, item.kind) is None:
        remedy = "choose one of the inputs it depends on, or give it a number"
        raise CaseError(InputProblem("sizing.inputs", f"'{name}' is an expression ({item.value})", remedy))
    values, bad = evaluate_inputs(case)
    if bad:
        raise CaseError(bad)
    ends = []
    for side, text in (("lower", lower or item.lower), ("upper", upper or item.upper)):
        if not text.strip():
            raise CaseError(InputProblem(f"sizing.{side}", f"'{name}' has no {side} bound", f"give one, as in {name}=1..3"))
        try:
            ends.append(evaluate_in(item.kind, text, values))
        except QuantityError as error:
            raise CaseError(InputProblem(f"sizing.{side}", error.problem, error.remedy)) from error
    if ends[0] >= ends[1]:
        shown = " to ".join(show(x, item.kind, item.unit or None) for x in ends)
        raise CaseError(InputProblem("sizing.lower", f"the bounds of '{name}' are {shown}", "make the lower one the smaller one"))
    counted = item.kind == "number" and all(float(x).is_integer() for x in (*ends, values[name].magnitude))
    return Chosen(name, ends[0], ends[1], item.kind, item.unit or KINDS[item.kind].unit, counted if whole is None else whole)
