"""`manage.py serve`: web and worker on this machine, with a one-time sign-in link; what dies is started again."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import DatabaseError

from wattikos_web.backup import backup_before_migration
from wattikos_web.demo import demo_user, load_demo
from wattikos_web.signin import new_link
from wattikos_web.trouble import trouble_of

HOST = "127.0.0.1"
_PORTS_TO_TRY = 50
# How long the web server may take to answer, and what computes beside it to begin, s.
_LONGEST_START, _LONGEST_WARMING = 120.0, 60.0
# A process that dies is started again after a pause that grows while it goes on dying.
_FIRST_PAUSE, _LONGEST_PAUSE, _STEADY_AFTER = 0.5, 4.0, 60.0


class Command(BaseCommand):
    """Migrates, loads the demo, starts gunicorn and the worker, prints a link, and keeps both going."""

    help = "Start the web application and its worker."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--no-demo", action="store_true", help="do not load the demo project")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            backup_before_migration(self.stdout.write)
            call_command("migrate", verbosity=0)
            if not options["no_demo"]:
                load_demo()
            link = new_link(demo_user())
        except (DatabaseError, OSError) as error:
            known = trouble_of(error)
            raise CommandError(f"{known.problem}; {known.remedy.partition(';')[0]}" if known else str(error)) from error
        port = free_port(options["port"])
        if port != options["port"]:
            self.stdout.write(f"port {options['port']} is taken; using {port}")
        processes = [Kept("web server", lambda: _web(port)), Kept("worker", _worker)]

        def end(*_: Any) -> None:
            raise KeyboardInterrupt

        signal.signal(signal.SIGTERM, end)
        try:
            for process in processes:
                process.start()
            _wait_for(f"http://{HOST}:{port}/health", processes[0])
            self.stdout.write(f"sign in once with http://{HOST}:{port}{link}")
            self.stdout.write("stop with Ctrl-C")
            self.stdout.flush()
            while True:
                for process in processes:
                    process.look_after(self.stderr.write)
                time.sleep(0.25)
        except KeyboardInterrupt:
            self.stdout.write("stopping")
        finally:
            # A second Ctrl-C must not leave processes behind.
            signal.signal(signal.SIGTERM, signal.SIG_IGN)
            signal.signal(signal.SIGINT, signal.SIG_IGN)
            for process in processes:
                process.terminate()
            for process in processes:
                process.wait()


@dataclass
class Kept:
    """A process that is started again when it ends."""

    name: str
    make: Callable[[], subprocess.Popen[bytes]]
    process: subprocess.Popen[bytes] | None = None
    pause: float = _FIRST_PAUSE
    started: float = field(default=0.0)
    again_at: float | None = None

    def start(self) -> None:
        """Start it now."""
        self.process, self.started, self.again_at = self.make(), time.monotonic(), None

    def look_after(self, tell: Callable[[str], Any]) -> None:
        """Start it again when it has ended, after a pause."""
        now = time.monotonic()
        if self.again_at is not None:
            if now >= self.again_at:
                self.start()
        elif self.process is not None and self.process.poll() is not None:
            if now - self.started > _STEADY_AFTER:
                self.pause = _FIRST_PAUSE
            tell(f"the {self.name} has ended ({self.process.returncode}); starting it again in {self.pause:g} s")
            self.again_at = now + self.pause
            self.pause = min(2.0 * self.pause, _LONGEST_PAUSE)

    def terminate(self) -> None:
        """Ask it to end."""
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()

    def wait(self) -> None:
        """Wait until it has ended, and end it where it does not."""
        if self.process is not None:
            try:
                self.process.wait(20)
            except subprocess.TimeoutExpired:
                self.process.kill()


def free_port(wanted: int) -> int:
    """`wanted`, or the next port that is free."""
    for port in range(wanted, wanted + _PORTS_TO_TRY):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind((HOST, port))
            except OSError:
                continue
            return port
    raise CommandError(f"no free port from {wanted} to {wanted + _PORTS_TO_TRY - 1}; name another with --port")


def _web(port: int) -> subprocess.Popen[bytes]:
    command = [sys.executable, "-m", "gunicorn", "wattikos_web.wsgi", "--bind", f"{HOST}:{port}", "--workers", "1"]
    command += ["--threads", "6", "--no-control-socket", "--log-level", "warning", "--config", "python:wattikos_web.gunicorn"]
    return subprocess.Popen(command, cwd=settings.BASE_DIR, env=os.environ | {"PYTHONPATH": str(settings.BASE_DIR)})


def _worker() -> subprocess.Popen[bytes]:
    return subprocess.Popen([sys.executable, str(settings.BASE_DIR / "manage.py"), "run_worker"], cwd=settings.BASE_DIR)


def _wait_for(health: str, web: Kept) -> None:
    """Until the web server answers, and what computes beside it has begun, so that the first look at a case need not wait."""
    begun = time.monotonic()
    while time.monotonic() - begun < _LONGEST_START:
        if web.process is None or web.process.poll() is not None:
            raise CommandError("the web server did not start; see the messages above")
        try:
            with urllib.request.urlopen(health, timeout=10) as answer:
                state = json.load(answer)
        except urllib.error.HTTPError as answer:
            state = json.load(answer)
        except OSError:
            state = None
        if state is not None and (state["warm"] or time.monotonic() - begun > _LONGEST_WARMING):
            return
        time.sleep(0.1)
    raise CommandError("the web server does not answer")
