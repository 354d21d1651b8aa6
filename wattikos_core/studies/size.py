"""A case's sizing carried out: along a line for one input and one goal, else as a search with limits."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from wattikos_core.case import Case
from wattikos_core.case.sizing import SizingWish
from wattikos_core.ledger import Key
from wattikos_core.search import Trial as OnLine
from wattikos_core.search.space_mapping import Trial
from wattikos_core.solve import Cancel, Listen, never_cancel, silent
from wattikos_core.studies.optimising import Optimum, optimise
from wattikos_core.studies.search_space import SearchSpace
from wattikos_core.studies.series import Values
from wattikos_core.studies.sizing import SizingResult, size_case
from wattikos_core.studies.sizing_task import SizingTask, written_input
from wattikos_core.studies.sizing_wish import one_for_one, read_one, read_wish


@dataclass(frozen=True)
class Tried:
    """A trial: what was chosen, as entered and in SI (of rows their number); each quantity of `keys` by hand and solved, SI."""

    values: Values
    place: tuple[float, ...]
    keys: tuple[Key, ...]
    hand: tuple[float | None, ...]
    solved: tuple[float, ...]


def size(
    case: Case,
    wish: SizingWish | None = None,
    *,
    known: Sequence[Tried] = (),
    start: bytes | None = None,
    grid_file: bytes | None = None,
    listen: Listen = silent,
    cancel: Cancel = never_cancel,
    on_trial: Callable[[Tried], None] | None = None,
) -> SizingResult | Optimum:
    """Carry out a sizing: that of the case, or another wish.

    Args:
        case: as it stands.
        wish: what is chosen, asked for, to be best.
        known: trials of an earlier search of this case, which need not be made again.
        start: fields of a former run.
        grid_file: content of the grid file, for a case that uses one.
        listen: told of every step.
        cancel: asked at every step whether to stop.
        on_trial: called with each trial.

    Raises:
        CaseError: the wish makes no sense, or the case cannot be solved.
    """
    wish = case.sizing if wish is None else wish
    tell = on_trial if on_trial is not None else _unheard
    if one_for_one(wish):
        task = read_one(case, wish)

        def on_line(trial: OnLine) -> None:
            tell(tried_on_line(task, trial))

        before = [
            OnLine(one.place[0], one.hand[one.keys.index(task.key)], one.solved[one.keys.index(task.key)])
            for one in known
            if len(one.place) == 1 and task.key in one.keys and task.lower <= one.place[0] <= task.upper
        ]
        return size_case(case, task, known=before, start=start, grid_file=grid_file, listen=listen, cancel=cancel, on_trial=on_line)
    return optimise(
        case,
        read_wish(case, wish),
        known=[(one.values, dict(zip(one.keys, one.solved, strict=True))) for one in known],
        grid_file=grid_file,
        listen=listen,
        cancel=cancel,
        on_trial=lambda space, trial: tell(tried(space, trial)),
    )


def tried(space: SearchSpace, trial: Trial) -> Tried:
    """A trial of a search."""
    hand = [None if space.without_hand else float(x) for x in trial.cheap]
    solved = tuple(float(x) for x in trial.found)
    return Tried(space.texts(trial.place), tuple(float(x) for x in trial.place), tuple(space.keys), tuple(hand), solved)


def tried_on_line(task: SizingTask, trial: OnLine) -> Tried:
    """A trial of a search along a line."""
    text = written_input(trial.value, task.unit, task.kind)
    return Tried((text,), (trial.value,), (task.key,), (trial.cheap,), (trial.found,))


def _unheard(trial: Tried) -> None:
    pass
