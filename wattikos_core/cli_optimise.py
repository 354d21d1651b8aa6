"""`wattikos size` with several inputs, or with something that is to be least or most."""

from __future__ import annotations

import argparse
import re
import sys
from dataclasses import replace

import numpy as np

from wattikos_core.case import Case, evaluate_inputs
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities import QuantityError, evaluate_in
from wattikos_core.quantities.lists import read_span
from wattikos_core.search.space_mapping import Trial
from wattikos_core.studies.optimising import Aim, Chosen, Goal, Optimum, in_words, optimise, read_chosen
from wattikos_core.studies.sizing_task import key_written

_GOAL = re.compile(r"\s*(?P<name>.+?)\s*(?P<sign><=|>=|≤|≥|=)\s*(?P<value>.+?)\s*\Z")


def optimum_of(case: Case, options: argparse.Namespace) -> Optimum:
    """Carry out the search that the options ask for.

    Raises:
        CaseError: an option that cannot be read, and as `optimise` does.
    """
    chosen = [_chosen(case, text) for text in options.input]
    goals = [_goal(case, text) for text in options.want]
    aim = _aim(case, options)

    count = 0

    def tell(trial: Trial) -> None:
        nonlocal count
        count += 1
        place = ", ".join(f"{one.name} {x:.5g}" for one, x in zip(chosen, trial.place, strict=True))
        found = ", ".join(f"{x:.5g}" for x in trial.found)
        if not options.quiet:
            print(f"trial {count}: {place} (SI) gives {found}", file=sys.stderr)

    return optimise(case, chosen, goals, aim, on_trial=tell)


def told(found: Optimum) -> list[str]:
    """The outcome in lines: what it is, how each goal is kept, and what relaxing it would bring."""
    return [found.text, *(f"    {in_words(margin, found.aim)}" for margin in found.margins)]


def _chosen(case: Case, text: str) -> Chosen:
    """`length` or `length=400..900 mm`."""
    name, _, bounds = text.partition("=")
    if not bounds.strip():
        return read_chosen(case, name.strip())
    item = case.inputs.get(name.strip())
    try:
        span = read_span(bounds, item.kind, item.unit) if item is not None else None
    except QuantityError as error:
        raise CaseError(InputProblem("--input", error.problem, error.remedy)) from error
    if item is not None and span is None:
        raise CaseError(InputProblem("--input", f"'{text}' has no bounds", f"write {name.strip()}=400..900 mm"))
    ends = ("", "") if span is None else (span.written(span.first), span.written(span.last))
    return read_chosen(case, name.strip(), *ends)


def _goal(case: Case, text: str) -> Goal:
    """`effectiveness >= 0.85`, `hot pressure drop <= 20 Pa`, or `… = 40 degC`."""
    match = _GOAL.match(text)
    if match is None:
        raise CaseError(InputProblem("--want", f"'{text}' is no goal", "write for example 'effectiveness >= 0.85'"))
    key = key_written(case, match["name"])
    try:
        value = evaluate_in(key.kind, match["value"], evaluate_inputs(case)[0])
    except QuantityError as error:
        raise CaseError(InputProblem("--want", error.problem, error.remedy)) from error
    goal = Goal(key, value, value)
    if match["sign"] in ("<=", "≤"):
        return replace(goal, lower=-np.inf)
    return replace(goal, upper=np.inf) if match["sign"] in (">=", "≥") else goal


def _aim(case: Case, options: argparse.Namespace) -> Aim:
    text = options.minimise or options.maximise
    if not text:
        problem = "it is not said what is to be least or most"
        raise CaseError(
            InputProblem("--minimise", problem, "give --minimise or --maximise: a quantity, or an expression in inputs")
        )
    try:
        return Aim(bool(options.maximise), key=key_written(case, text))
    except CaseError:
        return Aim(bool(options.maximise), expression=text)
