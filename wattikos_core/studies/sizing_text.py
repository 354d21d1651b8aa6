"""What a sizing asks for, written in a line: `length=400..900 mm`, `effectiveness >= 0.85`, `bore=16,20 mm; wall=1,1.5 mm`."""

from __future__ import annotations

import re

from wattikos_core.case import Case
from wattikos_core.case.series import Varied
from wattikos_core.case.sizing import AimWish, ChosenWish
from wattikos_core.case.wanted import Sense, Wanted
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities import QuantityError
from wattikos_core.quantities.lists import read_span
from wattikos_core.studies.sizing_task import key_written

_GOAL = re.compile(r"\s*(?P<name>.+?)\s*(?P<sign><=|>=|≤|≥|=)\s*(?P<value>.+?)\s*\Z")
_SENSES: dict[str, Sense] = {"<=": "at_most", "≤": "at_most", ">=": "at_least", "≥": "at_least", "=": "equal"}


def chosen_written(case: Case, text: str) -> ChosenWish:
    """`length` or `length=400..900 mm`."""
    name, _, bounds = (part.strip() for part in text.partition("="))
    varied = [Varied(input=name)]
    if not bounds:
        return ChosenWish(varied=varied)
    item = case.inputs.get(name)
    try:
        span = read_span(bounds, item.kind, item.unit) if item is not None else None
    except QuantityError as error:
        raise CaseError(InputProblem("--input", error.problem, error.remedy)) from error
    if item is not None and span is None:
        raise CaseError(InputProblem("--input", f"'{text}' has no bounds", f"write {name}=400..900 mm"))
    ends = ("", "") if span is None else (span.written(span.first), span.written(span.last))
    return ChosenWish(varied=varied, lower=ends[0], upper=ends[1])


def rows_written(text: str) -> ChosenWish:
    """`bore=16,20 mm; wall=1,1.5 mm`."""
    varied = []
    for one in text.split(";"):
        name, _, values = (part.strip() for part in one.partition("="))
        material = name.removeprefix("material of ")
        varied.append(Varied(material_of=material, values=values) if material != name else Varied(input=name, values=values))
    return ChosenWish(varied=varied)


def goal_written(case: Case, text: str) -> Wanted:
    """`effectiveness >= 0.85`, `hot pressure drop <= 20 Pa`, or `… = 40 degC`, which is in the sense that the case wants it in."""
    match = _GOAL.match(text)
    if match is None:
        raise CaseError(InputProblem("--want", f"'{text}' is no goal", "write for example 'effectiveness >= 0.85'"))
    key = key_written(case, match["name"])
    sense = _SENSES[match["sign"]]
    if match["sign"] == "=":
        alike = [wanted.sense for wanted in [*case.sizing.goals, *case.wanted] if wanted.key == key and wanted.target.strip()]
        sense = next((one for one in alike if one != "between"), sense)
    return Wanted(key=key, target=match["value"], sense=sense)


def aim_written(case: Case, minimise: str, maximise: str) -> AimWish | None:
    """What is to be least, or most: a quantity as it is written, or an expression."""
    text = minimise or maximise
    if not text:
        return None
    way = "most" if maximise else "least"
    try:
        return AimWish.model_validate({"way": way, "key": key_written(case, text)})
    except CaseError:
        return AimWish.model_validate({"way": way, "expression": text})
