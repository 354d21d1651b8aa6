"""The worker: claims queued runs, executes them on Dask, writes what comes back.

Its writes are short and rare: progress a few times a second, results once. A run whose worker has died has an old
heartbeat; any worker puts it back into the queue. An error belongs to the run it came with: nothing that one run, a full
disk or a locked database does ends the worker, and what could not be written is written when it can be.
"""

from __future__ import annotations

import logging
import math
import os
import queue
import socket
import time
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

from django.db import DatabaseError, OperationalError, close_old_connections, transaction
from django.utils import timezone

from wattikos_web.models import CaseRecord, Frame, Run, WorkerState
from wattikos_web.series import begin_from, beginning_of, starts_of, stored_twin, take_over
from wattikos_web.worker.engine import Engine

HEARTBEAT = 2.0
DEAD_AFTER = timedelta(seconds=12)
MOST_ATTEMPTS = 3
_WRITE_EVERY = 0.25
_IDLE = 0.1
_LONGEST_PAUSE = 10.0
_SILENT_FOR = timedelta(minutes=10)
_log = logging.getLogger(__name__)


@dataclass
class _Active:
    """A run being executed, and what it has told so far."""

    future: Any
    messages: queue.SimpleQueue[dict[str, Any]]
    background: bool = False
    history: list[dict[str, Any]] = field(default_factory=list)
    trials: list[dict[str, Any]] = field(default_factory=list)
    grids: list[dict[str, Any]] = field(default_factory=list)
    frames: list[dict[str, Any]] = field(default_factory=list)
    stored: int = 0
    progress: dict[str, Any] = field(default_factory=dict)
    changed: bool = False
    written: float = 0.0
    asked: bool = False
    # It is to give its place to a run that somebody waits for, and to begin again later.
    yields: bool = False


