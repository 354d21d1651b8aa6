"""`manage.py backup`: a copy of the database, made while the program runs."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from wattikos_web.backup import BackupError, back_up


class Command(BaseCommand):
    """Copies the database and checks the copy."""

    help = "Copy the database to a file; the program may be running."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            back_up(options["file"])
        except BackupError as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"backup written to {options['file']} and checked")
