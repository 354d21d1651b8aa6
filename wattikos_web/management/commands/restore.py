"""`manage.py restore`: bring a backup of the database back."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from wattikos_web.backup import BackupError, restore


class Command(BaseCommand):
    """Puts a checked backup in the place of the database."""

    help = "Put a backup in the place of the database; stop the program first."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            kept = restore(options["file"])
        except BackupError as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"brought back from {options['file']}" + (f"; what was there is kept in {kept}" if kept else ""))
