"""Tables as a workbook (Office Open XML), through openpyxl."""

from __future__ import annotations

import io
import re
from collections.abc import Sequence
from dataclasses import dataclass

Cell = str | float | int | None

# What a sheet may not be called, and how long a name may be.
_FORBIDDEN = re.compile(r"[\[\]:*?/\\\x00-\x1f\ud800-\udfff\ufffe\uffff]")
_LONGEST_NAME = 31
_WIDEST = 60


@dataclass(frozen=True)
class Sheet:
    """A table with its heading.

    Attributes:
        columns: names, with units in brackets.
        rows: numbers stay numbers.
    """

    name: str
    columns: Sequence[str]
    rows: Sequence[Sequence[Cell]]


def workbook_bytes(sheets: Sequence[Sheet]) -> bytes:
    """A workbook with the tables, headings kept in view and columns as wide as what stands in them.

    Example:
        >>> workbook_bytes([Sheet("ledger", ["quantity", "W"], [["duty", 980.1]])])[:2]
        b'PK'
    """
    import openpyxl
    from openpyxl.styles import Font
    from openpyxl.utils import get_column_letter

    book = openpyxl.Workbook()
    book.remove(book.worksheets[0])
    for sheet in sheets:
        page = book.create_sheet(_FORBIDDEN.sub(" ", sheet.name)[:_LONGEST_NAME] or "table")
        page.append([_plain(name) for name in sheet.columns])
        for cell in page[1]:
            cell.font = Font(bold=True)
        for row in sheet.rows:
            page.append([_plain(value) for value in row])
        page.freeze_panes = "A2"
        for index, column in enumerate(page.iter_cols(), start=1):
            longest = max((len(str(cell.value)) for cell in column if cell.value is not None), default=0)
            page.column_dimensions[get_column_letter(index)].width = min(longest + 2, _WIDEST)
    buffer = io.BytesIO()
    book.save(buffer)
    return buffer.getvalue()


def _plain(value: Cell) -> Cell:
    """Text that a spreadsheet would take for a formula stays text."""
    from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE

    if not isinstance(value, str):
        return value
    clean = ILLEGAL_CHARACTERS_RE.sub("", value)
    return f"'{clean}" if clean.startswith("=") else clean
