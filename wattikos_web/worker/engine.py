"""The Dask side of the worker: a cluster of local processes, or an existing one by its address."""

from __future__ import annotations

import logging
import os
from collections.abc import Callable
from typing import Any

from wattikos_web.worker.tasks import execute, stop_event_of, topic_of


class Engine:
    """Submits runs to Dask and replaces local processes that die."""

    def __init__(self, scheduler: str = "", processes: int = 2) -> None:
        import dask
        from distributed import Client, LocalCluster

        # A process that dies with a run takes only that run with it: say so instead of trying it again in silence.
        dask.config.set({"distributed.scheduler.allowed-failures": 0, "distributed.comm.timeouts.connect": "10s"})
        logging.getLogger("distributed").setLevel(logging.WARNING)
        self.processes = processes
        self._cluster: Any = None
        if scheduler:
            self.client = Client(scheduler)
        else:
            # Linear algebra threads beside worker processes would fight for the same cores.
            os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
            self._cluster = LocalCluster(n_workers=processes, threads_per_worker=1, processes=True, dashboard_address=":0")
            self.client = Client(self._cluster)

    def submit(
        self,
        run: int,
        kind: str,
        document: dict[str, Any],
        start: bytes | None,
        go_on: bool,
        grid_file: bytes | None,
        known: list[dict[str, Any]],
        tell: Callable[[dict[str, Any]], None],
    ) -> Any:
        """Start a run; `tell` gets its progress messages. Returns the Dask future."""
        self.client.subscribe_topic(topic_of(run), lambda event: tell(event[1]))
        return self.client.submit(
            execute, run, kind, document, start, go_on, grid_file, known, pure=False, key=f"run-{run}-{os.urandom(4).hex()}"
        )

    def forget(self, run: int) -> None:
        """No more progress messages of a run; the scheduler drops the frames it has passed on."""
        self.client.unsubscribe_topic(topic_of(run))
        self.client.run_on_scheduler(_drop, topic_of(run))

    def ask_to_stop(self, run: int) -> None:
        """Tell a running solve to stop at its next step."""
        from distributed import Event

        Event(stop_event_of(run), client=self.client).set()

    def warm_up(self) -> None:
        """Load what a first solve needs, on every process, while nobody waits."""
        self.client.run(_warm)

    def keep_alive(self) -> None:
        """Replace local processes that have died."""
        if self._cluster is not None and len(self._cluster.scheduler_info["workers"]) < self.processes:
            self._cluster.scale(self.processes)

    def close(self) -> None:
        """Stop everything that was started here."""
        self.client.close()
        if self._cluster is not None:
            self._cluster.close()


def _drop(topic: str, dask_scheduler: Any) -> None:
    dask_scheduler._broker.truncate(topic)


def _warm() -> None:
    from wattikos_core.warm import warm_up

    warm_up()
