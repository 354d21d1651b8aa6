"""A series: a case at many values of a few inputs, by hand at once or solved one by one."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import product
from math import inf, prod
from typing import TypeVar

import numpy as np
from scipy.stats import qmc

from wattikos_core.case import Case, evaluate_inputs, resolve_values
from wattikos_core.case.remembered import Remembered
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate import estimate_case, first_values
from wattikos_core.ledger import Key
from wattikos_core.materials.catalogue import CATALOGUE
from wattikos_core.quantities import QuantityError, evaluate_in, parse_literal
from wattikos_core.quantities.lists import MOST_VALUES, Span, read_list, read_span

MOST_POINTS = MOST_VALUES

# The values of one point, one for each that is varied, as they are entered.
Values = tuple[str, ...]
# A point is led on from so many of the nearest others, not with weights that add up (by magnitude) to more, and none of less.
_FROM, _MOST_WEIGHT, _LEAST_WEIGHT = 6, 4.0, 1e-6
# Points nearer to each other than this share of what the inputs span are one.
_SAME_PLACE = 1e-9

R = TypeVar("R")


@dataclass(frozen=True)
class HandPoint:
    """What a point comes to by hand: values by key, SI; or why there are none."""

    values: dict[Key, float]
    problem: str = ""


def points_of(case: Case, wish: SeriesWish) -> list[Values]:
    """The points of a series, in order.

    Raises:
        CaseError: what is varied is not there, or its values make no sense; all problems, by field.

    Example:
        >>> from wattikos_core.case import starter_case
        >>> two = [Varied(input="length", values="400, 600 mm"), Varied(input="gap", values="2..3 mm : 2")]
        >>> points_of(starter_case("plate_passage"), SeriesWish(varied=two))
        [('400 mm', '2 mm'), ('400 mm', '3 mm'), ('600 mm', '2 mm'), ('600 mm', '3 mm')]
    """
    if not wish.varied:
        raise CaseError(InputProblem("series.varied", "nothing is varied", "choose an input and give its values"))
    problems = _targets(case, wish.varied)
    if problems:
        raise CaseError(problems)
    if wish.how == "hypercube":
        return _hypercube(case, wish)
    lists = _read_each(case, wish.varied, _values_of)
    if wish.how == "all":
        count = prod(len(values) for values in lists)
        if count > MOST_POINTS:
            remedy = f"{MOST_POINTS:,} are the most: give fewer values, or a Latin hypercube"
            raise CaseError(InputProblem("series.varied", f"all combinations are {count:,} points", remedy))
        return list(product(*lists))
    lengths = [len(values) for values in lists]
    if len(set(lengths)) > 1:
        said = ", ".join(f"{len(values)} of {name_of(one)}" for values, one in zip(lists, wish.varied, strict=True))
        problem = f"row by row needs as many values of each: there are {said}"
        raise CaseError(InputProblem("series.varied", problem, "give as many of each, or choose all combinations"))
    return list(zip(*lists, strict=True))


def name_of(varied: Varied) -> str:
    """What is varied, in words."""
    return varied.input or f"material of {varied.material_of}"


def case_at(case: Case, varied: Sequence[Varied], values: Sequence[str]) -> Case:
    """The case at a point.

    Example:
        >>> from wattikos_core.case import starter_case
        >>> case_at(starter_case("plate_passage"), [Varied(input="length")], ["900 mm"]).inputs["length"].value
        '900 mm'
    """
    inputs, parts = dict(case.inputs), list(case.section.parts)
    for one, value in zip(varied, values, strict=True):
        if one.input:
            inputs[one.input] = inputs[one.input].model_copy(update={"value": value})
        else:
            parts = [part.model_copy(update={"material": value}) if part.name == one.material_of else part for part in parts]
    return case.model_copy(update={"inputs": inputs, "section": case.section.model_copy(update={"parts": parts})})


def by_hand(
    case: Case, varied: Sequence[Varied], points: Iterable[Values], remembered: Remembered | None = None
) -> list[HandPoint]:
    """The hand calculations of a case at points; its section is not painted, so thousands take seconds.

    What is `remembered` of the same case at other values is not read again.
    """
    remembered = remembered or Remembered(case)
    return [_hand_point(case_at(case, varied, values), remembered) for values in points]


def _hand_point(case: Case, remembered: Remembered) -> HandPoint:
    values, problems = evaluate_inputs(case)
    try:
        if problems:
            raise CaseError(problems)
        calculations = estimate_case(resolve_values(case, values, remembered), bands=False)
    except CaseError as error:
        return HandPoint({}, _said(error.problems[0]))
    found = {key: value.value for key, value in first_values(calculations).items()}
    problem = next((_said(one.problems[0]) for one in calculations if one.problems), "") if not found else ""
    return HandPoint(found, problem)


def _said(problem: InputProblem) -> str:
    return f"{problem.field}: {problem.problem}; {problem.remedy}"


def coordinates(case: Case, varied: Sequence[Varied], points: Sequence[Values]) -> np.ndarray:
    """Where points lie: values in SI, for materials their place in the order in which they come; NaN where there is no value.

    Returns:
        shape (n_points, n_varied).
    """
    found = np.full((len(points), len(varied)), np.nan)
    for column, one in enumerate(varied):
        texts = [values[column] for values in points]
        if not one.input:
            order = {text: i for i, text in enumerate(dict.fromkeys(texts))}
            found[:, column] = [order[text] for text in texts]
            continue
        for row, (text, values) in enumerate(zip(texts, points, strict=True)):
            found[row, column] = _magnitude(case, varied, values, one.input, text)
    return found


def _magnitude(case: Case, varied: Sequence[Varied], values: Values, name: str, text: str) -> float:
    """The SI value of an input at a point; an expression is what it comes to there, where other inputs may vary as well."""
    kind = case.inputs[name].kind
    try:
        literal = parse_literal(text, kind)
        if literal is not None:
            return literal.in_kind(kind)
    except QuantityError:
        return np.nan
    known = evaluate_inputs(case_at(case, varied, values))[0]
    return known[name].magnitude if name in known else np.nan


def weights_of(places: np.ndarray, point: int, others: Sequence[int]) -> list[tuple[int, float]]:
    """Other points, the nearest one first, whose weighted sum lies where a point does, or as near to it as can be.

    What depends on the inputs along straight lines is at the point the same weighted sum of what it is at the others.

    Args:
        places: shape (n_points, n_varied), see `coordinates`.
        point: a row.
        others: rows to choose from.

    Returns:
        rows with their weights, which add up to one; none where there are no others.

    Example:
        >>> weights_of(np.array([[1.0], [2.0], [3.0]]), 2, [0, 1])
        [(1, 2.0), (0, -1.0)]
    """
    if not others:
        return []
    distance = apart(places, [point], others)[0]
    order = np.argsort(distance, kind="stable")[:_FROM]
    near = [others[i] for i in order]
    first, rest = near[0], near[1:]
    ways = _scaled(places)[rest] - _scaled(places)[first]
    target = _scaled(places)[point] - _scaled(places)[first]
    if not rest or not np.isfinite(ways).all() or not np.isfinite(target).all():
        return [(first, 1.0)]
    # Of all weights that lead there those of the nearest points, whose fields are most alike; there may be several at one place.
    far = np.maximum(distance[order][1:], _SAME_PLACE)
    weights = np.linalg.lstsq((ways / far[:, None]).T, target, rcond=1e-6)[0] / far
    if np.abs(weights).sum() > _MOST_WEIGHT:
        return [(first, 1.0)]
    used = [(row, round(float(weight), 12)) for row, weight in zip(rest, weights, strict=True) if abs(weight) > _LEAST_WEIGHT]
    return [(first, 1.0 - sum(weight for _, weight in used)), *used]


def apart(places: np.ndarray, some: Sequence[int], others: Sequence[int]) -> np.ndarray:
    """How far points lie from others, each input over what it spans, shape (n_some, n_others)."""
    scaled = _scaled(places)
    return np.asarray(np.linalg.norm(np.nan_to_num(scaled[list(some)][:, None] - scaled[list(others)][None], nan=1.0), axis=2))


def _scaled(places: np.ndarray) -> np.ndarray:
    spans = np.nanmax(places, axis=0) - np.nanmin(places, axis=0)
    return np.asarray(places / np.where(spans > 0.0, spans, 1.0))


def _targets(case: Case, varied: Sequence[Varied]) -> list[InputProblem]:
    """What is wrong with what is varied, whatever its values."""
    problems: list[InputProblem] = []
    seen: set[str] = set()
    parts = [part.name for part in case.section.parts]
    for i, one in enumerate(varied):
        field = f"series.varied[{i}].input"
        if one.input and one.input not in case.inputs:
            problems.append(InputProblem(field, f"there is no input '{one.input}'", f"choose one of {', '.join(case.inputs)}"))
        elif not one.input and one.material_of not in parts:
            said = f"there is no part '{one.material_of}'" if one.material_of else "it is not said what is varied"
            problems.append(InputProblem(field, said, f"choose an input, or a part: {', '.join(parts)}"))
        elif name_of(one) in seen:
            problems.append(InputProblem(field, f"{name_of(one)} is varied twice", "keep one of both"))
        seen.add(name_of(one))
    return problems


def _read_each(case: Case, varied: Sequence[Varied], read: Callable[[Case, Varied], R]) -> list[R]:
    """What is read of each that is varied; CaseError with all that cannot be."""
    problems: list[InputProblem] = []
    found: list[R] = []
    for i, one in enumerate(varied):
        try:
            found.append(read(case, one))
        except QuantityError as error:
            problems.append(InputProblem(f"series.varied[{i}].values", f"{name_of(one)}: {error.problem}", error.remedy))
    if problems:
        raise CaseError(problems)
    return found


def _values_of(case: Case, one: Varied) -> list[str]:
    if one.input:
        item = case.inputs[one.input]
        found, known = read_list(one.values, item.kind, item.unit), evaluate_inputs(case)[0]
        for text in found:
            value = evaluate_in(item.kind, text, known)
            if not -inf < value < inf:
                raise QuantityError(f"'{text}' has no value", "give a number")
        return found
    found = [text.strip() for text in one.values.replace(";", ",").split(",") if text.strip()]
    if not found:
        raise QuantityError("no materials are given", "write their keys with commas between")
    unknown = [key for key in found if key not in CATALOGUE and key not in case.materials]
    if unknown:
        raise QuantityError(f"there is no material '{unknown[0]}'", "choose from the catalogue or the case's own")
    return found


def _hypercube(case: Case, wish: SeriesWish) -> list[Values]:
    """A Latin hypercube (McKay, Beckman and Conover 1979, Technometrics 21, 239), by scipy."""
    spans = _read_each(case, wish.varied, _span_of)
    shares = qmc.LatinHypercube(len(spans), rng=wish.seed).random(wish.count)
    return [tuple(_taken(span, float(share)) for span, share in zip(spans, row, strict=True)) for row in shares]


def _taken(span: Span | list[str], share: float) -> str:
    if isinstance(span, Span):
        return span.written(span.at(share))
    return span[min(int(share * len(span)), len(span) - 1)]


def _span_of(case: Case, one: Varied) -> Span | list[str]:
    """The ends within which points are spread; of counts and materials, the values that they are chosen from."""
    if one.input:
        item = case.inputs[one.input]
        span = read_span(one.values, item.kind, item.unit)
        if span is not None and span.count is None and span.step is None:
            return span
    return _values_of(case, one)
