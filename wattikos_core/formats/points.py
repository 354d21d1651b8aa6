"""Points of a series from a table: a column for each input, headed by its name or label, with a unit in brackets or without."""

from __future__ import annotations

import csv
import io
import re
from typing import Any

from wattikos_core.case.document import Case
from wattikos_core.case.series import MOST_VARIED, Varied
from wattikos_core.errors import CaseError, InputProblem

_HEADING = re.compile(r"\s*(?P<name>.*?)\s*(?:[\[(](?P<unit>[^\])]*(?:\([^)]*\))?[^\])]*)[\])])?\s*\Z")
_NUMBER = re.compile(r"\s*[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?\s*\Z")
_MOST_ROWS = 10_000


def read_points(name: str, content: bytes, case: Case) -> list[Varied]:
    """What a table varies, row by row.

    Args:
        name: of the file; `.xlsx` is read as a workbook (its first sheet), all else as text with tabs, semicolons or commas.
        content: of the file.
        case: whose inputs and parts the headings name.

    Raises:
        CaseError: no rows, a heading that names nothing, a gap in a column.
    """
    rows = _workbook(name, content) if name.lower().endswith(".xlsx") else _text(name, content)
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    if len(rows) < 2:
        raise CaseError(InputProblem("file", f"'{name}' has {len(rows)} rows", "give a row of headings, and one for each point"))
    if len(rows) > _MOST_ROWS + 1:
        raise CaseError(InputProblem("file", f"'{name}' has {len(rows) - 1:,} points", f"{_MOST_ROWS:,} are the most"))
    headings = [cell for cell in rows[0] if cell.strip()]
    if len(headings) > MOST_VARIED:
        raise CaseError(InputProblem("file", f"'{name}' has {len(headings)} columns", f"{MOST_VARIED} can be varied at a time"))
    return [_column(case, name, heading, i, rows[1:]) for i, heading in enumerate(rows[0]) if heading.strip()]


def _column(case: Case, name: str, heading: str, index: int, rows: list[list[str]]) -> Varied:
    match = _HEADING.match(heading)
    assert match is not None
    words, unit = match["name"], (match["unit"] or "").strip()
    labels = {item.label.lower(): key for key, item in case.inputs.items() if item.label}
    parts = {f"material of {part.name}".lower(): part.name for part in case.section.parts}
    target = words if words in case.inputs else labels.get(words.lower()) or labels.get(heading.strip().lower())
    part = parts.get(words.lower(), "")
    if not target and not part:
        remedy = f"head columns by inputs ({', '.join(case.inputs)}) or 'material of' a part"
        raise CaseError(InputProblem("file", f"'{name}': there is no input '{words}'", remedy))
    values = [row[index].strip() if index < len(row) else "" for row in rows]
    if "" in values:
        problem = f"'{name}': '{words}' has no value in row {values.index('') + 2}"
        raise CaseError(InputProblem("file", problem, "give a value in every row"))
    written = [f"{value} {unit}" if unit and _NUMBER.match(value) else value for value in values]
    return Varied(input=target or "", material_of="" if target else part, values=", ".join(written))


def _text(name: str, content: bytes) -> list[list[str]]:
    text = content.decode("utf-8-sig", errors="replace").replace("\r\n", "\n").replace("\r", "\n")
    first = text.partition("\n")[0]
    delimiter = next((sign for sign in "\t;" if sign in first), ",")
    try:
        return list(csv.reader(io.StringIO(text), delimiter=delimiter))
    except csv.Error as error:
        raise CaseError(
            InputProblem("file", f"'{name}' is no table ({error})", "give rows of values with commas between")
        ) from error


def _workbook(name: str, content: bytes) -> list[list[str]]:
    from openpyxl import load_workbook

    try:
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        rows = [[_written(cell) for cell in row] for row in book.worksheets[0].iter_rows(values_only=True)]
    except Exception as error:  # openpyxl passes on whatever zip, XML and number parsers raise
        raise CaseError(InputProblem("file", f"'{name}' is no workbook", "save it as .xlsx or CSV")) from error
    return rows


def _written(cell: Any) -> str:
    if cell is None:
        return ""
    return f"{cell:.12g}" if isinstance(cell, int | float) and not isinstance(cell, bool) else str(cell)
