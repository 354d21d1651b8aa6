"""Solving: drivers, linear solvers, convergence, progress events and checkpoints."""

from wattikos_core.solve.events import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.solve.state import Solution, State, start_from
from wattikos_core.solve.steady import SolveSettings, solve_steady

__all__ = [
    "Cancel",
    "Event",
    "Listen",
    "Solution",
    "SolveSettings",
    "State",
    "never_cancel",
    "silent",
    "solve_steady",
    "start_from",
]
