"""`manage.py run_worker`: execute what is queued."""

from __future__ import annotations

import signal
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from wattikos_web.worker.engine import Engine
from wattikos_web.worker.loop import WorkerLoop


class Command(BaseCommand):
    """Claims queued runs and executes them on Dask."""

    help = "Execute queued runs until stopped."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--processes", type=int, default=2)

    def handle(self, *args: Any, **options: Any) -> None:
        engine = Engine(settings.SCHEDULER, options["processes"])
        loop = WorkerLoop(engine, options["processes"])

        def end(*_: Any) -> None:
            loop.ending = True

        signal.signal(signal.SIGTERM, end)
        signal.signal(signal.SIGINT, end)
        try:
            engine.warm_up()
            loop.run_forever()
        finally:
            engine.close()
