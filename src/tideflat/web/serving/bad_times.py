"""When the database cannot be read or written: an honest page at once, never a traceback, never silence."""

from __future__ import annotations

import logging
import sqlite3
from collections.abc import Callable

from django.db import DatabaseError, connections
from django.db.utils import InterfaceError
from django.http import HttpRequest, HttpResponse

from tideflat.web.ui.errors import told

log = logging.getLogger("tideflat.database")

_WORDS: dict[str, tuple[str, str]] = {
    "busy": ("Busy", "The database is busy with something else. Nothing was changed by your last step; try it again in a moment."),
    "full": (
        "No room left",
        "The disk on which the studio is kept is full. What was saved before is safe; your last step was not kept. "
        "Whoever looks after this computer must make room.",
    ),
    "read-only": (
        "Cannot be written",
        "The database can be read but not written, so your last step was not kept. What was saved before is safe. "
        "Whoever looks after this computer must give write access to its file and folder.",
    ),
    "damaged": (
        "Damaged",
        "The database is damaged and cannot be used as it is. Whoever looks after this computer should stop the server, "
        "look with tideflat check, and put the newest backup back with tideflat restore.",
    ),
    "away": (
        "Not reached",
        "The database cannot be opened. Your last step was not kept. Whoever looks after this computer should see "
        "whether its file and folder are still there.",
    ),
}
_BY_CODE = {
    sqlite3.SQLITE_BUSY: "busy", sqlite3.SQLITE_LOCKED: "busy", sqlite3.SQLITE_FULL: "full", sqlite3.SQLITE_READONLY: "read-only",
    sqlite3.SQLITE_PERM: "read-only", sqlite3.SQLITE_CORRUPT: "damaged", sqlite3.SQLITE_NOTADB: "damaged",
    sqlite3.SQLITE_CANTOPEN: "away", sqlite3.SQLITE_IOERR: "away", sqlite3.SQLITE_AUTH: "away",
}  # fmt: skip


def kind_of(error: BaseException) -> str | None:
    """Which of the bad times this is: busy, full, read-only, damaged, away; None for a fault of the program's own."""
    cause: BaseException | None = error
    while cause is not None:
        code = getattr(cause, "sqlite_errorcode", None)
        if code is not None:
            return _BY_CODE.get(code & 0xFF)
        cause = cause.__cause__ or cause.__context__
    return "away" if isinstance(error, InterfaceError) else None


class NoTracebackForBadTimes(logging.Filter):
    """Drops what Django logs of such a fault with its traceback: one line has been logged already."""

    def filter(self, record: logging.LogRecord) -> bool:
        fault = record.exc_info[1] if record.exc_info else None
        return fault is None or kind_of(fault) is None


class BadTimesMiddleware:
    """503 with a sentence for what the database cannot do now. The broken connection is closed, so that the next request begins anew."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        return answer(request, exception)


def answer(request: HttpRequest, exception: Exception) -> HttpResponse | None:
    if not isinstance(exception, DatabaseError | InterfaceError):
        return None
    kind = kind_of(exception)
    if kind is None:
        return None
    log.error("%s: %s (%s %s)", kind, exception, request.method, request.path)
    for connection in connections.all(initialized_only=True):
        connection.close_if_unusable_or_obsolete()
        if not connection.in_atomic_block:
            connection.close()
    title, text = _WORDS[kind]
    response = told(request, title, text, 503)
    response["Retry-After"] = "5"
    return response
