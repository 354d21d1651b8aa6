"""Gunicorn settings."""

from __future__ import annotations

import threading
from typing import Any


def post_worker_init(worker: Any) -> None:
    """Load fluid properties beside the first requests, so that neither start-up nor the first hand calculation waits."""
    from wattikos_core.case import starter_case
    from wattikos_core.runs import estimate_ledger

    threading.Thread(target=lambda: estimate_ledger(starter_case("plate_passage")), daemon=True).start()
