"""Solving: drivers, linear solvers, convergence, progress events and checkpoints."""

from wattikos_core.solve.events import Cancel, Event, Listen, never_cancel, silent
from wattikos_core.solve.solution import Solution
from wattikos_core.solve.stages import TimeSettings
from wattikos_core.solve.start import initial_state, start_from
from wattikos_core.solve.steady import SolveSettings, solve_steady
from wattikos_core.solve.transient import Instant, TimeSolution, solve_in_time

__all__ = [
    "Cancel",
    "Event",
    "Instant",
    "Listen",
    "Solution",
    "SolveSettings",
    "TimeSettings",
    "TimeSolution",
    "initial_state",
    "never_cancel",
    "silent",
    "solve_in_time",
    "solve_steady",
    "start_from",
]
