"""Backup and restore of the SQLite database, and the check of its version."""

from __future__ import annotations

import sqlite3
import time
from contextlib import closing
from pathlib import Path
from typing import Any

from django.conf import settings


class BackupFault(Exception):
    """Why a backup cannot be written or read."""


def database_path() -> Path:
    """The SQLite file; raises BackupFault for another kind of database, which has tools of its own."""
    database: dict[str, Any] = dict(settings.DATABASES["default"])
    if not database["ENGINE"].endswith("sqlite3"):
        raise BackupFault("this database is not SQLite; use its own tools")
    return Path(database["NAME"])


def unknown_migrations() -> list[str]:
    """Migrations the database has and this program does not know: it was made by a newer version."""
    from django.db import connection
    from django.db.migrations.loader import MigrationLoader
    from django.db.migrations.recorder import MigrationRecorder

    recorder = MigrationRecorder(connection)
    known = set(MigrationLoader(None).disk_migrations)
    apps = {app for app, _ in known}
    return sorted(f"{app}.{name}" for app, name in recorder.applied_migrations() if app in apps and (app, name) not in known)


def back_up(target: Path) -> int:
    """Copy the database to ``target`` while it may be in use (SQLite's online backup); returns the bytes written.

    The copy is checked before it takes the target's place, so that a failed backup never replaces a good one.
    """
    source = database_path()
    if not source.exists():
        raise BackupFault(f"there is no database at {source} yet")
    part = target.with_name(target.name + ".part")
    part.unlink(missing_ok=True)
    with closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True, timeout=20)) as live, closing(sqlite3.connect(part)) as copy:
        live.backup(copy)
        copy.execute("PRAGMA journal_mode=DELETE")  # one file, with nothing beside it
    _check(part)
    part.replace(target)
    return target.stat().st_size


def restore(source: Path) -> Path | None:
    """Put a backup in the database's place; what was there is kept beside it. Returns where, or None when there was nothing."""
    _check(source)
    goal = database_path()
    goal.parent.mkdir(parents=True, exist_ok=True)
    kept = None
    if goal.exists():
        with closing(sqlite3.connect(goal, timeout=2, isolation_level=None)) as present:
            try:
                present.execute("PRAGMA wal_checkpoint(TRUNCATE)")
                present.execute("BEGIN EXCLUSIVE")
            except sqlite3.OperationalError:
                raise BackupFault("the database is in use; stop the server first") from None
            present.execute("ROLLBACK")
        kept = goal.with_name(f"{goal.stem}-before-restore-{time.strftime('%Y%m%d-%H%M%S')}{goal.suffix}")
        goal.replace(kept)
    for beside in ("-wal", "-shm"):
        goal.with_name(goal.name + beside).unlink(missing_ok=True)
    part = goal.with_name(goal.name + ".part")
    with closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True)) as backup, closing(sqlite3.connect(part)) as copy:
        backup.backup(copy)
    part.replace(goal)
    return kept


def _check(path: Path) -> None:
    if not path.exists():
        raise BackupFault(f"there is no file {path}")
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as found:
            sound = found.execute("PRAGMA integrity_check").fetchone()[0]
            tables = {row[0] for row in found.execute("SELECT name FROM sqlite_master WHERE type='table'")}
    except sqlite3.DatabaseError as error:
        raise BackupFault(f"{path} is no sound database ({error})") from None
    if sound != "ok" or "scenes_scene" not in tables:
        raise BackupFault(f"{path} is no sound Tideflat database")
