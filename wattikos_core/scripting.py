"""Cases from Python: opened, given other values, calculated by hand, solved, varied and sized; results as tables and fields.

Everything the desk and the command line do goes through the same functions. Tables are pandas frames in the units people read, with
the unit beside or in the heading; fields are xarray datasets in SI.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

from wattikos_core.case import STARTERS, Case, case_from_json, read_case, starter_case
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.case.sizing import AimWish, ChosenWish, SizingWish
from wattikos_core.case.wanted import Wanted
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.evidence import Finding, LedgerRow
from wattikos_core.ledger import Key
from wattikos_core.quantities import KINDS, difference_from_si, from_si, unit_label
from wattikos_core.solve import Listen, silent
from wattikos_core.studies import Optimum, Result, SizingResult, Tried, estimate_ledger, key_written, size, solve_case
from wattikos_core.studies.optimising import in_words
from wattikos_core.studies.series import by_hand, case_at, name_of, points_of
from wattikos_core.studies.series_solving import solve_points
from wattikos_core.studies.sizing_text import aim_written, chosen_written, goal_written, rows_written

if TYPE_CHECKING:
    import pandas
    import xarray


def open_case(what: str | Path | Mapping[str, Any] | Case) -> OpenCase:
    """A case to work with: from a file, the key of a starter, or a document.

    Raises:
        CaseError: no such file or starter, or a document that makes no sense.

    Example:
        >>> open_case("plate_passage").given(length="900 mm").inputs.loc["length", "value"]
        '900 mm'
    """
    if isinstance(what, Case):
        return OpenCase(what)
    if isinstance(what, Mapping):
        return OpenCase(read_case(dict(what)))
    if str(what) in STARTERS:
        return OpenCase(starter_case(str(what)))
    try:
        text = Path(what).read_text(encoding="utf-8")
    except OSError as error:
        remedy = f"give the path of a case, or the key of a starter: {', '.join(STARTERS)}"
        raise CaseError(InputProblem("case", f"'{what}' cannot be read ({error})", remedy)) from error
    return OpenCase(case_from_json(text))


@dataclass(frozen=True)
class OpenCase:
    """A case as it stands; what changes it gives another one."""

    case: Case

    def given(self, **inputs: str | float) -> OpenCase:
        """The case with other values of inputs: with a unit as text (`length="900 mm"`), or as numbers in the input's own unit.

        Raises:
            CaseError: no such input, or a value that is none.
        """
        changed = self.case
        for name, value in inputs.items():
            if name not in changed.inputs:
                remedy = f"choose one of {', '.join(changed.inputs)}"
                raise CaseError(InputProblem("inputs", f"there is no input '{name}'", remedy))
            unit = unit_label(changed.inputs[name].unit)
            text = value if isinstance(value, str) else f"{value:.12g} {unit}".strip()
            changed = case_at(changed, [Varied(input=name)], (text,))
        return OpenCase(read_case(changed.model_dump(mode="json")))

    def made_of(self, **materials: str) -> OpenCase:
        """The case with parts of other materials, by their keys."""
        parts = {part.name for part in self.case.section.parts}
        for part in materials:
            if part not in parts:
                raise CaseError(InputProblem("section.parts", f"there is no part '{part}'", f"choose one of {', '.join(parts)}"))
        changed = case_at(self.case, [Varied(material_of=part) for part in materials], list(materials.values()))
        return OpenCase(changed)

    def fineness(self, value: float) -> OpenCase:
        """The case with another fineness of its grid; 1 is the usual one, 2 has half the cell size."""
        return OpenCase(self.case.model_copy(update={"grid": self.case.grid.model_copy(update={"fineness": value, "cells": None})}))

    def with_grid_check(self, wanted: bool = True) -> OpenCase:
        """The case with two coarser grids solved beside its own, for the Grid ± of each quantity."""
        return OpenCase(self.case.model_copy(update={"solve": self.case.solve.model_copy(update={"grid_check": wanted})}))

    @property
    def inputs(self) -> pandas.DataFrame:
        """The inputs by name: value, kind, label, bounds."""
        import pandas

        rows = [item.model_dump(include={"value", "kind", "label", "lower", "upper"}) for item in self.case.inputs.values()]
        return pandas.DataFrame(rows, index=pandas.Index(self.case.inputs, name="input"))

    def estimate(self) -> pandas.DataFrame:
        """The hand calculation: a row for each quantity, in the units people read."""
        return _ledger_frame(estimate_ledger(self.case))

    def solve(self, *, start: Solved | None = None, listen: Listen = silent) -> Solved:
        """The field solution; `start` is one of a similar case to begin from.

        Raises:
            CaseError: the case cannot be solved as it stands.
            SolveError: the solve came to nothing.
        """
        return Solved(solve_case(self.case, start=start.result.solution.checkpoint() if start else None, listen=listen))

    def vary(
        self,
        inputs: Mapping[str, str] | None = None,
        *,
        materials: Mapping[str, str] | None = None,
        how: Literal["all", "paired", "hypercube"] = "all",
        count: int = 20,
        solve: bool = False,
        processes: int = 1,
    ) -> pandas.DataFrame:
        """A series: a row for each point, by hand or solved, in the units people read.

        Args:
            inputs: values by name, as `"400, 600 mm"` or `"1..3 m/s : 5"`; those of the case's own series where nothing is given.
            materials: keys of materials by part.
            how: all combinations, row by row, or a Latin hypercube of `count` points.
            count: of points of a hypercube.
            solve: whether points are solved.
            processes: how many points are solved at a time.
        """
        import pandas

        varied = [Varied(input=name, values=values) for name, values in (inputs or {}).items()]
        varied += [Varied(material_of=part, values=values) for part, values in (materials or {}).items()]
        wish = SeriesWish(varied=varied, how=how, count=count) if varied else self.case.series
        points = points_of(self.case, wish)
        found: list[tuple[dict[Key, float], dict[Key, float], str]] = [({}, {}, "") for _ in points]
        if solve:
            for one in solve_points(self.case, wish.varied, points, processes=processes):
                found[one.number] = one.values, one.plus_minus, one.problem
        else:
            found = [(one.values, {}, one.problem) for one in by_hand(self.case, wish.varied, points)]
        keys = list(dict.fromkeys(key for values, _, _ in found for key in values))
        columns: dict[str, list[Any]] = {name_of(one): [values[i] for values in points] for i, one in enumerate(wish.varied)}
        for key in keys:
            columns[_heading(key)] = [_read(values.get(key), key) for values, _, _ in found]
            if any(key in spread for _, spread, _ in found):
                columns[f"± {_heading(key)}"] = [_difference(spread.get(key), key) for _, spread, _ in found]
        columns["problem"] = [problem for _, _, problem in found]
        return pandas.DataFrame(columns, index=pandas.RangeIndex(1, len(points) + 1, name="point"))

    def size(
        self,
        choose: Mapping[str, str] | Sequence[str] = (),
        want: Sequence[str] = (),
        *,
        rows: Sequence[str] = (),
        minimise: str = "",
        maximise: str = "",
        listen: Listen = silent,
    ) -> Sized:
        """A sizing: that of the case, or what is said instead.

        Args:
            choose: inputs, with their bounds (`{"length": "0.3..2 m"}`); bounds of the case where they are empty.
            want: goals, as `"effectiveness >= 0.8"` or `"hot pressure drop <= 15 Pa"`.
            rows: values to choose from, as `"bore=16,20 mm; wall=1,1.5 mm"`.
            minimise: what is to be least: a quantity, or an expression in inputs and quantities.
            maximise: what is to be most.
            listen: told of every step.
        """
        texts = [f"{name}={bounds}" for name, bounds in choose.items()] if isinstance(choose, Mapping) else list(choose)
        chosen: list[ChosenWish] = [chosen_written(self.case, text) for text in texts] + [rows_written(text) for text in rows]
        goals: list[Wanted] = [goal_written(self.case, text) for text in want]
        aim: AimWish | None = aim_written(self.case, minimise, maximise)
        wish = SizingWish(chosen=chosen, goals=goals, aim=aim) if chosen or goals or aim else self.case.sizing
        trials: list[Tried] = []
        return Sized(size(self.case, wish, listen=listen, on_trial=trials.append), trials)

    def save(self, path: str | Path) -> None:
        """Write the document as JSON."""
        Path(path).write_text(json.dumps(self.case.model_dump(mode="json"), indent=2) + "\n", encoding="utf-8")


@dataclass(frozen=True)
class Solved:
    """A field solution."""

    result: Result

    @property
    def ledger(self) -> pandas.DataFrame:
        """All quantities: wanted, by hand, solved, Grid ±, verdict; in the units people read."""
        return _ledger_frame(self.result.ledger)

    def value(self, name: str, unit: str = "") -> float:
        """A solved quantity as it is written, SI, or in a unit (`"degC"`); KeyError where it was not solved."""
        key = next((row.key for row in self.result.ledger if row.name == name), None)
        value = self.result.value(key if key is not None else name)
        return from_si(value, unit, key.kind) if unit and key is not None else value

    @property
    def converged(self) -> bool:
        """Whether the solution has met its tolerance."""
        return bool(self.result.solution.converged)

    @property
    def findings(self) -> list[Finding]:
        """What is to be looked at."""
        return self.result.findings

    @property
    def fields(self) -> xarray.Dataset:
        """The fields on the cells: coordinates x and y (m) of their middles, their part and volume (m3); values in SI."""
        import numpy as np
        import xarray

        from wattikos_core.read import cell_fields

        problem = self.result.problem
        grid = problem.grid
        fields = cell_fields(problem, self.result.solution.state, self.result.evaluation)
        parts = np.array(grid.region_names)[grid.region]
        return xarray.Dataset(
            {name.replace(" ", "_"): ("cell", values) for name, values in fields.items()},
            coords={
                "x": ("cell", grid.centre[:, 0], {"units": "m"}),
                "y": ("cell", grid.centre[:, 1], {"units": "m"}),
                "part": ("cell", parts),
                "volume": ("cell", grid.volume, {"units": "m^3"}),
            },
            attrs={"title": self.result.case.title},
        )

    def write_report(self, path: str | Path, company: str = "") -> None:
        """Write the report of the case with this solution, as .html or .docx."""
        from wattikos_core.report import ReportData, docx_of, html_of, report_of, solved_data

        document = report_of(ReportData(self.result.case, solved_data(self.result), company=company))
        if Path(path).suffix.lower() == ".docx":
            Path(path).write_bytes(docx_of(document))
        else:
            Path(path).write_text(html_of(document), encoding="utf-8")

    def write_vtu(self, path: str | Path) -> None:
        """Write grid and fields as a VTU file."""
        from wattikos_core.formats import write_vtu
        from wattikos_core.read import cell_fields

        result = self.result
        write_vtu(Path(path), result.problem.grid, cell_fields(result.problem, result.solution.state, result.evaluation))


@dataclass(frozen=True)
class Sized:
    """What a sizing came to."""

    found: SizingResult | Optimum
    tried: list[Tried]

    @property
    def met(self) -> bool:
        """Whether all goals are met."""
        return self.found.outcome == "met"

    @property
    def text(self) -> str:
        """The answer in words."""
        return self.found.text

    @property
    def suggestions(self) -> list[str]:
        """What would let the goals be met, where they are not; how each is kept, where they are."""
        if isinstance(self.found, Optimum) and self.met:
            return [in_words(margin, self.found.search.aims[0], self.found.aim) for margin in self.found.margins]
        return self.found.suggestions

    @property
    def case(self) -> OpenCase:
        """The case with what was found."""
        return OpenCase(self.found.case)

    @property
    def solved(self) -> Solved:
        """Its field solution."""
        return Solved(self.found.run)

    @property
    def trials(self) -> pandas.DataFrame:
        """What was tried: each quantity by hand and solved, in the units people read."""
        import pandas

        rows = []
        for one in self.tried:
            row: dict[str, Any] = {f"value {i + 1}": text for i, text in enumerate(one.values)}
            for key, hand, solved in zip(one.keys, one.hand, one.solved, strict=True):
                row |= {f"{_heading(key)}, by hand": _read(hand, key), f"{_heading(key)}, solved": _read(solved, key)}
            rows.append(row)
        return pandas.DataFrame(rows, index=pandas.RangeIndex(1, len(rows) + 1, name="trial"))


def key_of(case: OpenCase, name: str) -> Key:
    """The key of a quantity as it is written; CaseError with those most like it where there is none."""
    return key_written(case.case, name)


def _ledger_frame(rows: Sequence[LedgerRow]) -> pandas.DataFrame:
    import pandas

    table = [
        {
            "unit": unit_label(KINDS[row.kind].unit),
            "wanted": _read(row.target, row.key),
            "by hand": _read(row.hand.value if row.hand is not None else None, row.key),
            "solved": _read(row.solved, row.key),
            "grid ±": _difference(row.plus_minus, row.key),
            "verdict": row.verdict,
        }
        for row in rows
    ]
    return pandas.DataFrame(table, index=pandas.Index([row.name for row in rows], name="quantity"))


def _heading(key: Key) -> str:
    unit = unit_label(KINDS[key.kind].unit)
    return f"{key.label} ({unit})" if unit else key.label


def _read(value: float | None, key: Key) -> float:
    return float("nan") if value is None else from_si(value, KINDS[key.kind].unit, key.kind)


def _difference(value: float | None, key: Key) -> float:
    return float("nan") if value is None else difference_from_si(value, KINDS[key.kind].unit, key.kind)
