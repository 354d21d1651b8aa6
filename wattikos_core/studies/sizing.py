"""Sizing: find the input value at which a *solved* quantity meets its target.

The hand calculation is the cheap model that leads the search (see `search.corrected_model`). Two to four field solves usually do,
each started from the one before.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from wattikos_core.case import Case
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence.ledger import hand_in
from wattikos_core.quantities import KINDS, from_si, parse_literal, to_si
from wattikos_core.quantities.values import show
from wattikos_core.search import CorrectedModel, Trial, bracket
from wattikos_core.solve import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.studies.preparation import estimate_ledger
from wattikos_core.studies.result import Result
from wattikos_core.studies.sizing_task import DIGITS, SizingTask, nearest, read_task, with_input
from wattikos_core.studies.solving import solve_case

MOST_SOLVES = 9
_FAR_BEYOND = 30.0


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
    run: Result


def size_case(
    case: Case,
    task: SizingTask,
    *,
    known: Sequence[Trial] = (),
    start: bytes | None = None,
    grid_file: bytes | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
    on_trial: Callable[[Trial], None] | None = None,
) -> SizingResult:
    """Carry out a sizing; see the module text for the method. `known` are trials of an earlier one of the same case.

    Raises:
        CaseError: the case cannot be solved at the first trial, or the quantity is not in its ledger.
    """
    plain = case.model_copy(update={"solve": case.solve.model_copy(update={"grid_check": False, "good_enough": None})})
    hand = _Hand(plain, task)
    model = CorrectedModel(hand, task.lower, task.upper, task.target)
    trials: list[Trial] = list(known)
    run: Result | None = None
    value = model.propose(trials)
    while True:
        value = _rounded(value, task)
        trial_case = with_input(plain, task.input, value, task.unit)
        run = solve_case(trial_case, start=start, grid_file=grid_file, listen=_counted(listen, len(trials)), cancel=cancel)
        try:
            solved = run.value(task.key)
        except KeyError:
            remedy = nearest(task.key.label, [row.name for row in run.ledger if row.solved is not None])
            problem = f"'{task.key.label}' is not a result of this case"
            raise CaseError(InputProblem("sizing.key", problem, remedy)) from None
        trials.append(Trial(value, hand(value), solved))
        if on_trial is not None:
            on_trial(trials[-1])
        if run.solution.stopped:
            return SizingResult(task, "stopped", "the sizing was stopped", [], trials, model.curve, trial_case, run)
        if not run.solution.converged:
            at = show(value, task.kind, task.unit, 5)
            text = f"the field solve at {task.input} = {at} did not converge: what it gives is not used"
            ways = [
                "solve the case at this value first, and look at its Evidence",
                "allow more steps, or size between closer bounds",
            ]
            return SizingResult(task, "unsolved", text, ways, trials, model.curve, trial_case, run)
        if run.solution.time is None:
            # A run in time begins where it is wished to, not where the last trial ended.
            start = run.solution.checkpoint()
        near = model.tolerance(trials)
        # A limit is not overstepped: it is aimed at in the middle of what is near enough on its good side.
        model.target = task.target + 0.5 * task.side * near
        if abs(solved - model.target) <= (0.5 * near if task.side else near):
            return SizingResult(task, "met", _met(task, trials), [], trials, model.curve, trial_case, run)
        proposal = model.propose(trials)
        tried_already = any(math.isclose(proposal, t.value, rel_tol=1e-5) for t in trials)
        if tried_already or len(trials) - len(known) >= MOST_SOLVES:
            text, suggestions = _unreachable(task, trials, model, plain)
            best = min(trials, key=lambda t: abs(t.found - task.target))
            final = with_input(plain, task.input, best.value, task.unit)
            if best is not trials[-1]:
                run = solve_case(final, start=start, grid_file=grid_file, listen=listen, cancel=cancel)
            return SizingResult(task, "unreachable", text, suggestions, trials, model.curve, final, run)
        value = proposal


class _Hand:
    """The hand-calculated quantity as a function of the input, with its values remembered."""

    def __init__(self, case: Case, task: SizingTask) -> None:
        self.case, self.task = case, task
        self._known: dict[float, float | None] = {}

    def __call__(self, value: float) -> float | None:
        """None where the hand calculation has no answer."""
        if value not in self._known:
            try:
                rows = estimate_ledger(with_input(self.case, self.task.input, value, self.task.unit))
                found = hand_in(rows, self.task.key)
                self._known[value] = found.value if found is not None else None
            except CaseError:
                self._known[value] = None
        return self._known[value]


def _rounded(value: float, task: SizingTask) -> float:
    """`value` as it will be written in the document, so that what is solved is what is entered."""
    written = float(f"{from_si(value, task.unit, task.kind):.{DIGITS}g}")
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
        f"{task.input} = {show(last.value, task.kind, task.unit, DIGITS)} gives {task.key.label} "
        f"{show(last.found, task.key.kind)} solved ({len(trials)} field solve{'s' if len(trials) > 1 else ''})"
    )


def _unreachable(task: SizingTask, trials: list[Trial], model: CorrectedModel, case: Case) -> tuple[str, list[str]]:
    best = min(trials, key=lambda t: abs(t.found - task.target))
    reached = show(best.found, task.key.kind)
    wanted = show(task.target, task.key.kind)
    at = show(best.value, task.kind, task.unit, 5)
    low, high = show(task.lower, task.kind, task.unit), show(task.upper, task.kind, task.unit)
    if bracket(trials, task.target) is not None:
        text = f"{task.key.label} {wanted} was not reached in {len(trials)} field solves: the nearest is {reached} at {at}"
        return text, ["take this over and size again between closer bounds"]
    text = f"{task.key.label} {wanted} cannot be met with {task.input} between {low} and {high}: the nearest is {reached} at {at}"
    if math.isclose(best.value, task.upper, rel_tol=1e-3):
        far = model.cheap(best.value * _FAR_BEYOND)
        if far is not None:
            limit = far + model.correction(best.value, trials)
            text += f"; {task.key.label} tends to {show(limit, task.key.kind)} with ever larger {task.input}"
            if (limit - task.target) * (best.found - task.target) < 0.0:
                text += ", so a wider upper bound would do"
    return text, _suggestions(with_input(case, task.input, best.value, task.unit), task, model.correction(best.value, trials))


def _suggestions(case: Case, task: SizingTask, correction: float) -> list[str]:
    """Other inputs with bounds by which the corrected hand calculation reaches the target, nearest change first."""
    found: list[tuple[float, str]] = []
    for name, item in case.inputs.items():
        if name == task.input or not (item.lower.strip() and item.upper.strip()) or parse_literal(item.value, item.kind) is None:
            continue
        try:
            other = read_task(case, input=name, key=task.key, target=_text(task.target, task.key.kind))
        except CaseError:
            continue
        curve = CorrectedModel(_Hand(case, other), other.lower, other.upper, other.target).curve
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
