"""Backup and restore of the SQLite database. Nothing takes the place of anything before it was written whole and checked."""

from __future__ import annotations

import os
import shutil
import sqlite3
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from .database import UpkeepFault, applied_in, database_path, newer_than_program, readable
from .lock import alone


def back_up(target: Path) -> int:
    """Copy the database to ``target`` while it may be in use (SQLite's online backup); returns the bytes written.

    The copy is checked before it takes the target's place, so that a failed backup never replaces a good one and leaves nothing behind.
    """
    source = database_path()
    if not source.exists():
        raise UpkeepFault(f"there is no database at {source} yet")
    if target.exists() and target.samefile(source):
        raise UpkeepFault("a backup must be another file than the database itself")
    if target.is_dir():
        raise UpkeepFault(f"{target} is a folder; name a file in it")
    with _part_of(target) as part:
        with readable(source) as live:
            _copy(live, part)
        applied_in(part)
        _on_disk(part)
        part.replace(target)
    return target.stat().st_size


def restore(source: Path) -> Path | None:
    """Put a backup in the database's place; what was there is kept beside it. Returns where, or None when there was nothing.

    Only while nobody serves; only a sound backup of this or an older version, which is brought up to date on the way. Everything is
    written and checked beside the database before the old file is moved: a fault leaves all as it was.
    """
    goal = database_path()
    goal.parent.mkdir(parents=True, exist_ok=True)
    with alone(goal):
        newer = newer_than_program(applied_in(source))
        if newer:
            raise UpkeepFault(f"{source} was made by a newer Tideflat (it knows {newer[0]}); restore it with that version")
        if goal.exists() and goal.samefile(source):
            raise UpkeepFault(f"{source} is the database itself; name a backup")
        _want_room(goal, source)
        with _part_of(goal) as part:
            with readable(source) as backup:
                _copy(backup, part)
            _brought_up_to_date(part)
            applied_in(part)
            _on_disk(part)
            return _exchanged(goal, part)


@contextmanager
def _part_of(target: Path) -> Iterator[Path]:
    """A file beside the target to write to; it and what SQLite lays beside it are gone afterwards, whatever happens."""
    part = target.with_name(target.name + ".part")
    _remove(part)
    try:
        yield part
    finally:
        _remove(part)


def _remove(path: Path) -> None:
    for beside in ("", "-wal", "-shm", "-journal"):
        path.with_name(path.name + beside).unlink(missing_ok=True)


def _copy(live: sqlite3.Connection, part: Path) -> None:
    with closing(sqlite3.connect(part)) as copy:
        live.backup(copy)
        copy.execute("PRAGMA journal_mode=DELETE")  # one file, with nothing beside it


def _want_room(goal: Path, source: Path) -> None:
    needed, free = int(source.stat().st_size * 1.2) + 1_000_000, shutil.disk_usage(goal.parent).free
    if free < needed:
        raise UpkeepFault(
            f"there is too little room beside {goal}: {needed / 1e6:,.0f} MB are needed, {free / 1e6:,.0f} MB are free. "
            "Make room and try again; everything is as it was"
        )


def _brought_up_to_date(part: Path) -> None:
    """Every migration that the backup does not have yet, worked on the copy."""
    from django.core.management import call_command
    from django.db import connection

    connection.close()
    name = connection.settings_dict["NAME"]
    connection.settings_dict["NAME"] = str(part)
    try:
        call_command("migrate", verbosity=0, interactive=False)
    finally:
        connection.close()
        connection.settings_dict["NAME"] = name
    with closing(sqlite3.connect(part)) as copy:
        copy.execute("PRAGMA journal_mode=DELETE")


def _on_disk(path: Path) -> None:
    for name in (path, path.parent):
        handle = os.open(name, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _exchanged(goal: Path, part: Path) -> Path | None:
    """The part in the goal's place; what was there under another name, with its log where that could not be worked in."""
    if not goal.exists():
        _remove(goal)
        part.replace(goal)
        return None
    try:
        with closing(sqlite3.connect(goal, timeout=2, isolation_level=None)) as present:
            present.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            present.execute("BEGIN EXCLUSIVE")
            present.execute("ROLLBACK")
    except sqlite3.OperationalError as error:
        if error.sqlite_errorcode & 0xFF in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
            raise UpkeepFault("the database is in use; stop the server first") from None
    except sqlite3.DatabaseError:
        pass  # damaged: it is kept as it is
    kept = _free_name(goal)
    moved = []
    try:
        for beside in ("-wal", ""):  # the file last: while it is there, everything is
            old, new = goal.with_name(goal.name + beside), kept.with_name(kept.name + beside)
            if old.exists():
                old.replace(new)
                moved.append((old, new))
        goal.with_name(goal.name + "-shm").unlink(missing_ok=True)
        part.replace(goal)
    except OSError:
        for old, new in reversed(moved):
            new.replace(old)
        raise
    return kept


def _free_name(goal: Path) -> Path:
    stem = f"{goal.stem}-before-restore-{time.strftime('%Y%m%d-%H%M%S')}"
    names = [f"{stem}{goal.suffix}", *(f"{stem}-{n}{goal.suffix}" for n in range(2, 100))]
    return next(goal.with_name(name) for name in names if not goal.with_name(name).exists())
