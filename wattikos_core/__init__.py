"""Wattikos: the computation. No Django, no HTTP; each room is a package with one obvious entry point.

From Python, begin with `wattikos_core.open`; see `wattikos_core.scripting`.
"""

from __future__ import annotations

import os
from typing import TYPE_CHECKING, Any

# NumPy's vectors are short here: more threads than one only stand in the way of those that factor matrices.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

if TYPE_CHECKING:
    from wattikos_core.scripting import open_case as open

__all__ = ["open"]


def __getattr__(name: str) -> Any:
    """`open`, loaded when it is first asked for: all rooms import this one."""
    if name == "open":
        from wattikos_core.scripting import open_case

        return open_case
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
