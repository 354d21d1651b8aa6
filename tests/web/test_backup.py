"""Backups: made while the program writes, checked, brought back; databases of all earlier versions open."""

from __future__ import annotations

import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import tempfile
import threading
from pathlib import Path
from typing import Any
from unittest import mock

from django.conf import settings
from django.test import SimpleTestCase

from wattikos_web import backup

STORED = Path(__file__).parent / "stored"


def manage(folder: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    """A command of the program with its data in a folder."""
    environment = os.environ | {"WATTIKOS_DATA": str(folder), "DJANGO_SETTINGS_MODULE": "wattikos_web.settings"}
    command = [sys.executable, str(settings.BASE_DIR / "manage.py"), *arguments]
    return subprocess.run(command, env=environment, capture_output=True, text=True, check=False)


def titles(path: Path) -> list[str]:
    with sqlite3.connect(path) as database:
        found = [row[0] for row in database.execute("SELECT title FROM wattikos_web_caserecord ORDER BY id")]
    database.close()
    return found


class Backups(SimpleTestCase):
    demo: Path

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.demo = Path(cls.enterClassContext(tempfile.TemporaryDirectory())) / "data"
        assert manage(cls.demo, "load_demo").returncode == 1
        manage(cls.demo, "migrate", "--verbosity", "0")
        said = manage(cls.demo, "load_demo")
        assert said.returncode == 0, said.stderr

    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.data = self.folder / "data"
        shutil.copytree(self.demo, self.data)
        self.database = self.data / "wattikos.sqlite3"

    def at(self) -> Any:
        return mock.patch.object(backup, "database_file", return_value=self.database)

    def test_a_copy_is_made_while_somebody_writes_and_can_be_brought_back(self) -> None:
        """The file alone is not enough: what was written last lies in the log beside it."""
        before = titles(self.database)
        writer = sqlite3.connect(self.database, isolation_level=None, check_same_thread=False)
        writer.execute("PRAGMA journal_mode=WAL")
        writer.execute("UPDATE wattikos_web_caserecord SET title = 'written last' WHERE title = ?", (before[0],))
        ended = threading.Event()

        def write() -> None:
            while not ended.is_set():
                writer.execute("UPDATE wattikos_web_project SET note = note || 'x'")

        thread = threading.Thread(target=write)
        thread.start()
        copy = self.folder / "copy.sqlite3"
        try:
            with self.at():
                backup.back_up(copy)
        finally:
            ended.set()
            thread.join()
            writer.close()
        self.assertEqual(titles(copy)[0], "written last")
        self.assertEqual(stat.S_IMODE(copy.stat().st_mode), 0o600)
        with sqlite3.connect(self.database) as database:
            database.execute("DELETE FROM wattikos_web_run")
            database.execute("DELETE FROM wattikos_web_caserevision")
            database.execute("DELETE FROM wattikos_web_caserecord")
        database.close()
        said = manage(self.data, "restore", str(copy))
        self.assertEqual(said.returncode, 0, said.stderr)
        self.assertEqual(titles(self.database), ["written last", *before[1:]])
        kept = next(self.data.glob("*before-restore*"))
        self.assertEqual(titles(kept), [])

    def test_what_cannot_be_used_is_said(self) -> None:
        other = self.folder / "other.sqlite3"
        sqlite3.connect(other).execute("CREATE TABLE t (x)")
        text = self.folder / "text.sqlite3"
        text.write_text("this is no database" * 100)
        before = titles(self.database)
        for path, words in ((other, "another program"), (text, "not a database"), (self.folder / "none", "cannot be read")):
            with self.at(), self.assertRaisesRegex(backup.BackupError, words):
                backup.restore(path)
        said = manage(self.data, "restore", str(text))
        self.assertEqual(said.returncode, 1)
        self.assertIn("not a database", said.stderr)
        self.assertNotIn("Traceback", said.stderr)
        self.assertEqual(titles(self.database), before)
        self.assertIn("cannot be written", manage(self.data, "backup", str(self.folder / "no" / "such.sqlite3")).stderr)
        self.assertIn("there is no database", manage(self.folder / "empty", "backup", str(self.folder / "x")).stderr)

    def test_nothing_is_brought_back_while_the_program_runs(self) -> None:
        copy = self.folder / "copy.sqlite3"
        self.assertEqual(manage(self.data, "backup", str(copy)).returncode, 0)
        running = sqlite3.connect(self.database, isolation_level=None)
        running.execute("BEGIN IMMEDIATE")
        self.assertIn("running", manage(self.data, "restore", str(copy)).stderr)
        running.close()

    def test_database_and_secrets_are_their_owners_alone(self) -> None:
        for path in (self.database, self.data / "secret_key"):
            self.assertEqual(stat.S_IMODE(path.stat().st_mode), 0o600)
        self.assertEqual(stat.S_IMODE(self.data.stat().st_mode), 0o700)


class EarlierVersions(SimpleTestCase):
    def test_a_database_of_every_earlier_version_opens_with_a_copy_kept(self) -> None:
        versions = sorted(STORED.glob("*.sql"))
        self.assertGreaterEqual(len(versions), 5)
        for version in versions:
            with self.subTest(version.name), tempfile.TemporaryDirectory() as folder:
                path = Path(folder) / "wattikos.sqlite3"
                with sqlite3.connect(path) as database:
                    database.executescript(version.read_text())
                database.close()
                code = (
                    "import django; django.setup()\n"
                    "from django.core.management import call_command\n"
                    "from wattikos_web.backup import backup_before_migration\n"
                    "backup_before_migration(print)\n"
                    "call_command('migrate', verbosity=0)\n"
                    "from wattikos_core.case import read_case\n"
                    "from wattikos_web.models import CaseRecord, Run\n"
                    "cases = [read_case(record.document).title for record in CaseRecord.objects.all()]\n"
                    "print(cases, Run.objects.get().state, [read_case(r.document).version for r in Run.objects.all()])\n"
                )
                environment = os.environ | {"WATTIKOS_DATA": folder, "DJANGO_SETTINGS_MODULE": "wattikos_web.settings"}
                said = subprocess.run(
                    [sys.executable, "-c", code],
                    env=environment,
                    cwd=settings.BASE_DIR,
                    capture_output=True,
                    text=True,
                    check=False,
                )
                self.assertEqual(said.returncode, 0, said.stderr)
                self.assertIn("['Plate regenerator passage'] done [6]", said.stdout)
                self.assertIn("is kept in", said.stdout)
                self.assertEqual(titles(next(Path(folder).glob("before-migration-*"))), ["Plate regenerator passage"])
