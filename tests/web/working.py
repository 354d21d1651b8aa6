"""A case, and a worker with one solver process that carries out what is queued."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from typing import Any

from django.contrib.auth.models import User
from django.test import TransactionTestCase

from wattikos_core.case import starter_case
from wattikos_web.api.projects import create_case
from wattikos_web.models import Project, Run
from wattikos_web.worker.engine import Engine
from wattikos_web.worker.loop import WorkerLoop

_PATIENCE = 90.0


class WorkerTestCase(TransactionTestCase):
    engine: Engine

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.engine = Engine(processes=1)
        cls.engine.warm_up()
        cls.addClassCleanup(cls.engine.close)

    def setUp(self) -> None:
        user = User.objects.create_user("anna")
        self.record = create_case(Project.objects.create(owner=user, name="p"), starter_case("plate_passage"))
        self.loop = WorkerLoop(self.engine, at_once=1)

    def queued(self, fineness: float, kind: str = "solve", **solve: Any) -> Run:
        document = json.loads(json.dumps(self.record.document))
        document["grid"]["fineness"] = fineness
        document["solve"].update(solve)
        return Run.objects.create(case=self.record, kind=kind, document=document, revision=1)

    def until(self, done: Callable[[], bool]) -> None:
        end = time.monotonic() + _PATIENCE
        while not done():
            self.assertLess(time.monotonic(), end, "the worker took too long")
            self.loop.tick()
            time.sleep(0.02)

    def state(self, run: Run) -> str:
        run.refresh_from_db()
        return run.state

    def over(self, run: Run) -> Callable[[], bool]:
        return lambda: self.state(run) in ("done", "stopped", "failed")
