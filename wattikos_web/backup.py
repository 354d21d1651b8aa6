"""Backups of the database: copied while it runs, checked, and brought back.

The file of the database alone is no backup while the program runs: what was written last lies in a second file beside it.
SQLite's own backup reads both.
"""

from __future__ import annotations

import os
import sqlite3
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection, connections
from django.db.migrations.executor import MigrationExecutor

_KEPT = 5


class BackupError(RuntimeError):
    """A backup that cannot be made or used, in words."""


def database_file() -> Path:
    """Where the database lies."""
    return Path(str(settings.DATABASES["default"]["NAME"]))


def back_up(to: Path) -> None:
    """Copy the database to `to` as it stands now, and check the copy; only its owner may read it.

    Raises:
        BackupError: there is no database, `to` cannot be written, or the copy is damaged.
    """
    if not _there():
        raise BackupError(f"there is no database at {database_file()}; start the program once, or set WATTIKOS_DATA")
    _copy(database_file(), to)


def restore(backup: Path) -> Path | None:
    """Put a backup in the place of the database; what was there is kept beside it and its path returned.

    Raises:
        BackupError: `backup` is no sound database of this program, or the program is running.
    """
    check(backup)
    target = database_file()
    kept = None
    connections.close_all()
    if _there():
        _refuse_while_running(target)
        kept = target.with_name(f"{target.stem}-before-restore-{time.strftime('%Y%m%d-%H%M%S')}{target.suffix}")
        _copy(target, kept)
        for beside in ("", "-wal", "-shm"):
            Path(f"{target}{beside}").unlink(missing_ok=True)
    _copy(backup, target)
    return kept


def check(path: Path) -> None:
    """Raise BackupError where `path` is no sound database of this program."""
    try:
        with sqlite3.connect(f"file:{path}?mode=ro", uri=True) as database:
            said = database.execute("PRAGMA integrity_check").fetchone()[0]
            tables = {row[0] for row in database.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        database.close()
    except sqlite3.Error as error:
        raise BackupError(f"{path} cannot be read as a database ({error})") from error
    if said != "ok":
        raise BackupError(f"{path} is damaged ({said})")
    if "wattikos_web_caserecord" not in tables:
        raise BackupError(f"{path} is a database of another program")


def backup_before_migration(tell: Callable[[str], Any]) -> None:
    """Keep a copy of a database that is about to be changed to a newer form; the last few copies stay."""
    if not _there():
        return
    executor = MigrationExecutor(connection)
    applied = set(executor.loader.applied_migrations)
    if not applied or not executor.migration_plan(executor.loader.graph.leaf_nodes()):
        return
    copy = database_file().with_name(f"before-migration-{time.strftime('%Y%m%d-%H%M%S')}.sqlite3")
    back_up(copy)
    tell(f"the database becomes that of a newer version; what it was is kept in {copy}")
    for old in sorted(copy.parent.glob("before-migration-*.sqlite3"))[:-_KEPT]:
        old.unlink()


def _there() -> bool:
    return database_file().exists() and database_file().stat().st_size > 0


def _copy(source: Path, to: Path) -> None:
    """Copy a database through SQLite to a file beside `to`, check it, then put it in its place at once."""
    part = to.with_name(to.name + ".part")
    try:
        part.unlink(missing_ok=True)
        os.close(os.open(part, os.O_CREAT | os.O_WRONLY, 0o600))
        with sqlite3.connect(f"file:{source}?mode=ro", uri=True) as database, sqlite3.connect(part) as copy:
            database.backup(copy)
            copy.execute("PRAGMA journal_mode=DELETE")
        database.close()
        copy.close()
        check(part)
        part.replace(to)
    except (sqlite3.Error, OSError) as error:
        part.unlink(missing_ok=True)
        raise BackupError(f"{to} cannot be written ({error}); name another place, or make room") from error


def _refuse_while_running(target: Path) -> None:
    """A database that is in use has a file of shared memory which others hold."""
    try:
        database = sqlite3.connect(target, timeout=1.0, isolation_level=None)
        database.execute("PRAGMA locking_mode=EXCLUSIVE")
        database.execute("BEGIN EXCLUSIVE")
        database.execute("COMMIT")
        database.close()
    except sqlite3.OperationalError as error:
        raise BackupError("the program is running; stop it first") from error
