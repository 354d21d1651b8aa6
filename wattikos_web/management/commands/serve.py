"""`manage.py serve`: web and worker on this machine, with a one-time sign-in link."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from wattikos_web.demo import demo_user, load_demo
from wattikos_web.signin import new_link

HOST = "127.0.0.1"
_PORTS_TO_TRY = 50


class Command(BaseCommand):
    """Migrates, loads the demo, starts gunicorn and the worker, prints a link, and waits."""

    help = "Start the web application and its worker."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--no-demo", action="store_true", help="do not load the demo project")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        if not options["no_demo"]:
            load_demo()
        port = free_port(options["port"])
        if port != options["port"]:
            self.stdout.write(f"port {options['port']} is taken; using {port}")
        processes = [_web(port), _worker()]

        def end(*_: Any) -> None:
            raise KeyboardInterrupt

        signal.signal(signal.SIGTERM, end)
        try:
            _wait_for(f"http://{HOST}:{port}/api/session", processes[0])
            self.stdout.write(f"sign in once with http://{HOST}:{port}{new_link(demo_user())}")
            self.stdout.write("stop with Ctrl-C")
            self.stdout.flush()
            while all(process.poll() is None for process in processes):
                time.sleep(0.5)
            raise CommandError("a process has ended; see the messages above")
        except KeyboardInterrupt:
            self.stdout.write("stopping")
        finally:
            # A second Ctrl-C must not leave processes behind.
            signal.signal(signal.SIGTERM, signal.SIG_IGN)
            signal.signal(signal.SIGINT, signal.SIG_IGN)
            for process in processes:
                process.terminate()
            for process in processes:
                try:
                    process.wait(20)
                except subprocess.TimeoutExpired:
                    process.kill()


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


def _wait_for(url: str, process: subprocess.Popen[bytes]) -> None:
    for _ in range(300):
        if process.poll() is not None:
            raise CommandError("the web server did not start; see the messages above")
        try:
            urllib.request.urlopen(url, timeout=10)
            return
        except OSError:
            time.sleep(0.1)
    raise CommandError("the web server does not answer")
