"""The worker: claims queued runs, executes them on Dask, writes what comes back.

Its writes are short and rare: progress a few times a second, results once. A run whose worker has died has an old
heartbeat; any worker puts it back into the queue.
"""

from __future__ import annotations

import math
import queue
import time
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

from django.db import close_old_connections, transaction
from django.utils import timezone

from wattikos_web.models import Frame, Run
from wattikos_web.worker.engine import Engine

HEARTBEAT = 2.0
DEAD_AFTER = timedelta(seconds=12)
MOST_ATTEMPTS = 3
_WRITE_EVERY = 0.25
_IDLE = 0.1


@dataclass
class _Active:
    """A run being executed, and what it has told so far."""

    future: Any
    messages: queue.SimpleQueue[dict[str, Any]]
    history: list[dict[str, Any]] = field(default_factory=list)
    trials: list[dict[str, Any]] = field(default_factory=list)
    frames: list[dict[str, Any]] = field(default_factory=list)
    stored: int = 0
    progress: dict[str, Any] = field(default_factory=dict)
    changed: bool = False
    written: float = 0.0
    asked: bool = False


class WorkerLoop:
    """Claims and executes until told to end."""

    def __init__(self, engine: Engine, at_once: int = 2) -> None:
        self.engine = engine
        self.at_once = at_once
        self.active: dict[int, _Active] = {}
        self.ending = False
        self._beat = 0.0

    def run_forever(self) -> None:
        """Work until `ending` is set; then give back what is unfinished."""
        while not self.ending:
            self.tick()
            time.sleep(_IDLE if not self.active else 0.03)
        self.give_back()

    def tick(self) -> None:
        """One round: claim, listen, write, collect."""
        close_old_connections()
        now = time.monotonic()
        if now - self._beat > HEARTBEAT:
            self._beat = now
            self.requeue_lost()
            Run.objects.filter(pk__in=list(self.active)).update(heartbeat=timezone.now())
            self.engine.keep_alive()
        if len(self.active) < self.at_once:
            self._claim()
        for pk in list(self.active):
            self._attend(pk, self.active[pk])

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
        first = Run.objects.filter(state=Run.State.QUEUED).order_by("id").values_list("pk", flat=True).first()
        if first is None:
            return
        with transaction.atomic():
            run = Run.objects.select_related("warm_start").get(pk=first)
            if run.state != Run.State.QUEUED:
                return
            run.state = Run.State.RUNNING
            run.started = run.heartbeat = timezone.now()
            run.attempts += 1
            run.progress = {"stage": "starting", "fraction": 0.0}
            run.history = []
            run.save(update_fields=["state", "started", "heartbeat", "attempts", "progress", "history"])
        start = bytes(run.warm_start.checkpoint) if run.warm_start and run.warm_start.checkpoint else None
        grid = run.case.grid_files.filter(name=run.document.get("grid", {}).get("file", "")).first()
        messages: queue.SimpleQueue[dict[str, Any]] = queue.SimpleQueue()
        grid_file = bytes(grid.content) if grid else None
        future = self.engine.submit(run.pk, run.kind, run.document, start, run.go_on, grid_file, messages.put)
        # What a run that was begun before has told is told again; the frames it carries on from stay.
        carried = run.warm_start.frames.count() if run.go_on and run.warm_start is not None else 0
        run.frames.filter(number__gte=carried).delete()
        self.active[run.pk] = _Active(future, messages, stored=carried)

    def _attend(self, pk: int, active: _Active) -> None:
        self._listen(active)
        now = time.monotonic()
        if active.future.done():
            self._finish(pk, active)
        elif now - active.written > _WRITE_EVERY:
            active.written = now
            self._store_frames(pk, active)
            if active.changed:
                active.changed = False
                Run.objects.filter(pk=pk).update(progress=active.progress, history=active.history)
            if not active.asked and Run.objects.filter(pk=pk, stop_wanted=True).exists():
                active.asked = True
                self.engine.ask_to_stop(pk)

    def _listen(self, active: _Active) -> None:
        while not active.messages.empty():
            message = active.messages.get()
            active.changed = True
            if "frame" in message:
                active.frames.append(message["frame"])
            elif "trial" in message:
                active.trials.append(finite(message["trial"]))
            else:
                event = finite(message["event"])
                if event["residuals"]:
                    row = {"step": len(active.history) + 1, **event["residuals"], "watches": event["watches"]}
                    active.history.append(row if event["time"] is None else {**row, "time": event["time"]})
                active.progress = {**event, "trials": active.trials}
        if active.trials:
            active.progress = {**active.progress, "trials": active.trials}

    def _store_frames(self, pk: int, active: _Active) -> None:
        """Write the frames that have come; the first brings the grid they are drawn on."""
        for frame in active.frames:
            if frame["checkpoint"] is not None:
                Run.objects.filter(pk=pk).update(checkpoint=frame["checkpoint"])
            # The first frame of a run that is carried on is the last one there was.
            last = Frame.objects.filter(run=pk).order_by("-number").first()
            if last is None or last.time is None or frame["time"] > last.time * (1.0 + 1e-12):
                Frame.objects.create(run_id=pk, number=active.stored, time=frame["time"], data=frame["data"])
                active.stored += 1
        active.frames.clear()

    def _finish(self, pk: int, active: _Active) -> None:
        del self.active[pk]
        # The last events may still be on their way when the result is there.
        time.sleep(0.02)
        self._listen(active)
        self.engine.forget(pk)
        self._store_frames(pk, active)
        fields: dict[str, Any] = {"finished": timezone.now(), "history": active.history}
        try:
            result = active.future.result()
        except Exception as error:  # whatever a solver process dies of must not take the worker with it
            result = {"failure": _lost(error)}
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
            if result["frame"] is not None:
                Frame.objects.update_or_create(run_id=pk, number=0, defaults={"time": None, "data": result["frame"]})
            if "document" in result:
                fields["document"] = result["document"]
        Run.objects.filter(pk=pk).update(**fields)
        active.future.release()


def finite(value: Any) -> Any:
    """`value` with numbers that are none (a solve that ran away tells such) replaced by None: JSON has no word for them."""
    if isinstance(value, dict):
        return {key: finite(item) for key, item in value.items()}
    if isinstance(value, list | tuple):
        return [finite(item) for item in value]
    return None if isinstance(value, float) and not math.isfinite(value) else value


def _lost(error: Exception) -> dict[str, str]:
    if type(error).__name__ in ("KilledWorker", "CancelledError", "FutureCancelledError"):
        return {
            "field": "solve",
            "problem": "the solver process died, most likely for want of memory",
            "remedy": "try a coarser grid, or run it again",
        }
    return {
        "field": "solve",
        "problem": f"the solver met an error of its own ({type(error).__name__}: {error})"[:500],
        "remedy": "run it again; report this case if it happens twice",
    }
