"""Searches over cases: sizing one input for one wanted quantity, and varying one by hand."""

from wattikos_core.search.sizing import SizingResult, SizingTask, Trial, read_task, size_case
from wattikos_core.search.vary import vary_by_hand

__all__ = ["SizingResult", "SizingTask", "Trial", "read_task", "size_case", "vary_by_hand"]
