"""A case's wish to be sized, read: what is chosen between which ends, what must be met, what is to be best."""

from __future__ import annotations

from collections.abc import Sequence
from hashlib import sha256

import numpy as np

from wattikos_core.case import Case, evaluate_inputs, fingerprint, resolve
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.case.sizing import AimWish, ChosenWish, SizingWish
from wattikos_core.case.wanted import Wanted
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence.targets import impossible
from wattikos_core.quantities import KINDS, QuantityError, Value, evaluate_in, parse_literal
from wattikos_core.quantities.values import show
from wattikos_core.studies.search_space import Aim, Chosen, Goal, Search
from wattikos_core.studies.series import case_at, points_of
from wattikos_core.studies.sizing_task import SizingTask, read_task


def one_for_one(wish: SizingWish) -> bool:
    """Whether one input is chosen between bounds for one goal, with nothing to be best: a search along a line."""
    goals, chosen = wish.goals, wish.chosen
    if len(chosen) != 1 or len(goals) != 1 or goals[0].sense == "between" or (wish.aim is not None and _asks(wish.aim)):
        return False
    return len(chosen[0].varied) == 1 and bool(chosen[0].varied[0].input) and not chosen[0].varied[0].values.strip()


def read_one(case: Case, wish: SizingWish) -> SizingTask:
    """The search of a wish with one input for one goal.

    Raises:
        CaseError: as `read_task` does.
    """
    chosen, goal = wish.chosen[0], wish.goals[0]
    name = chosen.varied[0].input
    return read_task(case, input=name, key=goal.key, target=goal.target, lower=chosen.lower, upper=chosen.upper, sense=goal.sense)


def read_wish(case: Case, wish: SizingWish) -> Search:
    """The search of a wish.

    Raises:
        CaseError: all that is wrong with it, by field.
    """
    if not wish.chosen:
        raise CaseError(InputProblem("sizing.chosen", "it is not said what may be chosen", "choose an input, and its bounds"))
    if not wish.goals and (wish.aim is None or not _asks(wish.aim)):
        remedy = "give a goal, or what is to be least or most"
        raise CaseError(InputProblem("sizing.goals", "it is not said what is asked for", remedy))
    problems: list[InputProblem] = []
    chosen: list[Chosen] = []
    for i, one in enumerate(wish.chosen):
        try:
            chosen.append(read_chosen(case, one, f"sizing.chosen[{i}]"))
        except CaseError as error:
            problems += error.problems
    names = [varied.input or varied.material_of for one in wish.chosen for varied in one.varied]
    twice = sorted({name for name in names if names.count(name) > 1})
    if twice:
        problems.append(InputProblem("sizing.chosen", f"'{twice[0]}' is chosen twice", "keep one of both"))
    if problems:
        raise CaseError(problems)
    goals = read_goals(case, wish.goals, chosen)
    aims = [read_aim(wish.aim)]
    if wish.second is not None and _asks(wish.second):
        aims.append(read_aim(wish.second))
    return Search(tuple(chosen), tuple(goals), tuple(aims))


def ground_of(case: Case, wish: SizingWish) -> str:
    """The same for wishes whose trials tell of one another: what is chosen is the same, and all that is not; else empty.

    Raises:
        CaseError: the wish cannot be read.
    """
    search = read_wish(case, wish)
    # Bounds may be others: what is chosen is taken out of the case.
    at = case.model_copy(update={"wanted": [], "watches": []})
    for one in search.chosen:
        at = case_at(at, one.varied, one.rows[0] if one.rows else (f"1 {KINDS[one.kind].si}",))
    found = fingerprint(at)
    names = [one.name for one in search.chosen]
    return sha256(f"{names} {found}".encode()).hexdigest() if found else ""


def _asks(aim: AimWish) -> bool:
    return aim.key is not None or bool(aim.expression.strip())


def read_aim(wish: AimWish | None) -> Aim:
    """What is to be best; to change as little as can be where nothing is said."""
    if wish is None or not _asks(wish):
        return Aim()
    return Aim(wish.way == "most", wish.key, "" if wish.key is not None else wish.expression.strip())


