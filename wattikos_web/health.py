"""The state of the installation, for whoever keeps it: what works, what does not, and what to do."""

from __future__ import annotations

import shutil
from datetime import timedelta

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, JsonResponse
from django.utils import timezone

from wattikos_web.aside import is_warm
from wattikos_web.models import Run, WorkerState
from wattikos_web.trouble import Trouble, trouble_of

_SILENT_AFTER = timedelta(seconds=15)
_LITTLE_ROOM = 200_000_000


def health(request: HttpRequest) -> JsonResponse:
    """200 and the state where all is well, 503 and what is wrong elsewhere."""
    wrong: list[str] = []
    state: dict[str, object] = {"waiting": None, "running": None, "workers": None}
    try:
        with connection.cursor() as cursor:
            # Takes the lock of writing and gives it back: a full disk or a read-only file says so here.
            cursor.execute("PRAGMA user_version")
            version = cursor.fetchone()[0]
            cursor.execute(f"PRAGMA user_version = {int(version)}")
        state["waiting"] = Run.objects.filter(state=Run.State.QUEUED).count()
        state["running"] = Run.objects.filter(state=Run.State.RUNNING).count()
        state["workers"] = WorkerState.objects.filter(beat__gt=timezone.now() - _SILENT_AFTER).count()
        if not state["workers"]:
            wrong.append("no worker is alive: what is to be solved waits until one is started")
    except DatabaseError as error:
        known = trouble_of(error) or Trouble("the database does not answer", "look at the log of the server")
        wrong.append(f"{known.problem}: {known.remedy}")
    try:
        room = shutil.disk_usage(settings.DATA_DIR).free
        state["free_megabytes"] = room // 1_000_000
        if room < _LITTLE_ROOM:
            wrong.append(f"only {room / 1e6:.0f} MB are free where the database lies")
    except OSError as error:
        wrong.append(f"the folder of the database cannot be looked at: {error}")
    state["warm"] = is_warm()
    return JsonResponse({"well": not wrong, "wrong": wrong, **state}, status=503 if wrong else 200)
