"""What can be done with a case: solved steady or in time, sized, varied. `prepare` comes first in all of them."""

from wattikos_core.studies.grid_study import GridStudy, StudiedGrid, study_grids
from wattikos_core.studies.gridding import fineness_of, grid_of
from wattikos_core.studies.in_time import Frame, OnFrame
from wattikos_core.studies.optimising import Optimum, optimise
from wattikos_core.studies.preparation import Draft, Prepared, draft, estimate_ledger, prepare
from wattikos_core.studies.result import FieldSolution, Result
from wattikos_core.studies.size import Tried, size
from wattikos_core.studies.sizing import SizingResult, size_case
from wattikos_core.studies.sizing_task import SizingTask, key_written, read_task, with_input
from wattikos_core.studies.sizing_wish import read_wish
from wattikos_core.studies.solving import solve_case

__all__ = [
    "Draft",
    "FieldSolution",
    "Frame",
    "GridStudy",
    "OnFrame",
    "Optimum",
    "Prepared",
    "Result",
    "SizingResult",
    "SizingTask",
    "StudiedGrid",
    "Tried",
    "draft",
    "estimate_ledger",
    "fineness_of",
    "grid_of",
    "key_written",
    "optimise",
    "prepare",
    "read_task",
    "read_wish",
    "size",
    "size_case",
    "solve_case",
    "study_grids",
    "with_input",
]
