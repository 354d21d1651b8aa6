"""`wattikos vary`: a series from the command line, by hand or solved, as a table."""

from __future__ import annotations

import argparse
import csv
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from wattikos_core.case import Case
from wattikos_core.case.series import SeriesWish, Varied
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.ledger import Key
from wattikos_core.quantities import KINDS, difference_from_si, from_si, unit_label

Row = list[str | float]


def add_command(commands: Any) -> argparse.ArgumentParser:
    """Add `vary` to the commands."""
    vary: argparse.ArgumentParser = commands.add_parser("vary", help="calculate or solve a case at many values of its inputs")
    vary.add_argument("case", type=Path, help="case document (JSON)")
    vary.add_argument(
        "--input", action="append", default=[], help="name=values, for example power=300,500,800W or 'speed=1..3 m/s : 5'"
    )
    vary.add_argument("--material", action="append", default=[], help="part=keys, for example plate=copper,aluminium")
    how = vary.add_mutually_exclusive_group()
    how.add_argument("--all", action="store_const", dest="how", const="all", help="all combinations (so unless said otherwise)")
    how.add_argument("--paired", action="store_const", dest="how", const="paired", help="row by row")
    how.add_argument("--hypercube", type=int, metavar="N", help="N points spread evenly between the ends of each")
    vary.add_argument("--table", type=Path, help="points from a table (CSV, XLSX) whose headings name inputs")
    vary.add_argument("--solve", action="store_true", help="solve the points; they are calculated by hand otherwise")
    vary.add_argument("--processes", type=int, default=2, help="how many points are solved at a time")
    vary.add_argument("-o", "--out", type=Path, help="write the table to this file (CSV, XLSX) instead of the output")
    vary.add_argument("--quiet", action="store_true", help="print no progress")
    return vary


def wish_of(case: Case, options: argparse.Namespace) -> SeriesWish:
    """What is varied: as the options say, or as the case itself wishes.

    Raises:
        CaseError: an option that is no `name=values`, a table that cannot be read.
    """
    if options.table is not None:
        from wattikos_core.formats import read_points

        try:
            content = options.table.read_bytes()
        except OSError as error:
            problem = InputProblem("--table", f"{options.table} cannot be read ({error})", "give the path of a table")
            raise CaseError(problem) from error
        return SeriesWish(varied=read_points(options.table.name, content, case), how="paired")
    varied = [Varied(input=name, values=values) for name, values in map(_split, options.input)]
    varied += [Varied(material_of=name, values=values) for name, values in map(_split, options.material)]
    if not varied:
        return case.series
    how = "hypercube" if options.hypercube else options.how or "all"
    return SeriesWish.model_validate({"varied": varied, "how": how, "count": options.hypercube or 20})


def _split(text: str) -> tuple[str, str]:
    name, sign, values = text.partition("=")
    if not sign:
        raise CaseError(InputProblem("--input", f"'{text}' is no name=values", "write for example power=300,500,800W"))
    return name.strip(), values


def vary(case: Case, options: argparse.Namespace) -> bool:
    """Carry the series out and write its table; whether all points came to something.

    Raises:
        CaseError: what is varied makes no sense.
    """
    from wattikos_core.studies.series import by_hand, name_of, points_of
    from wattikos_core.studies.series_solving import solve_points

    wish = wish_of(case, options)
    points = points_of(case, wish)
    found: list[tuple[dict[Key, float], dict[Key, float], str]] = [({}, {}, "") for _ in points]
    if options.solve:
        for done, point in enumerate(solve_points(case, wish.varied, points, processes=max(options.processes, 1)), 1):
            found[point.number] = point.values, point.plus_minus, point.problem
            if not options.quiet:
                print(f"{done} of {len(points)} solved, point {point.number + 1} in {point.seconds:.1f} s", file=sys.stderr)
    else:
        found = [(point.values, {}, point.problem) for point in by_hand(case, wish.varied, points)]
    wanted = [wish.key for wish in case.wanted]
    there = list(dict.fromkeys(key for values, _, _ in found for key in values))
    keys = wish.keys or [key for key in wanted if key in there] or there
    titles = ["point", *(name_of(one) for one in wish.varied), *(title for key in keys for title in _titles(key)), "problem"]
    rows = [
        [number, *values, *(cell for key in keys for cell in _cells(key, at, spread)), problem]
        for number, (values, (at, spread, problem)) in enumerate(zip(points, found, strict=True), 1)
    ]
    _write(options.out, titles, rows)
    return not any(problem for _, _, problem in found)


def _titles(key: Key) -> tuple[str, str]:
    unit = unit_label(KINDS[key.kind].unit)
    return f"{key.label} ({unit})" if unit else key.label, "±"


def _cells(key: Key, values: dict[Key, float], spread: dict[Key, float]) -> Row:
    unit = KINDS[key.kind].unit
    value = from_si(values[key], unit, key.kind) if key in values else ""
    wide = difference_from_si(spread[key], unit, key.kind) if key in spread else ""
    return [value, wide]


def _write(path: Path | None, titles: list[str], rows: Sequence[Row]) -> None:
    if path is not None and path.suffix.lower() == ".xlsx":
        from wattikos_core.formats import Sheet, workbook_bytes

        path.write_bytes(workbook_bytes([Sheet("series", titles, [list(row) for row in rows])]))
        return
    everything: list[Sequence[str | float]] = [titles, *rows]
    written = [[f"{cell:.8g}" if isinstance(cell, float) else cell for cell in row] for row in everything]
    if path is None:
        csv.writer(sys.stdout).writerows(written)
    else:
        with path.open("w", newline="") as file:
            csv.writer(file).writerows(written)
