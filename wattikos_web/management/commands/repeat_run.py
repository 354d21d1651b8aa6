"""`manage.py repeat_run`: solve a run again, and say whether it gives the same numbers."""

from __future__ import annotations

import sys
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from wattikos_web.models import Run
from wattikos_web.repeating import DIGITS, repeat


class Command(BaseCommand):
    """Repeats a run from what it began with."""

    help = "Solve a run again and compare its ledger, to the last printed digit."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("run", type=int)

    def handle(self, *args: Any, **options: Any) -> None:
        run = Run.objects.filter(pk=options["run"]).select_related("case", "warm_start").first()
        if run is None or run.ledger is None or run.kind != Run.Kind.SOLVE.value:
            raise CommandError(f"run {options['run']} is no finished solve; the desk shows the numbers of runs under Read")
        rows = repeat(run)
        different = [row for row in rows if not row.same]
        for row in different:
            found = "not found" if row.found is None else f"{row.found:.{DIGITS}g}"
            self.stdout.write(f"{row.name}: {row.kept:.{DIGITS}g} was kept, {found} now")
        same = len(rows) - len(different)
        self.stdout.write(f"{same} of {len(rows)} quantities of run {run.pk} are the same to {DIGITS} digits (SI)")
        if different:
            sys.exit(2)
