"""Values over a position from a text file, for conditions that vary along a boundary."""

from __future__ import annotations

import numpy as np

from wattikos_core.case.document import Table
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.formats.outlines import read_columns


def read_table(name: str, content: bytes, unit: str = "m", value_unit: str = "") -> Table:
    """A table of two columns, sorted by position.

    Raises:
        CaseError: fewer than two rows, a position twice, or a row that is no pair of numbers.
    """
    blocks = read_columns(name, content)
    rows = np.concatenate(blocks) if blocks else np.zeros((0, 2))
    if len(rows) < 2:
        raise CaseError(InputProblem("file", f"'{name}' has {len(rows)} rows", "give at least two: position, value"))
    rows = rows[np.argsort(rows[:, 0], kind="stable")]
    same = np.nonzero(np.diff(rows[:, 0]) == 0.0)[0]
    if same.size:
        raise CaseError(
            InputProblem("file", f"'{name}' has the position {rows[same[0], 0]:g} twice", "leave one value for each position")
        )
    return Table(unit=unit, value_unit=value_unit, rows=rows.tolist())
