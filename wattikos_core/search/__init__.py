"""Searches over cases: sizing one input for one wanted quantity."""

from wattikos_core.search.sizing import SizingResult, SizingTask, Trial, read_task, size_case

__all__ = ["SizingResult", "SizingTask", "Trial", "read_task", "size_case"]
