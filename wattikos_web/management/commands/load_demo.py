"""`manage.py load_demo`: the Ferrow Dairy project."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from wattikos_web.demo import load_demo


class Command(BaseCommand):
    """Loads the demo project once."""

    help = "Load the demo project if it is not there."

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write("demo project loaded" if load_demo() else "demo project is there already")
