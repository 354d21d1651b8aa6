"""`wattikos size`: the sizing of a case, or what the options make of it."""

from __future__ import annotations

import argparse
import re
import sys

from wattikos_core.case import Case
from wattikos_core.case.series import Varied
from wattikos_core.case.sizing import AimWish, ChosenWish, SizingWish
from wattikos_core.case.wanted import Sense, Wanted
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.quantities import QuantityError
from wattikos_core.quantities.lists import read_span
from wattikos_core.solve import Listen
from wattikos_core.studies import Optimum, SizingResult, Tried, key_written, size
from wattikos_core.studies.optimising import in_words

_GOAL = re.compile(r"\s*(?P<name>.+?)\s*(?P<sign><=|>=|≤|≥|=)\s*(?P<value>.+?)\s*\Z")
_SENSES: dict[str, Sense] = {"<=": "at_most", "≤": "at_most", ">=": "at_least", "≥": "at_least", "=": "equal"}


def add_options(command: argparse.ArgumentParser) -> None:
    """The options of `wattikos size`, besides those that all solves have."""
    command.add_argument(
        "--input",
        action="append",
        default=[],
        help="an input to choose, with its bounds where they are not those of the case (length=400..900mm); several together",
    )
    command.add_argument(
        "--choose",
        action="append",
        default=[],
        help="values to choose from, row by row of several: 'bore=16,20 mm; wall=1,1.5 mm', 'material of plate=copper, iron'",
    )
    command.add_argument(
        "--want", action="append", default=[], help="a goal: 'effectiveness >= 0.85', 'hot pressure drop <= 20 Pa', 'duty = 5 kW'"
    )
    command.add_argument("--minimise", help="what is to be least under these limits: a quantity, or an expression of both kinds")
    command.add_argument("--maximise", help="what is to be most")
    command.add_argument("--lower", default="", help="lower bound of the input")
    command.add_argument("--upper", default="", help="upper bound of the input")


def carried_out(case: Case, options: argparse.Namespace, grid_file: bytes | None, listen: Listen) -> SizingResult | Optimum:
    """Carry out the sizing that the options ask for.

    Raises:
        CaseError: an option that cannot be read, and as `size` does.
    """
    count = 0

    def tell(trial: Tried) -> None:
        nonlocal count
        count += 1
        found = ", ".join(f"{key.label} {x:.5g}" for key, x in zip(trial.keys, trial.solved, strict=True))
        if not options.quiet:
            print(f"trial {count}: {', '.join(trial.values)} gives {found} (SI)", file=sys.stderr)

    start = options.checkpoint.read_bytes() if options.checkpoint and options.checkpoint.exists() else None
    return size(case, wish_of(case, options), start=start, grid_file=grid_file, listen=listen, on_trial=tell)


def wish_of(case: Case, options: argparse.Namespace) -> SizingWish:
    """The wish of a case, with what the options say instead."""
    wish = case.sizing
    chosen = [chosen_written(case, text) for text in options.input] + [rows_written(text) for text in options.choose]
    goals = [goal_written(case, text) for text in options.want]
    aim = aim_written(case, options.minimise or "", options.maximise or "")
    wish = wish.model_copy(update={"chosen": chosen or wish.chosen, "goals": goals or wish.goals, "aim": aim or wish.aim})
    if len(wish.chosen) == 1 and (options.lower or options.upper):
        one = wish.chosen[0]
        ends = {"lower": options.lower or one.lower, "upper": options.upper or one.upper}
        wish = wish.model_copy(update={"chosen": [one.model_copy(update=ends)]})
    return wish


def told(found: SizingResult | Optimum) -> list[str]:
    """The outcome in lines: what it is, how each goal is kept, and what relaxing it would bring."""
    margins = [in_words(margin, found.search.aims[0], found.aim) for margin in found.margins] if isinstance(found, Optimum) else []
    return [found.text, *(f"    {line}" for line in [*margins, *found.suggestions])]


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
