"""`wattikos size`: the sizing of a case, or what the options make of it."""

from __future__ import annotations

import argparse
import sys

from wattikos_core.case import Case
from wattikos_core.case.sizing import SizingWish
from wattikos_core.solve import Listen
from wattikos_core.studies import Optimum, SizingResult, Tried, size
from wattikos_core.studies.optimising import in_words
from wattikos_core.studies.sizing_text import aim_written, chosen_written, goal_written, rows_written


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
