"""What was given differently in several cases, as a table."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from wattikos_core.case.document import Case
from wattikos_core.case.meaning import changed_between
from wattikos_core.case.resolve import evaluate_inputs
from wattikos_core.quantities.values import show


@dataclass(frozen=True)
class Given:
    """One thing that differs: what it is called, and what it is in each case (empty where a case has it not)."""

    name: str
    values: tuple[str, ...]


def given_differently(cases: Sequence[Case]) -> list[Given]:
    """Inputs whose values differ, then other parts of the documents that do; nothing for cases of one meaning.

    Example:
        >>> from wattikos_core.case import starter_case
        >>> case = starter_case("plate_passage")
        >>> longer = case.model_copy(deep=True)
        >>> longer.inputs["length"].value = "900 mm"
        >>> [(row.name, row.values) for row in given_differently([case, longer])]
        [('plate length', ('600 mm', '900 mm'))]
    """
    values = [evaluate_inputs(case)[0] for case in cases]
    names = dict.fromkeys(name for case in cases for name in case.inputs)
    rows = []
    for name in names:
        texts = []
        for case, known in zip(cases, values, strict=True):
            item = case.inputs.get(name)
            unit = item.unit if item is not None and item.unit else None
            texts.append(show(known[name].magnitude, item.kind, unit, 5) if item is not None and name in known else "")
        if len(set(texts)) > 1:
            label = next((case.inputs[name].label for case in cases if name in case.inputs), "") or name
            rows.append(Given(label, tuple(texts)))
    first, *others = cases
    told = dict.fromkeys(what for other in others for what in changed_between(first, other) if what not in names)
    for what in told:
        marks = ["as the first" if what not in changed_between(first, other) else "different" for other in others]
        rows.append(Given(what, ("", *marks)))
    return rows
