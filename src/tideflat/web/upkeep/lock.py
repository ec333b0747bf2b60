"""Who uses the database: every serving process holds a lock for its lifetime; a restore wants it alone.

SQLite's own locks do not tell: in WAL an idle server holds none. flock goes with the process, so nothing is left behind by a kill -9.
"""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from .database import UpkeepFault

_held: list[int] = []


def lock_path(database: Path) -> Path:
    return database.with_name(database.name + ".lock")


def hold_while_serving(database: Path) -> None:
    """Hold the lock together with other serving processes until this process and its children end; raises UpkeepFault during a restore.
    Who holds it already goes on."""
    if _held:
        return
    handle = os.open(lock_path(database), os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(handle, fcntl.LOCK_SH | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(handle)
        raise UpkeepFault("a restore is under way; start the server when it is done") from None
    _held.append(handle)  # never closed: the lock ends with the process


@contextmanager
def alone(database: Path) -> Iterator[None]:
    """The lock for oneself; raises UpkeepFault while anybody serves the database or restores it."""
    handle = os.open(lock_path(database), os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise UpkeepFault("the database is in use; stop the server first") from None
        yield
    finally:
        os.close(handle)
