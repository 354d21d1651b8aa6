"""Instants of runs, kept ready for the next question: runs are immutable, and reading asks many things of the same one."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import Any, Generic, TypeVar

import numpy as np
from django.http import Http404

from wattikos_core.case import Case, read_case
from wattikos_core.grid import Grid
from wattikos_core.physics.faces import Array
from wattikos_core.read import Instant, flow_fields, interpolant_of, unpack_frame, unpack_surfaces
from wattikos_core.read.interpolation import Interpolant
from wattikos_core.read.walls import StreamScales
from wattikos_core.solve.checkpoint import unpack_checkpoint
from wattikos_web.models import Run

# Cells of the grids, and values of the fields, that are kept: some 300 MB each.
_CELLS_KEPT, _VALUES_KEPT = 1_000_000, 40_000_000
_V = TypeVar("_V")


class Kept(Generic[_V]):
    """What was made last, up to a size of all together; the last one whatever its size."""

    def __init__(self, most: int) -> None:
        self._most, self._lock = most, Lock()
        self._made: OrderedDict[Any, tuple[_V, int]] = OrderedDict()

    def find(self, key: Any) -> _V | None:
        """What was made for a key, if it is still there."""
        with self._lock:
            if key not in self._made:
                return None
            self._made.move_to_end(key)
            return self._made[key][0]

    def keep(self, key: Any, made: _V, size: int) -> _V:
        """Keep it, and let go of what was asked for longest ago."""
        with self._lock:
            self._made[key] = made, size
            while len(self._made) > 1 and sum(kept for _, kept in self._made.values()) > self._most:
                self._made.popitem(last=False)
        return made


@dataclass(frozen=True)
class ReadRun:
    """What is read of a run, whatever the frame; `whole` once the run is over, and its scales are known."""

    case: Case
    between: Interpolant
    streams: dict[str, StreamScales]
    whole: bool


_runs: Kept[ReadRun] = Kept(_CELLS_KEPT)
_instants: Kept[Instant] = Kept(_VALUES_KEPT)


def read_run(run: Run) -> ReadRun:
    """The grid and the scales of a run; Http404 when it has no fields."""
    known = _runs.find(_key(run))
    if known is not None and (known.whole or not run.over):
        return known
    between = known.between if known is not None else interpolant_of(_grid_of(run))
    streams = {
        part: StreamScales(
            scales["entering"], float("nan") if scales["hydraulic_diameter"] is None else scales["hydraulic_diameter"]
        )
        for part, scales in run.summary.get("streams", {}).items()
    }
    return _runs.keep(_key(run), ReadRun(read_case(run.document), between, streams, run.over), between.grid.n_cells)


def _grid_of(run: Run) -> Grid:
    checkpoint = Run.objects.values_list("checkpoint", flat=True).get(pk=run.pk)
    if not checkpoint:
        raise Http404
    return unpack_checkpoint(bytes(checkpoint)).grid


def read_instant(run: Run, number: int | None) -> Instant:
    """The fields of a frame of a run, or of its last one; Http404 when there is none."""
    if number is None:
        number = run.frames.order_by("-number").values_list("number", flat=True).first()
    key = (*_key(run), number)
    known = _instants.find(key)
    if known is not None:
        return known
    between = read_run(run).between
    if number is None:
        return _keep(key, Instant(between, _without_frames(run)))
    data = run.frames.filter(number=number).values_list("data", flat=True).first()
    if data is not None:
        return _keep(key, Instant(between, unpack_frame(bytes(data)), unpack_surfaces(bytes(data))))
    raise Http404


def _keep(key: tuple[Any, ...], instant: Instant) -> Instant:
    # Each field has values in cells and, once it is asked for between them, at their corners.
    return _instants.keep(key, instant, 4 * len(instant.fields) * instant.grid.n_cells)


def _key(run: Run) -> tuple[Any, ...]:
    # A number may be given anew when a database is brought back.
    return run.pk, run.queued


def _without_frames(run: Run) -> dict[str, Array]:
    """Runs of before there were frames have their fields in the checkpoint."""
    former = unpack_checkpoint(bytes(Run.objects.values_list("checkpoint", flat=True).get(pk=run.pk) or b""))
    fluid = np.array(run.summary["fluid"])[former.grid.region]
    return {"temperature": former.state.stretched, **flow_fields(former.state, fluid)}