def read_goals(case: Case, wishes: Sequence[Wanted], chosen: Sequence[Chosen] = ()) -> list[Goal]:
    """Goals with their ends in SI.

    Raises:
        CaseError: what cannot be read, and what nothing between the bounds of what is chosen could bring about.
    """
    values, bad = evaluate_inputs(case)
    if bad:
        raise CaseError(bad)
    problems: list[InputProblem] = []
    corners = [resolve(_at(case, chosen, end)) for end in (0.0, 1.0)]
    goals = []
    for i, wish in enumerate(wishes):
        ends = []
        for name, text in (("target", wish.target), *((("upper", wish.upper),) if wish.sense == "between" else ())):
            try:
                ends.append(evaluate_in(wish.key.kind, text, values))
            except QuantityError as error:
                problems.append(InputProblem(f"sizing.goals[{i}].{name}", error.problem, error.remedy))
                continue
            why = impossible(wish.key, ends[-1], corners)
            if why:
                remedy = "give a target that something in this case could bring about"
                problems.append(InputProblem(f"sizing.goals[{i}].{name}", why, remedy))
        if len(ends) == 2 and ends[0] >= ends[1]:
            problem = f"between {wish.target} and {wish.upper} lies nothing"
            problems.append(InputProblem(f"sizing.goals[{i}].upper", problem, "give the smaller one first"))
        if len(ends) == (2 if wish.sense == "between" else 1):
            lower = -np.inf if wish.sense == "at_most" else ends[0]
            upper = np.inf if wish.sense == "at_least" else ends[-1]
            goals.append(Goal(wish.key, lower, upper))
    if problems:
        raise CaseError(problems)
    return goals


def _at(case: Case, chosen: Sequence[Chosen], share: float) -> Case:
    """The case with all that is chosen at one end of its bounds."""
    varied = [varied for one in chosen for varied in one.varied]
    texts = [text for one in chosen for text in one.texts(one.variable.at(share))]
    return case_at(case, varied, texts)


def read_chosen(case: Case, wish: ChosenWish, field: str = "sizing.chosen") -> Chosen:
    """What is chosen, with its ends: those given, or the input's own.

    Raises:
        CaseError: no such input, an expression, bounds that are missing or make no sense, rows that do not fit.
    """
    if len(wish.varied) > 1 or wish.varied[0].values.strip() or not wish.varied[0].input:
        return _rows(case, wish, field)
    name = wish.varied[0].input
    if name not in case.inputs:
        said = f"there is no input '{name}'"
        raise CaseError(InputProblem(field, said, f"choose one of {', '.join(case.inputs)}"))
    item = case.inputs[name]
    if parse_literal(item.value, item.kind) is None:
        remedy = "choose one of the inputs it depends on, or give it a number"
        raise CaseError(InputProblem(field, f"'{name}' is an expression ({item.value})", remedy))
    values, bad = evaluate_inputs(case)
    if bad:
        raise CaseError(bad)
    low = _end(case, name, "lower", wish.lower or item.lower, values, field)
    high = _end(case, name, "upper", wish.upper or item.upper, values, field)
    if low >= high:
        shown = f"{show(low, item.kind, item.unit or None)} to {show(high, item.kind, item.unit or None)}"
        raise CaseError(InputProblem(f"{field}.lower", f"the bounds of '{name}' are {shown}", "make the lower one the smaller one"))
    whole = item.kind == "number" and all(float(x).is_integer() for x in (low, high, values[name].magnitude))
    return Chosen((Varied(input=name),), low, high, item.kind, item.unit or KINDS[item.kind].unit, whole)


def _end(case: Case, name: str, side: str, text: str, values: dict[str, Value], field: str) -> float:
    if not text.strip():
        raise CaseError(InputProblem(f"{field}.{side}", f"'{name}' has no {side} bound", "give one"))
    try:
        return evaluate_in(case.inputs[name].kind, text, values)
    except QuantityError as error:
        raise CaseError(InputProblem(f"{field}.{side}", error.problem, error.remedy)) from error


def _rows(case: Case, wish: ChosenWish, field: str) -> Chosen:
    try:
        rows = tuple(points_of(case, SeriesWish(varied=wish.varied, how="paired")))
    except CaseError as error:
        raise CaseError([InputProblem(p.field.replace("series", field, 1), p.problem, p.remedy) for p in error.problems]) from error
    if len(rows) < 2:
        raise CaseError(InputProblem(f"{field}.varied", "there is one row to choose from", "give two rows or more, or bounds"))
    names = tuple(Varied(input=one.input, material_of=one.material_of) for one in wish.varied)
    return Chosen(names, 0.0, float(len(rows) - 1), rows=rows)
