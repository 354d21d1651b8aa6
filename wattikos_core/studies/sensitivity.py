"""How much a quantity answers to each input: by hand, by central differences."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from wattikos_core.case import Case, evaluate_inputs
from wattikos_core.case.series import Varied
from wattikos_core.ledger import Key
from wattikos_core.quantities import KINDS, from_si, parse_literal
from wattikos_core.studies.series import by_hand

# Inputs are moved by this share of themselves, temperatures by so many K.
_SHARE, _KELVIN = 0.01, 1.0
_DIGITS = 12


@dataclass(frozen=True)
class Sensitivity:
    """How a quantity answers to an input.

    Attributes:
        slope: change of the quantity over that of the input, SI.
        elasticity: in % per %; None of temperatures, whose zero means nothing.
        step: by how much more of the input `per_step` (SI) is brought: 1 %, 1 K, or one more of what is counted.
    """

    input: str
    slope: float
    elasticity: float | None
    step: Literal["percent", "kelvin", "one"]
    per_step: float


def sensitivities(case: Case, key: Key) -> list[Sensitivity]:
    """How a quantity answers to every input that is a number of its own, the strongest answer first; by hand.

    Inputs that it does not answer to, and those around which it has no value, are left out.

    Example:
        >>> from wattikos_core.case import starter_case
        >>> strongest = sensitivities(starter_case("plate_passage"), Key("effectiveness"))[0]
        >>> strongest.elasticity != 0.0
        True
    """
    values, problems = evaluate_inputs(case)
    if problems:
        return []
    found = []
    middle = by_hand(case, [], [()])[0].values.get(key)
    if middle is None:
        return []
    for name, item in case.inputs.items():
        if parse_literal(item.value, item.kind) is None:
            continue
        at = values[name].magnitude
        counted = item.kind == "number" and at == round(at) and at > 1.0
        of: Literal["percent", "kelvin", "one"] = "one" if counted else "kelvin" if item.kind == "temperature" else "percent"
        step = {"one": 1.0, "kelvin": _KELVIN, "percent": _SHARE * abs(at)}[of]
        if step == 0.0:
            continue
        unit = item.unit or KINDS[item.kind].unit
        texts = [(f"{from_si(x, unit, item.kind):.{_DIGITS}g} {unit}".strip(),) for x in (at - step, at + step)]
        low, high = (point.values.get(key) for point in by_hand(case, [Varied(input=name)], texts))
        if low is None or high is None or low == high:
            continue
        slope = (high - low) / (2.0 * step)
        absolute = "temperature" in (item.kind, key.kind)
        elasticity = None if absolute or middle == 0.0 else slope * at / middle
        found.append(Sensitivity(name, slope, elasticity, of, slope * step))
    return sorted(found, key=lambda one: -abs(one.per_step))


def of_points(
    places: np.ndarray, values: Sequence[float | None], names: Sequence[str], kinds: Mapping[str, str]
) -> dict[str, float]:
    """Slopes of a quantity that was solved at points, SI: those of the plane of least squares through them.

    Args:
        places: shape (n_points, n_varied), SI.
        values: of the quantity, one for each point; None where there is none.
        names: of what is varied.
        kinds: of those that are quantities; the others have no slope.

    Example:
        >>> of_points(np.array([[0.0], [1.0], [2.0]]), [1.0, 3.0, 5.0], ["gap"], {"gap": "length"})["gap"]
        2.0
    """
    known = [i for i, value in enumerate(values) if value is not None and np.isfinite(places[i]).all()]
    columns = [i for i, name in enumerate(names) if name in kinds and np.ptp(places[known, i]) > 0.0] if known else []
    if len(known) < len(columns) + 1 or not columns:
        return {}
    x = places[np.ix_(known, columns)]
    span = np.ptp(x, axis=0)
    matrix = np.column_stack([np.ones(len(known)), (x - x.mean(axis=0)) / span])
    slopes = np.linalg.lstsq(matrix, np.array([values[i] for i in known], dtype=float), rcond=None)[0][1:] / span
    return {names[column]: float(round(slope, 12)) for column, slope in zip(columns, slopes, strict=True)}
