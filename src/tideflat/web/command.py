"""The commands that need the web application: demo, serve, begin, password, check, backup, restore, manage."""

from __future__ import annotations

import os
import sqlite3
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any


class CommandFault(Exception):
    """One line that says what was wrong and what to do."""


def run(command: str, arguments: list[str]) -> int:
    """Run one command with the demo settings unless DJANGO_SETTINGS_MODULE says otherwise; returns the exit code, 2 for a fault told in one line."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tideflat.web.settings.demo")
    from django.core.exceptions import ImproperlyConfigured
    from django.db import DatabaseError

    from tideflat.web.serving.server import PortFault
    from tideflat.web.upkeep.database import UpkeepFault, fault_words

    doing = {"backup": "Backup not written", "restore": "Nothing restored", "check": "Not sound", "begin": "Nothing begun"}.get(command, "")
    try:
        if command == "manage":
            from django.core.management import execute_from_command_line

            execute_from_command_line(["tideflat manage", *arguments])
            return 0
        import django

        _make_folder()
        django.setup()
        return _RUN[command](arguments)
    except (CommandFault, PortFault, ImproperlyConfigured) as fault:
        line = str(fault)
    except UpkeepFault as fault:
        line = f"{doing}: {fault}" if doing else str(fault)[:1].upper() + str(fault)[1:]
    except (OSError, sqlite3.Error, DatabaseError) as error:
        line = fault_words(error, doing)
    print(" ".join(line.split()), file=sys.stderr)
    return 2


def _make_folder() -> None:
    from django.conf import settings

    database: dict[str, Any] = dict(settings.DATABASES["default"])
    if database["ENGINE"].endswith("sqlite3"):
        Path(database["NAME"]).parent.mkdir(parents=True, exist_ok=True)


def _none(arguments: list[str], usage: str) -> None:
    if arguments:
        raise CommandFault(f"arguments: must be none (got {arguments[0]!r}); usage: {usage}")


def _prepare() -> None:
    """Refuse a database that is damaged, locked or of a newer version; bring an older one up to date."""
    from django.core.management import call_command
    from django.db import connection
    from django.db.migrations.recorder import MigrationRecorder

    from tideflat.web.upkeep.database import UpkeepFault, applied_in, database_path, newer_than_program
    from tideflat.web.upkeep.lock import hold_while_serving

    if connection.vendor == "sqlite":
        path = database_path()
        hold_while_serving(path)
        if path.exists() and path.stat().st_size:
            try:
                applied_in(path, at_a_glance=True)
            except UpkeepFault as fault:
                raise UpkeepFault(
                    f"{fault}. Put a backup back with: tideflat restore FILE, or point TIDEFLAT_DATABASE at another file."
                ) from None
    newer = newer_than_program(MigrationRecorder(connection).applied_migrations())
    if newer:
        raise CommandFault(
            f"The database was made by a newer Tideflat (it knows {newer[0]}). Start that version, or point TIDEFLAT_DATABASE at another file."
        )
    call_command("migrate", verbosity=0, interactive=False)


def _demo(arguments: list[str]) -> int:
    from django.conf import settings

    if not settings.DEMO_MAY_RUN:
        raise CommandFault(
            "The demo's people have a password that everybody knows, so it does not run under the production settings. "
            "Begin a studio of your own: tideflat begin"
        )
    processes = _processes(arguments, "tideflat demo [--processes N]")
    _prepare()
    from tideflat.web.scenes.demo import PASSWORD, PEOPLE, make_demo
    from tideflat.web.upkeep.proof_parts import VARIABLE, install_beside

    make_demo()
    names = " or ".join(f"{name} ({role})" for name, role, _ in PEOPLE)
    install_beside(os.environ.get(VARIABLE, ""))
    return _listen(f"Sign in as {names}, password {PASSWORD}", processes)


def _serve(arguments: list[str]) -> int:
    from django.conf import settings

    processes = _processes(arguments, "tideflat serve [--processes N]")
    note = ""
    if not settings.DEMO_MAY_RUN:
        if not settings.TRUSTED_PROXIES and not settings.INSECURE:
            raise CommandFault(
                "Passwords must not travel in the open: name the proxy that speaks HTTPS in front of this server, such as "
                "TIDEFLAT_PROXY=127.0.0.1 (docs/serving.md), or say TIDEFLAT_INSECURE=1 to serve plain HTTP all the same."
            )
        if settings.INSECURE:
            note = "Plain HTTP, because TIDEFLAT_INSECURE=1 says so: whoever can listen on this network can read passwords and pictures."
    _prepare()
    return _listen(note, processes)


def _processes(arguments: list[str], usage: str) -> int:
    text = os.environ.get("TIDEFLAT_PROCESSES", "1")
    rest = list(arguments)
    if rest and rest[0].startswith("--processes"):
        name, is_joined, value = rest.pop(0).partition("=")
        if name == "--processes":
            text = value if is_joined else (rest.pop(0) if rest else "")
        else:
            rest = [name]
    _none(rest, usage)
    if not (text.isascii() and text.isdigit() and 1 <= int(text) <= 64):
        raise CommandFault(f"--processes must be a whole number from 1 to 64 (got {text!r})")
    return int(text)


def _listen(note: str, processes: int) -> int:
    from django.core.management import call_command

    from tideflat.web.serving.server import Server, listening_sockets

    text = os.environ.get("PORT", "8000")
    if not (text.isascii() and text.isdigit() and len(text) < 6 and 0 < int(text) < 65536):
        raise CommandFault(f"PORT must be a number from 1 to 65535 (got {text!r})")
    host = os.environ.get("TIDEFLAT_LISTEN", "127.0.0.1")
    listeners = listening_sockets(host, int(text), processes)
    call_command("collectstatic", verbosity=0, interactive=False)
    from tideflat.web.wsgi import application

    address = f"[{host}]" if ":" in host else host
    lines = ["Tideflat is at http://" + f"{address}:{int(text)}/", note, "Stop it with Ctrl+C; everything is kept."]
    Server(application, listeners, "\n".join(filter(None, lines))).run()
    return 0


def _begin(arguments: list[str]) -> int:
    from tideflat.web.upkeep.beginning import begin

    _prepare()
    print(begin(arguments))
    return 0


def _password(arguments: list[str]) -> int:
    from tideflat.web.upkeep.beginning import new_password

    _prepare()
    print(new_password(arguments))
    return 0


def _check(arguments: list[str]) -> int:
    from tideflat.web.upkeep.checking import checked, report
    from tideflat.web.upkeep.database import database_path

    if len(arguments) > 1:
        raise CommandFault("arguments: must be one file at most; usage: tideflat check [FILE]")
    found = checked(Path(arguments[0]) if arguments else database_path())
    print(report(found))
    return 0 if found.is_usable else 2


def _backup(arguments: list[str]) -> int:
    from tideflat.web.upkeep.backup import back_up

    size = back_up(_one_file(arguments, "tideflat backup FILE"))
    print(f"Backup written to {arguments[0]} ({size:,} bytes).")
    return 0


def _restore(arguments: list[str]) -> int:
    from tideflat.web.upkeep.backup import restore

    kept = restore(_one_file(arguments, "tideflat restore FILE"))
    print(f"Restored from {arguments[0]}." + (f" What was there before is in {kept}." if kept else ""))
    return 0


def _one_file(arguments: list[str], usage: str) -> Path:
    if len(arguments) != 1 or not arguments[0]:
        raise CommandFault(f"arguments: must be one file; usage: {usage}")
    return Path(arguments[0])


_RUN: dict[str, Callable[[list[str]], int]] = {
    "demo": _demo, "serve": _serve, "begin": _begin, "password": _password, "check": _check, "backup": _backup, "restore": _restore,
}  # fmt: skip
