"""The commands that need the web application: demo, serve, backup, restore, manage."""

from __future__ import annotations

import errno
import os
import socket
import sqlite3
import sys
from pathlib import Path
from typing import Any

HOST = "127.0.0.1"
#: Larger requests are refused while they arrive; a photograph has at most 25 MiB.
MOST_BYTES = 26_500_000


def run(command: str, arguments: list[str]) -> int:
    """Run one command with the demo settings unless DJANGO_SETTINGS_MODULE says otherwise; returns the exit code."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tideflat.web.settings.demo")
    if command == "manage":
        from django.core.management import execute_from_command_line

        execute_from_command_line(["tideflat manage", *arguments])
        return 0
    return {"demo": _demo, "serve": _serve, "backup": _backup, "restore": _restore}[command](arguments)


def _fail(line: str) -> int:
    print(line, file=sys.stderr)
    return 2


def _prepare() -> str | None:
    """Set Django up, refuse a database from a newer version, and bring an older one up to date. Returns a fault or None."""
    import django
    from django.conf import settings

    database: dict[str, Any] = dict(settings.DATABASES["default"])
    if database["ENGINE"].endswith("sqlite3"):
        Path(database["NAME"]).parent.mkdir(parents=True, exist_ok=True)
    django.setup()
    from django.core.management import call_command

    from tideflat.web.upkeep import unknown_migrations

    unknown = unknown_migrations()
    if unknown:
        return (
            f"The database was made by a newer Tideflat (it knows {unknown[0]}). Start that version, "
            "or point TIDEFLAT_DATABASE at another file."
        )
    call_command("migrate", verbosity=0, interactive=False)
    call_command("collectstatic", verbosity=0, interactive=False)
    return None


def _demo(arguments: list[str]) -> int:
    fault = _prepare()
    if fault:
        return _fail(fault)
    from tideflat.web.scenes.demo import PASSWORD, PEOPLE, make_demo

    make_demo()
    names = " or ".join(f"{name} ({role})" for name, role, _ in PEOPLE)
    return _listen(f"Sign in as {names}, password {PASSWORD}")


def _serve(arguments: list[str]) -> int:
    fault = _prepare()
    return _fail(fault) if fault else _listen("")


def _listen(note: str) -> int:
    from waitress.server import create_server

    from tideflat.web.wsgi import application

    text = os.environ.get("PORT", "8000")
    if not text.isdigit() or not 0 < int(text) < 65536:
        return _fail(f"PORT must be a number from 1 to 65535 (got {text!r})")
    port = int(text)
    try:
        with socket.socket() as probe:  # waitress would share the port quietly
            probe.bind((HOST, port))
        server = create_server(application, host=HOST, port=port, threads=8, ident="tideflat", max_request_body_size=MOST_BYTES)
    except OSError as error:
        if error.errno != errno.EADDRINUSE:
            raise
        return _fail(f"Port {port} is taken by another program. Choose another, for example: make demo PORT={port + 1}")
    print(f"Tideflat is at http://{HOST}:{port}/", flush=True)
    if note:
        print(note, flush=True)
    print("Stop it with Ctrl+C; everything is kept.", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        server.close()
    return 0


def _backup(arguments: list[str]) -> int:
    if len(arguments) != 1:
        return _fail("usage: tideflat backup FILE")
    import django

    django.setup()
    from tideflat.web.upkeep import BackupFault, back_up

    try:
        size = back_up(Path(arguments[0]))
    except (BackupFault, OSError, sqlite3.Error) as error:
        return _fail(f"Backup not written: {error}")
    print(f"Backup written to {arguments[0]} ({size:,} bytes).")
    return 0


def _restore(arguments: list[str]) -> int:
    if len(arguments) != 1:
        return _fail("usage: tideflat restore FILE")
    import django

    django.setup()
    from tideflat.web.upkeep import BackupFault, restore

    try:
        kept = restore(Path(arguments[0]))
    except (BackupFault, OSError, sqlite3.Error) as error:
        return _fail(f"Nothing restored: {error}")
    print(f"Restored from {arguments[0]}." + (f" What was there before is in {kept}." if kept else ""))
    return 0
