"""Instants of solved cases, as they are read."""

from __future__ import annotations

from wattikos_core.read import Instant, cell_fields, interpolant_of, surface_fields
from wattikos_core.read.walls import StreamScales, stream_scales
from wattikos_core.studies import Result


def instant_of(run: Result) -> Instant:
    """The last state of a run."""
    at = run.problem, run.solution.state, run.evaluation
    return Instant(interpolant_of(run.problem.grid), cell_fields(*at), surface_fields(*at))


def scales_of(run: Result) -> dict[str, StreamScales]:
    """Its streams' scales."""
    return stream_scales(run.problem, run.evaluation, run.solution.state.periodicity)
