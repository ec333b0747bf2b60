"""Pictures are unpacked and worked on one at a time on the whole machine: several at once would need gigabytes, one after the other a third of one."""

from __future__ import annotations

import fcntl
import os
import tempfile
import threading
from collections.abc import Iterator
from contextlib import contextmanager

from tideflat.core.errors import FieldError

#: Requests of one process that may wait for their turn; the others are asked to come again, so that threads are left for everybody else.
MOST_WAITING = 10
_waiting = threading.BoundedSemaphore(MOST_WAITING)
_held = threading.local()


class TooBusy(FieldError):
    """So many pictures wait already."""


@contextmanager
def image_turn() -> Iterator[None]:
    """Hold the turn, waiting for it; raises TooBusy when too many wait. Asked for again by who holds it, it is simply kept.

    The turn is a lock on a file, so that it holds between processes and ends with one that is killed.
    """
    if getattr(_held, "is_mine", False):
        yield
        return
    if not _waiting.acquire(blocking=False):
        raise TooBusy("picture", "must wait: many pictures came at once. Send it again in a moment; nothing is lost", show_got=False)
    try:
        handle = os.open(
            os.path.join(tempfile.gettempdir(), f"tideflat-pictures-{os.getuid()}.lock"), os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600
        )
        try:
            fcntl.flock(handle, fcntl.LOCK_EX)
            _held.is_mine = True
            yield
        finally:
            _held.is_mine = False
            os.close(handle)
    finally:
        _waiting.release()
