"""The worker with real solver processes: done, stopped, killed, restarted."""

from __future__ import annotations

import os
import signal
import time
from datetime import timedelta
from unittest import mock

from django.utils import timezone

from tests.web.working import WorkerTestCase
from wattikos_web.models import Run
from wattikos_web.worker.engine import Engine
from wattikos_web.worker.loop import WorkerLoop, finite


class WorkerTest(WorkerTestCase):
    def test_solve_and_sizing_are_carried_out(self) -> None:
        solve, sizing = self.queued(0.4), self.queued(0.4, "sizing")
        self.until(self.over(sizing))
        self.assertEqual((self.state(solve), self.state(sizing)), ("done", "done"))
        assert solve.ledger is not None
        rows = {row["name"]: row for row in solve.ledger["quantities"]}
        self.assertAlmostEqual(rows["duty"]["solved"] / rows["duty"]["by_hand"]["value"], 1.0, delta=0.03)
        self.assertGreater(len(solve.history), 3)
        self.assertIn("duty", solve.history[-1]["watches"])
        self.assertTrue(solve.checkpoint)
        self.assertEqual(sizing.summary["sizing"]["outcome"], "met")
        self.assertEqual([sizing.document["inputs"]["length"]["value"]], sizing.summary["sizing"]["values"])
        self.assertEqual(len(sizing.trials), len(sizing.summary["sizing"]["trials"]))

    def test_a_running_solve_is_stopped(self) -> None:
        run = self.queued(3.0, method="segregated", max_steps=500)
        self.until(lambda: self.state(run) == "running" and bool(run.progress.get("residuals")))
        Run.objects.filter(pk=run.pk).update(stop_wanted=True)
        self.until(self.over(run))
        self.assertEqual(self.state(run), "stopped")
        self.assertTrue(run.checkpoint)

    def test_a_killed_solver_process_fails_its_run_only(self) -> None:
        run = self.queued(3.0, method="segregated", max_steps=500)
        self.until(lambda: self.state(run) == "running" and bool(run.progress.get("residuals")))
        for process in self.engine.client.run(os.getpid).values():
            os.kill(process, signal.SIGKILL)
        self.until(self.over(run))
        self.assertEqual(self.state(run), "failed")
        assert run.failure is not None
        self.assertIn("died", run.failure["problem"])
        after = self.queued(0.3)
        self.until(self.over(after))
        self.assertEqual(self.state(after), "done")

    def test_what_a_dead_worker_left_is_queued_again(self) -> None:
        lost, hopeless = self.queued(0.3), self.queued(0.3)
        old = timezone.now() - timedelta(minutes=5)
        Run.objects.filter(pk=lost.pk).update(state="running", heartbeat=old, attempts=1)
        Run.objects.filter(pk=hopeless.pk).update(state="running", heartbeat=old, attempts=3)
        self.until(self.over(lost))
        self.assertEqual(self.state(lost), "done")
        self.assertEqual(self.state(hopeless), "failed")

    def test_ending_gives_back_what_is_unfinished(self) -> None:
        run = self.queued(3.0, method="segregated", max_steps=500)
        self.until(lambda: self.state(run) == "running" and bool(run.progress.get("residuals")))
        self.loop.give_back()
        self.assertEqual(self.state(run), "queued")
        self.engine.ask_to_stop(run.pk)
        time.sleep(2.0)

    def test_numbers_that_are_none_do_not_stop_the_worker(self) -> None:
        """A solve that ran away tells infinities and NaN; SQLite would refuse them as JSON."""
        run = self.queued(0.3)
        run.history = finite([{"momentum": float("nan"), "watches": {"duty": float("inf")}, "step": 3}])
        run.save()
        run.refresh_from_db()
        self.assertEqual(run.history, [{"momentum": None, "watches": {"duty": None}, "step": 3}])

    def test_an_existing_cluster_is_used_by_its_address(self) -> None:
        own = Engine(self.engine.client.scheduler.address)
        self.addCleanup(own.close)
        self.loop = WorkerLoop(own, at_once=1)
        run = self.queued(0.3)
        self.until(self.over(run))
        self.assertEqual(self.state(run), "done")

    def test_an_error_in_a_task_does_not_end_the_worker(self) -> None:
        run = self.queued(0.3)
        with mock.patch("wattikos_web.worker.engine.execute", len), self.assertLogs("wattikos_web", "ERROR") as log:
            self.until(self.over(run))
        self.assertEqual(self.state(run), "failed")
        assert run.failure is not None
        # What Python says is for the log, not for the user.
        self.assertNotIn("TypeError", run.failure["problem"])
        self.assertIn("TypeError", log.output[0])
