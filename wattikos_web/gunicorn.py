"""Gunicorn settings."""

from __future__ import annotations

import importlib
import threading
from typing import Any


def post_worker_init(worker: Any) -> None:
    """Load fluid properties beside the first requests, so that neither start-up nor the first hand calculation waits."""
    from wattikos_core.case import starter_case
    from wattikos_core.studies import estimate_ledger
    from wattikos_web.aside import aside
    from wattikos_web.aside.tasks import LOOKING, look

    def load() -> None:
        # The processes beside this one begin now, with a hand calculation behind them.
        aside(look, LOOKING, "", starter_case("plate_passage").model_dump(mode="json"))
        estimate_ledger(starter_case("plate_passage"))
        importlib.import_module("ht")

    threading.Thread(target=load, daemon=True).start()