class WorkerLoop:
    """Claims and executes until told to end."""

    def __init__(self, engine: Engine, at_once: int = 2) -> None:
        self.engine = engine
        self.at_once = at_once
        self.active: dict[int, _Active] = {}
        self.ending = False
        self.name = f"{socket.gethostname()}:{os.getpid()}:{id(self)}"[-100:]
        self._beat = 0.0
        self._pause = 0.0

    def run_forever(self) -> None:
        """Work until `ending` is set; then give back what is unfinished."""
        while not self.ending:
            self.tick()
            time.sleep(self._pause or (_IDLE if not self.active else 0.03))
        try:
            self.give_back()
        except DatabaseError:
            # Their heartbeats grow old: the next worker finds them.
            _log.exception("the runs at hand could not be given back")

    def tick(self) -> None:
        """One round: claim, listen, write, collect; a database that refuses is asked again, after growing pauses."""
        try:
            close_old_connections()
            self._round()
            self._pause = 0.0
        except DatabaseError as error:
            self._pause = min(max(2.0 * self._pause, 0.25), _LONGEST_PAUSE)
            _log.warning("the database refuses (%s); trying again in %.2g s", error, self._pause)

    def _round(self) -> None:
        now = time.monotonic()
        if now - self._beat > HEARTBEAT:
            self._beat = now
            self.requeue_lost()
            Run.objects.filter(pk__in=list(self.active)).update(heartbeat=timezone.now())
            WorkerState.objects.update_or_create(name=self.name, defaults={"beat": timezone.now()})
            WorkerState.objects.filter(beat__lt=timezone.now() - _SILENT_FOR).delete()
            CaseRecord.forget_deleted()
            self.engine.keep_alive()
        if len(self.active) < self.at_once:
            self._claim()
        else:
            self._make_room()
        for pk in list(self.active):
            try:
                self._attend(pk, self.active[pk])
            except OperationalError:
                raise
            except Exception as error:  # an error of one run is its own
                _log.exception("run %s", pk)
                self.engine.ask_to_stop(pk)
                self._drop(pk)
                Run.objects.filter(pk=pk).update(state=Run.State.FAILED, finished=timezone.now(), failure=_lost(error))

    def requeue_lost(self) -> None:
        """Put runs whose worker is gone back into the queue, a few times at most."""
        lost = Run.objects.filter(state=Run.State.RUNNING, heartbeat__lt=timezone.now() - DEAD_AFTER).exclude(
            pk__in=list(self.active)
        )
        lost.filter(attempts__gte=MOST_ATTEMPTS).update(
            state=Run.State.FAILED,
            finished=timezone.now(),
            failure={"field": "solve", "problem": "the solver process was lost several times", "remedy": "try a coarser grid"},
        )
        lost.filter(attempts__lt=MOST_ATTEMPTS).update(state=Run.State.QUEUED, progress={"stage": "queued again after a restart"})

    def give_back(self) -> None:
        """Put the runs at hand back into the queue; they were not at fault."""
        for pk, active in self.active.items():
            active.future.cancel()
            Run.objects.filter(pk=pk, state=Run.State.RUNNING).update(
                state=Run.State.QUEUED, progress={"stage": "queued again after a restart"}
            )
        self.active.clear()

    def _claim(self) -> None:
        first = Run.objects.filter(state=Run.State.QUEUED).order_by("background", "id").values_list("pk", flat=True).first()
        if first is None:
            return
        with transaction.atomic():
            # It may have been stopped or deleted since.
            run = Run.objects.select_related("warm_start", "case__project").filter(pk=first, state=Run.State.QUEUED).first()
            if run is None:
                return
            twin = stored_twin(run)
            if twin is not None:
                take_over(run, twin)
                return
            if run.kind == Run.Kind.POINT.value and run.warm_start is None:
                begin_from(run, starts_of(run))
            run.state = Run.State.RUNNING
            run.started = run.heartbeat = timezone.now()
            run.attempts += 1
            run.progress = {"stage": "starting", "fraction": 0.0}
            run.history = []
            run.save(update_fields=["state", "started", "heartbeat", "attempts", "progress", "history", "warm_start", "led_from"])
            grid = run.case.grid_files.filter(name=run.document.get("grid", {}).get("file", "")).first()
            # What a run that was begun before has told is told again; the frames it carries on from stay.
            carried = run.warm_start.frames.count() if run.go_on and run.warm_start is not None else 0
            run.frames.filter(number__gte=carried).delete()
        start = beginning_of(run)
        messages: queue.SimpleQueue[dict[str, Any]] = queue.SimpleQueue()
        grid_file = bytes(grid.content) if grid else None
        future = self.engine.submit(run.pk, run.kind, run.document, start, run.go_on, grid_file, run.trials, messages.put)
        self.active[run.pk] = _Active(future, messages, run.background, stored=carried, trials=list(run.trials))

    def _make_room(self) -> None:
        """Ask a run that nobody waits for to give its place to one that somebody waits for."""
        background = [active for active in self.active.values() if active.background]
        if not background or any(active.yields for active in background):
            return
        if Run.objects.filter(state=Run.State.QUEUED, background=False).exists():
            pk = max(pk for pk, active in self.active.items() if active.background)
            self.active[pk].yields = self.active[pk].asked = True
            self.engine.ask_to_stop(pk)

    def _attend(self, pk: int, active: _Active) -> None:
        self._listen(active)
        now = time.monotonic()
        if active.future.done():
            self._finish(pk, active)
        elif now - active.written > _WRITE_EVERY:
            active.written = now
            stop_wanted = Run.objects.filter(pk=pk).values_list("stop_wanted", flat=True).first()
            if stop_wanted is None:
                # Deleted with its case: nobody wants what it would find.
                self.engine.ask_to_stop(pk)
                self._drop(pk)
                return
            self._store_frames(pk, active)
            if active.changed:
                Run.objects.filter(pk=pk).update(progress=active.progress, history=active.history, trials=active.trials)
                active.changed = False
            if stop_wanted and not active.asked:
                active.asked = True
                self.engine.ask_to_stop(pk)

    def _drop(self, pk: int) -> None:
        """Hear no more of a run."""
        active = self.active.pop(pk)
        active.future.release()
        self.engine.forget(pk)

    def _listen(self, active: _Active) -> None:
        while not active.messages.empty():
            message = active.messages.get()
            active.changed = True
            if "frame" in message:
                active.frames.append(message["frame"])
            elif "trial" in message:
                active.trials.append(finite(message["trial"]))
            elif "grid" in message:
                active.grids.append(finite(message["grid"]))
            else:
                event = finite(message["event"])
                if event["residuals"]:
                    number = len(active.history) + 1 if event["time"] is None else event["step"]
                    row = {"step": number, **event["residuals"], "watches": event["watches"]}
                    active.history.append(row if event["time"] is None else {**row, "time": event["time"]})
                active.progress = event
        if active.grids:
            active.progress = {**active.progress, "grids": active.grids}

    def _store_frames(self, pk: int, active: _Active) -> None:
        """Write the frames that have come; the first brings the grid they are drawn on."""
        while active.frames:
            frame = active.frames[0]
            with transaction.atomic():
                # Under the lock of writing: a run that is there now is there when its frame is.
                run = Run.objects.filter(pk=pk)
                if frame["checkpoint"] is not None:
                    run.update(checkpoint=frame["checkpoint"])
                # The first frame of a run that is carried on is the last one there was.
                last = Frame.objects.filter(run=pk).order_by("-number").first()
                new = last is None or last.time is None or frame["time"] > last.time * (1.0 + 1e-12)
                if new and run.exists():
                    Frame.objects.create(run_id=pk, number=active.stored, time=frame["time"], data=frame["data"])
            active.stored += 1 if new else 0
            active.frames.pop(0)

    def _finish(self, pk: int, active: _Active) -> None:
        # The last events may still be on their way when the result is there.
        time.sleep(0.02)
        self._listen(active)
        try:
            result = active.future.result()
        except Exception as error:  # whatever a solver process dies of must not take the worker with it
            if not isinstance(error, MemoryError) and type(error).__name__ not in _DEATHS:
                _log.error("run %s", pk, exc_info=error)
            result = {"failure": _lost(error)}
        if active.yields and (result.get("stopped") or "failure" in result):
            Run.objects.filter(pk=pk).update(state=Run.State.QUEUED, progress={"stage": "queued"}, attempts=0)
        else:
            self._store_frames(pk, active)
            self._store_result(pk, active, result)
        self._drop(pk)

    def _store_result(self, pk: int, active: _Active, result: dict[str, Any]) -> None:
        fields: dict[str, Any] = {"finished": timezone.now(), "history": active.history, "trials": active.trials}
        if "failure" in result:
            fields |= {"state": Run.State.FAILED, "failure": result["failure"], "progress": {**active.progress, "stage": "failed"}}
        else:
            state = Run.State.STOPPED if result["stopped"] else Run.State.DONE
            fields |= {
                "state": state,
                "ledger": finite(result["ledger"]),
                "summary": finite(result["summary"]),
                "checkpoint": result["checkpoint"],
                "progress": {**active.progress, "stage": state.label.lower(), "fraction": 1.0},
            }
            if "document" in result:
                fields["document"] = result["document"]
        with transaction.atomic():
            if Run.objects.filter(pk=pk).update(**fields) and result.get("frame") is not None:
                Frame.objects.update_or_create(run_id=pk, number=0, defaults={"time": None, "data": result["frame"]})


def finite(value: Any) -> Any:
    """`value` with numbers that are none (a solve that ran away tells such) replaced by None: JSON has no word for them."""
    if isinstance(value, dict):
        return {key: finite(item) for key, item in value.items()}
    if isinstance(value, list | tuple):
        return [finite(item) for item in value]
    return None if isinstance(value, float) and not math.isfinite(value) else value


_DEATHS = ("KilledWorker", "CancelledError", "FutureCancelledError")


def _lost(error: Exception) -> dict[str, str]:
    """What a user is told of a run that its solver process could not end; the error itself is in the log."""
    if isinstance(error, MemoryError) or type(error).__name__ in _DEATHS:
        return {
            "field": "solve",
            "problem": "the solver process died, most likely for want of memory",
            "remedy": "try a coarser grid, or run it again",
        }
    return {
        "field": "solve",
        "problem": "the solver met an error of its own, which is written down in the log of the worker",
        "remedy": "run it again; send the case and the log to whoever keeps this program if it happens twice",
    }
