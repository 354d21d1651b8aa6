"""What a sizing chooses, must meet and makes best, in numbers: places, their cases, and their quantities by hand."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from wattikos_core.case import Case, evaluate_inputs, resolve
from wattikos_core.case.remembered import Remembered
from wattikos_core.case.series import Varied
from wattikos_core.case.sizing import MOST_CHOSEN
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.ledger import Key
from wattikos_core.quantities import KINDS, QuantityError, Value, evaluate, evaluate_in
from wattikos_core.quantities.expressions import names_in
from wattikos_core.quantities.units import dimension_and_factor
from wattikos_core.quantities.values import show
from wattikos_core.search.space_mapping import Array, Limit, Trial, Variable
from wattikos_core.studies.measured import MEASURED, measured
from wattikos_core.studies.preparation import draft
from wattikos_core.studies.result import Result
from wattikos_core.studies.series import Values, by_hand, case_at, name_of
from wattikos_core.studies.sizing_task import DIGITS, keys_before_solving, written_input

# A limit is met when it is missed by no more than this share of its size; it is aimed at from half of that inside.
TOLERANCE = 4e-4
_LEAST_SPAN = 1.0
# What another material than the present one counts, where what is chosen is to change as little as it can.
_CHANGED = 0.25
# What is written to as many digits as are entered has steps, which slopes must not be taken over.
_ALL_DIGITS = 15


@dataclass(frozen=True)
class Chosen:
    """An input that is chosen between bounds, SI; `unit` is what it is written in. Or a row of values for inputs and materials.

    Attributes:
        varied: what is chosen, one or, by `rows`, several together.
        whole: whether only whole numbers are.
        rows: values to choose from, as they are entered; the place is then the number of a row.
    """

    varied: tuple[Varied, ...]
    lower: float
    upper: float
    kind: str = "number"
    unit: str = ""
    whole: bool = False
    rows: tuple[tuple[str, ...], ...] = ()

    @property
    def name(self) -> str:
        """What is chosen, in words."""
        return " and ".join(name_of(one) for one in self.varied)

    @property
    def variable(self) -> Variable:
        """As a variable of a search."""
        return Variable(self.lower, self.upper, self.whole or bool(self.rows), bool(self.rows))

    def texts(self, value: float, digits: int = DIGITS) -> tuple[str, ...]:
        """A place as it is entered."""
        if self.rows:
            return self.rows[round(value)]
        return (written_input(float(value), self.unit, self.kind, digits),)

    def place(self, texts: Sequence[str]) -> float:
        """The inverse of `texts`."""
        return float(self.rows.index(tuple(texts))) if self.rows else evaluate_in(self.kind, texts[0], {})


@dataclass(frozen=True)
class Goal:
    """Between what a quantity must lie, SI; infinite where it has no bound on that side."""

    key: Key
    lower: float = -np.inf
    upper: float = np.inf


@dataclass(frozen=True)
class Aim:
    """What is to be least, or most: a quantity, or an expression in inputs and quantities; else how much inputs change."""

    most: bool = False
    key: Key | None = None
    expression: str = ""

    @property
    def label(self) -> str:
        """How it is called."""
        return self.key.label if self.key is not None else self.expression or "what is changed"


@dataclass(frozen=True)
class Search:
    """What is chosen (all else keeps its values), what must be met, and what is to be best: the first aim leads."""

    chosen: tuple[Chosen, ...]
    goals: tuple[Goal, ...]
    aims: tuple[Aim, ...]


class SearchSpace:
    """A search in numbers: places are SI values of what is chosen, quantities those of goals and aims.

    Args:
        case: as it stands.
        search: what is asked for.

    Raises:
        CaseError: nothing to choose, or an aim that cannot be evaluated.
    """

    def __init__(self, case: Case, search: Search) -> None:
        chosen, goals, aims = search.chosen, search.goals, search.aims
        if not 0 < len(chosen) <= MOST_CHOSEN:
            raise CaseError(InputProblem("sizing.chosen", f"{len(chosen)} inputs to choose", f"choose 1 to {MOST_CHOSEN}"))
        plain = case.solve.model_copy(update={"grid_check": False, "good_enough": None})
        self.case = case.model_copy(update={"solve": plain})
        self.search, self.chosen, self.goals, self.aims = search, chosen, goals, aims
        self.varied = [varied for one in chosen for varied in one.varied]
        self.variables = [one.variable for one in chosen]
        self._named = self._quantities_in(aims)
        of_aims = [aim.key for aim in aims if aim.key is not None]
        self.keys = list(dict.fromkeys([goal.key for goal in goals] + of_aims + list(self._named.values())))
        self.index = {key: i for i, key in enumerate(self.keys)}
        span = float(np.ptp(resolve(case).temperatures_given)) if resolve(case).temperatures_given else _LEAST_SPAN
        self.limits = [self._limit(goal, max(span, _LEAST_SPAN)) for goal in goals]
        self._now = [self._share_now(one) for one in chosen]
        self._remembered = Remembered(case)
        here = self.known(case)
        # Of a case without them at all, quantities are learned from solutions alone.
        self.without_hand = [key for key in self.keys if key not in here]
        for aim in aims:
            self._refuse_expression(aim)

    def _quantities_in(self, aims: Sequence[Aim]) -> dict[str, Key]:
        """The quantities that expressions of aims refer to, by the names they are written with."""
        names = {name for aim in aims for name in names_in(aim.expression)} - self.case.inputs.keys()
        return {word: key for word, key in words_of(keys_before_solving(self.case)).items() if word in names} if names else {}

    def _refuse_expression(self, aim: Aim) -> None:
        if aim.key is not None or not aim.expression:
            return
        values = evaluate_inputs(self.case)[0]
        try:
            evaluate(aim.expression, {name: self._value(key, 1.0) for name, key in self._named.items()} | values)
        except QuantityError as error:
            remedy = f"{error.remedy}; quantities are written with their words joined, as outlet_temperature"
            raise CaseError(InputProblem("sizing.aim", error.problem, remedy)) from error

    def _limit(self, goal: Goal, span: float) -> Limit:
        bounds = [abs(bound) for bound in (goal.lower, goal.upper) if np.isfinite(bound)]
        size = span if goal.key.kind == "temperature" else max(max(bounds, default=1.0), 1e-30)
        low, high = goal.lower, goal.upper
        if low == high:
            # Just that: within what counts as met.
            low, high = low - TOLERANCE * size, high + TOLERANCE * size
        return Limit(self.index[goal.key], low, high, size)

    def _share_now(self, one: Chosen) -> float:
        if one.rows:
            return 0.0
        return float(np.clip(one.variable.share(max(self._value_now(one), 1e-300)), 0.0, 1.0))

    @property
    def as_it_stands(self) -> Array | None:
        """What is chosen as the case has it, within its bounds; None where whole rows are chosen."""
        if any(one.rows for one in self.chosen):
            return None
        return np.array([one.variable.at(now) for one, now in zip(self.chosen, self._now, strict=True)])

    def _value_now(self, one: Chosen) -> float:
        return evaluate_inputs(self.case)[0][one.varied[0].input].magnitude

    def _text_now(self, varied: Varied) -> str:
        if varied.input:
            return self.case.inputs[varied.input].value
        return next(part.material for part in self.case.section.parts if part.name == varied.material_of)

    def texts(self, place: Array, digits: int = DIGITS) -> tuple[str, ...]:
        """A place as it is entered, a text for each of `varied`."""
        return tuple(text for one, x in zip(self.chosen, place, strict=True) for text in one.texts(float(x), digits))

    def place_of(self, texts: Sequence[str]) -> Array:
        """The inverse of `texts`."""
        found, at = [], 0
        for one in self.chosen:
            found.append(one.place(texts[at : at + len(one.varied)]))
            at += len(one.varied)
        return np.array(found)

    def written(self, place: Array) -> Array:
        """A place in the digits it is entered with, so that what is solved is what is written."""
        return self.place_of(self.texts(place))

    def told(self, place: Array) -> str:
        """A place in words."""
        return ", ".join(f"{name_of(one)} = {text}" for one, text in zip(self.varied, self.texts(place), strict=True))

    def case_at(self, place: Array, digits: int = DIGITS) -> Case:
        """The case there."""
        return case_at(self.case, self.varied, self.texts(place, digits))

    def by_hand(self, place: Array) -> Array | None:
        """The quantities by hand; None where one is missing."""
        values = self.known(self.case_at(place, _ALL_DIGITS))
        return np.array([values[key] for key in self.keys]) if all(key in values for key in self.keys) else None

    def known(self, case: Case) -> dict[Key, float]:
        """What is known of a case without solving it."""
        values = by_hand(case, [], [()], self._remembered)[0].values
        if any(key.quantity in MEASURED for key in self.keys):
            found = draft(case)
            if found.resolved is not None and found.section is not None:
                values = measured(found.resolved, found.section, values) | values
        return values

    def found(self, run: Result) -> Array:
        """The quantities of a solution."""
        try:
            return np.array([run.value(key) for key in self.keys])
        except KeyError as error:
            raise CaseError(
                InputProblem("sizing.goals", f"{error.args[0]} is not a result of this case", "choose one from the ledger")
            ) from None

    def missing(self, quantities: Array) -> float:
        """By how much the worst goal is missed, over its size; negative by how much all are kept."""
        return max((limit.missing(quantities) for limit in self.limits), default=-1.0)

    def cost(self, place: Array, quantities: Array, aim: Aim | None = None) -> float:
        """What is to be small: the value of an aim (the first one), or its negative."""
        return self.value(place, quantities, aim) * (-1.0 if (aim or self.aims[0]).most else 1.0)

    def value(self, place: Array, quantities: Array, aim: Aim | None = None) -> float:
        """The value of an aim (the first one), SI."""
        aim = aim or self.aims[0]
        if aim.key is not None:
            return float(quantities[self.index[aim.key]])
        if not aim.expression:
            changes = (self._change(one, float(x), now) for one, x, now in zip(self.chosen, place, self._now, strict=True))
            return sum(changes, 0.0)
        values = evaluate_inputs(self.case_at(place, _ALL_DIGITS))[0]
        named = {name: self._value(key, float(quantities[self.index[key]])) for name, key in self._named.items()}
        return evaluate(aim.expression, named | values).magnitude

    def _change(self, one: Chosen, x: float, now: float) -> float:
        """How much one of what is chosen changes: the square of its share of the bounds, or of each value's own size in a row."""
        if not one.rows:
            return (one.variable.share(x) - now) ** 2
        changes = 0.0
        values = evaluate_inputs(self.case)[0]
        for varied, text in zip(one.varied, one.texts(x), strict=True):
            if varied.input:
                before = values[varied.input].magnitude
                after = evaluate_in(self.case.inputs[varied.input].kind, text, values)
                changes += ((after - before) / max(abs(before), abs(after), 1e-300)) ** 2
            else:
                changes += _CHANGED * (text != self._text_now(varied))
        return changes

    @staticmethod
    def _value(key: Key, value: float) -> Value:
        return Value(value, dimension_and_factor(KINDS[key.kind].si)[0])

    def shown(self, value: float, aim: Aim | None = None) -> str:
        """A value of an aim (the first one) as people read it."""
        aim = aim or self.aims[0]
        if aim.key is not None:
            return show(value, aim.key.kind)
        one = next((c for c in self.chosen if not c.rows and c.name == aim.expression.strip()), None)
        return show(value, one.kind, one.unit) if one is not None else f"{value:.5g} (SI)"

    def trials_known(self, known: Iterable[tuple[Values, Mapping[Key, float]]]) -> list[Trial]:
        """Trials of an earlier search that lie within the bounds and tell all that is asked for."""
        trials = []
        for texts, found in known:
            if len(texts) != len(self.varied) or any(key not in found for key in self.keys):
                continue
            try:
                place = self.place_of(texts)
            except (ValueError, QuantityError):
                continue
            within = all(v.lower * (1 - 1e-9) <= x <= v.upper * (1 + 1e-9) for v, x in zip(self.variables, place, strict=True))
            if within:
                trials.append(self.trial(place, np.array([found[key] for key in self.keys])))
        return trials

    def trial(self, place: Array, found: Array) -> Trial:
        """A trial, with what it is by hand; nought where nothing is."""
        cheap = None if self.without_hand else self.by_hand(place)
        return Trial(place, np.zeros(len(self.keys)) if cheap is None else cheap, found)


def words_of(keys: Iterable[Key]) -> dict[str, Key]:
    """Quantities by the names that expressions call them by.

    Example:
        >>> list(words_of([Key("outlet_temperature", "hot"), Key("mass", "plate")]))
        ['hot_outlet_temperature', 'mass_of_plate']
    """
    return {re.sub(r"[^a-z0-9]+", "_", key.label.lower()).strip("_"): key for key in keys}
