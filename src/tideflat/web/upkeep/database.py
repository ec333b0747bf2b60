"""The database file: where it is, whether it is sound and of which version, in words."""

from __future__ import annotations

import os
import shutil
import sqlite3
import tempfile
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any

from django.conf import settings

#: Apps whose tables make a database one of Tideflat's.
APPS = ("accounts", "stores", "scenes")


class UpkeepFault(Exception):
    """Why a database cannot be used, backed up or restored: one sentence with its cure."""


def database_path() -> Path:
    """The SQLite file; raises UpkeepFault for another kind of database, which has tools of its own."""
    database: dict[str, Any] = dict(settings.DATABASES["default"])
    if not database["ENGINE"].endswith("sqlite3"):
        raise UpkeepFault("this database is not SQLite; use its own tools")
    return Path(database["NAME"])


def known_migrations() -> dict[str, list[str]]:
    """By app, the migrations this program has, the oldest first."""
    from django.db.migrations.loader import MigrationLoader

    loader = MigrationLoader(None)
    found: dict[str, list[str]] = {}
    for app, name in sorted(loader.disk_migrations):
        found.setdefault(app, []).append(name)
    return found


def newer_than_program(applied: Iterable[tuple[str, str]]) -> list[str]:
    """Migrations that were applied and that this program does not know: a newer version made the database."""
    known = known_migrations()
    return sorted(f"{app}.{name}" for app, name in applied if app in known and name not in known[app])


def missing_from(applied: Iterable[tuple[str, str]]) -> list[str]:
    """Migrations of this program that were not applied yet: an older version made the database."""
    have = set(applied)
    return [f"{app}.{name}" for app, names in known_migrations().items() for name in names if (app, name) not in have]


def applied_in(path: Path, *, at_a_glance: bool = False) -> list[tuple[str, str]]:
    """(app, name) of every migration applied in a file that is a sound Tideflat database; raises UpkeepFault for any other.

    ``at_a_glance``: only what opening shows, which takes no longer for a large file. An empty database of another kind is ours to fill.
    """
    if not path.is_file():
        raise UpkeepFault(f"there is no file {path}")
    try:
        with readable(path) as found:
            sound = "ok" if at_a_glance else found.execute("PRAGMA integrity_check(1)").fetchone()[0]
            tables = {row[0] for row in found.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            ours = {"django_migrations", "scenes_scene", "stores_storeprop", "accounts_studio"} <= tables
            applied = list(found.execute("SELECT app, name FROM django_migrations")) if ours else []
    except sqlite3.DatabaseError as error:
        raise UpkeepFault(f"{path} is no sound database ({error})") from None
    if sound != "ok":
        raise UpkeepFault(f"{path} is damaged ({sound})")
    if not ours and not (at_a_glance and not tables):
        raise UpkeepFault(f"{path} is no Tideflat database")
    return applied


@contextmanager
def readable(source: Path) -> Iterator[sqlite3.Connection]:
    """A connection to read the database by, also when neither it nor its folder can be written.

    SQLite wants to lay shared memory beside a database in WAL. Where it cannot, nobody is serving there: file and log are copied as they
    are and read from the copy.
    """
    with closing(sqlite3.connect(f"{source.absolute().as_uri()}?mode=ro", uri=True, timeout=5)) as live:
        try:
            live.execute("SELECT count(*) FROM sqlite_master")
        except sqlite3.OperationalError:
            pass
        else:
            yield live
            return
    with tempfile.TemporaryDirectory(prefix="tideflat-") as folder:
        copied = Path(folder) / source.name
        for beside in ("", "-wal"):
            if (found := source.with_name(source.name + beside)).exists():
                shutil.copyfile(found, copied.with_name(copied.name + beside))
        with closing(sqlite3.connect(copied)) as live:
            yield live


def fault_words(error: Exception, doing: str = "") -> str:
    """What an operating system or SQLite error means here, with its cure."""
    from tideflat.web.serving.bad_times import kind_of

    named = getattr(error, "filename", None)
    path = Path(named) if isinstance(named, str | os.PathLike) else database_path()
    kind = kind_of(error)
    if isinstance(error, OSError):
        kind = {28: "full", 122: "full", 30: "read-only", 13: "read-only", 1: "read-only"}.get(error.errno or 0, kind)
    prefix = f"{doing}: " if doing else ""
    match kind:
        case "full":
            return f"{prefix}the disk that holds {path.parent} is full. Make room there and try again; nothing was changed."
        case "read-only":
            return f"{prefix}{path} cannot be written. Give this user write access to the file and its folder."
        case "damaged":
            return f"{prefix}the database at {path} is damaged ({error}). Look with: tideflat check. Put a backup back with: tideflat restore FILE"
        case "busy":
            return f"{prefix}the database at {path} is locked by another program. Stop that one and try again."
        case "away":
            return f"{prefix}the database at {path} cannot be opened ({error}). See that its folder is there and can be written."
    return f"{prefix}{error}"
