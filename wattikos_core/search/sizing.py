"""Sizing: find the input value at which a *solved* quantity meets its target.

The hand calculation is the cheap model. Its difference from the solved value at the trials made so far is carried as a
correction (one trial: a constant; more: a line through the two nearest in the logarithm of the input), and the
corrected model is solved for the target. Two to four field solves usually do, each started from the one before.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from difflib import get_close_matches
from itertools import pairwise
from typing import Literal

import numpy as np

from wattikos_core.case import Case, evaluate_inputs, resolve
from wattikos_core.errors import CaseError
from wattikos_core.errors import Problem as InputProblem
from wattikos_core.evidence.ledger import hand_in
from wattikos_core.evidence.targets import impossible
from wattikos_core.quantities import KINDS, QuantityError, evaluate_in, from_si, parse_literal
from wattikos_core.quantities.values import show
from wattikos_core.read import definition_of, quantity_names
from wattikos_core.runs import RunResult, estimate_ledger, solve_case
from wattikos_core.solve import Cancel, Event, Listen, never_cancel, silent

MOST_SOLVES = 9
# How near to the target is near enough, as a share of what the input can change between its bounds.
_TOLERANCE = 5e-4
_SAMPLES = 25
_FAR_BEYOND = 30.0
_DIGITS = 6


@dataclass(frozen=True)
class SizingTask:
    """What to find; values in SI."""

    input: str
    quantity: str
    target: float
    lower: float
    upper: float
    kind: str
    unit: str
    quantity_kind: str


@dataclass(frozen=True)
class Trial:
    """One field solve of a sizing: the input value, what the hand said, what was solved (SI)."""

    value: float
    hand: float | None
    solved: float


@dataclass(frozen=True)
class SizingResult:
    """The outcome of a sizing.

    Attributes:
        outcome: `met`, `unreachable`, `stopped`, or `unsolved` where a trial did not converge: it tells nothing.
        text: the answer in words.
        suggestions: other inputs by which the hand calculation would reach the target.
        curve: hand-calculated quantity over the input, (value, quantity) pairs, SI.
        case: the case with the value found.
        run: the field solution at that value.
    """

    task: SizingTask
    outcome: Literal["met", "unreachable", "stopped", "unsolved"]
    text: str
    suggestions: list[str]
    trials: list[Trial]
    curve: list[tuple[float, float]]
    case: Case
    run: RunResult


def read_task(case: Case, *, input: str, quantity: str, target: str, lower: str = "", upper: str = "") -> SizingTask:
    """Read a sizing from text as entered.

    Raises:
        CaseError: unknown input or quantity, an input that is an expression, bounds that make no sense.
    """
    problems: list[InputProblem] = []
    if input not in case.inputs:
        names = ", ".join(case.inputs)
        raise CaseError(InputProblem("sizing.input", f"there is no input '{input}'", f"choose one of {names}"))
    item = case.inputs[input]
    if parse_literal(item.value, item.kind) is None:
        remedy = "size one of the inputs it depends on, or give it a number"
        raise CaseError(InputProblem("sizing.input", f"'{input}' is an expression ({item.value})", remedy))
    try:
        kind = definition_of(quantity).kind
    except KeyError:
        remedy = nearest(quantity, _names_by_hand(case))
        raise CaseError(InputProblem("sizing.quantity", f"there is no quantity '{quantity}'", remedy)) from None
    values, bad = evaluate_inputs(case)
    if bad:
        raise CaseError(bad)

    def read(text: str, of_kind: str, field: str, default: float | None) -> float:
        if not text.strip() and default is not None:
            return default
        try:
            return evaluate_in(of_kind, text, values)
        except QuantityError as error:
            problems.append(InputProblem(field, error.problem, error.remedy))
            return float("nan")

    now = values[input].magnitude
    goal = read(target, kind, "sizing.target", None)
    low = read(lower or item.lower, item.kind, "sizing.lower", now / 20.0 if now > 0.0 else now - 20.0)
    high = read(upper or item.upper, item.kind, "sizing.upper", now * 20.0 if now > 0.0 else now + 20.0)
    if not problems and low >= high:
        shown = f"{show(low, item.kind)} to {show(high, item.kind)}"
        problems.append(InputProblem("sizing.lower", f"the bounds are {shown}", "make the lower one smaller than the upper one"))
    if not problems:
        ends = [resolve(with_input(case, input, value, item.unit or KINDS[item.kind].unit)) for value in (low, high)]
        why = impossible(quantity, kind, goal, ends)
        if why:
            problems.append(InputProblem("sizing.target", why, "give a target that something in this case could bring about"))
    if problems:
        raise CaseError(problems)
    return SizingTask(input, quantity, goal, low, high, item.kind, item.unit or KINDS[item.kind].unit, kind)


def nearest(name: str, names: Iterable[str]) -> str:
    """A remedy for a name that is not there: those most like it."""
    alike = get_close_matches(name, list(names), 3, 0.6)
    return "did you mean " + " or ".join(f"'{other}'" for other in alike) + "?" if alike else "choose one from the ledger"


def _names_by_hand(case: Case) -> list[str]:
    """Quantities that are known before anything is solved: those by hand, those wanted, and those of the whole case."""
    try:
        by_hand = [row.name for row in estimate_ledger(case)]
    except CaseError:
        by_hand = []
    parts = [part.name for part in case.section.parts]
    return [*quantity_names(parts), *by_hand, *(wanted.quantity for wanted in case.wanted)]


def with_input(case: Case, name: str, value: float, unit: str) -> Case:
    """The case with one input set to an SI value, written in `unit`."""
    item = case.inputs[name]
    text = f"{from_si(value, unit, item.kind):.{_DIGITS}g} {unit}".strip()
    return case.model_copy(update={"inputs": {**case.inputs, name: item.model_copy(update={"value": text})}})


def size_case(
    case: Case,
    task: SizingTask,
    *,
    start: bytes | None = None,
    grid_file: bytes | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
    on_trial: Callable[[Trial], None] | None = None,
) -> SizingResult:
    """Carry out a sizing; see the module text for the method.

    Raises:
        CaseError: the case cannot be solved at the first trial, or the quantity is not in its ledger.
    """
    plain = case.model_copy(update={"solve": case.solve.model_copy(update={"grid_check": False})})
    hand = _Hand(plain, task)
    model = _CorrectedHand(hand, task)
    trials: list[Trial] = []
    run: RunResult | None = None
    value = model.propose(trials)
    while True:
        value = _rounded(value, task)
        trial_case = with_input(plain, task.input, value, task.unit)
        run = solve_case(trial_case, start=start, grid_file=grid_file, listen=_counted(listen, len(trials)), cancel=cancel)
        try:
            solved = run.value(task.quantity)
        except KeyError:
            remedy = nearest(task.quantity, [row.name for row in run.ledger if row.solved is not None])
            problem = f"'{task.quantity}' is not a result of this case"
            raise CaseError(InputProblem("sizing.quantity", problem, remedy)) from None
        trials.append(Trial(value, hand(value), solved))
        if on_trial is not None:
            on_trial(trials[-1])
        if run.solution.stopped:
            return SizingResult(task, "stopped", "the sizing was stopped", [], trials, hand.curve, trial_case, run)
        if not run.solution.converged:
            at = show(value, task.kind, task.unit, 5)
            text = f"the field solve at {task.input} = {at} did not converge: what it gives is not used"
            ways = [
                "solve the case at this value first, and look at its Evidence",
                "allow more steps, or size between closer bounds",
            ]
            return SizingResult(task, "unsolved", text, ways, trials, hand.curve, trial_case, run)
        if run.solution.time is None:
            # A film begins where it is wished to, not where the last trial ended.
            start = run.solution.checkpoint()
        if abs(solved - task.target) <= model.tolerance(trials):
            return SizingResult(task, "met", _met(task, trials), [], trials, hand.curve, trial_case, run)
        proposal = model.propose(trials)
        tried_already = any(math.isclose(proposal, t.value, rel_tol=1e-5) for t in trials)
        if tried_already or len(trials) >= MOST_SOLVES:
            text, suggestions = _unreachable(task, hand, trials, model, plain)
            best = min(trials, key=lambda t: abs(t.solved - task.target))
            final = with_input(plain, task.input, best.value, task.unit)
            if best is not trials[-1]:
                run = solve_case(final, start=start, grid_file=grid_file, listen=listen, cancel=cancel)
            return SizingResult(task, "unreachable", text, suggestions, trials, hand.curve, final, run)
        value = proposal


class _Hand:
    """The hand-calculated quantity as a function of the input, with its values remembered."""

    def __init__(self, case: Case, task: SizingTask) -> None:
        self.case, self.task = case, task
        self._known: dict[float, float | None] = {}
        points = _spread(task.lower, task.upper, _SAMPLES)
        values = [(float(x), self(float(x))) for x in points]
        self.curve: list[tuple[float, float]] = [(x, y) for x, y in values if y is not None]

    def __call__(self, value: float) -> float | None:
        """None where the hand calculation has no answer."""
        if value not in self._known:
            try:
                rows = estimate_ledger(with_input(self.case, self.task.input, value, self.task.unit))
                found = hand_in(rows, self.task.quantity)
                self._known[value] = found.value if found is not None else None
            except CaseError:
                self._known[value] = None
        return self._known[value]


class _CorrectedHand:
    """The cheap model corrected by the trials; proposes the next value to solve."""

    def __init__(self, hand: _Hand, task: SizingTask) -> None:
        self.hand, self.task = hand, task

    def tolerance(self, trials: list[Trial]) -> float:
        """How near to the target is near enough: a share of what the input can change, by hand or between the trials so far.

        Of a first trial without a hand calculation nothing is known to compare with: it has to meet the target to its digits.
        """
        heights = [y for _, y in self.hand.curve] if len(self.hand.curve) > 1 else [t.solved for t in trials]
        return max(_TOLERANCE * (max(heights) - min(heights)), 1e-12)

    def _coordinate(self, value: float) -> float:
        return math.log(value) if self.task.lower > 0.0 else value

    def correction(self, value: float, trials: list[Trial]) -> float:
        """Solved minus hand, carried from the trials to `value`."""
        known = [(self._coordinate(t.value), t.solved - t.hand) for t in trials if t.hand is not None]
        if not known:
            return 0.0
        x = self._coordinate(value)
        known.sort(key=lambda pair: abs(pair[0] - x))
        if len(known) == 1 or abs(known[0][0] - known[1][0]) < 1e-12:
            return known[0][1]
        (x0, y0), (x1, y1) = known[0], known[1]
        # A line is trusted between its points and a little beyond.
        share = float(np.clip((x - x0) / (x1 - x0), -0.5, 1.5))
        return y0 + share * (y1 - y0)

    def propose(self, trials: list[Trial]) -> float:
        """Where the corrected model meets the target; the better bound when it does not."""
        from scipy.optimize import brentq

        task = self.task
        if len(self.hand.curve) < 2:
            return self._without_hand(trials)

        def miss(value: float) -> float:
            by_hand = self.hand(value)
            return float("nan") if by_hand is None else by_hand + self.correction(value, trials) - task.target

        points = [x for x, _ in self.hand.curve]
        misses = [miss(x) for x in points]
        # Of several crossings take the one nearest to where the case stands now, or to the last trial.
        near = trials[-1].value if trials else points[len(points) // 2]
        crossings = [
            (points[i], points[i + 1])
            for i in range(len(points) - 1)
            if misses[i] * misses[i + 1] <= 0.0 and misses[i] != misses[i + 1]
        ]
        if crossings:
            a, b = min(crossings, key=lambda pair: abs(self._coordinate(pair[0]) - self._coordinate(near)))
            return float(brentq(miss, a, b, xtol=1e-9 * (b - a) + 1e-15, rtol=1e-10))
        return points[int(np.argmin(np.abs(misses)))]

    def _without_hand(self, trials: list[Trial]) -> float:
        """Bracketing secant steps when no hand calculation gives the quantity."""
        task = self.task
        ends = (task.lower, task.upper)
        if len(trials) < 2:
            return ends[len(trials)]
        bracket = _bracket(trials, task.target)
        if bracket is None:
            return min(trials, key=lambda t: abs(t.solved - task.target)).value
        low, high = (self._coordinate(t.value) for t in bracket)
        x = self._inverse(trials)
        if x is None or not low + 0.02 * (high - low) < x < high - 0.02 * (high - low):
            x = 0.5 * (low + high)
        return math.exp(x) if task.lower > 0.0 else x

    def _inverse(self, trials: list[Trial]) -> float | None:
        """Where a parabola through the three trials nearest to the target, the input over the quantity, meets it."""
        nearest = sorted(trials, key=lambda t: abs(t.solved - self.task.target))[:3]
        heights = [t.solved - self.task.target for t in nearest]
        if len(set(heights)) < len(heights):
            return None
        total = 0.0
        for i, trial in enumerate(nearest):
            weight = math.prod(-heights[j] / (heights[i] - heights[j]) for j in range(len(nearest)) if j != i)
            total += weight * self._coordinate(trial.value)
        return total


def _bracket(trials: list[Trial], target: float) -> tuple[Trial, Trial] | None:
    """Two trials next to each other between which the target lies; None when there are none."""
    for left, right in pairwise(sorted(trials, key=lambda t: t.value)):
        if (left.solved - target) * (right.solved - target) <= 0.0 and left.solved != right.solved:
            return left, right
    return None


def _spread(lower: float, upper: float, count: int) -> np.ndarray:
    return np.geomspace(lower, upper, count) if lower > 0.0 else np.linspace(lower, upper, count)


def _rounded(value: float, task: SizingTask) -> float:
    """`value` as it will be written in the document, so that what is solved is what is entered."""
    from wattikos_core.quantities import to_si

    written = float(f"{from_si(value, task.unit, task.kind):.{_DIGITS}g}")
    return to_si(written, task.unit, task.kind)


def _counted(listen: Listen, done: int) -> Listen:
    def tell(event: Event) -> None:
        # Most sizings take about three solves; the last share is kept until it is over.
        fraction = min((done + event.fraction) / max(3.0, done + 1.5), 0.97)
        listen(Event(f"trial {done + 1}: {event.stage}", event.step, event.residuals, event.watches, fraction))

    return tell


def _met(task: SizingTask, trials: list[Trial]) -> str:
    last = trials[-1]
    return (
        f"{task.input} = {show(last.value, task.kind, task.unit, _DIGITS)} gives {task.quantity} "
        f"{show(last.solved, task.quantity_kind)} solved ({len(trials)} field solve{'s' if len(trials) > 1 else ''})"
    )


def _unreachable(task: SizingTask, hand: _Hand, trials: list[Trial], model: _CorrectedHand, case: Case) -> tuple[str, list[str]]:
    best = min(trials, key=lambda t: abs(t.solved - task.target))
    reached = show(best.solved, task.quantity_kind)
    wanted = show(task.target, task.quantity_kind)
    at = show(best.value, task.kind, task.unit, 5)
    low, high = show(task.lower, task.kind, task.unit), show(task.upper, task.kind, task.unit)
    if _bracket(trials, task.target) is not None:
        text = f"{task.quantity} {wanted} was not reached in {len(trials)} field solves: the nearest is {reached} at {at}"
        return text, ["take this over and size again between closer bounds"]
    text = f"{task.quantity} {wanted} cannot be met with {task.input} between {low} and {high}: the nearest is {reached} at {at}"
    if math.isclose(best.value, task.upper, rel_tol=1e-3):
        far = hand(best.value * _FAR_BEYOND)
        if far is not None:
            limit = far + model.correction(best.value, trials)
            text += f"; {task.quantity} tends to {show(limit, task.quantity_kind)} with ever larger {task.input}"
            if (limit - task.target) * (best.solved - task.target) < 0.0:
                text += ", so a wider upper bound would do"
    return text, _suggestions(with_input(case, task.input, best.value, task.unit), task, model.correction(best.value, trials))


def _suggestions(case: Case, task: SizingTask, correction: float) -> list[str]:
    """Other inputs with bounds by which the corrected hand calculation reaches the target, nearest change first."""
    found: list[tuple[float, str]] = []
    for name, item in case.inputs.items():
        if name == task.input or not (item.lower.strip() and item.upper.strip()) or parse_literal(item.value, item.kind) is None:
            continue
        try:
            other = read_task(case, input=name, quantity=task.quantity, target=_text(task.target, task.quantity_kind))
        except CaseError:
            continue
        curve = _Hand(case, other).curve
        now = parse_literal(item.value, item.kind)
        assert now is not None
        meeting = [
            x0 + (x1 - x0) * (task.target - correction - y0) / (y1 - y0)
            for (x0, y0), (x1, y1) in pairwise(curve)
            if (y0 + correction - task.target) * (y1 + correction - task.target) <= 0.0 and y0 != y1
        ]
        if meeting:
            nearest = min(meeting, key=lambda x: abs(x - now.magnitude))
            change = abs(nearest / now.magnitude - 1.0) if now.magnitude else math.inf
            found.append((change, f"{name} near {show(nearest, other.kind, other.unit, 3)} instead of {item.value}, by hand"))
    return [text for _, text in sorted(found)]


def _text(value: float, kind: str) -> str:
    unit = KINDS[kind].unit
    return f"{from_si(value, unit, kind):.12g} {unit}".strip()
